"""The stand-in behaves as a bench scale does, and the bench gives each reading away once."""

import pytest

from yarekeel.core.errors import Conflict, InvalidInput
from yarekeel.instruments.scale import ScaleBench, StandIn, read_line


class Clock:
    def __init__(self) -> None:
        self.now = 100.0

    def __call__(self) -> float:
        return self.now


@pytest.fixture
def clock() -> Clock:
    return Clock()


def run(bench: ScaleBench, clock: Clock, seconds: float) -> list:
    seen, last = [], max((r.number for r in bench.after(0)), default=0)
    for _ in range(int(seconds / 0.12)):
        clock.now += 0.121
        fresh = bench.after(last)
        last = fresh[-1].number if fresh else last
        seen += fresh
    return seen


@pytest.mark.parametrize(
    ("line", "kg"),
    [
        ("  1.234 kg", 1.234),
        ("ST,GS,+0001.234 kg", 1.234),
        ("US -12.5 g", -0.0125),
        ("12,5 g\r\n", 0.0125),
        ("N  2.00 lb", 0.90718474),
        ("16 oz", 0.45359237),
        ("OL", None),
        ("------", None),
        ("OVER", None),
    ],
)
def test_lines_of_plain_text(line, kg):
    assert read_line(line) == (None if kg is None else pytest.approx(kg))


@pytest.mark.parametrize("line", ["", "ready", "1.2", "1.2 furlong", "\x00\xff"])
def test_other_lines_are_no_weight(line):
    with pytest.raises(InvalidInput):
        read_line(line)


def test_it_swings_settles_and_is_tared(clock):
    scale = StandIn(seed=4)
    bench = ScaleBench(scale, clock)
    run(bench, clock, 2)
    scale.put(0.8, clock())
    seen = run(bench, clock, 4)
    assert seen[0].state == "settling"
    assert max(r.kg for r in seen) > 0.805  # it overshoots first
    assert seen[-1].state == "settled"
    assert seen[-1].kg == pytest.approx(0.8, abs=0.0015)
    scale.tare(clock())
    scale.put(1.3, clock())
    assert run(bench, clock, 4)[-1].kg == pytest.approx(0.5, abs=0.002)


def test_it_drifts_and_shows_steps(clock):
    scale = StandIn(seed=4, drift_kg_per_s=1e-4, noise_kg=0.0)
    bench = ScaleBench(scale, clock)
    first = run(bench, clock, 1)[-1].kg
    clock.now += 100
    later = run(bench, clock, 1)[-1].kg
    assert later - first == pytest.approx(0.0101, abs=0.0011)
    assert all(round(r.kg / 0.001) == pytest.approx(r.kg / 0.001, abs=1e-6) for r in bench.after(0))


def test_too_much_is_too_much(clock):
    scale = StandIn(capacity_kg=5.0)
    bench = ScaleBench(scale, clock)
    scale.put(6.0, clock())
    last = run(bench, clock, 4)[-1]
    assert (last.kg, last.state) == (None, "overload")
    with pytest.raises(InvalidInput):
        bench.take(last.number, "all up")


def test_unplugged_in_the_middle_nothing_is_lost(clock):
    scale = StandIn()
    bench = ScaleBench(scale, clock)
    scale.put(2.0, clock())
    before = run(bench, clock, 4)
    scale.plugged = False
    gap = run(bench, clock, 1)
    assert {r.state for r in gap} == {"off"}
    scale.plugged = True
    after = run(bench, clock, 2)
    numbers = [r.number for r in (*before, *gap, *after)]
    assert numbers == list(range(numbers[0], numbers[0] + len(numbers)))  # none left out, none twice
    assert after[0].state == "settling"  # it must settle anew
    assert after[-1].kg == pytest.approx(2.0, abs=0.002)
    assert [r.number for r in bench.after(before[-1].number)] == [r.number for r in (*gap, *after)]  # a page catches up


def test_no_reading_is_taken_twice(clock):
    scale = StandIn()
    bench = ScaleBench(scale, clock)
    scale.put(2.0, clock())
    last = run(bench, clock, 4)[-1]
    assert bench.take(last.number, "fore") == bench.take(last.number, "fore")  # asked again it is the same one
    with pytest.raises(Conflict, match="already"):
        bench.take(last.number, "aft")
    with pytest.raises(Conflict, match="too old"):
        bench.take(-5, "aft")


def test_the_same_seed_gives_the_same_readings(clock):
    runs = []
    for _ in range(2):
        clock.now = 0.0
        scale = StandIn(seed=9)
        bench = ScaleBench(scale, clock)
        scale.put(1.0, clock())
        runs.append([r.kg for r in run(bench, clock, 3)])
    assert runs[0] == runs[1]
    with pytest.raises(InvalidInput):
        StandIn().put(-1.0, 0.0)
