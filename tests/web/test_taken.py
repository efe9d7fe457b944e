"""What instruments read is taken over into the boat."""

import pytest

from tests.stages.changes.hulls import box
from yarekeel.core.errors import InvalidInput
from yarekeel.core.found import Found
from yarekeel.core.stability.roll_fit import RollFit
from yarekeel.instruments.scale import ScaleBench
from yarekeel.instruments.shelf import Shelf
from yarekeel.units import SYSTEMS
from yarekeel.web.stages.commands import Doing, command_of


class Ticking:
    """A clock that goes on by itself."""

    now = 1000.0

    def __call__(self) -> float:
        return self.now


def still(shelf: Shelf):
    """A scale on the shelf with 2.5 kg on it, and its last reading, settled."""
    clock = Ticking()
    bench = ScaleBench(clock=clock)
    shelf.scale = lambda boat: bench
    bench.put(2.5)
    for _ in range(50):
        clock.now += 0.12
        last = bench.after(0)[-1]
    return bench, last


def test_a_reading_is_taken_over_for_what_it_was_taken():
    shelf = Shelf()
    bench, last = still(shelf)
    command = command_of("scale.take")
    doing = Doing(box(), SYSTEMS["mm_kg"], shelf, 1)
    after = command.done(doing, {"number": last.number, "path": "weigh_in.aft_kg"})[0].design
    assert after.weigh_in.aft_kg == round(bench.take(last.number, f"{after.name} weigh_in.aft_kg"), 6)
    assert after.weigh_in.aft_kg == pytest.approx(2.5, abs=0.02)
    for path in ("weights.0.mass_kg", "weigh_in.rise_m", "weigh_in.scale_kg", "weigh_in.aft_kg.x"):
        with pytest.raises(InvalidInput, match="which reading"):
            command.done(doing, {"number": last.number, "path": path})


def test_a_timed_roll_is_taken_as_ten_rolls_and_half_their_band():
    """The limit of ten times a period is half its 95 % band, a millisecond at least."""

    class Timed:
        def __init__(self, half: float) -> None:
            self.half = half

        def fitted(self) -> RollFit:
            return RollFit(Found(1.23456, self.half), 0.0, 0.1, 6.0, 0.001)

    for half, limit in ((0.004, 0.02), (0.00001, 0.001)):
        shelf = Shelf()
        shelf.tilt = lambda boat, half=half: Timed(half)
        read = command_of("tilt.period").done(Doing(box(), SYSTEMS["mm_kg"], shelf, 1), {})[0].design.incline
        assert (read.rolls, read.time_s, read.time_limit_s) == (10, 12.346, pytest.approx(limit))
