"""What is wrong with an imported mesh, what of it is mended, and what a builder is asked about it."""

from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.checks import open_edges
from yarekeel.core.geometry.crossings import crossing_faces
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.joined import pieces
from yarekeel.core.geometry.mesh import Floats, Ints, Mesh, joined, without_copies, without_folds
from yarekeel.core.geometry.union import simplified_to, united
from yarekeel.core.quantities import Ratio
from yarekeel.exchange.mesh_in import RawMesh, welded_exactly

COMFORTABLE = 200_000
"""Triangles above which a mesh is simplified, with consent: below it every step stays quick."""
SMALL_HOLE: Ratio = 0.05
"""A hole whose rim is shorter than this share of the mesh's size is closed; a larger one is the builder's to close."""
MOST_HOLES = 2_000
"""Of a mesh with more it is the surface that is missing."""
CRUMB: Ratio = 1e-3
"""A loose shell with less than this share of the largest one's volume is left out."""
NEAR: Ratio = 1e-6
"""Share of the mesh's size within which two corners are one; float32 files are no finer."""


@dataclass(frozen=True, eq=False)
class Inspection:
    """A mesh in its file's own unit, looked over. ``fault`` is the sentence that refuses it, ``fault_edges`` (k, 2, 3) where.

    ``mended`` says what was done. ``triangles`` is how many the file has, where the mesh was simplified to stay quick; ``lost``
    is the share of volume that cost.
    """

    mesh: Mesh
    unit: str | None
    mended: tuple[str, ...] = ()
    fault: str = ""
    fault_edges: Floats | None = None
    triangles: int = 0
    lost: Ratio = 0.0


def inspect(raw: RawMesh) -> Inspection:
    """Look a mesh over and mend what is small: duplicate corners, folded and flipped faces, small holes, crumbs."""
    mended: list[str] = []
    whole = welded_exactly(raw)
    mesh = without_copies(whole)
    uneven = open_edges(mesh.faces)
    if (copies := len(whole.faces) - len(mesh.faces)) and not len(open_edges(whole.faces)):  # closed with its copies and without
        mended.append("the same surface stood more than once in one place, and one was taken")
    elif copies:
        mended.append(_count(copies, "doubled face", "was dropped", "were dropped"))
    if len(uneven):
        mesh, uneven = _mend(mesh, mended)
    if len(mesh.faces) == 0:
        return Inspection(mesh, raw.unit, fault="The mesh holds no triangles with an area; a closed hull surface is needed.")
    if len(uneven):
        return Inspection(
            mesh=mesh, unit=raw.unit, mended=tuple(mended), fault=_open_sentence(mesh, uneven), fault_edges=mesh.vertices[uneven]
        )
    mesh, shells = _shells_righted(mesh, mended)
    low, high = mesh.bounds if len(mesh.faces) else (np.zeros(3), np.ones(3))
    if mesh.volume < 1e-9 * float(np.prod(np.maximum(high - low, 1e-12))):
        return Inspection(mesh, raw.unit, tuple(mended), "The mesh encloses no volume; a closed hull with an inside is needed.")
    return _checked_within(mesh, shells, raw.unit, mended)


