"""The boat at an attitude with what is in it or on it: compartments, water, people, forces. From starboard and from astern."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.edges import edges_of, silhouette
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.quantities import Point
from yarekeel.drawing import svg
from yarekeel.drawing.labels import Labels, Place, around, box_of
from yarekeel.drawing.view import ASTERN, STARBOARD, View, fitted, hull_drawing

WIDTH, HEIGHT = 784.0, 330.0
ARROW = 74.0
"""px of the longest arrow."""


@dataclass(frozen=True, eq=False)
class Inside:
    """Something inside: its surface, how it looks (a class name) and its label; an empty label for none."""

    mesh: Mesh
    look: str
    label: str = ""


@dataclass(frozen=True, slots=True)
class Arrow:
    """A force (3,) N in world axes at a place in the boat's."""

    at: Point
    newtons: Point
    label: str


@dataclass(frozen=True, slots=True)
class Spot:
    """A marked place: a person in the water, an opening, G or B."""

    at: Point
    label: str
    look: str = "spot"


@dataclass(frozen=True, eq=False)
class Scene:
    hull: Hull
    attitude: Attitude
    title: str
    inside: Sequence[Inside] = ()
    arrows: Sequence[Arrow] = ()
    spots: Sequence[Spot] = ()
    gravity: Point | None = None
    buoyancy: Point | None = None
    note: str = ""
    surface: float = 0.5
    """Where the water's surface lies down the drawing, as a share of it."""


def draw(scene: Scene) -> str:
    """The whole drawing."""
    low, high = scene.hull.mesh.bounds
    world = scene.hull.mesh.vertices @ np.array(scene.attitude.rows).T
    long, wide, _ = (float(v) for v in np.ptp(world, axis=0))
    top, under = float(world[:, 2].max()) + scene.attitude.origin_height, float(world[:, 2].min()) + scene.attitude.origin_height
    tall = max(top, 0.0) - min(under, 0.0)
    # The boat keeps its size while it turns, as long as it fits.
    scale = min((WIDTH - 210.0) / float(1.1 * (high - low)[0] + (high - low)[1]), (HEIGHT - 96.0) / tall, (WIDTH - 190.0) / (long + wide))
    surface = min(max(scene.surface * HEIGHT, 58.0 + max(top, 0.0) * scale), HEIGHT - 22.0 + min(under, 0.0) * scale)
    split = WIDTH - max(wide * scale + 64.0, 170.0)
    side = fitted(STARBOARD, scene.attitude, scene.hull, scale, split / 2, surface)
    astern = fitted(ASTERN, scene.attitude, scene.hull, scale, (split + WIDTH) / 2, surface)
    labels = Labels(WIDTH, HEIGHT, [box_of((16.0, 26.0, "start"), scene.title, 15.0), box_of((16.0, HEIGHT - 12, "start"), scene.note)])
    parts = [
        svg.element("rect", x=0.0, y=surface, width=WIDTH, height=HEIGHT - surface, class_="water"),
        hull_drawing(scene.hull, side, labels=labels),
        hull_drawing(scene.hull, astern, with_stations=False, labels=labels),
        svg.element("rect", x=0.0, y=surface, width=WIDTH, height=HEIGHT - surface, class_="water-over"),
        *_contents(scene, side, labels),
        *_contents(scene, astern, None),
        svg.line(0.0, surface, WIDTH, surface, "surface"),
    ]
    for view in (side, astern):
        lines, words = _arrows(scene, view, labels)
        parts += [*lines, *_centres(scene, view, labels), *words(), *_spots(scene, view, labels if view is side else None)]
    parts += [
        svg.line(split, 0.0, split, HEIGHT, "divider"),
        svg.text(16.0, 26.0, scene.title, "tank-title"),
        svg.text(split + 14, 26.0, "From astern", "tank-title"),
        svg.text(16.0, HEIGHT - 12, scene.note, "tank-note"),
    ]
    return svg.svg(WIDTH, HEIGHT, parts, scene.title, "tank")


