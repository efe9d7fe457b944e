"""Thrust against resistance over speed: how fast, at which throttle, how far."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.optimize import brentq

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.cells import run_time
from yarekeel.core.propulsion.drive import Battery, Drive, direction
from yarekeel.core.propulsion.pulls import pushes_at
from yarekeel.core.propulsion.push import Push
from yarekeel.core.quantities import Amperes, Floats, Kilograms, Metres, MetresPerSecond, Newtons, Ratio, Seconds
from yarekeel.core.resistance.friction import hull_speed
from yarekeel.core.running.balance import balanced
from yarekeel.core.sources import COMMON_PRACTICE, OHM, STATICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.fitted import sums_of
from yarekeel.stages.drive.drive import ratio_verdict
from yarekeel.stages.drive.speeds import pushing_ends
from yarekeel.stages.running.resistance import Resistance, resistance_of

SPEEDS = 36
DRAWN: Ratio = 1e-3
"""To which motors are solved for a chart: nothing finer can be seen."""
THROTTLES = np.linspace(0.1, 1.0, 10)
BESIDE: Amperes = 0.3
"""What receiver, servos and lights draw besides (common practice for a model)."""
MOST_WIND: MetresPerSecond = 40.0
HUMP_AT = 1.35
"""Of the hull speed: where the hump lies (common practice)."""


TopIs = Literal["balance", "beyond_law", "no_attitude"]
TOP_WITHIN: Ratio = 1e-4
"""Of the speed, to which a balance of thrust and resistance is sought."""


@dataclass(frozen=True, slots=True)
class Steady:
    """A speed that the boat holds: at which throttle, what the pack gives, how long and how far with a fifth kept; both
    without end where no pack is needed."""

    throttle: Ratio
    speed: MetresPerSecond
    current: Amperes
    time: Seconds
    distance: Metres


@dataclass(frozen=True, slots=True, eq=False)
class Match:
    """Thrust and drag (n,) over ``speeds`` (n,) at full throttle, each with half the width of its band; ``steady`` from the least
    throttle that moves the boat to full; ``top`` the fastest and its band. ``reserve`` is thrust over drag at the hump."""

    speeds: Floats
    thrust: Floats
    thrust_band: float
    drag: Floats
    drag_band: Floats
    steady: tuple[Steady, ...]
    top: Steady
    top_is: TopIs
    """What ``top`` is: where thrust and resistance balance; where the laws end with thrust to spare; the last speed at which an attitude
    balances it."""
    top_low: MetresPerSecond
    top_high: MetresPerSecond
    """Endless where nothing tells how fast it may be."""
    economical: Steady
    reserve: Ratio
    findings: tuple[Finding, ...]
    pushes: Floats
    """Thrust (throttles, speeds) at ``THROTTLES``."""
    draws: tuple[tuple[Battery, Floats], ...]
    """Every pack that gives a current, and its current (throttles, speeds)."""

    @property
    def top_doubt(self) -> Ratio:
        """Half the width of the top speed's band as a share of it, by its lower half where the upper is open; 0 where none is told."""
        if self.top_is != "balance" or self.top.speed <= 0:
            return 0.0
        half = (self.top_high - self.top_low) / 2 if math.isfinite(self.top_high) else self.top.speed - self.top_low
        return half / self.top.speed


@kept
def assess(craft: Craft, beside: Amperes = BESIDE, floats_as: Craft | None = None) -> Match | None:
    """With so much drawn besides the motors. ``floats_as`` is a boat of the same hull and weights that was floated before. None where a
    motor is known by its pull from rest alone, there is none, or the boat does not float."""
    design = craft.design
    drive, water = design.drive, design.water
    holds = resistance_of(floats_as or craft) if drive.motors else None
    if holds is None:
        return None
    limit = hull_speed(holds.boat.waterline)
    speeds = np.linspace(0.0, min(max(0.2, *pushing_ends(design)), holds.until), SPEEDS)
    found = pushes_at(drive, THROTTLES[:, None], speeds[None, :], water.density, water.viscosity, DRAWN)
    states = [p for p in found if p is not None and p.at_speed]
    if len(states) < len(found):
        return None
    ahead = [direction(m)[0] for m in drive.motors]
    pushes = np.sum([x * s.thrust for x, s in zip(ahead, states, strict=True)], axis=0)
    draws = _draws(drive, states, beside)
    drag, doubt = holds.at(speeds), holds.band_at(speeds)
    steady = tuple(
        s for k, t in enumerate(THROTTLES.tolist()) if (s := _held(t, speeds, pushes[k] - drag, [(b, i[k]) for b, i in draws])) is not None
    )
    if not steady:
        return None
    band = math.fsum(abs(x) * p.spread * abs(float(p.thrust[-1, 0])) for x, p in zip(ahead, states, strict=True))
    full, flat_out = pushes[-1], [(b, i[-1]) for b, i in draws]
    top_is: TopIs = "balance"
    if steady[-1].speed >= speeds[-1] and pushes[-1][-1] > drag[-1]:
        top_is = "beyond_law" if holds.lost_from is None else "no_attitude"
    else:
        steady = (*steady[:-1], _at_balance(craft, holds, steady[-1], speeds, flat_out))
    top = steady[-1]
    low = _held(1.0, speeds, full - band - (drag + doubt), flat_out)
    most = full + band - (drag - doubt)
    high = _held(1.0, speeds, most, flat_out) if most[-1] <= 0 else None  # else its band runs on past the end of the laws
    hump = HUMP_AT * limit
    pull_there = float(np.interp(hump, speeds, full)) if hump <= speeds[-1] else float("nan")
    drag_there = float(holds.at(np.array([hump]))[0])
    reserve = pull_there / drag_there if math.isfinite(pull_there) and drag_there > 0 else top.speed / hump
    economical = max(steady, key=lambda s: s.distance)
    values: dict[str, float | str] = {
        "top": top.speed,
        "low": low.speed if low else 0.0,
        "high": high.speed if high else math.inf,
        "lost": holds.lost_from or math.inf,
        "limit": limit,
        "reserve": reserve,
        "slow": economical.speed,
        "throttle": economical.throttle,
        "far": economical.distance,
        "out": economical.distance / 2,
        "fast_out": top.distance / 2,
    }
    return Match(
        speeds=speeds,
        thrust=full,
        thrust_band=band,
        drag=drag,
        drag_band=doubt,
        steady=steady,
        top=top,
        top_is=top_is,
        top_low=float(values["low"]),
        top_high=float(values["high"]),
        economical=economical,
        reserve=reserve,
        findings=(*_findings(values, top_is, over_hump=top.speed > hump, ends=math.isfinite(top.time)), *holds.findings),
        pushes=pushes,
        draws=tuple(draws),
    )


