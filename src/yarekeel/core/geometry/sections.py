"""Where a plane across an axis cuts the surface: segments, closed outlines, and their areas."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.quantities import Metres, SquareMetres


class Cuts(NamedTuple):
    """Faces (k,) that planes cut, the number (k,) of each one's plane; ``ends`` (3, k) the lone corner on its side of the plane
    and the two after it, as numbers of vertices; ``heights`` (3, k) theirs over the plane; ``below`` (k,) whether it lies below."""

    faces: Ints
    place: Ints
    ends: Ints
    heights: Floats
    below: NDArray[np.bool_]


def cuts(mesh: Mesh, axis: int, places: Floats) -> Cuts:
    """Where the planes ``axis`` = ``places`` (n,), ascending, cut the triangles, all in one pass, face by face."""
    places = np.asarray(places, dtype=np.float64)
    over = np.searchsorted(places, mesh.vertices[:, axis], "right").astype(np.int32)
    one, two, three = (over.take(mesh.faces[:, k]) for k in range(3))
    first = np.minimum(np.minimum(one, two), three)
    times = np.maximum(np.maximum(one, two), three) - first
    cut = np.flatnonzero(times > 0)
    cut, start = np.repeat(cut, times[cut]), np.repeat(first[cut], times[cut])
    starts = np.flatnonzero(np.concatenate([[True], cut[1:] != cut[:-1]])) if len(cut) else np.zeros(0, dtype=np.intp)
    rank = np.arange(len(cut)) - np.repeat(starts, np.diff(np.append(starts, len(cut))))
    place = start + rank
    f = mesh.faces.take(cut, axis=0)
    h = mesh.vertices[:, axis].take(f) - places.take(place)[:, None]
    low = h < 0
    # Which corner stands alone on its side of the plane, by which of the three lie below it.
    lone = _LONE.take(low @ _BITS)
    turn = 3 * np.arange(len(cut))[:, None] + _TURN.take(lone, axis=0)
    return Cuts(cut, place, f.ravel().take(turn).T, h.ravel().take(turn).T, low.sum(axis=1) == 1)


def sections(mesh: Mesh, axis: int, places: Floats) -> tuple[Floats, Ints, Ints]:
    """Segments (k, 2, 3) where the planes ``axis`` = ``places`` (n,), ascending, cut the surface; the face (k,) each lies on,
    and the number (k,) of its place.

    Each runs so that, seen against the axis, the inside is on its left. All planes are cut in one pass.
    """
    cut, place, (a, b, c), (ha, hb, hc), below = cuts(mesh, axis, places)
    v = mesh.vertices
    # Seen so that the inside is on the left: the other way round where the lone corner is below.
    first, second, h1, h2 = np.where(below, c, b), np.where(below, b, c), np.where(below, hc, hb), np.where(below, hb, hc)
    start = v.take(a, axis=0)
    pieces = np.empty((len(cut), 2, 3))
    pieces[:, 0] = start + (ha / (ha - h1))[:, None] * (v.take(first, axis=0) - start)
    pieces[:, 1] = start + (ha / (ha - h2))[:, None] * (v.take(second, axis=0) - start)
    return pieces, cut, place


_BITS = np.array([1, 2, 4])
_LONE = np.array([0, 0, 1, 2, 2, 1, 0, 0])
"""The lone corner by the sum of the bits of the corners below; 0 and 7, none and all below, do not come up."""
_TURN = np.array([[0, 1, 2], [1, 2, 0], [2, 0, 1]])


def section(mesh: Mesh, axis: int, at: Metres) -> tuple[Floats, Ints]:
    """Segments (k, 2, 3) where the plane ``axis`` = ``at`` cuts the surface, and the face (k,) each lies on, as ``sections``."""
    pieces, faces, _ = sections(mesh, axis, np.array([at]))
    return pieces, faces


def outlines(mesh: Mesh, axis: int, at: Metres) -> list[Floats]:
    """The closed outlines, each (n, 3) with the inside on its left, that the plane ``axis`` = ``at`` cuts."""
    pieces, _ = section(mesh, axis, at)
    ends = np.unique(np.round(pieces.reshape(-1, 3), 12), axis=0, return_inverse=True)[1].reshape(-1, 2)
    following: dict[int, list[int]] = {}
    for k, (a, b) in enumerate(ends.tolist()):
        if a != b:
            following.setdefault(a, []).append(k)
    loops = []
    for start in list(following):
        while following[start]:
            k = following[start].pop()
            loop = [pieces[k, 0]]
            while ends[k, 1] != start and following.get(int(ends[k, 1])):
                k = following[int(ends[k, 1])].pop()
                loop.append(pieces[k, 0])
            if ends[k, 1] == start and len(loop) > 2:
                loops.append(np.array(loop))
    return loops


def area_of(outline: Floats, axis: int) -> SquareMetres:
    """Area within an outline (n, 3) across ``axis``; negative for the rim of a hole."""
    return flat_area(outline[:, [(axis + 1) % 3, (axis + 2) % 3]])


def flat_area(outline: Floats) -> SquareMetres:
    """Area within a flat outline (n, 2); negative where it runs round to the right."""
    u, v = outline.T
    return float(u @ np.roll(v, -1) - v @ np.roll(u, -1)) / 2
