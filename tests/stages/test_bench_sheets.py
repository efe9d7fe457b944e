"""Thrust tests on a boat: what they say, compared, kept and left out, driven by; the other kinds of drive by hand."""

import dataclasses
import math

import numpy as np
import pytest

from tests.cases import rated
from yarekeel.core.constants import AIR_DENSITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.propulsion.bench.sheet import MOST_POINTS, MOST_TESTS, BenchPoint, BenchTest
from yarekeel.core.propulsion.drive import Battery, Drive, Motor, Wiring, direction
from yarekeel.core.propulsion.momentum import static_duct_pull
from yarekeel.core.propulsion.propulsors.hand import HandPower
from yarekeel.core.propulsion.propulsors.measured import BenchPull, straight_fall
from yarekeel.core.propulsion.propulsors.table import ForceOverTime, impulse
from yarekeel.core.propulsion.pulls import at_rest, drive_sums, pushes_at
from yarekeel.demo.boats import dabchick, reedwarden
from yarekeel.exchange import bench_csv, boat_file
from yarekeel.stages.afloat.forced import Forces, pushes_of
from yarekeel.stages.design import editing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.stages.design.fitted import forces_of, pulls_of
from yarekeel.stages.drive import bench, drive, line, match, pack_verdicts, packs, sheets
from yarekeel.units import DEFAULT, SYSTEMS

WATER = (1000.0, 1.1e-6)
THROTTLES = (0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0, 0.8, 0.6, 0.4, 0.2, 0)


def square(full: float, name: str = "Square", **more) -> BenchTest:
    """A unit that pulls as the square of the throttle, read without an error."""
    points = tuple(BenchPoint(d, full * d**2, 12.0, 10 * d**2.5) for d in THROTTLES)
    return BenchTest(name, points=points, **more)


def with_tests(*tests: BenchTest, design=None):
    design = design or rated()
    return dataclasses.replace(design, drive=dataclasses.replace(design.drive, tests=tests))


def codes(findings):
    return {f.code: f for f in findings}


def test_the_skimmers_story():
    """The joint that slipped is found at its reading; the repeat is clean; four cells pull clearly more than three."""
    first, again, three = (bench.assess(reedwarden(), k) for k in range(3))
    slip = codes(first.findings)["bench.slip"]
    assert slip.severity == "fails"
    assert slip.values["first"] == 8
    assert slip.values["size"] == pytest.approx(0.19, abs=0.01)
    assert not [f for f in again.findings if f.severity in ("near", "fails")]
    assert again.full.value == pytest.approx(6.45, abs=again.full.half_width)
    assert three.full.value == pytest.approx(4.35, abs=three.full.half_width)
    said = [f.title for f in bench.comparison(reedwarden())]
    assert said == ["{best} and {other} cannot be told apart", "{best} pulls {more:percent} more than {other}"]
    assert pulls_of(reedwarden())[0] == pytest.approx(again.full.value)


def test_figures_of_a_reading_by_hand():
    """9 N from 60 W over a disk of 50 mm: M = T^1.5 / sqrt(2 rho A) / P; 9 N are 917.7 g, 15.3 g/W."""
    design = with_tests(BenchTest(across_m=0.05, points=(BenchPoint(1.0, 9.0, 12.0, 5.0),)))
    row = bench.assess(design, 0).rows[0]
    area = math.pi / 4 * 0.05**2
    assert row.power == 60.0
    assert row.grams_per_watt == pytest.approx(9 / 9.80665 * 1000 / 60)
    assert row.merit == pytest.approx(9**1.5 / math.sqrt(2 * design.water.density * area) / 60)
    duct = dataclasses.replace(design.drive.tests[0], stream="duct")
    # power that momentum theory asks of a duct for that pull, over what it took
    ideal = next(p for p in np.linspace(1, 400, 400_000) if static_duct_pull(p, area, AIR_DENSITY) >= 9.0)
    assert bench.merit_of(duct, 9.0, 60.0, 1000.0) == pytest.approx(ideal / 60, rel=1e-4)


def test_more_pull_than_momentum_allows_fails():
    hot = with_tests(square(60.0, across_m=0.03))
    assert codes(bench.assess(hot, 0).findings)["bench.merit"].severity == "fails"
    assert "bench.merit" not in codes(bench.assess(with_tests(square(6.0, across_m=0.05)), 0).findings)


