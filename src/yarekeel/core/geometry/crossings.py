"""Where a surface runs through itself. Triangles that only touch do not count."""

from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.errors import InvalidMesh
from yarekeel.core.geometry.edges import edges_of
from yarekeel.core.geometry.flotation import morton_order
from yarekeel.core.geometry.joined import pieces
from yarekeel.core.geometry.mesh import Floats, Ints, Mesh

TOUCH = 1e-7
"""Share of the whole size within which two triangles only touch; float32 files are no finer."""
BATCH = 500_000
PATCHED_FROM = 20_000
"""Triangles from which patches pay."""
SMOOTH = np.radians(80.0)
"""How far the triangles of a patch may face from its mean direction."""
PATCH = 32
"""Triangles in a patch."""
MOST_PAIRS, MORE_PAIRS = 1_000_000, 60
"""Pairs of triangles in one another's way that are looked at, and more for each triangle: a hull has some ten of each, surfaces that lie
on one another have as many as you like."""


def crossing_faces(mesh: Mesh, most: int = 1000) -> Ints:
    """Faces (k,) that cross another face of the same mesh, ascending; the search ends once ``most`` pairs are found.

    Meshes of many triangles are looked at patch by patch: two patches that hang together, all of whose triangles face within
    less than a right angle of one direction, are taken to be free of crossings (P. Volino and N. Magnenat-Thalmann, Computer
    Graphics Forum 13(3), 1994, without their test of the outline, which only a patch that winds round over itself fails). For
    the rest the search is exact up to ``TOUCH``: two triangles cross when an edge of one runs through the inside of the other.
    Triangles in one plane, and neighbours folded onto each other, are not found. Raises InvalidMesh where more than ``MOST_PAIRS`` lie so
    near one another that it would never end.
    """
    low, high = mesh.spans
    size = float((high.max(axis=0) - low.min(axis=0)).max())
    tolerance = TOUCH * size
    found: list[Ints] = []
    count = 0
    most_near = MOST_PAIRS + MORE_PAIRS * len(mesh.faces)
    near = _near(low, high, tolerance) if len(mesh.faces) < PATCHED_FROM else _near_by_patches(mesh, low, high, tolerance)
    for first, second in _counted(near, most_near):
        pairs = _not_beside(mesh, first, second, tolerance)
        crossed = pairs[_cross(mesh, pairs, tolerance)]
        if len(crossed):
            found.append(crossed.reshape(-1))
            count += len(crossed)
            if count >= most:
                break
    return np.unique(np.concatenate(found)) if found else np.zeros(0, dtype=np.intp)


def _counted(near: Iterator[tuple[Ints, Ints]], most: int) -> Iterator[tuple[Ints, Ints]]:
    """The pairs as they come, up to ``most``. Raises InvalidMesh."""
    seen = 0
    for first, second in near:
        seen += len(first)
        if seen > most:
            raise InvalidMesh("file", "Its triangles lie on one another too often to be checked; unite the parts in CAD and export again.")
        yield first, second


def _near(low: Floats, high: Floats, tolerance: float) -> Iterator[tuple[Ints, Ints]]:
    """Pairs of triangles whose boxes overlap or touch, each once. Boxes are sorted into grids by their size."""
    extent = np.maximum((high - low).max(axis=1), 16 * tolerance)
    level = np.ceil(np.log2(extent)).astype(int)
    origin = low.min(axis=0)
    # Single precision is enough to sort boxes, given the width of a touch; it halves the memory that has to be moved.
    slack = 2 * tolerance
    bottoms = [np.ascontiguousarray(c, dtype=np.float32) for c in (low - origin - slack).T]
    tops = [np.ascontiguousarray(c, dtype=np.float32) for c in (high - origin + slack).T]
    for at in np.unique(level):
        own, smaller = np.flatnonzero(level == at), np.flatnonzero(level < at)
        cell = float(extent[own].max()) * (1 + 1e-9)
        key_own, who_own = _cells(low[own], high[own], origin, cell)
        order = np.argsort(key_own)
        key_own, who_own = key_own[order], own[who_own[order]].astype(np.int32)
        ends = np.searchsorted(key_own, key_own, "right")
        here = np.arange(len(key_own))
        # Boxes of one size meet in a cell each once, the later with the earlier; smaller ones meet all that are there.
        runs = [(key_own, who_own, here + 1, ends - here - 1)]
        if len(smaller):
            key, who = _cells(low[smaller], high[smaller], origin, cell)
            start = np.searchsorted(key_own, key, "left")
            runs.append((key, smaller[who].astype(np.int32), start, np.searchsorted(key_own, key, "right") - start))
        for key, who, start, times in runs:
            for probing, met in _batches(start, times, who_own):
                probe, other, mine = probing, met, who[probing]
                for bottom, top in zip(bottoms, tops, strict=True):
                    keep = np.flatnonzero((top[mine] > bottom[other]) & (top[other] > bottom[mine]))
                    mine, other, probe = mine[keep], other[keep], probe[keep]
                cells = np.floor((np.maximum(low[mine], low[other]) - origin) / cell).astype(np.int64)
                keep = np.flatnonzero(_key(cells) == key[probe])  # met in several cells, counted in one
                yield mine[keep].astype(np.intp), other[keep].astype(np.intp)


