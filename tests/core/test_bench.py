"""The thrust bench: arms by hand, curves against scipy's own fit, faults found in sweeps with something wrong."""

import dataclasses
import math

import numpy as np
import pytest
from scipy.optimize import curve_fit

from tools import bench_shares
from yarekeel.core.errors import InvalidInput
from yarekeel.core.propulsion.bench.curves import Model, fitted, rise
from yarekeel.core.propulsion.bench.reading import read
from yarekeel.core.propulsion.bench.rig import Rig, pull_per_reading
from yarekeel.core.propulsion.bench.sheet import BenchPoint, BenchTest
from yarekeel.core.propulsion.drive import Battery, Drive, ElectricMotor, Motor
from yarekeel.core.propulsion.propulsors import PROPULSORS
from yarekeel.core.propulsion.pulls import pushes_at
from yarekeel.units import DEFAULT, parse

CLEAN = (0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2, 0.1, 0)


def sheet(pull, throttles=CLEAN, noise=0.003, seed=1, **of_test) -> BenchTest:
    """Readings of a pull over throttle, with noise as a share of the largest."""
    rng = np.random.default_rng(seed)
    values = np.array([pull(d) for d in throttles])
    values = values + rng.normal(0, noise * np.abs(values).max(), values.size)
    return BenchTest(points=tuple(BenchPoint(d, float(v)) for d, v in zip(throttles, values, strict=True)), **of_test)


def law(full=10.0, start=0.08, power=1.8):
    return lambda d: full * float(rise(np.array(abs(d)), start, power))


def test_arms_by_hand():
    """Moments about the pivot: T a sin(alpha) = F b sin(beta)."""
    assert pull_per_reading(Rig()) == 1.0
    assert pull_per_reading(Rig(unit_arm_m=0.2, scale_arm_m=0.3)) == pytest.approx(1.5)
    bent = Rig(unit_arm_m=0.4, scale_arm_m=0.2, unit_angle_deg=60, scale_angle_deg=90)
    assert pull_per_reading(bent) == pytest.approx(0.5 / math.sin(math.radians(60)))
    assert pull_per_reading(Rig("direct", unit_arm_m=0.2, scale_arm_m=0.5)) == 1.0


def test_a_reading_in_any_unit():
    """NIST SP 811, appendix B: 1 lbf is 4.4482216152605 N; standard gravity 9.80665 m/s2."""
    assert parse("5 lbf", "force", DEFAULT, "f") == pytest.approx(22.241108, rel=1e-6)
    assert parse("657 g", "force", DEFAULT, "f") == pytest.approx(0.657 * 9.80665)


@pytest.mark.parametrize(
    ("rig", "words"),
    [
        ({"unit_arm_m": 0.0}, "without an arm there is no lever"),
        ({"scale_arm_m": float("nan")}, "Arm to the scale"),
        ({"kind": "rope"}, "lever or a direct pull"),
        ({"unit_angle_deg": 0.0}, "Pull to its arm"),
    ],
)
def test_rigs_that_are_none(rig, words):
    with pytest.raises(InvalidInput, match=words):
        Rig(**rig)


@pytest.mark.parametrize(
    ("point", "words"),
    [({"throttle": 1.2}, "between -100 and 100"), ({"volts": -3.0}, "Volts must lie between 0"), ({"reading_n": float("inf")}, "Reading")],
)
def test_readings_that_are_none(point, words):
    with pytest.raises(InvalidInput, match=words):
        BenchPoint(**point)


def test_the_fit_is_scipys():
    """Levenberg-Marquardt (MINPACK) on the same readings gives the same numbers and the same standard errors."""
    test = sheet(law(), noise=0.01, seed=4)
    d = np.array([p.throttle for p in test.points])
    y = np.array([p.reading_n for p in test.points])
    mine = fitted(d, y, np.zeros(d.size), Model())
    best, covariance = curve_fit(lambda x, f, s, p: f * np.maximum((x - s) / (1 - s), 1e-9) ** p, d, y, p0=(9.0, 0.05, 2.0))
    assert (mine.full.value, mine.start.value, mine.power.value) == pytest.approx(tuple(best), rel=2e-3)
    errors = np.sqrt(np.diag(covariance))
    assert np.sqrt(np.diag(mine.covariance)) == pytest.approx(errors, rel=0.05)
    wide = mine.half_width(np.array([1.0]))[0]
    assert wide == pytest.approx(math.hypot(mine.full.half_width, 0.03 * mine.full.value), rel=1e-3)


def test_arms_and_zero_come_off():
    rig = Rig(unit_arm_m=0.2, scale_arm_m=0.4)
    test = sheet(lambda d: law()(d) / 2 + 0.35, noise=0.0005, rig=rig)
    found = read(test)
    assert found.pull.full.value == pytest.approx(10.0, rel=0.01)
    assert found.judged[0].pull == pytest.approx(0.0, abs=0.03)
    assert found.judged[10].pull == pytest.approx(10.0, rel=0.01)


def test_clean_typed_sweeps_raise_no_alarm():
    for seed in range(12):
        found = read(sheet(law(power=1.5 + 0.05 * seed), seed=seed))
        assert found.faults == ()
        assert found.left_out == 0


