"""Under a force: throttle, a tow line, a hand on the rail, wind on the side; and floats sized against them."""

import dataclasses
import math
from dataclasses import dataclass

from yarekeel.core.errors import BoatSinks, InvalidInput, NoRest
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.wetted import side_area
from yarekeel.core.hydrostatics.afloat import Afloat, draft_at
from yarekeel.core.hydrostatics.forces import AppliedForce, Overpowered, Pushed, solve_pushed, wind_force
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.sail import effort
from yarekeel.core.quantities import Kilograms, Metres, MetresPerSecond, Newtons, Point, Ratio, SquareMetres
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE, MECHANICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.fitted import forces_of, pulls_of
from yarekeel.stages.design.limits import limit_always

STEPS = 10
BEHIND: Ratio = 0.5
"""Of what stands behind something else, in its lee: what of it wind and water still take hold of (from memory)."""
PERSON: Kilograms = 75.0
PERSON_AREA: SquareMetres = 0.5
"""Of a person of that mass, seated, to wind abeam; of others it goes with the square of their lengths (from memory)."""
SPARS: Ratio = 0.05
"""Of a sail's area: mast, spars and lines that stand in the wind when it is down too (from memory)."""


@dataclass(frozen=True, slots=True)
class Forces:
    """What pushes: share of full throttle; a tow line's pull back at a place; a hand pressing down at the rail, positive on the
    starboard side; wind from port, positive."""

    throttle: Ratio = 0.0
    tow: Newtons = 0.0
    tow_at: Point = (0.0, 0.0, 0.0)
    hand: Newtons = 0.0
    wind: MetresPerSecond = 0.0


@dataclass(frozen=True, slots=True)
class Ends:
    """How much lower each end and the lowest rim lie than without the forces, metres."""

    bow: Metres
    stern: Metres
    rim: Metres


@dataclass(frozen=True, eq=False)
class ForcedAssessment:
    """Without and with the forces; ``over_throttle`` is (share, trim, or None where it goes over) up to full throttle."""

    free: Afloat | None
    pushed: Pushed | None
    pushes: tuple[AppliedForce, ...]
    ends: Ends | None
    over_throttle: tuple[tuple[Ratio, float | None], ...]
    findings: tuple[Finding, ...]


def pushes_of(craft: Craft, forces: Forces) -> tuple[AppliedForce, ...]:
    """The forces one by one, with where they act."""
    pushes = zip(craft.design.drive.motors, forces_of(craft.design, forces.throttle), strict=True)
    out = [AppliedForce(m.name, m.at_m, f, True) for m, f in pushes if any(f)]
    if forces.tow:
        out.append(AppliedForce("tow line", forces.tow_at, (-forces.tow, 0.0, 0.0)))
    if forces.hand:
        out.append(AppliedForce("hand on the rail", rail_at(craft, -math.copysign(1.0, forces.hand)), (0.0, 0.0, -abs(forces.hand))))
    if forces.wind:
        area, centre = exposed(craft, _free(craft).attitude)
        out.append(AppliedForce("wind", centre, (0.0, -wind_force(forces.wind, area), 0.0)))
    return tuple(out)


def rail_at(craft: Craft, side: float) -> Point:
    """The rail amidships on one side (1 port, -1 starboard)."""
    mesh = craft.hull.sheer_of or craft.hull.mesh
    middle = float(mesh.bounds[0][0] + mesh.bounds[1][0]) / 2
    y, z = craft.rail_at(middle)
    return middle, side * y, z


@kept
def windage(mesh: Mesh, attitude: Attitude) -> tuple[SquareMetres, Point]:
    """Area of bodies that looks to one side above the water, and its centre (boat axes); what stands behind counts ``BEHIND``. A hull's
    sketch is near enough: its law is good to tens of percent."""
    return side_area(mesh, attitude, wet=False, behind=BEHIND)


