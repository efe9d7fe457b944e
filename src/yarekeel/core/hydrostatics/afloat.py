"""The figures a builder reads off a floating boat, and how sure they are."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np

from yarekeel.core.geometry.attitude import Attitude, Rows, rotation
from yarekeel.core.geometry.flotation import Flotation, Immersed, centre_below, plane_of
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.hydrostatics.equilibrium import (
    Equilibrium,
    Held,
    hessian_of,
    newton_step,
    required_volume,
    solve_equilibrium,
    solve_held,
    turned,
)
from yarekeel.core.hydrostatics.inside import Laden, Level
from yarekeel.core.kept import kept
from yarekeel.core.quantities import (
    CubicMetres,
    Kilograms,
    KilogramsPerCubicMetre,
    Metres,
    Point,
    Radians,
    Ratio,
    SquareMetres,
)
from yarekeel.core.weights.items import WeightItem, combined

LEAST_UP = 0.2
"""Upward share of the boat's own z below which draft marks say nothing (it lies on its side)."""
_UPRIGHT = rotation(0.0, 0.0)
LOLL_FROM: Radians = math.radians(0.05)
"""Heel below which a boat counts as upright."""


@dataclass(frozen=True, slots=True)
class Afloat:
    """A boat at rest in the water.

    ``mass`` and ``gravity`` are of all that floats, liquids that have run to their level among it; ``listed`` and
    ``listed_gravity`` of the weights alone. Centres in boat axes. ``bm_*`` and ``gm_*`` are about the inclined waterplane's own
    centroid, less what liquids take off; longitudinal about the horizontal transverse axis. ``upright`` is the boat held at no
    heel, whose stiffness tells if upright is stable. ``to_rim`` is the mass that sinks it, as it lies, until the lowest point of
    the deck rim is at the surface; ``reserve`` the closed volume above the water over that below it, of an open boat only up to
    there, since water comes in over what is lower.
    """

    equilibrium: Equilibrium
    upright: Held
    mass: Kilograms
    gravity: Point
    buoyancy: Point
    density: KilogramsPerCubicMetre
    volume: CubicMetres
    reserve: Ratio
    to_rim: Kilograms
    waterplane_area: SquareMetres
    flotation: Point
    bm_transverse: Metres
    bm_longitudinal: Metres
    gm_transverse: Metres
    gm_longitudinal: Metres
    freeboard: Metres
    freeboard_at: Point
    listed: Kilograms
    listed_gravity: Point
    liquids: tuple[Level, ...] = ()

    @property
    def attitude(self) -> Attitude:
        return self.equilibrium.attitude

    @property
    def metacentre(self) -> Point:
        """Transverse metacentre: GM above the centre of gravity along the world's up, boat axes."""
        up = self.attitude.up
        g = self.gravity
        return (g[0] + up[0] * self.gm_transverse, g[1] + up[1] * self.gm_transverse, g[2] + up[2] * self.gm_transverse)

    @property
    def sinks_per_kilogram(self) -> Metres:
        """Parallel sinkage for a kilogram placed over the centre of flotation, m/kg; 0 without a waterplane."""
        return 1 / (self.density * self.waterplane_area) if self.waterplane_area > 0 else 0.0

    @property
    def trims_per_kilogram_metre(self) -> Radians:
        """Trim for a kilogram moved a metre fore and aft, rad/(kg m), by GM longitudinal."""
        return 1 / (self.mass * self.gm_longitudinal) if self.gm_longitudinal > 0 else 0.0

    @property
    def upright_gm(self) -> Metres:
        """GM of the boat held at no heel, metres; negative where upright is unstable."""
        return self.upright.heel_stiffness * self.listed / self.mass

    @property
    def judged_gm(self) -> Metres:
        """GM at rest; of a boat that does not rest upright, that of the boat held so: stiffness where it lies is no comfort."""
        return self.upright_gm if self.is_unsteady else self.gm_transverse

    @property
    def listed_volume(self) -> CubicMetres:
        """Of water that weighs as much as the weights alone, m3: what the solvers work with."""
        return self.listed / self.density

    @property
    def is_lolling(self) -> bool:
        """Whether it leans because upright is unstable."""
        return self.upright.heel_stiffness < 0 and abs(self.attitude.heel) > LOLL_FROM

    @property
    def is_unsteady(self) -> bool:
        """Whether it does not rest upright: it lolls or lies over."""
        return self.is_lolling or self.is_capsized

    @property
    def is_capsized(self) -> bool:
        """Whether its deck faces sideways or down."""
        return self.attitude.up[2] <= LEAST_UP