def _contents(scene: Scene, view: View, labels: Labels | None) -> list[str]:
    out = []
    for one in scene.inside:
        loops, _ = silhouette(edges_of(one.mesh), view.towards)
        page = view.page(one.mesh.vertices)
        outline = "".join(svg.path_of(page[loop], closed=True) for loop in loops)
        out.append(svg.path(outline, f"inside {one.look}"))
        if labels is not None and one.label:
            x, top, low = float(page[:, 0].mean()), float(page[:, 1].min()), float(page[:, 1].max())
            spots = [(x, y, "middle") for y in (top - 5, top - 20, low + 16, top - 35, low + 31)]
            out.append(labels.text(spots, one.label, "inside-label"))
    return out


def _centres(scene: Scene, view: View, labels: Labels) -> list[str]:
    out = []
    if scene.buoyancy is not None:
        x, y = view.point(scene.buoyancy)
        out += [svg.element("circle", cx=x, cy=y, r=5.0, class_="cb"), labels.text(around(x, y, 9.0), "CB", "mark-label")]
    if scene.gravity is not None:
        x, y = view.point(scene.gravity)
        out += [svg.quartered(x, y, 8.0), labels.text([(x - 12, y + 5, "end"), *around(x, y, 12.0)], "CG", "mark-label")]
    return out


def _arrows(scene: Scene, view: View, labels: Labels) -> tuple[list[str], Callable[[], list[str]]]:
    """Arrows of the forces as this view shows them, and their names, to be set after the centres': each is named in the view that shows
    most of it, by the middle of its arrow, where it covers no other and no arrow."""
    most = max((math.hypot(*a.newtons) for a in scene.arrows), default=0.0)
    out: list[str] = []
    named: list[tuple[list[Place], str]] = []
    for arrow in scene.arrows:
        fx, fy, fz = arrow.newtons
        right = fx if view.side == STARBOARD else -fy
        size = math.hypot(right, fz)
        if most <= 0 or size < 1e-3 * most:
            continue
        x, y = view.point(arrow.at)
        long = max(22.0, ARROW * size / most)
        ux, uy = right / size, -fz / size
        x2, y2 = x + long * ux, y + long * uy
        back_x, back_y = x2 - 9 * ux, y2 - 9 * uy
        head = svg.path_of(np.array([[x2, y2], [back_x - 4 * uy, back_y + 4 * ux], [back_x + 4 * uy, back_y - 4 * ux]]), closed=True)
        out += [svg.line(x, y, x2, y2, "force-line"), svg.path(head, "force-head")]
        labels.keep((min(x, x2) - 5, min(y, y2) - 5, max(x, x2) + 5, max(y, y2) + 5))
        if (view.side == STARBOARD) == (abs(fy) <= math.hypot(fx, fz)):
            at_x, at_y = (x + x2) / 2, (y + y2) / 2
            beside: list[Place] = [(at_x + dx, at_y + dy, anchor) for dy in (4.0, -12.0, 20.0, -28.0, 36.0) for dx, anchor in SIDES]
            above: list[Place] = [(at_x, at_y + dy, "middle") for dy in (-10.0, 20.0, -26.0, 36.0, -42.0, 52.0, -58.0, 68.0)]
            named.append((beside if abs(uy) > 0.7 else above, arrow.label))
    return out, lambda: [labels.text(spots, words, "force-label") for spots, words in named]


SIDES = ((12.0, "start"), (-12.0, "end"))


def _spots(scene: Scene, view: View, labels: Labels | None) -> list[str]:
    out = []
    for spot in scene.spots:
        x, y = view.point(spot.at)
        out.append(svg.element("circle", cx=x, cy=y, r=4.5, class_=spot.look))
        if labels is not None and spot.label:
            out.append(labels.text([(x + 8, y - 6, "start"), *around(x, y, 8.0)], spot.label, "mark-label"))
    return out
