"""The flotation kernel: volume, first moments and waterplane of a closed mesh under any plane.

With the origin on the water plane, the signed tetrahedra (origin, a, b, c) over the wet part of each face give volume
and first moments without a cap, since the cap's tetrahedra are flat (divergence theorem). The waterplane's area and
moments come from the cut segments by Green's theorem.

A triangle with two or three wet corners counts whole; then the tip at the lone corner is added or taken off. So the
whole triangles become one product ``mask @ table`` of 16 numbers a triangle, and one small formula serves the tips.
A corner is wet if its height is strictly below zero, decided once a vertex: planes through vertices need no special case.
Meshes of many triangles are grouped in blocks along a Morton curve; only blocks that the plane cuts are opened.
"""

import math
from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.errors import Unsolved
from yarekeel.core.geometry.attitude import Rows
from yarekeel.core.geometry.by_faces import ByFaces
from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import CubicMetres, Metres, Point, Ratio, SquareMetres
from yarekeel.core.stopping import checkpoint

BLOCK_FROM = 10_000
"""Triangles from which blocks pay (measured, see `make bench`)."""
BLOCK, LARGE_BLOCK, LARGE_FROM = 8, 16, 60_000
"""Triangles in a block, and from how many in all the larger are used: small enough that few dry ones are opened, large enough that
few boxes are tested (measured)."""
MOST_PLANES = 80

# By wet pattern (bit k = corner k wet): is the whole counted, is it cut, which corner is alone, and with which sign.
_WHOLE = np.array([0, 0, 0, 1, 0, 1, 1, 1], dtype=np.float64)
_CUT = np.array([0, 1, 1, 1, 1, 1, 1, 0], dtype=bool)
_RING = np.array([0, 0, 1, 2, 2, 1, 0, 0], dtype=np.intp) + np.arange(3)[:, None]
_SIGN = np.array([0, 1, 1, -1, 1, -1, -1, 0], dtype=np.float64)


class Immersed(NamedTuple):
    """What lies below the plane, in world axes with the origin on the plane under the kernel's centre.

    ``volume`` m3; ``mx, my, mz`` its first moments, m4; ``area`` m2, ``sx, sy`` m3 and ``sxx, syy, sxy`` m4 of the waterplane.
    """

    volume: CubicMetres
    mx: float
    my: float
    mz: float
    area: SquareMetres
    sx: float
    sy: float
    sxx: float
    syy: float
    sxy: float


def centre_below(m: Immersed, centre: Point, rows: Rows, d: Metres) -> Point:
    """Centroid in boat axes of what lies below the plane ``rows[2] . p = d`` (p from the kernel's ``centre``)."""
    world = (m.mx / m.volume, m.my / m.volume, m.mz / m.volume + d)
    x, y, z = (centre[k] + sum(world[n] * rows[n][k] for n in range(3)) for k in range(3))
    return x, y, z


class Evaluator(Protocol):
    """Anything the equilibrium solver can ask: ours, or a slow general library's in the benchmarks."""

    centre: Point
    total_volume: CubicMetres
    half_extent: Metres

    def evaluate(self, rows: Rows, d: Metres) -> Immersed: ...

    def first_guess(self, volume: CubicMetres) -> Metres: ...


def plane_of(
    kernel: Evaluator, rows: Rows, volume: CubicMetres, start: Metres, *, reach: Metres | None = None, close: Ratio = 1e-12
) -> tuple[Metres, Immersed]:
    """Height over the kernel's centre, along the world's up, of the plane that has ``volume`` below it, and the sums there.

    Newton's method on volume, whose slope is the plane's area, kept inside a shrinking bracket of ``reach`` to either side;
    0 < volume < the whole. Raises Unsolved where ``MOST_PLANES`` are not enough.
    """
    high = kernel.half_extent if reach is None else reach
    low, d = -high, min(max(start, -high), high)
    for _ in range(MOST_PLANES):
        m = kernel.evaluate(rows, d)
        miss = m.volume - volume
        if abs(miss) <= close * kernel.total_volume:
            return d, m
        low, high = (low, d) if miss > 0 else (d, high)
        step = d - miss / m.area if m.area > 0 else math.nan
        d = step if low < step < high else (low + high) / 2
    if high - low > 1e-9 * kernel.half_extent:
        raise Unsolved("No draft was found that displaces as much.")
    return d, m


