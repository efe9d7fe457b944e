"""The figures a builder reads off a floating boat, and how sure they are."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.errors import BoatSinks
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.attitude import Attitude
from yarekeel.core.hydrostatics.equilibrium import Equilibrium, Held, Unsolved, required_volume, solve_equilibrium, solve_held
from yarekeel.core.hydrostatics.flotation import Immersed
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
from yarekeel.core.weights.items import WeightItem

LEAST_UP = 0.2
"""Upward share of the boat's own z below which draft marks say nothing (it lies on its side)."""
LOLL_FROM: Radians = math.radians(0.05)
"""Heel below which a boat counts as upright."""


@dataclass(frozen=True, slots=True)
class Afloat:
    """A boat at rest in the water.

    Centres in boat axes. ``bm_*`` and ``gm_*`` are about the inclined waterplane's own centroid; longitudinal about the
    horizontal transverse axis. ``upright`` is the boat held at no heel, whose stiffness tells if upright is stable.
    """

    equilibrium: Equilibrium
    upright: Held
    mass: Kilograms
    gravity: Point
    buoyancy: Point
    density: KilogramsPerCubicMetre
    volume: CubicMetres
    reserve: Ratio
    waterplane_area: SquareMetres
    flotation: Point
    bm_transverse: Metres
    bm_longitudinal: Metres
    gm_transverse: Metres
    gm_longitudinal: Metres
    freeboard: Metres
    freeboard_at: Point

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
    def is_lolling(self) -> bool:
        """Whether it leans because upright is unstable."""
        return self.upright.heel_stiffness < 0 and abs(self.attitude.heel) > LOLL_FROM

    @property
    def is_capsized(self) -> bool:
        """Whether its deck faces sideways or down."""
        return self.attitude.up[2] <= LEAST_UP


def float_boat(hull: Hull, mass: Kilograms, gravity: Point, density: KilogramsPerCubicMetre, start: Attitude | None = None) -> Afloat:
    """Solve the attitude and read the figures. Raises BoatSinks, or Unsolved."""
    kernel = hull.kernel
    volume = required_volume(kernel, mass, density)
    upright = solve_held(kernel, volume, gravity, 0.0)
    settled = solve_equilibrium(kernel, volume, gravity, start or upright.attitude)
    freeboard, at = hull.least_freeboard(settled.attitude)
    m = settled.immersed
    xx, _, yy = settled.turning_stiffness
    lever = settled.stiffness[3] - m.syy  # e = Mz - V0 zG, the same about both axes
    rows, height = settled.attitude.rows, settled.attitude.height_of(kernel.centre)
    cx, cy = (m.sx / m.area, m.sy / m.area) if m.area > 0 else (0.0, 0.0)
    flotation = tuple(kernel.centre[k] - height * rows[2][k] + cx * rows[0][k] + cy * rows[1][k] for k in range(3))
    return Afloat(
        equilibrium=settled,
        upright=upright,
        mass=mass,
        gravity=gravity,
        buoyancy=settled.buoyancy,
        density=density,
        volume=volume,
        reserve=kernel.total_volume / volume - 1,
        waterplane_area=m.area,
        flotation=(flotation[0], flotation[1], flotation[2]),
        bm_transverse=(xx - lever) / volume,
        bm_longitudinal=(yy - lever) / volume,
        gm_transverse=xx / volume,
        gm_longitudinal=yy / volume,
        freeboard=freeboard,
        freeboard_at=at,
    )


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


def outputs_of(afloat: Afloat, bow_x: Metres, stern_x: Metres) -> Outputs:
    """The figures of a boat at rest; drafts read 0 when it lies on its side."""
    a = afloat.attitude
    return Outputs(
        mass=afloat.mass,
        draft_bow=draft_at(a, bow_x) or 0.0,
        draft_stern=draft_at(a, stern_x) or 0.0,
        trim=a.trim,
        heel=a.heel,
        gm=afloat.gm_transverse,
        freeboard=afloat.freeboard,
        origin_height=a.origin_height,
    )