def _checked_within(mesh: Mesh, shells: Ints, unit: str | None, mended: list[str]) -> Inspection:
    """The checks that need a closed mesh: crossings, walls, size."""
    whole_volume = mesh.volume
    triangles = len(mesh.faces) if len(mesh.faces) > COMFORTABLE else 0
    if triangles:
        mesh = simplified_to(mesh, COMFORTABLE, 1e-5, 0.04)
        if len(mesh.faces) > COMFORTABLE:
            sentence = f"The mesh has {len(mesh.faces)} triangles and could not be simplified; export it coarser."
            return Inspection(mesh, unit, tuple(mended), sentence)
        shells = Hull(mesh).parts
    crossed = crossing_faces(mesh)
    apart = [Mesh(mesh.vertices, mesh.faces[shells == k]) for k in range(int(shells.max()) + 1)]
    solid = [one for one in apart if one.volume > 0]
    if len(crossed) and (len(solid) < len(apart) or any(len(crossing_faces(one)) for one in solid)):
        rims = mesh.corners[crossed][:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2, 3)
        x, y, z = mesh.corners[crossed[0]].mean(axis=0)
        sentence = f"The surface runs through itself: {len(crossed)} triangles cross others, the first near {x:.4g}, {y:.4g}, {z:.4g}."
        return Inspection(
            mesh=mesh, unit=unit, mended=tuple(mended), fault=sentence + " Unite the parts in CAD and export again.", fault_edges=rims
        )
    if len(solid) > 1:
        whole = united(solid)
        if whole.volume < (1 - NEAR) * sum(one.volume for one in solid):
            mended.append(f"{len(solid)} closed parts overlapped and were united")
            mesh = joined([whole, *(one for one in apart if one.volume <= 0)])
    lost = mesh.volume / whole_volume - 1 if triangles else 0.0
    return Inspection(mesh, unit, tuple(mended), triangles=triangles, lost=lost)


def _mend(mesh: Mesh, mended: list[str]) -> tuple[Mesh, Ints]:
    """Join near corners, drop doubled faces, turn flipped ones, close small holes; the edges still open come with it."""
    low, high = mesh.bounds
    size = float(np.linalg.norm(high - low))
    before = len(mesh.vertices)
    mesh = _joined_near(mesh, NEAR * size)
    if len(mesh.vertices) < before:
        mended.append(_count(before - len(mesh.vertices), "duplicate corner", "was joined", "were joined"))
    _, first = np.unique(np.sort(mesh.faces, axis=1), axis=0, return_index=True)
    if len(first) < len(mesh.faces):
        mended.append(_count(len(mesh.faces) - len(first), "doubled face", "was dropped", "were dropped"))
        mesh = Mesh(mesh.vertices, mesh.faces[np.sort(first)])
    faces = _wound_alike(mesh.faces)
    turned = int((faces != mesh.faces).any(axis=1).sum())
    if turned:
        mesh = Mesh(mesh.vertices, faces)
        mended.append(_count(min(turned, len(faces) - turned), "flipped face", "was turned", "were turned"))
    filled = _small_holes(mesh, SMALL_HOLE * size)
    if filled:
        mesh = Mesh(mesh.vertices, np.vstack([mesh.faces, *filled]))
        mended.append(_count(len(filled), "small hole", "was closed", "were closed"))
    return mesh, open_edges(mesh.faces) if len(mesh.faces) else np.zeros((0, 2), dtype=np.intp)


def _count(n: int, thing: str, one: str, many: str) -> str:
    return f"{n} {thing} {one}" if n == 1 else f"{n} {thing}s {many}"


def _joined_near(mesh: Mesh, reach: float) -> Mesh:
    from scipy.spatial import cKDTree  # long to load

    n = len(mesh.vertices)
    pairs = cKDTree(mesh.vertices).query_pairs(reach, output_type="ndarray")
    label = pieces(n, pairs[:, 0], pairs[:, 1])
    _, first = np.unique(label, return_index=True)
    f = label[mesh.faces]
    real = (f[:, 0] != f[:, 1]) & (f[:, 1] != f[:, 2]) & (f[:, 2] != f[:, 0])
    return Mesh(mesh.vertices[first], f[real])