def _at_balance(craft: Craft, holds: Resistance, near: Steady, speeds: Floats, draws: list[tuple[Battery, Floats]]) -> Steady:
    """The speed at which full thrust and resistance balance, by balances of its own and not between points of the curve."""
    design, boat = craft.design, holds.boat
    ahead = [direction(m)[0] for m in design.drive.motors]

    def spare(speed: MetresPerSecond) -> Newtons:
        found = pushes_at(design.drive, np.array(1.0), np.array([speed]), design.water.density, design.water.viscosity, DRAWN)
        push = math.fsum(x * float(p.thrust[0]) for x, p in zip(ahead, found, strict=True) if p is not None)
        k = int(np.searchsorted(holds.speeds, speed))
        before = holds.balances[min(max(k - 1, 0), len(holds.balances) - 1)]
        one = balanced(boat, speed, before.attitude, None) if before is not None else None
        return push - (one.resistance if one is not None else float(holds.at(np.array([speed]))[0]))

    step = float(holds.speeds[1])
    low, high = max(near.speed - step, 1e-6), min(near.speed + step, holds.until)
    if spare(low) <= 0 or spare(high) >= 0:  # it turns over within a step: what the curve tells stands
        return near
    speed = float(brentq(spare, low, high, xtol=TOP_WITHIN * near.speed))
    return _steady(near.throttle, speed, speeds, draws)


def _draws(drive: Drive, states: list[Push], beside: Amperes) -> list[tuple[Battery, Floats]]:
    """Every pack that gives a current, and the current over throttle and speed; what is drawn besides comes from the boat's own, else from
    the first."""
    own = [(m.battery, s.current) for m, s in zip(drive.motors, states, strict=True) if m.battery is not None]
    shared = [s.current for m, s in zip(drive.motors, states, strict=True) if m.battery is None]
    packs = [(drive.battery, np.sum(shared, axis=0))] if drive.battery is not None and shared else []
    packs += own
    return [(b, i + (beside if k == 0 else 0.0)) for k, (b, i) in enumerate(packs)]


def _held(throttle: Ratio, speeds: Floats, spare: Floats, draws: list[tuple[Battery, Floats]]) -> Steady | None:
    """Where spare thrust first ends; None where there is none at rest. Where it never ends, the last speed. Without a pack it goes on."""
    if spare[0] <= 0:
        return None
    short = np.flatnonzero(spare <= 0)
    if short.size:
        k = int(short[0])
        share = spare[k - 1] / (spare[k - 1] - spare[k])
        speed = float(speeds[k - 1] + share * (speeds[k] - speeds[k - 1]))
    else:
        speed = float(speeds[-1])
    return _steady(throttle, speed, speeds, draws)


def _steady(throttle: Ratio, speed: MetresPerSecond, speeds: Floats, draws: list[tuple[Battery, Floats]]) -> Steady:
    """What a speed at a throttle takes from the packs, and for how long."""
    currents = [float(np.interp(speed, speeds, i)) for _, i in draws]
    time = min((run_time(b.kind, b.capacity_ah, i) for (b, _), i in zip(draws, currents, strict=True)), default=math.inf)
    return Steady(throttle, speed, math.fsum(currents), time, speed * time)


@dataclass(frozen=True, slots=True)
class LoadRow:
    """Thrust to weight with a load (its name empty for the list as it stands) aboard, and the brief's word for it; "" with no motor."""

    name: str
    mass: Kilograms
    ratio: Ratio
    verdict: Severity | Literal[""]


