"""A body in pieces for a printer's bed: cut across at stations clear of what must stay whole, and along the middle where it is too wide,
with holes for pins in both faces of every joint. Each piece is one closed solid, standing on a cut face."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.sections import flat_area
from yarekeel.core.geometry.spaces import inset
from yarekeel.core.geometry.union import solid_of, surface_of
from yarekeel.core.quantities import CubicMetres, Kilograms, KilogramsPerCubicMetre, Metres, Point, Ratio

MOST_PIECES = 120
ROUND = 32
"""Sides of a pin."""
RIM: Metres = 0.0016
"""Of material that a pin's hole keeps round itself; a thin wall gets a boss as much thicker."""
SCRAP: Ratio = 1e-9
"""Of the body's volume: smaller scraps of a cut are nothing."""
TRIES = 40
NUDGE: Metres = 1e-7
"""Past the end of the hull: a slab that ends there takes all of it."""


@dataclass(frozen=True, slots=True)
class Bed:
    """The room of a printer, and how pieces are joined: ``pin`` diameter (0: none), ``deep`` into each face, ``clearance`` round it."""

    length: Metres
    width: Metres
    height: Metres
    pin: Metres = 0.004
    deep: Metres = 0.008
    clearance: Metres = 0.0002


@dataclass(frozen=True, eq=False)
class Piece:
    """A piece: its name, as it lies in the boat, as it stands on the bed, and the volume of its pin holes and of the bosses round them."""

    name: str
    mesh: Mesh
    standing: Mesh
    volume: CubicMetres
    holes: CubicMetres
    bosses: CubicMetres

    def mass(self, density: KilogramsPerCubicMetre, spread: Ratio) -> tuple[Kilograms, Kilograms]:
        """What it weighs of solid plastic, and half the band of that by the range of the plastic's density."""
        return self.volume * density, self.volume * density * spread


@dataclass(frozen=True, slots=True)
class Joint:
    """A pin: the middle of it, in a cut, and the axis that it lies along (0 or 1)."""

    axis: int
    at: Point


@dataclass(frozen=True, eq=False)
class Pieces:
    """All pieces, from the stern forward; where it was cut, the pin (None for none) and where each goes, and the volume before it was
    cut."""

    pieces: tuple[Piece, ...]
    stations: tuple[Metres, ...]
    pin: Mesh | None
    joints: tuple[Joint, ...]
    whole: CubicMetres

    @property
    def volume(self) -> CubicMetres:
        """Of all that is printed, without the pins."""
        return sum(p.volume for p in self.pieces)

    def mass(self, density: KilogramsPerCubicMetre, spread: Ratio) -> tuple[Kilograms, Kilograms]:
        """As that of a piece, of all: one plastic, so that all are off alike."""
        each = [p.mass(density, spread) for p in self.pieces]
        return sum(m for m, _ in each), sum(h for _, h in each)


def stations_for(low: Metres, high: Metres, most: Metres, clear: Sequence[tuple[Metres, Metres]] = ()) -> tuple[Metres, ...]:
    """Where a length is cut so that no part is longer than ``most`` and no cut lies within the stretches that are to stay ``clear``; as
    few as possible, then as even as possible. Raises InvalidInput where there is no way."""
    fewest = max(1, math.ceil((high - low) / most - 1e-9))
    if fewest > MOST_PIECES:
        raise InvalidInput("bed", f"A bed so low makes more than {MOST_PIECES} pieces; take a larger one.")
    for count in range(fewest, min(fewest + TRIES, MOST_PIECES) + 1):
        cuts: list[Metres] = []
        for k in range(1, count):
            spot = _clear_spot(low + k * (high - low) / count, cuts[-1] if cuts else low, most, clear)
            if spot is None:
                break
            cuts.append(spot)
        ends = [low, *cuts, high]
        if len(cuts) == count - 1 and all(0 < b - a <= most * (1 + 1e-9) for a, b in pairwise(ends)):
            return tuple(cuts)
    raise InvalidInput("bed", "What must stay whole leaves no place to cut: it is longer than the bed is high ({most:length}).", most=most)


