"""Under sail: the lean at each wind, the wind that capsizes it, the wind that drives its bow under, and the lead."""

import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from yarekeel.core.errors import BoatSinks
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.spaces import below
from yarekeel.core.geometry.wetted import waterline_length
from yarekeel.core.hydrostatics.attitude import Attitude
from yarekeel.core.hydrostatics.equilibrium import Unsolved
from yarekeel.core.hydrostatics.flotation import Flotation
from yarekeel.core.hydrostatics.forces import Overpowered, Push, solve_pushed, wind_force
from yarekeel.core.hydrostatics.inside import Laden
from yarekeel.core.propulsion.sail import effort, lead
from yarekeel.core.quantities import Metres, MetresPerSecond, Newtons, Point, Radians, Ratio, SquareMetres
from yarekeel.core.sources import COMMON_PRACTICE, MECHANICS
from yarekeel.core.stability.heeling import outward, steady, thrown
from yarekeel.stages import listing, plain_tests
from yarekeel.stages.craft import Craft
from yarekeel.stages.stability import StabilityAssessment, end_of

MOST_WIND: MetresPerSecond = 25.0
"""A storm: a small sail comes down long before."""
WINDS = 26
HALVINGS = 12
KNOCKED_DOWN: Radians = math.radians(60)
"""Past that the sail lies on the water: held or not, it counts as over (common practice)."""
USUAL_LEAD: tuple[Ratio, Ratio] = (0.02, 0.15)
"""Of the waterline: where small craft have their lead (common practice); too little carries weather helm, too much lee helm."""


@dataclass(frozen=True, slots=True)
class NoseDive:
    """Running before the wind with all its push at the centre of effort: the ``drive`` and trim at the wind of the plain tests, what
    is left of the bow there, and the ``wind`` that puts the bow under (None: none up to a storm)."""

    drive: Newtons
    trim: Radians | None
    bow: Metres
    wind: MetresPerSecond | None


@dataclass(frozen=True, eq=False)
class SailAssessment:
    """``leans`` are (wind, lean or None where it goes over) on the worse side; ``capsize`` the steady wind that nothing holds,
    ``gusted`` the steady wind at which a gust throws it over; None where a storm does not. ``aft`` are (metres aft, nose dive) for the
    heaviest of those aboard moved aft."""

    area: SquareMetres
    centre: Point
    lateral_area: SquareMetres
    lateral: Point
    waterline: Metres
    lead: Ratio
    leans: tuple[tuple[MetresPerSecond, Radians | None], ...]
    capsize: MetresPerSecond | None
    gusted: MetresPerSecond | None
    nose: NoseDive
    aft: tuple[tuple[Metres, NoseDive], ...]
    moved: str
    findings: tuple[Finding, ...]


def lateral_area(mesh: Mesh, attitude: Attitude) -> tuple[SquareMetres, Point]:
    """Area that looks to one side under water, and its centre (boat axes): hull, fins and rudder alike, each for itself."""
    wet = below(mesh, attitude.up, -attitude.origin_height)
    if wet is None:
        return 0.0, (0.0, 0.0, 0.0)
    across = np.maximum(wet.area_vectors @ np.array(attitude.rows[1]), 0.0)
    area = float(across.sum())
    if area <= 0:
        return 0.0, (0.0, 0.0, 0.0)
    x, y, z = (across @ wet.centres / area).tolist()
    return area, (x, y, z)


@lru_cache(maxsize=16)  # a boat is run before many winds for it
def assess(craft: Craft, r: StabilityAssessment) -> SailAssessment | None:
    """The sails on this boat; None where it has none, or has no attitude."""
    area, centre, _ = effort(craft.design.sails)
    if not area or r.afloat is None or r.boat is None or r.worse is None or r.starboard is None or r.port is None:
        return None
    a = r.afloat
    under, lateral = lateral_area(craft.hull.mesh, a.attitude)
    line = waterline_length(craft.hull.mesh, a.attitude)
    ahead = lead(centre[0], lateral[0], line) if line > 0 else 0.0
    leans = tuple((MOST_WIND * k / (WINDS - 1), lean_in(craft, r, MOST_WIND * k / (WINDS - 1))) for k in range(WINDS))
    tipping = plain_tests.tipping_of(craft)
    gust = tipping.gust or 1.0
    capsize = _least_wind(lambda v: lean_in(craft, r, v) is None)
    gusted = _least_wind(lambda v: lean_in(craft, r, v, gust) is None)
    wind = tipping.wind_ms or 5.0
    nose = nose_dive(craft, wind, r.boat.kernel)
    aft, moved = _weight_aft(craft, wind, r.boat.kernel)
    result = SailAssessment(area, centre, under, lateral, line, ahead, leans, capsize, gusted, nose, aft, moved, ())
    return dataclasses.replace(result, findings=tuple(_findings(craft, result, wind, gust)))


def lean_in(craft: Craft, r: StabilityAssessment, wind: MetresPerSecond, gust: Ratio = 1.0) -> Radians | None:
    """The lean in a steady wind abeam (then in a gust so many times as fast), on the worse side; None where it goes over."""
    assert r.boat is not None
    assert r.afloat is not None
    curve = r.worse
    assert curve is not None
    other = r.port if curve.side > 0 else r.starboard
    assert other is not None
    points = outward(curve.points, other.points)
    lever = plain_tests.lever_of_wind(craft, r.afloat, r.boat, wind)
    try:
        at = steady(r.boat, points, curve.side, r.afloat.attitude.heel, lever)
        if at is not None and gust > 1 and wind > 0:
            at = thrown(r.boat, points, curve.side, at, lever.times(gust**2))
    except Unsolved:
        return None
    if at is None or not curve.rights or curve.side * at.heel > min(abs(end_of(curve)), KNOCKED_DOWN):
        return None
    return abs(at.heel)


