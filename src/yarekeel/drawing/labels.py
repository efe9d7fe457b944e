"""Where labels stand: each at the first of some places where it covers no other and no line, or where it covers least. All drawings use
this one."""

import math
from collections.abc import Sequence

import numpy as np

from yarekeel.core.quantities import Floats
from yarekeel.drawing import svg

Box = tuple[float, float, float, float]
"""Left, top, right, bottom, px."""
Place = tuple[float, float, str]
"""Where a text is set: x, its baseline's y, and its anchor (start, middle, end)."""
WIDE, HIGH, DEEP = 0.66, 0.82, 0.24
"""Of the size of the type: the mean width of a character, and how far it stands over and under its baseline."""
SIZE = 13.0
APART, THICK = 3.0, 6.0
"""px between the points that a line is followed at, and how much of a label a line that runs under it covers: as one so thick."""


def box_of(spot: Place, words: str, size: float = SIZE) -> Box:
    """The place that a text takes."""
    x, y, anchor = spot
    wide = WIDE * size * len(words)
    left = x - (wide if anchor == "end" else wide / 2 if anchor == "middle" else 0.0)
    return left, y - HIGH * size, left + wide, y + DEEP * size


class Labels:
    """The labels of one drawing, in the order in which they are set: what is set first stands where it wants to."""

    def __init__(self, width: float, height: float, taken: Sequence[Box] = ()) -> None:
        self.width, self.height = width, height
        self.taken: list[Box] = list(taken)
        self._lines = np.empty((0, 2))

    def keep(self, *boxes: Box) -> None:
        """Places that no later label may cover."""
        self.taken += boxes

    def keep_clear(self, *lines: Floats) -> None:
        """Lines through points (n, 2) that a later label should not lie on."""
        self._lines = np.concatenate([self._lines, *(followed(line) for line in lines if len(line) > 1)])

    def spot(self, spots: Sequence[Place], words: str, size: float = SIZE) -> Place:
        """The first of the spots at which the words cover nothing and stay inside the drawing, or the least bad; it is taken then. Raises
        ValueError for no spot at all."""
        if not spots:
            raise ValueError("The spots for a label are empty.")
        best, least = spots[0], math.inf
        for one in spots:
            covered = round(self._covered(box_of(one, words, size)), 1)
            if covered < least:
                best, least = one, covered
            if covered <= 0:
                break
        self.taken.append(box_of(best, words, size))
        return best

    def text(self, spots: Sequence[Place], words: str, class_: str, size: float = SIZE, **values: object) -> str:
        """The label as it is drawn."""
        if not words:
            return ""
        x, y, anchor = self.spot(spots, words, size)
        return svg.text(x, y, words, class_, anchor, **values)

    def _covered(self, box: Box) -> float:
        left, top, right, bottom = box
        over = sum(max(min(right, r) - max(left, a), 0.0) * max(min(bottom, d) - max(top, t), 0.0) for a, t, r, d in self.taken)
        outside = max(-left, 0.0) + max(right - self.width, 0.0) + max(-top, 0.0) + max(bottom - self.height, 0.0)
        x, y = self._lines.T
        under = np.count_nonzero((x > left) & (x < right) & (y > top) & (y < bottom)) if len(x) else 0
        return over + APART * THICK * under + 20.0 * outside


def followed(line: Floats) -> Floats:
    """Points (m, 2) along a line through points (n, 2), evenly apart."""
    x, y = line[:, 0], line[:, 1]
    along = np.zeros(len(line))
    np.cumsum(np.hypot(x[1:] - x[:-1], y[1:] - y[:-1]), out=along[1:])
    long = float(along[-1])
    steps = max(1, math.ceil(long / APART))
    at = np.arange(steps + 1) * (long / steps)
    out = np.empty((steps + 1, 2))
    out[:, 0], out[:, 1] = np.interp(at, along, x), np.interp(at, along, y)
    return out


def around(x: float, y: float, off: float = 10.0) -> tuple[Place, ...]:
    """Spots about a point: right, left, above, below, then further off."""
    out: list[Place] = []
    for far in (off, 2.2 * off):
        out += [(x + far, y + 5, "start"), (x - far, y + 5, "end"), (x, y - far, "middle"), (x, y + far + 11, "middle")]
        out += [(x + far, y - far, "start"), (x - far, y - far, "end"), (x + far, y + far + 9, "start"), (x - far, y + far + 9, "end")]
    return tuple(out)