def _wound_alike(faces: Ints) -> Ints:
    """Faces turned so that neighbours run their common edge opposite ways, shell by shell; the fewer are turned."""
    ends = np.sort(np.vstack([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]]), axis=1)
    forward = np.concatenate([faces[:, k] < faces[:, (k + 1) % 3] for k in range(3)])
    owner = np.tile(np.arange(len(faces)), 3)
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    ends, forward, owner = ends[order], forward[order], owner[order]
    same = (ends[1:] == ends[:-1]).all(axis=1)
    pairs = np.flatnonzero(same & ~np.concatenate([[False], same[:-1]]) & ~np.concatenate([same[1:], [False]]))
    a, b, clash = owner[pairs], owner[pairs + 1], forward[pairs] == forward[pairs + 1]
    # Two copies of every face, one turned: neighbours that clash join across, others alike. A shell is one piece of it.
    n = len(faces)
    left = np.concatenate([np.where(clash, a + n, a), np.where(clash, a, a + n)])
    right = np.concatenate([b, b + n])
    label = pieces(2 * n, left, right)
    shell = np.minimum(label[:n], label[n:])
    turn = label[:n] != shell
    # Turn the fewer of each shell.
    turned, all_of = np.bincount(shell, weights=turn), np.bincount(shell)
    turn ^= (2 * turned > all_of)[shell]
    return np.where(turn[:, None], faces[:, ::-1], faces)


def _small_holes(mesh: Mesh, longest: float) -> list[Ints]:
    """Fans that close every rim loop shorter than ``longest``, and every one of three sides: only one face fits that."""
    f = mesh.faces
    edges = np.vstack([f[:, [0, 1]], f[:, [1, 2]], f[:, [2, 0]]])
    span = len(mesh.vertices)
    forward, backward = edges[:, 0] * span + edges[:, 1], edges[:, 1] * span + edges[:, 0]
    rim = edges[~np.isin(forward, backward)][:, ::-1]  # a filling face runs the rim the other way
    following = dict(rim.tolist())
    if len(following) != len(rim):
        return []
    fans: list[Ints] = []
    while following:
        if len(fans) > MOST_HOLES:
            return []
        start, at = following.popitem()
        loop = [start]
        while at != start and at in following:
            loop.append(at)
            at = following.pop(at)
        points = mesh.vertices[loop]
        around = float(np.linalg.norm(points - np.roll(points, -1, axis=0), axis=1).sum())
        if at == start and len(loop) >= 3 and (len(loop) == 3 or around < longest):
            k = np.array(loop)
            fans.append(np.stack([np.full(len(k) - 2, k[0]), k[1:-1], k[2:]], axis=1))
    return fans


def _open_sentence(mesh: Mesh, uneven: Ints) -> str:
    x, y, z = mesh.vertices[uneven[0]].mean(axis=0)
    return (
        f"The mesh is not closed: {len(uneven)} edges have no matching neighbour, the first near {x:.4g}, {y:.4g}, {z:.4g} "
        "in the file's own unit. Close it in CAD and export again."
    )


def _shells_righted(mesh: Mesh, mended: list[str]) -> tuple[Mesh, Ints]:
    """Crumbs left out, and a mesh that is inside out turned; the number of each face's shell comes with it."""
    mesh = without_folds(mesh)
    f = mesh.faces
    if not len(f):
        return mesh, np.zeros(0, dtype=np.intp)
    group = pieces(len(mesh.vertices), np.r_[f[:, 0], f[:, 0]], np.r_[f[:, 1], f[:, 2]])
    _, shell = np.unique(group[f[:, 0]], return_inverse=True)
    shell = np.asarray(shell).reshape(-1)
    a, b, c = (mesh.corners[:, k] for k in range(3))
    volumes = np.bincount(shell, weights=np.einsum("ij,ij->i", a, np.cross(b, c)) / 6)
    crumbs = np.abs(volumes) < CRUMB * np.abs(volumes).max()
    if crumbs.any():
        mended.append(_count(int(crumbs.sum()), "stray crumb", "was left out", "were left out"))
        keep = ~crumbs[shell]
        mesh, shell = Mesh(mesh.vertices, f[keep]), np.unique(shell[keep], return_inverse=True)[1]
        volumes = volumes[~crumbs]
    if volumes[np.abs(volumes).argmax()] < 0:
        mesh = Mesh(mesh.vertices, mesh.faces[:, ::-1])
        mended.append("the mesh was inside out and was turned")
    return mesh, shell
