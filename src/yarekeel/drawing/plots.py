"""Line charts: axes named with units, labels on the lines, limits drawn in, the values under the pointer.

The drawing carries ``data-read``: for places across it, the words that stand for the values there; the page's script shows
them where the pointer is.
"""

import json
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.mesh import Floats
from yarekeel.drawing import svg
from yarekeel.drawing.charts import nice_step
from yarekeel.drawing.labels import Labels, Place, around, box_of

ROOM, LABEL = 0.06, 20.0
"""Beyond the outermost number as a share of the span, and what a label takes (px)."""
CROWDED, APART = 6, 14.0
"""Lines with a name from which these stand beside the chart, and how far apart (px)."""
FEWEST, MANY = 3, 12
"""Ticks that an axis has at least, and that it is not pressed beyond for them."""


@dataclass(frozen=True, eq=False)
class Trace:
    """A line through ``x``, ``y`` (n,) in SI; a break where ``y`` is not a number. ``words`` (n,) say its value under the
    pointer."""

    x: Sequence[float]
    y: Sequence[float]
    label: str
    look: str = ""
    words: Sequence[str] = ()


@dataclass(frozen=True, slots=True)
class Axis:
    """Name with its unit, and how many SI units that is; ``least`` and ``most`` widen the span; ``ticks`` are places (SI) with a word each,
    in place of numbers."""

    name: str
    si: float = 1.0
    least: float | None = None
    most: float | None = None
    ticks: tuple[tuple[float, str], ...] = ()


@dataclass(frozen=True, slots=True)
class Mark:
    """A limit or a present state: a line across at ``at``, with a label."""

    at: float
    label: str
    look: str = "wanted"


@dataclass(frozen=True, slots=True)
class Dot:
    """A point in SI, with a label beside it; ``words`` are said when it is pointed at."""

    x: float
    y: float
    label: str = ""
    look: str = ""
    words: str = ""


WIDE = 600.0
"""px: a wider chart is not drawn smaller than that on a phone; it is moved along."""


@dataclass(frozen=True, slots=True)
class Frame:
    """Where a chart's axes stand (px), and the room ``beside`` them for names at the ends of lines."""

    left: float
    top: float
    width: float
    height: float
    beside: float = 0.0


def plot(
    lines: Sequence[Trace],
    x: Axis,
    y: Axis,
    title: str,
    width: float = 784.0,
    height: float = 300.0,
    across: Sequence[Mark] = (),
    upright: Sequence[Mark] = (),
    dots: Sequence[Dot] = (),
) -> str:
    """One chart as a drawing of its own."""
    named = [line.label for line in lines if line.label]
    beside = max(box_of((0.0, 0.0, "start"), name)[2] for name in named) if len(named) >= CROWDED else 0.0
    frame = Frame(58.0, 56.0, width - 58.0 - 26.0 - beside, height - 56.0 - 44.0, beside)
    parts, read = panel(frame=frame, lines=lines, x=x, y=y, across=across, upright=upright, dots=dots)
    cursor = [svg.line(frame.left, frame.top, frame.left, frame.top + frame.height, "cursor")]
    label = svg.text(width - 14, 25.0, "", "plot-read", "end")
    look = "chart plot wide" if width > WIDE else "chart plot"
    words = svg.text(14.0, 25.0, title, "tank-title")
    return svg.svg(width, height, [words, *parts, *cursor, label], title, look, data_read=json.dumps(read))