def _clear_spot(wanted: Metres, before: Metres, most: Metres, clear: Sequence[tuple[Metres, Metres]]) -> Metres | None:
    """The place nearest to the wanted one that is clear and not too far from the cut before."""
    spots = [wanted, *(end for stretch in clear for end in stretch)]
    good = [s for s in spots if before < s <= before + most * (1 + 1e-9) and not any(a < s < b for a, b in clear)]
    return min(good, key=lambda s: abs(s - wanted), default=None)


def pieces_of(
    mesh: Mesh, bed: Bed, *, wall: Metres = 0.0, open_top: bool = False, stations: Sequence[Metres] = (),
    clear: Sequence[tuple[Metres, Metres]] = (),
) -> Pieces:  # fmt: skip
    """The pieces of a body, ``wall`` thick or solid (0), cut at ``stations`` or at solved ones. Raises InvalidInput for a bed that no piece
    fits on, a wall that leaves nothing hollow, or stations outside the body."""
    import manifold3d

    if min(bed.length, bed.width, bed.height) <= 0:
        raise InvalidInput("bed", "A bed is more than nothing each way.")
    (low, *_), (high, *_) = mesh.bounds
    if any(not low < s < high for s in stations):
        raise InvalidInput("cuts", "Cuts lie within the hull, between {low:length} and {high:length}.", low=float(low), high=float(high))
    cuts = tuple(sorted(stations)) or stations_for(float(low), float(high), bed.height, clear)
    if len(cuts) >= MOST_PIECES:
        raise InvalidInput("bed", f"That would be more than {MOST_PIECES} pieces; take a larger bed.")
    outer = solid_of(mesh)
    inner = _hollow(mesh, wall, open_top)
    body = outer - inner if inner is not None else outer
    whole = float(body.volume())
    middle = _too_wide(body, cuts, bed, low=float(low), high=float(high))
    joints = _joints(outer, body, cuts, middle, bed) if bed.pin else []
    bosses = manifold3d.Manifold.batch_boolean([_boss(j, bed) for j in joints], manifold3d.OpType.Add) ^ outer if joints and wall else None
    holes = manifold3d.Manifold.batch_boolean([_hole(j, bed) for j in joints], manifold3d.OpType.Add) if joints else None
    ends = [float(low) - NUDGE, *cuts, float(high) + NUDGE]
    out: list[Piece] = []
    for k, (a, b) in enumerate(pairwise(ends)):
        for solid, extra, taken in _joined(_slab(body, a, b, middle), bosses, holes, (a, b)):
            out.append(_piece(f"P{len(out) + 1}", solid, on_fore=k == 0 and len(cuts) > 0, extra=extra, taken=taken))
    for piece in out:
        _fits(piece, bed)
    if len(out) > MOST_PIECES:
        raise InvalidInput("bed", f"That would be {len(out)} pieces; take a larger bed.")
    pin = surface_of(manifold3d.Manifold.cylinder(2 * bed.deep, bed.pin / 2, circular_segments=ROUND)) if joints else None
    return Pieces(tuple(out), cuts, pin, tuple(joints), whole)


def _hollow(mesh: Mesh, wall: Metres, open_top: bool) -> Any:
    if wall <= 0:
        return None
    low, high = mesh.bounds
    if 2 * wall >= float((high - low).min()):
        raise InvalidInput("wall", "Two walls of {wall:length} are thicker than the hull.", wall=wall)
    inner = inset(mesh, wall, open_top)
    solid = solid_of(inner)
    if solid.is_empty() or inner.volume <= 0 or inner.volume >= mesh.volume:
        raise InvalidInput("wall", "A wall of {wall:length} leaves nothing hollow here; print it solid, or take a thinner one.", wall=wall)
    return solid


def _too_wide(body: Any, cuts: tuple[Metres, ...], bed: Bed, *, low: Metres, high: Metres) -> bool:
    """Whether a slab is wider than the bed in one piece, so that it is cut along the middle as well."""
    ends = [low - NUDGE, *cuts, high + NUDGE]
    return any(not _lies(_size(part), bed) for a, b in pairwise(ends) for part in _slab(body, a, b, False))


