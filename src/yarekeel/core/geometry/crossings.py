"""Where a surface runs through itself. Triangles that only touch do not count."""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.geometry.mesh import Floats, Ints, Mesh

TOUCH = 1e-7
"""Share of the whole size within which two triangles only touch; float32 files are no finer."""
BATCH = 500_000


def crossing_faces(mesh: Mesh, most: int = 1000) -> Ints:
    """Faces (k,) that cross another face of the same mesh, ascending; the search ends once ``most`` pairs are found.

    Exact up to ``TOUCH``: two triangles cross when an edge of one runs through the inside of the other. Triangles in one
    plane, and neighbours folded onto each other, are not found.
    """
    corners = mesh.corners
    low, high = corners.min(axis=1), corners.max(axis=1)
    size = float((high.max(axis=0) - low.min(axis=0)).max())
    tolerance = TOUCH * size
    found: list[Ints] = []
    count = 0
    for first, second in _near(low, high, tolerance):
        pairs = _not_beside(mesh, first, second, tolerance)
        crossed = pairs[_cross(mesh, pairs, tolerance)]
        if len(crossed):
            found.append(crossed.reshape(-1))
            count += len(crossed)
            if count >= most:
                break
    return np.unique(np.concatenate(found)) if found else np.zeros(0, dtype=np.intp)


def _near(low: Floats, high: Floats, tolerance: float) -> Iterator[tuple[Ints, Ints]]:
    """Pairs of triangles whose boxes overlap by more than a touch, each once. Boxes are sorted into grids by their size."""
    extent = np.maximum((high - low).max(axis=1), 16 * tolerance)
    level = np.ceil(np.log2(extent)).astype(int)
    origin = low.min(axis=0)
    bottoms, tops = [np.ascontiguousarray(c) for c in (low - tolerance / 2).T], [np.ascontiguousarray(c) for c in (high + tolerance / 2).T]
    for at in np.unique(level):
        own, probing = np.flatnonzero(level == at), np.flatnonzero(level <= at)
        cell = float(extent[own].max()) * (1 + 1e-9)
        key_own, who_own = _cells(low[own], high[own], origin, cell)
        key_probe, who_probe = _cells(low[probing], high[probing], origin, cell)
        order = np.argsort(key_own, kind="stable")
        key_own, who_own = key_own[order], own[who_own[order]]
        who_probe = probing[who_probe]
        start = np.searchsorted(key_own, key_probe, "left")
        times = np.searchsorted(key_own, key_probe, "right") - start
        bounds = np.concatenate([[0], np.cumsum(times)])
        mixed = len(own) < len(probing)
        row = 0
        while row < len(times):
            end = max(row + 1, int(np.searchsorted(bounds, bounds[row] + BATCH, "right")) - 1)
            n = times[row:end]
            probe = np.repeat(np.arange(row, end), n)
            other = who_own[np.repeat(start[row:end] - bounds[row:end], n) + np.arange(bounds[row], bounds[end])]
            mine = who_probe[probe]
            # A pair of one size is met from both sides; one of two sizes only from the smaller.
            keep = np.flatnonzero((mine < other) | (level[mine] < at) if mixed else mine < other)
            mine, other, probe = mine[keep], other[keep], probe[keep]
            for bottom, top in zip(bottoms, tops, strict=True):
                keep = np.flatnonzero((top[mine] > bottom[other]) & (top[other] > bottom[mine]))
                mine, other, probe = mine[keep], other[keep], probe[keep]
            cells = np.floor((np.maximum(low[mine], low[other]) - origin) / cell).astype(np.int64)
            keep = np.flatnonzero(_key(cells) == key_probe[probe])  # met in several cells, counted in one
            yield mine[keep], other[keep]
            row = end


def _key(cells: NDArray[np.int64]) -> NDArray[np.int64]:
    return np.asarray((cells[:, 0] * 2_097_152 + cells[:, 1]) * 2_097_152 + cells[:, 2])


def _cells(low: Floats, high: Floats, origin: Floats, cell: float) -> tuple[NDArray[np.int64], Ints]:
    """Keys of the grid cells each box reaches into (a box spans two at most along each axis), and whose they are."""
    a, b = np.floor((low - origin) / cell).astype(np.int64), np.floor((high - origin) / cell).astype(np.int64)
    keys, whose = [], []
    for corner in range(8):
        pick = np.array([corner & 1, corner >> 1 & 1, corner >> 2 & 1], dtype=bool)
        new = (~pick | (a != b)).all(axis=1)
        keys.append(_key(np.where(pick, b, a)[new]))
        whose.append(np.flatnonzero(new))
    return np.concatenate(keys), np.concatenate(whose)


def _not_beside(mesh: Mesh, first: Ints, second: Ints, tolerance: float) -> Ints:
    """The pairs (k, 2) in which each triangle has corners on both sides of the other's plane."""
    for _ in range(2):
        normal, plane = mesh.normals[first], np.einsum("pj,pj->p", mesh.normals[first], mesh.corners[first, 0])
        a, b, c = (np.einsum("pj,pj->p", mesh.corners[second, k], normal) - plane for k in range(3))
        keep = np.minimum(np.minimum(a, b), c) < -tolerance
        keep &= np.maximum(np.maximum(a, b), c) > tolerance
        first, second = second[keep], first[keep]
    return np.stack([first, second], axis=1)


def _cross(mesh: Mesh, pairs: Ints, tolerance: float) -> NDArray[np.bool_]:
    crossed = np.zeros(len(pairs), dtype=bool)
    for a, b in ((0, 1), (1, 0)):
        tri, face = mesh.corners[pairs[:, b]], pairs[:, a]
        n, base = mesh.normals[face], mesh.corners[face]
        side = np.einsum("pcj,pj->pc", tri - base[:, :1], n)
        for k in range(3):
            p, q = side[:, k], side[:, (k + 1) % 3]
            through = ((p > tolerance) & (q < -tolerance)) | ((p < -tolerance) & (q > tolerance))
            row = np.flatnonzero(through & ~crossed)
            if not len(row):
                continue
            part = (p[row] / (p[row] - q[row]))[:, None]
            at = tri[row, k] + part * (tri[row, (k + 1) % 3] - tri[row, k])
            inside = np.ones(len(row), dtype=bool)
            for e in range(3):
                start, edge = base[row, e], base[row, (e + 1) % 3] - base[row, e]
                reach = np.einsum("pj,pj->p", np.cross(edge, at - start), n[row])
                inside &= reach > tolerance * np.linalg.norm(edge, axis=1)
            crossed[row[inside]] = True
    return crossed
