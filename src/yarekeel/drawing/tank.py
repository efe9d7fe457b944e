"""The test tank: the boat at the attitude the sums give, from starboard and from astern, with its weights and centres."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.edges import edges_of, silhouette
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.hydrostatics.afloat import Afloat, draft_at
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import Metres, Point
from yarekeel.core.weights.items import WeightItem
from yarekeel.drawing import svg
from yarekeel.drawing.labels import Labels, around, box_of
from yarekeel.drawing.view import ASTERN, STARBOARD, View, fitted, hull_drawing

WIDTH, HEIGHT, SURFACE = 784.0, 412.0, 246.0
LEFT, RIGHT, SIDES = 104.0, 126.0, 26.0
"""px left free aft and ahead of the side view, for dimensions, and on both sides of the view from astern."""
BLOCK_LEAST, BLOCK_MOST, BLOCK_SHARE = 10.0, 40.0, 0.5
"""px, and the share of the hull's depth that the heaviest weight's block takes."""
LABEL_ROW = 15.0
HATCH_STEP = 9.0

Say = Callable[[float, str], str]


MOST_DRAWN = 60
"""Blocks in the tank, the heaviest; a thousand more would hide the boat."""
MOST_LABELLED = 16


@dataclass(frozen=True)
class Tank:
    """What the tank shows. ``wanted`` is the height of the wanted waterline over the baseline; ``afloat`` None sinks it."""

    hull: Hull
    items: Sequence[WeightItem]
    afloat: Afloat | None
    bow_x: Metres
    stern_x: Metres
    wanted: Metres | None
    say: Say
    chosen: int | None = None
    hint: str = ""

    @cached_property
    def drawn(self) -> list[int]:
        """Numbers of the weights shown, heaviest first so that small blocks lie on top where they can be caught."""
        aboard = sorted((k for k, i in enumerate(self.items) if i.mass_kg > 0), key=lambda k: -self.items[k].mass_kg)
        return [k for n, k in enumerate(aboard) if n < MOST_DRAWN or k == self.chosen]


def draw(tank: Tank) -> str:
    """The whole drawing; weights are sliders with the item's number in ``data-weight``."""
    low, high = tank.hull.mesh.bounds
    size = high - low
    scale = float(min((WIDTH - LEFT - RIGHT - 2 * SIDES) / (size[0] + size[1]), 150.0 / (1.15 * size[2])))
    split = WIDTH - max(float(size[1]) * scale + 2 * SIDES, 150.0)
    attitude = tank.afloat.attitude if tank.afloat else _sunk(tank.hull, scale)
    side = fitted(STARBOARD, attitude, tank.hull, scale, (split + LEFT - RIGHT) / 2, SURFACE)
    astern = fitted(ASTERN, attitude, tank.hull, scale, (split + WIDTH) / 2, SURFACE)
    labels = Labels(
        WIDTH, HEIGHT, [box_of((16.0, 26.0, "start"), "From starboard", 15.0), box_of((split + 14, 26.0, "start"), "From astern", 15.0)]
    )
    labels.keep_clear(np.array([[split, 0.0], [split, HEIGHT]]))
    parts = [
        svg.element("rect", x=0.0, y=SURFACE, width=WIDTH, height=HEIGHT - SURFACE, class_="water"),
        svg.path(_hatch(), "water-hatch"),
        hull_drawing(tank.hull, side, labels=labels),
        hull_drawing(tank.hull, astern, with_stations=False, labels=labels),
        svg.element("rect", x=0.0, y=SURFACE, width=WIDTH, height=HEIGHT - SURFACE, class_="water-over"),
        svg.line(0.0, SURFACE, WIDTH, SURFACE, "surface"),
        _wanted(tank, side),
        svg.line(split, 0.0, split, HEIGHT, "divider"),
        svg.text(16.0, 26.0, "From starboard", "tank-title"),
        svg.text(split + 14, 26.0, "From astern", "tank-title"),
        svg.text(16.0, HEIGHT - 14 if tank.wanted is None else HEIGHT - 32, tank.hint, "tank-note tank-hint"),
        *_ends(tank, side),
        *_weights(tank, side, "starboard"),
        *_weights(tank, astern, "astern"),
        *_labels(tank, side, labels),
        *_dimensions(tank, side, labels),
        *_centres(tank, side, astern, labels, (split + WIDTH) / 2),
    ]
    if tank.wanted is not None:
        parts.append(svg.text(16.0, HEIGHT - 14, "Dashed red: level at the target mass", "tank-note"))
    return svg.svg(
        WIDTH,
        HEIGHT,
        parts,
        _alternative(tank),
        "tank",
        role="group",
        data_scale=f"{scale:.6g}",
        data_heel=f"{attitude.heel:.6g}",
        data_trim=f"{attitude.trim:.6g}",
        data_split=f"{split:.1f}",
    )


