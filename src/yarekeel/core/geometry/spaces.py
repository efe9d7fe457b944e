"""Spaces inside a body: what lies between bulkheads, and the wall of a hollow one."""

from typing import Any

import numpy as np

from yarekeel.core.errors import InvalidMesh
from yarekeel.core.geometry.edges import DECK_UP
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.union import solid_of, surface_of
from yarekeel.core.quantities import Metres, Point, Ratio

Corner = tuple[Metres | None, Metres | None, Metres | None]
LEAST: Ratio = 1e-9
"""Of the body's volume: less than that is nothing."""


def clipped(mesh: Mesh, low: Corner, high: Corner) -> Mesh | None:
    """What of a closed mesh lies between the planes x, y, z = ``low`` and ``high`` (None: no plane there); None for nothing."""
    if all(v is None for v in (*low, *high)):
        return mesh
    solid = solid_of(mesh)
    for axis in range(3):
        for value, way in ((low[axis], 1.0), (high[axis], -1.0)):
            if value is not None:
                solid = solid.trim_by_plane(tuple(way if k == axis else 0.0 for k in range(3)), way * value)
    return _left(solid, mesh)


def below(mesh: Mesh, up: Point, height: Metres) -> Mesh | None:
    """What of a closed mesh lies under the plane ``up`` . p = ``height``; None for nothing."""
    return _left(solid_of(mesh).trim_by_plane((-up[0], -up[1], -up[2]), -height), mesh)


def _left(solid: Any, mesh: Mesh) -> Mesh | None:
    if solid.is_empty() or solid.volume() < LEAST * abs(mesh.volume):
        return None
    try:
        return surface_of(solid)
    except InvalidMesh:
        return None


def encloses(mesh: Mesh, point: Point) -> bool:
    """Whether a point lies inside a closed mesh: the solid angles of its faces then add up to a whole turn (A. van Oosterom and
    J. Strackee, IEEE Trans. Biomed. Eng. 30 (1983), eq. 8)."""
    low, high = mesh.bounds
    at = np.asarray(point, dtype=np.float64)
    if np.any(at < low) or np.any(at > high):
        return False
    a, b, c = (mesh.corners[:, k] - at for k in range(3))
    la, lb, lc = (np.linalg.norm(v, axis=1) for v in (a, b, c))
    dot = la * lb * lc + np.einsum("ij,ij->i", a, b) * lc + np.einsum("ij,ij->i", b, c) * la + np.einsum("ij,ij->i", c, a) * lb
    angle = 2 * np.arctan2(np.einsum("ij,ij->i", a, np.cross(b, c)), dot)
    return bool(angle.sum() > 2 * np.pi)


def inset(mesh: Mesh, thickness: Metres, open_top: bool, between: tuple[Corner, Corner] = ((None,) * 3, (None,) * 3)) -> Mesh:
    """The inner face of a wall of ``thickness``: every corner moved in so that its faces move by about that much.

    With ``open_top`` the faces that look up do not count, so that an open boat's rim stays where it is; nor do those that lie
    in a plane the mesh was cut ``between``, whose corners stay in it. Meant for walls that are thin against the body; the
    corners keep their numbers, and the faces theirs.
    """
    normals, areas = mesh.normals, mesh.areas
    counts = normals[:, 2] < DECK_UP if open_top else np.ones(len(normals), dtype=bool)
    held = np.zeros(mesh.vertices.shape, dtype=bool)
    for corner in between:
        for axis, value in enumerate(corner):
            if value is not None:
                on = np.abs(mesh.vertices[:, axis] - value) < 1e-7
                counts = counts & ~on[mesh.faces].all(axis=1)
                held[:, axis] |= on
    if open_top:
        held[mesh.faces[normals[:, 2] >= DECK_UP].ravel(), 2] = True
    weight = np.where(counts, areas, 0.0)
    lean = np.zeros_like(mesh.vertices)
    for k in range(3):
        np.add.at(lean, mesh.faces[:, k], normals * weight[:, None])
    size = np.linalg.norm(lean, axis=1, keepdims=True)
    lean = np.divide(lean, size, out=np.zeros_like(lean), where=size > 0)
    # How much of the way along its lean each of a corner's faces sees, by area: the faces must move by the thickness.
    seen, share = np.zeros(len(lean)), np.zeros(len(lean))
    for k in range(3):
        np.add.at(seen, mesh.faces[:, k], np.einsum("ij,ij->i", normals, lean[mesh.faces[:, k]]) * weight)
        np.add.at(share, mesh.faces[:, k], weight)
    along = np.clip(np.divide(seen, share, out=np.ones_like(seen), where=share > 0), 0.2, 1.0)
    step = np.where(held, 0.0, thickness * lean / along[:, None])
    return Mesh(mesh.vertices - step, mesh.faces)
