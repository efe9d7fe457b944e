"""Drive and Under way: a slider of Match with three units, 60 speeds of a drive, of waves and of the whole curve, a run of two minutes."""

import dataclasses
import statistics
import time
from collections.abc import Callable

import numpy as np
import pytest

from yarekeel.core.kept import KEEP
from yarekeel.core.propulsion.pulls import pushes_at
from yarekeel.core.resistance.michell import source_of, wave_resistance
from yarekeel.core.running.balance import over_speeds
from yarekeel.demo.boats import dabchick, moorhen, reedwarden, turnstone, wagtail
from yarekeel.demo.fast_boats import sandpiper, whimbrel
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.stages.running.boat import underway_of
from yarekeel.stages.running.resistance import fastest_of
from yarekeel.stages.underway import run

BOATS = (reedwarden, wagtail, dabchick, moorhen, turnstone, sandpiper, whimbrel)


def median_ms(work: Callable[[int], object], rounds: int = 15) -> float:
    taken = []
    for k in range(rounds):
        start = time.perf_counter()
        work(k)
        taken.append(1e3 * (time.perf_counter() - start))
    return statistics.median(taken[1:])


def test_sixty_speeds_of_motor_propeller_and_pack():
    speeds = np.linspace(0, 4, 60)
    for boat in (dabchick(), wagtail()):
        ms = median_ms(lambda k, boat=boat: pushes_at(boat.drive, np.array(1.0), speeds * (1 + k / 1e4), 1000.0, 1e-6))
        print(f"\n{boat.name}: 60 speeds of its drive in {ms:.1f} ms, at most 30")
        assert ms < 30


@pytest.mark.parametrize("boat", BOATS)
def test_a_speed_curve_with_its_attitudes(boat):
    craft = Craft(boat())
    source = source_of(craft.hull.mesh, craft.settled.attitude)
    waves = median_ms(lambda k: wave_resistance(source, np.linspace(0.2, 3.0 + k / 1e3, 60), 1000.0))
    one = underway_of(craft)
    speeds = np.linspace(0.0, fastest_of(one), 60)
    curve = median_ms(lambda k: over_speeds(one, speeds * (1 + k / 1e4)), 5)
    print(
        f"\n{craft.design.name}, {len(craft.hull.mesh.faces)} triangles: waves {waves:.0f} ms, at most 60; curve {curve:.0f} ms, at most 300"
    )
    assert waves < 60
    assert curve < 300


def test_a_run_of_two_minutes():
    craft = Craft(dabchick())
    legs = run.legs_of("30 100%; 70 60%; 20 0%")
    run.assess(craft, legs)
    KEEP.clear()
    start = time.perf_counter()
    run.assess(craft, legs)
    taken = time.perf_counter() - start
    print(f"\na run of two minutes: {taken:.2f} s with all that it needs, at most 1")
    assert taken < 1


def test_a_slider_of_match_with_three_units(tmp_path):
    """The server's answer, three different motors aboard."""
    from yarekeel.instruments.shelf import Shelf
    from yarekeel.store.engine import open_database
    from yarekeel.store.yard import Yard
    from yarekeel.web.stages.routes import Look, look

    boat = dabchick()
    motor = boat.drive.motors[0]
    three = tuple(
        dataclasses.replace(motor, name=f"m{k}", electric=dataclasses.replace(motor.electric, kv=450.0 + 10 * k)) for k in range(3)
    )
    yard = Yard(open_database(tmp_path / "yard.db"))
    number = yard.create(with_value(boat, "drive.motors", three), "mm_g")
    on, shelf = yard.revision(number, "A").snapshot, Shelf()

    def asked(k: int) -> object:
        return look(yard, shelf, number, "A", "drive", Look(on=on, ask={"tab": "match", "what_pitch": str(80 + k)}))

    ms = median_ms(asked, 20)
    print(f"\na slider of Match, three units: {ms:.1f} ms at the median, at most 50")
    assert ms < 50
