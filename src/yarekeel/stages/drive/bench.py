"""Thrust tests: what a sheet of readings says, what is wrong with it, and which of several tests is the better."""

import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.found import Found
from yarekeel.core.propulsion.bench.reading import BenchReading, Fault, FaultCode, read, read_ahead
from yarekeel.core.propulsion.bench.sheet import BenchPoint, BenchTest
from yarekeel.core.propulsion.momentum import disk_area, figure_of_merit
from yarekeel.core.quantities import Newtons, Ratio, Watts
from yarekeel.core.sources import COMMON_PRACTICE, GUM, OWN_BENCH, RANKINE_FROUDE, SCHWARZ_1978
from yarekeel.stages.design.design import Design

WELL_UNDER: Ratio = 0.5
"""Diameters that a water propeller's tips want over them, or they draw air (common practice)."""
TUB: Ratio = 8.0
"""Diameters that a tub wants across: in a smaller one the stream comes round and the pull reads low (common practice)."""
BEST_MERIT: Ratio = 0.85
"""No small propeller or fan turns more of its power into the stream (common practice); above 1 nothing can."""
REASONS = {
    "air": "draws air",
    "slip": "after a joint slipped",
    "jump": "jumped while it was held",
    "saturated": "past the scale's end",
    "warm": "",
    "drift": "",
    "you": "left out by you",
    "astern": "the other way",
    "": "",
}
CAUTION = Finding(
    "caution.bench",
    "note",
    "Before you arm it",
    "Arm last, with someone at the cut-off. Fingers, hair and sleeves clear of the propeller; eye protection; ears, beside a fan. The rig "
    "clamped down and every joint pinned. Packs and plugs away from the tub's water; a wet pack can burn hours later.",
    source=COMMON_PRACTICE,
)


@dataclass(frozen=True, slots=True)
class BenchRow:
    """A reading as it counts: pull with the zero off and the arms in, electric power, grams for a watt, figure of merit; None where not
    known. ``why`` says why it does not count."""

    number: int
    point: BenchPoint
    pull: Newtons | None
    power: Watts | None
    grams_per_watt: Ratio | None
    merit: Ratio | None
    counts: bool
    why: str


@dataclass(frozen=True, slots=True, eq=False)
class BenchAssessment:
    """A test, judged: rows in the order they were taken, the reading ahead and, where there is one, astern; the pull at full throttle."""

    test: BenchTest
    rows: tuple[BenchRow, ...]
    ahead: BenchReading
    astern: BenchReading | None
    full: Found | None
    findings: tuple[Finding, ...]


def assess(design: Design, number: int) -> BenchAssessment:
    """A test of the boat's. Raises InvalidInput where there is none of that number."""
    if not 0 <= number < len(design.drive.tests):
        raise InvalidInput("bench", "There is no such thrust test.")
    test = design.drive.tests[number]
    ahead = read_ahead(test)
    astern = read(test, astern=True) if any(p.throttle < 0 for p in test.points) else None
    rows = tuple(_row(design, test, k, ahead, astern) for k in range(len(test.points)))
    full = full_pull(ahead)
    return BenchAssessment(test, rows, ahead, astern, full, _findings(design, test, ahead, astern, full, rows))


def full_pull(reading: BenchReading) -> Found | None:
    """Pull at full throttle with its band; None without a curve."""
    if reading.pull is None:
        return None
    return Found(reading.pull.full.value, float(reading.pull.half_width(np.array([1.0]))[0]))


def _row(design: Design, test: BenchTest, k: int, ahead: BenchReading, astern: BenchReading | None) -> BenchRow:
    p = test.points[k]
    judged = (astern if p.throttle < 0 and astern is not None else ahead).judged[k]
    power = p.volts * p.amps if p.volts is not None and p.amps is not None and p.amps > 0 else None
    pull = judged.pull
    grams = merit = None
    if pull is not None and pull > 0 and power and p.throttle:
        grams = pull / STANDARD_GRAVITY * 1000 / power
        if test.across_m:
            merit = merit_of(test, pull / test.units, power / test.units, design.water.density)
    return BenchRow(k, p, pull, power, grams, merit, judged.counts, REASONS[judged.reason])


