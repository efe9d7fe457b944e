"""What of a boat the laws of running need, from its own mesh, weights and drive."""

import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import NoRest
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.families.foil_wing import FoilWing
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.placing import mirrored
from yarekeel.core.geometry.wetted import bodies_of, under_water, waterline_length, wetted_surface
from yarekeel.core.hydrostatics.afloat import Afloat
from yarekeel.core.kept import kept
from yarekeel.core.once import cached_property
from yarekeel.core.propulsion.drive import direction
from yarekeel.core.quantities import Floats, MetresPerSecond, Point, Radians, Ratio, SquareMetres
from yarekeel.core.resistance.michell import BLUNT, source_of, wave_resistance
from yarekeel.core.running.forces import Blade, PlaningBottom, Underway
from yarekeel.core.running.laws.waves import Bodies, waves_of
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.fitted import pulls_of
from yarekeel.stages.running.bottom import bottom_of, pads_of
from yarekeel.stages.running.foils import foils_of

FROUDES = np.concatenate((np.linspace(0.06, 1.2, 58), np.geomspace(1.25, 4.0, 12)))
"""On the waterline, at which waves are worked out; between them straight lines."""
STEEPEST: Radians = math.radians(20.0)
"""A boat that rests at more than that is not run."""
SQUARE: Ratio = 0.98
"""Of a piece of the stern that looks straight astern as it is seen from above, from which it is of a transom."""
FRONT_SHARE: Ratio = 0.75
"""Of breadth times height over the water: bows are pointed and corners missing (common practice)."""
PRISMATIC: Ratio = 0.6
"""Of hobby hulls (common practice: 0.55 to 0.7)."""
LEVELS = 12
"""At which a hull that foils lift is measured as it rises."""
PERSON_FRONT: SquareMetres = 0.4
"""Of a person sitting, seen from ahead (common practice)."""


@dataclass(frozen=True, slots=True, eq=False)
class _Table:
    """A figure over another, straight between (n,) values that rise."""

    over: Floats
    values: Floats

    def __call__(self, at: float) -> float:
        return float(np.interp(at, self.over, self.values))


class _WhenAsked:
    """A table that is made when the first figure of it is asked for."""

    def __init__(self, make: Callable[[], _Table]) -> None:
        self._make = make

    def __call__(self, at: float) -> float:
        return self._table(at)

    @cached_property
    def _table(self) -> _Table:
        return self._make()


@kept
def underway_of(craft: Craft, at: tuple[MetresPerSecond, ...] = ()) -> Underway | None:
    """The boat as it is, in still air; None where it does not float, or lies too steeply. Its waves are worked out for any speed it may
    run at, or for rising speeds above 0 that it is asked ``at``."""
    boat = _at_rest(craft)
    if boat is None or boat.is_capsized or max(abs(boat.attitude.trim), abs(boat.attitude.heel)) > STEEPEST:
        return None
    bare, attitude = bare_hull(craft), boat.attitude
    waterline, wetted = waterline_length(bare, attitude), wetted_surface(bare, attitude)
    if waterline <= 0 or wetted <= 0:
        return None
    under = under_water(bare, attitude)
    bodies = (bodies_of(under) if under is not None else ()) or ((boat.volume, waterline),)
    speeds = np.array(at) if at else FROUDES * (STANDARD_GRAVITY * waterline) ** 0.5
    at, along = thrust_line(craft)
    foils = foils_of(craft)
    pads = () if any(attitude.height_of(f.at) < 0 for f in foils) else _pads(bare, attitude)
    if any(p.keel[1] > 0 for p in pads):
        attitude = dataclasses.replace(attitude, heel=0.0)  # a pair of pads holds it level
    over = over_water(craft, boat)
    return Underway(
        kernel=craft.hull.kernel,
        mass=boat.mass,
        gravity=boat.gravity,
        density=boat.density,
        viscosity=craft.design.water.viscosity,
        rest=attitude,
        waterline=waterline,
        wetted=wetted,
        blades=_blades(craft),
        volume=boat.volume,
        wave=_WhenAsked(lambda: _waves(boat, under, speeds, bodies, wetted)),
        bodies=bodies,
        pads=pads,
        air_area=frontal_area(craft, boat),
        air_at=(boat.gravity[0], 0.0, over),
        wet_at=boat.buoyancy,
        thrust_at=at,
        thrust_along=along,
        midship=boat.volume / (PRISMATIC * waterline),
        foils=foils,
        skin=_WhenAsked(lambda: _skin(craft, bare, boat)) if foils else None,
        drag_factor=craft.design.drag_factor,
        **(_transom(under, attitude) if under is not None else {}),
    )


def _at_rest(craft: Craft) -> Afloat | None:
    """How it floats; None where it does not."""
    try:
        return craft.settled
    except NoRest:
        return None


def _waves(boat: Afloat, under: Mesh | None, speeds: Floats, bodies: Bodies, wetted: SquareMetres) -> _Table:
    """What its waves take over the speed."""
    source = source_of(under, boat.attitude) if under is not None else None
    waves = wave_resistance(source, speeds, boat.density) if source is not None else np.zeros(speeds.size)
    waves = waves_of(waves, bodies, wetted, speeds, boat.density)
    return _Table(np.concatenate(([0.0], speeds)), np.concatenate(([0.0], waves)))


