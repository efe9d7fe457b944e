"""The edges of a mesh with the faces on both sides: deck edges, silhouettes and creases come from these."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.geometry.attitude import Rows
from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import Metres, Point

CREASE = 0.88
"""Cosine of the angle between neighbouring faces below which their edge is drawn as a line (28 deg)."""
DECK_UP = 0.5
"""Least upward part of the normal of a face that counts as deck (steeper than 60 deg is a side)."""


@dataclass(frozen=True, eq=False)
class Edges:
    """Each edge once: its end ``points`` (e, 2) as left face ``left`` (e,) runs it; ``right`` (e,) is the other face."""

    mesh: Mesh
    points: Ints
    left: Ints
    right: Ints

    @cached_property
    def is_crease(self) -> NDArray[np.bool_]:
        """Where the surface turns sharply, (e,)."""
        n = self.mesh.normals
        return np.asarray(np.einsum("ij,ij->i", n[self.left], n[self.right]) < CREASE)

    def convex(self, which: Ints) -> NDArray[np.bool_]:
        """Where the surface turns away from itself at the edges ``which`` (k,): a rim rather than an inside corner, (k,)."""
        n, c = self.mesh.normals, self.mesh.centres
        left, right = self.left[which], self.right[which]
        return np.asarray(np.einsum("ij,ij->i", n[left], c[right] - c[left]) < 0)


def edges_of(mesh: Mesh) -> Edges:
    """The edges of a closed, consistently wound mesh; where four faces meet in a line they are paired as they come."""
    f = mesh.faces
    directed = np.vstack([f[:, [0, 1]], f[:, [1, 2]], f[:, [2, 0]]])
    face = np.tile(np.arange(len(f)), 3)
    low, high = directed.min(axis=1), directed.max(axis=1)
    forward = directed[:, 0] == low
    key = low * (len(mesh.vertices) + 1) + high
    ahead, back = np.flatnonzero(forward), np.flatnonzero(~forward)
    ahead, back = ahead[np.argsort(key[ahead])], back[np.argsort(key[back])]
    return Edges(mesh, directed[ahead], face[ahead], face[back])


def deck_edge(edges: Edges) -> Ints:
    """Numbers (k, 2) of the end points of the pieces of the deck's rim: convex creases between an upward face and a side.

    Where a body has no such rim (a ball, a log) its highest points stand in for it.
    """
    up = edges.mesh.normals[:, 2] > DECK_UP
    rim = np.flatnonzero((up[edges.left] != up[edges.right]) & edges.is_crease)
    rim = rim[edges.convex(rim)]
    if len(rim):
        return edges.points[rim]
    heights = edges.mesh.vertices[:, 2]
    top = np.flatnonzero(heights > heights.max() - 1e-9)
    return np.stack([top, top], axis=1)


def silhouette(edges: Edges, towards: Point) -> tuple[list[Ints], NDArray[np.bool_]]:
    """Closed loops of vertices around the faces seen from direction ``towards`` (boat axes), and which faces those are.

    Filled by the non-zero rule the loops cover exactly what the body hides.
    """
    seen = edges.mesh.normals @ np.asarray(towards) > 1e-9
    out = seen[edges.left] & ~seen[edges.right]
    back = ~seen[edges.left] & seen[edges.right]
    directed = np.vstack([edges.points[out], edges.points[back][:, ::-1]])
    return _loops(directed), seen


def _loops(directed: Ints) -> list[Ints]:
    """Chains directed edges into closed loops; every vertex is left as often as it is entered."""
    following: dict[int, list[int]] = {}
    for a, b in directed.tolist():
        following.setdefault(a, []).append(b)
    loops = []
    for start in list(following):
        while following[start]:
            loop, at = [start], following[start].pop()
            while at != start and following.get(at):
                loop.append(at)
                at = following[at].pop()
            loops.append(np.array(loop, dtype=np.intp))
    return loops


def projected(points: Floats, rows: Rows, height: Metres) -> Floats:
    """World coordinates (..., 3) of points in boat axes, the third above the surface."""
    world = points @ np.array(rows).T
    world[..., 2] += height
    return np.asarray(world)