@pytest.mark.parametrize(
    ("changes", "code", "said"),
    [
        ({"tip_depth_m": 0.019}, "bench.tips", True),
        ({"tip_depth_m": 0.021}, "bench.tips", False),
        ({"tub_m": 0.31}, "bench.tub", True),
        ({"tub_m": 0.33}, "bench.tub", False),
        ({"tub_m": 0.1, "stream": "air"}, "bench.tub", False),
    ],
)
def test_how_it_was_set_up(changes, code, said):
    """Tips half a diameter under, a tub of eight diameters (common practice), of a propeller of 40 mm."""
    design = with_tests(square(6.0, across_m=0.04, **changes))
    assert (code in codes(bench.assess(design, 0).findings)) == said


def test_two_of_a_kind_keep_what_they_keep():
    design = with_tests(square(5.0, "one", fitted="fan"), square(9.0, "two", fitted="fan", units=2))
    single, several, keeps = bench.together(design)
    assert (single.name, several.name) == ("one", "two")
    assert keeps.value == pytest.approx(0.9, rel=1e-3)
    assert codes(bench.comparison(design))["bench.together"].values["share"] == pytest.approx(0.9, rel=1e-3)
    assert bench.together(with_tests(square(5.0, "one", fitted="fan"), square(9.0, "two", units=2))) is None


def test_a_test_drives_the_boat_and_cannot_be_removed_from_under_it():
    design = sheets.used(with_tests(square(8.0, ends_ms=4.0)), 0)
    assert pulls_of(design) == pytest.approx((8.0, 8.0), rel=1e-3)
    with pytest.raises(InvalidInput, match="choose another"):
        sheets.removed(design, 0)
    renamed = editing.set_field(Craft(design), "drive.tests.0.name", "Bath")
    assert {m.propulsor.test for m in renamed.drive.motors} == {"Bath"}
    assert pulls_of(renamed) == pulls_of(design)
    with pytest.raises(InvalidInput, match="no curve"):
        sheets.used(with_tests(BenchTest()), 0)
    assert sheets.removed(with_tests(square(8.0)), 0).drive.tests == ()
    gone = dataclasses.replace(design.drive, tests=())
    said = codes(drive.assess(Craft(dataclasses.replace(design, drive=gone))).findings)
    assert said["drive.no_test"].severity == "fails"


def test_edits_of_a_sheet():
    design = sheets.added(rated())
    assert [t.name for t in sheets.added(design).drive.tests] == ["Thrust test", "Thrust test 2"]
    design = sheets.with_points(design, 0, (BenchPoint(0.5, 1.0), BenchPoint(0.6, 2.0)))
    assert sheets.without_point(design, 0, 0).drive.tests[0].points == (BenchPoint(0.6, 2.0),)
    assert sheets.kept(design, 0, 1, count=False).drive.tests[0].points[1].keep == "out"
    assert sheets.kept(design, 0, 1, count=True).drive.tests[0].points[1].keep == "in"
    for act in (
        lambda: sheets.without_point(design, 0, 2),
        lambda: sheets.without_point(design, 1, 0),
        lambda: sheets.with_points(design, 4, ()),
        lambda: sheets.removed(design, 4),
        lambda: sheets.with_points(design, 0, (BenchPoint(),) * MOST_POINTS),
        lambda: bench.assess(design, 9),
    ):
        with pytest.raises(InvalidInput):
            act()
    full = design
    for _ in range(MOST_TESTS - 1):
        full = sheets.added(full)
    with pytest.raises(InvalidInput, match="at most"):
        sheets.added(full)
    assert boat_file.loads(boat_file.dumps(design)) == design


def test_pull_from_the_bench_falls_to_nothing_at_its_speed():
    """A jet of steady speed: T = rho A V_j (V_j - V), so the straight fall is exact; at part throttle V_j goes with the root of the pull."""
    area, speed = 0.002, 12.0
    rest = 1000 * area * speed**2
    v = np.linspace(0, 12, 7)
    assert straight_fall(np.full(7, rest), rest, v, speed) == pytest.approx(1000 * area * speed * (speed - v))
    half = straight_fall(np.array([rest / 4]), rest, np.array([6.0]), speed)
    assert half == pytest.approx([0.0], abs=1e-9)
    design = sheets.used(with_tests(square(8.0, ends_ms=4.0)), 0)
    push = pushes_at(design.drive, np.array(1.0), np.array([0.0, 2.0, 4.0]), *WATER)[0]
    assert push.thrust == pytest.approx([8.0, 4.0, 0.0], rel=1e-3, abs=1e-6)
    bare = sheets.used(with_tests(square(8.0)), 0)
    assert not pushes_at(bare.drive, np.array(1.0), np.array([0.0, 2.0]), *WATER)[0].at_speed
    assert match.assess(Craft(bare)) is None
    assert match.assess(Craft(design)) is not None


