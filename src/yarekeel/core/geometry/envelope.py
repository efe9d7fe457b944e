"""The outer skin of a hull modelled with an inside: what of it water cannot get into."""

from typing import Any

import numpy as np

from yarekeel.core.geometry.mesh import Mesh, block
from yarekeel.core.geometry.union import simplified_to, solid_of, surface_of
from yarekeel.core.quantities import Metres, Ratio
from yarekeel.core.search import edge

THIN: Ratio = 0.12
"""A mesh whose mean wall, twice its volume over its area, is thinner than this share of its least extent may be hollow."""
COARSE = 4_000
"""Triangles on which the height of the rim is searched."""
STEPS = 14
"""Halvings of the search: the rim is found to 1/16 000 of the depth."""
WORTH: Ratio = 0.05
"""Of the mesh's own volume: a smaller hollow is a screw hole."""


def outer_skin(mesh: Mesh) -> Mesh | None:
    """The mesh (up is z) with its inside filled: sealed hollows wholly, an open one up to the lowest point of its rim.

    None where there is no inside worth filling.
    """
    low, high = mesh.bounds
    if 2 * mesh.volume / mesh.area > THIN * float((high - low).min()):
        return None
    whole = solid_of(mesh)
    filled = whole
    for level in (float(high[2]) + float(high[2] - low[2]), _rim(mesh)):
        hollow = None if level is None else _hollow(whole, mesh, level)
        filled = filled if hollow is None else filled + hollow
    return surface_of(filled) if filled.volume() > (1 + WORTH) * mesh.volume else None


def _around(mesh: Mesh, top: Metres) -> Any:
    """A block round the mesh, up to the level ``top``."""
    low, high = mesh.bounds
    size = high - low
    margin = 0.1 * float(size.max())
    box = block(float(size[0]) + 2 * margin, float(size[1]) + 2 * margin, top - float(low[2]) + margin)
    return solid_of(box.moved((float(low[0]) - margin, float(low[1] + high[1]) / 2, float(low[2]) - margin)))


def _hollow(whole: Any, mesh: Mesh, level: Metres) -> Any:
    """The space below ``level`` that the mesh shuts off from the outside, or None."""
    low, _ = mesh.bounds
    margin = 0.05 * float(np.ptp(mesh.vertices, axis=0).max())
    inner = None
    for part in (_around(mesh, level) - whole).decompose():
        if part.bounding_box()[2] > float(low[2]) - margin:  # the outside reaches the foot of the block
            inner = part if inner is None else inner + part
    return inner if inner is not None and inner.volume() > WORTH * whole.volume() else None


def _rim(mesh: Mesh) -> Metres | None:
    """The highest level at which an open hollow still holds water, on a coarser copy of the mesh; None if there is none."""
    coarse = simplified_to(mesh, COARSE, 1e-4, 0.002)
    whole = solid_of(coarse)
    low, high = float(coarse.bounds[0][2]), float(coarse.bounds[1][2])
    # A hollow shows at some level if there is one: look at eight, then close in on the highest that holds.
    levels = low + (high - low) * (np.arange(1, 9) / 8 - 1e-4)
    holding = [level for level in levels if _hollow(whole, coarse, float(level)) is not None]
    if not holding:
        return None
    held = float(max(holding))
    spilt = held + (high - low) / 8
    return edge(lambda level: -1.0 if _hollow(whole, coarse, level) is None else 1.0, spilt, held, (high - low) / 8 / 2**STEPS)
