"""What a resize of the hull does to what is placed in and on it."""

from dataclasses import dataclass
from typing import Self

from yarekeel.core.quantities import Metres, Point, Ratio

ORIGIN: Point = (0.0, 0.0, 0.0)
UNCHANGED: Point = (1.0, 1.0, 1.0)


@dataclass(frozen=True, slots=True)
class Stretch:
    """The hull's box before (``low``, ``high``) and after. What lies inside keeps its share of the box; what stands outside keeps its
    distance from the side it stands beyond (a propeller behind the transom, a keel under the bottom). ``factors`` along, across and up
    are not all 1 where the whole boat is scaled or stretched: then every place goes by them. ``surface`` is how the hull's surface
    grew."""

    low: Point = ORIGIN
    high: Point = ORIGIN
    new_low: Point = ORIGIN
    new_high: Point = ORIGIN
    factors: Point = UNCHANGED
    surface: Ratio = 1.0

    @classmethod
    def whole(cls, factor: Ratio) -> Self:
        """Every length of the boat times ``factor``."""
        return cls(factors=(factor, factor, factor), surface=factor**2)

    @property
    def is_whole(self) -> bool:
        """Whether it is of the whole boat."""
        return self.factors != UNCHANGED

    @property
    def factor(self) -> Ratio | None:
        """The one factor of all lengths; None where they go by different ones."""
        return self.factors[0] if len(set(self.factors)) == 1 else None

    def along(self, axis: int, at: Metres) -> Metres:
        """A coordinate (axis 0 from aft, 1 to port, 2 up) after the resize."""
        if self.is_whole:
            return at * self.factors[axis]
        low, high, new_low, new_high = self.low[axis], self.high[axis], self.new_low[axis], self.new_high[axis]
        if at < low or high <= low:
            return at + new_low - low
        if at > high:
            return at + new_high - high
        middle, new_middle = (low + high) / 2, (new_low + new_high) / 2  # what lies on the centreline stays exactly there
        return new_middle + (at - middle) * (new_high - new_low) / (high - low)

    def point(self, at: Point) -> Point:
        """A place after the resize."""
        return self.along(0, at[0]), self.along(1, at[1]), self.along(2, at[2])

    @property
    def area(self) -> Ratio:
        """How what is spread out beside the hull, such as a sail, grows: with the whole boat, not with one of its bodies or sizes."""
        return 1.0 if self.factor is None else self.factor**2
