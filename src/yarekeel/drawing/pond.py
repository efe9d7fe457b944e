"""A run seen from above: the way out and back on the pond, where the boat is, where it must turn, and where the wind comes from."""

import math

import numpy as np

from yarekeel.core.quantities import Floats, Metres
from yarekeel.drawing import svg

WIDTH, HEIGHT = 300.0, 190.0
LEFT, RIGHT, MIDDLE = 34.0, 266.0, 96.0


def draw(place: Floats, at: int, back_by: Metres | None, wind: float, words: tuple[str, str]) -> str:
    """``place`` (n,) along the line from the start; the boat at a sample; ``words`` of how far it gets and of the place to turn back by;
    the wind is positive from ahead on the way out."""
    far = max(float(place.max()), 1e-6)
    turned = int(np.argmax(place))
    scale = (RIGHT - LEFT) / far

    def point(k: int) -> tuple[float, float]:
        """Out along the upper side of a long loop, back along the lower."""
        share = min(max(float(place[k]) / far, 0.0), 1.0)
        bulge = 34.0 * math.sqrt(max(share * (1 - share) * 4, 0.0)) ** 0.8
        return LEFT + share * (RIGHT - LEFT), MIDDLE + (bulge if k > turned else -bulge)

    picks = np.unique(np.concatenate((np.linspace(0, place.size - 1, 90).astype(int), [turned]))).tolist()
    path = np.array([point(k) for k in picks])
    x, y = point(at)
    heading = -1.0 if at > turned else 1.0
    boat = np.array([[x + 9 * heading, y], [x - 7 * heading, y - 5.5], [x - 7 * heading, y + 5.5]])
    parts = [
        svg.element("ellipse", cx=WIDTH / 2, cy=MIDDLE, rx=WIDTH / 2 - 8, ry=80.0, class_="pond"),
        svg.path(svg.path_of(path), "pond-way"),
        svg.element("circle", cx=LEFT, cy=MIDDLE, r=5.0, class_="pond-start"),
        svg.text(LEFT + 9, MIDDLE + 4, "you", "pond-words"),
        svg.path(svg.path_of(boat, closed=True), "pond-boat"),
    ]
    if back_by is not None:
        mark = LEFT + min(back_by * scale, RIGHT - LEFT)
        parts += [svg.line(mark, MIDDLE - 46, mark, MIDDLE + 46, "wanted"), svg.text(mark - 5, MIDDLE + 60, words[1], "pond-words", "end")]
    parts.append(svg.text(RIGHT - 9, MIDDLE + 4, words[0], "pond-words", "end"))
    if wind:
        # the arrow shows where it blows to
        way = -1.0 if wind > 0 else 1.0
        x1, x2 = WIDTH / 2 - 22 * way, WIDTH / 2 + 22 * way
        parts += [
            svg.line(x1, 26.0, x2, 26.0, "pond-wind"),
            svg.path(svg.path_of(np.array([[x2, 26.0], [x2 - 9 * way, 21.0], [x2 - 9 * way, 31.0]]), closed=True), "pond-boat"),
            svg.text(WIDTH / 2, 42.0, "wind", "pond-words", "middle"),
        ]
    return svg.svg(WIDTH, HEIGHT, parts, "The run from above", "pond-view")
