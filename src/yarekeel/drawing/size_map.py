"""The size map as a drawing: where the brief is kept is shaded, each limit is a labelled line, today's boat a mark."""

import numpy as np

from yarekeel.core.geometry.mesh import Floats
from yarekeel.drawing import svg
from yarekeel.drawing.charts import nice_step
from yarekeel.stages.sizing.size_map import SizeMap
from yarekeel.stages.sizing.sizing import Unknown
from yarekeel.units import System, unit_of

WIDTH, HEIGHT = 784.0, 470.0
LEFT, TOP, WIDE, TALL = 66.0, 58.0, 690.0, 356.0
LOOKS = ("", "warm", "soft", "faint")


def draw(found: SizeMap, system: System) -> str:
    """The whole drawing; its frame and its values ride along for the page's script."""
    axes = found.axes
    x, y = axes.x, axes.y

    def px(v: float) -> float:
        return LEFT + float((v - x[0]) / (x[-1] - x[0])) * WIDE

    def py(v: float) -> float:
        return TOP + TALL - float((v - y[0]) / (y[-1] - y[0])) * TALL

    kept = np.nan_to_num(found.least, nan=-1.0) >= 0
    wide, tall = WIDE / (len(x) - 1), TALL / (len(y) - 1)
    cells = []
    for row in range(len(y)):
        for first, last in _runs(kept[row]):
            left, right = max(px(x[first]) - wide / 2, LEFT), min(px(x[last]) + wide / 2, LEFT + WIDE)
            top, low = max(py(y[row]) - tall / 2, TOP), min(py(y[row]) + tall / 2, TOP + TALL)
            cells.append(f"M{left:.1f} {top:.1f}H{right:.1f}V{low:.1f}H{left:.1f}Z")
    parts = [svg.text(14.0, 26.0, "Where the brief is kept", "tank-title"), svg.path("".join(cells), "map-kept")]
    for u, place, upright in ((axes.across, px, True), (axes.up, py, False)):
        values = axes.x if upright else axes.y
        si = _unit(u, system)[1]
        step = nice_step(float(values[-1] - values[0]) / si, 7 if upright else 6)
        for k in range(int(np.ceil(values[0] / si / step)), int(np.floor(values[-1] / si / step)) + 1):
            at = place(k * step * si)
            words = f"{k * step:g}"
            if upright:
                parts.append(svg.line(at, TOP + TALL, at, TOP + TALL + 4, "axis"))
                parts.append(svg.text(at, TOP + TALL + 17, words, "axis-text", "middle"))
            else:
                parts.append(svg.line(LEFT - 4, at, LEFT, at, "axis"))
                parts.append(svg.text(LEFT - 7, at + 4, words, "axis-text", "end"))
    taken: list[tuple[float, float]] = []
    for n, limit in enumerate(axes.limits):
        pieces = zero_lines(found.margins[limit.code])
        if not len(pieces):
            continue
        page = np.stack([LEFT + pieces[..., 0] * wide, TOP + TALL - pieces[..., 1] * tall], axis=-1)
        parts.append(svg.path(svg.segments_of(page), f"plot-line {LOOKS[n % 4]}".strip()))
        spot = _label_place(page.reshape(-1, 2), taken)
        taken.append(spot)
        parts.append(svg.text(spot[0], spot[1], limit.title, f"plot-label {LOOKS[n % 4]}".strip(), "middle"))
    now_x, now_y = px(axes.across.now), py(axes.up.now)
    parts += [
        svg.element("rect", x=LEFT, y=TOP, width=WIDE, height=TALL, class_="map-frame"),
        svg.text(LEFT + WIDE, HEIGHT - 8, _name(axes.across, system), "axis-text", "end"),
        svg.text(14.0, TOP - 6, "↑ " + _name(axes.up, system), "axis-text"),
        svg.element("circle", cx=now_x, cy=now_y, r=5.5, class_="map-now"),
        svg.text(now_x + 9, now_y - 7, "as it is", "plot-label"),
        svg.element("circle", cx=now_x, cy=now_y, r=9.0, class_="map-point"),
    ]
    frame = {
        "data_frame": f"{LEFT:g},{TOP:g},{WIDE:g},{TALL:g}",
        "data_x": f"{float(x[0])!r},{float(x[-1])!r}",
        "data_y": f"{float(y[0])!r},{float(y[-1])!r}",
    }
    return svg.svg(WIDTH, HEIGHT, parts, "Size map: where the brief is kept", "chart plot", data_steps=str(len(x) - 1), **frame)


def _unit(u: Unknown, system: System) -> tuple[str, float]:
    if u.kind == "length":
        unit = unit_of("length", system)
        return unit.label, unit.si
    return ("°" if u.kind == "degrees" else "times"), 1.0


def _name(u: Unknown, system: System) -> str:
    return f"{u.title}, {_unit(u, system)[0]}"


def _runs(row: Floats) -> list[tuple[int, int]]:
    """First and last of each run of true values."""
    padded = np.concatenate([[0], np.asarray(row, dtype=np.int8), [0]])
    turns = np.diff(padded)
    return list(zip(np.flatnonzero(turns == 1).tolist(), (np.flatnonzero(turns == -1) - 1).tolist(), strict=True))


def zero_lines(values: Floats) -> Floats:
    """Segments (k, 2, 2), in steps of the grid (column, row), along which a grid of ``values`` (m, n) is nothing: marching squares,
    straight between the crossings of a cell's sides; cells with a value that is not a number are left out."""
    out = []
    sides = (((0, 0), (0, 1)), ((0, 1), (1, 1)), ((1, 1), (1, 0)), ((1, 0), (0, 0)))  # (row, column) corners, round about
    good = np.isfinite(values)
    mixed = (values >= 0).astype(int)
    total = mixed[:-1, :-1] + mixed[1:, :-1] + mixed[:-1, 1:] + mixed[1:, 1:]
    whole = good[:-1, :-1] & good[1:, :-1] & good[:-1, 1:] & good[1:, 1:]
    for r, c in np.argwhere((total > 0) & (total < 4) & whole).tolist():
        ends = []
        for (r0, c0), (r1, c1) in sides:
            a, b = values[r + r0, c + c0], values[r + r1, c + c1]
            if (a >= 0) != (b >= 0):
                t = a / (a - b)
                ends.append((c + c0 + t * (c1 - c0), r + r0 + t * (r1 - r0)))
        out += [(ends[k], ends[k + 1]) for k in range(0, len(ends) - 1, 2)]
    return np.array(out, dtype=np.float64).reshape(-1, 2, 2)


def _label_place(points: Floats, taken: list[tuple[float, float]]) -> tuple[float, float]:
    """A point of the line well inside the frame, away from labels already set."""
    best, most = (float(points[0][0]), float(points[0][1])), -1.0
    for x, y in points[:: max(1, len(points) // 40)].tolist():
        inside = min(x - LEFT - 60, LEFT + WIDE - x - 60, y - TOP - 14, TOP + TALL - y - 8)
        clear = min((abs(x - a) * 0.3 + abs(y - b) for a, b in taken), default=200.0)
        score = min(inside, 40.0) + min(clear, 60.0)
        if score > most:
            best, most = (x, y - 5), score
    return best
