"""The tilt sensor: lines read, the stand-in's swing is a damped one, zero, silence, stillness."""

import math

import numpy as np
import pytest

from yarekeel.core.errors import InvalidInput
from yarekeel.core.stability.roll_fit import fit_roll
from yarekeel.instruments.tilt import CROOKED, StandIn, TiltBench, read_line


class Clock:
    def __init__(self) -> None:
        self.now = 100.0

    def __call__(self) -> float:
        return self.now


def run(trace: TiltBench, clock: Clock, seconds: float) -> None:
    for _ in range(round(seconds / 0.05)):
        clock.now += 0.0501
        trace.after(10**9)


@pytest.fixture
def bench():
    clock, sensor = Clock(), StandIn(seed=5)
    sensor.aboard(1.8, math.radians(2.0), 0.05)
    return clock, sensor, TiltBench(sensor, clock)


@pytest.mark.parametrize(("line", "degrees"), [("HEEL +1.23 deg", 1.23), ("heel -0,5 deg", -0.5), ("TILT 12 deg", 12.0), ("−3.4°", -3.4)])
def test_lines_are_read(line, degrees):
    assert math.degrees(read_line(line)) == pytest.approx(degrees)


@pytest.mark.parametrize("line", ["", "HEEL ?? deg", "1.2 kg"])
def test_lines_that_say_no_angle_are_refused(line):
    with pytest.raises(InvalidInput, match="not an angle"):
        read_line(line)


def test_a_push_dies_away_at_the_period_it_was_given(bench):
    clock, sensor, trace = bench
    sensor.push(math.radians(8), clock.now)
    run(trace, clock, 14)
    readings = [r for r in trace.after(0) if r.heel is not None]
    fit = fit_roll(np.array([r.at for r in readings]), np.array([r.heel for r in readings]))
    assert fit is not None
    assert fit.period.value == pytest.approx(1.8, rel=0.01) or abs(fit.period.value - 1.8) <= fit.period.half_width
    assert fit.offset == pytest.approx(math.radians(2.0) + CROOKED, abs=math.radians(0.1))
    assert fit.decay == pytest.approx(1 / (0.05 * 2 * math.pi / 1.8), rel=0.1)


def test_zero_takes_the_crookedness_off_but_only_when_it_lies_still(bench):
    clock, sensor, trace = bench
    run(trace, clock, 2)
    assert trace.still() == pytest.approx(math.radians(2.0) + CROOKED, abs=math.radians(0.06))
    sensor.push(math.radians(6), clock.now)
    run(trace, clock, 1.2)
    with pytest.raises(InvalidInput, match="still moves"):
        trace.set_zero()
    run(trace, clock, 40)
    trace.set_zero()
    assert trace.still() == pytest.approx(0.0, abs=math.radians(0.05))
    sensor.lean(math.radians(5.0), clock.now)
    run(trace, clock, 40)
    assert trace.still() == pytest.approx(math.radians(3.0), abs=math.radians(0.06))


def test_silence_is_said_and_readings_are_numbered_once(bench):
    clock, sensor, trace = bench
    run(trace, clock, 1)
    sensor.plugged = False
    run(trace, clock, 2)
    with pytest.raises(InvalidInput, match="does not answer"):
        trace.still()
    numbers = [r.number for r in trace.after(0)]
    assert numbers == sorted(set(numbers))
    assert trace.after(numbers[-2])[-1].heel is None
    with pytest.raises(InvalidInput, match="no period"):
        sensor.aboard(math.inf, 0.0, 0.05)
