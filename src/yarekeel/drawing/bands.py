"""Predicted bands and what was measured, each quantity on a line of its own, in half widths of its prediction."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.drawing import svg

REACH = 3.0
"""Half widths to either side; what lies beyond is pointed at from the edge."""
ROW, TOP, FOOT, LEFT, RIGHT = 26.0, 44.0, 44.0, 190.0, 150.0


@dataclass(frozen=True, slots=True)
class Banded:
    """A quantity: ``away`` is measured less predicted and ``half`` half the measured band, both over half the predicted one; ``tone`` is
    its verdict's, ``words`` stand beside it."""

    name: str
    away: float
    half: float
    tone: str
    words: str


def bands(rows: Sequence[Banded], title: str, width: float = 784.0) -> str:
    """The chart as a drawing of its own."""
    height = TOP + ROW * len(rows) + FOOT
    middle, scale = (LEFT + width - RIGHT) / 2, (width - RIGHT - LEFT) / 2 / REACH
    foot = TOP + ROW * len(rows)

    def px(v: float) -> float:
        return middle + scale * max(-REACH, min(REACH, v))

    parts = [
        svg.text(14.0, 25.0, title, "tank-title"),
        svg.element("rect", x=px(-1), y=TOP - 4, width=2 * scale, height=foot - TOP + 8, class_="band-expected"),
    ]
    for k in range(-int(REACH), int(REACH) + 1):
        parts += [
            svg.line(px(k), TOP - 4, px(k), foot + 4, "axis" if k == 0 else "grid"),
            svg.text(px(k), foot + 19, f"{k:+d}".replace("-", "−") if k else "0", "axis-text", "middle"),
        ]
    parts.append(svg.text(middle, foot + 36, "measured less predicted, in half widths of the predicted 95 % band", "axis-text", "middle"))
    for k, row in enumerate(rows):
        y = TOP + ROW * (k + 0.5)
        at = px(row.away)
        parts += [
            svg.text(LEFT - 12, y + 4, row.name, "axis-text", "end"),
            svg.line(px(row.away - row.half), y, px(row.away + row.half), y, f"band-read tone-{row.tone}"),
            svg.element("circle", svg.element("title", f"{row.name}: {row.words}"), cx=at, cy=y, r=4.5, class_=f"band-dot tone-{row.tone}"),
            svg.text(width - RIGHT + 12, y + 4, row.words, "axis-text"),
        ]
        if abs(row.away) > REACH:
            side = math.copysign(1.0, row.away)
            points = f"{at + side * 11:.1f},{y:.1f} {at + side * 5:.1f},{y - 4:.1f} {at + side * 5:.1f},{y + 4:.1f}"
            parts.append(svg.element("polygon", points=points, class_=f"band-dot tone-{row.tone}"))
    return svg.svg(width, height, parts, title, "chart plot wide bands")
