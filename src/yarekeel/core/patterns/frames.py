"""Frames: a hull's sections at stations, the skin taken off, with their notches, holes, bevels and marks, at full size."""

import math
from dataclasses import dataclass, field
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.formulas import formula
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.geometry.sections import area_of, outlines, section
from yarekeel.core.quantities import Degrees, Metres, Radians, SquareMetres
from yarekeel.core.sources import GEOMETRY

if TYPE_CHECKING:
    from shapely import Polygon

MOST_STATIONS = 200
MOST_BEVELS = 24
"""Bevels that are written on a frame."""
SAME: Degrees = 0.25
"""Bevels beside one another that differ by less are one."""
FEW = 8
LEAST: SquareMetres = 1e-8
SMOOTH = 16
"""Steps of a quarter circle where an outline is set in round a corner."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """How frames are cut: ``skin`` is taken off all round, ``ring`` leaves a ring of that width (0: whole), ``keelson`` is a notch for it
    (width, depth) at the lowest point on the centreline, ``clamp`` notches at the sheer on both sides, ``limber`` a half round hole of that
    radius beside the keelson."""

    skin: Metres = 0.0
    ring: Metres = 0.0
    keelson: tuple[Metres, Metres] = (0.0, 0.0)
    clamp: tuple[Metres, Metres] = (0.0, 0.0)
    limber: Metres = 0.0


@dataclass(frozen=True, slots=True)
class Bevel:
    """At a point (y to port, z up) of the outline: how far its edge is planed off square, degrees; over 0: it narrows ahead."""

    y: Metres
    z: Metres
    angle: Degrees


@dataclass(frozen=True, eq=False)
class Frame:
    """A frame at ``x`` from aft: closed outlines (n, 2) as (y to port, z up) in metres, holes (n, 2), bevels, and the heights of keel and
    sheer with the half breadth there. ``area`` is what is left of the sheet."""

    name: str
    x: Metres
    outlines: tuple[Floats, ...]
    holes: tuple[Floats, ...]
    bevels: tuple[Bevel, ...]
    keel: Metres
    sheer: Metres
    half_breadth: Metres
    area: SquareMetres
    perimeter: Metres
    marks: tuple[Metres, ...] = field(default=())
    """Heights of waterlines."""


def stations_of(mesh: Mesh, every: Metres | None, listed: tuple[Metres, ...]) -> tuple[Metres, ...]:
    """Stations from aft: those listed, or so far apart, as many as there is room for, as far from both ends. Raises InvalidInput for one
    outside the hull, or more than 200."""
    low, high = float(mesh.bounds[0][0]), float(mesh.bounds[1][0])
    found = listed
    if not listed:
        if every is None or not every > 0:
            raise InvalidInput("frames", "Say how far apart the frames stand, or list their stations.")
        count = int((high - low) / every)
        if count > MOST_STATIONS:
            raise InvalidInput("frames", f"{count} frames are more than a builder cuts; at most {MOST_STATIONS}.")
        count = max(count, 1)
        first = (low + high - (count - 1) * every) / 2
        found = tuple(first + k * every for k in range(count))
    if len(found) > MOST_STATIONS:
        raise InvalidInput("frames", f"{len(found)} frames are more than a builder cuts; at most {MOST_STATIONS}.")
    outside = next((x for x in found if not low < x < high), None)
    if outside is not None:
        raise InvalidInput(
            "frames",
            "A station of {at:length} lies outside the hull, which is from {low:length} to {high:length}.",
            at=outside,
            low=low,
            high=high,
        )
    return tuple(sorted(found))


@formula("b = atan(n_x / hypot(n_y, n_z))", GEOMETRY, "n the surface's normal; off square at a frame across the boat")
def bevel_of(normal: Floats) -> Radians:
    """How far the skin's surface is off square to a frame, by its outward normal (3,)."""
    return math.atan2(float(normal[0]), math.hypot(float(normal[1]), float(normal[2])))


def frames_of(mesh: Mesh, stations: tuple[Metres, ...], wanted: Wanted, waterlines: tuple[Metres, ...] = ()) -> tuple[Frame, ...]:
    """A frame at each station. Raises InvalidInput where nothing is left of one."""
    return tuple(_frame(mesh, k, x, wanted, waterlines) for k, x in enumerate(stations, 1))


