"""What a hull planes on, read off its sections: the bottom near the stern as one prism, or the pads of a stepped or three-point hull."""

import math
from itertools import pairwise

import numpy as np

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.geometry.sections import outlines, sections
from yarekeel.core.kept import kept
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


@kept
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


ROWS, STRIPS = 90, 25
"""Stations and strips (of the half breadth) that the underside is mapped with."""
STEP: Ratio = 0.004
"""Of the length: a rise of the underside going aft, from one station to the next, that water leaves it at."""
REACH: Ratio = 0.15
"""Of the length, ahead of where a pad ends, that its slope is read over."""
NARROWEST: Ratio = 0.06
"""Of the breadth: narrower strips are rails, not pads."""


@kept
def underside(mesh: Mesh) -> tuple[Floats, Floats, Floats]:
    """Stations x (n,), strips y (m,) of the port half, and the lowest point of the hull there (n, m); not a number where there is none."""
    low, high = mesh.bounds
    length, half = float(high[0] - low[0]), float(high[1])
    xs = float(low[0]) + length * (np.arange(ROWS) + 0.5) / ROWS
    ys = half * (np.arange(STRIPS) + 0.5) / STRIPS
    pieces, _, place = sections(mesh, 0, xs)
    y1, z1, y2, z2 = pieces[:, 0, 1], pieces[:, 0, 2], pieces[:, 1, 1], pieces[:, 1, 2]
    out = np.full((ROWS, STRIPS), np.inf)
    for k, y in enumerate(ys.tolist()):
        over = (np.minimum(y1, y2) <= y) & (np.maximum(y1, y2) > y)
        z = z1[over] + (y - y1[over]) * (z2[over] - z1[over]) / (y2[over] - y1[over])
        np.minimum.at(out[:, k], place[over], z)
    return xs, ys, np.where(np.isfinite(out), out, np.nan)


def _ends(xs: Floats, z: Floats, length: Metres) -> list[int]:
    """Stations of a strip (n,) at which its underside ends going aft: at a step up, or where there is no hull any more."""
    known = np.isfinite(z)
    out = []
    for k in np.flatnonzero(known).tolist():
        if k == 0 or not known[k - 1] or z[k - 1] - z[k] > STEP * length:
            out.append(k)
    return out


def pads_of(mesh: Mesh, rest: Attitude) -> tuple[PlaningBottom, ...]:
    """The pads that a hull with steps or sponsons runs on, foremost first, each of a pair by itself; none for a hull whose underside
    ends at its stern alone."""
    low, high = mesh.bounds
    length, breadth = float(high[0] - low[0]), float(high[1] - low[1])
    xs, ys, z = underside(mesh)
    cell = length / ROWS
    ends: dict[int, list[int]] = {}
    for strip in range(STRIPS):
        for k in _ends(xs, z[:, strip], length):
            near = next((e for e in ends if abs(e - k) <= 1), k)
            ends.setdefault(near, []).append(strip)
    found: list[PlaningBottom] = []
    for k in sorted(ends, reverse=True):
        for strips in _runs(ends[k]):
            found += _pad(xs, ys, z, k, strips, breadth, cell, length, rest)
    rows = {round(p.keel[0] / length, 2) for p in found}
    return tuple(found) if len(rows) > 1 else ()


def _runs(strips: list[int]) -> list[list[int]]:
    """Strips that lie side by side."""
    out: list[list[int]] = []
    for s in sorted(set(strips)):
        if out and s == out[-1][-1] + 1:
            out[-1].append(s)
        else:
            out.append([s])
    return out


def _pad(
    xs: Floats, ys: Floats, z: Floats, k: int, strips: list[int], breadth: Metres, cell: Metres, length: Metres, rest: Attitude
) -> list[PlaningBottom]:
    """The pad of some strips that ends at a station: one across the middle, or a pair; none for what is no planing surface."""
    wide = float(ys[1] - ys[0])
    k = min(k + 1, len(xs) - 2)  # clear of the edge itself
    ahead = min(k + max(int(REACH * ROWS), 2), len(xs) - 1)
    heights = z[k, strips]
    if not np.isfinite(heights).all():
        return []
    low = int(np.argmin(heights))
    column = z[k : ahead + 1, strips[low]]
    if not np.isfinite(column).all():
        return []
    slope = math.degrees(math.atan2(float(column[-1] - column[0]), float(xs[ahead] - xs[k])))
    run = z[k:, strips[low]] - (z[k, strips[low]] + (xs[k:] - xs[k]) * math.tan(math.radians(slope)))
    stepped = np.concatenate(([False], np.abs(np.diff(run)) > STEP * length))
    off = np.flatnonzero(~(np.abs(run) < 0.02 * length) | stepped)
    long = float(xs[k + int(off[0]) - 1] - xs[k] if off.size else xs[-1] - xs[k]) + cell
    middle = strips[0] == 0
    beam = (2 if middle else 1) * wide * len(strips)
    rise = float(heights.max() - heights.min())
    across = wide * max(abs(int(np.argmax(heights)) - low), 1)
    deadrise = math.degrees(math.atan2(rise, across)) if len(strips) > 1 else 0.0
    x, height = float(xs[k]) - 1.5 * cell, float(heights[low]) - 1.5 * cell * math.tan(math.radians(slope))
    wet = rest.height_of((x, 0.0, height)) < 0
    if not wet or abs(slope) > 2 * STEEPEST_KEEL or deadrise > STEEPEST_VEE or beam < NARROWEST * breadth or long < 2 * cell:
        return []
    name = "after" if x < 0.25 * length else "fore"
    if middle:
        return [PlaningBottom((x, 0.0, height), slope, beam, deadrise, long, f"{name} pad")]
    y = float(ys[strips].mean())
    return [
        PlaningBottom((x, s * y, height), slope, beam, deadrise, long, f"{name} pad, {side}")
        for s, side in ((1, "port"), (-1, "starboard"))
    ]
