"""A change solved on a boat, whatever it is to mend: one search, one way to say what was found."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy, Values
from yarekeel.core.quantities import Ratio
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE
from yarekeel.stages.changes.aims import Aim
from yarekeel.stages.changes.change import Change, NoWay, Solved, Way
from yarekeel.stages.changes.least import Least, by_amount, least
from yarekeel.stages.changes.twin import least_by_twin, twin_of
from yarekeel.stages.design.craft import Craft

HOW: dict[str, Any] = {"scanned": 6, "closer_first": 1.6, "close": 2e-4}
"""The search: steps over the range, the first ones shorter, and the share of the range that an amount is known to."""
KEPT: Ratio = 1e-3
"""Margin within which a limit is just met."""


@dataclass(frozen=True, eq=False)
class Answer:
    """A change solved: its amount, the way it goes, and the boat with it; ``craft`` None where it has no answer."""

    solved: Solved
    amount: float = 0.0
    way: Way | None = None
    craft: Craft | None = None


def search(craft: Craft, change: Change, margin: Callable[[Craft], Ratio], **how: Any) -> tuple[Way, Least]:
    """The least of a change that keeps a margin, on the boat's coarse twin where it has one. Raises NoWay."""
    way = change.way(craft)
    twin = twin_of(craft) if not (way.step or way.either_way) else None
    how = {**HOW, **how}
    own = by_amount(way, margin)
    if twin is None:
        return way, least(way, own, enough=KEPT, **how)
    twins = change.way(twin)
    return way, least_by_twin(way, own, twins, by_amount(twins, margin), KEPT, **how)


def solve(craft: Craft, change: Change, prefix: str, aim: Aim | None = None) -> Answer:
    """A change solved for what it is to mend, or for another ``aim``; codes of its findings begin with ``prefix``."""
    aim = aim or change.aim
    try:
        if aim is None:
            way = change.way(craft)
            return said(prefix, change, way, way.high)
        if not change.fits(craft):
            raise NoWay("It is none for this boat.")
        if aim.margin(craft) >= 0:
            raise NoWay(aim.kept)
        way, found = search(craft, change, aim.margin)
    except NoWay as no:
        return Answer(no_answer(prefix, change, no.sentence, no.values))
    if found.amount is None:
        return Answer(no_answer(prefix, change, f"No amount of it mends {aim.word}.", {}))
    return said(prefix, change, way, found.amount)


def said(prefix: str, change: Change, way: Way, amount: float) -> Answer:
    """The boat with so much of a change, in words. What cannot be built has no answer."""
    try:
        craft = way.built(amount)
    except InvalidInput as error:
        return Answer(no_answer(prefix, change, f"It cannot be built: {error.within}", dict(error.values)))
    code = f"{prefix}.{change.code}"
    title, values = way.title(amount, craft)
    words, more = way.work(amount, craft)
    work = Finding(code, "note", words, "", source=COMMON_PRACTICE, values=more)
    return Answer(Solved(code, Finding(code, "note", title, "", source=BRIEF, values=values), work, craft.design), amount, way, craft)


def no_answer(prefix: str, change: Change, sentence: str, values: Values, remedy: str = "Ask for less, or join it with another") -> Solved:
    """A change that has none, with the sentence that says why."""
    why = Finding(f"{prefix}.no_answer", "note", "No answer", sentence, BRIEF, values, (Remedy(remedy, "brief"),))
    empty = Finding(f"{prefix}.{change.code}", "note", change.title, "", source=BRIEF)
    return Solved(code=empty.code, title=empty, work=empty, design=None, why_not=why)