def test_a_slip_is_found_where_it_was_and_by_how_much():
    """All pulls from reading 8 on are 18 % low."""
    test = sheet(law())
    points = tuple(dataclasses.replace(p, reading_n=p.reading_n * (0.82 if k >= 8 else 1)) for k, p in enumerate(test.points))
    found = read(dataclasses.replace(test, points=points))
    (fault,) = found.faults
    assert fault.code == "slip"
    assert fault.size == pytest.approx(-0.18, abs=0.01)
    assert fault.points[0] == 8
    assert found.pull.full.value == pytest.approx(10.0, abs=found.pull.half_width(np.array([1.0]))[0])


def test_air_is_found_from_its_throttle_and_a_word_overrules():
    test = sheet(lambda d: law()(d) * (0.6 if d > 0.75 else 1.0))
    found = read(test)
    (fault,) = found.faults
    assert (fault.code, fault.throttle) == ("air", 0.8)
    assert {test.points[k].throttle for k in fault.points} == {0.8, 0.9, 1.0}
    assert fault.size == pytest.approx(0.4, abs=0.02)
    assert all(not j.counts and j.reason == "air" for j in (found.judged[8], found.judged[10]))
    kept = dataclasses.replace(test.points[10], keep="in")
    again = read(dataclasses.replace(test, points=(*test.points[:10], kept, *test.points[11:])))
    assert again.judged[10].counts
    gone = dataclasses.replace(test.points[3], keep="out")
    left = read(dataclasses.replace(test, points=(*test.points[:3], gone, *test.points[4:])))
    assert (left.judged[3].counts, left.judged[3].reason) == (False, "you")


def test_a_scale_at_its_end():
    flat = read(sheet(lambda d: min(law()(d), 5.0), noise=0.0))
    assert [f.code for f in flat.faults] == ["saturated"]
    assert flat.pull.full.value == pytest.approx(10.0, rel=0.05)
    known = read(sheet(law(), rig=Rig(scale_most_n=8.0)))
    assert [f.code for f in known.faults] == ["saturated"]
    none = dataclasses.replace(sheet(law()).points[10], reading_n=None)
    test = sheet(law())
    over = read(dataclasses.replace(test, points=(*test.points[:10], none, *test.points[11:])))
    assert over.judged[10].reason == "saturated"


def test_warming_needs_the_way_back():
    def warm(throttles):
        n = len(throttles)
        return BenchTest(points=tuple(BenchPoint(d, law()(d) * (1 - 0.1 * k / n)) for k, d in enumerate(throttles)))

    (fault,) = read(warm(CLEAN)).faults
    assert fault.code == "warm"
    assert fault.size == pytest.approx(-0.1, abs=0.01)
    assert read(warm(CLEAN[:11])).faults == ()


def test_astern_is_read_by_itself():
    back = tuple(BenchPoint(-d, 0.6 * law()(d)) for d in CLEAN[1:11])
    test = sheet(law(), noise=0.001)
    both = dataclasses.replace(test, points=(*test.points, *back))
    assert read(both).pull.full.value == pytest.approx(10.0, rel=0.01)
    assert read(both, astern=True).pull.full.value == pytest.approx(6.0, rel=0.01)
    assert read(both).judged[-1].reason == "astern"


def test_too_few_readings_give_no_curve():
    assert read(BenchTest()).pull is None
    assert read(BenchTest(points=(BenchPoint(0.5, 2.0), BenchPoint(1.0, 6.0)))).pull is None
    assert read(BenchTest(points=tuple(BenchPoint(d, 0.0) for d in CLEAN))).faults == ()


@pytest.mark.whole
def test_the_law_holds_for_drives_solved_from_their_parts():
    """Pulls of 60 random motors with every propulsor: no fault is invented, and the band at full throttle holds 9 of 10."""
    rng = np.random.default_rng(5)
    kinds = [p for p in PROPULSORS.values() if p.electric]
    inside = []
    for s in range(60):
        kind = kinds[s % len(kinds)]
        kv = 300.0 if kind.kind == "paddle_wheel" else rng.uniform(400, 2500)
        pack = Battery(float(rng.choice([7.4, 11.1, 14.8])), 5.0, 20.0, rng.uniform(0.02, 0.15))
        motor = Motor("m", 0.0, (0, 0, 0), electric=ElectricMotor(kv=kv, resistance_ohm=rng.uniform(0.03, 0.2)), propulsor=kind())
        d = np.array(CLEAN)
        thrust = pushes_at(Drive((motor,), pack), d, np.zeros(d.size), 1000.0, 1e-6)[0].thrust
        noisy = thrust + rng.normal(0, 0.002 * thrust.max(), d.size)
        found = read(BenchTest(points=tuple(BenchPoint(float(x), float(f)) for x, f in zip(d, noisy, strict=True))))
        assert found.faults == ()
        inside.append(abs(found.pull.full.value - thrust.max()) <= found.pull.half_width(np.array([1.0]))[0])
    assert sum(inside) >= 54


@pytest.mark.parametrize("trouble", bench_shares.SAID)
def test_sweeps_of_the_stand_in(trouble):
    """Some of what the command prints of a hundred."""
    held, said = bench_shares.shares(trouble, 12)
    if trouble == "none":
        assert min(held.values()) >= 0.75
        assert said == {}
    else:
        assert said[bench_shares.SAID[trouble][0]] >= 0.75