@kept
def lateral_area(mesh: Mesh, attitude: Attitude) -> tuple[SquareMetres, Point]:
    """Area that looks to one side under water, and its centre (boat axes): hull, fins and rudder alike. What stands behind is in the
    lee of what is before it, and counts ``BEHIND``."""
    return side_area(mesh, attitude, wet=True, behind=BEHIND)


@kept
def exposed(craft: Craft, attitude: Attitude) -> tuple[SquareMetres, Point]:
    """All that the wind abeam takes hold of but the sails: bodies, people over the water, and the spars of what sails there are."""
    parts = [windage(craft.hull.sketch.mesh, attitude)]
    parts += [
        (PERSON_AREA * (i.mass_kg / PERSON) ** (2 / 3), i.at_m)
        for i in craft.items
        if i.group == "crew" and i.mass_kg > 0 and attitude.height_of(i.at_m) > 0
    ]
    spread, centre, _ = effort(craft.design.sails)
    if spread:
        parts.append((SPARS * spread, centre))
    area = math.fsum(a for a, _ in parts)
    if area <= 0:
        return 0.0, (0.0, 0.0, 0.0)
    x, y, z = (math.fsum(a * at[k] for a, at in parts) / area for k in range(3))
    return area, (x, y, z)


@kept
def _free(craft: Craft) -> Afloat:
    return craft.rest()


def solve(craft: Craft, forces: Forces) -> Pushed:
    """The boat under the forces. Raises NoRest, Overpowered."""
    total = craft.total
    return solve_pushed(
        hull=craft.hull,
        mass=total.mass,
        gravity=total.centre,
        density=craft.density,
        pushes=pushes_of(craft, forces),
        lateral=lateral_area(craft.hull.sketch.mesh, _free(craft).attitude)[1],
        kernel=craft.kernel,
    )


def assess(craft: Craft, forces: Forces) -> ForcedAssessment:
    """How it lies under the forces, and how its trim goes with the throttle."""
    try:
        free = _free(craft)
    except NoRest:
        sunk = Finding("force.sinks", "fails", "It sinks before anything pushes it", "Lighten it, or make it larger.", source=MECHANICS)
        return ForcedAssessment(free=None, pushed=None, pushes=(), ends=None, over_throttle=(), findings=(sunk,))
    pushes = pushes_of(craft, forces)
    if not pushes:
        note = Finding(
            "force.none", "note", "Nothing pushes it yet", "Open the throttle, or give it a tow, a hand or wind.", source=MECHANICS
        )
        return ForcedAssessment(free=free, pushed=None, pushes=(), ends=None, over_throttle=_over_throttle(craft, forces), findings=(note,))
    try:
        pushed = solve(craft, forces)
    except (NoRest, Overpowered) as error:
        word = "It is pushed under" if isinstance(error, BoatSinks) else "It goes over"
        lost = Finding(
            "force.over",
            "fails",
            word,
            "Nothing in the water balances these forces; at smaller ones it may hold.",
            source=MECHANICS,
            values={},
            remedies=(Remedy("Less force, lower down, or a wider boat", "shape"),),
        )
        return ForcedAssessment(
            free=free, pushed=None, pushes=pushes, ends=None, over_throttle=_over_throttle(craft, forces), findings=(lost,)
        )
    ends = _ends(craft, free, pushed.afloat)
    return ForcedAssessment(
        free=free,
        pushed=pushed,
        pushes=pushes,
        ends=ends,
        over_throttle=_over_throttle(craft, forces),
        findings=_findings(craft, forces, free, pushed, ends),
    )


def _ends(craft: Craft, free: Afloat, pushed: Afloat) -> Ends:
    marks = craft.marks

    def lower(x: Metres) -> Metres:
        before, after = draft_at(free.attitude, x), draft_at(pushed.attitude, x)
        return (after or 0.0) - (before or 0.0)

    return Ends(lower(marks.bow_x_m), lower(marks.stern_x_m), free.freeboard - pushed.freeboard)


