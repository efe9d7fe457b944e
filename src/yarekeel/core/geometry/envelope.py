"""The outer skin of a hull modelled with an inside: what of it water cannot get into."""

from typing import Any

import numpy as np

from yarekeel.core.geometry.mesh import Mesh, block
from yarekeel.core.geometry.spaces import inset
from yarekeel.core.geometry.union import simplified_to, solid_of, surface_of
from yarekeel.core.quantities import Metres, Ratio
from yarekeel.core.search import edge

THIN: Ratio = 0.25
"""A mesh whose mean wall, twice its volume over its area, is thinner than this share of its least extent may be hollow."""
COARSE = 4_000
"""Triangles on which the height of the rim is searched."""
STEPS, FINE_STEPS = 14, 8
"""Halvings of the search: on the copy the rim is found to 1/16 000 of the depth, then on the mesh to 1/2 000 of what the copy leaves."""
COARSEST: Ratio = 0.002
"""Of the mesh's diagonal: detail that the copy may lose."""
HAIR: Ratio = 2e-6
"""Of the mesh's diagonal: how far a hollow is pressed into its walls; thinner than any."""
SLIVER: Ratio = 1e-7
"""Of the diagonal: detail finer than that is left by the sums, not drawn by anybody."""
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
        filled = filled if hollow is None else filled + _swollen(hollow, mesh)
    if filled.volume() <= (1 + WORTH) * mesh.volume:
        return None
    return surface_of(filled.as_original().simplify(SLIVER * float(np.linalg.norm(high - low))))


def _swollen(hollow: Any, mesh: Mesh) -> Any:
    """A hollow pressed a hair into the walls round it: two solids that only touch keep the surface between them, and it would count as
    skin."""
    surface = surface_of(hollow)
    return solid_of(inset(surface, -HAIR * float(np.linalg.norm(np.ptp(mesh.vertices, axis=0))), open_top=True))


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
        # The outside reaches the foot of the block; a part of less than no volume is the wall of a pocket in another.
        if part.volume() > 0 and part.bounding_box()[2] > float(low[2]) - margin:
            inner = part if inner is None else inner + part
    return inner if inner is not None and inner.volume() > WORTH * whole.volume() else None


def _rim(mesh: Mesh) -> Metres | None:
    """The highest level at which an open hollow still holds water: searched on a coarser copy, then closed in on with the mesh itself;
    None if there is none."""
    coarse = simplified_to(mesh, COARSE, 1e-4, COARSEST)
    near = _highest(coarse, None, STEPS)
    if near is None or coarse is mesh:
        return near
    return _highest(mesh, (near, 4 * COARSEST * float(np.linalg.norm(np.ptp(mesh.vertices, axis=0)))), FINE_STEPS)


def _highest(mesh: Mesh, about: tuple[Metres, Metres] | None, steps: int) -> Metres | None:
    """The highest level that holds, of the whole depth or ``about`` one to so far either side, to a share of 1/2^``steps`` of the range
    that is left after a first look."""
    whole = solid_of(mesh)
    low, high = float(mesh.bounds[0][2]), float(mesh.bounds[1][2])
    first, last = (low, high) if about is None else (max(low, about[0] - about[1]), min(high, about[0] + about[1]))
    # A hollow shows at some level if there is one: look at eight, then close in on the highest that holds.
    levels = first + (last - first) * (np.arange(1, 9) / 8 - 1e-4)
    holding = [level for level in levels if _hollow(whole, mesh, float(level)) is not None]
    if not holding:
        return None
    held, step = float(max(holding)), (last - first) / 8
    return edge(lambda level: -1.0 if _hollow(whole, mesh, level) is None else 1.0, held + step, held, step / 2**steps)
