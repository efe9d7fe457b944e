"""Where a body sits: scaled along its own axes, turned, mirrored, moved."""

import math
from functools import cache

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.quantities import Point

AXES = ("+x", "-x", "+y", "-y", "+z", "-z")


def turned(angles_deg: Point) -> Floats:
    """Rotation matrix (3, 3) of roll about x (port side up), then pitch about y (bow down), then yaw about z (bow to port)."""
    (cr, sr), (cp, sp), (cy, sy) = ((math.cos(math.radians(a)), math.sin(math.radians(a))) for a in angles_deg)
    roll = np.array([[1, 0, 0], [0, cr, -sr], [0, sr, cr]])
    pitch = np.array([[cp, 0, sp], [0, 1, 0], [-sp, 0, cp]])
    yaw = np.array([[cy, -sy, 0], [sy, cy, 0], [0, 0, 1]])
    return np.asarray(yaw @ pitch @ roll)


def placed(mesh: Mesh, at: Point, angles_deg: Point = (0.0, 0.0, 0.0), scale: Point = (1.0, 1.0, 1.0)) -> Mesh:
    """The mesh scaled along its own axes (positive factors), turned about its origin, and moved to ``at`` in metres."""
    if angles_deg == (0.0, 0.0, 0.0) and scale == (1.0, 1.0, 1.0):
        return mesh if at == (0.0, 0.0, 0.0) else mesh.moved(at)
    return Mesh((mesh.vertices * scale) @ turned(angles_deg).T + np.asarray(at), mesh.faces)


def placed_point(point: Point, at: Point, angles_deg: Point = (0.0, 0.0, 0.0), scale: Point = (1.0, 1.0, 1.0)) -> Point:
    """Where ``placed`` takes a point of the body."""
    x, y, z = (turned(angles_deg) @ (np.asarray(point) * scale) + np.asarray(at)).tolist()
    return (x, y, z)


def mirrored(mesh: Mesh) -> Mesh:
    """The mesh's image on the other side of the centreline, still wound outwards."""
    return Mesh(mesh.vertices * [1.0, -1.0, 1.0], mesh.faces[:, ::-1])


@cache
def axis(name: str) -> Point:
    """The unit vector a name such as ``-y`` stands for. Raises InvalidInput."""
    if name not in AXES:
        raise InvalidInput("forward", f"An axis must be one of {', '.join(AXES)}.")
    sign = 1.0 if name[0] == "+" else -1.0
    x, y, z = (sign if letter == name[1] else 0.0 for letter in "xyz")
    return (x, y, z)


def righted(mesh: Mesh, forward: str, up: str) -> Mesh:
    """The mesh with its own ``forward`` and ``up`` axes turned to x and z.

    Raises InvalidInput when both lie along one line.
    """
    ahead, above = np.array(axis(forward)), np.array(axis(up))
    if abs(float(ahead @ above)) > 0:
        raise InvalidInput("forward", "Forward and up must be two different axes.")
    return Mesh(mesh.vertices @ np.stack([ahead, np.cross(above, ahead), above]).T, mesh.faces)
