"""Panels: the smooth faces of a hull between its chines, unrolled flat at full size where they develop, refused where they do not."""

import math
from collections import deque
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.quantities import Metres, Point, Ratio, SquareMetres

CHINE = math.radians(9.0)
"""Dihedral angle from which an edge parts two panels."""
DEVELOPS: Ratio = 1e-3
"""Of a panel's size: the worst gap between two ways of unrolling it, up to which it lies flat."""
TINY: Metres = 1e-12
FOLLOWED = 20_000
"""Triangles of a panel from which it is not unrolled further once it is known not to develop."""
SMALL: Ratio = 2e-3
"""Of the hull's skin: smaller pieces are rims and joints, no panels."""


@dataclass(frozen=True, eq=False)
class Panel:
    """A panel: its name, the faces of the mesh that it is made of, the flat outline (n, 2) in metres with the places (n, 3) that its
    corners have on the hull, its area flat and on the hull. ``gap`` is the worst between two ways of unrolling it, ``where`` on the hull;
    ``outline`` is empty where it does not develop, and ``why`` says so. ``pair``: two alike, one on each side."""

    name: str
    faces: tuple[int, ...]
    outline: Floats
    corners: Floats
    area: SquareMetres
    skin: SquareMetres
    gap: Metres
    where: Point
    why: str = ""
    pair: bool = False

    @property
    def develops(self) -> bool:
        """Whether it lies flat."""
        return len(self.outline) > 0

    @property
    def edges(self) -> Floats:
        """Lengths (n,) of the outline's sides, metres."""
        return np.asarray(np.linalg.norm(np.roll(self.outline, -1, axis=0) - self.outline, axis=1))


def panels_of(mesh: Mesh) -> tuple[Panel, ...]:
    """The panels of a welded mesh, the largest first; of two alike on both sides the port one stands for both."""
    normals, faces = mesh.normals, mesh.faces
    across: dict[tuple[int, int], list[int]] = {}
    for f, (a, b, c) in enumerate(faces.tolist()):
        for u, v in ((a, b), (b, c), (c, a)):
            across.setdefault((min(u, v), max(u, v)), []).append(f)
    smooth: list[list[tuple[int, tuple[int, int]]]] = [[] for _ in range(len(faces))]
    for edge, both in across.items():
        if len(both) == 2 and float(normals[both[0]] @ normals[both[1]]) > math.cos(CHINE):
            smooth[both[0]].append((both[1], edge))
            smooth[both[1]].append((both[0], edge))
    areas = mesh.areas
    patches = [p for p in _patches(smooth) if float(areas[p].sum()) > SMALL * mesh.area]
    patches.sort(key=lambda p: -float(areas[p].sum()))
    found = [_panel(mesh, patch, smooth, float(areas[patch].sum())) for patch in patches]
    return tuple(_named(mesh, found))


def _patches(smooth: list[list[tuple[int, tuple[int, int]]]]) -> Iterable[list[int]]:
    left = set(range(len(smooth)))
    while left:
        start = min(left)
        patch, queue = [], deque([start])
        left.discard(start)
        while queue:
            f = queue.popleft()
            patch.append(f)
            for other, _ in smooth[f]:
                if other in left:
                    left.discard(other)
                    queue.append(other)
        yield patch


def _panel(mesh: Mesh, patch: list[int], smooth: list[list[tuple[int, tuple[int, int]]]], skin: SquareMetres) -> Panel:
    """Triangles laid flat one beside the other, from the middle outwards; a corner that is reached twice tells the gap."""
    vertices, faces = mesh.vertices, mesh.faces
    inside = set(patch)
    middle = vertices[faces[patch]].mean(axis=(0, 1))
    start = patch[int(np.argmin(np.linalg.norm(vertices[faces[patch]].mean(axis=1) - middle, axis=1)))]
    a, b, c = (int(v) for v in faces[start])
    flat: dict[int, Floats] = {a: np.zeros(2), b: np.array([float(np.linalg.norm(vertices[b] - vertices[a])), 0.0])}
    flat[c] = _third(flat[a], flat[b], vertices, a, b, c, 1.0)
    loop = _rim(faces[patch])
    size = math.sqrt(skin)
    most = size * _curvature(mesh, patch, loop)
    enough = DEVELOPS * size if len(patch) > FOLLOWED and most > DEVELOPS * size else math.inf
    seen, queue = {start}, deque([start])
    worst, where = 0.0, a
    while queue and worst <= enough:
        f = queue.popleft()
        for other, (u, v) in smooth[f]:
            if other in seen or other not in inside:
                continue
            seen.add(other)
            third = next(int(w) for w in faces[other] if w not in (u, v))
            old = next(int(w) for w in faces[f] if w not in (u, v))
            along, to = flat[v] - flat[u], flat[old] - flat[u]
            side = -math.copysign(1.0, float(along[0] * to[1] - along[1] * to[0]))
            place = _third(flat[u], flat[v], vertices, u, v, third, side)
            if third in flat:
                gap = float(np.linalg.norm(flat[third] - place))
                if gap > worst:
                    worst, where = gap, third
            else:
                flat[third] = place
            queue.append(other)
    worst = min(worst, most)  # what folds over is told by how much it curves
    at = (float(vertices[where][0]), float(vertices[where][1]), float(vertices[where][2]))
    empty = np.zeros((0, 2))
    if worst > DEVELOPS * size:
        why = "it curves two ways" + (", and was followed only so far" if worst > enough else "")
        return Panel("", tuple(patch), empty, np.zeros((0, 3)), 0.0, skin, worst, at, why)
    outline = np.array([flat[v] for v in loop]) if loop else empty
    area = abs(float(outline[:, 0] @ np.roll(outline[:, 1], -1) - outline[:, 1] @ np.roll(outline[:, 0], -1))) / 2 if loop else 0.0
    if not loop or abs(area - skin) > DEVELOPS * skin:
        return Panel(
            "", tuple(patch), empty, np.zeros((0, 3)), area, skin, worst, at, "unrolled it would lie over itself, or it has a hole"
        )
    return Panel("", tuple(patch), outline, vertices[loop], area, skin, worst, at)


