"""Both schools of thrust line on one boat: high, so that the pull holds the bow down against the hull's lift, or low, near the centre of
gravity, so that it does not pitch the boat. Which is right changes with the speed."""

import math
from dataclasses import dataclass, replace

import numpy as np

from yarekeel.core.findings import Finding
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Floats, Metres, MetresPerSecond, Radians
from yarekeel.core.running.balance import over_speeds
from yarekeel.core.running.forces import Underway
from yarekeel.core.sources import COMMON_PRACTICE, STATICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.running.resistance import resistance_of

STEPS = 30


@dataclass(frozen=True, slots=True, eq=False)
class School:
    """A line of thrust: its name, its height in boat axes, and the trim (n,) in radians over the speeds; not a number where no attitude
    balances it."""

    name: str
    height: Metres
    trim: Floats


@dataclass(frozen=True, slots=True, eq=False)
class SchoolsAssessment:
    """The speeds (n,), the line as fitted, a high one and one through G."""

    speeds: Floats
    schools: tuple[School, ...]
    findings: tuple[Finding, ...]


@kept
def assess(craft: Craft) -> SchoolsAssessment | None:
    """None for a boat that does not run."""
    holds = resistance_of(craft)
    if holds is None:
        return None
    boat = holds.boat
    low, high = (float(b[2]) for b in craft.hull.mesh.bounds)
    speeds = np.linspace(0.0, float(holds.speeds[-1]), STEPS)
    heights = (("as fitted", boat.thrust_at[2]), ("high", high + 0.5 * (high - low)), ("through G", boat.gravity[2]))
    schools = tuple(School(name, h, _trims(boat, speeds, h)) for name, h in heights)
    return SchoolsAssessment(speeds, schools, _findings(speeds, schools))


def _trims(boat: Underway, speeds: Floats, height: Metres) -> Floats:
    x, y, _ = boat.thrust_at
    moved = replace(boat, thrust_at=(x, y, height))
    return np.array([b.attitude.trim if b is not None else np.nan for b in over_speeds(moved, speeds)])


def _findings(speeds: Floats, schools: tuple[School, ...]) -> tuple[Finding, ...]:
    _, top, middle = schools
    apart = top.trim - middle.trim
    known = np.isfinite(apart)
    if not known.any():
        return ()
    k = int(np.nanargmax(np.abs(np.where(known, apart, np.nan))))
    values: dict[str, float | str] = {
        "speed": float(speeds[k]),
        "high": float(top.trim[k]),
        "low": float(middle.trim[k]),
        "raised": top.height - middle.height,
    }
    text = "There the high line sits {high:trim}, the one through G {low:trim}; {raised:length} lie between them."
    out = [Finding("underway.schools", "note", "They differ most at {speed:speed}", text, STATICS, values)]
    lost = _first_lost(speeds, top.trim)
    if lost is not None:
        values["lost"] = lost
        text = "From {lost:speed} it holds the bow down so far that no attitude balances it."
        out.append(Finding("underway.high_line", "near", "A high line digs the bow in", text, STATICS, values))
    best = _by_trim(speeds, schools)
    if best:
        values["best"] = best
        text = "By the trim that is nearest the 4° at which hulls plane with least drag: {best}."
        out.append(Finding("underway.school_by_speed", "note", "Each is right at its own speed", text, COMMON_PRACTICE, values))
    return tuple(out)


def _first_lost(speeds: Floats, trim: Floats) -> MetresPerSecond | None:
    lost = np.flatnonzero(~np.isfinite(trim))
    return float(speeds[lost[0]]) if lost.size else None


GOOD: Radians = math.radians(4.0)
"""Trim at which planing hulls run with least drag (common practice: 4 to 5°)."""
WORTH: Radians = math.radians(0.3)


def _by_trim(speeds: Floats, schools: tuple[School, ...]) -> str:
    """In words which of the high and the low line sits nearer a good trim at half and at full speed; empty where they hardly differ."""
    words = []
    for share, where in ((0.5, "half way up"), (1.0, "at its fastest")):
        k = round(share * (speeds.size - 1))
        off = [abs(s.trim[k] - GOOD) if math.isfinite(s.trim[k]) else math.inf for s in schools[1:]]
        if abs(off[0] - off[1]) > WORTH:
            words.append(f"{where} the {'high line' if off[0] < off[1] else 'one through G'}")
    return ", ".join(words)
