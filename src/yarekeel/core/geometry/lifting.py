"""Offsets lifted from a closed hull: what a builder would measure off it station by station."""

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.offsets import Offsets, Station
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.geometry.sections import section
from yarekeel.core.quantities import Ratio

STATIONS, LINES = 13, 9
FAITHFUL: Ratio = 0.04
"""A table that holds more or less than the hull by a larger share does not describe it."""


def table_of(mesh: Mesh, stations: int = STATIONS, lines: int = LINES) -> Offsets:
    """A table of ``stations`` even stations and ``lines`` lines, spread evenly in height from keel to sheer at each station.

    The half-breadth is the widest at that height, both sides averaged. Raises InvalidInput when a table of half-breadths
    cannot describe the hull (several hulls, tunnels, overhangs).
    """
    low, high = mesh.bounds
    length = float(high[0] - low[0])
    at = np.linspace(float(low[0]) + 1e-5 * length, float(high[0]) - 1e-5 * length, stations)
    share = np.linspace(0.0, 1.0, lines)
    rows = []
    for x, shown in zip(at, np.linspace(float(low[0]), float(high[0]), stations), strict=True):
        pieces, _ = section(mesh, 0, float(x))
        if not len(pieces):
            continue
        bottom, top = float(pieces[..., 2].min()), float(pieces[..., 2].max())
        heights = bottom + share * (top - bottom)
        inner = np.clip(heights, bottom + 1e-6 * (top - bottom), top - 1e-6 * (top - bottom))
        half = [_half_breadth(pieces, float(z)) for z in inner]
        rows.append(Station(float(shown), tuple(half), tuple(heights.tolist())))
    names = ("keel", *(f"line {k}" for k in range(1, lines - 1)), "sheer")
    try:
        table = Offsets("smooth", names, tuple(rows))
        faithful = abs(table.build().volume / mesh.volume - 1) < FAITHFUL
    except InvalidInput:
        faithful = False
    if not faithful:
        raise InvalidInput("shape", "A table of half-breadths cannot describe this body; it takes one hull without tunnels or overhangs.")
    return table


def _half_breadth(pieces: Floats, z: float) -> float:
    z0, z1 = pieces[:, 0, 2], pieces[:, 1, 2]
    cut = (np.minimum(z0, z1) <= z) & (np.maximum(z0, z1) >= z) & (z0 != z1)
    if not cut.any():
        return 0.0
    part = (z - z0[cut]) / (z1[cut] - z0[cut])
    y = pieces[cut, 0, 1] + part * (pieces[cut, 1, 1] - pieces[cut, 0, 1])
    return max(0.0, float(y.max() - y.min()) / 2)
