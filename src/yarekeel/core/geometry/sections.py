"""Where a plane across an axis cuts the surface: segments, closed outlines, and their areas."""

import numpy as np

from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.quantities import Metres, SquareMetres


def sections(mesh: Mesh, axis: int, places: Floats) -> tuple[Floats, Ints, Ints]:
    """Segments (k, 2, 3) where the planes ``axis`` = ``places`` (n,), ascending, cut the surface; the face (k,) each lies on,
    and the number (k,) of its place.

    Each runs so that, seen against the axis, the inside is on its left. All planes are cut in one pass.
    """
    places = np.asarray(places, dtype=np.float64)
    least, greatest = mesh.spans
    first = np.searchsorted(places, least[:, axis], "right")
    times = np.searchsorted(places, greatest[:, axis], "right") - first
    cut = np.flatnonzero(times > 0)
    cut, start = np.repeat(cut, times[cut]), np.repeat(first[cut], times[cut])
    starts = np.flatnonzero(np.concatenate([[True], cut[1:] != cut[:-1]])) if len(cut) else np.zeros(0, dtype=np.intp)
    rank = np.arange(len(cut)) - np.repeat(starts, np.diff(np.append(starts, len(cut))))
    place = start + rank
    f = mesh.faces[cut]
    v = mesh.vertices
    h = v[f, axis] - places[place][:, None]
    low = h < 0
    count = low.sum(axis=1)
    lone = np.where(count == 1, np.argmax(low, axis=1), np.argmin(low, axis=1))
    row = np.arange(len(cut))
    turn = (lone[:, None] + np.arange(3)) % 3
    a, b, c = f[row[:, None], turn].T
    ha, hb, hc = h[row[:, None], turn].T
    pieces = np.stack([v[a] + (ha / (ha - hb))[:, None] * (v[b] - v[a]), v[a] + (ha / (ha - hc))[:, None] * (v[c] - v[a])], axis=1)
    below = count == 1
    pieces[below] = pieces[below, ::-1]
    return pieces, cut, place


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
    u, v = outline[:, (axis + 1) % 3], outline[:, (axis + 2) % 3]
    return float(u @ np.roll(v, -1) - v @ np.roll(u, -1)) / 2
