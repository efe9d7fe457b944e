"""The righting-arm curve: push back over lean, what meets the surface on the way, other loads and revisions beside it."""

import itertools
import json
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.quantities import Radians
from yarekeel.core.stability.righting import RightingCurve
from yarekeel.drawing import svg
from yarekeel.drawing.charts import nice_step
from yarekeel.drawing.labels import Labels, Place

Say = Callable[[float, str], str]
WIDTH, HEIGHT = 476.0, 392.0
LEFT, RIGHT, TOP, BOTTOM = 54.0, 18.0, 48.0, 42.0
ROW = 15.0
NEAR = 6.0
"""px from a point to its label; one further off has a thin line to it."""
DEEPEST = 0.85
"""Of the greatest push: how far the chart goes below the axis, so that what is over it stays large."""


@dataclass(frozen=True, eq=False)
class Curve:
    """A curve to one side with its name; the first is the boat's own. ``sides`` names those for which it follows the pointer."""

    label: str
    curve: RightingCurve
    look: str = ""
    sides: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Happening:
    """Something on the way out: its words and the lean (rad, 0 or more) at which it happens."""

    words: str
    lean: Radians
    look: str = "rim-line"


@dataclass(frozen=True, slots=True)
class _Frame:
    top: float
    high: float
    low: float
    last: Radians

    def x(self, lean: Radians) -> float:
        return LEFT + lean / self.last * (WIDTH - LEFT - RIGHT)

    def y(self, push: float) -> float:
        return self.top + (self.high - max(push, self.low)) / (self.high - self.low) * (HEIGHT - self.top - BOTTOM)


def draw(curves: Sequence[Curve], happenings: Sequence[Happening], water_in: Radians | None, say: Say, unit: str, per_unit: float) -> str:
    """The chart. Points ride along in ``data-points`` by side (lean in degrees, x, y) for the pointer; from ``water_in``
    on it is dashed: the boat would no longer be the one computed."""
    main = curves[0].curve
    rows = _rows(happenings, abs(main.points[-1].heel))
    pushes = [[c.curve.righting_arm(p) for p in c.curve.points] for c in curves]
    high = max(*(max(p) for p in pushes), 1e-06) * 1.16
    low = max(min(*(min(p) for p in pushes), 0.0), -DEEPEST * high)
    frame = _Frame(TOP + ROW * (max(rows, default=-1) + 1) + 6, high, low * 1.04, abs(main.points[-1].heel))
    parts = [svg.text(14.0, 26.0, "Righting arm GZ", "tank-title"), *_axes(frame, unit, per_unit)]
    parts.insert(1, _area(frame, main))
    lowest = min(pushes[0])
    for happening, row in zip(happenings, rows, strict=True):
        x, at = frame.x(happening.lean), TOP - 6 + ROW * row
        late = happening.lean > 0.55 * frame.last
        parts += [
            svg.line(x, at - 9, x, frame.y(0.0), happening.look),
            svg.text(x + (-4 if late else 4), at, happening.words, "rim-text", "end" if late else "start"),
        ]
    labels = Labels(WIDTH, HEIGHT, [(0.0, HEIGHT - BOTTOM, WIDTH, HEIGHT)])  # what stands along the axis
    labels.keep_clear(*(np.array([[x, TOP], [x, frame.y(0.0)]]) for x in (frame.x(h.lean) for h in happenings)))
    for one, push in reversed(list(zip(curves, pushes, strict=True))):
        leans = [abs(p.heel) for p in one.curve.points]
        wet = water_in if one is curves[0] and water_in is not None else math.inf
        lines = _lines(frame, leans, push, wet)
        parts += [svg.path(svg.path_of(line), f"gz-line {one.look} {look}".strip()) for line, look in lines]
        labels.keep_clear(*(line for line, _ in lines))
    peaks = _peak(frame, main, say, labels)
    if lowest < frame.low:
        spots = [(x, HEIGHT - BOTTOM - 6, "end") for x in np.linspace(WIDTH - RIGHT, 0.5 * WIDTH, 9).tolist()]
        parts.append(labels.text(spots, f"goes on down to {say(lowest, 'length')}", "axis-text", 10.0))
    parts += _labels(frame, curves, pushes, labels)
    parts += peaks
    zero = frame.y(0.0)
    parts += [
        svg.line(LEFT, frame.top, LEFT, HEIGHT - BOTTOM, "cursor"),
        svg.element("circle", cx=LEFT, cy=zero, r=5.0, class_="cursor-dot"),
    ]
    data = {
        side: [
            [round(math.degrees(abs(p.heel)), 3), round(frame.x(abs(p.heel)), 2), round(frame.y(v), 2)]
            for p, v in zip(one.curve.points, push, strict=True)
        ]
        for one, push in zip(curves, pushes, strict=True)
        for side in one.sides
    }
    return svg.svg(WIDTH, HEIGHT, parts, "Righting arm over lean", "chart", data_points=json.dumps(data))