def _frame(mesh: Mesh, number: int, x: Metres, wanted: Wanted, waterlines: tuple[Metres, ...]) -> Frame:
    import shapely  # a while to load

    rounds = outlines(mesh, 0, x)
    solid, hollows = (
        shapely.union_all([shapely.make_valid(shapely.Polygon(r[:, 1:])) for r in rounds if (area_of(r, 0) > 0) == filled])
        for filled in (True, False)
    )
    whole = solid.difference(hollows)
    if whole.area < LEAST:
        raise InvalidInput("frames", "At {at:length} there is nothing to make a frame of.", at=x)
    inside = whole.buffer(-wanted.skin, quad_segs=SMOOTH, join_style="mitre") if wanted.skin else whole
    if inside.area < LEAST:
        raise InvalidInput("skin", "At {at:length} the hull is thinner than two skins of {skin:length}.", at=x, skin=wanted.skin)
    cut = inside
    if wanted.ring:
        hollow = inside.buffer(-wanted.ring, quad_segs=SMOOTH, join_style="mitre")
        cut = cut.difference(hollow)
    for part in _polygons(inside):
        cut = cut.difference(shapely.union_all(_notches(part, wanted)))
    parts = [p for p in _polygons(cut) if p.area > LEAST]
    if not parts:
        raise InvalidInput("frames", "Nothing is left of the frame at {at:length}: make its ring wider or its notches smaller.", at=x)
    points = np.vstack([np.asarray(p.exterior.coords) for p in _polygons(inside)])
    high = points[np.argmax(points[:, 1])]
    top = points[points[:, 1] > points[:, 1].max() - 1e-6]
    return Frame(
        name=f"F{number}",
        x=x,
        outlines=tuple(np.asarray(p.exterior.coords)[:-1] for p in parts),
        holes=tuple(np.asarray(r.coords)[:-1] for p in parts for r in p.interiors),
        bevels=_bevels(mesh, x),
        keel=float(points[:, 1].min()),
        sheer=float(high[1]),
        half_breadth=float(np.abs(top[:, 0]).max()),
        area=float(sum(p.area for p in parts)),
        perimeter=float(sum(p.length for p in parts)),
        marks=tuple(z for z in waterlines if points[:, 1].min() < z < points[:, 1].max()),
    )


def _polygons(shape: object) -> "list[Polygon]":
    import shapely

    return [p for p in shapely.get_parts(shape) if p.geom_type == "Polygon"]


def _notches(part: "Polygon", wanted: Wanted) -> list[object]:
    """What is cut out of one part of a frame, in its own plane."""
    import shapely

    left, low, right, high = part.bounds
    middle = (left + right) / 2
    out: list[object] = []
    wide, deep = wanted.keelson
    if wide and deep:
        out.append(shapely.box(middle - wide / 2, low - deep, middle + wide / 2, low + deep))
    if wanted.limber:
        for side in (-1, 1):
            out.append(shapely.Point(middle + side * (wide / 2 + 2.2 * wanted.limber), low).buffer(wanted.limber, quad_segs=SMOOTH))
    wide, deep = wanted.clamp
    if wide and deep:
        out.append(shapely.box(left - wide, high - deep, left + wide, high + deep))
        out.append(shapely.box(right - wide, high - deep, right + wide, high + deep))
    return out


def _bevels(mesh: Mesh, x: Metres) -> tuple[Bevel, ...]:
    """Along the outline, where the surface's slope to the frame changes, and at most so many."""
    pieces, faces = section(mesh, 0, x)
    found = [
        Bevel(float(p[:, 1].mean()), float(p[:, 2].mean()), math.degrees(bevel_of(mesh.normals[f])))
        for p, f in zip(pieces, faces, strict=True)
        if np.linalg.norm(p[1] - p[0]) > 1e-6
    ]
    found.sort(key=lambda b: math.atan2(b.z, b.y))
    told = [b for k, b in enumerate(found) if k == 0 or abs(b.angle - found[k - 1].angle) > SAME]
    told = told if len(told) >= FEW else found
    return tuple(told[:: max(1, len(told) // MOST_BEVELS)][:MOST_BEVELS])


@dataclass(frozen=True, slots=True)
class SetUp:
    """A frame on the strongback: its station, how high its keel and its sheer stand over it, and the spacing to the one before."""

    name: str
    x: Metres
    keel: Metres
    sheer: Metres
    spacing: Metres


def set_up(frames: tuple[Frame, ...], clear: Metres, *, upside_down: bool) -> tuple[SetUp, ...]:
    """Heights over the strongback, so that the lowest part of any frame stands ``clear`` over it."""
    if not frames:
        return ()
    base = max(f.sheer for f in frames) + clear if upside_down else min(f.keel for f in frames) - clear
    spacings = [0.0, *(b.x - a.x for a, b in pairwise(frames))]
    return tuple(SetUp(f.name, f.x, abs(base - f.keel), abs(base - f.sheer), gap) for f, gap in zip(frames, spacings, strict=True))
