"""Templates for cutting foam with a hot wire: for every block between two stations a pair, one for each end, with numbered marks that are
passed at the same time, and the block that it is cut from."""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.geometry.sections import flat_area
from yarekeel.core.patterns.frames import Frame
from yarekeel.exchange.patterns.sheet import MILLIMETRES, Pattern, Word

MARKS = 16
"""Round a template, numbered from the keel."""
LONG, ROOM = 6.0, 10.0
"""mm: of a mark, and of foam round the section in its block."""


def templates(frames: Sequence[Frame], boat: str) -> tuple[Pattern, ...]:
    """The pairs, from the stern forward. Raises InvalidInput for fewer than two stations, or where a section is in several parts."""
    if len(frames) < 2:
        raise InvalidInput("frames", "A block has two ends: ask for two stations at least.")
    if any(len(f.outlines) != 1 for f in frames):
        raise InvalidInput("frames", "A section in several parts is cut part by part: make each hull a body of its own.")
    out = []
    for number, (aft, fore) in enumerate(pairwise(frames), 1):
        both = MILLIMETRES * np.vstack([aft.outlines[0], fore.outlines[0]])
        low, high = both.min(axis=0) - ROOM, both.max(axis=0) + ROOM
        long = MILLIMETRES * (fore.x - aft.x)
        size = f"block {high[0] - low[0]:.0f} x {high[1] - low[1]:.0f} x {long:.0f} mm"
        for end, frame in (("aft", aft), ("fore", fore)):
            out.append(_template(f"block-{number}-{end}", frame, (low, high), f"{boat}, block {number}, {end} end; {size}"))
    return tuple(out)


def _template(name: str, frame: Frame, block: tuple[Floats, Floats], title: str) -> Pattern:
    outline = MILLIMETRES * frame.outlines[0]
    (left, low), (right, high) = block
    edge = np.array([[left, low], [right, low], [right, high], [left, high], [left, low]])
    ticks = [np.array([spot, spot + LONG * out]) for spot, out in ticks_of(outline, MARKS)]
    beside = [t[1] + (t[1] - t[0]) * 0.6 for t in ticks]
    words = [Word(float(b[0]), float(b[1]), str(k + 1)) for k, b in enumerate(beside)]
    centre = np.array([[0.0, low], [0.0, high]])
    return Pattern(name, (outline,), (), (edge, centre, *ticks), (*words, Word(float(left), float(high) + 6, title)))


def ticks_of(outline: Floats, count: int) -> list[tuple[Floats, Floats]]:
    """Places at equal shares of the way round a closed outline (n, 2) from its lowest point on the middle, port first, each with the way
    out of it."""
    keel = int(np.lexsort((np.abs(outline[:, 0]), np.round(outline[:, 1], 6)))[0])
    ring = np.roll(outline, -keel, axis=0)
    if flat_area(ring) < 0:
        ring = np.vstack([ring[:1], ring[:0:-1]])  # the same way round for both ends
    closed = np.vstack([ring, ring[:1]])
    steps = np.linalg.norm(np.diff(closed, axis=0), axis=1)
    way = np.concatenate([[0.0], np.cumsum(steps)])
    out = []
    for share in np.arange(count) / count:
        at = share * way[-1]
        k = min(int(np.searchsorted(way, at, "right")) - 1, len(steps) - 1)
        along = (closed[k + 1] - closed[k]) / max(float(steps[k]), 1e-12)
        spot = closed[k] + along * (at - way[k])
        out.append((spot, np.array([along[1], -along[0]])))
    return out
