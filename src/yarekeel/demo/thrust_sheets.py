"""The skimmer's thrust tests as written down: throttle in per cent, the kitchen scale in grams, volts, amps, turns a minute."""

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.propulsion.bench.rig import Rig
from yarekeel.core.propulsion.bench.sheet import BenchPoint, BenchTest

Rows = tuple[tuple[int, int, float, float, int], ...]
SLIPPED: Rows = (
    (0, -2, 16.4, 0.0, 0),
    (10, 1, 16.4, 0.0, 370),
    (20, 20, 16.4, 0.03, 1400),
    (30, 58, 16.39, 0.1, 2330),
    (40, 106, 16.39, 0.24, 3230),
    (50, 170, 16.38, 0.45, 4100),
    (60, 246, 16.36, 0.74, 4940),
    (70, 296, 16.34, 1.12, 5780),
    (80, 349, 16.32, 1.59, 6590),
    (90, 436, 16.29, 2.17, 7400),
    (100, 533, 16.26, 2.85, 8200),
    (90, 437, 16.29, 2.17, 7400),
    (80, 347, 16.32, 1.59, 6590),
    (70, 272, 16.34, 1.12, 5780),
    (60, 200, 16.36, 0.74, 4940),
    (50, 137, 16.38, 0.45, 4100),
    (40, 88, 16.39, 0.24, 3230),
    (30, 46, 16.39, 0.1, 2330),
    (20, 17, 16.4, 0.03, 1400),
    (10, 1, 16.4, 0.0, 370),
    (0, 0, 16.4, 0.0, 0),
)
PINNED: Rows = (
    (0, 1, 16.4, 0.0, 0),
    (10, 2, 16.4, 0.0, 370),
    (20, 21, 16.4, 0.03, 1400),
    (30, 57, 16.39, 0.1, 2330),
    (40, 108, 16.39, 0.24, 3230),
    (50, 171, 16.38, 0.45, 4100),
    (60, 247, 16.36, 0.74, 4940),
    (70, 333, 16.34, 1.12, 5780),
    (80, 429, 16.32, 1.59, 6590),
    (90, 538, 16.29, 2.16, 7400),
    (100, 657, 16.26, 2.85, 8200),
    (90, 539, 16.29, 2.17, 7400),
    (80, 431, 16.32, 1.59, 6590),
    (70, 332, 16.34, 1.12, 5780),
    (60, 246, 16.36, 0.74, 4940),
    (50, 170, 16.38, 0.45, 4100),
    (40, 109, 16.39, 0.24, 3230),
    (30, 56, 16.39, 0.1, 2330),
    (20, 20, 16.4, 0.03, 1400),
    (10, 3, 16.4, 0.0, 370),
    (0, 1, 16.4, 0.0, 0),
)
THREE_CELLS: Rows = (
    (0, 0, 12.3, 0.0, 0),
    (10, 1, 12.3, 0.0, 210),
    (20, 13, 12.3, 0.01, 1070),
    (30, 39, 12.3, 0.06, 1850),
    (40, 74, 12.29, 0.15, 2590),
    (50, 116, 12.28, 0.3, 3310),
    (60, 167, 12.27, 0.5, 4010),
    (70, 226, 12.25, 0.75, 4700),
    (80, 292, 12.24, 1.08, 5370),
    (90, 364, 12.21, 1.48, 6040),
    (100, 443, 12.18, 1.95, 6700),
    (90, 365, 12.21, 1.49, 6040),
    (80, 293, 12.24, 1.08, 5370),
    (70, 227, 12.25, 0.75, 4700),
    (60, 168, 12.27, 0.49, 4010),
    (50, 117, 12.28, 0.3, 3310),
    (40, 74, 12.29, 0.16, 2590),
    (30, 40, 12.3, 0.06, 1850),
    (20, 14, 12.3, 0.01, 1070),
    (10, 2, 12.3, 0.0, 210),
    (0, 0, 12.3, 0.0, 0),
)


def sheet(name: str, fitted: str, rows: Rows, note: str = "") -> BenchTest:
    """A test of one motor on the lever over the rain barrel."""
    points = [
        BenchPoint(throttle / 100, round(grams / 1000 * STANDARD_GRAVITY, 4), volts, amps, float(rpm), note=note if k == 0 else "")
        for k, (throttle, grams, volts, amps, rpm) in enumerate(rows)
    ]
    rig = Rig(unit_arm_m=0.25, scale_arm_m=0.25)
    return BenchTest(name, fitted, across_m=0.035, ends_ms=4.4, tip_depth_m=0.08, tub_m=0.55, rig=rig, points=tuple(points))


def skimmer_tests() -> tuple[BenchTest, ...]:
    """A joint that slipped, its repeat, and the three cells that were to save weight."""
    return (
        sheet("4 cells, first try", "35 mm propeller, 4 cells", SLIPPED, "arm clamped by hand"),
        sheet("4 cells, joint pinned", "35 mm propeller, 4 cells", PINNED),
        sheet("3 cells", "35 mm propeller, 3 cells", THREE_CELLS, "the lighter pack, tried for the weight"),
    )
