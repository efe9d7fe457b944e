"""Packs side by side, a mix of throttle and the wires, against sums by hand."""

import dataclasses

import pytest

from tests.cases import rated
from yarekeel.core.propulsion.cells import gauge_area
from yarekeel.core.propulsion.drive import Battery, Drive, Motor
from yarekeel.core.propulsion.pulls import at_rest
from yarekeel.demo.boats import dabchick, reedwarden
from yarekeel.stages.design.design import with_value
from yarekeel.stages.drive import pack_verdicts, packs

WATER = (dabchick().water.density, dabchick().water.viscosity)


def with_pack(design, **changes):
    return with_value(design, "drive.battery", dataclasses.replace(design.drive.battery, **changes))


def found(design, code, one_way=0.3):
    return [f for f in pack_verdicts.findings(design, one_way) if f.code == code]


def test_rows_are_the_drive_solved_with_each_pack():
    rows = packs.side_by_side(dabchick())
    assert [r.cells for r in rows] == [2, 3, 4, 5, 6]
    assert [r.in_use for r in rows] == [False, True, False, False, False]
    four = rows[2]
    drive = dabchick().drive
    # 4.2 V a cell charged, 3.7 V with a fifth left; three cells of 0.02 ohm make four of 0.02667
    for volts, pulled in ((16.8, four.thrust), (14.8, four.late)):
        pack = dataclasses.replace(drive.battery, voltage_v=volts, resistance_ohm=0.02 * 4 / 3)
        ((thrust, current),) = at_rest(Drive(drive.motors, pack), *WATER)
        assert pulled == pytest.approx(thrust)
        if volts == 16.8:
            assert four.current == pytest.approx(current)
            assert four.load_volts == pytest.approx(16.8 - 0.02 * 4 / 3 * current)
            assert four.sag == pytest.approx(0.02 * 4 / 3 * current / 16.8)
            assert four.time == pytest.approx(0.8 * 8 / current * 3600)
    assert four.limit == 80  # half of 20 C on 8 Ah
    assert [r.thrust for r in rows] == sorted(r.thrust for r in rows)


def test_a_pack_outside_the_usual_stands_among_them():
    assert [r.cells for r in packs.side_by_side(packs.with_cells(dabchick(), 8))] == [2, 3, 4, 5, 6, 8]
    assert packs.side_by_side(reedwarden()) == ()
    assert packs.side_by_side(with_value(dabchick(), "drive.battery", None)) == ()


def test_fitting_cells_keeps_the_cell():
    fitted = packs.with_cells(dabchick(), 5).drive.battery
    assert (fitted.voltage_v, fitted.capacity_ah, fitted.c_rating) == (18.5, 8.0, 20.0)
    assert fitted.resistance_ohm == pytest.approx(0.02 * 5 / 3)
    unknown = packs.with_cells(with_pack(dabchick(), resistance_ohm=0.0), 5).drive.battery
    assert unknown.resistance_ohm == 0


def test_motors_that_draw_too_much_are_named():
    least = packs.side_by_side(dabchick())[3].current  # of five cells
    electric = dataclasses.replace(dabchick().drive.motors[0].electric, most_current_a=least * 1.01)
    rows = packs.side_by_side(with_value(dabchick(), "drive.motors.0.electric", electric))
    assert [r.over for r in rows] == [(), (), (), (), ("Motor",)]


def test_a_mix_by_hand():
    # typed motors: 19 A at full throttle, 9.5 at half; a third of the time hard: 12.667 A; 0.8 * 5 Ah
    current, time = packs.mixed_time(rated(), 1 / 3, 0.5)
    assert current == pytest.approx(19 / 3 + 9.5 * 2 / 3)
    assert time == pytest.approx(0.8 * 5 / current * 3600)
    assert packs.mixed_time(with_value(rated(), "drive.battery", None), 0.3, 0.5) is None


def test_wires_by_hand():
    # 19 A through 2 x 0.3 m of gauge 14: 2.081 mm², 8.286 mohm/m (ASTM B258): 4.97 mohm, 94.5 mV, 1.79 W
    (row,) = [w for w in packs.wires(14.8, 19.0, 0.3) if w.gauge == 14]
    assert row.area == gauge_area(14)
    assert row.resistance == pytest.approx(4.97e-3, rel=2e-3)
    assert row.drop == pytest.approx(0.0945, rel=2e-3)
    assert row.share == pytest.approx(0.0945 / 14.8, rel=2e-3)
    assert row.heat == pytest.approx(1.79, rel=5e-3)
    assert row.fits
    # 16 is too thin by its 14.5 A/mm², 14 over 2 m by its drop of 4.3 %
    assert [w.gauge for w in packs.wires(14.8, 19.0, 0.3) if w.fits] == [8, 10, 12, 14]
    assert [w.gauge for w in packs.wires(14.8, 19.0, 2.0) if w.fits] == [8, 10, 12]


def test_what_is_said():
    (fades,) = found(dabchick(), "drive.fades")
    three = packs.side_by_side(dabchick())[1]
    assert fades.values["share"] == pytest.approx(1 - three.late / three.thrust)
    assert found(dabchick(), "drive.current")[0].severity == "holds"
    now = packs.full_current(dabchick())  # the pack is 11.1 V open as typed, not the charged one of the table
    assert found(with_pack(dabchick(), capacity_ah=now / 10 * 0.99), "drive.high_current")[0].severity == "near"
    assert found(with_pack(dabchick(), capacity_ah=now / 10 * 0.99, c_tested=True), "drive.current")[0].severity == "holds"
    assert found(with_pack(dabchick(), capacity_ah=now / 20 * 0.98), "drive.over_current")[0].severity == "fails"
    assert found(rated(), "drive.current")[0].values["lasting"] == 37.5
    assert found(rated(), "drive.wire")[0].values["gauge"] == 14
    assert found(rated(), "drive.wire_none", 40.0)[0].severity == "fails"
    assert pack_verdicts.findings(with_value(rated(), "drive.battery", None), 0.3) == ()


def test_resistance_and_cells_of_a_pack():
    assert [packs.cells_in(Battery(v)) for v in (3.7, 7.4, 11.1, 12.6, 14.8, 22.2)] == [1, 2, 3, 3, 4, 6]
    assert packs.resistance(Battery(11.1, 5.0, 20.0, 0.0)) == pytest.approx(3 * 0.012 / 5)
    assert packs.lasting_current(Battery(11.1, 5.0, 20.0)) == 50
    assert packs.full_current(with_value(reedwarden(), "drive.motors", (Motor("m", 1.0, (0, 0, 0), 7.0),))) == 7.0
