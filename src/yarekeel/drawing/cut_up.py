"""A hull from the side with the cuts across it and the pieces between them."""

from collections.abc import Sequence

import numpy as np

from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.union import outline_of
from yarekeel.core.quantities import Metres
from yarekeel.drawing import svg
from yarekeel.drawing.labels import Labels, around

WIDTH, EDGE, HEAD, FOOT = 784.0, 40.0, 34.0, 34.0
MOST_HIGH = 260.0


def cut_up(mesh: Mesh, cuts: Sequence[Metres], pieces: Sequence[tuple[str, Mesh]], say_length: Sequence[str]) -> str:
    """The drawing: cuts with their stations in words, and every piece's name where it lies; of two beside one another both names."""
    low, high = mesh.bounds
    scale = min((WIDTH - 2 * EDGE) / float(high[0] - low[0]), MOST_HIGH / float(high[2] - low[2]))
    height = HEAD + FOOT + scale * float(high[2] - low[2])
    left = (WIDTH - scale * float(high[0] - low[0])) / 2

    def px(x: Metres) -> float:
        return left + scale * (x - float(low[0]))

    def py(z: Metres) -> float:
        return height - FOOT - scale * (z - float(low[2]))

    seen = Mesh(mesh.vertices @ np.array([[1.0, 0.0, 0.0], [0.0, 0.0, -1.0], [0.0, 1.0, 0.0]]), mesh.faces)
    parts = [
        svg.path(svg.path_of(np.array([[px(float(x)), py(float(z))] for x, z in loop])) + "Z", "plot-line") for loop in outline_of(seen)
    ]
    labels = Labels(WIDTH, height)
    for x, words in zip(cuts, say_length, strict=True):
        parts.append(svg.line(px(x), HEAD - 8, px(x), height - FOOT + 6, "wanted"))
        parts.append(labels.text([(px(x), height - FOOT + 20, "middle")], words, "axis-text"))
    names: dict[int, list[str]] = {}
    middles: dict[int, float] = {}
    for name, piece in pieces:
        a, b = piece.bounds
        key = round(float(a[0] + b[0]) * 500)
        names.setdefault(key, []).append(name)
        middles[key] = float(a[0] + b[0]) / 2
    for key, own in names.items():
        at = (px(middles[key]), py(float(low[2] + high[2]) / 2) + 5, "middle")
        parts.append(labels.text([at, *around(at[0], at[1])], ", ".join(own), "plot-label"))
    return svg.svg(
        WIDTH, height, [svg.text(14.0, 22.0, "Where it is cut, bow to the right", "tank-title"), *parts], "Where it is cut", "chart"
    )
