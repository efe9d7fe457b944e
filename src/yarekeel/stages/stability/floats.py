"""Hulls side by side and side floats: clear or touching at rest, where they meet the water, how stiff before and after, what the
beams between carry, and what lowering the floats does to all of it."""

import dataclasses
import math
from dataclasses import dataclass

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput, NoRest, Unsolved
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.flotation import centre_below
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Metres, NewtonMetres, Newtons, Radians
from yarekeel.core.sources import COMMON_PRACTICE, MECHANICS
from yarekeel.core.stability.righting import Righted, RightingPoint, crossing, righting_curve
from yarekeel.stages.design.craft import Craft, kernel_about
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.outers import Outer, outers_of
from yarekeel.stages.stability.stability import StabilityAssessment

HEELS: tuple[Radians, ...] = tuple(math.radians(a) for a in range(0, 46, 5))
"""As far as floats meet the water, and a little on."""
AFTER: Radians = math.radians(1.0)
"""Past the contact at which the stiffness with the float in the water is taken."""
STEPS = 11
TOUCHING: Metres = 1e-4
"""A float so near the water touches it."""
INTO: Metres = 5e-4
"""So far into the water floats are lowered to take the wobble out."""


@dataclass(frozen=True, eq=False)
class Side:
    """One outer body. ``clearance`` is the height of its lowest point over the water with the boat held upright, less than 0 where
    it is in it; ``at_rest`` the same as it lies by itself.

    ``contact`` is the lean towards it at which it touches, ``under`` at which it is wholly under; ``flies`` the lean away from it
    at which it leaves the water; each 0 or more, None where that is not met.
    """

    outer: Outer
    clearance: Metres
    at_rest: Metres
    contact: Radians | None
    under: Radians | None
    flies: Radians | None


@dataclass(frozen=True, slots=True)
class Beam:
    """What a body lifts at a lean, and what that bends the beams with at the middle of the boat; its own weight, which takes some of
    it off, is not counted."""

    name: str
    lean: Radians
    lift: Newtons
    bending: NewtonMetres


@dataclass(frozen=True, eq=False)
class FloatsAssessment:
    """``stiff`` is the stiffness upright (d GZ / d heel, metres), ``stiff_after`` with a float in the water; ``wobble`` the lean from
    the contact on one side to that on the other, None where a float is in the water at rest."""

    sides: tuple[Side, ...]
    stiff: Metres
    stiff_after: Metres | None
    wobble: Radians | None
    beam: Beam | None
    findings: tuple[Finding, ...]


@dataclass(frozen=True, slots=True)
class Lowered:
    """The boat with its floats lower by ``by`` (less than 0: higher); ``after`` is the stiffness just past the contact, ``bending``
    what the float lifts at the greatest push does to its beams."""

    by: Metres
    clearance: Metres
    contact: Radians | None
    gm: Metres
    after: Metres | None
    flies: Radians | None
    bending: NewtonMetres


def assess(craft: Craft, r: StabilityAssessment) -> FloatsAssessment | None:
    """How the outer bodies act; None for a boat that has none, or has no attitude."""
    outers = outers_of(craft)
    if not outers or r.boat is None or r.afloat is None:
        return None
    a, boat = r.afloat, r.boat
    sides = tuple(_side(r, o, a.upright.attitude, a.attitude) for o in outers)
    contacts = {s.outer.side: s.contact for s in sides if s.outer.is_float and s.contact is not None and s.clearance > TOUCHING}
    floats = [s for s in sides if s.outer.is_float]
    clear = bool(floats) and all(s.clearance > TOUCHING for s in floats)
    wobble = contacts[1] + contacts[-1] if clear and {1, -1} <= set(contacts) else None
    after = None
    if contacts:
        side, contact = min(contacts.items(), key=lambda c: c[1])
        after = _stiffness(boat, -side * (contact + AFTER))
    beam = _beam(craft, r, sides)
    result = FloatsAssessment(sides=sides, stiff=a.upright.heel_stiffness, stiff_after=after, wobble=wobble, beam=beam, findings=())
    return dataclasses.replace(result, findings=tuple(_findings(craft, result)))


def _stiffness(boat: Righted, heel: Radians) -> Metres | None:
    try:
        return boat.held(heel).heel_stiffness
    except Unsolved:
        return None