def float_boat(
    hull: Hull,
    mass: Kilograms,
    gravity: Point,
    density: KilogramsPerCubicMetre,
    start: Attitude | None = None,
    kernel: Flotation | Laden | None = None,
) -> Afloat:
    """Solve the attitude and read the figures of what weighs ``mass`` at ``gravity``; ``kernel`` where it is not the bare
    hull that floats (flooded, with liquids, swamped). Raises NoRest."""
    kernel = kernel or hull.kernel
    volume = required_volume(kernel, mass, density)
    upright = solve_held(kernel, volume, gravity, 0.0)
    settled = solve_equilibrium(kernel, volume, gravity, start or upright.attitude)
    return read_off(hull, settled, upright, mass, gravity, density, kernel)


def read_off(
    hull: Hull,
    settled: Equilibrium,
    upright: Held,
    mass: Kilograms,
    gravity: Point,
    density: KilogramsPerCubicMetre,
    kernel: Flotation | Laden,
) -> Afloat:
    """The figures at an attitude that was solved for."""
    listed, listed_gravity = mass, gravity
    liquids: tuple[Level, ...] = ()
    buoyancy = settled.buoyancy
    reserve_volume, volume = kernel.total_volume, mass / density
    if isinstance(kernel, Laden):
        liquids = kernel.levels(settled.attitude)
        mass, gravity = with_liquids(mass, gravity, liquids, density)
        volume, reserve_volume = mass / density, kernel.displacing
        d = -settled.attitude.height_of(kernel.centre)
        buoyancy = centre_below(kernel.displaced(settled.attitude.rows, d), kernel.centre, settled.attitude.rows, d)
    freeboard, at = hull.least_freeboard(settled.attitude)
    m = settled.immersed
    xx, _, yy = settled.turning_stiffness
    lever = settled.stiffness[3] - m.syy  # e = Mz - V0 zG, the same about both axes
    rows, height = settled.attitude.rows, settled.attitude.height_of(kernel.centre)
    cx, cy = (m.sx / m.area, m.sy / m.area) if m.area > 0 else (0.0, 0.0)
    to_rim = max(0.0, density * (_displaced(kernel, rows, freeboard - height).volume - volume))
    flotation = tuple(kernel.centre[k] - height * rows[2][k] + cx * rows[0][k] + cy * rows[1][k] for k in range(3))
    return Afloat(
        equilibrium=settled,
        upright=upright,
        mass=mass,
        gravity=gravity,
        buoyancy=buoyancy,
        density=density,
        volume=volume,
        reserve=to_rim / mass if hull.open else reserve_volume / volume - 1,
        to_rim=to_rim,
        waterplane_area=m.area,
        flotation=(flotation[0], flotation[1], flotation[2]),
        bm_transverse=(xx - lever) / volume,
        bm_longitudinal=(yy - lever) / volume,
        gm_transverse=xx / volume,
        gm_longitudinal=yy / volume,
        freeboard=freeboard,
        freeboard_at=at,
        listed=listed,
        listed_gravity=listed_gravity,
        liquids=liquids,
    )


def _displaced(kernel: Flotation | Laden, rows: Rows, d: Metres) -> Immersed:
    """What displaces below the plane, liquids aboard not taken off."""
    return kernel.displaced(rows, d) if isinstance(kernel, Laden) else kernel.evaluate(rows, d)


def with_liquids(mass: Kilograms, gravity: Point, liquids: Sequence[Level], density: KilogramsPerCubicMetre) -> tuple[Kilograms, Point]:
    """Mass and centre of gravity (boat axes) of the weights and the liquids together."""
    masses = [mass, *(q.volume * q.ratio * density for q in liquids)]
    centres = [gravity, *(q.centre for q in liquids)]
    total = math.fsum(masses)
    x, y, z = (math.fsum(m * c[k] for m, c in zip(masses, centres, strict=True)) / total for k in range(3))
    return total, (x, y, z)


def draft_at(attitude: Attitude, x: Metres) -> Metres | None:
    """What a mark painted up from the baseline at ``x`` reads, along the boat's own z; None when it lies on its side."""
    up = attitude.up[2]
    return -attitude.height_of((x, 0.0, 0.0)) / up if up > LEAST_UP else None


@dataclass(frozen=True, slots=True)
class Outputs:
    """The figures whose spread is followed."""

    mass: Kilograms
    draft_bow: Metres
    draft_stern: Metres
    trim: Radians
    heel: Radians
    gm: Metres
    freeboard: Metres
    origin_height: Metres


GM_COLUMN = [f.name for f in fields(Outputs)].index("gm")
"""Which of them GM is, where they stand in a row."""


def outputs_of(afloat: Afloat, hull: Hull, bow_x: Metres, stern_x: Metres) -> Outputs:
    """The figures of a boat at rest; drafts read 0 when it lies on its side."""
    return Outputs(*figures_of(hull, afloat.mass, afloat.attitude, afloat.gm_transverse, bow_x, stern_x))


