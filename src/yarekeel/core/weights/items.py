"""A builder's list of weights: mass, place, how it is known and so how sure it is."""

import dataclasses
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Kilograms, Point, Ratio

Known = Literal["guessed", "data", "weighed"]

SPREAD: dict[str, Ratio] = {"guessed": 0.20, "data": 0.05, "weighed": 0.01}
"""Half width of the band that holds the true mass about 19 times in 20, as a share of it (common practice)."""

HEAVIEST = 1e9
"""kg. Past it a typing slip is certain."""
FARTHEST = 1e4
"""m."""


@dataclass(frozen=True, slots=True)
class WeightItem:
    """One thing aboard. ``structure`` marks what is built with the hull and grows with its skin when it is scaled."""

    name: str
    mass_kg: Kilograms
    at_m: Point
    known: Known = "guessed"
    spread: Ratio | None = None
    structure: bool = False

    def __post_init__(self) -> None:
        if not math.isfinite(self.mass_kg) or not 0 <= self.mass_kg <= HEAVIEST:
            raise InvalidInput("mass_kg", "Mass must be a number of 0 or more.")
        if not all(math.isfinite(v) and abs(v) <= FARTHEST for v in self.at_m):
            raise InvalidInput("at_m", "Place must be three distances in the boat's axes: forward, to port, up.")
        if self.known not in SPREAD:
            raise InvalidInput("known", "How it is known must be guessed, data or weighed.")
        if self.spread is not None and not (math.isfinite(self.spread) and 0 <= self.spread <= 2):
            raise InvalidInput("spread", "Spread must lie between 0 and 2 (a share of the mass).")

    @property
    def half_width(self) -> Kilograms:
        """Half width of the 95 % band of the mass."""
        return self.mass_kg * (SPREAD[self.known] if self.spread is None else self.spread)


@dataclass(frozen=True, slots=True)
class MassTotal:
    """Sum of a list: mass, centre of gravity (boat axes), half width of its 95 % band, share weighed."""

    mass: Kilograms
    centre: Point
    half_width: Kilograms
    weighed_share: Ratio


def total_of(items: Sequence[WeightItem]) -> MassTotal:
    """Mass and centre by moments; independent spreads add by squares (JCGM 100:2008, eq. 10).

    Raises InvalidInput if nothing aboard weighs anything: a centre of gravity needs a mass.
    """
    mass = math.fsum(i.mass_kg for i in items)
    if mass <= 0:
        raise InvalidInput("weights", "Nothing aboard has a mass yet; add at least one weight of more than 0.")
    x, y, z = (math.fsum(i.mass_kg * i.at_m[k] for i in items) / mass for k in range(3))
    return MassTotal(
        mass=mass,
        centre=(x, y, z),
        half_width=math.sqrt(math.fsum(i.half_width**2 for i in items)),
        weighed_share=math.fsum(i.mass_kg for i in items if i.known == "weighed") / mass,
    )


def moved(items: Sequence[WeightItem], index: int, to: Point) -> tuple[WeightItem, ...]:
    """The list with one item at another place."""
    return tuple(dataclasses.replace(item, at_m=to) if k == index else item for k, item in enumerate(items))
