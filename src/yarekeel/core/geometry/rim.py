"""The rim of a hull that is known only as a mesh: where water comes in over an open one, the sheer of a decked one.

The hull is looked at from above, on a net of points across each of many stations. An open hull was filled to its lowest rim, or is
a solid with a level top: from that level patch outward the surface climbs the inside of the wall, and where it stops climbing is
the rim. A decked hull is looked at from outside inward: where the side turns into a deck is the sheer, at the corner that the deck
and the side would make if the edge were not rounded.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.geometry.sections import sections
from yarekeel.core.quantities import Metres, Ratio

STATIONS, ACROSS = 481, 481
"""Of the net that the hull is looked at by, from above."""
LEVEL: Ratio = 2e-4
"""Of the depth: faces so near one height are one level patch."""
PATCH: Ratio = 0.15
"""Of the hull seen from above: a level patch of that area or more is the inside of an open hull, or its flat top."""
CLIMBS = 0.15
"""Slope from which a surface still climbs out of the inside."""
LEDGE: Ratio = 0.06
"""Of the half-breadth: a flat place narrower than that on the way up is the top of a wall, not yet the rim."""
FLAT = 0.03
"""Of such a ledge's width: what it may be uneven by."""
DECK_SLOPE = 1.0
"""Slope (45 deg) past which a surface is side, not deck."""
SETTLED = 0.02
"""Slope by which a deck may differ from itself where no rounding is."""
DECK_WIDE: Ratio = 0.04
"""Of the half-breadth: a flat place narrower than that is a rail on the side, not a deck."""
STEP: Ratio = 0.10
"""Of the depth: a rise inside a deck that makes it doubtful what is deck: a cabin over it, or a side over a rail."""
JUMP: Ratio = 0.06
"""Of the depth: the rim does not jump by more from station to station."""
ROUNDED: Ratio = 0.03
"""Of the length: the ends of a hull that may be rounded like its edges."""
NEIGHBOURS, ALONE, MANY = 3, 0.008, 0.02
"""Points to each side that one is held against; share of the depth by which one may differ from them; share of all that may."""
NARROW: Ratio = 0.12
"""Of the greatest breadth: narrower stations are a stem or a rudder, and have no rim of their own."""
FEW = 0.6
"""Of the stations: a rim found at fewer is doubtful."""


@dataclass(frozen=True, eq=False)
class Rim:
    """``points`` (k, 3) along it, one closed line; ``doubt`` says why it may be wrong, empty where nothing speaks against it."""

    points: Floats
    doubt: str


@dataclass(frozen=True, eq=False)
class _Seen:
    """The hull from above: ``top`` (n, m) the height seen at stations ``x`` (n,) and distances ``y`` (m,), nan beside it."""

    x: Floats
    y: Floats
    top: Floats
    depth: Metres


def find_rim(mesh: Mesh, *, open_hull: bool) -> Rim:
    """The rim of a closed mesh with z up: of an ``open_hull`` where water comes in, else the sheer."""
    seen = _from_above(mesh)
    patch = _level_patch(seen) if open_hull else None
    found = _round_the_inside(seen, patch) if patch is not None else _sheer(seen)
    return found if found is not None else _highest(mesh)


def _from_above(mesh: Mesh) -> _Seen:
    low, high = mesh.bounds
    inset = 1e-4 * (high - low)
    x = np.linspace(low[0] + inset[0], high[0] - inset[0], STATIONS)
    y = np.linspace(low[1] + inset[1], high[1] - inset[1], ACROSS)
    pieces, _, place = sections(mesh, 0, x)
    top = np.full((STATIONS, ACROSS), -np.inf)
    a, b = pieces[:, 0], pieces[:, 1]
    left, right = np.where((a[:, 1] <= b[:, 1])[:, None], a, b), np.where((a[:, 1] <= b[:, 1])[:, None], b, a)
    first, last = np.searchsorted(y, left[:, 1], "left"), np.searchsorted(y, right[:, 1], "right")
    times = np.maximum(last - first, 0)
    piece = np.repeat(np.arange(len(pieces)), times)
    at = np.arange(len(piece)) - np.repeat(np.cumsum(times) - times, times) + np.repeat(first, times)
    span = np.maximum(right[piece, 1] - left[piece, 1], 1e-15)
    height = left[piece, 2] + (y[at] - left[piece, 1]) / span * (right[piece, 2] - left[piece, 2])
    np.maximum.at(top, (place[piece], at), height)
    return _Seen(x, y, np.where(np.isfinite(top), top, np.nan), float(high[2] - low[2]))