def merit_of(test: BenchTest, pull: Newtons, power: Watts, water: float) -> Ratio:
    """Share of a unit's electric power that momentum theory needs for its pull: of a disk, or of a duct's or jet's exit, whose stream keeps
    its width and so costs the root of two less."""
    open_disk = figure_of_merit(pull, power, disk_area(test.across_m), test.density(water))
    return open_disk / math.sqrt(2) if test.stream in ("duct", "jet") else open_disk


def _findings(
    design: Design, test: BenchTest, ahead: BenchReading, astern: BenchReading | None, full: Found | None, rows: tuple[BenchRow, ...]
) -> tuple[Finding, ...]:
    out: list[Finding] = []
    if full is None:
        text = "Take the pull at three throttles or more, and at none before and after; up and down again tells most."
        out.append(Finding("bench.few", "note", "Too few readings for a curve", text, source=GUM))
    else:
        values: dict[str, float | str] = {"full": full.value, "half": full.half_width, "left": ahead.left_out, "all": len(test.points)}
        text = "By {all:count} readings; its pull rises with the throttle as the curve shows."
        if ahead.left_out:
            text = "By {all:count} readings, {left:count} of them not counted: each says why."
        out.append(
            Finding("bench.full", "note", "Pulls {full:force} at full throttle, ±{half:force}", text, source=OWN_BENCH, values=values)
        )
    for reading in (ahead, astern):
        if reading is not None:
            out += [_fault(f, reading) for f in reading.faults]
    if astern is not None and (back := full_pull(astern)) is not None and full is not None:
        share = back.value / full.value
        values = {"back": back.value, "share": share}
        text = "{back:force} at full throttle the other way."
        out.append(Finding("bench.astern", "note", "Astern it pulls {share:percent} of that", text, OWN_BENCH, values))
    out += _set_up(test)
    best = max((r.merit for r in rows if r.merit is not None and r.counts), default=None)
    if best is not None and best > BEST_MERIT:
        word: Severity = "fails" if best > 1 else "near"
        title = "More pull than its power can make" if best > 1 else "Better than such units are"
        text = (
            "Of its electric power {best:percent} would be in the stream: look at the arms, the unit of the readings, the size, the amps."
        )
        out.append(Finding("bench.merit", word, title, text, source=RANKINE_FROUDE, values={"best": best}))
    if test.is_practice:
        text = "Readings of a stand-in say nothing of a unit: they are for learning the sheet."
        out.append(Finding("bench.practice", "note", "Practice", text, source=OWN_BENCH))
    return (*out, CAUTION)


def _set_up(test: BenchTest) -> list[Finding]:
    """How the unit stood in its tub."""
    out = []
    if test.stream == "water" and test.across_m and test.tip_depth_m is not None and test.tip_depth_m < WELL_UNDER * test.across_m:
        values: dict[str, float | str] = {"depth": test.tip_depth_m, "wanted": WELL_UNDER * test.across_m}
        text = "Tips {depth:length} under; half a diameter, {wanted:length}, keeps air away."
        remedies = (Remedy("Set it deeper", "drive"),)
        out.append(Finding("bench.tips", "near", "It may draw air so near the surface", text, COMMON_PRACTICE, values, remedies))
    if test.tub_m is not None and test.across_m and test.stream in ("water", "jet") and test.tub_m < TUB * test.across_m:
        values = {"tub": test.tub_m, "wanted": TUB * test.across_m}
        text = "{tub:length} across; the stream comes round and the pull reads low. {wanted:length} or a pond would do."
        remedies = (Remedy("A larger tub", "drive"),)
        out.append(Finding("bench.tub", "near", "The tub is small for it", text, COMMON_PRACTICE, values, remedies))
    return out


_SAID: dict[FaultCode, tuple[Severity, str, str, str]] = {
    "drift": (
        "near",
        "The scale's zero wandered by {size:force}",
        "Taken off in step with the time; tare before every sweep, and keep the cell out of the sun.",
        "Tare, and take the sweep again",
    ),
    "air": (
        "near",
        "It draws air from {throttle:percent} throttle on",
        "There the pull falls short by up to {size:percent} while the throttle rises; those readings do not count.",
        "Deeper, slower, or a larger tub",
    ),
    "slip": (
        "fails",
        "A joint slipped: later readings are off by {size:percent}",
        "From reading {first:count} on all pulls are the same share too {side}. Only what came before counts.",
        "Pin the joint, measure the arms, take it again",
    ),
    "jump": (
        "near",
        "The reading jumped while the throttle stood",
        "At {throttle:percent}, by {size:percent}: something gave, or the scale was touched. That reading does not count.",
        "Look at the joints, take it again",
    ),
    "saturated": (
        "fails",
        "The scale was at its end",
        "{count:count} readings are past what it can read; the curve above is drawn on from below.",
        "A longer arm to the scale, or a larger scale",
    ),
    "warm": (
        "near",
        "The pull {moved} by {size:percent} over the sweep",
        "The way down differs from the way up: motor, control and pack warm, and the pack sags. The figure is that of the beginning.",
        "Shorter holds, and a pause between sweeps",
    ),
}


