"""What a way to alter a boat is: the range of its amount, the boat with an amount, and the sentences for it."""

from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.findings import Finding, Values
from yarekeel.core.hydrostatics.afloat import Afloat
from yarekeel.stages.changes.aims import STEADY, Aim
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

Words = tuple[str, Values]
"""A sentence with places, and what fills them."""


@dataclass(frozen=True, slots=True)
class Way:
    """How a change goes on one boat: the range of its amount, the boat with an amount, what it then is called and what it takes. It comes
    in whole ``step``s where that is not 0; with ``either_way`` as much less than nothing is tried too."""

    low: float
    high: float
    make: Callable[[float], Design]
    title: Callable[[float, Craft], Words]
    work: Callable[[float, Craft], Words]
    step: float = 0.0
    either_way: bool = False

    def built(self, amount: float) -> Craft:
        """The boat with an amount. Raises InvalidInput where it cannot be built."""
        craft = Craft(self.make(amount))
        craft.hull  # noqa: B018 refused here
        return craft


@dataclass(frozen=True, slots=True)
class Change:
    """A row of the register: its code, what it is called before it is solved, its place in the order it is shown in, whether a boat can
    have it, and what it is to mend: the least that keeps this is looked for. ``aim`` None: it has one amount, the way's highest."""

    code: str
    title: str
    rank: int
    way: Callable[[Craft], Way]
    fits: Callable[[Craft], bool] = lambda craft: True
    aim: Aim | None = STEADY


class NoWay(Exception):
    """A change that cannot be tried on this boat, with the sentence."""

    def __init__(self, sentence: str, values: Values | None = None) -> None:
        super().__init__(sentence)
        self.sentence, self.values = sentence, values or {}


@dataclass(frozen=True, slots=True)
class Solved:
    """A change solved on a boat: its title and work (as findings, so that units are said at the edge) and the boat with it; None where
    it has no answer, and ``why_not`` says why."""

    code: str
    title: Finding
    work: Finding
    design: Design | None
    why_not: Finding | None = None


def main_hull(craft: Craft) -> int:
    """The number of the body that counts as the hull."""
    return craft.design.main_hull


def free_name(design: Design, start: str) -> str:
    """A name that no body, weight or compartment of the boat has yet."""
    taken = {b.name for b in design.bodies} | {w.name for w in design.weights} | {c.name for c in design.compartments}
    return next(n for n in (start, *(f"{start} {k}" for k in range(2, len(taken) + 3))) if n not in taken)


def afloat_now(craft: Craft) -> Afloat:
    """Where the boat floats as it is. Raises NoWay where it does not."""
    try:
        return craft.settled
    except NoRest:
        raise NoWay("It does not float as it is; lighten it or make it larger first.") from None


def no_room(craft: Craft, where: str) -> InvalidInput:
    """The refusal of a place outside the boat."""
    low, high = craft.hull.mesh.bounds
    return InvalidInput(where, "A place lies between {low:length} and {high:length} from aft.", low=float(low[0]), high=float(high[0]))
