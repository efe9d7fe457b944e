"""A closed triangle mesh, and the measures that need no water."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.once import cached_property
from yarekeel.core.quantities import CubicMetres, Metres, Ratio, SquareMetres

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]


def frozen(array: NDArray[np.generic]) -> NDArray[np.generic]:
    """The same array, contiguous and read-only."""
    out = np.ascontiguousarray(array)
    out.setflags(write=False)
    return out


def cross(a: Floats, b: Floats) -> Floats:
    """Cross products, row by row (n, 3); three times as quick as the general one."""
    out = np.empty_like(a)
    out[:, 0] = a[:, 1] * b[:, 2] - a[:, 2] * b[:, 1]
    out[:, 1] = a[:, 2] * b[:, 0] - a[:, 0] * b[:, 2]
    out[:, 2] = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    return out


@dataclass(frozen=True, eq=False)
class Mesh:
    """Triangles over shared vertices, faces wound so that normals point out of the boat.

    ``vertices`` (n, 3) in metres, ``faces`` (m, 3) indices. Both are read-only. Equality is identity.
    """

    vertices: Floats
    faces: Ints

    def __post_init__(self) -> None:
        object.__setattr__(self, "vertices", frozen(np.asarray(self.vertices, dtype=np.float64)))
        object.__setattr__(self, "faces", frozen(np.asarray(self.faces, dtype=np.intp)))

    @property
    def footprint(self) -> int:
        """Bytes that it takes once everything about it was asked for; measured, 180 a triangle."""
        return 200 * len(self.faces)

    @cached_property
    def corners(self) -> Floats:
        """Corner points, (m, 3, 3): triangle, corner, axis."""
        return self.vertices[self.faces]

    @cached_property
    def centres(self) -> Floats:
        """Mean of each triangle's corners, (m, 3) metres."""
        f, v = self.faces, self.vertices
        return np.asarray((v[f[:, 0]] + v[f[:, 1]] + v[f[:, 2]]) / 3)

    @cached_property
    def area_vectors(self) -> Floats:
        """Outward area vectors of the triangles, m2, (m, 3)."""
        a, b, c = self.corners[:, 0], self.corners[:, 1], self.corners[:, 2]
        return 0.5 * cross(b - a, c - a)

    @cached_property
    def areas(self) -> Floats:
        """Area of each triangle, m2, (m,)."""
        return np.asarray(np.sqrt(np.einsum("ij,ij->i", self.area_vectors, self.area_vectors)))

    @cached_property
    def normals(self) -> Floats:
        """Unit outward normals, (m, 3); zero for a triangle without area."""
        length = self.areas[:, None]
        return self.area_vectors / np.where(length > 0, length, 1.0)

    @cached_property
    def volume(self) -> CubicMetres:
        """Enclosed volume by signed tetrahedra; negative when the faces are wound inwards."""
        a, b, c = self.corners[:, 0], self.corners[:, 1], self.corners[:, 2]
        return float(np.einsum("ij,ij->", a, cross(b, c)) / 6)

    @cached_property
    def centroid(self) -> Floats:
        """Centre of the enclosed volume, (3,) metres, by the same tetrahedra."""
        a, b, c = self.corners[:, 0], self.corners[:, 1], self.corners[:, 2]
        parts = np.einsum("ij,ij->i", a, cross(b, c)) / 6
        return np.asarray(parts @ (a + b + c) / 4 / parts.sum())

    @cached_property
    def second_moments(self) -> Floats:
        """Second moments of the enclosed volume about its centroid, (3, 3) m5; a tetrahedron's: V / 20 (sum v v' + s s')."""
        corners = self.corners - self.centroid
        parts = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6
        total = corners.sum(axis=1)
        pairs = np.einsum("m,mki,mkj->ij", parts, corners, corners) + np.einsum("m,mi,mj->ij", parts, total, total)
        return np.asarray(pairs / 20)

    @cached_property
    def area(self) -> SquareMetres:
        """Area of the whole surface."""
        return float(self.areas.sum())

    @cached_property
    def spans(self) -> tuple[Floats, Floats]:
        """Least and greatest coordinates of each triangle, two (m, 3) arrays, metres."""
        a, b, c = (self.vertices[self.faces[:, k]] for k in range(3))
        return np.minimum(np.minimum(a, b), c), np.maximum(np.maximum(a, b), c)

    @cached_property
    def bounds(self) -> tuple[Floats, Floats]:
        """Least and greatest corner of the axis-parallel box, two (3,) arrays, metres."""
        used = np.zeros(len(self.vertices), dtype=bool)
        used[self.faces.reshape(-1)] = True
        points = self.vertices if used.all() else self.vertices[used]
        return points.min(axis=0), points.max(axis=0)

    @property
    def length(self) -> Metres:
        """Extent along x."""
        low, high = self.bounds
        return float(high[0] - low[0])

    def moved(self, offset: tuple[Metres, Metres, Metres]) -> "Mesh":
        """The same mesh shifted by ``offset`` (3,) metres."""
        return Mesh(self.vertices + np.asarray(offset, dtype=np.float64), self.faces)

    def scaled(self, factor: Ratio) -> "Mesh":
        """The same mesh with every length multiplied by ``factor``."""
        return Mesh(self.vertices * factor, self.faces)


