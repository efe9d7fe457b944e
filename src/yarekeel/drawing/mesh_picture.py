"""A mesh as it came, small: which way is up, which way is forward, and where it is faulty."""

import numpy as np

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.edges import silhouette
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.drawing import svg
from yarekeel.drawing.view import ABOVE, STARBOARD, View

LEVEL = Attitude(0.0, 0.0, 0.0)
MOST_FACES = 4_000
"""Faces drawn of a mesh that is not closed; more only darken the picture."""
MOST_FAULTS = 3_000


def profile(hull: Hull, width: float, height: float, label: str, side: str = STARBOARD, rim: Floats | None = None) -> str:
    """A closed mesh from starboard (or above), its x to the right, filling the picture; ``rim`` (k, 3) is drawn over it as points."""
    low, high = hull.mesh.bounds
    up = 1 if side == ABOVE else 2
    size, middle = high - low, (low + high) / 2
    scale = min((width - 12) / float(size[0]), (height - 12) / float(size[up]))
    view = View(
        side=side, attitude=LEVEL, scale=scale, left=width / 2 - float(middle[0]) * scale, top=height / 2 + float(middle[up]) * scale
    )
    loops, seen = silhouette(hull.edges, view.towards)
    page = view.page(hull.mesh.vertices)
    crease = hull.edges.is_crease & seen[hull.edges.left] & seen[hull.edges.right]
    parts = [
        svg.path("".join(svg.path_of(page[loop], closed=True) for loop in loops), "mesh-fill"),
        svg.path(svg.segments_of(page[hull.edges.points[crease]]), "mesh-crease"),
    ]
    if rim is not None:
        spots = view.page(rim)
        parts.append(svg.path("".join(f"M{x:.1f} {y:.1f}h.01" for x, y in spots.tolist()), "mesh-rim"))
    hidden = {} if label else {"role": "presentation", "aria_hidden": "true"}
    return svg.svg(width, height, parts, label, "mesh-picture", **hidden)


def faulty(mesh: Mesh, faults: Floats, width: float, height: float, label: str) -> str:
    """A mesh that is refused, looked at askew, the edges (k, 2, 3) that are at fault drawn over it."""
    turn = _askew()
    page, scale, shift = _fitted(mesh.vertices @ turn.T, width, height)
    step = max(1, len(mesh.faces) // MOST_FACES)
    corners = page[mesh.faces[::step]]
    outline = "".join(svg.path_of(triangle, closed=True) for triangle in corners)
    edges = (faults[:MOST_FAULTS] @ turn.T)[..., :2] * [scale, -scale] + shift
    return svg.svg(width, height, [svg.path(outline, "mesh-wire"), svg.path(svg.segments_of(edges), "mesh-fault")], label, "mesh-picture")


def _askew() -> Floats:
    a, b = np.radians(30.0), np.radians(22.0)
    round_up = np.array([[np.cos(a), -np.sin(a), 0], [np.sin(a), np.cos(a), 0], [0, 0, 1]])
    tip = np.array([[1, 0, 0], [0, np.sin(b), np.cos(b)], [0, -np.cos(b), np.sin(b)]])
    return np.asarray(tip @ round_up)


def _fitted(points: Floats, width: float, height: float) -> tuple[Floats, float, Floats]:
    low, high = points.min(axis=0), points.max(axis=0)
    size = np.maximum(high - low, 1e-12)
    scale = float(min((width - 24) / size[0], (height - 24) / size[1]))
    middle = (low + high) / 2
    shift = np.array([width / 2 - middle[0] * scale, height / 2 + middle[1] * scale])
    return points[:, :2] * [scale, -scale] + shift, scale, shift
