"""The search for the least amount of a change that meets what is asked."""

import functools
import math
from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Ratio
from yarekeel.core.search import edge
from yarekeel.stages.changes.change import Way
from yarekeel.stages.design.craft import Craft

FEW = 12
"""Steps of a way up to which every one is tried."""


@dataclass(frozen=True, slots=True)
class Least:
    """``amount`` is the least that meets it, None where none does; ``best`` the amount that came nearest."""

    amount: float | None
    best: float


def by_amount(way: Way, margin: Callable[[Craft], Ratio]) -> Callable[[float], Ratio]:
    """The margin that a way's boats keep, by the amount; each is worked out once. A boat that cannot be built misses."""

    @functools.cache
    def at(amount: float) -> Ratio:
        try:
            return margin(Craft(way.make(amount)))
        except InvalidInput:
            return -math.inf

    return at


def least(
    way: Way,
    margin: Callable[[float], Ratio],
    *,
    scanned: int = 1,
    closer_first: float = 1.0,
    close: Ratio = 1e-6,
    enough: Ratio = 0.0,
    from_below: bool = True,
) -> Least:
    """The least amount that keeps a margin (0 or more), to ``close`` of the range; ``margin`` as ``by_amount`` gives it.

    The range is looked over in ``scanned`` steps (the first ones shorter for ``closer_first`` over 1), since a change may help, then
    harm: the first stretch that keeps it is taken. ``enough`` is a margin so small that the amount need not be less. The way's lowest
    amount counts as missing it unless ``from_below`` is off.
    """
    known: dict[float, Ratio] = {}

    def at(amount: float) -> Ratio:
        if amount not in known:
            known[amount] = margin(amount)
        return known[amount]

    if from_below:
        known[way.low] = -1.0
    if at(way.low) >= 0:
        return Least(way.low, way.low)
    sizes = _sizes(way, scanned, closer_first)
    below = {1: way.low, -1: way.low}
    for size in sizes:
        for side in (1, -1) if way.either_way else (1,):
            amount = way.low + side * size
            if at(amount) >= 0:
                if way.step and len(sizes) == round((way.high - way.low) / way.step):
                    return Least(amount, amount)
                found = edge(margin=at, missed=below[side], kept=amount, close=close * (way.high - way.low), enough=enough)
                return _stepped(way, at, found, amount)
            below[side] = amount
    return Least(None, max(known, key=lambda a: (known[a], a)))


def _sizes(way: Way, scanned: int, closer_first: float) -> list[float]:
    """How far from the lowest amount is looked at, in order: every step where there are few."""
    span = way.high - way.low
    steps = round(span / way.step) if way.step else 0
    if 0 < steps <= FEW:
        return [k * way.step for k in range(1, steps + 1)]
    return [span * (k / scanned) ** closer_first for k in range(1, scanned + 1)]


def _stepped(way: Way, at: Callable[[float], Ratio], found: float, kept: float) -> Least:
    """The first whole step from an amount on that keeps it; the amount itself where it comes in any size."""
    if not way.step:
        return Least(found, kept)
    away = math.copysign(1.0, found - way.low)
    first = math.ceil(abs(found - way.low) / way.step - 1e-6)
    for k in range(first, first + FEW):
        amount = way.low + away * k * way.step
        if abs(amount - way.low) <= way.high - way.low + 1e-9 and at(amount) >= 0:
            return Least(amount, amount)
    return Least(None, kept)
