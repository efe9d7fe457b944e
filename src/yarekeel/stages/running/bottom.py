"""A planing bottom read off a hull's own sections near the stern."""

import math
from itertools import pairwise

import numpy as np

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.geometry.sections import outlines
from yarekeel.core.quantities import Degrees, Metres, Ratio
from yarekeel.core.running.forces import PlaningBottom

STATIONS: tuple[Ratio, Ratio] = (0.02, 0.28)
"""Of the length ahead of the stern: where the keel and the chine are read."""
CHINE_SLOPE, SIDE_SLOPE = math.tan(math.radians(38)), math.tan(math.radians(58))
HARD: Ratio = 0.09
"""Of the half beam, within which a bottom must turn into a side for a chine to be hard."""
STEEPEST_VEE: Degrees = 30.0
STEEPEST_KEEL: Degrees = 3.5
LEAST_BREADTH: Ratio = 0.5
"""Of the hull's breadth, that the chines must be apart."""
COLUMNS = 120


def half_section(mesh: Mesh, x: Metres) -> tuple[Floats, Floats] | None:
    """The underside of the section at ``x``: half breadths (n,) and heights (n,) from the middle out; None where it is in two parts or
    there is none."""
    loops = outlines(mesh, 0, x)
    if len(loops) != 1:
        return None
    points = loops[0][:, 1:]
    edge = np.concatenate((points, points[:1]))
    half = float(np.abs(points[:, 0]).max())
    if half <= 0 or float(points[:, 0].min()) > -0.2 * half:
        return None
    y = np.linspace(0.0, half * (1 - 1e-6), COLUMNS)
    low = np.full(y.size, np.inf)
    for (y1, z1), (y2, z2) in pairwise(edge.tolist()):
        a, b = min(y1, y2), max(y1, y2)
        inside = (y >= a) & (y <= b)
        if b - a > 1e-12:
            low[inside] = np.minimum(low[inside], z1 + (y[inside] - y1) * (z2 - z1) / (y2 - y1))
        elif inside.any():
            low[inside] = np.minimum(low[inside], min(z1, z2))
    return (y, low) if np.isfinite(low).all() else None


def chine_of(y: Floats, z: Floats) -> tuple[Metres, Metres] | None:
    """Where the underside turns into the side: half breadth and height; None where it turns gradually, as a round bilge does."""
    slope = np.diff(z) / np.diff(y)
    steep = np.flatnonzero(slope > CHINE_SLOPE)
    if not steep.size:
        return float(y[-1]), float(z[-1])
    first = int(steep[0])
    sides = np.flatnonzero(slope > SIDE_SLOPE)
    turned = float(y[sides[0]]) if sides.size else float(y[-1])
    if turned - float(y[first]) > HARD * float(y[-1]):
        return None
    return float(y[first]), float(z[first])


def bottom_of(mesh: Mesh, rest: Attitude) -> PlaningBottom | None:
    """The bottom as a prism, or None for a hull that has none: in several parts or round at the stern, its transom clear of the water, its
    keel steep there, or its vee deeper than 30°."""
    low, high = mesh.bounds
    length = float(high[0] - low[0])
    found = []
    for share in STATIONS:
        half = half_section(mesh, float(low[0]) + share * length)
        chine = chine_of(*half) if half is not None else None
        if half is None or chine is None:
            return None
        found.append((float(low[0]) + share * length, float(half[1][0]), *chine))
    (x1, keel1, y1, chine1), (x2, keel2, y2, chine2) = found
    slope = math.degrees(math.atan2(keel2 - keel1, x2 - x1))
    deadrise = math.degrees(math.atan2(((chine1 - keel1) / y1 + (chine2 - keel2) / y2) / 2, 1.0))
    breadth = float(high[1] - low[1])
    keel = (float(low[0]), 0.0, keel1 - (x1 - float(low[0])) * math.tan(math.radians(slope)))
    wet = rest.height_of(keel) < 0
    if not wet or abs(slope) > STEEPEST_KEEL or deadrise > STEEPEST_VEE or y1 + y2 < LEAST_BREADTH * breadth:
        return None
    return PlaningBottom(keel=keel, slope=slope, beam=y1 + y2, deadrise=max(deadrise, 0.0))