def panel(
    frame: Frame,
    lines: Sequence[Trace],
    x: Axis,
    y: Axis,
    across: Sequence[Mark] = (),
    upright: Sequence[Mark] = (),
    dots: Sequence[Dot] = (),
) -> tuple[list[str], list[tuple[float, str]]]:
    """Axes, grid and lines in a frame; and the words under the pointer by their place across the page."""
    right, bottom = frame.left + frame.width, frame.top + frame.height
    low_x, high_x = _span([v for line in lines for v in line.x], x, [m.at for m in upright])
    low_y, high_y = _span([v for line in lines for v in line.y] + [d.y for d in dots], y, [m.at for m in across], LABEL / frame.height)

    def px(v: float) -> float:
        return frame.left + (v - low_x) / (high_x - low_x) * frame.width

    def py(v: float) -> float:
        return bottom - (v - low_y) / (high_y - low_y) * frame.height

    parts: list[str] = []
    above: list[str] = []  # labels, over every line
    written = [((frame.left - 44, frame.top - 9, "start"), y.name), ((right, bottom + 33, "end"), x.name)]
    for value, label in _ticks(low_y, high_y, y.si, max(3, int(frame.height / 32))):
        parts += [
            svg.line(frame.left, py(value), right, py(value), "grid"),
        ]
        written.append(((frame.left - 6, py(value) + 4, "end"), label))
    for value, label in x.ticks or _ticks(low_x, high_x, x.si, max(2, int(frame.width / 74))):
        parts += [
            svg.line(px(value), bottom, px(value), bottom + 4, "axis"),
        ]
        written.append(((px(value), bottom + 17, "middle"), label))
    parts += [
        svg.line(frame.left, frame.top, frame.left, bottom, "axis"),
        svg.line(frame.left, bottom, right, bottom, "axis"),
        *(svg.text(a, b, word, "axis-text", anchor) for (a, b, anchor), word in written),
    ]
    labels = Labels(right + 26.0 + frame.beside, bottom + 44.0, [box_of(spot, word) for spot, word in written])
    drawn = [_unbroken(np.array([[px(a), py(b)] for a, b in zip(line.x, line.y, strict=True)])) for line in lines]
    labels.keep_clear(*(piece for pieces in drawn for piece in pieces))
    labels.keep_clear(*(np.array([[px(m.at), frame.top], [px(m.at), bottom]]) for m in upright if low_x <= m.at <= high_x))
    labels.keep_clear(*(np.array([[frame.left, py(m.at)], [right, py(m.at)]]) for m in across if low_y <= m.at <= high_y))
    for mark in across:
        if low_y <= mark.at <= high_y:
            at = py(mark.at)
            spots = [(x, at + off, anchor) for off in (-5, 15) for x, anchor in ((frame.left + 6, "start"), (right - 6, "end"))]
            parts.append(svg.line(frame.left, at, right, at, mark.look))
            above.append(labels.text(spots, mark.label, "rim-text"))
    for row, mark in enumerate(m for m in upright if low_x <= m.at <= high_x):
        late = px(mark.at) > frame.left + 0.6 * frame.width
        levels = (frame.top + 12 + 15 * row, bottom - 6 - 15 * row)  # each on a line of its own: two close together would cover each other
        parts.append(svg.line(px(mark.at), frame.top, px(mark.at), bottom, mark.look))
        sides = ((-5, "end"), (5, "start")) if late else ((5, "start"), (-5, "end"))
        above.append(labels.text([(px(mark.at) + off, y, anchor) for off, anchor in sides for y in levels], mark.label, "rim-text"))
    for line, pieces in zip(lines, drawn, strict=True):
        parts += [svg.path(svg.path_of(piece), f"plot-line {line.look}".strip()) for piece in pieces]
    named = [(line, pieces[-1]) for line, pieces in zip(lines, drawn, strict=True) if pieces and line.label]
    if frame.beside:
        parts += _at_ends(named, frame)
    else:
        above += [labels.text(_along(piece, line.label, frame), line.label, f"plot-label {line.look}".strip()) for line, piece in named]
    for dot in dots:
        words = [svg.element("title", dot.words)] if dot.words else []
        parts.append(svg.element("circle", *words, cx=px(dot.x), cy=py(dot.y), r=4.0, class_=f"plot-dot {dot.look}".strip()))
        if dot.label:
            spots = [(px(dot.x) + 7, py(dot.y) - 6, "start"), *around(px(dot.x), py(dot.y), 7.0)]
            above.append(labels.text(spots, dot.label, "plot-label"))
    return parts + above, _read(lines, px)


