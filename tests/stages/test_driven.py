"""A motor whose pull is worked out from its parts: what the stages, the file and the edits make of it."""

import dataclasses
import json
import math

import numpy as np
import pytest

from tests.cases import rated
from yarekeel.core.constants import AIR_DENSITY, STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.propulsion.drive import Battery, Drive, ElectricMotor, Motor, pack_resistance
from yarekeel.core.propulsion.open_water import blade_load
from yarekeel.core.propulsion.propulsors import PROPULSORS
from yarekeel.core.propulsion.propulsors.jets import DuctedFan, WaterJet
from yarekeel.core.propulsion.propulsors.water_propeller import WaterPropeller
from yarekeel.core.propulsion.pulls import at_rest, drive_sums, thrust_spreads
from yarekeel.demo.boats import dabchick, reedwarden
from yarekeel.exchange import boat_file
from yarekeel.stages.afloat.forced import Forces, pushes_of
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.stages.design.editing import set_field
from yarekeel.stages.design.fitted import pulls_of, sums_of
from yarekeel.stages.drive import drive
from yarekeel.stages.drive.speeds import over_speed, points

WATER = (999.1, 1.14e-6)
MOTOR = Motor("Motor", 5.0, (0.0, 0.0, 0.05), 4.0, electric=ElectricMotor(kv=450, resistance_ohm=0.12), propulsor=WaterPropeller())


def with_motor(**changes):
    return with_value(dabchick(), "drive.motors.0", dataclasses.replace(dabchick().drive.motors[0], **changes))


def found(design, code):
    return [f for f in drive.assess(Craft(design)).findings if f.code == code]


def test_sums_are_those_of_the_solved_motor():
    pack = Battery(11.1, 8.0, 20.0, 0.02)
    sums = drive_sums(Drive((MOTOR,), pack), 2.0, *WATER)
    ((thrust, current),) = at_rest(Drive((MOTOR,), pack), *WATER)
    assert (sums.thrust, sums.current) == (thrust, current)
    assert sums.thrust != 5.0
    assert sums.thrust_to_weight == pytest.approx(thrust / (2.0 * STANDARD_GRAVITY))
    assert sums.hardest.load_voltage == pytest.approx(11.1 - 0.02 * current)
    assert sums.run_time == pytest.approx(0.8 * 8.0 / current * 3600)
    assert sums.thrust_spread == pytest.approx(thrust * thrust_spreads(Drive((MOTOR,), pack), *WATER)[0])


def test_without_a_battery_the_typed_pull_stands():
    assert at_rest(Drive((MOTOR,)), *WATER) == ((5.0, 4.0),)
    assert thrust_spreads(Drive((MOTOR,)), *WATER) == (0.0,)


def test_a_motor_beside_it_takes_from_the_same_pack():
    pack = Battery(11.1, 8.0, 20.0, 0.05)
    alone = at_rest(Drive((MOTOR,), pack), *WATER)[0]
    beside = at_rest(Drive((MOTOR, Motor("pump", 0.0, (0, 0, 0), 20.0)), pack), *WATER)
    assert beside[1] == (0.0, 20.0)
    # 20 A through 0.05 ohm takes a volt: as from a pack of 10.1 V
    assert beside[0] == pytest.approx(at_rest(Drive((MOTOR,), dataclasses.replace(pack, voltage_v=10.1)), *WATER)[0], rel=1e-3)
    assert beside[0][0] < alone[0]


def test_resistance_of_a_pack_that_nobody_measured():
    # three cells of 0.012 ohm Ah over 8 Ah
    assert pack_resistance(Battery(11.1, 8.0, 20.0, 0.0)) == pytest.approx(3 * 0.012 / 8)
    assert pack_resistance(Battery(11.1, 8.0, 20.0, 0.03)) == 0.03


def test_air_and_water_each_by_its_density():
    assert DuctedFan.in_air
    assert not WaterJet.in_air
    pack = Battery(22.2, 5.0, 40.0, 0.02)
    # a fan turned at its rated turns pulls its rated pull, and so does a jet
    for one in (DuctedFan(rated_rpm=20_000), WaterJet(rated_n=30)):
        motor = Motor("m", 0.0, (0, 0, 0), electric=ElectricMotor(kv=3000, resistance_ohm=0.02), propulsor=one)
        (state,) = at_rest(Drive((motor,), pack), *WATER)
        curve = one.curve(100.0, WATER[1])
        density = AIR_DENSITY if one.in_air else WATER[0]
        rated = density * (one.rated_rpm / 60) ** 2 * curve.diameter**4 * curve.thrust[0]
        assert rated == pytest.approx(one.rated_n, rel=1e-3)
        assert state[0] > 0


@pytest.mark.parametrize("kind", PROPULSORS)
def test_choosing_what_it_turns_gives_it_parts_and_a_battery(kind):
    bare = with_value(rated(), "drive.battery", None)
    fitted = set_field(Craft(bare), "drive.motors.1.propulsor.kind", kind)
    assert isinstance(fitted.drive.motors[1].propulsor, PROPULSORS[kind])
    assert (fitted.drive.battery is not None) == PROPULSORS[kind].electric
    assert fitted.drive.motors[0] == bare.drive.motors[0]
    assert pulls_of(fitted)[1] > 0 or kind == "bench_test"  # it needs a test yet
    assert boat_file.loads(boat_file.dumps(fitted)) == fitted
    assert json.loads(boat_file.dumps(fitted))["drive"]["motors"][1]["propulsor"]["kind"] == kind
    again = set_field(Craft(fitted), "drive.motors.1.propulsor.kind", kind)
    assert again == fitted
    assert pulls_of(set_field(Craft(fitted), "drive.motors.1.propulsor.kind", ""))[1] == rated().drive.motors[1].thrust_n


