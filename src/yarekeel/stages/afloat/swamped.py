"""The swamped open boat: what its materials, foam and sealed spaces still carry, level or not, upright or not."""

import math
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.errors import NoRest
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.mesh import Mesh, block
from yarekeel.core.geometry.spaces import inset
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat
from yarekeel.core.hydrostatics.curves import rail_at
from yarekeel.core.hydrostatics.inside import Laden, Part
from yarekeel.core.kept import kept
from yarekeel.core.quantities import CubicMetres, Kilograms, KilogramsPerCubicMetre, Metres, Point
from yarekeel.core.rules.cfr_183 import submerged_share
from yarekeel.core.sources import COMMON_PRACTICE, MECHANICS
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.design.craft import Craft, kernel_about

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


def density_of(craft: Craft, item: WeightItem) -> KilogramsPerCubicMetre | None:
    """What it is made of, by its recipe or by its own word; None where neither says."""
    code = item.material or str(getattr(item.recipe, "material", ""))
    found = craft.find_material(code)
    return found.density if found else None


@kept
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
            afloat = float_boat(hull=craft.hull, mass=mass, gravity=(x, y, z), density=craft.density, start=None, kernel=kernel)
        except NoRest:
            afloat = None
    findings = _findings(craft, afloat, capacity - mass, mass, people, unknown, hold)
    return SwampedAssessment(
        afloat=afloat, kernel=kernel, carries=capacity - mass, carriers=carriers, unknown=unknown, people=people, findings=findings
    )


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


@kept
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
