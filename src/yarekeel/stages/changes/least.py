"""The search for the least amount of a change that meets what is asked."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Ratio
from yarekeel.core.search import edge
from yarekeel.stages.changes.change import Way
from yarekeel.stages.design.craft import Craft


@dataclass(frozen=True, slots=True)
class Least:
    """``amount`` is the least that meets it, None where none does; ``best`` the amount that came nearest."""

    amount: float | None
    best: float


def least(
    way: Way,
    margin: Callable[[Craft], Ratio],
    *,
    scanned: int = 1,
    closer_first: float = 1.0,
    close: Ratio = 1e-6,
    enough: Ratio = 0.0,
    from_below: bool = True,
) -> Least:
    """The least amount whose boat keeps a margin (0 or more), to ``close`` of the range.

    The range is looked over in ``scanned`` steps (the first ones shorter for ``closer_first`` over 1), since a change may help, then
    harm: the first stretch that keeps it is taken. ``enough`` is a margin so small that the amount need not be less. The way's lowest
    amount counts as missing it unless ``from_below`` is off. A boat that cannot be built misses.
    """
    known: dict[float, Ratio] = {}

    def at(amount: float) -> Ratio:
        if amount not in known:
            try:
                known[amount] = margin(Craft(way.make(amount)))
            except InvalidInput:
                known[amount] = -math.inf
        return known[amount]

    if from_below:
        known[way.low] = -1.0
    amounts = [way.low + (way.high - way.low) * (k / scanned) ** closer_first for k in range(1, scanned + 1)]
    below = way.low
    if at(below) >= 0:
        return Least(below, below)
    for amount in amounts:
        if at(amount) >= 0:
            return Least(edge(margin=at, missed=below, kept=amount, close=close * (way.high - way.low), enough=enough), amount)
        below = amount
    return Least(None, max(amounts, key=lambda a: (at(a), a)))
