"""Stepped and three-point hulls: what each pad carries over speed, at which angle, and how stiff the boat is in roll on them."""

import math
from dataclasses import dataclass, replace

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Degrees, Metres, MetresPerSecond, NewtonMetres, Newtons, Radians, Ratio
from yarekeel.core.running.balance import Balanced, moment_of
from yarekeel.core.running.forces import Force, PlaningBottom, State, Underway
from yarekeel.core.running.laws.planing import pad_forces
from yarekeel.core.running.regime import planing_share
from yarekeel.core.sources import COMMON_PRACTICE, SAVITSKY_1964, STATICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.running.resistance import resistance_of

CARRIES: Ratio = 0.95
"""Of the weight, that the pads carry when the boat is taken to run on them."""
GOOD: tuple[Degrees, Degrees] = (2.0, 6.0)
"""Between which a pad planes well (common practice: 4 to 5° is best)."""
HAIR: Metres = 1e-5
TENTH: Ratio = 0.1
SPACINGS: tuple[Ratio, ...] = (0.8, 1.0, 1.2)
MOST_AFT: Ratio = 0.85
"""Share of the load on the after pads, above which the sponsons hardly touch (common practice)."""


@dataclass(frozen=True, slots=True)
class PadLoad:
    """A pad at a speed: what it carries, its angle to the water, and whether it is wet."""

    name: str
    lift: Newtons
    angle: Degrees
    wet: bool


@dataclass(frozen=True, slots=True)
class PadRow:
    """A speed: every pad, what they and the water's buoyancy carry of the weight, the couple of thrust and drag about G (bow up
    positive), and the lean under a tenth of the weight on one of the pair of pads, at each of SPACINGS of it (None without a pair)."""

    speed: MetresPerSecond
    trim: Radians
    pads: tuple[PadLoad, ...]
    carried: Ratio
    couple: NewtonMetres
    leans: tuple[Radians, ...] | None


@dataclass(frozen=True, slots=True)
class PadsAssessment:
    """The pads as they were read, rows over speed, the speed at which they carry the boat (None where they never do), the spacing of the
    pair (None without one)."""

    pads: tuple[PlaningBottom, ...]
    rows: tuple[PadRow, ...]
    carries: MetresPerSecond | None
    spacing: Metres | None
    findings: tuple[Finding, ...]


@kept
def assess(craft: Craft) -> PadsAssessment | None:
    """None for a hull that has not several pads, or does not run."""
    holds = resistance_of(craft)
    if holds is None or len(holds.boat.pads) < 2:
        return None
    boat = holds.boat
    pair = [p for p in boat.pads if p.keel[1] > 0]
    spacing = 2 * pair[0].keel[1] if pair else None
    rows = tuple(row_at(boat, b, spacing) for b in holds.balances[1:] if b is not None)
    carries = next((r.speed for r in rows if r.carried >= CARRIES), None)
    return PadsAssessment(boat.pads, rows, carries, spacing, _findings(boat, rows, carries))


def row_at(boat: Underway, b: Balanced, spacing: Metres | None) -> PadRow:
    """What the pads do at a balance."""
    lifts: dict[str, Newtons] = {}
    for f in b.forces:
        if f.part == "planing":
            lifts[f.name] = lifts.get(f.name, 0.0) + f.newtons[2]
    trim = math.degrees(b.attitude.trim)
    pads = tuple(PadLoad(p.name, lifts.get(p.name, 0.0), trim + p.slope, p.name in lifts) for p in boat.pads)
    weight = boat.mass * STANDARD_GRAVITY
    return PadRow(
        speed=b.speed,
        trim=b.attitude.trim,
        pads=pads,
        carried=math.fsum(lifts.values()) / weight,
        couple=math.fsum(moment_of(boat, b.attitude, _level(f)) for f in b.forces),
        leans=_leans(boat, b, spacing, weight) if spacing is not None else None,
    )


def _level(force: Force) -> Force:
    """What of a force runs ahead or back."""
    return replace(force, newtons=(force.newtons[0], 0.0, 0.0))