@kept
def _over_throttle(craft: Craft, forces: Forces) -> tuple[tuple[Ratio, float | None], ...]:
    if not any(pulls_of(craft.design)):
        return ()
    if forces.throttle != 0.0:
        return _over_throttle(craft, dataclasses.replace(forces, throttle=0.0))
    out: list[tuple[Ratio, float | None]] = []
    for k in range(STEPS + 1):
        try:
            out.append((k / STEPS, solve(craft, dataclasses.replace(forces, throttle=k / STEPS)).afloat.attitude.trim))
        except (NoRest, Overpowered):
            out.append((k / STEPS, None))
    return tuple(out)


def _findings(craft: Craft, forces: Forces, free: Afloat, pushed: Pushed, ends: Ends) -> tuple[Finding, ...]:
    brief, after = craft.design.brief, pushed.afloat
    limit = limit_always(brief, "trim")
    turned = after.attitude.trim - free.attitude.trim
    values: dict[str, float | str] = {
        "trim": after.attitude.trim,
        "turned": abs(turned),
        "allowed": limit.asked,
        "stern": abs(ends.stern),
        "bow": abs(ends.bow),
        "way": "bow up" if turned > 0 else "bow down",
        "stern_way": "lower" if ends.stern > 0 else "higher",
        "bow_way": "lower" if ends.bow > 0 else "higher",
        "heel": after.attitude.heel,
        "free": after.freeboard,
        "under": -after.freeboard,
        "asked": brief.least_freeboard_m,
    }
    word = limit.severity(after.attitude.trim)
    remedies: tuple[Remedy, ...] = ()
    if word != "holds":
        text = "Buoyancy aft, or the thrust line lower" if turned > 0 else "A lower thrust line, or a fuller bow"
        remedies = (Remedy(text, "drive" if turned < 0 else "float"),)
    out = [
        Finding(
            "force.trim",
            word,
            "Under these forces: {trim:trim}",
            "They turn it {turned:angle} {way}: the stern lies {stern:length} {stern_way}, the bow {bow:length} {bow_way}. "
            "You allow ±{allowed:angle}.",
            source=BRIEF,
            values=values,
            remedies=remedies,
        )
    ]
    if abs(after.attitude.heel) > math.radians(0.05):
        lean = limit_always(brief, "heel").severity(after.attitude.heel)
        out.append(Finding("force.heel", lean, "It {heel:heel}", "You allow ±{allowed:angle}.", source=MECHANICS, values=values))
    if after.freeboard < 0:
        out.append(
            Finding("force.rim", "fails", "The deck edge is {under:length} under", "Water comes over it.", source=MECHANICS, values=values)
        )
    else:
        kept = limit_always(brief, "freeboard").severity(after.freeboard)
        out.append(
            Finding(
                "force.freeboard",
                kept,
                "{free:length} of freeboard left",
                "You asked for {asked:length} at rest.",
                source=BRIEF,
                values=values,
            )
        )
    if forces.throttle > 0:
        text = "Lift of the hull at speed and the wave it makes are not in this: it is the push alone, answered at half the draft."
        out.append(Finding("force.at_rest", "note", "As at the first moment of throttle", text, source=COMMON_PRACTICE))
    return tuple(out)


def checked(forces: Forces) -> Forces:
    """The same forces. Raises InvalidInput for what no boat meets."""
    if not 0 <= forces.throttle <= 1:
        raise InvalidInput("throttle", "Throttle lies between 0 and 100 %.")
    rows = (("tow", "force", forces.tow, 1e6), ("hand", "force", forces.hand, 1e5), ("wind", "speed", forces.wind, 60.0))
    for name, kind, value, most in rows:
        if not (math.isfinite(value) and abs(value) <= most):
            raise InvalidInput(name, f"The {name} must lie between 0 and {{most:{kind}}}.", most=most)
    return forces
