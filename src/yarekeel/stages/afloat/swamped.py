"""The swamped open boat: what its materials, foam and sealed spaces still carry, level or not, upright or not."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.errors import NoRest
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.mesh import Mesh, block
from yarekeel.core.geometry.spaces import Corner, encloses, inset
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat
from yarekeel.core.hydrostatics.inside import Laden, Part
from yarekeel.core.kept import kept
from yarekeel.core.quantities import CubicMetres, Kilograms, Metres, Point
from yarekeel.core.sources import COMMON_PRACTICE, MECHANICS
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.design.craft import Craft, kernel_about, space_of
from yarekeel.stages.design.design import Compartment

Where = Literal["none", "about", "side", "stern"]
HOLD: Kilograms = 7.0
"""What a person in the water, head out and holding on, pulls down with (from memory; common practice says 5 to 10 kg)."""
LEVEL_DEG = 10.0
"""Heel and trim within which a swamped boat counts as level and upright (33 CFR 183.225 has 10 degrees of heel, from memory)."""
WALL_SHARE = 0.02
"""Of the boat's depth: thickness that a wall's form is made with; its volume is that of the listed masses."""


@dataclass(frozen=True, slots=True)
class Carrier:
    """Something aboard under water: what it weighs there (negative: it lifts), and whether its material is known."""

    name: str
    mass: Kilograms
    under_water: Kilograms
    known: bool


@dataclass(frozen=True, eq=False)
class SwampedAssessment:
    """``carries`` is the mass it could still take before it sinks; ``unknown`` what counts as solid for want of a material."""

    afloat: Afloat | None
    kernel: Laden
    carries: Kilograms
    carriers: tuple[Carrier, ...]
    unknown: Kilograms
    people: int
    findings: tuple[Finding, ...]


def volume_of(craft: Craft, number: int) -> CubicMetres | None:
    """What the materials of a line of the list displace under water: by its own word, else by its recipe, each material by its
    own density; None where neither says."""
    item, made = craft.items[number], craft.aboard.made[number]
    named = craft.find_material(item.material)
    if named is not None:
        return item.mass_kg / named.density
    return item.mass_kg * made.solid / made.mass if made is not None and made.mass > 0 and made.solid > 0 else None


@kept
def assess(craft: Craft, people: int = 0, where: Where = "about", hold: Kilograms = HOLD) -> SwampedAssessment:
    """Swamp every open hull. The crew is out of the boat; ``people`` of them hold on, each pulling down with ``hold``."""
    kernel, carriers, unknown = displacers(craft)
    items = [i for i in craft.items if i.mass_kg > 0 and i.group != "crew"]
    hands = pulls(craft, people, where)
    afloat, mass = _floating(craft, kernel, items, [(hold, at) for at in hands])
    capacity = kernel.total_volume * craft.density
    findings = _findings(craft, afloat, capacity - mass, mass, people, unknown, hold)
    return SwampedAssessment(
        afloat=afloat, kernel=kernel, carries=capacity - mass, carriers=carriers, unknown=unknown, people=people, findings=findings
    )


def loaded(craft: Craft, load: Sequence[tuple[Kilograms, Point]]) -> Afloat | None:
    """Where the swamped boat floats, without its crew and goods, with weights put in it (what they pull down with under water,
    and where); None where it goes to the bottom."""
    kernel, _, _ = displacers(craft)
    items = [i for i in craft.items if i.mass_kg > 0 and i.group not in ("crew", "payload")]
    return _floating(craft, kernel, items, load)[0]


def _floating(
    craft: Craft, kernel: Laden, items: Sequence[WeightItem], load: Sequence[tuple[Kilograms, Point]]
) -> tuple[Afloat | None, Kilograms]:
    """Where it comes to rest, if it does, and all that weighs on it."""
    masses = [*(i.mass_kg for i in items), *(m for m, _ in load)]
    places = [*(i.at_m for i in items), *(at for _, at in load)]
    mass = math.fsum(masses)
    if mass <= 0:
        return None, 0.0
    x, y, z = (math.fsum(m * p[k] for m, p in zip(masses, places, strict=True)) / mass for k in range(3))
    try:
        return float_boat(hull=craft.hull, mass=mass, gravity=(x, y, z), density=craft.density, start=None, kernel=kernel), mass
    except NoRest:
        return None, mass


def displacers(craft: Craft) -> tuple[Laden, tuple[Carrier, ...], Kilograms]:
    """All that still displaces, each litre once: closed bodies and sealed spaces whole, with all that lies in them; of the
    walls of open hulls what stands outside those; and outside them everything whose material is known."""
    bodies, rho = craft.design.bodies, craft.density
    centre = craft.hull.kernel.centre
    closed = {b.name for b in bodies if not (b.role == "hull" and b.deck == "open")}
    whole = [craft.piece(n) for n, b in enumerate(bodies) if b.name in closed and b.role != "fairing"]
    sealed = [s for s in craft.spaces if s.mesh is not None and s.compartment.sealed and s.compartment.body not in closed]
    dry = [*whole, *(s.mesh for s in sealed if s.mesh is not None)]
    parts = [Part(kernel_about(mesh, centre)) for mesh in dry]
    foam = _foam_to_weigh(craft)
    wall: CubicMetres = 0.0
    carriers: list[Carrier] = []
    unknown = 0.0
    for number, item in enumerate(craft.items):
        if item.mass_kg <= 0 or item.group == "crew":
            continue
        volume = volume_of(craft, number)
        places = _places(item.at_m, craft.aboard.beside[number])
        within = getattr(item.recipe, "body", None) in closed or (
            not (item.structure and item.recipe is not None)
            and any(encloses(mesh, places[0]) for mesh in (whole if item.structure else dry))
        )
        if volume is None and not within:
            unknown += item.mass_kg
        free = 0.0 if volume is None or within else volume
        if free and item.group == "foam" and item.recipe is None:
            counted = min(free, foam)
            free, foam = free - counted, foam - counted
        carriers.append(Carrier(item.name, item.mass_kg, item.mass_kg - free * rho, volume is not None or within))
        if free and item.structure:
            wall += free
        elif free:
            parts += [Part(_lump(free / len(places), at, centre)) for at in places]
    open_hulls = [n for n, b in enumerate(bodies) if b.name not in closed]
    if wall > 0 and open_hulls:
        parts += _walls(craft, open_hulls, [s.compartment for s in sealed], wall)
    return Laden(craft.hull.kernel, parts), tuple(sorted(carriers, key=lambda c: c.under_water)), unknown


def _foam_to_weigh(craft: Craft) -> CubicMetres:
    """Volume of the foam bodies that no recipe gives the mass of: typed lines of foam are the mass of it, not more foam."""
    names = {b.name for b in craft.design.bodies if b.role == "foam"}
    bodies = math.fsum(craft.piece(n).volume for n, b in enumerate(craft.design.bodies) if b.role == "foam")
    made = zip(craft.items, craft.aboard.made, strict=True)
    return max(
        0.0, bodies - math.fsum(m.solid for i, m in made if m is not None and i.mass_kg > 0 and getattr(i.recipe, "body", None) in names)
    )


def _places(at: Point, beside: Metres) -> list[Point]:
    """Where a line of the list stands: once, or one on each side."""
    x, y, z = at
    return [(x, beside, z), (x, -beside, z)] if beside else [(x, y, z)]


@kept
def _inner(mesh: Mesh, thickness: Metres, low: Corner, high: Corner) -> Mesh:
    return inset(mesh, thickness, open_top=True, between=(low, high))


def _walls(craft: Craft, hulls: list[int], sealed: list[Compartment], volume: CubicMetres) -> list[Part]:
    """The walls of open hulls as outer less inner surface, counted so that all of them hold ``volume``; what of them bounds a
    sealed space is left out, since that displaces whole."""
    centre = craft.hull.kernel.centre
    nowhere: Corner = (None, None, None)
    parts: list[Part] = []
    form: CubicMetres = 0.0
    for n in hulls:
        outer = craft.piece(n)
        thickness = WALL_SHARE * float(outer.bounds[1][2] - outer.bounds[0][2])
        inner = _inner(outer, thickness, nowhere, nowhere)
        form += outer.volume - inner.volume
        parts += [Part(kernel_about(outer, centre), 1.0), Part(kernel_about(inner, centre), -1.0)]
        for one in (c for c in sealed if c.body == craft.design.bodies[n].name):
            space = space_of(craft.design.bodies[n], n, one)
            if space is not None:
                hollow = _inner(space, thickness, one.low, one.high)
                parts += [Part(kernel_about(space, centre), -1.0), Part(kernel_about(hollow, centre), 1.0)]
    return [Part(p.kernel, p.share * volume / form) for p in parts] if form > 0 else []


@kept
def _lump(volume: CubicMetres, at: Point, centre: Point) -> Flotation:
    side = volume ** (1 / 3)
    x, y, z = at
    return kernel_about(block(side, side, side).moved((x - side / 2, y, z - side / 2)), centre)


def pulls(craft: Craft, people: int, where: Where) -> list[Point]:
    """Where people in the water hold on: at the rail, all about, on the starboard side, or over the stern."""
    if where == "none" or people <= 0:
        return []
    mesh = craft.hull.sheer_of or craft.hull.mesh
    low, high = (float(v[0]) for v in mesh.bounds)

    def at(share: float, side: float) -> Point:
        x = low + share * (high - low)
        y, z = craft.rail_at(x)
        return x, side * y, z

    if where == "stern":
        return [at(0.01, 0.0)] * people
    if where == "side":
        return [at(0.5, -1.0)] * people
    return [at(0.3 + 0.4 * (k // 2) / max((people - 1) // 2, 1), 1.0 if k % 2 else -1.0) for k in range(people)]


def _findings(
    craft: Craft, afloat: Afloat | None, spare: Kilograms, mass: Kilograms, people: int, unknown: Kilograms, hold: Kilograms
) -> tuple[Finding, ...]:
    values: dict[str, float | str] = {
        "spare": spare,
        "short": -spare,
        "mass": mass,
        "people": float(people),
        "unknown": unknown,
        "hold": hold,
    }
    out = []
    if afloat is None:
        out.append(
            Finding(
                "swamped.sinks",
                "fails",
                "Swamped, it goes to the bottom",
                "What it is made of lifts {short:mass} too little.",
                source=MECHANICS,
                values=values,
                remedies=(Remedy("Add foam, high and at the sides", "float"),),
            )
        )
    else:
        a = afloat.attitude
        values |= {"heel": a.heel, "trim": a.trim, "free": afloat.freeboard, "under": -afloat.freeboard}
        if afloat.is_capsized:
            out.append(
                Finding(
                    "swamped.over",
                    "fails",
                    "Swamped, it rolls over",
                    "It {heel:heel} and stays there: what lifts sits too low. {spare:mass} more would sink it.",
                    source=MECHANICS,
                    values=values,
                    remedies=(Remedy("Move the foam up, to the sides", "float"),),
                )
            )
        else:
            level = max(abs(math.degrees(a.heel)), abs(math.degrees(a.trim))) <= LEVEL_DEG
            severity: Severity = "holds" if level and afloat.gm_transverse > 0 else "near"
            rim = "the rim is {free:length} out at its lowest" if afloat.freeboard > 0 else "the rim is {under:length} under at its lowest"
            out.append(
                Finding(
                    "swamped.afloat",
                    severity,
                    "Swamped, it floats: {trim:trim}, {heel:heel}",
                    f"{{spare:mass}} more would sink it; {rim}.",
                    source=MECHANICS,
                    values=values,
                )
            )
    if unknown > 0:
        out.append(
            Finding(
                "swamped.unknown",
                "note",
                "{unknown:mass} are of no known material",
                "They count as if they had no volume of their own. Name their material and they lift what they displace.",
                source=MECHANICS,
                values=values,
                remedies=(Remedy("Name materials", "weights"),),
            )
        )
    if people:
        out.append(
            Finding(
                "swamped.people",
                "note",
                "{people:count} in the water hold on",
                "Each pulls down with about {hold:mass}, head out; nobody is aboard.",
                source=COMMON_PRACTICE,
                values=values,
            )
        )
    return tuple(out)