def _level_patch(seen: _Seen) -> NDArray[np.bool_] | None:
    """Where the largest level patch of all is seen, (n, m); None where there is none to speak of."""
    from scipy.ndimage import label  # long to load

    heights = seen.top[np.isfinite(seen.top)]
    close = LEVEL * seen.depth
    ordered = np.sort(heights)
    within = np.searchsorted(ordered, ordered + 2 * close, "right") - np.arange(len(ordered))
    level = float(ordered[int(within.argmax())]) + close
    near = np.abs(np.nan_to_num(seen.top, nan=-np.inf) - level) <= 1.5 * close
    numbers, count = label(near)
    if not count:
        return None
    sizes = np.bincount(numbers.ravel())
    sizes[0] = 0
    return np.asarray(numbers == sizes.argmax()) if sizes.max() >= PATCH * len(heights) else None


def _climbed(heights: Floats, along: Floats, start: int, way: int, ledge: Metres) -> int:
    """From ``start`` on a line of heights onward (``way`` 1 or -1): the place where the surface stops climbing. A flat place narrower
    than ``ledge`` with more to climb behind it, the top of a wall inside a gunwale, is no end."""
    at = start
    while 0 <= at + way < len(heights):
        rise, run = heights[at + way] - heights[at], abs(along[at + way] - along[at])
        if rise > CLIMBS * run:
            at += way
            continue
        beyond = at + way
        while 0 <= beyond < len(heights) and abs(along[beyond] - along[at]) <= ledge and heights[beyond] >= heights[at] - FLAT * ledge:
            if heights[beyond] - heights[at] > 2 * FLAT * ledge:
                break
            beyond += way
        else:
            break  # falls, is flat, or there is nothing more
        at = beyond
    return at


def _round_the_inside(seen: _Seen, patch: NDArray[np.bool_]) -> Rim | None:
    points = []
    stations, ledge = np.flatnonzero(patch.any(axis=1)), LEDGE * float(np.ptp(seen.y)) / 2
    for k in stations.tolist():
        hit = np.flatnonzero(patch[k])
        for start, way in ((int(hit[0]), -1), (int(hit[-1]), 1)):
            end = _climbed(seen.top[k], seen.y, start, way, ledge)
            points.append((seen.x[k], seen.y[end], seen.top[k, end]))
    for k, way in ((int(stations[0]), -1), (int(stations[-1]), 1)):  # its two ends
        for j in np.flatnonzero(patch[k]).tolist():
            end = _climbed(seen.top[:, j], seen.x, k, way, ledge)
            points.append((seen.x[end], seen.y[j], seen.top[end, j]))
    found = np.array(points)
    if len(found) < 8:
        return None
    middle = np.array([np.mean(seen.x[patch.any(axis=1)]), 0.0])
    size = np.array([np.ptp(seen.x), max(float(np.ptp(seen.y)), 1e-9)])
    ahead, aside = ((found[:, :2] - middle) / size).T
    ordered = found[np.argsort(np.arctan2(aside, ahead), kind="stable")]
    around = np.stack([np.roll(ordered[:, 2], k) for k in range(-NEIGHBOURS, NEIGHBOURS + 1)])
    smooth = np.median(around, axis=0)
    off = np.abs(ordered[:, 2] - smooth)
    alone = off > ALONE * seen.depth
    rough = float(np.mean(off > JUMP * seen.depth)) > MANY
    ordered[alone, 2] = smooth[alone]  # a narrow end seen between two points of the net
    return Rim(ordered, "Its height jumps from place to place." if rough else "")


def _sheer(seen: _Seen) -> Rim | None:
    breadth = np.array([np.ptp(seen.y[np.isfinite(row)]) if np.isfinite(row).any() else 0.0 for row in seen.top])
    stations = np.flatnonzero(breadth >= NARROW * breadth.max())
    sides: dict[int, list[tuple[float, float, float]]] = {1: [], -1: []}
    stepped = 0
    for k in stations.tolist():
        for side in (1, -1):
            found = _turn_of(seen, k, side)
            if found is not None:
                y, z, doubtful = found
                sides[side].append((float(seen.x[k]), y, z))
                stepped += doubtful
    port, starboard = (_without_rounded_ends(np.array(sides[side]).reshape(-1, 3), seen.depth) for side in (1, -1))
    if len(port) + len(starboard) < 8:
        return None
    doubt = ""
    jumps = max((float(np.abs(np.diff(one[:, 2])).max()) if len(one) > 1 else 0.0) for one in (port, starboard))
    if stepped > 0.02 * len(stations):
        doubt = "Something stands on what looks like its deck: a cabin, or a side over a rail."
    elif min(len(port), len(starboard)) < FEW * len(stations):
        doubt = "Its deck was made out at few stations only."
    elif jumps > JUMP * seen.depth:
        doubt = "Its height jumps from station to station."
    return Rim(np.vstack([port, starboard[::-1]]), doubt)


