"""Rolling and inclining: the period that the list predicts; from timed rolls and from a weight moved across back to GM and VCG; and
the list corrected by what was found."""

import dataclasses
import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput, NoAnswer, Unsolved
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.found import Found
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.hydrostatics.afloat import GM_COLUMN, Afloat, slopes_by_load
from yarekeel.core.quantities import Metres, Ratio
from yarekeel.core.sources import GUM, MECHANICS, Source
from yarekeel.core.stability.inclining import LEAST_ANGLE, Incline, gm_by_slope, gm_from_period, height_from, predicted_period
from yarekeel.core.stability.righting import Righted
from yarekeel.core.weights.items import sources
from yarekeel.core.weights.weigh_in import as_normal
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

    gyration: Found
    gyration_share: Ratio
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


@dataclass(frozen=True, eq=False)
class _Listed:
    """What the list says of mass, VCG, GM and radius of gyration, and what every doubt in it, one a row of ``doubts`` (g, 4), makes
    of them together: a heavier weight sinks the boat, moves G and widens k at once."""

    gyration: Metres
    doubts: Floats

    def half(self, *slopes: float) -> float:
        """Half width of a figure by its slopes by mass, VCG, GM and k."""
        return float(np.sqrt(((self.doubts @ np.array(slopes)) ** 2).sum()))


def _listed(craft: Craft, a: Afloat) -> _Listed | None:
    """None for a list all at one point."""
    found = craft.aboard.gyration(0)
    if found is None:
        return None
    total, marks = craft.total, craft.marks
    by_load = slopes_by_load(hull=craft.hull, afloat=a, bow_x=marks.bow_x_m, stern_x=marks.stern_x_m, kernel=craft.kernel)
    loads = np.zeros((4, 3))
    loads[0] = (1.0, -total.centre[2] / total.mass, 0.0)
    loads[3, 1] = 1 / total.mass
    if by_load is not None and not a.is_unsteady:
        loads[:, 2] = by_load[:, GM_COLUMN]
    places, masses = np.array([i.at_m for i in craft.acting]), np.array([i.mass_kg for i in craft.acting])
    by_mass = np.column_stack([loads[0] + places @ loads[1:], found.by_mass])
    by_place = np.concatenate([np.broadcast_to(loads[1:], (len(masses), 3, 3)) * masses[:, None, None], found.by_place[:, :, None]], axis=2)
    by_size = np.zeros((len(masses), 4))
    by_size[:, 3] = found.by_size
    return _Listed(found.radius, np.vstack([sources(craft.acting, by_mass, by_place), by_size]))


def turning_of(craft: Craft) -> tuple[tuple[str, str, Ratio], ...]:
    """What of the inertia in roll each line of the list makes: its name, what its size was taken for, its share; the greatest first."""
    items, extents = craft.items, craft.aboard.extents
    _, y, z = craft.total.centre
    each = [i.mass_kg * ((i.at_m[1] - y) ** 2 + (i.at_m[2] - z) ** 2) + float(e.inertia[0, 0]) for i, e in zip(items, extents, strict=True)]
    whole = math.fsum(each)
    if whole <= 0:
        return ()
    order = sorted(range(len(items)), key=lambda k: -each[k])
    return tuple((items[k].name, extents[k].taken, each[k] / whole) for k in order if each[k] > 0)


def period_of(craft: Craft, a: Afloat) -> Found | None:
    """The roll period as listed; None where it has none."""
    listed, gm = _listed(craft, a), a.judged_gm
    if listed is None or gm <= 0:
        return None
    return predicted_period(listed.gyration, gm, listed.half(0.0, 0.0, -0.5 / gm, 1 / listed.gyration))


def _timed(craft: Craft, a: Afloat, listed: _Listed | None) -> tuple[Found | None, Found | None, Found | None]:
    """Period, GM and VCG by timed rolls."""
    incline = craft.design.incline
    if incline.time_s is None:
        return None, None, None
    timed = Found(incline.time_s / incline.rolls, as_normal(incline.time_limit_s) / incline.rolls)
    if listed is None:
        return timed, None, None
    gm = gm_from_period(Found(listed.gyration, listed.half(0.0, 0.0, 0.0, 1.0)), timed)
    by_watch = gm_from_period(Found(listed.gyration, 0.0), timed).half_width
    # VCG = KM - GM: of the list's doubts what sinks the boat moves KM, what widens k moves GM.
    more = a.mass / a.listed
    band = listed.half(0.0, 1.0, more, -2 * more * gm.value / listed.gyration)
    return timed, gm, Found(craft.total.centre[2] + (a.judged_gm - gm.value) * more, math.hypot(band, by_watch * more))