def test_several_units_by_their_factor():
    tests = (square(8.0, ends_ms=4.0),)
    one = Motor("m", 0.0, (0, 0, 0), propulsor=BenchPull("Square"))
    three = Motor("m", 0.0, (0, 0, 0), propulsor=BenchPull("Square", units=3, together=0.9))
    (single,), (several,) = (at_rest(Drive((m,), None, tests=tests), *WATER) for m in (one, three))
    assert several[0] == pytest.approx(2.7 * single[0])
    assert several[1] == pytest.approx(3 * single[1])


def test_a_person_pulls_by_power():
    """100 W of which 70 % push: at 2 m/s nearly P / V, never more than the most from rest (P = T V)."""
    rower = HandPower("oars", 100.0, 0.7, 150.0)
    push = rower.push(np.array([1.0, 1.0, 0.5]), np.array([0.0, 2.0, 0.0]), (), 1000.0)
    assert push.thrust == pytest.approx([150.0, 70 / (2 + 70 / 150), 75.0], rel=1e-6)
    assert not push.current.any()
    boat = with_value(rated(), "drive", Drive((Motor("Oars", 0.0, (0.4, 0.0, 0.1), propulsor=HandPower("oars", 20.0, 0.7, 10.0)),)))
    found = match.assess(Craft(boat))
    assert math.isinf(found.top.time)
    assert match.home_against(Craft(boat), found, 3.0) is None


def test_a_plain_force_over_time():
    table = ForceOverTime("0 0; 0,2 s: 12 N; 1.5 10; 1.8 0")
    # trapezia by hand: 0.2 x 6 + 1.3 x 11 + 0.3 x 5
    assert impulse(table.rows) == pytest.approx(0.2 * 6 + 1.3 * 11 + 0.3 * 5)
    assert table.push(np.array([0.0, 0.4]), np.zeros(2), (), 1000.0).thrust == pytest.approx([0.0, 12.0])
    (caution,) = table.findings()
    assert caution.code == "caution.force_over_time"
    assert "none is designed here" in caution.sentence


@pytest.mark.parametrize("table", ["", "1", "0 0", "1 5; 1 6", "2 5; 1 6", "0 0; 1 9000", "0 0; x 5", "0 -5; 1 5"])
def test_tables_of_force_that_are_none(table):
    with pytest.raises(InvalidInput):
        ForceOverTime(table)


def test_directions_by_hand():
    motor = Motor("m", 10.0, (0, 0, 0), tilt_deg=30.0, toe_deg=0.0)
    assert direction(motor) == pytest.approx((math.cos(math.pi / 6), 0.0, 0.5))
    assert direction(Motor("m", 10.0, (0, 0, 0), toe_deg=90.0 - 30.0)) == pytest.approx((0.5, math.sqrt(3) / 2, 0.0))
    assert direction(Motor("m", 10.0, (0, 0, 0), astern=True)) == (-1.0, 0.0, 0.0)
    tilted = with_value(rated(), "drive.motors.0.tilt_deg", 30.0)
    assert forces_of(tilted)[0] == pytest.approx((6.4 * math.cos(math.pi / 6), 0.0, 3.2))
    assert pushes_of(Craft(tilted), Forces(throttle=1.0))[0].newtons == pytest.approx(forces_of(tilted)[0])
    sums = drive_sums(tilted.drive, 4.0, *WATER)
    assert sums.thrust == pytest.approx(6.4 + 6.4 * math.cos(math.pi / 6))
    back = with_value(rated(), "drive.motors.0.astern", True)
    assert drive_sums(back.drive, 4.0, *WATER).thrust == pytest.approx(0.0)


def test_couples_with_tilt_and_toe_by_hand():
    craft = Craft(with_value(rated(), "drive.motors.0.tilt_deg", 20.0))
    x, y, z = craft.gravity
    fx, fz = 6.4 * math.cos(math.radians(20)), 6.4 * math.sin(math.radians(20))
    pitch, yaw = line.couples(craft)
    assert pitch == pytest.approx((0.02 - x) * fz - (0.02 - z) * fx - (0.02 - z) * 6.4)
    assert yaw == pytest.approx(-(0.165 - y) * fx - (-0.165 - y) * 6.4)


