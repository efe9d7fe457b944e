"""Water inside: what displaces and what has run in, as one thing that the equilibrium solver can ask.

Two ways to count water that has come in. A space *open to the sea* displaces nothing any more: its kernel is taken off the
hull's (lost buoyancy). A *fixed volume* of liquid is a weight that finds its own level at every attitude (added weight): its
level is solved for, and what it adds to the energy's Hessian is exact, since liquid at rest has the least energy that its
volume allows. In the terms of Immersed it is buoyancy the other way round, with r = density over the water's: volume r Vl and
first moments r ml off, and of the second moments those of its free surface about its own centroid, r i. GM then falls by
r i / V (E. V. Lewis, ed., Principles of Naval Architecture, 2nd rev., vol. I, ch. II, free surface), at any angle.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.geometry.attitude import Attitude, Rows
from yarekeel.core.geometry.flotation import Evaluator, Flotation, Immersed, centre_below, plane_of
from yarekeel.core.quantities import CubicMetres, Metres, Point, Ratio

FULL = 1 - 1e-9
"""Share of a space from which it is full: no surface is left to run."""
EMPTY = 1e-12


@dataclass(frozen=True, eq=False)
class Part:
    """A closed surface that displaces, ``share`` times its volume; a space open to the sea counts less than nothing."""

    kernel: Evaluator
    share: Ratio = 1.0


@dataclass(frozen=True, eq=False)
class Liquid:
    """``volume`` m3 of a liquid of ``ratio`` times the water's density in a space of which ``room`` can be filled."""

    kernel: Flotation
    volume: CubicMetres
    ratio: Ratio = 1.0
    room: Ratio = 1.0


@dataclass(frozen=True, slots=True)
class Level:
    """A liquid at rest: ``centre`` in boat axes, ``plane`` the height of its surface over the kernel's centre along the world's
    up, None where it has none (empty or full); ``surface`` the second moments (xx, yy, xy) m4 of it about its own centroid."""

    volume: CubicMetres
    ratio: Ratio
    centre: Point
    plane: Metres | None
    surface: tuple[float, float, float]


class Laden:
    """A boat of several parts with liquids in it, asked like a single hull. All kernels share the first's ``centre``."""

    def __init__(self, first: Flotation, parts: Sequence[Part], liquids: Sequence[Liquid] = ()) -> None:
        self.centre, self.half_extent = first.centre, first.half_extent
        self.parts, self.liquids = tuple(parts), tuple(q for q in liquids if q.volume > EMPTY * first.total_volume)
        self._first = first
        self.displacing: CubicMetres = math.fsum(p.share * p.kernel.total_volume for p in self.parts)
        self.liquid: CubicMetres = math.fsum(q.ratio * q.volume for q in self.liquids)
        """Of the water outside, that weighs as much as the liquids."""
        self.total_volume: CubicMetres = self.displacing - self.liquid

    def evaluate(self, rows: Rows, d: Metres) -> Immersed:
        """Net sums below the plane: what displaces less the liquids (module docstring)."""
        m = self.displaced(rows, d)
        for liquid in self.liquids:
            m = added(m, _as_negative(liquid, rows, d), 1.0)
        return m

    def displaced(self, rows: Rows, d: Metres) -> Immersed:
        """The sums of what displaces alone."""
        m = Immersed(*(0.0,) * 10)
        for part in self.parts:
            m = added(m, part.kernel.evaluate(rows, d), part.share)
        return m

    def first_guess(self, volume: CubicMetres) -> Metres:
        """As the first kernel would guess for the same share of its whole."""
        share = min(max((volume + self.liquid) / self.displacing, 1e-6), 1 - 1e-6) if self.displacing > 0 else 0.5
        return self._first.first_guess(share * self._first.total_volume)

    def levels(self, attitude: Attitude) -> tuple[Level, ...]:
        """Where each liquid lies at an attitude."""
        rows = attitude.rows
        return tuple(_level(q, rows) for q in self.liquids)


def added(a: Immersed, b: Immersed, share: Ratio) -> Immersed:
    """Sums of two bodies about the same plane and centre, the second ``share`` times."""
    return Immersed(*(p + share * q for p, q in zip(a, b, strict=True)))


def surface_of(kernel: Flotation, rows: Rows, volume: CubicMetres) -> tuple[Metres, Immersed]:
    """The level of so much liquid in a space whose middle may lie far from the kernel's centre: height over that centre, along the
    world's up, and the sums below it; 0 < volume < the whole."""
    up, (x, y, _) = rows[2], kernel.middle
    reach = kernel.half_extent + math.dist(kernel.middle, (0.0, 0.0, 0.0))
    start = up[0] * x + up[1] * y + up[2] * kernel.first_guess(volume)
    return plane_of(kernel, rows, volume, start, reach=reach, close=1e-13)


def _level(liquid: Liquid, rows: Rows) -> Level:
    kernel = liquid.kernel
    volume = liquid.volume / liquid.room
    if volume >= FULL * kernel.total_volume:
        return Level(liquid.volume, liquid.ratio, kernel.centroid, None, (0.0, 0.0, 0.0))
    d, m = surface_of(kernel, rows, volume)
    area = m.area or math.inf
    surface = tuple(liquid.room * s for s in (m.sxx - m.sx**2 / area, m.syy - m.sy**2 / area, m.sxy - m.sx * m.sy / area))
    return Level(liquid.volume, liquid.ratio, centre_below(m, kernel.centre, rows, d), d, (surface[0], surface[1], surface[2]))


def _as_negative(liquid: Liquid, rows: Rows, d: Metres) -> Immersed:
    level = _level(liquid, rows)
    centre = liquid.kernel.centre
    x, y, z = (sum(row[k] * (level.centre[k] - centre[k]) for k in range(3)) for row in rows)
    weight = -level.ratio * level.volume
    xx, yy, xy = level.surface
    r = level.ratio
    return Immersed(weight, weight * x, weight * y, weight * (z - d), 0.0, 0.0, 0.0, -r * xx, -r * yy, -r * xy)