def _lines(frame: _Frame, leans: Sequence[float], push: Sequence[float], wet: Radians) -> list[tuple[Floats, str]]:
    """The curve in pieces (n, 2): up to where water comes in, from there on, and not where it runs below the chart."""
    out: list[tuple[Floats, str]] = []
    whole = sorted({*leans, *([wet] if leans[0] < wet < leans[-1] else [])})
    values = np.interp(whole, leans, push)
    piece: list[list[float]] = []
    for k, (lean, value) in enumerate(zip(whole, values.tolist(), strict=True)):
        look = "gz-after" if lean > wet else ""
        if value >= frame.low:
            if not piece and k and values[k - 1] < frame.low:
                piece.append(_edge(frame, whole[k - 1], values[k - 1], lean, value))
            piece.append([frame.x(lean), frame.y(value)])
        elif piece:
            piece.append(_edge(frame, lean, value, whole[k - 1], values[k - 1]))
        if piece and (value < frame.low or lean == wet or k == len(whole) - 1):
            if len(piece) > 1:
                out.append((np.array(piece), look))
            piece = [piece[-1]] if lean == wet and value >= frame.low else []
    return out


def _edge(frame: _Frame, a: float, below: float, b: float, above: float) -> list[float]:
    """Where a piece of the curve leaves the chart at its lower end."""
    share = (frame.low - below) / (above - below)
    return [frame.x(a + share * (b - a)), frame.y(frame.low)]


def _rows(happenings: Sequence[Happening], last: Radians) -> list[int]:
    """Rows for the labels over the chart, from the top: none lies on another, nor on the line that goes down from one over it, as far as
    so many rows allow."""
    placed: list[tuple[int, float, float, float]] = []  # row, the line's x, the label from, to
    for h in happenings:
        x, width = LEFT + h.lean / last * (WIDTH - LEFT - RIGHT), 6.1 * len(h.words) + 10
        low, high = (x - width, x + 4) if h.lean > 0.55 * last else (x - 4, x + width)

        def crossed(row: int, x: float = x, low: float = low, high: float = high) -> int:
            return sum(
                2 * (r == row and a < high and low < b) + (r > row and a < x < b) + (r < row and low < at < high) for r, at, a, b in placed
            )

        row = min(range(len(placed) + 1), key=lambda k: (crossed(k), k))
        placed.append((row, x, low, high))
    return [row for row, *_ in placed]


def _axes(frame: _Frame, unit: str, per_unit: float) -> list[str]:
    zero, bottom = frame.y(0.0), HEIGHT - BOTTOM
    parts = []
    step = nice_step((frame.high - frame.low) / per_unit, 7) * per_unit
    for k in range(math.ceil(frame.low / step), math.floor(frame.high / step) + 1):
        parts += [
            svg.line(LEFT, frame.y(k * step), WIDTH - RIGHT, frame.y(k * step), "grid"),
            svg.text(LEFT - 8, frame.y(k * step) + 4, f"{k * step / per_unit:g}".replace("-", "−"), "axis-text", "end"),
        ]
    for degrees in range(0, 181, 15 if frame.last < 1.7 else 30):
        lean = math.radians(degrees)
        if lean <= frame.last + 1e-9:
            x = frame.x(lean)
            parts += [svg.line(x, zero - 3, x, zero + 3, "axis"), svg.text(x, bottom + 18, f"{degrees}°", "axis-text", "middle")]
    parts += [
        svg.line(LEFT, zero, WIDTH - RIGHT, zero, "axis"),
        svg.line(LEFT, frame.top, LEFT, bottom, "axis"),
        svg.text(14.0, HEIGHT - 8, f"{unit}, up brings it back", "rim-text"),
        svg.text(WIDTH - RIGHT, HEIGHT - 8, "lean from upright", "axis-text", "end"),
    ]
    return parts


