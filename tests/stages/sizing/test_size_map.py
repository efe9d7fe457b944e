"""The size map: its lines against closed forms and against the solver, and as a drawing."""

import math

import numpy as np
import pytest

from tests.deeds import done
from tests.stages.sizing.test_sizing import box
from yarekeel.core.errors import InvalidInput
from yarekeel.demo.boats import reedwarden, wagtail
from yarekeel.drawing import size_map as drawing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import judge
from yarekeel.stages.sizing import size_map, sizing
from yarekeel.units import SYSTEMS

LENGTH, BEAM = "bodies.0.shape.length_m", "bodies.0.shape.beam_m"


def drawn(craft: Craft, across: str, up: str, points: int) -> size_map.SizeMap:
    axes = size_map.axes_of(craft, across, up, points)
    found = size_map.blank(axes)
    assert len(list(size_map.steps(craft, found))) == points
    return found


def test_a_boxs_freeboard_line_is_the_hyperbola_of_its_draft():
    """Freeboard 0.1 of a box 0.3 deep: L B 0.2 = M / rho wherever the line runs."""
    found = drawn(Craft(box()), LENGTH, BEAM, 15)
    line = drawing.zero_lines(found.margins["freeboard"]).reshape(-1, 2)
    x = np.interp(line[:, 0], np.arange(15), found.axes.x)
    y = np.interp(line[:, 1], np.arange(15), found.axes.y)
    assert len(line) >= 12
    assert (x * y * 0.2).tolist() == pytest.approx([0.120] * len(line), rel=1e-2)  # straight between the points of a cell


@pytest.mark.whole
def test_the_maps_edge_agrees_with_the_solver_at_ten_points():
    """Along ten rows of two boats' maps the line of the limit that binds, straight between the points, is where the solver ends; within
    a third of these wide cells: the map's hulls have wider facets."""
    compared = 0
    for make, across, up in ((reedwarden, LENGTH, "bodies.0.shape.depth_m"), (wagtail, BEAM, LENGTH)):
        craft = Craft(make())
        found = drawn(craft, across, up, 16)
        least, cell = found.least, found.axes.x[1] - found.axes.x[0]
        for row, y in enumerate(found.axes.y.tolist()):
            turns = np.flatnonzero((least[row, :-1] < 0) & (least[row, 1:] >= 0))
            if not len(turns) or compared == 10:
                continue
            k = int(turns[0])
            solved = sizing.solve(Craft(sizing.with_unknown(craft, up, y)), across)
            assert solved.answer is not None
            a, b = found.margins[solved.binding][row, k : k + 2]  # the line of the limit that binds there
            assert found.axes.x[k] + a / (a - b) * cell == pytest.approx(solved.answer.value, abs=0.3 * cell)
            compared += 1
    assert compared == 10


def test_a_point_of_the_map_is_the_boat_that_the_button_makes():
    craft = Craft(box())
    axes = size_map.axes_of(craft, LENGTH, BEAM, 5)
    tried = size_map.point(craft, axes, 1.7, 0.9)
    assert tried is not None
    made = Craft(done(craft, "answer.point", across=LENGTH, x=1.7, up=BEAM, y=0.9))
    assert made.design.bodies[0].shape.length_m == 1.7
    assert made.design.bodies[0].shape.beam_m == 0.9
    assert judge(Figures(made), axes.limits).values == pytest.approx(tried.judged.values)
    for across, x, up, y in (("a", 1, "b", 1), (LENGTH, 1, LENGTH, 2), (LENGTH, math.nan, BEAM, 1), ("scale", 1, BEAM, 1)):
        with pytest.raises(InvalidInput):
            done(craft, "answer.point", across=across, x=x, up=up, y=y)


def test_lines_of_nothing_run_straight_through_the_cells():
    """A circle of radius 3 on a grid of one: every point of the line is 3 from the middle, to the square of a cell's half."""
    y, x = np.mgrid[-5:6, -5:6]
    line = drawing.zero_lines(3.0 - np.hypot(x, y)).reshape(-1, 2) - 5
    assert np.hypot(*line.T).tolist() == pytest.approx([3.0] * len(line), abs=0.06)
    broken = np.array([[1.0, -1.0], [math.nan, 1.0]])
    assert len(drawing.zero_lines(broken)) == 0


def test_the_drawing_has_its_lines_named_and_the_boat_marked():
    found = drawn(Craft(box(gm=0.4)), LENGTH, BEAM, 9)
    text = drawing.draw(found, SYSTEMS["mm_g"])
    for words in ("Freeboard", "GM", "as it is", "hull: length, mm", 'class="map-kept"', 'data-steps="8"'):
        assert words in text


def test_the_frame_travels_in_plain_numbers():
    found = drawn(Craft(box()), LENGTH, BEAM, 5)
    text = drawing.draw(found, SYSTEMS["mm_g"])
    low, high = (float(v) for v in text.split('data-x="')[1].split('"')[0].split(","))
    assert (low, high) == pytest.approx((1.2, 3.2))


def test_points_read_off_between_neighbours_are_near_and_on_their_side():
    """Against every point worked out: same side of every limit, and the lines the same."""
    craft = Craft(box(gm=0.4))
    quick = drawn(craft, LENGTH, BEAM, 12)
    for row, y in enumerate(quick.axes.y.tolist()):
        for k, x in enumerate(quick.axes.x.tolist()):
            tried = size_map.point(craft, quick.axes, x, y)
            assert tried is not None
            for code, margins in quick.margins.items():
                assert (margins[row, k] >= 0) == (tried.judged.margins[code] >= 0) or abs(tried.judged.margins[code]) < 0.05, (row, k, code)