def _leans(boat: Underway, b: Balanced, spacing: Metres, weight: Newtons) -> tuple[Radians, ...] | None:
    """Lean under a tenth of the weight moved onto one pad of the pair: moment over stiffness, the pads' lift over their depth taken
    as straight."""
    share = planing_share(b.speed, boat.volume)
    if share <= 0:
        return None
    stiff = 0.0
    for pad in boat.pads:
        if pad.keel[1] != 0:
            x, y, z = pad.keel
            lifts = [
                math.fsum(f.newtons[2] for f in pad_forces(boat, replace(pad, keel=(x, y, z + dz)), State(b.speed, b.attitude), share))
                for dz in (-HAIR, HAIR)
            ]
            stiff += (lifts[0] - lifts[1]) / (2 * HAIR)
    if stiff <= 0:
        return None
    return tuple(TENTH * weight * (k * spacing / 2) / (stiff * (k * spacing / 2) ** 2) for k in SPACINGS)


def _findings(boat: Underway, rows: tuple[PadRow, ...], carries: MetresPerSecond | None) -> tuple[Finding, ...]:
    out = []
    names = ", ".join(p.name for p in boat.pads)
    if carries is None:
        text = "Over its whole range buoyancy keeps a share: lighter, or more beam on the pads."
        out.append(Finding("underway.pads_float", "note", "The pads never carry it alone", text, SAVITSKY_1964, {"pads": names}))
        return tuple(out)
    row = next(r for r in rows if r.carried >= CARRIES)
    aft_x = min(p.keel[0] for p in boat.pads)
    aft = {p.name for p in boat.pads if p.keel[0] <= aft_x + 1e-9}
    share = math.fsum(p.lift for p in row.pads if p.name in aft) / max(math.fsum(p.lift for p in row.pads), 1e-12)
    values: dict[str, float | str] = {"speed": carries, "share": share, "fore": 1 - share, "pads": names}
    title = "The pads carry it from {speed:speed}"
    text = "There {fore:percent} lies on the fore pads, {share:percent} on the after one: by moments about the after pad."
    word: Severity = "near" if share > MOST_AFT else "holds"
    ways = (Remedy("Weight forward, or sponsons further aft", "weights"),) if word == "near" else ()
    out.append(Finding("underway.pads_carry", word, title, text, STATICS, values, ways))
    last = rows[-1]
    low, high = GOOD
    flat = [p for p in last.pads if p.wet and not low <= p.angle <= high]
    if flat:
        one = flat[0]
        values = {"name": one.name, "angle": math.radians(one.angle), "speed": last.speed}
        text = "At {speed:speed} it meets the water at {angle:angle}; pads run best at 4 to 5°."
        ways = (Remedy("Pack or cut the pad to its angle", "shape"),)
        out.append(Finding("underway.pad_angle", "near", "The {name} is off its best angle", text, COMMON_PRACTICE, values, ways))
    values = {"couple": abs(last.couple), "way": "up" if last.couple > 0 else "down", "speed": last.speed}
    text = "Of thrust and all that holds back, at {speed:speed}; the pads' loads shift to answer it."
    out.append(Finding("underway.pads_couple", "note", "A couple of {couple:moment}, bow {way}", text, STATICS, values))
    leans = [r for r in rows if r.carried >= CARRIES and r.leans is not None]
    if leans:
        first, fast = leans[0].leans, leans[-1].leans
        assert first is not None
        assert fast is not None
        middle = SPACINGS.index(1.0)
        values = {"slow": first[middle], "fast": fast[middle], "wider": first[-1], "speed": leans[0].speed, "top": leans[-1].speed}
        text = "At {speed:speed}; a fifth wider apart {wider:angle}; at {top:speed} {fast:angle}, since the pads ride shallower."
        title = "A tenth of its weight on one sponson leans it {slow:angle}"
        out.append(Finding("underway.pads_roll", "note", title, text, STATICS, values))
    return tuple(out)


def speeds_of(rows: tuple[PadRow, ...], most: int) -> tuple[PadRow, ...]:
    """Some of the rows, evenly over the speeds."""
    picks = np.unique(np.linspace(0, len(rows) - 1, min(most, len(rows))).astype(int)).tolist()
    return tuple(rows[k] for k in picks)