def _inclined(craft: Craft, a: Afloat, boat: Righted, listed: _Listed | None) -> tuple[Found | None, Metres, Found | None]:
    """VCG by the inclining test, how far G lies to port of the list, and GM by the slope."""
    incline, total = craft.design.incline, craft.total
    if incline.weight_kg is None or not incline.shifts:
        return None, 0.0, None
    mass_doubt = total.half_width / a.mass
    slope = gm_by_slope(weight=incline.weight_kg, shifts=incline.shifts, mass=a.mass, angle_deg=incline.angle_deg, place=incline.place_m)
    if slope is not None:
        slope = Found(slope.value, math.hypot(slope.half_width, slope.value * mass_doubt))
    try:
        found = height_from(boat, a.mass, incline, total.centre_half_width[1])
    except Unsolved:
        found = None
    if found is None:
        return None, 0.0, slope
    height, off = found
    more = a.mass / a.listed
    gm = a.judged_gm + (total.centre[2] - height.value) / more
    by_list = listed.half(gm / a.listed, 1.0, more, 0.0) if listed else 0.0
    return Found(height.value, math.hypot(height.half_width, by_list)), off, slope


def assess(craft: Craft, r: StabilityAssessment) -> RollAssessment | None:
    """What the list predicts and the readings say; None for a boat that has no attitude."""
    if r.afloat is None or r.boat is None:
        return None
    a, total = r.afloat, craft.total
    listed = _listed(craft, a)
    gyration = Found(listed.gyration, listed.half(0.0, 0.0, 0.0, 1.0)) if listed else Found(0.0, 0.0)
    timed, gm_timed, vcg_timed = _timed(craft, a, listed)
    inclined, off, slope = _inclined(craft, a, r.boat, listed)
    choices = [(f, word) for f, word in ((inclined, "inclining"), (vcg_timed, "timed rolls")) if f is not None]
    vcg, by = min(choices, key=lambda c: c[0].half_width) if choices else (None, "")
    low, high = craft.hull.mesh.bounds
    result = RollAssessment(
        gyration=gyration,
        gyration_share=gyration.value / float(high[1] - low[1]),
        gm=a.judged_gm,
        listed_vcg=Found(total.centre[2], total.centre_half_width[2]),
        period=period_of(craft, a) or Found(math.inf, 0.0),
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
    return dataclasses.replace(result, findings=tuple(_findings(craft, result, craft.design.incline)))


def corrected(craft: Craft, vcg: Metres) -> Design:
    """The list with the heights of what was not weighed shifted alike, so that the centre of gravity lies at a height. Raises
    NoAnswer where nothing unsure can be moved, or the readings are practice and the list is not."""
    if craft.design.incline.is_practice and not craft.design.practice:
        raise NoAnswer("These are a stand-in's readings: practice, which corrects no list. Read the boat itself, and type that over them.")
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
    out: list[Finding] = []
    if incline.is_practice:
        text = "Read off a stand-in aboard this list with errors of its own; it says nothing of the boat."
        out.append(Finding("incline.practice", "note", "Practice readings among these", text, source=MECHANICS))
    values: dict[str, float | str] = {
        "period": r.period.value,
        "half": r.period.half_width,
        "k": r.gyration.value,
        "unsure": r.gyration.half_width,
        "share": r.gyration_share,
    }
    if not math.isfinite(r.period.value):
        text = "Without a positive GM it does not come back, so it has no period."
        out.append(Finding("roll.none", "note", "It does not roll to and fro", text, source=ROLL_SOURCE))
    else:
        text = (
            "From the listed weights, places and sizes: {k:length} ±{unsure:length} of gyration ({share:percent} of the beam; 35 to 40 % "
            "is usual for one hull), and 10 to 20 % of water that swings along."
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
        if r.by == "timed rolls" and not agrees:
            text += " Of a period both G and the radius of gyration are a cause; incline it, and the two come apart."
        out.append(Finding("incline.vcg", "holds" if agrees else "near", title, text, source=GUM, values=values, remedies=way))
    elif incline.shifts:
        text = "Give the weight moved, and two readings whose angles differ by a tenth of a degree or more."
        out.append(Finding("incline.few", "note", "Not enough to tell", text, source=MECHANICS))
    if r.inclined is not None and _at_one_angle(incline):
        text = "Whether it leant before, or the sensor was set down crooked, one angle does not tell; the band allows for both."
        out.append(Finding("incline.one", "near", "Read it at no shift too", text, source=MECHANICS))
    if r.inclined is not None and abs(r.off) > 0.002 * float(craft.hull.mesh.length):
        values = {"off": r.off}
        text = "Either it leant before the weight was moved, or the sensor was set down crooked; the height does not mind."
        out.append(Finding("incline.off", "note", "G {off:athwart} of where it is listed", text, source=MECHANICS, values=values))
    return out


def _at_one_angle(incline: Incline) -> bool:
    heels = [math.sin(math.radians(s.heel_deg)) for s in incline.shifts]
    return max(heels) - min(heels) < math.sin(LEAST_ANGLE)
