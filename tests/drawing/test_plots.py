"""Line charts: what stands where, read from the drawing itself."""

import itertools
import math
import xml.etree.ElementTree as ET

import numpy as np
import pytest

from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.drawing.righting import Happening, _rows

X = np.linspace(0.0, 1.0, 50)


def words_of(drawing: str, look: str) -> dict[str, tuple[float, float]]:
    """Where the texts of a look are set."""
    found = [e for e in ET.fromstring(drawing).iter() if e.tag.endswith("text") and look in e.get("class", "").split()]
    return {"".join(e.itertext()): (float(e.get("x", "")), float(e.get("y", ""))) for e in found}


def lines_of(drawing: str, look: str) -> list[tuple[float, float, float, float]]:
    found = [e for e in ET.fromstring(drawing).iter() if e.tag.endswith("line") and look in e.get("class", "").split()]
    return [(float(e.get("x1", "")), float(e.get("y1", "")), float(e.get("x2", "")), float(e.get("y2", ""))) for e in found]


def flat(count: int) -> list[Trace]:
    """So many lines that all end within a hair's breadth of each other, under a high one."""
    return [Trace(X, (k * 1e-3 + 0 * X).tolist(), f"line {k}") for k in range(count)] + [Trace(X, (10 - X).tolist(), "high")]


def test_names_of_many_lines_stand_beside_the_chart_apart_and_in_the_order_of_their_ends():
    drawing = plot(flat(6), Axis("x"), Axis("y"), "Many")
    names, leaders = words_of(drawing, "plot-label"), lines_of(drawing, "leader")
    (_, _, right, _) = max(lines_of(drawing, "grid"), key=lambda g: g[2])
    assert len(names) == len(leaders) == 7
    levels = sorted(y for _, y in names.values())
    assert min(b - a for a, b in itertools.pairwise(levels)) == pytest.approx(14.0)
    assert sorted(names, key=lambda n: names[n][1]) == ["high", *(f"line {k}" for k in (5, 4, 3, 2, 1, 0))]
    assert all(x > right for x, _ in names.values())
    for (x1, _, x2, y2), (x, y) in zip(sorted(leaders, key=lambda one: one[3]), sorted(names.values(), key=lambda n: n[1]), strict=True):
        assert x1 < x2 < x
        assert y == pytest.approx(y2 + 4)


def test_names_of_a_few_stand_on_the_chart():
    drawing = plot(flat(2), Axis("x"), Axis("y"), "Few")
    (_, _, right, _) = max(lines_of(drawing, "grid"), key=lambda g: g[2])
    assert lines_of(drawing, "leader") == []
    assert all(x <= right for x, _ in words_of(drawing, "plot-label").values())


def test_the_labels_of_outermost_limits_stand_within_the_chart_and_off_the_curve():
    marks = (Mark(1.0, "bow up, as much as you allow"), Mark(-1.0, "bow down, as much as you allow"))
    drawing = plot([Trace(X, (-0.85 + 0.1 * X).tolist(), "")], Axis("x"), Axis("trim"), "Limits", height=206.0, across=marks)
    up, down = words_of(drawing, "rim-text").values()
    above, below = sorted(lines_of(drawing, "wanted"), key=lambda one: one[1])
    bottom = max(y1 for _, y1, _, _ in lines_of(drawing, "axis"))
    assert up[1] < above[1]
    assert below[1] < down[1] < bottom - 4


def test_no_label_over_the_righting_arm_lies_on_the_line_of_another():
    leans = [("starboard float touches 4°", 4), ("Paddle out 6°", 6), ("starboard float under 19°", 19), ("rim under 49°", 49)]
    rows = _rows([Happening(words, math.radians(lean)) for words, lean in leans], math.pi)
    assert rows == [0, 1, 2, 3]  # each to the right starts lower, so that its line goes down beside the labels over it
    apart = _rows([Happening("a", 0.1), Happening("b", 1.5)], math.pi)
    assert apart == [0, 0]
