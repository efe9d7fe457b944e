"""Tow and coast: how far a boat runs on with the drive dead, and what towing costs."""

from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Metres, MetresPerSecond, Newtons, Point, Radians, Ratio, Seconds
from yarekeel.core.running.following import Leg, follow
from yarekeel.core.sources import MECHANICS, STATICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.running.resistance import Resistance, resistance_of, towing
from yarekeel.stages.underway.speed import thrust_over

SLOW: Ratio = 0.1
"""Of its top speed: there it is taken for stopped."""
LONGEST: Seconds = 640.0
MOST_STEPS = 500


@dataclass(frozen=True, slots=True)
class Coast:
    """From a speed with the drive dead: how far and how long until it is taken for stopped."""

    start: MetresPerSecond
    distance: Metres
    time: Seconds


@dataclass(frozen=True, slots=True)
class Towed:
    """With something in tow: the fastest, the pull of the line there, and the trim with and without it at that speed."""

    top: MetresPerSecond
    pull: Newtons
    trim: Radians
    free_trim: Radians


@dataclass(frozen=True, slots=True)
class CoastAssessment:
    """Coasting from some speeds, fastest last; and towing, None where nothing is towed or the drive is not known at speed."""

    coasts: tuple[Coast, ...]
    towed: Towed | None
    findings: tuple[Finding, ...]


def coast_from(holds: Resistance, start: MetresPerSecond, slow: MetresPerSecond) -> Coast:
    """Followed in time until a speed ``slow`` is left."""
    step, last = float(holds.speeds[1]), holds.newtons.size - 2

    def held(v: MetresPerSecond, wind: MetresPerSecond) -> Newtons:
        k = min(int(v / step), last)
        share = v / step - k
        return float(holds.newtons[k] * (1 - share) + holds.newtons[k + 1] * share)

    span: Seconds = 20.0
    while True:
        run = follow(holds.boat.mass, (Leg(span, 0.0),), lambda v, d: 0.0, held, lambda v, d: 0.0, start, span / MOST_STEPS)
        stopped = np.flatnonzero(run.speed <= slow)
        if stopped.size or span >= LONGEST:
            k = int(stopped[0]) if stopped.size else -1
            return Coast(start, float(run.distance[k]), float(run.time[k]))
        span *= 2


@kept
def assess(craft: Craft, drag: Ratio = 0.0, at: Point | None = None) -> CoastAssessment | None:
    """With something in tow that holds back by ``drag`` newtons at 1 m/s, made fast at ``at`` (the stern at deck height where not said);
    None for a boat that does not run. Raises InvalidInput."""
    if drag < 0:
        raise InvalidInput("tow", "What is towed holds back; it cannot push.")
    holds = resistance_of(craft)
    if holds is None:
        return None
    thrust = thrust_over(craft, 1.0, holds.speeds)
    top = crossing(holds, thrust) if thrust is not None else float(holds.speeds[-1])
    coasts = tuple(coast_from(holds, share * top, SLOW * top) for share in (0.25, 0.5, 0.75, 1.0)) if top > 0 else ()
    low, high = craft.hull.mesh.bounds
    place = at or (float(low[0]), 0.0, float(high[2]))
    towed = _towed(craft, holds, drag, place) if drag else None
    return CoastAssessment(coasts, towed, _findings(coasts, towed))


def crossing(holds: Resistance, thrust: np.ndarray) -> MetresPerSecond:
    """The speed at which a thrust (n,) over the curve's speeds first no longer beats the resistance; 0 where it never does."""
    spare = thrust - holds.newtons
    short = np.flatnonzero(spare[1:] <= 0)
    if not short.size:
        return float(holds.speeds[-1])
    k = int(short[0])  # between k and k + 1
    if spare[k] <= 0:
        return 0.0
    share = spare[k] / (spare[k] - spare[k + 1])
    return float(holds.speeds[k] + share * (holds.speeds[k + 1] - holds.speeds[k]))


def _towed(craft: Craft, holds: Resistance, drag: Ratio, at: Point) -> Towed | None:
    with_it = towing(craft, drag, at)
    thrust = thrust_over(craft, 1.0, holds.speeds)
    if with_it is None or thrust is None:
        return None
    top = crossing(with_it, thrust)
    trims = [np.array([b.attitude.trim if b is not None else np.nan for b in r.balances]) for r in (with_it, holds)]
    there = [float(np.interp(top, r.speeds, t)) for r, t in zip((with_it, holds), trims, strict=True)]
    return Towed(top, drag * top**2, there[0], there[1])


def _findings(coasts: tuple[Coast, ...], towed: Towed | None) -> tuple[Finding, ...]:
    out = []
    if coasts:
        last = coasts[-1]
        values: dict[str, float | str] = {"start": last.start, "far": last.distance, "time": last.time}
        text = "To a tenth of that, in {time:span}, straight ahead in still air: keep that much room before a bank."
        out.append(Finding("underway.room", "note", "From {start:speed} it runs on for {far:room}", text, MECHANICS, values))
    if towed is not None:
        values = {"top": towed.top, "pull": towed.pull, "trim": towed.trim, "free": towed.free_trim}
        text = "The line pulls {pull:force}; it sits {trim:trim}, without it {free:trim}. A lower point lifts the bow less."
        out.append(Finding("underway.tow", "note", "Tows at {top:speed}", text, STATICS, values))
    return tuple(out)
