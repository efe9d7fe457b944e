"""How fast: a balance of thrust and resistance where there is one, and no number that is only the end of a curve."""

import dataclasses
import json
import math

import numpy as np
import pytest

from yarekeel.cli.underway import _top
from yarekeel.core.running.following import Leg
from yarekeel.demo import boats, fast_boats
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.stages.drive import match
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.underway import run, speed
from yarekeel.units import SYSTEMS
from yarekeel.web.shared.page import Reader
from yarekeel.web.shared.top_speed import top_speed

DEMO = (boats.reedwarden, boats.wagtail, boats.dabchick, boats.moorhen, boats.turnstone, fast_boats.sandpiper, fast_boats.whimbrel)
COURSE = (Leg(900, 1.0),)


def bow_heavy(by):
    """The fast model with all its weights so far forward."""
    design = fast_boats.sandpiper()
    moved = tuple(dataclasses.replace(w, at_m=(w.at_m[0] + by, w.at_m[1], w.at_m[2])) for w in design.weights)
    return Craft(dataclasses.replace(design, weights=moved))


@pytest.mark.parametrize("make", DEMO)
def test_at_a_balance_thrust_is_the_resistance_when_asked_again(make):
    craft = Craft(make())
    found = match.assess(craft)
    assert found.top_is == "balance"
    (there,) = speed.points(craft, np.array([found.top.speed]))
    assert there.thrust == pytest.approx(there.resistance, rel=0.01)
    assert found.top_low <= found.top.speed <= found.top_high
    assert run.assess(craft, COURSE).motion.speed.max() == pytest.approx(found.top.speed, rel=0.01)
    assert _top(craft, found)["top_speed_ms"] == found.top.speed
    # a band is told to where the laws go, and no end of a curve stands for its own
    assert math.isinf(found.top_high) or found.top_high < 0.999 * found.speeds[-1]
    assert (_top(craft, found)["high"] is None) == math.isinf(found.top_high)


def test_the_crossing_is_found_itself_and_not_between_coarse_points():
    """Against a sweep of speeds 1 mm/s apart about it, each balanced by itself."""
    craft = Craft(boats.dabchick())
    top = match.assess(craft).top.speed
    sweep = speed.points(craft, np.arange(top - 0.02, top + 0.02, 0.001))
    crossing = next(p.speed for p in sweep if p.thrust <= p.resistance)
    assert top == pytest.approx(crossing, rel=0.005)


def test_where_thrust_is_left_at_the_end_of_the_law_no_top_speed_is_told():
    craft = Craft(with_value(boats.wagtail(), "drive.battery.voltage_v", 90.0))
    found, holds = match.assess(craft), resistance_of(craft)
    assert found.top_is == "beyond_law"
    assert found.top.speed == pytest.approx(float(holds.speeds[-1]))
    assert math.isinf(found.top_high)
    assert found.top_doubt == 0.0
    (told,) = [f for f in found.findings if f.code == "drive.top_speed"]
    assert (told.severity, told.title) == ("near", "Faster than {top:speed} at full throttle")
    as_json = json.loads(json.dumps(_top(craft, found), allow_nan=False))
    assert (as_json["top_speed_ms"], as_json["high"], as_json["top_speed_is"]) == (None, None, "beyond_law")
    assert as_json["low"] == found.top.speed
    assert top_speed(Reader(SYSTEMS["mm_kg"]), found).label == "Faster than"


def test_where_no_attitude_balances_nothing_is_told_beyond():
    craft = bow_heavy(0.15)
    found, holds = match.assess(craft), resistance_of(craft)
    assert found.top_is == "no_attitude"
    assert found.top.speed < holds.lost_from
    assert found.speeds[-1] == pytest.approx(holds.until)
    assert all(b is not None for b, v in zip(holds.balances, holds.speeds, strict=True) if v <= holds.until)
    (told,) = [f for f in found.findings if f.code == "drive.top_speed"]
    assert told.title == "No attitude balances it from {lost:speed}"
    assert told.values["lost"] == holds.lost_from
    assert _top(craft, found)["top_speed_is"] == "no_attitude"
    assert top_speed(Reader(SYSTEMS["mm_kg"]), found).label == "Balances up to"