def _transom(part: Mesh, rest: Attitude) -> dict[str, Any]:
    """What of the hull under water faces astern across the flow: its area, its mean draft (twice that of its middle) and its middle."""
    turned = part.area_vectors @ np.array(rest.rows).T
    areas = turned[:, 0]
    astern = areas < -SQUARE * np.hypot(areas, turned[:, 1])  # whatever its rake; a round stern is none
    flat = astern & (areas < -BLUNT * np.linalg.norm(turned, axis=1))
    total = float(-areas[flat].sum())
    if total <= 0:
        return {}
    at = (part.centres[flat] * -areas[flat, None]).sum(axis=0) / total
    middle: Point = (float(at[0]), float(at[1]), float(at[2]))
    draft = -2 * rest.height_of(middle)
    return {"transom": total, "transom_draft": draft, "transom_at": middle} if draft > 0 else {}


def _pads(bare: Mesh, rest: Attitude) -> tuple[PlaningBottom, ...]:
    """What the hull planes on; a boat that foils lift is taken to float until it leaves the water."""
    return pads_of(bare, rest) or tuple(b for b in (bottom_of(bare, rest),) if b is not None)


def bare_hull(craft: Craft) -> Mesh:
    """The hull and its floats without fins, rudders, struts and foils."""
    bodies = tuple(b for b in craft.design.bodies if b.role not in ("appendage", "fairing"))
    return Craft(dataclasses.replace(craft.design, bodies=bodies, compartments=())).hull.mesh if bodies else craft.hull.mesh


def _skin(craft: Craft, bare: Mesh, boat: Afloat) -> _Table:
    """The hull's wetted surface over what is left of the volume under water, both as shares of those at rest, as it rises level."""
    rest, kernel = boat.attitude, craft.hull.kernel
    up = np.array(rest.up)
    deep = -min(float((bare.vertices @ up).min()) + rest.origin_height, 0.0)
    whole = wetted_surface(bare, rest)
    volumes, skins = [0.0], [0.0]
    for rise in np.linspace(1.0, 0.0, LEVELS).tolist():
        raised = dataclasses.replace(rest, origin_height=rest.origin_height + rise * deep)
        m = kernel.evaluate(raised.rows, -raised.height_of(kernel.centre))
        volumes.append(max(m.volume / boat.volume, volumes[-1] + 1e-9))
        skins.append(wetted_surface(bare, raised) / whole if whole > 0 else 0.0)
    return _Table(np.array(volumes), np.array(skins))


def in_wind(boat: Underway, wind: MetresPerSecond) -> Underway:
    """The same boat in a head wind."""
    return dataclasses.replace(boat, wind=wind)


def thrust_line(craft: Craft) -> tuple[Point, Point]:
    """A point of the line of all thrust and its direction, by the motors' pulls at rest; at G straight ahead where there is none."""
    pulls = pulls_of(craft.design)
    motors = craft.design.drive.motors
    total = sum(abs(t) for t in pulls)
    if total <= 0:
        return craft.gravity, (1.0, 0.0, 0.0)
    lines = [direction(m) for m in motors]
    at = [sum(abs(t) * m.at_m[k] for t, m in zip(pulls, motors, strict=True)) / total for k in range(3)]
    along = np.array([sum(t * line[k] for t, line in zip(pulls, lines, strict=True)) for k in range(3)])
    size = float(np.linalg.norm(along))
    x, y, z = (along / size).tolist() if size > 0 else (1.0, 0.0, 0.0)
    return (at[0], at[1], at[2]), (x, y, z)


def _blades(craft: Craft) -> tuple[Blade, ...]:
    """Every appendage that stands, as a blade from its lowest to its highest point; wings have a law of their own."""
    out = []
    for number, body in enumerate(craft.design.bodies):
        if body.role == "appendage" and not isinstance(body.shape, FoilWing):
            both = (craft.one(number), mirrored(craft.one(number))) if body.mirrored else (craft.piece(number),)
            for mesh in both:
                v = mesh.vertices
                low, high = float(v[:, 2].min()), float(v[:, 2].max())
                edge = 0.05 * (high - low) + 1e-9
                foot, head = v[v[:, 2] <= low + edge].mean(axis=0).tolist(), v[v[:, 2] >= high - edge].mean(axis=0).tolist()
                out.append(Blade((foot[0], foot[1], foot[2]), (head[0], head[1], head[2]), mesh.area, float(np.ptp(v[:, 0]))))
    return tuple(out)


def over_water(craft: Craft, boat: Afloat) -> float:
    """Height in boat axes of the middle of what stands over the water."""
    return float(craft.hull.mesh.bounds[1][2]) / 2 - boat.attitude.origin_height / 2


def frontal_area(craft: Craft, boat: Afloat) -> SquareMetres:
    """What the wind ahead takes hold of: breadth times height of what stands over the water, three quarters of that, and the crew."""
    low, high = craft.hull.mesh.bounds
    up = np.array(boat.attitude.up)
    over = max(float((craft.hull.mesh.vertices @ up).max()) + boat.attitude.origin_height, 0.0)
    crew = sum(PERSON_FRONT for i in craft.items if i.group == "crew" and i.mass_kg > 0)
    return FRONT_SHARE * float(high[1] - low[1]) * over + crew