def _curvature(mesh: Mesh, patch: list[int], rim: list[int]) -> float:
    """How much a patch curves two ways: over its inner corners, what the angles of its faces lack of a full turn, summed, in radians."""
    faces = mesh.faces[patch]
    corners = mesh.vertices[faces]
    angles = np.zeros(len(mesh.vertices))
    for k in range(3):
        u, v = corners[:, (k + 1) % 3] - corners[:, k], corners[:, (k + 2) % 3] - corners[:, k]
        size = np.maximum(np.linalg.norm(u, axis=1) * np.linalg.norm(v, axis=1), TINY)
        angles += np.bincount(faces[:, k], np.arccos(np.clip((u * v).sum(axis=1) / size, -1, 1)), len(angles))
    inner = np.zeros(len(angles), dtype=bool)
    inner[faces] = True
    inner[rim] = False
    return float(np.abs(2 * math.pi - angles[inner]).sum())


def _third(p: Floats, q: Floats, vertices: Floats, u: int, v: int, w: int, side: float) -> Floats:
    """Where the third corner of a triangle lies flat, on the ``side`` of the line from p to q."""
    long = max(float(np.linalg.norm(vertices[v] - vertices[u])), TINY)
    one, two = float(np.linalg.norm(vertices[w] - vertices[u])), float(np.linalg.norm(vertices[w] - vertices[v]))
    x = (one**2 - two**2 + long**2) / (2 * long)
    y = math.sqrt(max(one**2 - x**2, 0.0))
    ux, uy = (q - p) / long
    return np.array([p[0] + x * ux - side * y * uy, p[1] + x * uy + side * y * ux])


def _rim(faces: Ints) -> list[int]:
    """Corners along the one rim of a patch, in order; none where it has several or none."""
    edges: dict[int, int] = {}
    count: dict[tuple[int, int], int] = {}
    for a, b, c in faces.tolist():
        for u, v in ((a, b), (b, c), (c, a)):
            count[(u, v)] = 1
    for u, v in count:
        if (v, u) not in count:
            if u in edges:
                return []
            edges[u] = v
    if not edges:
        return []
    start = next(iter(edges))
    loop, at = [start], edges[start]
    while at != start and len(loop) <= len(edges):
        loop.append(at)
        at = edges.get(at, start)
    return loop if len(loop) == len(edges) else []


def _named(mesh: Mesh, found: list[Panel]) -> Iterable[Panel]:
    """Each by where it looks; two alike are one pair, and a number tells those of one name apart."""
    import dataclasses

    names: dict[str, int] = {}
    done: set[int] = set()
    for k, p in enumerate(found):
        if k in done:
            continue
        centre, normal = _middle(mesh, p)
        twin = next((j for j in range(k + 1, len(found)) if j not in done and _mirrored(mesh, p, found[j], centre)), None)
        if twin is not None:
            done.add(twin)
            p = p if centre[1] >= 0 else found[twin]  # noqa: PLW2901 the port one
        flat = "bottom" if normal[2] < -0.6 else "deck" if normal[2] > 0.6 else "end" if abs(normal[0]) > 0.7 else "side"
        names[flat] = names.get(flat, 0) + 1
        name = flat if names[flat] == 1 else f"{flat} {names[flat]}"
        yield dataclasses.replace(p, name=name, pair=twin is not None)


def _middle(mesh: Mesh, p: Panel) -> tuple[Floats, Floats]:
    vectors = mesh.area_vectors[list(p.faces)]
    weights = np.linalg.norm(vectors, axis=1)
    centre = (mesh.centres[list(p.faces)] * weights[:, None]).sum(axis=0) / weights.sum()
    total = vectors.sum(axis=0)
    return centre, total / max(float(np.linalg.norm(total)), 1e-12)


def _mirrored(mesh: Mesh, p: Panel, other: Panel, centre: Floats) -> bool:
    if abs(p.skin - other.skin) > 1e-4 * p.skin or abs(float(centre[1])) < 1e-6:
        return False
    there, _ = _middle(mesh, other)
    return bool(np.linalg.norm(there * [1, -1, 1] - centre) < 1e-3 * math.sqrt(p.skin))