def _alternative(tank: Tank) -> str:
    if not tank.afloat:
        return "The boat on the bottom of the tank"
    a = tank.afloat.attitude
    return f"The boat afloat, {tank.say(a.trim, 'trim')}, {tank.say(a.heel, 'heel')}"


def _sunk(hull: Hull, scale: float) -> Attitude:
    low, _ = hull.mesh.bounds
    return Attitude(0.0, 0.0, -(HEIGHT - SURFACE - 8) / scale - float(low[2]))


@cache
def _hatch() -> str:
    reach = HEIGHT - SURFACE
    starts = np.arange(-reach, WIDTH, HATCH_STEP)
    out = []
    for x in starts.tolist():
        x0, y0 = max(x, 0.0), HEIGHT - max(-x, 0.0)
        x1 = min(x + reach, WIDTH)
        out.append(f"M{x0:.0f} {y0:.0f}L{x1:.0f} {HEIGHT - (x1 - x):.0f}")
    return "".join(out)


def _wanted(tank: Tank, view: View) -> str:
    if tank.wanted is None:
        return ""
    low, high = tank.hull.mesh.bounds
    reach = 0.02 * float(high[0] - low[0])
    x1, y1 = view.point((float(low[0]) - reach, 0.0, tank.wanted))
    x2, y2 = view.point((float(high[0]) + reach, 0.0, tank.wanted))
    return svg.line(x1, y1, x2, y2, "wanted")


def _ends(tank: Tank, view: View) -> list[str]:
    low, high = tank.hull.mesh.bounds
    xs, ys = view.point((float(low[0]), 0.0, float(high[2])))
    xb, yb = view.point((float(high[0]), 0.0, float(high[2])))
    return [svg.text(xs - 8, ys - 6, "stern", "tank-note", "end"), svg.text(xb + 8, yb - 6, "bow", "tank-note")]


def _half(tank: Tank, item: WeightItem, scale: float) -> float:
    """Half the side of a weight's block, px: as the cube root of its mass, so that a block looks as heavy as it is."""
    low, high = tank.hull.mesh.bounds
    most = min(BLOCK_MOST, BLOCK_SHARE * float(high[2] - low[2]) * scale)
    return float(max(BLOCK_LEAST, most * (item.mass_kg / tank.items[tank.drawn[0]].mass_kg) ** (1 / 3)) / 2)