class Flotation:
    """The kernel over one closed mesh. Building it costs a few evaluations; keep it while the shape is the same.

    Internally the mesh is recentred on its box, so that precision does not depend on where the origin was put; on ``about``
    (boat axes) where several are to be added up.
    """

    def __init__(self, mesh: Mesh, about: Point | None = None) -> None:
        low, high = mesh.bounds
        middle = (low + high) / 2 if about is None else np.array(about)
        self.centre: Point = (float(middle[0]), float(middle[1]), float(middle[2]))
        self.half_extent: Metres = float(np.linalg.norm(high - low) / 2)
        self.total_volume: CubicMetres = mesh.volume
        middles = ((low + high) / 2 - middle).tolist()
        self.middle: Point = (middles[0], middles[1], middles[2])
        """Of the mesh's box, from ``centre``."""
        self.mesh = mesh
        points = mesh.vertices - middle
        faces = mesh.faces
        count = len(faces)
        self._blocked = count >= BLOCK_FROM
        if self._blocked:
            whole = faces  # stretched or moved, neighbours stay neighbours
            faces = faces[_ORDER.of(whole, lambda: morton_order(points[whole[:, 0]] + points[whole[:, 1]] + points[whole[:, 2]]))]
            faces = self._filled_up(faces)
        self._vt = np.ascontiguousarray(points.T)
        # One row of numbers for each corner and axis: sums over long rows are several times as quick as over short ones.
        a, b, c = ([row.take(faces[:, k]) for row in self._vt] for k in range(3))
        table = _table_of(a, b, c)
        self._prepare_guess((a[2] + b[2] + c[2])[:count] / 3, table[3, :count] / 2)
        if self._blocked:
            self._prepare_blocks((a, b, c), table)
        else:
            self._table = np.ascontiguousarray(table.T)
            self._corners = np.ascontiguousarray(faces.T)
            self._ring = np.ascontiguousarray(faces[:, [0, 1, 2, 0, 1]]).reshape(-1)

    @property
    def footprint(self) -> int:
        """Bytes that it takes beside its mesh; measured, 300 a triangle."""
        return 300 * len(self.mesh.faces)

    @cached_property
    def centroid(self) -> Point:
        """Of the whole volume, boat axes."""
        x, y, z = self.mesh.centroid.tolist()
        return x, y, z

    def _prepare_guess(self, heights: Floats, projected: Floats) -> None:
        order = np.argsort(heights)
        self._levels = heights[order]
        self._sum_n = np.cumsum(projected[order])
        self._sum_nz = np.cumsum((projected * heights)[order])
        # Volume under each level with every face taken at its centroid: near enough to start from.
        self._volumes = np.maximum.accumulate(self._sum_nz - self._sum_n * self._levels)

    def _filled_up(self, faces: Ints) -> Ints:
        """The faces with as many without area after them as fill the last block."""
        self._block = BLOCK if len(faces) < LARGE_FROM else LARGE_BLOCK
        spare = -len(faces) % self._block
        return np.vstack([faces, np.repeat(faces[-1:, :1], 3, axis=1).repeat(spare, axis=0)]) if spare else faces

    def _prepare_blocks(self, corners: tuple[list[Floats], list[Floats], list[Floats]], table: Floats) -> None:
        block = self._block
        self._axes = (np.arange(3) * block)[:, None, None]
        self._lone = _RING % 3 * block
        count = table.shape[1] // block
        self._block_table = np.ascontiguousarray((table.reshape(-1, block) @ np.ones(block)).reshape(16, count).T)
        self._table = np.ascontiguousarray(table.reshape(16, count, block).transpose(1, 2, 0)).reshape(count, block * 16)
        # Corner coordinates, one row a block: 9 numbers by block triangles, taken whole when the plane cuts the block.
        rows = np.empty((count, 3, 3, block))  # corner, axis, triangle
        middle, half, starts = np.empty((3, count)), np.empty((3, count)), np.arange(count) * block
        for axis in range(3):
            one, two, three = (corner[axis] for corner in corners)
            for k, row in enumerate((one, two, three)):
                rows[:, k, axis] = row.reshape(count, block)
            low = np.minimum.reduceat(np.minimum(np.minimum(one, two), three), starts)
            high = np.maximum.reduceat(np.maximum(np.maximum(one, two), three), starts)
            middle[axis], half[axis] = (low + high) / 2, (high - low) / 2
        self._open = rows.reshape(count, 9 * block)
        self._box_middle, self._box_half = middle, half

    def first_guess(self, volume: CubicMetres) -> Metres:
        """Height of the plane over the centre at which the level boat displaces about ``volume``."""
        return float(np.interp(volume, self._volumes, self._levels))

    def evaluate(self, rows: Rows, d: Metres) -> Immersed:
        """Everything below the plane ``rows[2] . p = d`` (p from the centre, boat axes). A checkpoint of the work."""
        checkpoint()
        return (self._evaluate_blocks if self._blocked else self._evaluate_plain)(rows, d)

    def _evaluate_plain(self, rows: Rows, d: Metres) -> Immersed:
        world = np.array(rows) @ self._vt
        h = world[2]
        h -= d
        wet = (h < 0).view(np.uint8).take(self._corners)
        pattern = wet[0]
        pattern += wet[1]
        pattern += wet[1]
        pattern += wet[2] << 2
        whole = _WHOLE.take(pattern) @ self._table
        cut = _CUT.take(pattern).nonzero()[0]
        kind = pattern.take(cut)
        ring = self._ring.take(_RING.take(kind, axis=1) + cut * 5)
        return _assemble(whole, _tips(world.take(ring, axis=1), _SIGN.take(kind)), rows, d)

    def _evaluate_blocks(self, rows: Rows, d: Metres) -> Immersed:
        up, size = rows[2], self._block
        middle, half = self._box_middle, self._box_half
        centre = up[0] * middle[0]
        centre += up[1] * middle[1]
        centre += up[2] * middle[2]
        centre -= d
        reach = abs(up[0]) * half[0]
        reach += abs(up[1]) * half[1]
        reach += abs(up[2]) * half[2]
        whole = np.asarray(centre < -reach, dtype=np.float64) @ self._block_table
        cut_blocks = np.flatnonzero(np.abs(centre) <= reach)
        p = self._open.take(cut_blocks, axis=0).reshape(-1, 3, 3, size)  # block, corner, axis, triangle
        h = up[0] * p[:, :, 0]
        h += up[1] * p[:, :, 1]
        h += up[2] * p[:, :, 2]
        h -= d  # block, corner, triangle
        wet = (h < 0).view(np.uint8)
        pattern = (wet[:, 0] + (wet[:, 1] << 1) + (wet[:, 2] << 2)).reshape(-1)
        mask = _WHOLE.take(pattern)
        whole = whole + mask @ self._table.take(cut_blocks, axis=0).reshape(-1, 16)
        cut = _CUT.take(pattern).nonzero()[0]
        kind = pattern.take(cut)
        lone = self._lone.take(kind, axis=1)  # times the size
        start = cut // size * size  # of the block
        # Flat places of the lone corner and its two followers in ``p``, then axis by axis.
        points = p.reshape(-1).take(3 * lone + (cut + 8 * start) + self._axes)
        corners = np.empty_like(points)
        np.matmul(np.array(rows[:2]), points.reshape(3, -1), out=corners[:2].reshape(2, -1))
        corners[2] = h.reshape(-1).take(lone + (cut + 2 * start))
        return _assemble(whole, _tips(corners, _SIGN.take(kind)), rows, d)