def _at_ends(named: Sequence[tuple[Trace, Floats]], frame: Frame) -> list[str]:
    """The names of many lines beside the chart, each as high as its line ends or as near to that as the others leave, and a thin line to
    it."""
    right, bottom = frame.left + frame.width, frame.top + frame.height
    ends = sorted(named, key=lambda one: float(one[1][-1][1]))
    levels = [float(piece[-1][1]) for _, piece in ends]
    lowest = bottom - APART * (len(levels) - 1)
    for k, level in enumerate(levels):  # from the top: under the one before
        levels[k] = max(min(level, lowest + APART * k), levels[k - 1] + APART if k else frame.top)
    parts = []
    for (line, piece), level in zip(ends, levels, strict=True):
        x, y = piece[-1].tolist()
        parts.append(svg.line(x, y, right + 10, level, "leader"))
        parts.append(svg.text(right + 13, level + 4, line.label, f"plot-label {line.look}".strip()))
    return parts


def _along(points: Floats, words: str, frame: Frame) -> list[Place]:
    """Places for a label beside its line (n, 2), from near its end backwards: clear over it, or clear under it."""
    wide, out = box_of((0.0, 0.0, "start"), words)[2], []
    for k in range(len(points) - 1, max(-1, len(points) // 4 - 1), -max(1, len(points) // 40)):
        right = max(float(points[k][0]) - 4, frame.left + wide + 8)
        near = points[(points[:, 0] >= right - wide - 4) & (points[:, 0] <= right + 4), 1]
        if len(near):
            over, under = max(float(near.min()) - 7, frame.top + 10), min(float(near.max()) + 15, frame.top + frame.height - 4)
            out += [(right, over, "end"), (right, under, "end")]
    return out or [(float(points[-1][0]) - 4, float(points[-1][1]) - 7, "end")]


def _unbroken(points: Floats) -> list[Floats]:
    """The stretches of points (n, 2) that are numbers, of two or more."""
    good = np.asarray(np.isfinite(points).all(axis=1))
    cuts = np.flatnonzero(good[1:] != good[:-1]) + 1
    return [p for p in np.split(points, cuts) if len(p) > 1 and bool(np.isfinite(p[0]).all())]


def _read(lines: Sequence[Trace], px: Callable[[float], float]) -> list[tuple[float, str]]:
    """Words by place, of all lines that have them; the lines share their places."""
    speaking = [line for line in lines if line.words]
    if not speaking:
        return []
    return [
        (round(px(v), 1), "   ".join(f"{line.label} {line.words[k]}".strip() for line in speaking if k < len(line.words)))
        for k, v in enumerate(speaking[0].x)
    ]


def _span(values: Sequence[float], axis: Axis, marks: Sequence[float], label: float = 0.0) -> tuple[float, float]:
    """What the axis spans: the numbers and some room beyond them, a ``label``'s (a share of it) beyond a mark that lies outermost."""
    numbers = [v for v in (*values, *marks) if math.isfinite(v)]
    low = min([*numbers, *([axis.least] if axis.least is not None else [])], default=0.0)
    high = max([*numbers, *([axis.most] if axis.most is not None else [])], default=1.0)
    if high - low < 1e-12:
        low, high = low - 0.5 * axis.si, high + 0.5 * axis.si
    wide = max(label / max(1 - label * sum(end in marks for end in (low, high)), ROOM), ROOM)
    under, over = ((wide if end in marks else ROOM) * (high - low) for end in (low, high))
    return (low if axis.least is not None and low >= axis.least else low - under), (
        high if axis.most is not None and high <= axis.most else high + over
    )


def _ticks(low: float, high: float, si: float, most: int) -> list[tuple[float, str]]:
    while True:
        step = nice_step((high - low) / si, most)
        first, last = math.ceil(low / si / step - 1e-9), math.floor(high / si / step + 1e-9)
        if last - first >= FEWEST - 1 or most >= MANY:
            return [(k * step * si, f"{k * step:g}".replace("-", "−")) for k in range(first, last + 1)]
        most += 1