def _slab(body: Any, a: Metres, b: Metres, middle: bool) -> list[Any]:
    """The connected parts of a body between two stations; ``middle`` cuts those that lie across it along it."""
    slab = body.trim_by_plane((1.0, 0.0, 0.0), a).trim_by_plane((-1.0, 0.0, 0.0), -b)
    parts = [p for p in slab.decompose() if p.volume() > SCRAP * abs(body.volume())]
    if not middle:
        return parts
    out = []
    for p in parts:
        left, right = p.bounding_box()[1], p.bounding_box()[4]
        halves = p.split_by_plane((0.0, 1.0, 0.0), 0.0) if left < -NUDGE and right > NUDGE else (p,)
        out += [q for half in halves for q in half.decompose() if q.volume() > SCRAP * abs(body.volume())]
    return out


def _size(solid: Any) -> tuple[float, float, float]:
    x0, y0, z0, x1, y1, z1 = solid.bounding_box()
    return x1 - x0, y1 - y0, z1 - z0


def _lies(size: tuple[float, float, float], bed: Bed) -> bool:
    """Whether a part of so much length, breadth and depth lies on the bed, standing on end."""
    _, breadth, depth = size
    return max(breadth, depth) <= max(bed.length, bed.width) + 1e-9 and min(breadth, depth) <= min(bed.length, bed.width) + 1e-9


def _fits(piece: Piece, bed: Bed) -> None:
    x, y, z = (float(v) for v in np.ptp(piece.standing.bounds, axis=0))
    if z > bed.height + 1e-6 or not _lies((z, x, y), bed):
        sentence = "{name} is {x:length} by {y:length} by {z:length}, larger than the bed: take a larger one, or cut closer."
        raise InvalidInput("bed", sentence.replace("{name}", piece.name), x=x, y=y, z=z)


def _joints(outer: Any, body: Any, cuts: tuple[Metres, ...], middle: bool, bed: Bed) -> list[Joint]:
    """The pins: two in every part of every cut face that has the room for them."""
    out = [Joint(0, (x, y, z)) for x in cuts for y, z in _spots(outer, body, 0, x, bed)]
    return out + ([Joint(1, (x, 0.0, z)) for x, z in _spots(outer, body, 1, 0.0, bed, cuts)] if middle else [])


def _spots(outer: Any, body: Any, axis: int, at: Metres, bed: Bed, keep_off: Sequence[Metres] = ()) -> list[tuple[Metres, Metres]]:
    """Two places in every part of a face cut at ``at``, as far apart as they can be with their holes inside the body: in the plane's own
    two axes. In a thin wall they stand inside it, half a boss in."""
    from shapely import Point as Spot
    from shapely import box, unary_union

    hole, reach = bed.pin / 2 + bed.clearance, bed.deep + bed.clearance + RIM
    faces, walls = _face(outer, axis, at), _face(body, axis, at)
    there = [unary_union(_face(outer, axis, at + side * reach)) for side in (-1, 1)]
    solid = abs(sum(p.area for p in faces) - sum(p.area for p in walls)) <= 1e-6 * max(sum(p.area for p in faces), 1e-12)
    out: list[tuple[Metres, Metres]] = []
    for face in faces:
        room = face.intersection(there[0]).intersection(there[1]).buffer(-(hole + RIM))  # where the hull narrows a hole stays inside
        for x in keep_off:  # a pin along the middle keeps off the cuts across it
            room = room.difference(box(x - bed.deep - 2 * hole, -1e6, x + bed.deep + 2 * hole, 1e6))
        if not solid:
            room = room.boundary if not room.is_empty else room
        if room.is_empty:
            continue
        points = np.vstack([np.asarray(part.exterior.coords if part.geom_type == "Polygon" else part.coords) for part in _parts(room)])
        first = points[int(np.argmin(points[:, 0]))]
        last = points[int(np.argmax(np.hypot(*(points - first).T)))]
        out.append((float(first[0]), float(first[1])))
        if Spot(first).distance(Spot(last)) > 4 * hole:
            out.append((float(last[0]), float(last[1])))
    return out