def _table_of(a: list[Floats], b: list[Floats], c: list[Floats]) -> Floats:
    """(16, m): of every triangle six times the volume below it to the origin, its normal (3), its first moment (3), and its normal's
    products with the sum of its corners (9). The corners as rows x, y, z of (m,)."""
    table = np.empty((16, len(a[0])))
    det = table[0]
    edges = [(b[k] - a[k], c[k] - a[k]) for k in range(3)]
    total = [a[k] + b[k] + c[k] for k in range(3)]
    det[:] = 0.0
    for k in range(3):
        i, j = (k + 1) % 3, (k + 2) % 3
        np.subtract(edges[i][0] * edges[j][1], edges[j][0] * edges[i][1], out=table[1 + k])
        det += a[k] * (b[i] * c[j] - b[j] * c[i])
    for k in range(3):
        np.multiply(det, total[k], out=table[4 + k])
        for j in range(3):
            np.multiply(table[1 + k], total[j], out=table[7 + 3 * k + j])
    return table


def _tips(corners: Floats, sign: Floats) -> Floats:
    """Sums over the tips at the lone corners, the 8 x 8 products of (px, qx, py, qy, ax, ay, az, 1) weighted by p x q.

    ``corners`` (axis, corner, k) in world coordinates with the origin on the plane, the lone corner a first; p and q are
    where the plane cuts a-b and a-c. Every sum that is needed is one of these products: one multiplication for them all.
    """
    lone = corners[:, :1]
    span = corners[:, 1:] - lone
    span[:2] *= lone[2] / -span[2]
    span[:2] += lone[:2]
    x = np.empty((8, len(sign)))
    x[:4] = span[:2].reshape(4, -1)
    x[4:7] = corners[:, 0]
    x[7] = 1.0
    cross = x[0] * x[3]
    cross -= x[2] * x[1]
    cross *= sign
    return np.asarray((x * cross) @ x.T)


