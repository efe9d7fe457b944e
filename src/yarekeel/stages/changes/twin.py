"""A boat's twin with coarser meshes, for searching: what it finds is corrected by the boat itself, and proved on it."""

import dataclasses
import math
from collections.abc import Callable
from typing import Any

from yarekeel.core.geometry.families.mesh_file import MeshFile
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.union import simplified_to
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Ratio
from yarekeel.core.search import edge
from yarekeel.stages.changes.change import Way
from yarekeel.stages.changes.least import Least, least
from yarekeel.stages.design.craft import Craft, built

FINE, COARSE = 20_000, 3_000
"""Triangles of a mesh from which a twin pays, and of the twin's."""
MOST_TRIES = 3
"""Corrections before the boat itself is searched."""
STEP: Ratio = 1e-3
"""Of the range: the amount is known to that, or to as little of itself as ``OF_ITSELF``."""
OF_ITSELF: Ratio = 4e-3
OUTWARDS = (1, 5, 20)
"""Steps from the twin's answer within which the boat's own is looked for."""
NOT_MOVING: Ratio = 1e-9
"""Of a margin: by less it does not follow the amount, and no correction would help."""


def twin_of(craft: Craft) -> Craft | None:
    """The boat with its fine meshes coarser; None where it has none."""
    bodies = tuple(dataclasses.replace(b, shape=_coarser(b.shape)) for b in craft.design.bodies)
    return Craft(dataclasses.replace(craft.design, bodies=bodies)) if bodies != craft.design.bodies else None


def _coarser(shape: Any) -> Any:
    return _coarse(shape) if isinstance(shape, MeshFile) and len(built(shape).faces) > FINE else shape


@kept
def _coarse(shape: MeshFile) -> MeshFile:
    whole = built(shape)
    mesh = simplified_to(whole, COARSE, 1e-4, 0.02)
    low, high = whole.bounds
    middle = (low + high) / 2
    # Corners that are left out make a round hull smaller: what it displaces is put back.
    mesh = Mesh((mesh.vertices - middle) * (whole.volume / mesh.volume) ** (1 / 3) + middle, mesh.faces)
    return dataclasses.replace(shape, file=f"coarse-{shape.file}", unit="m", mesh=mesh)


def least_by_twin(way: Way, own: Callable[[float], Ratio], twins: Way, other: Callable[[float], Ratio], enough: Ratio, **how: Any) -> Least:
    """As ``least`` on ``way`` and its margin ``own``, searched on the twin's: what the boat itself has more or less there is added to the
    twin's margin ``other``, until its answer keeps the boat's own margin by no more than ``enough``."""
    how = {**how, "close": STEP}
    off = 0.0
    for _ in range(MOST_TRIES):
        found = least(twins, lambda amount, off=off: other(amount) + off, enough=enough / 4, **how)  # type: ignore[misc]
        at = min(max(found.best if found.amount is None else found.amount, way.low), way.high)
        mine, step = own(at), max(STEP * (way.high - way.low), OF_ITSELF * abs(at))
        if found.amount is None:
            return Least(None, at) if mine < 0 else least(way, own, enough=enough, **how)
        if 0 <= mine <= enough or (mine >= 0 and at - step <= way.low):
            return Least(at, at)
        beyond, beside = mine, at
        for wide in OUTWARDS:  # to where it turns: within this it is searched on the boat itself
            last, beside = beside, min(max(at + (wide if mine < 0 else -wide) * step, way.low), way.high)
            beyond = own(beside)
            if (beyond >= 0) != (mine >= 0):
                missed, held = min(last, beside), max(last, beside)
                near = held if held - missed <= step else edge(margin=own, missed=missed, kept=held, close=step, enough=enough)
                return Least(near, near)
        if not math.isfinite(mine) or abs(mine - beyond) < NOT_MOVING:
            break
        off = mine - other(at) - enough / 2
    return least(way, own, enough=enough, **how)