def _near_by_patches(mesh: Mesh, low: Floats, high: Floats, tolerance: float) -> Iterator[tuple[Ints, Ints]]:
    """As ``_near``, but without the pairs within smooth connected patches and between such neighbours."""
    patch = _patches(mesh)
    order = np.argsort(patch)
    starts = np.flatnonzero(np.concatenate([[True], np.diff(patch[order]) > 0]))
    size = np.diff(np.append(starts, len(order)))
    boxes = np.minimum.reduceat(low[order], starts), np.maximum.reduceat(high[order], starts)
    normals = mesh.normals[order]
    axes = np.add.reduceat(normals, starts)
    axes /= np.maximum(np.linalg.norm(axes, axis=1, keepdims=True), 1e-12)
    facing = np.minimum.reduceat(np.einsum("ij,ij->i", normals, np.repeat(axes, size, axis=0)), starts)
    spread = np.arccos(np.clip(facing, -1, 1))
    smooth = spread < SMOOTH
    firsts, seconds = (
        np.concatenate(side) for side in zip(*_counted(_near(*boxes, tolerance), MOST_PAIRS + MORE_PAIRS * len(mesh.faces)), strict=True)
    )
    angle = np.arccos(np.clip(np.einsum("ij,ij->i", axes[firsts], axes[seconds]), -1, 1))
    safe = smooth[firsts] & smooth[seconds] & (angle + np.maximum(spread[firsts], spread[seconds]) < SMOOTH)
    known = _neighbours(mesh, patch, smooth)
    key = np.minimum(firsts, seconds) * len(starts) + np.maximum(firsts, seconds)
    safe &= known[np.minimum(np.searchsorted(known, key), len(known) - 1)] == key
    rough = np.flatnonzero(~smooth)
    firsts, seconds = np.concatenate([firsts[~safe], rough]), np.concatenate([seconds[~safe], rough])
    bounds = np.cumsum(size[firsts] * size[seconds])
    at = 0
    while at < len(firsts):
        end = max(at + 1, int(np.searchsorted(bounds, (bounds[at - 1] if at else 0) + BATCH, "right")))
        a, b = firsts[at:end], seconds[at:end]
        n = size[a] * size[b]
        within = np.arange(int(n.sum())) - np.repeat(np.cumsum(n) - n, n)
        wide = np.repeat(size[b], n)
        mine, other = order[np.repeat(starts[a], n) + within // wide], order[np.repeat(starts[b], n) + within % wide]
        keep = np.flatnonzero(np.repeat(a != b, n) | (mine < other))
        mine, other = mine[keep], other[keep]
        for k in range(3):
            keep = np.flatnonzero((high[mine, k] > low[other, k] - tolerance) & (high[other, k] > low[mine, k] - tolerance))
            mine, other = mine[keep], other[keep]
        yield mine, other
        at = end


def _patches(mesh: Mesh) -> Ints:
    """The number of each face's patch (m,): what hangs together by its edges of some ``PATCH`` faces that lie together."""
    count = len(mesh.faces)
    block = np.empty(count, dtype=np.intp)
    block[morton_order(mesh.centres)] = np.arange(count) // PATCH
    edges = edges_of(mesh)
    inner = block[edges.left] == block[edges.right]
    return pieces(count, edges.left[inner], edges.right[inner])


def _neighbours(mesh: Mesh, patch: Ints, smooth: NDArray[np.bool_]) -> Ints:
    """Keys, ascending, of the pairs of patches that share a corner, or a smooth neighbour."""
    from scipy.sparse import csr_array  # long to load

    count = len(smooth)
    ones = np.ones(mesh.faces.size, dtype=np.int32)
    touches = csr_array((ones, (np.repeat(patch, 3), mesh.faces.reshape(-1))), shape=(count, len(mesh.vertices)))
    beside = ((touches @ touches.T) > 0).astype(np.int32)
    through = beside @ csr_array((smooth.astype(np.int32), (np.arange(count), np.arange(count))), shape=(count, count)) @ beside
    a, b = (through + beside).tocoo().coords
    return np.sort(np.append(a[a < b].astype(np.intp) * count + b[a < b], -1))


def _batches(start: Any, times: Any, who: Any) -> Iterator[tuple[Any, Any]]:
    """Each entry's number as often as it has partners, and the partners, some ``BATCH`` at a time."""
    bounds = np.concatenate([[0], np.cumsum(times)])
    row = 0
    while row < len(times):
        end = max(row + 1, int(np.searchsorted(bounds, bounds[row] + BATCH, "right")) - 1)
        n = times[row:end]
        probe = np.repeat(np.arange(row, end, dtype=np.int32), n)
        shift = np.repeat((start[row:end] - bounds[row:end]).astype(np.int32), n)
        yield probe, who[shift + np.arange(bounds[row], bounds[end], dtype=np.int32)]
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
