"""Rolling and inclining: the period that the list predicts; from timed rolls and from a weight moved across back to GM and VCG; and
the list corrected by what was found."""

import dataclasses
import math
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoAnswer, Unsolved
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.quantities import Metres
from yarekeel.core.sources import GUM, MECHANICS, Source
from yarekeel.core.stability.inclining import Incline, gm_by_slope, gm_from_period, height_from, predicted_period
from yarekeel.core.weights.weigh_in import Found, reading
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.stability.stability import StabilityAssessment

ROLL_SOURCE = Source("T = 2 pi k / sqrt(g GM), with 10 to 20 % added inertia (added share from memory)", "from memory")
BEAM_SHARE = (0.35, 0.40)
"""k over the beam of a monohull (from memory): a hint where the list has no inertia to speak of."""


@dataclass(frozen=True, eq=False)
class RollAssessment:
    """Listed, and from the two tests; None for what was not read or cannot be. ``off`` is how far G lies to port of where it is
    listed by the inclining test. ``vcg`` is the better of the measured heights, ``by`` the word of the test it is from."""

    gyration: Metres
    gyration_share: float
    gm: Metres
    listed_vcg: Found
    period: Found
    timed: Found | None
    gm_timed: Found | None
    vcg_timed: Found | None
    gm_slope: Found | None
    inclined: Found | None
    off: Metres
    vcg: Found | None
    by: str
    findings: tuple[Finding, ...]


def assess(craft: Craft, r: StabilityAssessment) -> RollAssessment | None:
    """What the list predicts and the readings say; None for a boat that has no attitude."""
    if r.afloat is None or r.boat is None:
        return None
    a, total, incline = r.afloat, craft.total, craft.design.incline
    gyration = math.sqrt(max(float(craft.aboard.inertia[0, 0]), 0.0) / total.mass)
    gm = a.judged_gm
    listed = Found(total.centre[2], total.centre_half_width[2])
    timed = gm_timed = vcg_timed = None
    if incline.time_s is not None:
        timed = Found(incline.time_s / incline.rolls, reading(0.0, incline.time_limit_s).half_width / incline.rolls)
        if gyration > 0:
            gm_timed = gm_from_period(gyration, timed)
            vcg_timed = Found(total.centre[2] + (gm - gm_timed.value) * a.mass / a.listed, gm_timed.half_width * a.mass / a.listed)
    inclined, off, slope = None, 0.0, None
    if incline.weight_kg is not None and incline.shifts:
        slope = gm_by_slope(
            weight=incline.weight_kg, shifts=incline.shifts, mass=a.mass, angle_deg=incline.angle_deg, place=incline.place_m
        )
        try:
            found = height_from(r.boat, a.mass, incline)
        except Unsolved:
            found = None
        if found is not None:
            inclined, off = found
    choices = [(f, word) for f, word in ((inclined, "inclining"), (vcg_timed, "timed rolls")) if f is not None]
    vcg, by = min(choices, key=lambda c: c[0].half_width) if choices else (None, "")
    low, high = craft.hull.mesh.bounds
    result = RollAssessment(
        gyration=gyration,
        gyration_share=gyration / float(high[1] - low[1]),
        gm=gm,
        listed_vcg=listed,
        period=predicted_period(gyration, gm),
        timed=timed,
        gm_timed=gm_timed,
        vcg_timed=vcg_timed,
        gm_slope=slope,
        inclined=inclined,
        off=off,
        vcg=vcg,
        by=by,
        findings=(),
    )
    return dataclasses.replace(result, findings=tuple(_findings(craft, result, incline)))