def _fault(fault: Fault, reading: BenchReading) -> Finding:
    severity, title, text, cure = _SAID[fault.code]
    values: dict[str, float | str] = {
        "size": abs(fault.size),
        "throttle": fault.throttle,
        "first": (fault.points[0] + 1) if fault.points else 0,
        "count": len(fault.points),
        "side": "low" if fault.size < 0 else "high",
        "moved": "fell" if fault.size < 0 else "rose",
    }
    source = SCHWARZ_1978 if fault.code in ("air", "slip", "warm") else OWN_BENCH
    return Finding(f"bench.{fault.code}", severity, title, text, source, values, (Remedy(cure, "drive"),))


@dataclass(frozen=True, slots=True)
class Compared:
    """A test beside the others; None where it does not tell. ``grams`` are for a watt near full and near half throttle."""

    number: int
    name: str
    fitted: str
    units: int
    full: Found | None
    current: float | None
    grams: Ratio | None
    grams_half: Ratio | None
    merit: Ratio | None
    practice: bool


def compared(design: Design) -> tuple[Compared, ...]:
    """Every test of the boat's, a row each."""
    out = []
    for n, test in enumerate(design.drive.tests):
        found = assess(design, n)
        counting = [r for r in found.rows if r.counts and r.point.throttle > 0]
        near = {d: min(counting, key=lambda r: abs(r.point.throttle - d), default=None) for d in (1.0, 0.5)}
        top, half = near[1.0], near[0.5]
        current = found.ahead.current
        out.append(
            Compared(
                number=n,
                name=test.name,
                fitted=test.fitted,
                units=test.units,
                full=found.full,
                current=current.full.value if current is not None else None,
                grams=top.grams_per_watt if top else None,
                grams_half=half.grams_per_watt if half else None,
                merit=top.merit if top else None,
                practice=test.is_practice,
            )
        )
    return tuple(out)


def comparison(design: Design) -> tuple[Finding, ...]:
    """Which test pulls most and whether the bands tell it from the next, and what several units keep of one's pull."""
    known = [
        (c, f.value / units, f.half_width / units) for c in compared(design) if not c.practice and (f := c.full) and (units := c.units)
    ]
    known.sort(key=lambda row: -row[1])
    out: list[Finding] = []
    for other, pull, half in known[1:4]:
        best, most, most_half = known[0]
        doubt = math.hypot(half, most_half)
        values: dict[str, float | str] = {
            "best": best.name,
            "other": other.name,
            "more": most / pull - 1,
            "doubt": doubt,
            "gap": most - pull,
        }
        title = "{best} pulls {more:percent} more than {other}"
        if most - pull <= doubt:
            title = "{best} and {other} cannot be told apart"
        text = "{gap:force} a unit between them, ±{doubt:force}."
        out.append(Finding("bench.compared", "note", title, text, source=GUM, values=values))
    keeps = together(design)
    if keeps is not None:
        single, several, share = keeps
        values = {"several": several.name, "single": single.name, "share": share.value, "half": share.half_width, "units": several.units}
        title = "Each of {units:count} together keeps {share:percent}"
        text = "By {several} against {single}, ±{half:percent}: what they take from each other's water."
        out.append(Finding("bench.together", "note", title, text, source=OWN_BENCH, values=values))
    return tuple(out)


def together(design: Design) -> tuple[BenchTest, BenchTest, Found] | None:
    """A test of one unit, one of several of the same, and what each of these keeps of its pull; None where no two such tests are."""
    full = [(t, f) for t in design.drive.tests if (f := full_pull(read_ahead(t))) is not None]
    for single, a in full:
        for several, b in full:
            if single.units == 1 and several.units > 1 and single.fitted and single.fitted == several.fitted:
                share = b.value / several.units / a.value
                return single, several, Found(share, share * math.hypot(a.half_width / a.value, b.half_width / b.value))
    return None
