"""Turning, sailing, shallow water and courses on boats."""

import dataclasses
import math

import numpy as np
import pytest

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import Box
from yarekeel.core.propulsion.sail import apparent, sail_push
from yarekeel.core.running.following import Leg
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import moorhen, reedwarden, turnstone, wagtail
from yarekeel.demo.fast_boats import sandpiper
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design, with_value
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.stability import stability
from yarekeel.stages.underway import run, sailing, speed, turning


def test_more_rudder_turns_tighter_and_a_fixed_skeg_wider():
    craft = Craft(turnstone())
    gentle, hard = turning.assess(craft, math.radians(10)), turning.assess(craft)
    assert hard.turns[-1].radius < gentle.turns[-1].radius
    assert hard.rudder == pytest.approx(0.0351, rel=0.02)  # 0.26 m deep, chord 0.15 and 0.12: the strut's own area
    assert hard.turns[-1].lean > hard.turns[0].lean > 0  # outward, by the square of the speed
    names = [name for name, _ in hard.changes]
    assert names[0] == "as it is"
    radii = dict(hard.changes)
    assert radii["rudder half as deep again"] < radii["as it is"] < radii["front fins half as deep"]
    deeper = with_value(with_value(turnstone(), "bodies.3.shape.height_m", 0.40), "bodies.3.at_m.2", -0.28)
    assert turning.assess(Craft(deeper)).turns[-1].radius < hard.turns[-1].radius
    for angle in (0.0, math.radians(80)):
        with pytest.raises(InvalidInput):
            turning.assess(craft, angle)


def test_one_side_dead_and_no_rudder():
    found = turning.assess(Craft(reedwarden()))
    codes = {f.code for f in found.findings}
    assert {"underway.no_rudder", "underway.one_side"} <= codes
    assert 1.0 < found.one_side < 20.0
    assert turning.assess(Craft(wagtail())).one_side is None


def test_a_rudder_in_the_stream_meets_more():
    found = turning.assess(Craft(sandpiper()))
    assert found.turns[0].stream > found.turns[-1].stream > 1.0
    assert "underway.rudder_stream" in {f.code for f in found.findings} or found.turns[-1].stream <= 1.2


def test_shallow_water_costs_and_widens():
    craft = Craft(moorhen())
    deep, shallow = resistance_of(craft), resistance_of(craft, depth=0.6)
    at = 20
    assert shallow.newtons[at] > deep.newtons[at]
    assert "underway.shallow" in {f.code for f in shallow.findings}
    assert "underway.shallow" not in {f.code for f in deep.findings}
    fast = int(np.searchsorted(shallow.speeds, 0.95 * math.sqrt(9.80665 * 0.6)))
    wide = next(b for b in shallow.balances[fast].forces if b.part == "wave").band
    assert wide == 0.7
    assert speed.assess(craft, 1.0, 0.0, 0.6).resistance.newtons[at] == shallow.newtons[at]
    with pytest.raises(InvalidInput):
        speed.assess(craft, 1.0, 0.0, 0.001)


def test_the_apparent_wind_and_a_sails_push_by_hand():
    """4 m/s abeam at 3 m/s: 5 m/s, 53.13° from ahead. Before the wind all is drag: 0.9 of the dynamic pressure on its area."""
    through, off = apparent(4.0, math.radians(90), 3.0)
    assert through == pytest.approx(5.0)
    assert math.degrees(off) == pytest.approx(53.13, abs=0.01)
    drive, side = sail_push(4.0, math.pi, 2.0, 1.2)
    assert drive == pytest.approx(1.225 / 2 * 16 * 2.0 * 0.9)
    assert side == pytest.approx(0.0, abs=1e-9)
    assert sail_push(4.0, 0.0, 2.0, 1.2)[0] < 0
    close, heel = sail_push(4.0, math.radians(27), 2.0, 1.2)
    # lift 1.5, drag 0.02 and 1.5²/(3 pi) of it induced
    lift, drag = 1.5, 0.02 + 2.25 / (3 * math.pi)
    q = 1.225 / 2 * 16 * 2.0
    assert close == pytest.approx(q * (lift * math.sin(math.radians(27)) - drag * math.cos(math.radians(27))))
    assert heel == pytest.approx(q * (lift * math.cos(math.radians(27)) + drag * math.sin(math.radians(27))))


def sailed(design, wind=4.0):
    craft = Craft(design)
    return sailing.assess(craft, stability.assess(craft), wind)


def test_a_canoe_sails_on_most_courses_and_best_some_way_off_the_wind():
    found = sailed(turnstone())
    angles = [math.degrees(c.angle) for c in found.courses]
    assert min(angles) >= 30
    assert 40 <= math.degrees(found.best.angle) <= 70
    assert found.best.made_good == pytest.approx(found.best.speed * math.cos(found.best.angle + found.best.leeway))
    assert 60 <= math.degrees(found.fastest.angle) <= 130
    for c in found.courses:
        assert c.leeway <= sailing.MOST_LEEWAY
        assert 0 < c.set <= 1
        assert c.lean <= sailing.REEFED + 1e-9
    stronger = sailed(turnstone(), 9.0)
    assert min(c.set for c in stronger.courses) < 1
    assert "underway.reefed" in {f.code for f in stronger.findings}
    assert stronger.fastest.speed > found.fastest.speed
    boardless = dataclasses.replace(turnstone(), bodies=turnstone().bodies[:2])
    slides = sailed(boardless)
    assert slides.best is None or slides.best.made_good < found.best.made_good
    assert sailed(moorhen()) is None
    for wind in (0.0, -2.0, 40.0):
        with pytest.raises(InvalidInput):
            sailed(turnstone(), wind)


