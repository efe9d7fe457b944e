"""Inertia of all that is aboard about the common centre of gravity."""

from collections.abc import Sequence

import numpy as np

from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.quantities import Kilograms, Point


def inertia_of(masses: Sequence[Kilograms], places: Sequence[Point], own: Sequence[Floats] | None = None) -> Floats:
    """Tensor (3, 3) about the centre of gravity, kg m2, boat axes: rolling is [0, 0], pitching [1, 1], yawing [2, 2].

    Parallel axes (Steiner's theorem): each item's own tensor about its own centre plus m (r² 1 - r r'). Without ``own`` the
    items are points. Zero without a mass.
    """
    m, r = np.asarray(masses, dtype=np.float64), np.asarray(places, dtype=np.float64).reshape(-1, 3)
    if m.sum() <= 0:
        return np.zeros((3, 3))
    away = r - m @ r / m.sum()
    second = np.einsum("n,ni,nj->ij", m, away, away)
    tensor = np.trace(second) * np.eye(3) - second
    return np.asarray(tensor if own is None else tensor + np.sum(np.asarray(own), axis=0))