def _weights(tank: Tank, view: View, side: str) -> list[str]:
    axis = 0 if side == "starboard" else 1
    out = []
    for index in tank.drawn:
        item = tank.items[index]
        x, y = view.point(item.at_m)
        half = _half(tank, item, view.scale)
        mass = tank.say(item.mass_kg, "mass")
        kind = "weight" + (" weight-guessed" if item.known == "guessed" else "") + (" weight-chosen" if index == tank.chosen else "")
        kind += " weight-fixed" if item.fixed else ""
        handle: dict[str, object] = {
            "data_weight": index,
            "data_side": side,
            "data_at": ",".join(f"{v:.7g}" for v in item.at_m),
            "tabindex": 0,
            "role": "slider",
            "aria_label": f"{item.name}, {mass}, {'fore and aft' if axis == 0 else 'athwartships'}",
            "aria_orientation": "horizontal",
            "aria_valuenow": round(1000 * item.at_m[axis]),
            "aria_valuemin": -1000000,
            "aria_valuemax": 1000000,
        }
        handle["aria_valuetext"] = (
            f"{item.name}, {mass}, {tank.say(item.at_m[0], 'length')} from aft, {tank.say(item.at_m[2], 'length')} up"
        )
        out.append(
            svg.element(
                "g",
                svg.element("title", f"{item.name}, {mass}"),
                svg.element("rect", x=x - half, y=y - half, width=2 * half, height=2 * half, class_="weight-block"),
                class_=kind,
                data_touch=f"weight-{index}",
                **({} if item.fixed else handle),
            )
        )
    return out


def _labels(tank: Tank, view: View, labels: Labels) -> list[str]:
    """Masses on lines over the boat, each with a plumb line down to its block; they never cross the hull or each other."""
    box = tank.hull.mesh.bounds
    top = min(view.point((float(x[0]), float(y[1]), float(z[2])))[1] for x in box for y in box for z in box)
    shown = [(n, tank.items[n]) for n in tank.drawn[:MOST_LABELLED]]
    placed = sorted(((*view.point(i.at_m), k, i) for k, i in shown), key=lambda p: (p[0], p[2]))
    blocks_top = min((y - _half(tank, i, view.scale) for _, y, _, i in placed), default=top)
    first = min(top, blocks_top) - 12
    rows: list[float] = []
    out = []
    for x, y, index, item in placed:
        words = tank.say(item.mass_kg, "mass")
        width = 6.8 * len(words) + 8
        row = next((n for n, end in enumerate(rows) if x - width / 2 >= end), len(rows))
        rows[row : row + 1] = [x + width / 2]
        at = first - row * LABEL_ROW
        labels.keep(box_of((x, at, "middle"), words))
        out.append(
            svg.element(
                "g",
                svg.line(x, at + 3, x, y - _half(tank, item, view.scale), "plumb"),
                svg.text(x, at, words, "weight-label", "middle"),
                class_="weight-words",
                data_touch=f"weight-{index}",
            )
        )
    return out


def _centres(tank: Tank, side: View, astern: View, labels: Labels, middle: float) -> list[str]:
    """Of gravity and of buoyancy in both views, and the metacentre; ``middle`` of the view from astern (px)."""
    a = tank.afloat
    if a is None:
        return []
    gx, gy = side.point(a.gravity)
    bx, by = side.point(a.buoyancy)
    out = [
        svg.element("circle", cx=bx, cy=by, r=5.5, class_="cb", data_touch="cb"),
        labels.text(around(bx, by), "CB", "mark-label"),
        svg.quartered(gx, gy, 9.0),
        labels.text([(gx - 14, gy + 5, "end"), *around(gx, gy, 14.0)], "CG", "mark-label"),
    ]
    gx, gy = astern.point(a.gravity)
    bx, by = astern.point(a.buoyancy)
    mx, my = astern.point(a.metacentre)
    shown = my > 40
    my = max(my, 40.0)
    gm = f"GM {tank.say(a.gm_transverse, 'length')}"
    half = max((gy + my) / 2, 48.0)
    out += [
        svg.line(gx, gy, mx if shown else gx, my, "gm-line"),
        svg.element("circle", cx=bx, cy=by, r=4.5, class_="cb", data_touch="cb"),
        svg.quartered(gx, gy, 8.0),
        labels.text(
            [
                (gx + 12, half, "start"),
                (gx - 12, half, "end"),
                (WIDTH - 6, half - 16, "end"),
                *around(gx, half, 12.0),
                *((middle, gy + down, "middle") for down in (60, 80, 100, 120)),
            ],
            gm,
            "gm-label",
        ),
    ]
    if shown:
        out += [
            svg.element("circle", cx=mx, cy=my, r=3.5, class_="metacentre", data_touch="gm"),
            labels.text([(mx + 8, my + 4, "start"), (mx - 8, my + 4, "end"), *around(mx, my, 8.0)], "M", "mark-label"),
        ]
    return out


