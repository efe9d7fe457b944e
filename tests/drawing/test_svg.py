"""Path data: separate segments are drawn end to end, and are still the same lines."""

import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tools.fuzz import examples
from yarekeel.drawing import svg


def lines_of(path: str) -> list[tuple[tuple[int, int], tuple[int, int]]]:
    """The pieces a path draws, ends in tenths of a pixel, the lower end first."""
    out = []
    for run in path.split("M")[1:]:
        numbers = [round(10 * float(n)) for n in re.findall(r"-?\d+\.\d", run)]
        at = (numbers[0], numbers[1])
        for dx, dy in zip(numbers[2::2], numbers[3::2], strict=True):
            to = (at[0] + dx, at[1] + dy)
            out.append((min(at, to), max(at, to)))
            at = to
    return out


places = st.tuples(st.integers(0, 40), st.integers(0, 40))


@given(st.lists(st.tuples(places, places), max_size=30))
@examples(300)
def test_a_chain_draws_the_same_lines(pieces):
    """Each piece once, however they are chained; coarse places far apart, so that no corner is too blunt to see."""
    tenths = np.array(pieces, dtype=float).reshape(-1, 2, 2) * [130, 170]
    drawn = sorted(lines_of(svg.segments_of(tenths / 10)))
    given = sorted((min(a, b), max(a, b)) for a, b in ((tuple(p[0]), tuple(p[1])) for p in tenths.astype(int).tolist()) if a != b)
    covered = sum(np.hypot(b[0] - a[0], b[1] - a[1]) for a, b in drawn)
    assert covered == pytest.approx(sum(np.hypot(b[0] - a[0], b[1] - a[1]) for a, b in given))
    assert {p for line in drawn for p in line} <= {p for line in given for p in line}


def test_a_closed_outline_is_one_run():
    square = np.array([[[0, 0], [9, 0]], [[9, 9], [0, 9]], [[9, 0], [9, 9]], [[0, 9], [0, 0]]], dtype=float)
    path = svg.segments_of(square)
    assert path.count("M") == 1
    assert len(lines_of(path)) == 4


def test_a_straight_row_is_one_step_and_a_corner_stays():
    row = np.array([[[k, 0], [k + 1, 0]] for k in range(10)], dtype=float)
    assert len(lines_of(svg.segments_of(row))) <= 5
    corner = np.array([[[0, 0], [5, 0]], [[5, 0], [5, 5]]], dtype=float)
    assert len(lines_of(svg.segments_of(corner))) == 2
    assert svg.segments_of(np.zeros((3, 2, 2))) == ""