def spread_of(hull: Hull, items: Sequence[WeightItem], afloat: Afloat, bow_x: Metres, stern_x: Metres) -> Outputs | None:
    """Half width of the 95 % band of each figure, from the masses' own bands (JCGM 100:2008, eq. 10, independent items).

    A list of weights acts on the water only through four sums: mass and its three moments. So the slopes of every figure
    by those four (central differences, re-solved from the resting attitude) serve any number of items. None when a small
    change of load sinks it or tips it into another attitude, so that no slope exists.
    """
    kernel = hull.kernel
    mass, (gx, gy, gz) = afloat.mass, afloat.gravity
    loads = (mass, mass * gx, mass * gy, mass * gz)
    size = kernel.half_extent
    steps = (1e-4 * mass, 1e-4 * mass * size, 1e-4 * mass * size, 1e-4 * mass * size)

    def solved(values: Sequence[float]) -> Outputs:
        m = values[0]
        gravity = (values[1] / m, values[2] / m, values[3] / m)
        return outputs_of(_float_near(hull, m, gravity, afloat), bow_x, stern_x)

    slopes: list[tuple[float, ...]] = []
    try:
        for k, step in enumerate(steps):
            ahead, behind = list(loads), list(loads)
            ahead[k] += step
            behind[k] -= step
            high, low = _row(solved(ahead)), _row(solved(behind))
            slopes.append(tuple((h - b) / (2 * step) for h, b in zip(high, low, strict=True)))
    except (BoatSinks, Unsolved):
        return None
    squares = [0.0] * len(slopes[0])
    for item in items:
        x, y, z = item.at_m
        for n in range(len(squares)):
            slope = slopes[0][n] + x * slopes[1][n] + y * slopes[2][n] + z * slopes[3][n]
            squares[n] += (slope * item.half_width) ** 2
    widths = [math.sqrt(s) for s in squares]
    return Outputs(*widths)


def _row(o: Outputs) -> tuple[float, ...]:
    return (o.mass, o.draft_bow, o.draft_stern, o.trim, o.heel, o.gm, o.freeboard, o.origin_height)


def _float_near(hull: Hull, mass: Kilograms, gravity: Point, near: Afloat) -> Afloat:
    """float_boat without the upright check, started where ``near`` rests."""
    kernel = hull.kernel
    volume = required_volume(kernel, mass, near.density)
    settled = solve_equilibrium(kernel, volume, gravity, near.attitude)
    freeboard, at = hull.least_freeboard(settled.attitude)
    xx, _, yy = settled.turning_stiffness
    return Afloat(
        equilibrium=settled, upright=near.upright, mass=mass, gravity=gravity, buoyancy=near.buoyancy, density=near.density,
        volume=volume, reserve=0.0, waterplane_area=settled.immersed.area, flotation=near.flotation, bm_transverse=0.0,
        bm_longitudinal=0.0, gm_transverse=xx / volume, gm_longitudinal=yy / volume, freeboard=freeboard, freeboard_at=at,
    )  # fmt: skip


def _level(hull: Hull, volume: CubicMetres) -> tuple[Metres, Immersed]:
    """Plane height over the kernel's centre at which the level boat displaces ``volume``, and what is below it.

    Newton's method on volume (its slope is the waterplane's area), kept inside a shrinking bracket.
    """
    kernel = hull.kernel
    rows = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    low, high = -kernel.height / 2, kernel.height / 2
    d = kernel.first_guess(volume)
    for _ in range(60):
        m = kernel.evaluate(rows, d)
        miss = m.volume - volume
        if abs(miss) < 1e-12 * kernel.total_volume:
            break
        low, high = (low, d) if miss > 0 else (d, high)
        step = d - miss / m.area if m.area > 0 else math.nan
        d = step if low < step < high else (low + high) / 2
    return d, m


def level_waterline(hull: Hull, volume: CubicMetres) -> Metres:
    """Height over the baseline of the level waterline at ``volume``; 0 < volume < the whole."""
    return hull.kernel.centre[2] + _level(hull, volume)[0]


def level_centre(hull: Hull, volume: CubicMetres) -> Point:
    """Centre of buoyancy, boat axes, of the boat held level (no heel, no trim) at ``volume``: G must lie over it to float so."""
    d, m = _level(hull, volume)
    centre = hull.kernel.centre
    return (centre[0] + m.mx / m.volume, centre[1] + m.my / m.volume, centre[2] + d + m.mz / m.volume)