def _side(r: StabilityAssessment, outer: Outer, upright: Attitude, rest: Attitude) -> Side:
    low, at_rest = outer.heights(upright)[0], outer.heights(rest)[0]

    def met(code: str, heel_side: int) -> Radians | None:
        # Of two like sides only those to starboard were looked for: there the starboard body goes down.
        if r.symmetric:
            twin = outer.name if outer.side == (-1 if code != "flies" else 1) else _other(outer.name)
            return next((abs(e.heel) for e in r.events if e.code == code and e.name == twin), None)
        return next((abs(e.heel) for e in r.events if e.code == code and e.name == outer.name and e.heel * heel_side > 0), None)

    return Side(
        outer=outer,
        clearance=low,
        at_rest=at_rest,
        contact=met("touches", -outer.side),
        under=met("under", -outer.side),
        flies=met("flies", outer.side),
    )


def _other(name: str) -> str:
    return name.replace("port ", "starboard ", 1) if name.startswith("port ") else name.replace("starboard ", "port ", 1)


def _beam(craft: Craft, r: StabilityAssessment, sides: tuple[Side, ...]) -> Beam | None:
    """The worst that a body does to its beams on the way to where the other one flies, or to where the push is greatest."""
    assert r.boat is not None
    assert r.starboard is not None
    assert r.port is not None
    worst: Beam | None = None
    for side in sides:
        curve = r.starboard if side.outer.side < 0 else r.port
        flies = [s.flies for s in sides if s.outer.side == -side.outer.side and s.flies is not None]
        last = min(flies, default=abs(curve.peak.heel))
        if not last or not curve.rights:
            continue
        near = min(curve.points, key=lambda p: abs(abs(p.heel) - last))
        try:
            at = r.boat.near(near, curve.side * last).attitude
        except Unsolved:
            continue
        lift, bending = _lifts(craft, side.outer, at)
        if lift > 0 and (worst is None or bending > worst.bending):
            worst = Beam(side.outer.name, last, lift, bending)
    return worst


def _lifts(craft: Craft, outer: Outer, at: Attitude) -> tuple[Newtons, NewtonMetres]:
    """What a body lifts at an attitude, and what that bends its beams with at the middle of the boat."""
    centre = craft.hull.kernel.centre
    d = -at.height_of(centre)
    m = kernel_about(outer.mesh, centre).evaluate(at.rows, d)
    if m.volume <= 0:
        return 0.0, 0.0
    lift = m.volume * craft.density * STANDARD_GRAVITY
    return lift, lift * abs(centre_below(m, centre, at.rows, d)[1]) * math.cos(at.heel)


def lowering_to_touch(r: FloatsAssessment) -> Metres | None:
    """How much lower the floats touch on both sides; None where they do not hang clear."""
    return None if r.wobble is None else min(s.clearance for s in r.sides if s.outer.is_float) + INTO


@kept
def lowered(craft: Craft) -> tuple[Lowered, ...]:
    """What lowering every side float by so much does; empty for a boat without. Raises InvalidInput where none can be built."""
    floats = [o for o in outers_of(craft) if o.is_float]
    if not floats:
        return ()
    rest = craft.rest()
    clearance = min(o.heights(rest.upright.attitude)[0] for o in floats)
    depth = max(float(o.mesh.bounds[1][2] - o.mesh.bounds[0][2]) for o in floats)
    start, end = min(clearance, 0.0) - 0.6 * depth, max(clearance, 0.0) + 0.6 * depth
    out = []
    for k in range(STEPS):
        found = at_lower(craft, start + (end - start) * k / (STEPS - 1))
        if found is not None:
            out.append(found)
    return tuple(out)


def with_floats_lower(design: Design, by: Metres) -> Design:
    """The boat with every side float lower by so much."""
    names = {o.number for o in outers_of(Craft(design)) if o.is_float}
    bodies = tuple(
        dataclasses.replace(b, at_m=(b.at_m[0], b.at_m[1], b.at_m[2] - by)) if n in names else b for n, b in enumerate(design.bodies)
    )
    return dataclasses.replace(design, bodies=bodies)


