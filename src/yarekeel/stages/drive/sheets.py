"""Edits of the thrust tests: each gives a new design. Raises InvalidInput where one cannot be done."""

import dataclasses

from yarekeel.core.errors import InvalidInput
from yarekeel.core.propulsion.bench.sheet import MOST_TESTS, BenchPoint, BenchTest
from yarekeel.core.propulsion.propulsors.measured import BenchPull
from yarekeel.stages.design.design import Design, with_value
from yarekeel.stages.drive.bench import assess


def _with(design: Design, tests: tuple[BenchTest, ...]) -> Design:
    return dataclasses.replace(design, drive=dataclasses.replace(design.drive, tests=tests))


def added(design: Design) -> Design:
    """One more thrust test: the rig and the unit of the last one, no readings. Raises InvalidInput beyond the most."""
    tests = design.drive.tests
    if len(tests) >= MOST_TESTS:
        raise InvalidInput("bench", f"A boat has at most {MOST_TESTS} thrust tests; remove one first.")
    names = {t.name for t in tests}
    name = next(n for n in ("Thrust test", *(f"Thrust test {k}" for k in range(2, 100))) if n not in names)
    new = dataclasses.replace(tests[-1], name=name, points=()) if tests else BenchTest(name)
    return _with(design, (*tests, new))


def removed(design: Design, number: int) -> Design:
    """Without a test. Raises InvalidInput where a unit is known by it, or there is none."""
    tests = design.drive.tests
    if not 0 <= number < len(tests):
        raise InvalidInput("bench", "There is no such thrust test.")
    name = tests[number].name
    using = next((m.name for m in design.drive.motors if isinstance(m.propulsor, BenchPull) and m.propulsor.test == name), None)
    if using is not None:
        raise InvalidInput("bench", f"“{using}” is known by this test: choose another for it on Drive first.")
    return _with(design, tests[:number] + tests[number + 1 :])


def with_points(design: Design, number: int, points: tuple[BenchPoint, ...]) -> Design:
    """A test with more readings at its end. Raises InvalidInput beyond the most."""
    if not 0 <= number < len(design.drive.tests):
        raise InvalidInput("bench", "There is no such thrust test; add one first.")
    now = design.drive.tests[number].points
    return with_value(design, f"drive.tests.{number}.points", (*now, *points))


def without_point(design: Design, number: int, point: int) -> Design:
    """A test without one of its readings. Raises InvalidInput where there is none."""
    if not 0 <= number < len(design.drive.tests) or not 0 <= point < len(design.drive.tests[number].points):
        raise InvalidInput("bench", "There is no such reading.")
    now = design.drive.tests[number].points
    return with_value(design, f"drive.tests.{number}.points", now[:point] + now[point + 1 :])


def kept(design: Design, number: int, point: int, *, count: bool) -> Design:
    """A reading that counts by the builder's word, or does not."""
    without_point(design, number, point)  # refused where there is none
    return with_value(design, f"drive.tests.{number}.points.{point}.keep", "in" if count else "out")


def used(design: Design, number: int) -> Design:
    """Every motor that is not worked out otherwise, or else the first, known by this test. Raises InvalidInput without a curve or motor."""
    found = assess(design, number)
    if found.full is None:
        raise InvalidInput("bench", "This test gives no curve yet.")
    if not design.drive.motors:
        raise InvalidInput("bench", "Add a motor on Drive first.")
    bare = {n for n, m in enumerate(design.drive.motors) if m.propulsor is None or isinstance(m.propulsor, BenchPull)} or {0}
    motors = tuple(
        dataclasses.replace(m, propulsor=BenchPull(found.test.name), known="measured") if n in bare else m
        for n, m in enumerate(design.drive.motors)
    )
    return with_value(design, "drive.motors", motors)
