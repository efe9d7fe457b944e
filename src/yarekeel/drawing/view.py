"""A hull seen from one side at an attitude: filled outline, creases and sections, nearest part last."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cmp_to_key

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.edges import projected, silhouette
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.geometry.sections import sections
from yarekeel.core.geometry.union import outline_of
from yarekeel.core.quantities import Metres, Point
from yarekeel.drawing import svg

SAMPLES = 7
"""Faces of a piece at which it is asked what is nearer."""
MOST_ORDERED = 14
"""Pieces that are held against each other; more are ordered by their nearest points alone."""
STARBOARD, ASTERN, ABOVE = "starboard", "astern", "above"
# Which world axis points at the viewer, with its sign; which runs right and which up on the page, with their signs.
_AXES = {STARBOARD: ((1, -1), (0, 1), (2, 1)), ASTERN: ((0, -1), (1, -1), (2, 1)), ABOVE: ((2, 1), (0, 1), (1, 1))}


@dataclass(frozen=True)
class View:
    """A parallel view: ``scale`` px a metre, the world's origin (on the surface) at ``left``, ``top`` on the page."""

    side: str
    attitude: Attitude
    scale: float
    left: float
    top: float

    def page(self, points: Floats) -> Floats:
        """Page coordinates (..., 2) of points in boat axes (..., 3)."""
        world = projected(points, self.attitude.rows, self.attitude.origin_height)
        _, (right, right_sign), (up, up_sign) = _AXES[self.side]
        return np.stack(
            [self.left + right_sign * self.scale * world[..., right], self.top - up_sign * self.scale * world[..., up]], axis=-1
        )

    def point(self, at: Point) -> tuple[float, float]:
        """Page coordinates of one point in boat axes; plain floats, since a page asks for dozens."""
        _, (right, right_sign), (up, up_sign) = _AXES[self.side]
        world = [sum(row[k] * at[k] for k in range(3)) for row in self.attitude.rows]
        world[2] += self.attitude.origin_height
        return self.left + right_sign * self.scale * world[right], self.top - up_sign * self.scale * world[up]

    @property
    def towards(self) -> Point:
        """Direction to the viewer, boat axes."""
        (axis, sign), _, _ = _AXES[self.side]
        x, y, z = self.attitude.rows[axis]
        return sign * x, sign * y, sign * z


def hull_drawing(hull: Hull, view: View, with_stations: bool = True) -> str:
    """The hull's parts from far to near: each an opaque outline with its creases and, if asked, its stations."""
    spots = np.array([x for x, _, _ in hull.sketch.stations[1:-1]])
    out = []
    for part in far_to_near(hull.drawn, view):
        outline, seen = outline_of_part(part, view)
        edges, page = part.edges, view.page(part.mesh.vertices)
        crease = edges.is_crease & seen[edges.left] & seen[edges.right]
        out.append(svg.path(outline, "hull-fill"))
        if with_stations:
            pieces, faces, _ = sections(part.mesh, 0, spots)
            out.append(svg.path(svg.segments_of(view.page(pieces)[seen[faces]]), "hull-station"))
        out.append(svg.path(svg.segments_of(page[edges.points[crease]]), "hull-crease"))
        out.append(svg.path(outline, "hull-line"))
    return svg.element("g", *out, class_="hull")


def far_to_near(parts: Sequence[Hull], view: View) -> list[Hull]:
    """The pieces in the order in which they hide one another: by what is nearer where two of them meet on the page, by their nearest
    points where they do not."""
    depths = {id(p): float((p.mesh.vertices @ np.array(view.towards)).max()) for p in parts}

    def order(a: Hull, b: Hull) -> int:
        before = _in_front(a, b, view) if len(parts) <= MOST_ORDERED else 0.0
        return 1 if (before or depths[id(a)] - depths[id(b)]) > 0 else -1

    return sorted(parts, key=cmp_to_key(order))


def _in_front(a: Hull, b: Hull, view: View) -> float:
    """How far ``a`` is in front of ``b`` where the smaller of them is seen; 0 where they do not meet on the page."""
    small, large, sign = (a, b, 1.0) if np.ptp(a.mesh.vertices, axis=0).max() < np.ptp(b.mesh.vertices, axis=0).max() else (b, a, -1.0)
    towards = np.array(view.towards)
    facing = np.flatnonzero(small.mesh.normals @ towards > 0)
    facing = facing[:: max(1, len(facing) // SAMPLES)]
    spots, near = view.page(small.mesh.centres[facing]), small.mesh.centres[facing] @ towards
    corners, depth = view.page(large.mesh.vertices)[large.mesh.faces], (large.mesh.vertices @ towards)[large.mesh.faces]
    p, q, r = corners[:, 0], corners[:, 1], corners[:, 2]
    whole = _cross(q - p, r - p)
    whole = np.where(np.abs(whole) > 1e-12, whole, np.inf)
    gaps = []
    for spot, at in zip(spots, near, strict=True):
        u, v = _cross(spot - p, r - p) / whole, _cross(q - p, spot - p) / whole
        inside = (u >= 0) & (v >= 0) & (u + v <= 1)
        if inside.any():
            behind = depth[:, 0] + u * (depth[:, 1] - depth[:, 0]) + v * (depth[:, 2] - depth[:, 0])
            gaps.append(float(at - behind[inside].max()))
    return sign * float(np.median(gaps)) if gaps else 0.0


def _cross(a: Floats, b: Floats) -> Floats:
    return np.asarray(a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0])


def outline_of_part(part: Hull, view: View) -> tuple[str, NDArray[np.bool_]]:
    """The outline of a connected piece as a path, and which of its faces look at the viewer. Where its silhouette runs over itself, as
    that of two hulls joined does, only what bounds the whole is drawn."""
    loops, seen = silhouette(part.edges, view.towards)
    if len(loops) <= 1:
        page = view.page(part.mesh.vertices)
        return "".join(svg.path_of(page[loop], closed=True) for loop in loops), seen
    rounds = outline_of(Mesh(_facing(part.mesh.vertices, view), part.mesh.faces))
    flip = np.array([1.0, -1.0])
    return "".join(svg.path_of(loop * flip, closed=True) for loop in rounds), seen


def _facing(points: Floats, view: View) -> Floats:
    """Points (n, 3) on the page's axes, the page's up reversed so that they stay right-handed with the viewer's direction."""
    flat = view.page(points) * [1.0, -1.0]
    depth = points @ np.array(view.towards)
    return np.column_stack([flat, depth * view.scale])


def fitted(side: str, attitude: Attitude, hull: Hull, scale: float, middle: float, surface: Metres) -> View:
    """A view with the hull's middle at ``middle`` across the page and the water's surface at ``surface`` down it."""
    view = View(side=side, attitude=attitude, scale=scale, left=0.0, top=surface)
    x, _ = view.point(hull.kernel.centre)
    return View(side=side, attitude=attitude, scale=scale, left=middle - x, top=surface)