def _area(frame: _Frame, curve: RightingCurve) -> str:
    """What the curve spans over the axis on its first way up and down."""
    points, begun = [], False
    for p in curve.points:
        push = curve.righting_arm(p)
        if push < 0 and begun:
            break
        if push >= 0:
            begun = True
            points.append([frame.x(abs(p.heel)), frame.y(push)])
    if len(points) < 2:
        return ""
    end = frame.x(abs(curve.vanishing)) if curve.vanishing is not None else points[-1][0]
    outline: Floats = np.array([[points[0][0], frame.y(0.0)], *points, [end, frame.y(0.0)]])
    return svg.path(svg.path_of(outline, closed=True), "gz-area")


def _labels(frame: _Frame, curves: Sequence[Curve], pushes: Sequence[Sequence[float]], labels: Labels) -> list[str]:
    """A name on each curve where it runs clear of the others; a single curve needs none."""
    if len(curves) < 2:
        return []
    out: list[str] = []
    peak = curves[0].curve.peak
    taken = [(frame.x(abs(peak.heel)) + shift, frame.y(curves[0].curve.righting_arm(peak)) - 8) for shift in (0.0, 70.0, 140.0)]
    for one, push in zip(curves, pushes, strict=True):
        inside = list(itertools.takewhile(lambda p: p[1] > frame.low, zip(one.curve.points, push, strict=True)))
        places = [(frame.x(abs(p.heel)), frame.y(v)) for p, v in inside]
        inner = places[len(places) // 4 :] or places
        if not inner:
            continue
        at = max(inner, key=lambda q: min((abs(q[1] - b) + 0.25 * abs(q[0] - a) for a, b in taken), default=abs(q[1] - frame.y(0.0))))
        taken.append(at)
        places.sort(key=lambda q: abs(q[0] - at[0]) + abs(q[1] - at[1]))
        spots: list[Place] = [
            (x + dx, y + dy, anchor)
            for x, y in places[:: max(1, len(places) // 24)]
            for dy in (-6, -16, 16, 26)
            for dx, anchor in ((5, "start"), (-5, "end"))
        ]
        out.append(labels.text(spots, one.label, f"plot-label {one.look}".strip()))
    return out


def _peak(frame: _Frame, curve: RightingCurve, say: Say, labels: Labels) -> list[str]:
    if not curve.rights:
        return []
    lean, push = abs(curve.peak.heel), curve.righting_arm(curve.peak)
    px, zero = frame.x(lean), frame.y(0.0)
    left = px < WIDTH * 0.55
    anchor, way = ("start", 1) if left else ("end", -1)
    words = f"hardest at {say(lean, 'angle0')}, {say(push, 'length')}"
    x, y, _ = labels.spot(
        [(px + way * off, frame.y(push) + dy, anchor) for off in (NEAR, 40, 80, 130, 190) for dy in (-8, -16, -26, 20, 32)], words
    )
    parts = [svg.line(px, frame.y(push), px, zero, "peak-line"), svg.text(x, y, words, "gz-peak", anchor)]
    if abs(x - px) > NEAR:
        parts.insert(0, svg.line(px, frame.y(push), x - 3 * way, y - 4, "leader"))
    if curve.vanishing is not None:
        vx = frame.x(abs(curve.vanishing))
        room = vx < WIDTH * 0.6
        parts += [
            svg.element("circle", cx=vx, cy=zero, r=4.5, class_="gz-end"),
            labels.text(
                [
                    (vx + (off if room else -off), zero + dy, "start" if room else "end")
                    for off in (8, 40, 80)
                    for dy in ((-8, 18, 32) if room else (18, -8, 32))
                ],
                f"goes over past {say(abs(curve.vanishing), 'angle0')}",
                "gz-end-text",
            ),
        ]
    return parts
