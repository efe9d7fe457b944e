"""A hull seen from one side at an attitude: filled outline, creases and sections, nearest part last."""

from dataclasses import dataclass
from functools import cmp_to_key

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.edges import projected, silhouette
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.geometry.sections import sections
from yarekeel.core.geometry.union import covered
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Metres, Point
from yarekeel.drawing import svg
from yarekeel.drawing.labels import Labels

SAMPLES = 7
"""Faces of a piece at which it is asked what is nearer."""
COARSE = 4
"""Steps of a direction's parts within which pieces keep their order."""
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


def hull_drawing(hull: Hull, view: View, with_stations: bool = True, labels: Labels | None = None) -> str:
    """The hull's parts from far to near: each an opaque outline with its creases and, if asked, its stations. ``labels`` set later stay
    off its outlines."""
    spots = np.array([x for x, _, _ in hull.sketch.stations[1:-1]])
    out = []
    for part in far_to_near(hull.drawn, view):
        rounds, seen = outline_of_part(part, view)
        outline = "".join(svg.path_of(one, closed=True) for one in rounds)
        if labels is not None:
            labels.keep_clear(*(np.concatenate([one, one[:1]]) for one in rounds))
        edges, page = part.edges, view.page(part.mesh.vertices)
        crease = edges.is_crease & seen[edges.left] & seen[edges.right]
        out.append(svg.path(outline, "hull-fill"))
        if with_stations:
            pieces, faces, _ = sections(part.mesh, 0, spots)
            out.append(svg.path(svg.segments_of(view.page(pieces)[seen[faces]]), "hull-station"))
        out.append(svg.path(svg.segments_of(page[edges.points[crease]]), "hull-crease"))
        out.append(svg.path(outline, "hull-line"))
    return svg.element("g", *out, class_="hull")


def far_to_near(parts: tuple[Hull, ...], view: View) -> tuple[Hull, ...]:
    """The pieces in the order in which they hide one another: by what is nearer where two of them meet on the page, by their nearest
    points where they do not. Directions that differ little share an order."""
    if len(parts) < 2:
        return parts
    x, y, z = (round(v * COARSE) / COARSE for v in view.towards)
    return _ordered(parts, view.side, (x, y, z))


@kept
def _ordered(parts: tuple[Hull, ...], side: str, towards: Point) -> tuple[Hull, ...]:
    direction = np.array(towards)
    depths = {id(p): float((p.mesh.vertices @ direction).max()) for p in parts}

    def order(a: Hull, b: Hull) -> int:
        before = _in_front(a, b, direction) if len(parts) <= MOST_ORDERED else 0.0
        return 1 if (before or depths[id(a)] - depths[id(b)]) > 0 else -1

    return tuple(sorted(parts, key=cmp_to_key(order)))


def _in_front(a: Hull, b: Hull, towards: Floats) -> float:
    """How far ``a`` is in front of ``b`` where the smaller of them is seen; 0 where they do not meet on the page."""
    small, large, sign = (a, b, 1.0) if np.ptp(a.mesh.vertices, axis=0).max() < np.ptp(b.mesh.vertices, axis=0).max() else (b, a, -1.0)
    across = np.linalg.svd(towards[None, :])[2][1:].T  # two directions on the page
    facing = np.flatnonzero(small.mesh.normals @ towards > 0)
    facing = facing[:: max(1, len(facing) // SAMPLES)]
    spots, near = small.mesh.centres[facing] @ across, small.mesh.centres[facing] @ towards
    corners, depth = (large.mesh.vertices @ across)[large.mesh.faces], (large.mesh.vertices @ towards)[large.mesh.faces]
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


def outline_of_part(part: Hull, view: View) -> tuple[list[Floats], NDArray[np.bool_]]:
    """The outline of a connected piece as loops (n, 2) on the page, and which of its faces look at the viewer. Where its silhouette runs
    over itself, as that of two hulls joined does, only what bounds the whole is drawn."""
    loops, seen = silhouette(part.edges, view.towards)
    page = view.page(part.mesh.vertices)
    rounds = [page[loop] for loop in loops]
    return covered(rounds) if len(rounds) > 1 else rounds, seen


def fitted(side: str, attitude: Attitude, hull: Hull, scale: float, middle: float, surface: Metres) -> View:
    """A view with the hull's middle at ``middle`` across the page and the water's surface at ``surface`` down it."""
    view = View(side=side, attitude=attitude, scale=scale, left=0.0, top=surface)
    x, _ = view.point(hull.kernel.centre)
    return View(side=side, attitude=attitude, scale=scale, left=middle - x, top=surface)