def figures_of(hull: Hull, mass: Kilograms, a: Attitude, gm: Metres, bow_x: Metres, stern_x: Metres) -> tuple[float, ...]:
    """The figures of ``Outputs`` in their order, at an attitude."""
    bow, stern = draft_at(a, bow_x) or 0.0, draft_at(a, stern_x) or 0.0
    return (mass, bow, stern, a.trim, a.heel, gm, hull.least_freeboard(a)[0], a.origin_height)


def spread_of(
    hull: Hull, items: Sequence[WeightItem], afloat: Afloat, bow_x: Metres, stern_x: Metres, kernel: Flotation | Laden | None = None
) -> Outputs | None:
    """Half width of the 95 % band of each figure, from the bands of the masses and their places (JCGM 100:2008, eqs. 10 and 16).

    A list of weights acts on the water only through four sums: mass and its three moments. So the slopes of every figure
    by those four serve any number of items. The attitude's slope is exact, -H^-1 dg with the Hessian of the energy; the
    figures' follow by central differences along it. None where the boat is neutral or has no stiffness to lean on.
    """
    by_load = slopes_by_load(hull=hull, afloat=afloat, bow_x=bow_x, stern_x=stern_x, kernel=kernel)
    if by_load is None:
        return None
    return Outputs(*combined(items, by_load))


def slopes_by_load(hull: Hull, afloat: Afloat, bow_x: Metres, stern_x: Metres, kernel: Flotation | Laden | None = None) -> Floats | None:
    """Slopes (4, 8) of the figures of ``Outputs`` by the listed weights' mass and its three moments about the boat's origin."""
    kernel = kernel or hull.kernel
    mass, (gx, gy, gz), size = afloat.listed, afloat.listed_gravity, kernel.half_extent
    loads = (mass, mass * gx, mass * gy, mass * gz)
    slopes = []
    for k in range(4):
        step = 1e-4 * mass * (size if k else 1.0)
        ends = []
        for sign in (1.0, -1.0):
            changed = list(loads)
            changed[k] += sign * step
            near = _leaned(kernel, afloat, changed)
            if near is None:
                return None
            ends.append(figures_of(hull, afloat.mass - mass + changed[0], *near, bow_x, stern_x))
        slopes.append([(high - low) / (2 * step) for high, low in zip(*ends, strict=True)])
    return np.array(slopes)


def _leaned(kernel: Flotation | Laden, afloat: Afloat, loads: Sequence[float]) -> tuple[Attitude, Metres] | None:
    """Attitude and GM to first order in a small change of (mass, three moments); None without a positive stiffness."""
    eq, listed = afloat.equilibrium, afloat.listed
    mass, moments = loads[0], loads[1:]
    rows, centre = eq.attitude.rows, kernel.centre
    about = [moments[k] - listed * afloat.listed_gravity[k] - (mass - listed) * centre[k] for k in range(3)]
    x, y = (sum(rows[n][k] * about[k] for k in range(3)) / afloat.density for n in (0, 1))
    step = newton_step(eq.stiffness, ((mass - listed) / afloat.density, y, -x), kernel.half_extent)
    if step is None:
        return None
    heel, trim, d = turned(rows, -eq.attitude.height_of(centre), *step)
    leaned = rotation(heel, trim)
    volume, up = mass / afloat.density, leaned[2]
    m = kernel.evaluate(leaned, d)
    g_height = sum(up[k] * (moments[k] / mass - centre[k]) for k in range(3)) - d
    zz, zx, _, xx, _, _ = hessian_of(m, volume, g_height)
    whole = (mass + afloat.mass - listed) / afloat.density
    gm = (xx - zx * zx / zz) / whole if zz > 0 else xx / whole
    return Attitude(heel, trim, -d - sum(up[k] * centre[k] for k in range(3))), gm


@kept
def _level(kernel: Flotation | Laden, volume: CubicMetres) -> tuple[Metres, Immersed]:
    """Plane height over the kernel's centre at which the level boat displaces ``volume``, and what is below it."""
    return plane_of(kernel, _UPRIGHT, volume, kernel.first_guess(volume))


def level_waterline(kernel: Flotation | Laden, volume: CubicMetres) -> Metres:
    """Height over the baseline of the level waterline at ``volume``; 0 < volume < the whole."""
    return kernel.centre[2] + _level(kernel, volume)[0]


def level_centre(kernel: Flotation | Laden, volume: CubicMetres) -> Point:
    """Where, in boat axes, the listed weights' G must lie over for the boat to float level (no heel, no trim) at ``volume`` of
    theirs: the centre of buoyancy, less what liquids aboard make up for."""
    d, m = _level(kernel, volume)
    return centre_below(m, kernel.centre, _UPRIGHT, d)
