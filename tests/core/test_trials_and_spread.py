"""What two drafts explain, and how the weights' spread reaches the figures."""

import math

import numpy as np
import pytest

from tests.bodies import box
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import RoundBilge
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.afloat import float_boat, outputs_of, spread_of
from yarekeel.core.propulsion.drive import Battery, Drive, Motor
from yarekeel.core.propulsion.pulls import drive_sums
from yarekeel.core.trials.float_test import attitude_from_drafts, explain
from yarekeel.core.weights.items import WeightItem, total_of


def test_two_drafts_of_a_box_by_hand():
    # Box 1.0 x 0.4 at 80 and 120 mm: mean 100 mm is 40 kg; B of a trapezium lies (L/6)(Tb - Ts)/(Tb + Ts) ahead of amidships.
    hull = Hull(box(1.0, 0.4, 0.3))
    found = explain(hull, 1000.0, 0.05, 1.0, 0.12, 0.0, 0.08)
    assert found.mass == pytest.approx(40.0, rel=1e-9)
    ahead = (1.0 / 6) * (0.12 - 0.08) / (0.12 + 0.08)
    height = (0.12**2 + 0.12 * 0.08 + 0.08**2) / (3 * (0.12 + 0.08))
    slope = 0.08 - 0.12
    # G at 50 mm on the vertical through B; the vertical leans by the trim.
    assert found.lcg == pytest.approx(0.5 + ahead + (0.05 - height) * slope, rel=1e-9)
    assert found.mass_half_width == pytest.approx(math.hypot(0.2, 0.2), rel=1e-6)  # 1 mm at either end is half a mm of draft


@pytest.mark.parametrize("gravity", [(0.40, 0.0, 0.06), (0.5, 0.01, 0.05), (0.46, -0.008, 0.09)])
def test_explain_is_the_inverse_of_float(gravity):
    hull = Hull(RoundBilge().build())
    a = float_boat(hull, 9.0, gravity, 999.0)
    o = outputs_of(a, hull, 0.9, 0.1)
    found = explain(hull, 999.0, gravity[2], 0.9, o.draft_bow, 0.1, o.draft_stern, o.heel)
    assert (found.mass, found.lcg, found.tcg) == pytest.approx((9.0, gravity[0], gravity[1]), rel=1e-8)


def test_marks_the_wrong_way_round_are_refused():
    with pytest.raises(InvalidInput, match="ahead"):
        attitude_from_drafts(0.1, 0.05, 0.9, 0.05)


def test_spread_against_drawn_boats():
    """Linear spread against 600 re-solved boats with masses drawn at random; sampling error of a deviation is 1/sqrt(2n)."""
    hull = Hull(RoundBilge().build())
    items = [
        WeightItem("hull", 4.0, (0.48, 0.0, 0.07), "guessed"),
        WeightItem("battery", 3.0, (0.38, 0.004, 0.04), "data"),
        WeightItem("motor", 1.5, (0.15, 0.0, 0.05), "weighed"),
    ]
    total = total_of(items)
    a = float_boat(hull, total.mass, total.centre, 1000.0)
    s = spread_of(hull, items, a, 0.9, 0.1)
    assert s is not None
    assert s.mass == pytest.approx(math.sqrt(0.8**2 + 0.15**2 + 0.015**2), rel=1e-6)  # by squares, by hand
    rng = np.random.default_rng(5)
    drawn = []
    for _ in range(600):
        masses = [i.mass_kg + rng.normal(0, i.half_width / 2) for i in items]
        mass = sum(masses)
        g = tuple(sum(m * i.at_m[k] for m, i in zip(masses, items, strict=True)) / mass for k in range(3))
        o = outputs_of(float_boat(hull, mass, g, 1000.0, a.attitude), hull, 0.9, 0.1)
        drawn.append((o.draft_bow, o.draft_stern, o.trim, o.freeboard, o.gm, o.origin_height))
    half_widths = 2 * np.std(drawn, axis=0)
    expected = [s.draft_bow, s.draft_stern, s.trim, s.freeboard, s.gm, s.origin_height]
    assert half_widths == pytest.approx(expected, rel=4 / math.sqrt(1200))


def test_total_by_moments_and_refusal_of_nothing():
    total = total_of([WeightItem("a", 2.0, (0.0, 0.1, 0.2)), WeightItem("b", 6.0, (1.0, -0.1, 0.0))])
    assert total.centre == pytest.approx((0.75, -0.05, 0.05))
    with pytest.raises(InvalidInput, match="mass"):
        total_of([])
    with pytest.raises(InvalidInput):
        WeightItem("x", -1.0, (0, 0, 0))
    with pytest.raises(InvalidInput):
        WeightItem("x", math.nan, (0, 0, 0))


def test_drive_sums_by_hand():
    drive = Drive(
        (Motor("l", 3.0, (0, 0.1, 0.02), 8.0), Motor("r", 1.0, (0, -0.1, 0.06), 4.0)),
        Battery(12.0, 4.0, 10.0, 0.05),
    )
    s = drive_sums(drive, 4.0, 999.1, 1.14e-6)
    assert s.thrust_to_weight == pytest.approx(4.0 / (4.0 * 9.80665))
    assert s.line_height == pytest.approx((3 * 0.02 + 1 * 0.06) / 4)
    assert s.hardest.limit == pytest.approx(40.0)
    assert s.hardest.load_voltage == pytest.approx(12.0 - 12.0 * 0.05)
    assert s.run_time == pytest.approx(0.8 * 4.0 / 12.0 * 3600)