def test_a_pack_of_its_own():
    own = Battery(7.4, 2.0, 20.0, 0.01)
    motors = (Motor("a", 5.0, (0, 0, 0), 10.0), Motor("b", 5.0, (0, 0, 0), 4.0, battery=own))
    sums = drive_sums(Drive(motors, Battery(11.1, 5.0, 10.0, 0.02)), 4.0, *WATER)
    assert [(p.motor, p.current, p.limit) for p in sums.packs] == [("", 10.0, 50.0), ("b", 4.0, 40.0)]
    assert sums.hardest.motor == ""
    assert sums.run_time == pytest.approx(min(0.8 * 5 / 10, 0.8 * 2 / 4) * 3600)
    mixed = dabchick()
    alone = at_rest(mixed.drive, *WATER)
    fed = with_value(mixed, "drive.motors.0.battery", mixed.drive.battery)
    assert at_rest(fed.drive, *WATER) == pytest.approx(np.array(alone))
    given = editing.add_line(Craft(mixed), "drive.motors.0.battery")
    assert given.drive.motors[0].battery == mixed.drive.battery
    assert editing.remove_line(given, "drive.motors.0.battery") == mixed
    with pytest.raises(InvalidInput):
        editing.add_line(Craft(mixed), "drive.motors.7.battery")


def test_plugs_supply_cold_and_uneven_packs():
    def said(design):
        return codes(pack_verdicts.findings(design, 0.3))

    def wired(**values):
        return said(with_value(rated(), "drive.wiring", Wiring(**values)))

    # 19 A of both motors together; 0.1 A of the receiver and two servos at 1.2 A
    assert [wired(plug_a=a)["drive.plug"].severity for a in (18.9, 20.0, 24.0)] == ["fails", "near", "holds"]
    assert "drive.plug" not in wired()
    assert wired(servos=2, stall_a=1.2, supply_a=2.49)["drive.supply"].severity == "fails"
    assert wired(servos=2, stall_a=1.2, supply_a=2.51)["drive.supply"].severity == "holds"
    assert wired(servos=2)["drive.supply"].severity == "note"
    cold = said(with_value(dabchick(), "drive.battery.temperature_c", 0.0))["drive.cold"]
    assert cold.values["more"] == pytest.approx(1.0)  # by 20 K colder about doubled (common practice)
    assert 0 < cold.values["share"] < 0.2
    assert "drive.cold" not in said(dabchick())
    small = with_value(rated(), "drive.motors.1.battery", Battery(14.8, 2.0, 15.0))
    uneven = said(small)["drive.uneven_packs"]
    assert uneven.values["short"] == pytest.approx(0.8 * 2 / 9.5 * 3600)
    even = with_value(rated(), "drive.motors.1.battery", Battery(14.8, 5.0, 15.0))
    assert "drive.uneven_packs" not in said(even)


def test_a_controls_margin():
    """Rated at a quarter more than the peak (common practice)."""
    current = float(pushes_at(dabchick().drive, np.array(1.0), np.array(0.0), *WATER)[0].running.motor_current)
    for rating, word in ((0.99, "fails"), (1.2, "near"), (1.3, "holds")):
        design = with_value(dabchick(), "drive.motors.0.electric.control_a", current * rating)
        assert codes(drive.assess(Craft(design)).findings)["drive.control"].severity == word
    assert "drive.control" not in codes(drive.assess(Craft(dabchick())).findings)


def test_resistance_by_two_loads():
    """R = (12.3 - 11.7) / (20 - 2) by hand."""
    found = packs.by_two_loads(2.0, 12.3, 20.0, 11.7)
    assert found.value == pytest.approx(0.6 / 18)
    assert found.half_width == pytest.approx(0.6 / 18 * math.hypot(math.sqrt(2) * 0.02 / 0.6, 0.01 * math.hypot(2, 20) / 18))
    for loads in ((2.0, 12.0, 2.1, 11.0), (2.0, 11.0, 9.0, 12.0), (0.0, 12.0, 0.3, 11.9)):
        with pytest.raises(InvalidInput):
            packs.by_two_loads(*loads)
    assert packs.with_resistance(dabchick(), 0.03).drive.battery.resistance_ohm == 0.03
    with pytest.raises(InvalidInput):
        packs.with_resistance(with_value(dabchick(), "drive.battery", None), 0.03)