def loads(craft: Craft) -> tuple[LoadRow, ...]:
    """The list as it stands and every load case that weighs anything, judged as the drive is."""
    out = []
    for name in ("", *(c.name for c in craft.design.cases)):
        case = craft.in_case(name)
        if case.mass > 0:
            sums = sums_of(case.design, case.mass)
            out.append(LoadRow(name, case.mass, sums.thrust_to_weight, ratio_verdict(case, sums) if case.design.drive.motors else ""))
    return tuple(out)


def at_speed(match: Match, wanted: MetresPerSecond) -> Steady | None:
    """The throttle and what comes of it for a wanted speed; None for one it does not reach."""
    speeds = [s.speed for s in match.steady]
    if not 0 < wanted <= speeds[-1]:
        return None
    fields = {name: float(np.interp(wanted, speeds, [getattr(s, name) for s in match.steady])) for name in ("throttle", "current", "time")}
    return Steady(fields["throttle"], wanted, fields["current"], fields["time"], wanted * fields["time"])


@dataclass(frozen=True, slots=True)
class HomeAgainst:
    """How far out a boat may go and still come home against a head wind with a fifth of the pack kept: out and home as it then goes."""

    out: Steady
    home: Steady
    distance: Metres


def home_against(craft: Craft, match: Match, wind: MetresPerSecond) -> HomeAgainst | None:
    """Out where it goes farthest, home at whichever throttle brings it home from farthest; None where it makes no way against it, or no
    pack limits it. Raises InvalidInput for a wind that is none."""
    if not math.isfinite(wind) or not 0 <= wind <= MOST_WIND:
        raise InvalidInput("wind", "A head wind from 0 to {most:speed}.", most=MOST_WIND)
    if not match.draws:
        return None
    gone = match.economical
    holds = resistance_of(craft, wind)
    if holds is None:
        return None
    drag = holds.at(match.speeds)
    best: HomeAgainst | None = None
    for k, throttle in enumerate(THROTTLES.tolist()):
        home = _held(throttle, match.speeds, match.pushes[k] - drag, [(b, i[k]) for b, i in match.draws])
        if home is None or home.speed <= 0:
            continue
        distance = 1 / (1 / (gone.speed * gone.time) + 1 / (home.speed * home.time))
        if best is None or distance > best.distance:
            best = HomeAgainst(gone, home, distance)
    return best


@dataclass(frozen=True, slots=True)
class Usual:
    """What boats of a kind have of thrust to weight (common practice)."""

    kind: str
    low: Ratio
    high: Ratio


USUAL = (
    Usual("rowed or paddled, people aboard", 0.01, 0.08),
    Usual("displacement model, survey rover, submarine", 0.03, 0.15),
    Usual("airboat, jet boat, tracked amphibian", 0.20, 0.50),
    Usual("planing model", 0.30, 0.70),
    Usual("hydrofoil, wing in ground effect", 0.25, 0.60),
    Usual("three-point hydroplane", 0.50, 1.20),
)
"""Bands of thrust to weight by kind of boat, all common practice: a place to begin, no limit."""


TOLD: dict[TopIs, tuple[Severity, str, str]] = {
    "balance": (
        "note",
        "Top speed about {top:speed} at full throttle",
        "Between {low:speed} and {high:speed}, by the bands of thrust and drag; Under way says of what the drag is made.",
    ),
    "beyond_law": (
        "near",
        "Faster than {top:speed} at full throttle",
        "Thrust is still more than the resistance there, and no law here holds beyond, so no top speed is told.",
    ),
    "no_attitude": (
        "near",
        "No attitude balances it from {lost:speed}",
        "Up to {top:speed} thrust is more than the resistance. Beyond, its bow digs in or it lifts clear: no top speed is told.",
    ),
}


def _findings(values: dict[str, float | str], top_is: TopIs, *, over_hump: bool, ends: bool) -> tuple[Finding, ...]:
    severity, title, text = TOLD[top_is]
    if top_is == "balance" and values["high"] == math.inf:
        text = "At least {low:speed}, by the bands of thrust and drag; how much more no law here tells, they end within the band."
    out = [
        Finding("drive.top_speed", severity, title, text, source=STATICS, values=values),
        Finding(
            "drive.hump",
            "note",
            "It would get over its own wave" if over_hump else "It stays below its own wave",
            "Thrust over drag at the hump is about {reserve:ratio}; its own wave stands at {limit:speed}."
            if over_hump
            else "It meets its own wave at {limit:speed}; of what it takes to climb over, the thrust is about {reserve:ratio}.",
            source=COMMON_PRACTICE,
            values=values,
            remedies=() if over_hump else (Remedy("Lose weight, or more pull at that speed", "drive"),),
        ),
    ]
    if ends:
        out.append(
            Finding(
                "drive.range",
                "note",
                "Goes farthest at {slow:speed}, {throttle:percent} throttle",
                "{far:distance} on 80 % of the pack: turn back by {out:distance} out; flat out by {fast_out:distance}. Still water.",
                source=OHM,
                values=values,
            )
        )
    return tuple(out)