def _least_wind(over: Callable[[MetresPerSecond], bool], most: MetresPerSecond = MOST_WIND) -> MetresPerSecond | None:
    """The least wind for which ``over`` holds, by halving; None where it does not at the most."""
    if not over(most):
        return None
    low, high = 0.0, most
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if over(middle) else (middle, high)
    return high


def bow_of(craft: Craft) -> Point:
    """The foremost point of the rim."""
    rim = craft.hull.rim
    x, y, z = rim[int(np.argmax(rim[:, 0] + 1e-6 * rim[:, 2]))].tolist()
    return x, y, z


def nose_dive(craft: Craft, wind: MetresPerSecond, kernel: Flotation | Laden) -> NoseDive:
    """Before a wind with all sail: its trim, and the wind at which the bow goes under; ``kernel`` is what floats."""
    area, centre, coefficient = effort(craft.design.sails)
    bow, total = bow_of(craft), craft.total

    def run(speed: MetresPerSecond) -> tuple[Radians, Metres] | None:
        push = Push("sail", centre, (wind_force(speed, area, coefficient), 0.0, 0.0))
        try:
            pushed = solve_pushed(craft.hull, total.mass, total.centre, craft.density, (push,), kernel)
        except (BoatSinks, Overpowered, Unsolved):
            return None
        attitude = pushed.afloat.attitude
        return attitude.trim, attitude.height_of(bow)

    here = run(wind)

    def under(speed: MetresPerSecond) -> bool:
        found = run(speed)
        return found is None or found[1] <= 0

    drive = wind_force(wind, area, coefficient)
    limit = _least_wind(under)
    return NoseDive(drive, here[0] if here else None, here[1] if here else 0.0, limit)


def _weight_aft(craft: Craft, wind: MetresPerSecond, kernel: Flotation | Laden) -> tuple[tuple[tuple[Metres, NoseDive], ...], str]:
    """The nose dive with the heaviest of the crew, or of what is loose, moved aft in two steps."""
    items = craft.items
    loose = [k for k, i in enumerate(items) if i.mass_kg > 0 and not i.fixed and not i.structure]
    crew = [k for k in loose if items[k].group == "crew"]
    if not loose:
        return (), ""
    which = max(crew or loose, key=lambda k: items[k].mass_kg)
    x, y, z = items[which].at_m
    room = x - float(craft.hull.mesh.bounds[0][0])
    out = []
    for share in (0.15, 0.30):
        by = min(share * craft.hull.mesh.length, 0.9 * room)
        if by <= 0:
            continue
        moved = Craft(listing.put(craft, which, (x - by, y, z), alone=True))
        out.append((by, nose_dive(moved, wind, kernel)))
    return tuple(out), items[which].name


def _findings(craft: Craft, r: SailAssessment, wind: MetresPerSecond, gust: Ratio) -> list[Finding]:
    values: dict[str, float | str] = {
        "wind": wind,
        "capsize": r.capsize or MOST_WIND,
        "gusted": r.gusted or MOST_WIND,
        "gust": gust,
        "drive": r.nose.drive,
        "trim": r.nose.trim or 0.0,
        "bow": r.nose.bow,
        "dives": r.nose.wind or MOST_WIND,
        "lead": r.lead,
        "by": abs(r.centre[0] - r.lateral[0]),
    }
    reef = (Remedy("Reef, or less sail, or lower", None), Remedy("See what each cure costs", "stability?tab=cures"))
    if r.capsize is None:
        first = Finding("sail.capsize", "holds", "No wind up to a storm capsizes it", "Steady, abeam, all sail set.", MECHANICS, values)
    else:
        word: Severity = "holds" if (r.gusted or MOST_WIND) > 1.5 * wind else "near" if (r.gusted or MOST_WIND) > wind else "fails"
        text = "Steady and abeam with all sail. A gust {gust:ratio} times as fast throws it over already from {gusted:speed}."
        first = Finding(
            "sail.capsize", word, "Capsized or laid flat by {capsize:speed}", text, MECHANICS, values, () if word == "holds" else reef
        )
    if r.nose.wind is None:
        text = "Before {wind:speed} the sail drives with {drive:force}: {trim:trim}, {bow:length} of bow left."
        dive = Finding("sail.nose_dive", "holds", "The bow stays up before the wind", text, MECHANICS, values)
    else:
        sooner = r.capsize is not None and r.nose.wind < r.capsize
        text = "Before {wind:speed} the sail drives with {drive:force}: {trim:trim}, {bow:length} of bow left."
        text += " It dives before it would capsize." if sooner else " It would capsize on a reach before that."
        way = (Remedy("Weight aft, a fuller bow, or a lower sail", None),)
        dive = Finding(
            "sail.nose_dive", "near" if sooner else "note", "The bow goes under before {dives:speed}", text, MECHANICS, values, way
        )
    low, high = USUAL_LEAD
    good = low <= r.lead <= high
    title = "Lead {lead:percent} of the waterline" if r.lead >= 0 else "The sail pulls behind the lateral area"
    text = "The centre of effort is {by:length} ahead of the centre of lateral area; 2 to 15 % is usual."
    if r.lead < 0:
        text = "The centre of effort is {by:length} behind the centre of lateral area: strong weather helm."
    move = () if good else (Remedy("Move the mast or the board", None),)
    balance = Finding("sail.lead", "holds" if good else "near", title, text, COMMON_PRACTICE, values, move)
    text = "Sails are taken as they are set, sheeted in; waves, a turn and people who hike out are not in this."
    return [first, dive, balance, Finding("sail.still", "note", "In still water", text, COMMON_PRACTICE)]
