"""The sail plan: the boat from starboard with its sails as areas, centre of effort over centre of lateral area."""

import math
from collections.abc import Sequence

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.propulsion.sail import Sail
from yarekeel.core.quantities import Metres, Point
from yarekeel.drawing import svg
from yarekeel.drawing.view import STARBOARD, fitted, hull_drawing

WIDTH, HEIGHT = 384.0, 330.0
TALL = 1.7
"""Height over breadth of the area drawn for a sail; only its size and its centre are known."""


def draw(hull: Hull, attitude: Attitude, sails: Sequence[Sail], effort: Point, lateral: Point, words: str, lead: Metres) -> str:
    """The drawing; ``words`` say the lead, ``lead`` is positive where the sails pull ahead of the lateral area."""
    low, high = hull.mesh.bounds
    boxes = [_box(s) for s in sails if s.area_m2 > 0]
    top = max([float(high[2]), *(b[3] for b in boxes)])
    fore = max([float(high[0]), *(b[1] for b in boxes)])
    aft = min([float(low[0]), *(b[0] for b in boxes)])
    scale = min((WIDTH - 36.0) / (fore - aft), (HEIGHT - 78.0) / (top - float(low[2])))
    surface = HEIGHT - 26.0 - max(-float(low[2]) - attitude.origin_height, 0.02) * scale
    view = fitted(STARBOARD, attitude, hull, scale, WIDTH / 2, surface)
    parts = [
        svg.element("rect", x=0.0, y=surface, width=WIDTH, height=HEIGHT - surface, class_="water"),
        hull_drawing(hull, view),
        svg.element("rect", x=0.0, y=surface, width=WIDTH, height=HEIGHT - surface, class_="water-over"),
        svg.line(0.0, surface, WIDTH, surface, "surface"),
    ]
    for x0, x1, z0, z1 in boxes:
        corners = [view.point((x, 0.0, z)) for x, z in ((x0, z0), (x1, z0), (0.35 * x0 + 0.65 * x1, z1), (x0, 0.9 * z1 + 0.1 * z0))]
        parts.append(svg.path("M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in corners) + "Z", "sail"))
    ex, ey = view.point(effort)
    lx, ly = view.point(lateral)
    parts += [
        svg.line(ex, ey, ex, ly, "lever"),
        svg.line(lx, ly, lx, surface - 8, "lever lever-b"),
        svg.path(
            f"M{lx:.1f} {ly - 5:.1f}v10M{ex:.1f} {ly - 5:.1f}v10M{lx:.1f} {ly:.1f}H{ex:.1f}", "dim arm" if lead >= 0 else "dim arm-over"
        ),
        svg.element("circle", cx=ex, cy=ey, r=5.0, class_="effort"),
        svg.text(ex + 9, ey + 4, "centre of effort", "mark-label"),
        svg.element("circle", cx=lx, cy=ly, r=5.0, class_="cb"),
        svg.text(14.0, 26.0, "Sail over lateral area", "tank-title"),
        svg.text(14.0, 44.0, words, "tank-note"),
    ]
    return svg.svg(WIDTH, HEIGHT, parts, f"Sail plan: {words}", "tank")


def _box(sail: Sail) -> tuple[float, float, float, float]:
    """Aft, fore, foot and head of an area of the sail's size about its centre."""
    wide = math.sqrt(sail.area_m2 / TALL)
    x, _, z = sail.at_m
    return x - wide / 2, x + wide / 2, z - TALL * wide / 2, z + TALL * wide / 2