def _without_rounded_ends(line: Floats, depth: Metres) -> Floats:
    """One side from aft forward with its ends as the line next to them runs on, where they are lower for being rounded."""
    if len(line) < 20:
        return line
    x, z = line[:, 0], line[:, 2].copy()
    length = float(x[-1] - x[0])
    for end, way in ((x[0], 1.0), (x[-1], -1.0)):
        away = way * (x - end)
        near, next_to = away < ROUNDED * length, (away >= ROUNDED * length) & (away < 4 * ROUNDED * length)
        a, b = np.polyfit(x[next_to], z[next_to], 1)
        run = a * x[near] + b
        z[near] = np.where(np.abs(z[near] - run) < JUMP * depth, np.maximum(z[near], run), z[near])
    return np.column_stack([line[:, :2], z])


def _turn_of(seen: _Seen, k: int, side: int) -> tuple[float, float, bool] | None:
    """Where the side turns into the deck at a station: distance to port, height, and whether what lies inside it rises on."""
    row = seen.top[k] if side > 0 else seen.top[k][::-1]
    y = seen.y if side > 0 else -seen.y[::-1]
    here = np.flatnonzero(np.isfinite(row) & (y > 0))
    if len(here) < 6:
        return None
    y, z = y[here][::-1], row[here][::-1]  # from outside inward
    wide = max(3, int(DECK_WIDE * len(y)))
    slope = np.abs(np.diff(z) / np.diff(y))
    flat = slope <= DECK_SLOPE
    runs = _runs(flat)
    for start, end in runs:
        if end - start < wide:
            continue
        inner = z[end:] if end < len(z) else z[-1:]
        rises = float(inner.max(initial=-np.inf) - z[end]) > STEP * seen.depth if end < len(slope) else False
        if rises and float(z[start]) < float(z.min()) + 0.5 * (float(z.max()) - float(z.min())):
            continue  # a rail low on the side
        return (*_corner(y, z, start, end, side), rises)
    return None


def _runs(flat: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """Stretches (first, past the last) in which ``flat`` holds."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], flat.astype(int), [0]])))
    return [(int(a), int(b)) for a, b in edges.reshape(-1, 2)]


def _corner(y: Floats, z: Floats, start: int, end: int, side: int) -> tuple[float, float]:
    """The corner that deck and side make: the deck's line, taken inside of any rounding, carried out to where the side stands."""
    inside = np.arange(start, end + 1)
    slope = np.diff(z[inside]) / np.diff(y[inside])
    # Inside of a rounding the slope is that of the deck, as it is half way to the middle.
    settled = np.flatnonzero(np.abs(slope - np.median(slope[: 1 + len(slope) // 2][len(slope) // 4 :])) < SETTLED)
    first = int(settled[0]) if len(settled) else 0
    line = inside[first : first + max(4, len(inside) // 6)]
    a, b = np.polyfit(y[line], z[line], 1) if len(line) > 1 and np.ptp(y[line]) > 0 else (0.0, float(z[start]))
    fall = 0.5 * (float(z[line[0]]) - float(z.min()))
    outer = np.flatnonzero(z[: start + 1] >= float(z[line[0]]) - max(fall, 1e-9))
    out = float(y[int(outer[0])]) if len(outer) else float(y[start])
    return side * out, float(a * out + b)


def _highest(mesh: Mesh) -> Rim:
    z = mesh.vertices[:, 2]
    top = mesh.vertices[z > z.max() - 1e-9]
    return Rim(top, "No edge of a deck was found; its highest points stand in for it.")


def through_heights(rim: Rim, aft: Metres | None, middle: Metres | None, fore: Metres | None) -> Rim:
    """The rim with its height given at its after end, amidships and at its fore end (None: as found there), a smooth line through the
    three in between; it stays where it is seen from above."""
    if aft is None and middle is None and fore is None:
        return rim
    x = rim.points[:, 0]
    share = (x - x.min()) / max(float(np.ptp(x)), 1e-12)
    off = [
        0.0 if given is None else given - _height_at(rim.points, share, at)
        for given, at in zip((aft, middle, fore), (0.0, 0.5, 1.0), strict=True)
    ]
    raised = rim.points.copy()
    raised[:, 2] += off[0] * 2 * (share - 0.5) * (share - 1) - off[1] * 4 * share * (share - 1) + off[2] * 2 * share * (share - 0.5)
    return Rim(raised, "")


def _height_at(points: Floats, share: Floats, at: Ratio) -> Metres:
    near: Ints = np.argsort(np.abs(share - at))[:6]
    return float(np.median(points[near, 2]))
