"""The swamped open boat: what its materials, foam and sealed spaces still carry, level or not, upright or not."""

import dataclasses
import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from yarekeel.core.errors import InvalidInput, NoAnswer, NoRest
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.families.box import Box
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.mesh import Mesh, block
from yarekeel.core.geometry.spaces import inset
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat
from yarekeel.core.hydrostatics.curves import rail_at, side_top, waterline_at
from yarekeel.core.hydrostatics.inside import Laden, Part
from yarekeel.core.quantities import CubicMetres, Kilograms, KilogramsPerCubicMetre, Metres, Point, Radians
from yarekeel.core.rules.cfr_183 import submerged_share
from yarekeel.core.sources import COMMON_PRACTICE, MECHANICS
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.core.weights.recipes.foam import Foam
from yarekeel.stages.design.craft import Craft, kernel_about
from yarekeel.stages.design.design import Body, Design

Where = Literal["none", "about", "side", "stern"]
HOLD: Kilograms = 7.0
"""What a person in the water, head out and holding on, pulls down with (from memory; common practice says 5 to 10 kg)."""
LEVEL_DEG = 10.0
"""Heel and trim within which a swamped boat counts as level and upright (33 CFR 183.225 has 10 degrees of heel, from memory)."""
FOAM_HALVINGS = 24
FOAM_PLACES = 8
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


def density_of(craft: Craft, item: WeightItem) -> KilogramsPerCubicMetre | None:
    """What it is made of, by its recipe or by its own word; None where neither says."""
    code = item.material or str(getattr(item.recipe, "material", ""))
    own = next((m for m in craft.design.materials if m.code == code), None)
    found = own or MATERIALS.get(code)
    return found.density if found else None


@lru_cache(maxsize=64)
def assess(craft: Craft, people: int = 0, where: Where = "about", hold: Kilograms = HOLD) -> SwampedAssessment:
    """Swamp every open hull. The crew is out of the boat; ``people`` of them hold on, each pulling down with ``hold``."""
    kernel, carriers, unknown = displacers(craft)
    items = [i for i in craft.items if i.mass_kg > 0 and i.group != "crew"]
    hands = pulls(craft, people, where)
    masses = [*(i.mass_kg for i in items), *(hold for _ in hands)]
    places = [*(i.at_m for i in items), *hands]
    mass = math.fsum(masses)
    capacity = kernel.total_volume * craft.density
    afloat = None
    if mass > 0:
        x, y, z = (math.fsum(m * p[k] for m, p in zip(masses, places, strict=True)) / mass for k in range(3))
        try:
            afloat = float_boat(craft.hull, mass, (x, y, z), craft.density, None, kernel)
        except NoRest:
            afloat = None
    findings = _findings(craft, afloat, capacity - mass, mass, people, unknown, hold)
    return SwampedAssessment(afloat, kernel, capacity - mass, carriers, unknown, people, findings)


def displacers(craft: Craft) -> tuple[Laden, tuple[Carrier, ...], Kilograms]:
    """All that still displaces: closed bodies and sealed spaces whole, the walls of open hulls, everything whose material is
    known. What is part of a closed body displaces no more than that."""
    bodies, rho = craft.design.bodies, craft.density
    centre = craft.hull.kernel.centre
    closed = {b.name for b in bodies if not (b.role == "hull" and b.deck == "open")}
    parts = [Part(kernel_about(craft.piece(n), centre)) for n, b in enumerate(bodies) if b.name in closed and b.role != "fairing"]
    parts += [Part(s.kernel) for s in craft.spaces if s.kernel and s.compartment.sealed and s.compartment.body not in closed]
    wall: CubicMetres = 0.0
    carriers: list[Carrier] = []
    unknown = 0.0
    for item in craft.items:
        if item.mass_kg <= 0 or item.group == "crew":
            continue
        density = density_of(craft, item)
        within = getattr(item.recipe, "body", None) in closed
        if density is None and not within:
            unknown += item.mass_kg
        volume = item.mass_kg / density if density and not within else 0.0
        under = item.mass_kg * (submerged_share(density, rho) if volume and density else 1.0)
        carriers.append(Carrier(item.name, item.mass_kg, under, density is not None or within))
        if volume and item.group == "structure":
            wall += volume
        elif volume:
            parts.append(Part(_lump(volume, item.at_m, centre)))
    open_hulls = [n for n, b in enumerate(bodies) if b.name not in closed]
    if wall > 0 and open_hulls:
        parts += _walls([craft.piece(n) for n in open_hulls], wall, centre)
    return Laden(craft.hull.kernel, parts), tuple(sorted(carriers, key=lambda c: c.under_water)), unknown


@lru_cache(maxsize=128)
def _inner(mesh: Mesh, thickness: Metres) -> Mesh:
    return inset(mesh, thickness, open_top=True)


def _walls(meshes: list[Mesh], volume: CubicMetres, centre: Point) -> list[Part]:
    """The walls of open hulls as outer less inner surface, counted so that together they hold ``volume``."""
    pairs = [(m, _inner(m, WALL_SHARE * float(m.bounds[1][2] - m.bounds[0][2]))) for m in meshes]
    form = math.fsum(outer.volume - inner.volume for outer, inner in pairs)
    if form <= 0:
        return []
    share = volume / form
    return [p for outer, inner in pairs for p in (Part(kernel_about(outer, centre), share), Part(kernel_about(inner, centre), -share))]