def test_the_speed_under_sail_is_where_drive_and_drag_meet():
    craft = Craft(turnstone())
    found = sailed(turnstone())
    holds = resistance_of(craft)
    sail = turnstone().sails[0]
    for c in found.courses[2:8]:
        through, off = apparent(4.0, c.angle, c.speed)
        drive, side = sail_push(through, off, sail.area_m2, sail.coefficient)
        held = float(holds.at(np.array([c.speed]))[0]) + c.set * side * math.sin(c.leeway)
        assert c.set * drive == pytest.approx(held, rel=0.01)


def test_out_turn_and_back():
    legs = run.legs_of("20 100% 2 m/s; TURN; 20 100%; 5 0%")
    assert legs == (Leg(20, 1.0, 2.0), Leg(20, 1.0, -2.0, True), Leg(5, 0.0, -2.0, True))
    found = run.assess(Craft(reedwarden()), legs)
    motion = found.motion
    out = int(np.argmax(motion.place))
    assert motion.time[out] == pytest.approx(20.0, abs=0.1)
    assert motion.place[-1] < motion.place[out] / 2
    assert motion.distance[-1] == pytest.approx(2 * motion.place[out] - motion.place[-1], rel=1e-6)
    back = (motion.time > 30) & (motion.time < 39)
    assert motion.speed[back].mean() > motion.speed[(motion.time > 10) & (motion.time < 19)].mean()  # the wind is astern
    assert found.wind_out == 2.0
    assert found.balance_at(found.at(15.0)) is not None
    assert "underway.turn_back" in {f.code for f in found.findings}
    assert (motion.thrust[motion.throttle > 0] > 0).all()


def test_turn_back_by_where_what_is_left_brings_it_home():
    """At a steady speed and current the way home costs what the way out did: it must turn when two fifths are used of the four that may
    be."""
    craft = Craft(with_value(reedwarden(), "drive.battery.capacity_ah", 0.5))
    found = run.assess(craft, run.legs_of("400 100%"))
    when, where = found.back_by
    used = 1 - float(np.interp(when, found.motion.time, found.left))
    assert used == pytest.approx(0.4, abs=0.02)
    assert where == pytest.approx(float(np.interp(when, found.motion.time, found.motion.place)), rel=1e-6)
    assert next(f for f in found.findings if f.code == "underway.turn_back").severity == "near"
    near = run.assess(craft, run.legs_of("20 60%; turn; 20 60%"))
    assert near.back_by is None
    assert next(f for f in near.findings if f.code == "underway.turn_back").severity == "holds"


def test_a_run_in_shallow_water_is_slower_and_refused_without_water():
    craft = Craft(reedwarden())
    legs = run.legs_of("20 100%")
    assert run.assess(craft, legs, 0.25).motion.speed.max() < run.assess(craft, legs).motion.speed.max()
    with pytest.raises(InvalidInput):
        run.assess(craft, legs, 0.0)


def test_a_lean_in_a_turn_by_arms_in_closed_form():
    """GZ = GM sin(phi) meets l cos(phi) at tan(phi) = l / GM; a curve that ends below the lever is gone over."""
    heels = np.radians(np.arange(0, 91, 1.0))
    arms = 0.05 * np.sin(heels)
    for lever in (0.002, 0.02, 0.06):
        assert turning.leaning(heels, arms, lever) == pytest.approx(math.atan(lever / 0.05), rel=2e-3)
        assert turning.leaning(heels, arms, -lever) == pytest.approx(-math.atan(lever / 0.05), rel=2e-3)
    falls = 0.02 * np.sin(2 * heels)  # at its most 0.02 at 45°, gone at 90°
    assert turning.leaning(heels, falls, 0.05) == math.inf
    assert turning.leaning(heels, falls, -0.05) == -math.inf
    assert 0 < turning.leaning(heels, falls, 0.01) < math.radians(20)


def test_the_arms_of_a_wall_sided_box():
    """GZ = sin(phi) (GM + BM tan²(phi) / 2) until the deck goes under (ship-stability textbooks, Scribanti's formula)."""
    box = Body("hull", Box(length_m=1.0, beam_m=0.4, depth_m=0.3))
    weight = WeightItem("all", 40.0, (0.5, 0.0, 0.08))
    heels, arms = turning.righting_arms(Craft(Design("box", bodies=(box,), weights=(weight,))))
    draft = 40.0 / 1000 / 0.4
    bm = 0.4**2 / 12 / draft
    gm = draft / 2 + bm - 0.08
    for k in (1, 3, 6, 8):
        phi = heels[k]
        assert arms[k] == pytest.approx(math.sin(phi) * (gm + bm * math.tan(phi) ** 2 / 2), rel=4e-3)