def at_lower(craft: Craft, by: Metres) -> Lowered | None:
    """The boat with its floats lower by so much; None where it cannot be built or does not float."""
    try:
        other = Craft(with_floats_lower(craft.design, by))
        rest = other.rest()
        boat = Righted(other.hull, rest.listed_volume, rest.listed_gravity, other.kernel)
        outers = outers_of(other)
        curve = righting_curve(hull=boat.hull, displaced=boat.displaced, gravity=boat.gravity, heels=HEELS, kernel=boat.kernel)
    except (InvalidInput, NoRest):
        return None
    floats = [o for o in outers if o.is_float]
    clearance = min(o.heights(rest.upright.attitude)[0] for o in floats)

    def first(outer: Outer, falling: bool) -> Radians | None:
        def low(p: RightingPoint) -> Metres:
            return outer.heights(p.attitude)[0]

        values = [low(p) for p in curve.points]
        for a, b, p, q in zip(values, values[1:], curve.points, curve.points[1:], strict=False):
            if (a > 0 >= b) if falling else (a <= 0 < b):
                return crossing(boat, p, q, low, tolerance=math.radians(0.02)).heel
        return None

    down = next((o for o in floats if o.side < 0), None)
    up = next((o for o in outers if o.side > 0 and o.is_float), None)
    contact = first(down, True) if down else None
    flies = first(up, False) if up else None
    gm = rest.judged_gm
    touched = 0.0 if clearance <= 0 else contact
    after = None if touched is None else _stiffness(boat, touched + AFTER)
    bending = _lifts(other, down, curve.peak.attitude)[1] if down and curve.rights else 0.0
    return Lowered(by=by, clearance=clearance, contact=touched, gm=gm, after=after, flies=flies, bending=bending)


def _findings(craft: Craft, r: FloatsAssessment) -> list[Finding]:
    out: list[Finding] = []
    floats = [s for s in r.sides if s.outer.is_float]
    if floats:
        out.append(_clear(floats, r))
    if r.stiff_after is not None:
        values: dict[str, float | str] = {"before": r.stiff, "after": r.stiff_after}
        word: Severity = "note" if r.stiff > 0 else "near"
        text = "The step in stiffness is what you feel as a wobble." if r.stiff > 0 else "Between the floats nothing holds it upright."
        out.append(
            Finding("floats.stiffness", word, "GM {before:length} free, {after:length} on a float", text, source=MECHANICS, values=values)
        )
    flies = min((s for s in r.sides if s.flies is not None), key=lambda s: s.flies or 0.0, default=None)
    if flies is not None and flies.flies is not None:
        text = "From there the push back weakens: all the weight is on the other side already."
        values = {"name": flies.outer.name, "flies": flies.flies}
        out.append(Finding("floats.flies", "note", "The {name} leaves the water at {flies:angle0}", text, source=MECHANICS, values=values))
    under = min((s for s in floats if s.under is not None), key=lambda s: s.under or 0.0, default=None)
    if under is not None and under.under is not None:
        text = "From there it pushes back no harder; a larger float, further out or higher, keeps longer."
        values = {"name": under.outer.name, "under": under.under}
        out.append(Finding("floats.under", "note", "The {name} is wholly under at {under:angle0}", text, source=MECHANICS, values=values))
    if r.beam is not None:
        values = {"name": r.beam.name, "lift": r.beam.lift, "lean": r.beam.lean, "bending": r.beam.bending}
        text = "At {lean:angle0} the {name} lifts {lift:force}. Still water only: waves and a landing bring several times that."
        out.append(Finding("floats.beam", "note", "The beams are bent by {bending:moment}", text, source=COMMON_PRACTICE, values=values))
    return out


def _clear(floats: list[Side], r: FloatsAssessment) -> Finding:
    least = min(floats, key=lambda s: s.clearance)
    values: dict[str, float | str] = {"clear": least.clearance, "in": -least.clearance, "name": least.outer.name, "wobble": r.wobble or 0.0}
    values["each"] = (r.wobble or 0.0) / 2
    if r.wobble is not None:
        way = (Remedy("Lower the floats: the curve shows what each millimetre does", None),)
        word: Severity = "near" if r.stiff > 0 else "fails"
        text = "{clear:length} between float and water. It goes {wobble:angle} from one contact to the other."
        return Finding(
            "floats.clear", word, "Both floats hang clear: it wobbles ±{each:angle}", text, source=MECHANICS, values=values, remedies=way
        )
    if least.clearance > TOUCHING:
        text = "{clear:length} between the {name} and the water."
        return Finding("floats.one_clear", "note", "A float hangs clear", text, source=MECHANICS, values=values)
    text = "The {name} is {in:length} in the water at rest: no free play, and a little more drag."
    return Finding("floats.touch", "holds", "The floats are in the water at rest", text, source=MECHANICS, values=values)
