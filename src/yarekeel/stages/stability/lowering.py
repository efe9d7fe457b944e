"""How far the centre of gravity must come down for a boat to come back from any heel."""

import math

import numpy as np

from yarekeel.core.quantities import Metres, Point, Radians
from yarekeel.core.stability.righting import Righted, RightingCurve, righting_curve

LOWERINGS = 5
COARSE: tuple[Radians, ...] = tuple(math.radians(a) for a in (*range(0, 180, 12), 177))


def lowering_of(boat: Righted, curves: tuple[RightingCurve, ...]) -> Metres | None:
    """How far G must come down for the arm to be positive all the way: what the worst heel lacks over sin(heel), solved again with
    G lowered until nothing changes; None where that is more than the hull is deep, or does not settle."""
    gravity, lowered = boat.gravity, 0.0
    depth = float(np.ptp(boat.hull.mesh.bounds, axis=0)[2])
    for _ in range(LOWERINGS):
        lack = max(-c.righting_arm(p) / math.sin(abs(p.heel)) for c in curves for p in c.points if 0.04 < abs(p.heel) < math.pi - 0.04)
        if abs(lack) < 1e-3 * boat.kernel.half_extent and lowered > 0:
            break
        lowered += lack
        if not 0 < lowered < depth:  # no keel reaches that far: lying over it is stiff by its own form
            return None
        lower: Point = (gravity[0], gravity[1], gravity[2] - lowered)
        curves = tuple(
            righting_curve(hull=boat.hull, displaced=boat.displaced, gravity=lower, heels=[c.side * h for h in COARSE], kernel=boat.kernel)
            for c in curves
        )
    else:
        return None
    return lowered
