"""The form of the immersed hull: coefficients and the curve of section areas."""

import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.formulas import formula
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.flotation import centre_below
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.geometry.sections import section, sections
from yarekeel.core.geometry.wetted import wetted_surface
from yarekeel.core.quantities import CubicMetres, Metres, Point, Ratio, SquareMetres
from yarekeel.core.sources import PNA_FORM

STATIONS = 41
"""Sections of the curve of areas; Simpson's rule over them is within 0.1 % for smooth hulls."""


@dataclass(frozen=True, eq=False)
class Form:
    """Standard form coefficients at an attitude (E. V. Lewis, ed., Principles of Naval Architecture, 2nd rev., vol. I, ch. I).

    Lengths are those of the waterline as cut; ``breadth`` is the greatest at or below it and spans all hulls. ``stations`` (n,)
    metres from the after end of the immersed part, ``areas`` (n,) square metres. ``lcb`` is measured from the after end of the
    waterline.
    """

    volume: CubicMetres
    length: Metres
    breadth: Metres
    draft: Metres
    midship_area: SquareMetres
    waterplane_area: SquareMetres
    wetted: SquareMetres
    lcb: Metres
    stations: Floats
    areas: Floats
    after_end: Metres

    @property
    def block(self) -> Ratio:
        """Cb: displacement over the box of waterline length, breadth and draft."""
        return self.volume / (self.length * self.breadth * self.draft)

    @property
    def midship(self) -> Ratio:
        """Cm: largest section over breadth times draft."""
        return self.midship_area / (self.breadth * self.draft)

    @property
    def prismatic(self) -> Ratio:
        """Cp: displacement over the largest section drawn out along the waterline."""
        return self.volume / (self.length * self.midship_area)

    @property
    def waterplane(self) -> Ratio:
        """Cwp: waterplane over its length times breadth."""
        return self.waterplane_area / (self.length * self.breadth)


@formula("C_B, C_M, C_P, C_WP", PNA_FORM, "upright, afloat")
def form_of(hull: Hull, attitude: Attitude) -> Form | None:
    """The form below the water at ``attitude``; None when nothing is immersed or the waterplane has no size."""
    world = Mesh(hull.mesh.vertices @ np.array(attitude.rows).T + [0.0, 0.0, attitude.origin_height], hull.mesh.faces)
    waterline, _ = section(world, 2, 0.0)
    d = -attitude.height_of(hull.kernel.centre)
    immersed = hull.kernel.evaluate(attitude.rows, d)
    if len(waterline) == 0 or immersed.volume <= 0:
        return None
    low, high = waterline.reshape(-1, 3).min(axis=0), waterline.reshape(-1, 3).max(axis=0)
    wet = world.vertices[world.vertices[:, 2] < 0]
    length, deepest = float(high[0] - low[0]), -float(world.bounds[0][2])
    breadth = max(float(high[1]), float(wet[:, 1].max())) - min(float(low[1]), float(wet[:, 1].min()))
    if min(length, breadth, deepest) <= 1e-9:
        return None
    first, last = min(float(wet[:, 0].min()), float(low[0])), max(float(wet[:, 0].max()), float(high[0]))
    inset = 1e-6 * (last - first)
    x = np.linspace(first + inset, last - inset, STATIONS)
    areas = immersed_areas(world, x)
    centre = np.array(attitude.rows) @ np.array(centre_below(immersed, hull.kernel.centre, attitude.rows, d))
    return Form(
        volume=immersed.volume,
        length=length,
        breadth=breadth,
        draft=deepest,
        midship_area=float(areas.max()),
        waterplane_area=immersed.area,
        wetted=wetted_surface(hull.mesh, attitude),
        lcb=float(centre[0]) - float(low[0]),
        stations=x - first,
        areas=areas,
        after_end=first,
    )


def immersed_areas(world: Mesh, x: Floats) -> Floats:
    """Areas (n,) below the surface (z = 0) of the sections at ``x`` (n,), ascending."""
    return areas_under(world, x, (0.0, 0.0, 1.0), 0.0)


def areas_under(mesh: Mesh, x: Floats, up: Point, height: Metres) -> Floats:
    """Areas (n,) of the sections at ``x`` (n,), ascending, that lie below the plane ``up`` . p + ``height`` = 0.

    Sums of min(depth, 0) along the outlines, depth and run measured in the section's own plane (Green's theorem).
    """
    pieces, _, place = sections(mesh, 0, x)
    return wet_areas(pieces=pieces, place=place, count=len(x), up=up, height=height)


def wet_areas(pieces: Floats, place: Ints, count: int, up: Point, height: Metres) -> Floats:
    """Areas (count,) below the plane ``up`` . p + ``height`` = 0 of sections given as segments (k, 2, 3) with their numbers (k,)."""
    slope = max(math.hypot(up[1], up[2]), 1e-12)
    run = (pieces[..., 1] * up[2] - pieces[..., 2] * up[1]) / slope
    depth = (pieces @ np.asarray(up) + height) / slope
    (y0, y1), (z0, z1) = run.T, depth.T
    both = (z0 < 0) & (z1 < 0)
    lower, upper = np.minimum(z0, z1), np.maximum(z0, z1)
    crosses = (lower < 0) & (upper >= 0)
    share = np.where(crosses, lower / np.where(crosses, lower - upper, 1.0), 0.0)  # the wet part of a piece that crosses the surface
    mean = np.where(both, (z0 + z1) / 2, share * lower / 2)
    return np.abs(np.bincount(place, weights=mean * (y1 - y0), minlength=count))


@dataclass(frozen=True, slots=True)
class StationFigures:
    """A section across the boat: from the after end, over all, and what of it is under water (None while nothing floats it)."""

    from_aft: Metres
    width: Metres
    depth: Metres
    under_water: SquareMetres | None


def station_figures(hull: Hull, x: Metres, attitude: Attitude | None) -> StationFigures:
    """The figures of the section at ``x`` in the boat's own axes."""
    pieces, _ = section(hull.mesh, 0, x)
    size = np.ptp(pieces.reshape(-1, 3), axis=0) if len(pieces) else np.zeros(3)
    at = np.zeros(len(pieces), dtype=np.intp)
    under = (
        None if attitude is None else float(wet_areas(pieces=pieces, place=at, count=1, up=attitude.up, height=attitude.origin_height)[0])
    )
    return StationFigures(x - float(hull.mesh.bounds[0][0]), float(size[1]), float(size[2]), under)
