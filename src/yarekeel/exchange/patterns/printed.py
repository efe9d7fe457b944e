"""What was printed of a boat's frames, and how far the hull has moved from it since."""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from yarekeel.core.patterns.frames import Frame
from yarekeel.core.quantities import Metres

MOST_POINTS = 120
"""Of an outline that is remembered."""
MOVED: Metres = 0.0002
"""From there on a frame has moved."""


def remembered(frames: Sequence[Frame], code: str, query: str, units: str, day: str) -> dict[str, Any]:
    """The frames as they are written down: the shape's code, what was asked and in which units, the day, and each outline in metres."""
    return {
        "code": code,
        "query": query,
        "units": units,
        "day": day,
        "frames": [{"name": f.name, "x": f.x, "outlines": [_thinned(o) for o in f.outlines]} for f in frames],
    }


def _thinned(outline: Any) -> list[list[float]]:
    from shapely import Polygon

    ring = np.asarray(Polygon(outline).simplify(MOVED / 10).exterior.coords)[:-1]
    step = max(1, len(ring) // MOST_POINTS)
    return [[round(float(y), 6), round(float(z), 6)] for y, z in ring[::step]]


def moved(before: Mapping[str, Any], frames: Sequence[Frame]) -> tuple[tuple[str, Metres | None], ...]:
    """Each frame that was printed by its name, with how far its outline has moved at most (the Hausdorff distance); None for one that is
    not cut any more."""
    from shapely import Polygon, unary_union

    now = {f.name: f for f in frames}
    out: list[tuple[str, Metres | None]] = []
    for old in before["frames"]:
        frame = now.get(old["name"])
        if frame is None:
            out.append((old["name"], None))
            continue
        was = unary_union([Polygon(o).buffer(0) for o in old["outlines"] if len(o) > 2])
        there = unary_union([Polygon(o).buffer(0) for o in frame.outlines])
        out.append((old["name"], max(float(was.hausdorff_distance(there)), abs(float(old["x"]) - frame.x))))
    return tuple(out)
