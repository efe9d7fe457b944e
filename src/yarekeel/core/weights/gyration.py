"""Radius of gyration of a list of weights, and how every weight, place and size in it moves it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.found import Found
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.quantities import Metres
from yarekeel.core.weights.items import WeightItem, sources


@dataclass(frozen=True, eq=False)
class Gyration:
    """``radius`` about an axis through the centre of gravity, with its slopes by each item's mass (n,) and place (n, 3), and what
    each item's own size makes of its half width (n,)."""

    radius: Metres
    by_mass: Floats
    by_place: Floats
    by_size: Floats

    def found(self, items: Sequence[WeightItem]) -> Found:
        """The radius with the half width of its 95 % band."""
        listed = sources(items, self.by_mass[:, None], self.by_place[:, :, None])
        return Found(self.radius, float(np.sqrt((listed**2).sum() + (self.by_size**2).sum())))


def gyration_of(items: Sequence[WeightItem], own: Floats, unsure: Floats, axis: int) -> Gyration | None:
    """Radius about the lengthwise (axis 0), athwart (1) or upright (2) axis: k² = (sum m r² + own) / M by parallel axes. ``own``
    (n, 3, 3) kg m2 are the items' inertias about their own centres, ``unsure`` (n,) shares of them. None for a list without a
    mass, or all at one point."""
    m, at = np.array([i.mass_kg for i in items]), np.array([i.at_m for i in items])
    mass = float(m.sum())
    if mass <= 0:
        return None
    away = at - m @ at / mass
    away[:, axis] = 0.0
    square, self_turning = (away**2).sum(axis=1), own[:, axis, axis]
    k2 = float((m @ square + self_turning.sum()) / mass)
    if k2 <= 0:
        return None
    k = float(np.sqrt(k2))
    each = np.divide(self_turning, m, out=np.zeros_like(m), where=m > 0)
    return Gyration(
        radius=k,
        by_mass=(square + each - k2) / (2 * k * mass),
        by_place=m[:, None] * away / (k * mass),
        by_size=self_turning * unsure / (2 * k * mass),
    )
