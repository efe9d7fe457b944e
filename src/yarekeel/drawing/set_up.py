"""Frames on the strongback from the side, with the heights that they stand at."""

from collections.abc import Callable, Sequence
from itertools import pairwise

from yarekeel.core.patterns.frames import SetUp
from yarekeel.core.quantities import Metres
from yarekeel.drawing import svg
from yarekeel.drawing.labels import Labels

WIDTH, EDGE, HEAD, FOOT, BEAM = 784.0, 56.0, 44.0, 56.0, 14.0
MOST_HIGH = 260.0


def set_up_drawing(rows: Sequence[SetUp], say: Callable[[Metres], str], *, upside_down: bool) -> str:
    """The strongback below, every frame as a line from its nearer edge to its farther one, keel and sheer run through them; heights over
    the strongback beside them, spacings under it. The bow is to the right."""
    if not rows:
        return ""
    low, high = rows[0].x, rows[-1].x
    top = max(max(r.keel, r.sheer) for r in rows)
    along = (WIDTH - 2 * EDGE) / max(high - low, 1e-9)
    scale = min(along, MOST_HIGH / top)
    left = WIDTH / 2 - scale * (high - low) / 2
    height = HEAD + FOOT + BEAM + scale * top
    beam = height - FOOT - BEAM

    def px(x: Metres) -> float:
        return left + scale * (x - low)

    def py(z: Metres) -> float:
        return beam - scale * z

    title = f"Set-up, {'upside down' if upside_down else 'upright'}, bow to the right"
    parts = [
        svg.text(14.0, 25.0, title, "tank-title"),
        svg.element("rect", x=px(low) - 30, y=beam, width=scale * (high - low) + 60, height=BEAM, class_="strongback"),
    ]
    labels = Labels(WIDTH, height)
    for name, of in (("keel", [r.keel for r in rows]), ("sheer", [r.sheer for r in rows])):
        points = [f"{px(r.x):.1f} {py(z):.1f}" for r, z in zip(rows, of, strict=True)]
        parts.append(svg.path("M" + "L".join(points), f"plot-line {'' if name == 'keel' else 'soft'}".strip()))
        parts.append(labels.text([(px(high) + 8, py(of[-1]) + 4, "start")], name, "axis-text"))
    for r in rows:
        near, far = sorted((r.keel, r.sheer))
        parts += [svg.line(px(r.x), py(near), px(r.x), py(far), "axis"), svg.line(px(r.x), py(near), px(r.x), beam, "grid")]
        parts.append(labels.text([(px(r.x), py(far) - 6, "middle"), (px(r.x), py(far) - 20, "middle")], say(far), "axis-text"))
        parts.append(labels.text([(px(r.x) + 4, py(near) + 14, "start"), (px(r.x) - 4, py(near) + 14, "end")], say(near), "axis-text"))
        parts.append(labels.text([(px(r.x), beam + BEAM + 16, "middle"), (px(r.x), beam + BEAM + 32, "middle")], r.name, "plot-label"))
    for before, r in pairwise(rows):
        middle = (px(before.x) + px(r.x)) / 2
        parts.append(labels.text([(middle, beam + BEAM + 34, "middle"), (middle, beam + BEAM + 48, "middle")], say(r.spacing), "axis-text"))
    return svg.svg(WIDTH, height, parts, title, "chart")
