"""A hull seen from one side at an attitude: filled outline, creases and sections, nearest part last."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.edges import projected, silhouette
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats, Ints
from yarekeel.core.quantities import Metres, Point
from yarekeel.drawing import svg

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
    hull = hull.sketch
    edges, mesh = hull.edges, hull.mesh
    loops, seen = silhouette(edges, view.towards)
    page = view.page(mesh.vertices)
    depth = mesh.vertices @ np.array(view.towards)
    part_of_vertex = np.zeros(len(mesh.vertices), dtype=np.intp)
    part_of_vertex[mesh.faces] = hull.parts[:, None]
    crease = edges.is_crease & seen[edges.left] & seen[edges.right]
    order = _far_to_near(int(hull.parts.max()) + 1, hull.parts, depth[mesh.faces].max(axis=1))
    station_pieces, station_faces = hull.inner_stations
    station_page = view.page(station_pieces) if with_stations else station_pieces[..., :2]
    out = []
    for part in order:
        outline = "".join(svg.path_of(page[loop], closed=True) for loop in loops if part_of_vertex[loop[0]] == part)
        own = crease & (hull.parts[edges.left] == part)
        out.append(svg.path(outline, "hull-fill"))
        if with_stations:
            out.append(svg.path(_stations(page=station_page, faces=station_faces, hull=hull, seen=seen, part=part), "hull-station"))
        out.append(svg.path(svg.segments_of(page[edges.points[own]]), "hull-crease"))
        out.append(svg.path(outline, "hull-line"))
    return svg.element("g", *out, class_="hull")


def _far_to_near(count: int, parts: Ints, depth: Floats) -> list[int]:
    nearest = [float(depth[parts == p].max()) for p in range(count)]
    return sorted(range(count), key=lambda p: nearest[p])


def _stations(page: Floats, faces: Ints, hull: Hull, seen: NDArray[np.bool_], part: int) -> str:
    return svg.segments_of(page[seen[faces] & (hull.parts[faces] == part)])


def fitted(side: str, attitude: Attitude, hull: Hull, scale: float, middle: float, surface: Metres) -> View:
    """A view with the hull's middle at ``middle`` across the page and the water's surface at ``surface`` down it."""
    view = View(side=side, attitude=attitude, scale=scale, left=0.0, top=surface)
    x, _ = view.point(hull.kernel.centre)
    return View(side=side, attitude=attitude, scale=scale, left=middle - x, top=surface)