def test_home_against_a_wind():
    craft = Craft(reedwarden())
    found = match.assess(craft)
    still = match.home_against(craft, found, 0.0)
    assert still.distance == pytest.approx(found.economical.distance / 2, rel=1e-6)
    windy = match.home_against(craft, found, 4.0)
    assert windy.distance < still.distance
    assert windy.home.speed < found.economical.speed or windy.home.throttle > found.economical.throttle
    # out and home use the whole of what may be used: the shares of the pack sum to one
    share = windy.distance / (windy.out.speed * windy.out.time) + windy.distance / (windy.home.speed * windy.home.time)
    assert share == pytest.approx(1.0)
    assert match.home_against(craft, found, 40.0) is None
    for wind in (-1.0, 41.0, math.nan):
        with pytest.raises(InvalidInput):
            match.home_against(craft, found, wind)


@pytest.mark.parametrize(("by", "up"), [("tilt", 0.16), ("height", 0.35)])
def test_the_least_aim_keeps_the_brief_and_less_does_not(by, up):
    strong = rated()
    for k in range(2):
        strong = with_value(with_value(strong, f"drive.motors.{k}.thrust_n", 9.0), f"drive.motors.{k}.at_m.2", up)
    allowed = 0.6
    craft = Craft(with_value(strong, "brief.allowed_trim_deg", allowed))
    aim = line.aim_for(craft, by)
    assert aim is not None

    def trim(share):
        part = line.Aim(aim.tilt * share, aim.raised * share)
        return abs(math.degrees(line.assess(Craft(line.aimed(craft.design, part))).rows[-1].trim))

    limit = max(allowed, abs(math.degrees(line.assess(craft).rows[0].trim)))
    assert trim(0) > limit
    assert trim(1.01) <= limit
    assert trim(0.94) > limit


def test_the_depth_that_keeps_air_away():
    craft = Craft(dabchick())
    down = line.deeper_for_tips(craft)
    assert 0 < down < 0.05
    lower = line.assess(Craft(line.aimed(craft.design, line.Aim(raised=-down))))
    assert lower.draws_at is None
    higher = line.assess(Craft(line.aimed(craft.design, line.Aim(raised=-down + 0.001))))
    assert higher.draws_at is not None
    assert line.deeper_for_tips(Craft(line.aimed(craft.design, line.Aim(raised=-down)))) is None


CSV = "throttle (%);reading (g);volts;note\n0;0;12,4;tare\n50;250,5;12,1;\n100;OL;11,6;\n"


def test_readings_as_text_both_ways():
    points = bench_csv.read("\ufeff" + CSV, "bench", DEFAULT)
    assert points[1].reading_n == pytest.approx(0.2505 * 9.80665)
    assert (points[1].volts, points[2].reading_n, points[2].note) == (12.1, None, "overload")
    again = bench_csv.read(bench_csv.write(BenchTest(points=points)), "bench", DEFAULT)
    assert [p.throttle for p in again] == [0.0, 0.5, 1.0]
    assert again[1].reading_n == pytest.approx(points[1].reading_n)
    plain = bench_csv.read("10, 1.5\n20, 3 ozf\n", "bench", SYSTEMS["in_oz"])
    assert plain[0].reading_n == pytest.approx(1.5 * 0.0283495231 * 9.80665)
    assert plain[1].reading_n == pytest.approx(3 * 0.0283495231 * 9.80665, rel=1e-4)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "Paste one row"),
        ("throttle\n10\n", "no column for the reading"),
        ("throttle,reading\n", "no row under it"),
        ("throttle,reading\n120,3\n", "Row 2: Throttle must lie between -100 and 100"),
        ("throttle,reading,volts\n20,3,-4\n", "Row 2: Volts must lie between 0"),
        ("throttle,reading\n20,\n", "Row 2 has no reading"),
        ("10,1\n" * 50_000, "at most 400 readings; this has 50000"),
        ("10 1\n", "separate the columns"),
        ("throttle,reading\n20,lots\n", "Row 2: “lots” was not understood"),
        ("x" * 3_000_000, "far more than a thrust test"),
    ],
)
def test_texts_that_are_no_readings(text, words):
    with pytest.raises(InvalidInput) as refused:
        bench_csv.read(text, "bench", DEFAULT)
    assert words in refused.value.sentence


def test_a_pack_of_no_cells_is_refused():
    with pytest.raises(InvalidInput, match="a pack has a cell at least"):
        Battery(0.0, 5.0, 20.0)
