"""Speed, as ratios in one run: the contenders are interleaved in one process, so that a noisy machine hits both alike.

Run with ``make bench``; not part of the tests. Each figure to beat is asserted, so that a slow change shows.
"""

import math
import statistics
import time
from collections.abc import Callable

import numpy as np
import pytest

from benchmarks.general import GeneralEvaluator
from tests.bodies import spheroid
from tests.cases import is_minimum, random_cases
from yarekeel.core.geometry.attitude import rotation
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.hydrostatics.equilibrium import solve_equilibrium
from yarekeel.core.stability.righting import righting_curve

SIZES = {2_000: (32, 32), 20_000: (100, 100), 200_000: (320, 313)}


def body(triangles: int) -> Mesh:
    return spheroid(1.0, 0.3, 0.2, *SIZES[triangles])


def seconds(work: Callable[[], object], rounds: int) -> float:
    start = time.perf_counter()
    for _ in range(rounds):
        work()
    return (time.perf_counter() - start) / rounds


def ratio(slow: Callable[[], object], quick: Callable[[], object], pairs: int, quick_rounds: int) -> tuple[float, float, float]:
    """Median of the pairwise ratios, and both medians in ms."""
    slow(), quick()
    found = [(seconds(slow, 1), seconds(quick, quick_rounds)) for _ in range(pairs)]
    return (
        statistics.median(s / q for s, q in found),
        1e3 * statistics.median(s for s, _ in found),
        1e3 * statistics.median(q for _, q in found),
    )


@pytest.mark.parametrize(("triangles", "least"), [(2_000, 30), (20_000, 40), (200_000, 120)])
def test_one_evaluation(benchmark, triangles, least):
    """Volume, first moments and waterplane, against capped slice plus volume plus centroid (which gives no waterplane)."""
    general = GeneralEvaluator(body(triangles))
    kernel = general.kernel
    rows = rotation(0.2, 0.05)
    times, slow, quick = ratio(lambda: general.slice(rows, 0.01), lambda: kernel.evaluate(rows, 0.01), 9 if triangles > 1e5 else 25, 20)
    print(
        f"\none evaluation, {len(general.solid.faces)} triangles: {times:.0f} times ({slow:.1f} ms against {quick:.3f} ms), to beat {least}"
    )
    benchmark(kernel.evaluate, rows, 0.01)
    assert times >= least


def cases(mesh: Mesh, count: int, seed: int) -> list[tuple[float, tuple[float, float, float]]]:
    """Boats as builders load them: G low and a little off the middle."""
    rng = np.random.default_rng(seed)
    low, high = mesh.bounds
    out = []
    for _ in range(count):
        g = (low + high) / 2 + (high - low) * np.array([0.03, 0.03, 0.1]) * rng.uniform(-1, 1, 3) - (high - low) * [0, 0, 0.15]
        out.append((mesh.volume * rng.uniform(0.2, 0.7), tuple(g.tolist())))
    return out


@pytest.mark.parametrize(("triangles", "least", "count"), [(2_000, 18, 25), (20_000, 30, 7)])
def test_cold_equilibrium(benchmark, triangles, least, count):
    """The same solver on both evaluators, from level."""
    mesh = body(triangles)
    general, kernel = GeneralEvaluator(mesh), Flotation(mesh)
    found = []
    for volume, g in cases(mesh, count, 1):
        slow = seconds(lambda v=volume, g=g: solve_equilibrium(general, v, g), 1)
        found.append(slow / seconds(lambda v=volume, g=g: solve_equilibrium(kernel, v, g), 3))
    times = statistics.median(found)
    evaluations = [solve_equilibrium(kernel, v, g).evaluations for v, g in cases(mesh, 300, 2)]
    median, p95 = statistics.median(evaluations), float(np.percentile(evaluations, 95))
    print(
        f"\ncold equilibrium, {len(mesh.faces)} triangles: {times:.0f} times, to beat {least}; evaluations median {median}, p95 {p95:.0f}"
    )
    volume, g = cases(mesh, 1, 1)[0]
    benchmark(solve_equilibrium, kernel, volume, g)
    assert times >= least
    assert median <= 4
    assert p95 <= 6


def test_warm_equilibrium(benchmark):
    """Restarted where it was, after a weight moved a little, as in a drag."""
    mesh = body(2_000)
    kernel = Flotation(mesh)
    volume, g = cases(mesh, 1, 3)[0]
    at = solve_equilibrium(kernel, volume, g).attitude
    evaluations = []
    for step in range(200):
        g = (g[0] + 0.002 * math.cos(step), g[1], g[2])
        result = solve_equilibrium(kernel, volume, g, at)
        at = result.attitude
        evaluations.append(result.evaluations)
    print(f"\nwarm equilibrium: evaluations median {statistics.median(evaluations)}")
    benchmark(solve_equilibrium, kernel, volume, g, at)
    assert statistics.median(evaluations) <= 3


def test_righting_curve(benchmark):
    """37 heels with trim free: evaluations, and time."""
    mesh = body(2_000)
    hull = Hull(mesh)
    volume, g = cases(mesh, 1, 4)[0]
    heels = [math.radians(5 * k) for k in range(37)]
    curve = benchmark(righting_curve, hull, volume, (g[0], 0.0, g[2]), heels)
    print(f"\nrighting curve, 37 heels: {curve.evaluations} evaluations")
    assert curve.evaluations <= 100


@pytest.mark.parametrize("extreme", [False, True])
def test_a_thousand_boats_end_in_verified_minima(extreme):
    """1 000 cases each: nearly awash, nearly weightless, G far outside; every end checked against its neighbours' energy."""
    evaluations, failed = [], 0
    kernels: dict[int, Flotation] = {}
    for mesh, volume, gravity in random_cases(1000, 3, extreme):
        kernel = kernels.setdefault(id(mesh), Flotation(mesh)) if id(mesh) not in kernels else kernels[id(mesh)]
        result = solve_equilibrium(kernel, volume, gravity)
        evaluations.append(result.evaluations)
        failed += not is_minimum(kernel, volume, result)
    p90, most = float(np.percentile(evaluations, 90)), max(evaluations)
    print(f"\n1000 {'extreme' if extreme else 'random'} boats: {failed} not minima; evaluations p90 {p90:.0f}, most {most}")
    assert failed == 0
    assert p90 <= 15
    assert most <= 60


def test_drag_answer(benchmark, tmp_path):
    """One answer of the server to a dragged weight on the demo boat: solve, judge, draw, render."""
    from yarekeel.demo.story import load_demo
    from yarekeel.instruments.shelf import Shelf
    from yarekeel.store.engine import open_database
    from yarekeel.store.yard import Yard
    from yarekeel.web.stages.routes import Change, Look, look

    yard, shelf = Yard(open_database(tmp_path / "yard.db")), Shelf()
    load_demo(yard)
    on = yard.revision(2, "B").snapshot
    place = iter(range(100_000))

    def answer():
        at = (0.15 + next(place) * 1e-5, 0.0, 0.06)
        return look(
            yard,
            shelf,
            2,
            "B",
            "float",
            Look(on=on, changes=[Change(path="x", action="do", verb="weights.place", args={"line": 2, "place": at})]),
        )

    benchmark.pedantic(answer, rounds=80, warmup_rounds=5)
    median = 1e3 * statistics.median(benchmark.stats.stats.data)
    print(f"\nanswer to a drag: median {median:.1f} ms, to beat 16")
    assert median < 16