def _dimensions(tank: Tank, view: View, labels: Labels) -> list[str]:
    a = tank.afloat
    if a is None or a.is_capsized:
        return []
    low, high = tank.hull.mesh.bounds
    out = []
    for x_mark, end, anchor, shift in ((tank.stern_x, float(low[0]), "end", -1), (tank.bow_x, float(high[0]), "start", 1)):
        draft = draft_at(a.attitude, x_mark)
        if draft is None or draft <= 0:
            continue
        x, _ = view.point((end, 0.0, 0.0))
        x += shift * 26
        bottom = SURFACE + draft * view.scale * math.cos(a.attitude.trim)
        out += [
            svg.dimension(x, SURFACE, bottom),
            labels.text(
                [(x + shift * 9, (SURFACE + bottom) / 2 + dy, anchor) for dy in (5.0, 12.0)] + [(6.0, bottom + 16, "start")],
                tank.say(draft, "draft"),
                "dim-text",
            ),
        ]
    if a.freeboard > 0:
        x, _ = view.point((float(high[0]), 0.0, 0.0))
        x += 26
        top = SURFACE - a.freeboard * view.scale
        out += [
            svg.dimension(x, top, SURFACE, "dim dim-free"),
            labels.text(
                [(x + 9, (top + SURFACE) / 2 + dy, "start") for dy in (5.0, -4.0, -10.0)],
                f"{tank.say(a.freeboard, 'length')} free",
                "dim-text dim-free-text",
            ),
        ]
    return out


def small(hull: Hull, attitude: Attitude | None, width: float, height: float, label: str) -> str:
    """The boat afloat in silhouette from starboard, for lists."""
    low, high = hull.mesh.bounds
    size = high - low
    scale = float(min((width - 36) / size[0], (height - 28) / (1.6 * size[2])))
    surface = height * 0.58
    at = attitude or Attitude(0.0, 0.0, -(height - surface - 4) / scale - float(low[2]))
    view = fitted(STARBOARD, at, hull, scale, width / 2, surface)
    parts = [
        svg.element("rect", x=0.0, y=surface, width=width, height=height - surface, class_="water"),
        hull_drawing(hull, view),
        svg.element("rect", x=0.0, y=surface, width=width, height=height - surface, class_="water-over"),
        svg.line(0.0, surface, width, surface, "surface"),
    ]
    return svg.svg(width, height, parts, label, "tank-small")


def leaning(
    hull: Hull, attitude: Attitude, gravity: Point | None, buoyancy: Point | None, arm: Metres | None, say: Say, height: float = 392.0
) -> str:
    """From astern at a heel, with the two verticals whose distance is the righting arm where it is given."""
    width, surface = 300.0, 0.52 * height
    low, high = hull.mesh.bounds
    reach = math.hypot(float(high[1] - low[1]), float(high[2] - low[2]))
    scale = min(250.0, 0.8 * height) / reach
    view = fitted(ASTERN, attitude, hull, scale, width / 2, surface)
    title = f"From astern: {say(attitude.heel, 'heel')}"
    parts = [
        svg.element("rect", x=0.0, y=surface, width=width, height=height - surface, class_="water"),
        hull_drawing(hull, view, with_stations=False),
        svg.element("rect", x=0.0, y=surface, width=width, height=height - surface, class_="water-over"),
        svg.line(0.0, surface, width, surface, "surface"),
    ]
    if gravity is not None and buoyancy is not None and arm is not None:
        gx, gy = view.point(gravity)
        bx, by = view.point(buoyancy)
        base = height - 34
        parts += [
            svg.line(gx, gy, gx, base, "lever"),
            svg.line(bx, by, bx, base, "lever lever-b"),
            svg.path(
                f"M{gx:.1f} {base - 5:.1f}v10M{bx:.1f} {base - 5:.1f}v10M{gx:.1f} {base:.1f}H{bx:.1f}",
                "dim arm" if arm * attitude.heel >= 0 else "dim arm-over",
            ),
            svg.text((gx + bx) / 2, base + 22, f"GZ {say(abs(arm), 'draft')}", "dim-text", "middle"),
            svg.element("circle", cx=bx, cy=by, r=5.5, class_="cb"),
            svg.quartered(gx, gy, 9.0),
        ]
        pushes = "brings it back" if arm * attitude.heel > 0 else "takes it further" if arm * attitude.heel < 0 else ""
        parts.append(svg.text(14.0, 45.0, pushes, "tank-note"))
    parts.append(svg.text(14.0, 26.0, title, "tank-title"))
    return svg.svg(width, height, parts, title + (f", righting arm {say(abs(arm), 'draft')}" if arm is not None else ""), "tank-lean")


