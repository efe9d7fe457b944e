"""The boat under outside forces: thrust, a tow, a hand on the rail, wind.

Upward and downward parts act as weights do. The water answers the horizontal part at half the draft (IMO 2008 IS Code, part
A, 2.3.2, takes the same point for wind), so that it turns the boat by its height over that point. Forces that keep to the
boat's own axes turn with it. The attitude is found by replacing all of them by the one weight, at the one place, that has the
same moments there, and solving again until nothing changes; where nothing holds it, that is said.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.constants import AIR_DENSITY, STANDARD_GRAVITY
from yarekeel.core.errors import BoatSinks, Unsolved, YareKeelError
from yarekeel.core.formulas import formula
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.afloat import Afloat, read_off
from yarekeel.core.hydrostatics.equilibrium import Equilibrium, required_volume, solve_equilibrium, solve_held
from yarekeel.core.hydrostatics.inside import Laden
from yarekeel.core.quantities import Kilograms, KilogramsPerCubicMetre, Metres, MetresPerSecond, Newtons, Point, Ratio, SquareMetres
from yarekeel.core.sources import HOERNER_1965

MOST_TURNS = 200
SETTLED = 1e-10
"""rad and boat sizes by which the attitude may still change."""


class Overpowered(YareKeelError):
    """The water cannot hold the boat up against the forces."""


@dataclass(frozen=True, slots=True)
class AppliedForce:
    """A force of ``newtons`` (3,) at ``at`` (boat axes). Its axes are the boat's own where ``with_boat`` (a thruster), else the
    world's along the boat's heading (forward, to port, up): a hand, a tow line, wind."""

    name: str
    at: Point
    newtons: Point
    with_boat: bool = False


@dataclass(frozen=True, slots=True)
class Pushed:
    """A boat at rest under forces; ``turns`` is how many times it was solved. ``moments`` (about the world's x and y, N m) are
    those of the forces about the point under the centre of gravity where the water answers."""

    afloat: Afloat
    moments: tuple[float, float]
    down: Newtons
    turns: int


@formula("F = C rho V² A / 2", HOERNER_1965, "flat plates across the wind")
def wind_force(speed: MetresPerSecond, area: SquareMetres, coefficient: Ratio = 1.2) -> Newtons:
    """Side force of wind on an area: C rho V2 A / 2; C about 1.2 for a flat plate across the wind (S. F. Hoerner, Fluid-Dynamic
    Drag, 1965, ch. III, from memory)."""
    return 0.5 * AIR_DENSITY * coefficient * area * speed * abs(speed)


def solve_pushed(
    hull: Hull,
    mass: Kilograms,
    gravity: Point,
    density: KilogramsPerCubicMetre,
    pushes: Sequence[AppliedForce],
    lateral: Point,
    kernel: Flotation | Laden | None = None,
) -> Pushed:
    """Where the boat rests under ``pushes``. The water answers what pushes along at half the draft, and what pushes across at
    ``lateral``, the centre of the area that looks to the side under water (boat axes). Raises BoatSinks where they push it
    under, Overpowered where it goes over."""
    kernel = kernel or hull.kernel
    free = solve_equilibrium(kernel, required_volume(kernel, mass, density), gravity)
    a, settled, size = free.attitude, free, kernel.half_extent
    share, before = 1.0, math.inf
    weight_at, load, moments = gravity, mass, (0.0, 0.0)
    for turn in range(1, MOST_TURNS + 1):
        weight_at, load, moments = _as_weight(
            kernel=kernel, mass=mass, gravity=gravity, density=density, pushes=pushes, lateral=lateral, a=a
        )
        if load <= 0:
            raise Overpowered("The forces lift it out of the water.")
        if load / density >= kernel.total_volume * (1 - 1e-9):
            raise BoatSinks(load, kernel.total_volume * density)
        if share < 1.0:
            weight_at = _between(settled.gravity, weight_at, share)
        try:
            settled = solve_equilibrium(kernel, load / density, weight_at, a)
        except Unsolved:
            raise Overpowered("No attitude balances these forces.") from None
        now = settled.attitude
        change = max(abs(now.heel - a.heel), abs(now.trim - a.trim), abs(now.origin_height - a.origin_height) / size)
        a = now
        if change < SETTLED:
            return Pushed(
                _figures(hull, settled, mass, gravity, weight_at, load, density, kernel), moments, (load - mass) * STANDARD_GRAVITY, turn
            )
        if abs(a.heel) > math.radians(120) or abs(a.trim) > math.radians(75):
            break
        if turn > 8 and change > 0.5 * before:  # it swings to and fro, or creeps: shorter steps
            share = max(0.2, 0.7 * share)
        before = change
    raise Overpowered("It goes over: nothing in the water holds it against these forces.")


def _between(a: Point, b: Point, share: float) -> Point:
    x, y, z = (p + share * (q - p) for p, q in zip(a, b, strict=True))
    return x, y, z


def _as_weight(
    kernel: Flotation | Laden,
    mass: Kilograms,
    gravity: Point,
    density: KilogramsPerCubicMetre,
    pushes: Sequence[AppliedForce],
    lateral: Point,
    a: Attitude,
) -> tuple[Point, Kilograms, tuple[float, float]]:
    """The weight and its place (boat axes) that stand for gravity and the forces at an attitude, and the forces' moments."""
    rows = a.rows

    def world(p: Point) -> Point:
        x, y, z = (sum(row[k] * p[k] for k in range(3)) for row in rows)
        return x, y, z + a.origin_height

    along, across = -half_draft(kernel, a), a.height_of(lateral)
    gx, gy, gz = world(gravity)
    down, mx, my, up_moment = mass, 0.0, 0.0, mass * gz
    shift_x, shift_y = mass * gx, mass * gy
    for push in pushes:
        fx, fy, fz = (sum(row[k] * push.newtons[k] for k in range(3)) for row in rows) if push.with_boat else push.newtons
        x, y, z = world(push.at)
        # r x F about G's vertical, the horizontal parts about the heights where the water answers them
        mx += (y - gy) * fz - (z - across) * fy
        my += (z - along) * fx - (x - gx) * fz
        shift_x += ((z - along) * fx - x * fz) / STANDARD_GRAVITY
        shift_y -= (y * fz - (z - across) * fy) / STANDARD_GRAVITY
        down -= fz / STANDARD_GRAVITY
        up_moment -= z * fz / STANDARD_GRAVITY
    if down <= 0:
        return gravity, down, (mx, my)
    place = (shift_x / down, shift_y / down, up_moment / down - a.origin_height)
    x, y, z = (sum(place[n] * rows[n][k] for n in range(3)) for k in range(3))
    return (x, y, z), down, (mx, my)


def half_draft(kernel: Flotation | Laden, a: Attitude) -> Metres:
    """Depth below the surface at which the water answers: half the draft of a box, in general that of the immersed volume's
    centre."""
    d = -a.height_of(kernel.centre)
    m = kernel.evaluate(a.rows, d)
    return -m.mz / m.volume if m.volume > 0 else 0.0


def _figures(
    hull: Hull,
    settled: Equilibrium,
    mass: Kilograms,
    gravity: Point,
    place: Point,
    load: Kilograms,
    density: KilogramsPerCubicMetre,
    kernel: Flotation | Laden,
) -> Afloat:
    upright = solve_held(kernel, load / density, place, 0.0)
    return read_off(hull, settled, upright, load, place, density, kernel)