def corrected(craft: Craft, vcg: Metres) -> Design:
    """The list with the heights of what was not weighed shifted alike, so that the centre of gravity lies at a height. Raises
    NoAnswer where nothing unsure can be moved."""
    items = craft.items
    unsure = [k for k, i in enumerate(items) if i.mass_kg > 0 and i.known != "weighed" and not i.fixed]
    unsure = unsure or [k for k, i in enumerate(items) if i.mass_kg > 0 and not i.fixed]
    mass = math.fsum(items[k].mass_kg for k in unsure)
    if mass <= 0:
        raise NoAnswer("Every weight follows the hull; drop the recipe of one to put it elsewhere.")
    total = craft.total
    by = (vcg - total.centre[2]) * total.mass / mass
    if not math.isfinite(by) or abs(by) > 1000:
        raise InvalidInput("answer.vcg", "That height cannot be; look at the readings.")
    design = craft.design
    for k in unsure:
        design = listing.shifted(design, k, (0.0, 0.0, by), alone=True)
    return design


def shift_of_unsure(craft: Craft, vcg: Metres) -> tuple[Metres, int]:
    """By how much, and how many, ``corrected`` moves."""
    before, after = craft.design.weights, corrected(craft, vcg).weights
    moved = [b.at_m[2] - a.at_m[2] for a, b in zip(before, after, strict=True) if a is not b and a != b]
    return (moved[0], len(moved)) if moved else (0.0, 0)


def _findings(craft: Craft, r: RollAssessment, incline: Incline) -> list[Finding]:
    out = []
    values: dict[str, float | str] = {"period": r.period.value, "half": r.period.half_width, "k": r.gyration, "share": r.gyration_share}
    if not math.isfinite(r.period.value):
        text = "Without a positive GM it does not come back, so it has no period."
        out.append(Finding("roll.none", "note", "It does not roll to and fro", text, source=ROLL_SOURCE))
    else:
        text = (
            "From the listed inertia, {k:length} of gyration ({share:percent} of the beam; 35 to 40 % is usual for one hull), "
            "and 10 to 20 % of water that swings along."
        )
        out.append(Finding("roll.period", "note", "Rolls in {period:seconds} ±{half:seconds}", text, source=ROLL_SOURCE, values=values))
    if r.timed is not None and math.isfinite(r.period.value):
        agrees = abs(r.timed.value - r.period.value) <= math.hypot(r.timed.half_width, r.period.half_width)
        values = {"timed": r.timed.value, "period": r.period.value, "slower": r.timed.value / r.period.value - 1}
        title = "The timed {timed:seconds} agree" if agrees else "It takes {timed:seconds}, not {period:seconds}"
        text = "Within what inertia and watch leave open." if agrees else "Slower than listed means a smaller GM: G higher than listed."
        if not agrees and r.timed.value < r.period.value:
            text = "Quicker than listed means a larger GM, or weights closer in than listed."
        out.append(Finding("roll.timed", "holds" if agrees else "near", title, text, source=GUM, values=values))
    if r.vcg is not None:
        off = r.vcg.value - r.listed_vcg.value
        agrees = abs(off) <= math.hypot(r.vcg.half_width, r.listed_vcg.half_width)
        values = {"vcg": r.vcg.value, "half": r.vcg.half_width, "listed": r.listed_vcg.value, "off": off, "by": r.by}
        title = "G as high as listed, by {by}" if agrees else "G lies {off:above_below} where it is listed, by {by}"
        text = "VCG {vcg:length} ±{half:length} over the baseline; the list has {listed:length}."
        way = () if agrees else (Remedy("Correct the list below", None),)
        out.append(Finding("incline.vcg", "holds" if agrees else "near", title, text, source=GUM, values=values, remedies=way))
    elif incline.shifts:
        text = "Give the weight moved, and two readings whose angles differ by a tenth of a degree or more."
        out.append(Finding("incline.few", "note", "Not enough to tell", text, source=MECHANICS))
    if r.inclined is not None and abs(r.off) > 0.002 * float(craft.hull.mesh.length):
        values = {"off": r.off}
        text = "Either it leant before the weight was moved, or the sensor was set down crooked; the height does not mind."
        out.append(Finding("incline.off", "note", "G {off:athwart} of where it is listed", text, source=MECHANICS, values=values))
    return out