def _assemble(whole: Floats, tips: Floats, rows: Rows, d: Metres) -> Immersed:
    """Sum of whole triangles (about the centre, boat axes) and tips (about the plane's origin, world axes)."""
    w = whole.tolist()
    px, qx, py, qy, _, _, az, one = tips.tolist()
    (r00, r01, r02), (r10, r11, r12), (ux, uy, uz) = rows
    ox, oy, oz = d * ux, d * uy, d * uz
    six_v = w[0] - (ox * w[1] + oy * w[2] + oz * w[3])
    # First moment about the plane's origin: sum (D - o.N)(S + o)/24 - o V, with V = six_v/6
    shift = six_v - 4.0 * six_v
    mx = w[4] - (ox * w[7] + oy * w[10] + oz * w[13]) + ox * shift
    my = w[5] - (ox * w[8] + oy * w[11] + oz * w[14]) + oy * shift
    mz = w[6] - (ox * w[9] + oy * w[12] + oz * w[15]) + oz * shift
    return Immersed(
        (six_v + az[7]) / 6,
        (r00 * mx + r01 * my + r02 * mz + az[0] + az[1] + az[4]) / 24,
        (r10 * mx + r11 * my + r12 * mz + az[2] + az[3] + az[5]) / 24,
        (ux * mx + uy * my + uz * mz + az[6]) / 24,
        -one[7] / 2,
        -(one[0] + one[1]) / 6,
        -(one[2] + one[3]) / 6,
        -(px[0] + px[1] + qx[1]) / 12,
        -(py[2] + py[3] + qy[3]) / 12,
        -(2 * px[2] + px[3] + qx[2] + 2 * qx[3]) / 24,
    )


_ORDER = ByFaces()


def morton_order(points: Floats) -> NDArray[np.intp]:
    """Order along a Morton (Z-order) curve, so that neighbours in space are neighbours in memory; points (m, 3)."""
    low, high = points.min(axis=0), points.max(axis=0)
    span = np.where(high > low, high - low, 1.0)
    cells = ((points - low) / span * 1023).astype(np.uint64)
    code = np.zeros(len(points), dtype=np.uint64)
    for bit in range(10):
        for axis in range(3):
            code |= ((cells[:, axis] >> np.uint64(bit)) & np.uint64(1)) << np.uint64(3 * bit + axis)
    return np.argsort(code)
