"""Thrust against drag: crossings, range and the rough hump itself, against sums by hand."""

import dataclasses
import math

import numpy as np
import pytest

from tests.cases import rated
from yarekeel.core.resistance.rough import rough_hump, slenderness
from yarekeel.demo.boats import dabchick
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.stages.drive import match
from yarekeel.stages.drive.speeds import points


def test_the_rough_hump_by_hand():
    """A hull of 1 m on the water, 8 kg: length over the cube root of volume is 5, so the hump takes 2.4 / 25 = 9.6 % of its weight."""
    assert slenderness(1.0, 0.008) == pytest.approx(5.0)
    got = rough_hump(np.array([0.0, 0.43 * math.sqrt(9.80665), 3.0]), 1.0, 0.008, 1000.0)
    weight = 8 * 9.80665
    assert got[0] == pytest.approx(0, abs=1e-9)
    assert got[1:] == pytest.approx([0.048 * weight, 0.096 * weight], rel=1e-3)


def test_slender_hulls_take_what_their_series_took():
    """Round-bilge series, residuary drag over weight at the hump (from memory, read off charts): 0.055 at slenderness 6.6, 0.03 at 8.3."""
    for slender, share in ((6.6, 0.055), (8.3, 0.033)):
        volume = slender**-3
        drag = rough_hump(np.array([0.6 * math.sqrt(9.80665)]), 1.0, volume, 1000.0)[0]
        assert drag / (1000 * volume * 9.80665) == pytest.approx(share, rel=0.15)


def test_the_top_speed_is_where_thrust_is_drag():
    found = match.assess(Craft(dabchick()))
    at = found.top.speed
    assert np.interp(at, found.speeds, found.thrust) == pytest.approx(np.interp(at, found.speeds, found.drag), rel=0.01)
    assert found.top_low < at < found.top_high
    for edge, side in ((found.top_low, -1), (found.top_high, 1)):
        pulled = np.interp(edge, found.speeds, found.thrust) + side * found.thrust_band
        held = np.interp(edge, found.speeds, found.drag) - side * np.interp(edge, found.speeds, found.drag_band)
        assert pulled == pytest.approx(held, rel=0.02)


def test_range_is_time_times_speed_with_a_fifth_kept():
    found = match.assess(Craft(dabchick()), 0.5)
    top = found.top
    drawn = points(dabchick(), 1.0, np.array([top.speed]))[0].current + 0.5
    assert top.current == pytest.approx(drawn, rel=0.01)
    assert top.time == pytest.approx(0.8 * 8 / top.current * 3600)
    assert top.distance == pytest.approx(top.speed * top.time)
    assert found.economical.distance == max(s.distance for s in found.steady)
    assert found.economical.throttle < 1
    # what is drawn besides makes slow running dear
    assert match.assess(Craft(dabchick()), 2.0).economical.speed > match.assess(Craft(dabchick()), 0.05).economical.speed


def test_a_wanted_speed_lies_between_the_throttles():
    found = match.assess(Craft(dabchick()))
    slow, fast = found.steady[4], found.steady[5]
    held = match.at_speed(found, (slow.speed + fast.speed) / 2)
    assert held.throttle == pytest.approx((slow.throttle + fast.throttle) / 2)
    assert held.distance == pytest.approx(held.speed * held.time)
    assert match.at_speed(found, found.top.speed * 1.01) is None


def test_none_where_it_cannot_be_told():
    assert match.assess(Craft(rated())) is None
    assert match.assess(Craft(with_value(dabchick(), "drive.battery", None))) is None
    assert match.assess(Craft(with_value(dabchick(), "drive.motors", ()))) is None
    sunk = with_value(dabchick(), "weights.1.mass_kg", 60.0)
    assert match.assess(Craft(sunk)) is None


def test_what_is_said_of_the_hump_and_the_hull():
    codes = {f.code: f for f in match.assess(Craft(dabchick())).findings}
    assert codes["drive.hump"].title.startswith("It stays below")
    assert codes["drive.range"].values["out"] == pytest.approx(codes["drive.range"].values["far"] / 2)
    more = with_value(dabchick(), "drive.battery", dataclasses.replace(dabchick().drive.battery, voltage_v=22.2))
    over = match.assess(Craft(more))
    assert over.reserve > 1
    assert {f.code: f for f in over.findings}["drive.hump"].title.startswith("It would get over")
    steep = with_value(dabchick(), "bodies.0.scale", (0.7, 1.2, 1.2))  # it rests on its nose
    assert match.assess(Craft(steep)) is None


def test_every_load_is_judged_as_the_drive_is():
    rows = match.loads(Craft(rated()))
    assert [r.name for r in rows] == ["", *(c.name for c in rated().cases)]
    assert rows[0].ratio == pytest.approx(12.8 / (Craft(rated()).mass * 9.80665))
    for share, word in ((1.05, "fails"), (0.5, "holds")):
        asked = with_value(rated(), "brief.thrust_to_weight", rows[0].ratio * share)
        assert match.loads(Craft(asked))[0].verdict == word
    assert {r.verdict for r in match.loads(Craft(with_value(rated(), "drive.motors", ())))} == {""}
