"""A builder's list of weights: mass, place, how it is known and so how sure it is."""

import math
import re
from collections.abc import Sequence
from dataclasses import MISSING, dataclass, replace
from typing import Literal, Self

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Floats, Ints
from yarekeel.core.geometry.stretch import Stretch
from yarekeel.core.parameters import FARTHEST, check_parameters, choice, described, flag, named, place, words
from yarekeel.core.quantities import Kilograms, Metres, Point, Ratio
from yarekeel.core.weights.recipes import AnyRecipe, Recipe

Known = Literal["guessed", "data", "weighed"]
Group = Literal["structure", "drive", "electrics", "payload", "crew", "ballast", "foam"]

SPREAD: dict[str, Ratio] = {"guessed": 0.20, "data": 0.05, "weighed": 0.01}
"""Half width of the band that holds the true mass about 19 times in 20, as a share of it (common practice)."""
GROUPS: tuple[Group, ...] = ("structure", "drive", "electrics", "payload", "crew", "ballast", "foam")

PLACED: dict[str, tuple[Ratio, Ratio, Ratio]] = {
    "guessed": (0.01, 0.01, 0.05),
    "data": (0.005, 0.005, 0.025),
    "weighed": (0.005, 0.005, 0.025),
}
"""Half width of the band that holds a thing's true place about 19 times in 20, as shares of the boat's length, beam and depth: put
by eye, or by a ruler (from memory)."""
HEAVIEST = 1e9
"""kg. Past it a typing slip is certain."""
MOST_OF_ONE = 10_000
LONGEST_NOTE = 400
PHOTO = re.compile(r"photo-[0-9a-f]{16}\.jpg")


@dataclass(frozen=True, slots=True)
class WeightItem:
    """One thing aboard, or several alike.

    ``mass_kg`` is that of one, ``quantity`` how many; ``pair`` adds the image of them all on the other side. ``spread`` is
    the half width of the 95 % band as a share of the mass, None for the usual one of ``known``. What has a ``recipe`` takes
    its mass from it times ``factor``, and its place too where the recipe follows the hull; ``mass_kg`` and ``at_m`` then
    hold what was last worked out. ``moves_with`` names an item that takes this one along, ``together`` a word shared by all
    whose errors are one and the same (every part from one roll of filament), ``photo`` a picture kept beside the boat file;
    empty for none. ``material`` is the code of what it is made of, where no recipe says so: what it weighs under
    water follows from it. ``hung_m`` is how far above its centre it hangs free from, so that it swings: it then acts on the boat as
    if it were there, at any heel. ``place_spread_m`` is the half width of the 95 % band of each coordinate of its place, None for
    the usual one of ``known``. The group ``structure`` is what is built with the hull and grows with its skin.
    """

    name: str = described(MISSING, "Name", "words")
    mass_kg: Kilograms = described(MISSING, "Mass", "mass", 0, HEAVIEST)
    at_m: Point = place(MISSING, "Place", moves="")
    known: Known = choice("guessed", "Known by", "", (("guessed", "guessed"), ("data", "from data"), ("weighed", "weighed")))
    spread: Ratio | None = described(None, "Spread, 19 times in 20", "percent", 0, 2)
    group: Group = choice("payload", "Group", "", tuple((g, g) for g in GROUPS))
    quantity: Ratio = described(1.0, "How many", "ratio", 0, MOST_OF_ONE)
    on: bool = flag(True, "Aboard")
    pair: bool = flag(False, "One on each side")
    moves_with: str = words("Moves with")
    together: str = words("Off together with")
    note: str = words("Note", LONGEST_NOTE)
    photo: str = ""
    recipe: Recipe | None = None
    factor: Ratio = 1.0
    material: str = named("", "Made of", "", "material")
    hung_m: Metres = described(0.0, "Hangs free from, above it", "length", 0, FARTHEST, moves="stays")

    place_spread_m: Metres | None = described(None, "Place known to ±", "length", 0, FARTHEST, moves="stays")

    def __post_init__(self) -> None:
        check_parameters(self)
        if not math.isfinite(self.factor) or not 0 < self.factor <= 100:
            raise InvalidInput("factor", "A correction must be a factor of more than 0, at most 100.")
        if self.photo and not PHOTO.fullmatch(self.photo):
            raise InvalidInput("photo", "A photo is named photo-, sixteen digits or letters a to f, and .jpg.")

    def moved(self, by: Stretch) -> Self:
        """The item after a resize: what the list places goes with the hull, typed structure grows with its skin, and a corrected
        estimate with the whole boat. What follows the hull has its place from its recipe."""
        built = self.structure and self.recipe is None
        corrected = self.structure and self.recipe is not None and not self.fixed
        return replace(
            self,
            mass_kg=self.mass_kg * (by.surface if built or (self.structure and by.is_whole) else 1.0),
            factor=self.factor * (by.surface if corrected and by.is_whole else 1.0),
            at_m=self.at_m if self.fixed and not by.is_whole else by.point(self.at_m),
        )

    @property
    def structure(self) -> bool:
        """Whether it is built with the hull."""
        return self.group == "structure"

    @property
    def fixed(self) -> bool:
        """Whether its place follows the hull, so that it cannot be moved by itself."""
        return self.recipe is not None and self.recipe.follows_hull

    @property
    def share(self) -> Ratio:
        """Half width of the 95 % band as a share of the mass."""
        return SPREAD[self.known] if self.spread is None else self.spread

    @property
    def half_width(self) -> Kilograms:
        """Half width of the 95 % band of the mass."""
        return self.mass_kg * self.share

    @property
    def place_width(self) -> Point:
        """Half width of the 95 % band of each coordinate of its place, as far as the line itself says."""
        each = self.place_spread_m or 0.0
        return (each, each, each)