def test_unknown_kinds_are_refused_by_hand_and_in_a_file():
    with pytest.raises(InvalidInput, match="Water propeller"):
        set_field(Craft(reedwarden()), "drive.motors.0.propulsor.kind", "sponge")
    data = json.loads(boat_file.dumps(dabchick()))
    data["drive"]["motors"][0]["propulsor"]["kind"] = "sponge"
    with pytest.raises(InvalidInput, match=r"drive\.motors\.0\.propulsor\.kind must be one of"):
        boat_file.read(data)


def test_a_file_of_version_4_keeps_its_meaning():
    data = json.loads(boat_file.dumps(rated()))
    data["version"] = 4
    for motor in data["drive"]["motors"]:
        del motor["propulsor"], motor["electric"]
    assert boat_file.read(data) == rated()
    assert pulls_of(boat_file.read(data)) == (6.4, 6.4)


def test_more_current_than_the_motor_stands_fails():
    current = over_speed(dabchick())[0].push.running.motor_current[0]
    stands = dataclasses.replace(dabchick().drive.motors[0].electric, most_current_a=current * 1.01)
    assert not found(with_motor(electric=stands), "drive.motor_over")
    burns = dataclasses.replace(stands, most_current_a=current * 0.99)
    (verdict,) = found(with_motor(electric=burns), "drive.motor_over")
    assert verdict.severity == "fails"
    unknown = dataclasses.replace(stands, most_current_a=0.0)
    assert not found(with_motor(electric=unknown), "drive.motor_over")


def test_what_is_said_of_parts():
    (told,) = found(dabchick(), "drive.from_parts")
    middle = (told.values["low"] + told.values["high"]) / 2
    assert middle == pytest.approx(sums_of(dabchick(), 1.0).thrust)
    assert told.values["high"] - middle == pytest.approx(sums_of(dabchick(), 1.0).thrust_spread)
    steep = dataclasses.replace(dabchick().drive.motors[0].propulsor, pitch_m=0.070)
    assert len(found(with_motor(propulsor=steep), "drive.outside_series")) == 1
    assert not found(dabchick(), "drive.outside_series")


def test_a_ratio_that_its_doubt_could_take_away_is_near():
    reached = sums_of(dabchick(), Craft(dabchick()).mass).thrust_to_weight
    for share, word in ((1.05, "fails"), (0.92, "near"), (0.7, "holds")):
        asked = with_value(dabchick(), "brief.thrust_to_weight", reached * share)
        assert found(asked, "drive.thrust_to_weight")[0].severity == word


def test_over_speed_ends_where_it_no_longer_pushes():
    (curve,) = over_speed(dabchick())
    assert curve.speeds[0] == 0
    assert curve.push.thrust[-1] <= 0 < curve.push.thrust[-2]
    pitch = dabchick().drive.motors[0].propulsor.pitch_m
    assert curve.speeds[-1] == pytest.approx(pitch * curve.push.running.turns[-1], rel=0.2)
    assert over_speed(rated()) == (None, None)


def test_points_are_sums_and_refuse_what_is_not_known():
    got = points(dabchick(), 1.0, np.array([0.0, 1.0]))
    assert got[0].thrust == pytest.approx(sums_of(dabchick(), 1.0).thrust)
    assert got[0].power == pytest.approx(got[0].volts * got[0].current)
    assert got[1].thrust < got[0].thrust
    assert points(rated(), 0.5, np.array([0.0]))[0].thrust == pytest.approx(6.4)
    with pytest.raises(InvalidInput, match="Port motor"):
        points(rated(), 1.0, np.array([0.0, 1.0]))
    with pytest.raises(InvalidInput, match="no motor"):
        points(with_value(rated(), "drive.motors", ()), 1.0, np.array([0.0]))


def test_a_force_that_stands_takes_the_worked_out_pull():
    (push,) = pushes_of(Craft(dabchick()), Forces(throttle=0.5))
    assert push.newtons[0] == pytest.approx(pulls_of(dabchick(), 0.5)[0])
    assert push.newtons[0] < 0.5 * pulls_of(dabchick())[0]


def test_a_propeller_loaded_beyond_its_blades_is_said():
    """13 psi of blade is 89.6 kPa (Barnaby, from memory): 45 mm, area ratio 0.5, 795 mm2 of blade hold 71 N."""
    assert blade_load(0.5 * math.pi / 4 * 0.045**2 * 90_000, 0.045, 0.5) == pytest.approx(1.0)
    assert not found(dabchick(), "drive.cavitates")
    pull = at_rest(dabchick().drive, *WATER)[0][0]
    # the same pull from ever less blade
    for share, word in ((0.9, "near"), (1.1, "fails")):
        area = pull / (share * 90_000) / (math.pi / 4 * 0.045**2)
        motor = dabchick().drive.motors[0]
        thin = dataclasses.replace(motor.propulsor, area_ratio=max(area, 0.1))
        (verdict,) = drive._cavitates(dataclasses.replace(motor, propulsor=thin), pull * max(area, 0.1) / area)
        assert verdict.severity == word