def across(hull: Hull, attitude: Attitude, floats: Sequence[tuple[Floats, Metres]], say: Say) -> str:
    """From astern, wide: the boat with the height of each float (its points (k, 3), its clearance) over the water."""
    width, height, surface = 784.0, 250.0, 165.0
    low, high = hull.mesh.bounds
    wide, tall = float(high[1] - low[1]), float(high[2] - low[2])
    scale = min((width - 220.0) / wide, (height - 70.0) / tall)
    view = fitted(ASTERN, attitude, hull, scale, width / 2, surface)
    parts = [
        svg.element("rect", x=0.0, y=surface, width=width, height=height - surface, class_="water"),
        hull_drawing(hull, view, with_stations=False),
        svg.element("rect", x=0.0, y=surface, width=width, height=height - surface, class_="water-over"),
        svg.line(0.0, surface, width, surface, "surface"),
        svg.text(16.0, 26.0, "From astern, held upright", "tank-title"),
    ]
    for points, clearance in floats:
        heights = points @ np.array(attitude.up)
        lowest = points[int(heights.argmin())]
        page = view.page(points)
        left = float(page[:, 0].mean()) < width / 2
        x = float(page[:, 0].min()) - 16 if left else float(page[:, 0].max()) + 16
        _, y = view.point((float(lowest[0]), float(lowest[1]), float(lowest[2])))
        words = f"{say(abs(clearance), 'length')} {'clear' if clearance > 0 else 'in'}"
        parts += [
            svg.dimension(x, min(y, surface), max(y, surface)),
            svg.text(x + (-9 if left else 9), (y + surface) / 2 + 5, words, "dim-text", "end" if left else "start"),
        ]
    return svg.svg(width, height, parts, "From astern, held upright, with the height of the floats over the water", "tank")


def section(hull: Hull, attitude: Attitude, tanks: Sequence[Mesh]) -> str:
    """From astern as it rests, small, with its full tanks: one of several boats side by side."""
    width, height, surface = 150.0, 84.0, 50.0
    low, high = hull.mesh.bounds
    wide, tall = float(high[1] - low[1]), float(high[2] - low[2])
    scale = min((width - 16.0) / wide, (height - 22.0) / tall)
    view = fitted(ASTERN, attitude, hull, scale, width / 2, surface)
    inside = []
    for mesh in tanks:
        loops, _ = silhouette(edges_of(mesh), view.towards)
        page = view.page(mesh.vertices)
        inside.append(svg.path("".join(svg.path_of(page[loop], closed=True) for loop in loops), "inside inside-water"))
    parts = [
        svg.element("rect", x=0.0, y=surface, width=width, height=height - surface, class_="water"),
        hull_drawing(hull, view, with_stations=False),
        *inside,
        svg.element("rect", x=0.0, y=surface, width=width, height=height - surface, class_="water-over"),
        svg.line(0.0, surface, width, surface, "surface"),
    ]
    return svg.svg(width, height, parts, "From astern, at rest", "tank-section")