def _parts(shape: Any) -> list[Any]:
    return [p for p in getattr(shape, "geoms", [shape]) if not p.is_empty]


def _face(solid: Any, axis: int, at: Metres) -> list[Any]:
    """The polygons of the section of a solid at a plane across ``axis`` (0: in y and z; 1: in x and z)."""
    from shapely import MultiPolygon, Polygon
    from shapely.ops import unary_union

    # turned so that the axis is up, the plane's own two axes keep their order
    turn = [[0, 1, 0, 0], [0, 0, 1, 0], [1, 0, 0, 0]] if axis == 0 else [[1, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0]]
    turned = solid.transform(np.array(turn, dtype=np.float64))
    section = turned.slice(at if axis == 0 else -at)
    rounds = [np.asarray(r) for r in section.to_polygons()]
    shapes = [Polygon(r) for r in rounds if len(r) > 2]
    outside = unary_union([s for s, r in zip(shapes, rounds, strict=True) if flat_area(r) > 0])
    inside = unary_union([s for s, r in zip(shapes, rounds, strict=True) if flat_area(r) <= 0])
    found = outside.difference(inside)
    return list(found.geoms) if isinstance(found, MultiPolygon) else [found] if not found.is_empty else []


def _along(joint: Joint, half: Metres, radius: Metres) -> Any:
    """A round bar through a joint, ``half`` to either side of the cut."""
    import manifold3d

    bar = manifold3d.Manifold.cylinder(2 * half, radius, circular_segments=ROUND, center=True)
    return bar.rotate((0.0, 90.0, 0.0) if joint.axis == 0 else (90.0, 0.0, 0.0)).translate(joint.at)


def _hole(joint: Joint, bed: Bed) -> Any:
    return _along(joint, bed.deep + bed.clearance, bed.pin / 2 + bed.clearance)


def _boss(joint: Joint, bed: Bed) -> Any:
    return _along(joint, bed.deep + bed.clearance + RIM, bed.pin / 2 + bed.clearance + RIM)


def _joined(parts: list[Any], bosses: Any, holes: Any, ends: tuple[Metres, Metres]) -> list[tuple[Any, CubicMetres, CubicMetres]]:
    """The parts of a slab with their bosses and holes, and what these add to each and take away. A boss belongs to the part that holds most
    of it, as far as no other is there."""
    before = [float(p.volume()) for p in parts]
    if bosses is not None:
        here = bosses.trim_by_plane((1.0, 0.0, 0.0), ends[0]).trim_by_plane((-1.0, 0.0, 0.0), -ends[1])
        for boss in here.decompose():
            shared = [float((boss ^ p).volume()) for p in parts]
            most = int(np.argmax(shared))
            own = boss
            for k, other in enumerate(parts):
                if k != most and shared[k] > 0:
                    own -= other
            if shared[most] > 0:
                parts[most] += own
    out = []
    for part, volume in zip(parts, before, strict=True):
        after = part - holes if holes is not None else part
        out.append((after, float(part.volume()) - volume, float(part.volume()) - float(after.volume())))
    return out


def _piece(name: str, solid: Any, *, on_fore: bool, extra: CubicMetres, taken: CubicMetres) -> Piece:
    mesh = surface_of(solid)
    turn = np.array(
        [[0.0, -1.0, 0.0], [0.0, 0.0, 1.0], [-1.0, 0.0, 0.0]] if on_fore else [[0.0, 1.0, 0.0], [0.0, 0.0, 1.0], [1.0, 0.0, 0.0]]
    )
    stood = Mesh(mesh.vertices @ turn.T, mesh.faces)
    low = stood.bounds[0]
    standing = stood.moved((-float(low[0]), -float(low[1]), -float(low[2])))
    return Piece(name, mesh, standing, mesh.volume, taken, extra)