def block(length: Metres, beam: Metres, depth: Metres) -> Mesh:
    """A box: aft bottom edge at x = 0, centred on y = 0, z from 0 up; twelve triangles."""
    v = np.array([[i, j, k] for i in (0, length) for j in (-beam / 2, beam / 2) for k in (0, depth)], dtype=np.float64)
    quads = ((0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3))
    return Mesh(v, np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))]))


def joined(meshes: list[Mesh]) -> Mesh:
    """Several meshes as one list of triangles; nothing is united, so they must not overlap."""
    offsets = np.cumsum([0] + [len(m.vertices) for m in meshes[:-1]])
    return Mesh(
        np.vstack([m.vertices for m in meshes]),
        np.vstack([m.faces + offset for m, offset in zip(meshes, offsets, strict=True)]),
    )


def without_folds(mesh: Mesh) -> Mesh:
    """The mesh less its pairs of triangles that lie back to back on the same three corners: they enclose nothing."""
    f = mesh.faces
    a, b, c = np.sort(f, axis=1).T.astype(np.int64)
    span = len(mesh.vertices)
    key = (a * span + b) * span + c if span < 2_000_000 else _rows_numbered(np.stack([a, b, c], axis=1))
    order = np.argsort(key)
    twice = np.flatnonzero(key[order[1:]] == key[order[:-1]])
    if not len(twice):
        return mesh
    _, group = np.unique(key, return_inverse=True)
    # Of three different numbers in a ring, two rise or one does: that tells which way round a triangle runs.
    way = 2 * ((f[:, 0] < f[:, 1]).astype(int) + (f[:, 1] < f[:, 2]) + (f[:, 2] < f[:, 0])) - 3
    balance = np.bincount(group, weights=way)
    return mesh if balance.all() else Mesh(mesh.vertices, f[balance[group] != 0])


def without_copies(mesh: Mesh) -> Mesh:
    """The mesh less triangles that stand twice on the same corners, the same way round: a surface exported twice in one place."""
    f = mesh.faces
    if not len(f):
        return mesh
    turn = f.argmin(axis=1)  # each begun at its smallest corner, so that equal ones are equal rows
    rows = f[np.arange(len(f))[:, None], (turn[:, None] + np.arange(3)) % 3].astype(np.int64)
    _, first = np.unique(_rows_numbered(rows), return_index=True)
    return mesh if len(first) == len(f) else Mesh(mesh.vertices, f[np.sort(first)])


def _rows_numbered(rows: NDArray[np.int64]) -> NDArray[np.int64]:
    return np.asarray(np.unique(rows, axis=0, return_inverse=True)[1]).reshape(-1).astype(np.int64)


def merged(vertices: NDArray[np.floating[Any]], faces: Ints) -> Mesh:
    """A mesh with equal rows of ``vertices`` (n, 3), single or double precision, made one and triangles without three
    different corners dropped.

    Vertices keep the order in which they first appear, so that a hull of slightly other sizes is numbered alike.
    """
    order, new = _equal_rows_together(vertices)
    group = np.cumsum(new) - 1
    first = np.minimum.reduceat(order, np.flatnonzero(new)) if len(order) else order
    rank = np.empty(len(first), dtype=np.intp)
    by_appearance = np.argsort(first)
    rank[by_appearance] = np.arange(len(first))
    number = np.empty(len(vertices), dtype=np.intp)
    number[order] = rank[group]
    f = number[faces]
    real = (f[:, 0] != f[:, 1]) & (f[:, 1] != f[:, 2]) & (f[:, 2] != f[:, 0])
    return Mesh(vertices[first[by_appearance]].astype(np.float64), f[real])


def _equal_rows_together(rows: NDArray[np.floating[Any]]) -> tuple[Ints, NDArray[np.bool_]]:
    """An order that puts equal rows side by side, and where in it a new row begins: by a hash of the rows' bytes, which is
    several times quicker to sort than three columns; by the columns themselves in the rare case that two hashes fall together."""
    columns = np.ascontiguousarray(rows.T)
    x, y, z = columns.view(np.uint64 if rows.dtype == np.float64 else np.uint32).astype(np.uint64, copy=False)
    key = (
        x * np.uint64(0x9E3779B97F4A7C15)
        ^ (y * np.uint64(0xC2B2AE3D27D4EB4F) + np.uint64(1))
        ^ (z * np.uint64(0x165667B19E3779F9) + np.uint64(7))
    )
    order = np.argsort(key)
    for _ in range(2):
        differs = np.zeros(max(len(rows) - 1, 0), dtype=bool)
        for column in columns:
            ordered = column[order]
            differs |= ordered[1:] != ordered[:-1]
        new = np.concatenate([[True], differs]) if len(rows) else np.zeros(0, dtype=bool)
        keys = key[order]
        if not (differs & (keys[1:] == keys[:-1])).any():
            return order, new
        order, key = np.lexsort(rows.T[::-1]), np.arange(len(rows), dtype=np.uint64)
    return order, new


def welded(vertices: Floats, faces: Ints, decimals: int = 10) -> Mesh:
    """A mesh with equal points (to ``decimals`` places) merged and triangles without three different corners dropped."""
    return merged(np.round(vertices, decimals) + 0.0, faces)
