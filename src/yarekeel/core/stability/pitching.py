"""Pitching: the boat upright, its bow pressed down step by step, and what that takes of a push forward at a height."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.geometry.attitude import Attitude, rotation
from yarekeel.core.geometry.flotation import plane_of
from yarekeel.core.quantities import KilogramsPerCubicMetre, Metres, Newtons, Point, Radians
from yarekeel.core.sources import STATICS
from yarekeel.core.stability.righting import Righted

LEVEL = 1e-10
"""Of the volume displaced."""


@dataclass(frozen=True, slots=True)
class PitchPoint:
    """At a trim, upright: the ``arm`` by which B lies ahead of G (it lifts the bow), where the boat lies, and the depth at which the
    water answers a push (half the draft)."""

    trim: Radians
    arm: Metres
    origin_height: Metres
    answer: Metres

    @property
    def attitude(self) -> Attitude:
        return Attitude(0.0, self.trim, self.origin_height)


def pitch_curve(boat: Righted, trims: Sequence[Radians]) -> tuple[PitchPoint, ...]:
    """The boat held upright at each of ``trims``, free to sink, each from the trim before. Raises Unsolved."""
    kernel, v0 = boat.kernel, boat.displaced
    g = tuple(boat.gravity[k] - kernel.centre[k] for k in range(3))
    d = kernel.first_guess(v0)
    out = []
    for trim in trims:
        rows = rotation(0.0, trim)
        d, m = plane_of(kernel, rows, v0, d, close=LEVEL * v0 / kernel.total_volume)
        across = sum(rows[0][k] * g[k] for k in range(3))
        arm = (m.mx / v0 - across) * boat.share
        height = -d - sum(rows[2][k] * kernel.centre[k] for k in range(3))
        out.append(PitchPoint(trim, arm, height, -m.mz / m.volume))
    return tuple(out)


@formula("F = W arm / h", STATICS, "steady, bow down")
def push_that_holds(point: PitchPoint, boat: Righted, at: Point, density: KilogramsPerCubicMetre) -> Newtons:
    """The push forward at a place of the boat that holds it at a point of the curve: W arm over its height above where the water
    answers."""
    weight = boat.displaced / boat.share * density * STANDARD_GRAVITY
    height = point.attitude.height_of(at) + point.answer
    return weight * point.arm / height if height > 0 else math.inf