@lru_cache(maxsize=512)
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
        y, z = rail_at(mesh, x)
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
                MECHANICS,
                values,
                (Remedy("Add foam, high and at the sides", "float"),),
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
                    MECHANICS,
                    values,
                    (Remedy("Move the foam up, to the sides", "float"),),
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
                    MECHANICS,
                    values,
                )
            )
    if unknown > 0:
        out.append(
            Finding(
                "swamped.unknown",
                "note",
                "{unknown:mass} are of no known material",
                "They count as if they had no volume of their own. Name their material and they lift what they displace.",
                MECHANICS,
                values,
                (Remedy("Name materials", "weights"),),
            )
        )
    if people:
        out.append(
            Finding(
                "swamped.people",
                "note",
                "{people:count} in the water hold on",
                "Each pulls down with about {hold:mass}, head out; nobody is aboard.",
                COMMON_PRACTICE,
                values,
            )
        )
    return tuple(out)


@dataclass(frozen=True, slots=True)
class FoamAnswer:
    """Two blocks of foam, one on each side: their size, their middle on the port side, what they weigh and lift, and the trim
    of the swamped boat with them (0 where a place was found that levels it)."""

    volume: CubicMetres
    size: Point
    at: Point
    mass: Kilograms
    lifts: Kilograms
    trim: Radians


def foam_for(craft: Craft, spare: Kilograms, material: str = "xps", long: Metres | None = None) -> FoamAnswer:
    """Foam that lets the swamped boat carry ``spare`` more before it sinks, in a block along each side under the rim.

    Foam lifts (rho - rho_foam) per volume, its own weight taken off. Its place along the boat is where the swamped boat
    floats level, else the end that comes nearest. Raises NoAnswer where it has enough, or where the blocks would not fit inside.
    """
    stuff = next((m for m in craft.design.materials if m.code == material), None) or MATERIALS.get(material)
    if stuff is None or stuff.density >= craft.density:
        raise InvalidInput("foam", "Choose a foam that is lighter than water.")
    now = assess(craft)
    rho = craft.density
    volume = (spare - now.carries) / (rho - stuff.density)
    if volume <= 0:
        raise NoAnswer("It carries that already: no foam is needed.")
    mesh = craft.hull.mesh
    low, high = mesh.bounds
    length = long or 0.4 * float(high[0] - low[0])
    side = math.sqrt(volume / 2 / length)
    ends = float(low[0]) + length / 2, float(high[0]) - length / 2

    def answer(x: Metres) -> FoamAnswer | None:
        spots = [x + share * length for share in (-0.499, -0.25, 0.0, 0.25, 0.499)]
        top = min(side_top(mesh, s) for s in spots)
        widths = [waterline_at(mesh, s, top - side) for s in spots]
        beam = min((w[0] if w else 0.0 for w in widths), default=0.0)
        if beam < side or top - side < float(low[2]):
            return None
        at = (x, beam - side / 2, top - side / 2)
        return FoamAnswer(volume, (length, side, side), at, volume * stuff.density, volume * (rho - stuff.density), 0.0)

    fits = [a for a in (answer(ends[0] + (ends[1] - ends[0]) * k / FOAM_PLACES) for k in range(FOAM_PLACES + 1)) if a]
    if not fits:
        raise NoAnswer(f"Blocks of {volume * 1000:.3g} l do not fit under the rim: this boat needs a sealed space as well.")

    def tried(a: FoamAnswer) -> FoamAnswer:
        return dataclasses.replace(a, trim=_trim_with(craft, now.kernel, a))

    low_end, high_end = tried(fits[0]), tried(fits[-1])
    if low_end.trim * high_end.trim >= 0:
        return min(low_end, high_end, key=lambda a: abs(a.trim))
    for _ in range(FOAM_HALVINGS):
        middle = answer((low_end.at[0] + high_end.at[0]) / 2)
        if middle is None:
            break
        middle = tried(middle)
        low_end, high_end = (middle, high_end) if middle.trim * low_end.trim > 0 else (low_end, middle)
    return min(low_end, high_end, key=lambda a: abs(a.trim))


def _trim_with(craft: Craft, kernel: Laden, foam: FoamAnswer) -> Radians:
    """Trim of the swamped boat with two blocks of foam in it, nobody aboard or holding on."""
    items = [i for i in craft.items if i.mass_kg > 0 and i.group != "crew"]
    masses, places = [*(i.mass_kg for i in items), foam.mass], [*(i.at_m for i in items), (foam.at[0], 0.0, foam.at[2])]
    mass = math.fsum(masses)
    x, y, z = (math.fsum(m * p[k] for m, p in zip(masses, places, strict=True)) / mass for k in range(3))
    long, wide, deep = foam.size
    one = block(long, wide, deep)
    blocks = [one.moved((foam.at[0] - long / 2, side * foam.at[1], foam.at[2] - deep / 2)) for side in (1, -1)]
    parts = [*kernel.parts, *(Part(Flotation(b, kernel.centre)) for b in blocks)]
    try:
        return float_boat(craft.hull, mass, (x, y, z), craft.density, None, Laden(craft.hull.kernel, parts)).attitude.trim
    except NoRest:
        raise NoAnswer("Even with the foam it does not settle; lighten it first.") from None


def with_foam(craft: Craft, answer: FoamAnswer, material: str = "xps") -> Design:
    """The boat with the two blocks in it, and what they weigh on the list."""

    names = {b.name for b in craft.design.bodies}
    name = next(n for n in ("side foam", *(f"side foam {k}" for k in range(2, 1000))) if n not in names)
    long, wide, deep = answer.size
    x, y, z = answer.at
    body = Body(name, Box(long, wide, deep), (x - long / 2, y, z - deep / 2), mirrored=True, role="foam")
    line = WeightItem(name.capitalize(), answer.mass, (x, 0.0, z), "data", group="foam", recipe=Foam(name, 1.0, material))
    return dataclasses.replace(craft.design, bodies=(*craft.design.bodies, body), weights=(*craft.design.weights, line))
