"""The line of thrust: depth of tips, couples and leans against sums by hand."""

import dataclasses
import math

import pytest

from tests.cases import rated
from yarekeel.core.propulsion.drive import Motor
from yarekeel.demo.boats import dabchick, reedwarden
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.stages.drive import line
from yarekeel.stages.drive.speeds import over_speed


def at(design, z, y=0.0):
    return with_value(design, "drive.motors.0.at_m", (0.01, y, z))


def found(design):
    got = line.assess(Craft(design))
    return got, {f.code: f for f in got.findings}


def test_tips_by_hand():
    boat = afloat.assess(Craft(dabchick())).afloat
    got, said = found(dabchick())
    # shaft 60 mm up at 10 mm from aft, propeller 45 mm across; the water's surface by the boat's own attitude
    water = -boat.attitude.height_of((0.01, 0.0, 0.0))
    assert got.rows[0].tips[0][1] == pytest.approx(water - 0.060 * math.cos(boat.attitude.trim) - 0.0225, abs=2e-5)
    assert got.draws_at == 0  # 18 mm, and half a diameter is 22.5
    assert said["drive.tips"].severity == "near"
    assert said["drive.tips"].values["wanted"] == pytest.approx(0.0225)
    deep, said = found(at(dabchick(), 0.050))
    assert deep.rows[0].tips[0][1] == pytest.approx(got.rows[0].tips[0][1] + 0.010, abs=1e-4)
    assert deep.draws_at is None
    assert said["drive.tips"].severity == "holds"


def test_the_throttle_from_which_it_draws_air_lies_between_the_rows():
    # a motor pulling high up over a stern propeller pushes the bow down and lifts it out
    high = Motor("fan", 40.0, (0.5, 0.0, 0.5))
    design = with_value(at(dabchick(), 0.052), "drive.motors", (at(dabchick(), 0.052).drive.motors[0], high))
    got, _ = found(design)
    margins = [row.tips[0][1] - 0.0225 for row in got.rows if row.holds]
    assert margins[0] > 0 > margins[-1]
    assert 0 < got.draws_at < 1
    below = line._row(Craft(design), got.draws_at - 0.02).tips[0][1]
    above = line._row(Craft(design), got.draws_at + 0.02).tips[0][1]
    assert below > 0.0225 > above


def test_couple_and_yaw_by_hand_and_by_sign():
    craft = Craft(rated())
    got, said = found(rated())
    # 12.8 N on the height of G over the line: below it, so the bow rises
    assert got.couple == pytest.approx(12.8 * (craft.gravity[2] - 0.020))
    assert got.rows[-1].trim > got.rows[0].trim
    assert got.balanced
    assert "drive.yaw" not in said
    weak = with_value(rated(), "drive.motors.1.thrust_n", 3.0)
    got, said = found(weak)
    # the port motor pulls 3.4 N more at 165 mm to port: the bow goes to starboard
    assert got.yaw == pytest.approx(-3.4 * 0.165, abs=9.4 * abs(Craft(weak).gravity[1]) + 1e-9)
    assert not got.balanced
    assert said["drive.yaw"].values["side"] == "starboard"


def test_lean_by_torque_by_hand():
    boat = afloat.assess(Craft(dabchick())).afloat
    torque = float(over_speed(dabchick())[0].push.running.torque[0])
    got, said = found(dabchick())
    assert math.tan(got.torque_heel) == pytest.approx(torque / (boat.mass * 9.80665 * boat.gm_transverse))
    assert said["drive.torque"].values["lean"] == got.torque_heel
    assert found(reedwarden())[0].torque_heel == 0


def test_no_trim_holds_a_pull_far_too_high():
    high = Motor("fan", 400.0, (0.4, 0.0, 2.0))
    got, said = found(with_value(reedwarden(), "drive.motors", (high,)))
    assert not got.rows[-1].holds
    assert said["drive.line_held"].severity == "near"


def test_none_where_nothing_pulls_or_it_sinks():
    assert line.assess(Craft(with_value(reedwarden(), "drive.motors", ()))) is None
    assert line.assess(Craft(with_value(dabchick(), "weights.1.mass_kg", 60.0))) is None
    other = dataclasses.replace(dabchick().drive.motors[0], propulsor=None)
    assert line.assess(Craft(with_value(dabchick(), "drive.motors.0", other))).rows[0].tips == ()
