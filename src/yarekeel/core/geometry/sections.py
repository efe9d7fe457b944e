"""Where a plane across an axis cuts the surface: segments, closed outlines, and their areas."""

import numpy as np

from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.quantities import Metres, SquareMetres


def section(mesh: Mesh, axis: int, at: Metres) -> tuple[Floats, Ints]:
    """Segments (k, 2, 3) where the plane ``axis`` = ``at`` cuts the surface, and the face (k,) each lies on.

    Each runs so that, seen against the axis, the inside is on its left.
    """
    least, greatest = mesh.spans
    cut = np.flatnonzero((least[:, axis] < at) & (greatest[:, axis] >= at))
    f = mesh.faces[cut]
    h = mesh.vertices[:, axis] - at
    low = h[f] < 0
    count = low.sum(axis=1)
    lone = np.where(count == 1, np.argmax(low, axis=1), np.argmin(low, axis=1))
    row = np.arange(len(cut))
    a, b, c = f[row, lone], f[row, (lone + 1) % 3], f[row, (lone + 2) % 3]
    v = mesh.vertices

    def between(p: Ints, q: Ints) -> Floats:
        part = (h[p] / (h[p] - h[q]))[:, None]
        return np.asarray(v[p] + part * (v[q] - v[p]))

    pieces = np.stack([between(a, b), between(a, c)], axis=1)
    below = count == 1
    pieces[below] = pieces[below, ::-1]
    return pieces, cut


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