@dataclass(frozen=True, slots=True)
class ActingItem(WeightItem):
    """A line of the list as it acts on the water, with the doubt of its place worked out for the boat it is in."""

    place_width: Point = (0.0, 0.0, 0.0)

    def __post_init__(self) -> None:
        """Made of a line that was checked."""


@dataclass(frozen=True, slots=True)
class MassTotal:
    """Sum of a list: mass, centre of gravity (boat axes), half widths of their 95 % bands, share weighed."""

    mass: Kilograms
    centre: Point
    half_width: Kilograms
    centre_half_width: tuple[Metres, Metres, Metres]
    weighed_share: Ratio


def total_of(items: Sequence[WeightItem]) -> MassTotal:
    """Mass and centre by moments; spreads add by squares, those of one ``together`` plainly (JCGM 100:2008, eqs. 10 and 16).

    Each item counts as one of its ``mass_kg``: quantities and recipes are worked out before. Raises InvalidInput if nothing
    aboard weighs anything: a centre of gravity needs a mass.
    """
    mass = math.fsum(i.mass_kg for i in items)
    if mass <= 0:
        raise InvalidInput("weights", "Nothing aboard has a mass yet; add at least one weight of more than 0.")
    x, y, z = (math.fsum(i.mass_kg * i.at_m[k] for i in items) / mass for k in range(3))
    # A kilogram more of an item moves the centre by its distance from it over the mass.
    width, *centre = combined(items, np.vstack([[1.0, -x / mass, -y / mass, -z / mass], np.hstack([np.zeros((3, 1)), np.eye(3) / mass])]))
    return MassTotal(
        mass=mass,
        centre=(x, y, z),
        half_width=width,
        centre_half_width=(centre[0], centre[1], centre[2]),
        weighed_share=math.fsum(i.mass_kg for i in items if i.known == "weighed") / mass,
    )


def combined(items: Sequence[WeightItem], slopes: Floats) -> tuple[float, ...]:
    """Half widths of figures whose ``slopes`` (4, k) by the list's mass and its three moments about the boat's origin are given.

    A list acts on the water through these four sums alone, whatever it holds.
    """
    return tuple(np.sqrt((independent(items, slopes) ** 2).sum(axis=0)).tolist())


def independent(items: Sequence[WeightItem], slopes: Floats) -> Floats:
    """What each independent source of error (g) moves each figure (k) by at the edge of its 95 % band, (g, k), from the figures'
    ``slopes`` (4, k) by mass and moments."""
    places, masses = np.array([i.at_m for i in items]), np.array([i.mass_kg for i in items])
    by_place = np.broadcast_to(slopes[1:], (len(items), 3, slopes.shape[1])) * masses[:, None, None]
    return sources(items, slopes[0] + places @ slopes[1:], by_place)


def sources(items: Sequence[WeightItem], by_mass: Floats, by_place: Floats) -> Floats:
    """The same from slopes by each item's mass (n, k) and by each coordinate of its place (n, 3, k).

    Items with the same ``together`` have masses off by the same factor, so their parts add plainly (full correlation, JCGM
    100:2008, 5.2.2 note 1); the rest, and all places, are independent.
    """
    parts = by_mass * np.array([i.half_width for i in items])[:, None]
    rows = lots(items)
    summed = np.zeros((int(rows.max()) + 1, parts.shape[1]))
    np.add.at(summed, rows, parts)
    moved = by_place * np.array([i.place_width for i in items])[:, :, None]
    return np.vstack([summed, moved.reshape(-1, moved.shape[2])])


def lots(items: Sequence[WeightItem]) -> Ints:
    """The number (n,) of each item's source of error: items ``together`` share one, the rest have their own."""
    words = [i.together for i in items]
    number = {lot: k for k, lot in enumerate(dict.fromkeys(words)) if lot}
    alone = len(number) + 1
    return np.asarray(np.unique([number.get(lot, alone + k) for k, lot in enumerate(words)], return_inverse=True)[1])


__all__ = [
    "GROUPS",
    "PLACED",
    "SPREAD",
    "ActingItem",
    "AnyRecipe",
    "Group",
    "Known",
    "MassTotal",
    "WeightItem",
    "combined",
    "independent",
    "lots",
    "sources",
    "total_of",
]
