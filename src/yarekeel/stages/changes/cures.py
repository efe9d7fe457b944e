"""Cures for a tippy boat, side by side: each built on this boat and solved for the least that meets the brief."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import lru_cache

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.geometry.wetted import wetted_surface
from yarekeel.core.quantities import Kilograms, Metres, Ratio, SquareMetres
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE
from yarekeel.stages.changes.cure_ways import NAMES, WAYS, NoWay, Way, codes_of
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.judging import wishes
from yarekeel.stages.judging.steadiness import Steadiness, steadiness, word_of
from yarekeel.stages.stability.plain_tests import Tested, worst

SCANNED = 6
EDGE_STEPS = 24
CLOSE: Ratio = 2e-4
"""Of the range: an amount is known to that."""
KEPT: Ratio = 1e-3
"""Margin within which a limit is just met."""


@dataclass(frozen=True, slots=True)
class Figures:
    """What a boat with a cure is like: ``carried`` is what it weighs ashore, without water ballast; ``misses`` name what else of the
    brief it misses."""

    gm: Metres
    worst: Tested | None
    carried: Kilograms
    draft: Metres
    freeboard: Metres
    wetted: SquareMetres
    beam: Metres
    misses: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class Cure:
    """One cure: its title and what it takes (as findings, so that units are said at the edge); ``design`` and ``figures`` are None
    where it has no answer, ``why_not`` says why."""

    code: str
    title: Finding
    effort: Finding
    amount: float
    design: Design | None
    figures: Figures | None
    why_not: Finding | None = None


def figures_of(craft: Craft, found: Steadiness) -> Figures | None:
    """A boat's figures for the table; None where it sinks."""
    result = found.result
    if result is None or result.afloat is None:
        return None
    a = result.afloat
    low, high = craft.hull.mesh.bounds
    judged = wishes.try_judge(craft, wishes.wishes_of(craft.design.brief))
    tipping = {"gm", "rail"}
    misses = tuple(w.word for w in wishes.wishes_of(craft.design.brief) if judged and judged.margins[w.code] < 0 and w.code not in tipping)
    return Figures(
        gm=a.judged_gm,
        worst=worst(found.tests),
        carried=craft.total.mass,
        draft=-(float((craft.hull.mesh.vertices @ a.attitude.up).min()) + a.attitude.origin_height),
        freeboard=a.freeboard,
        wetted=wetted_surface(craft.hull.mesh, a.attitude),
        beam=float(high[1] - low[1]),
        misses=misses,
    )


def added_by(cure: Figures, now: Figures) -> tuple[Kilograms, Ratio]:
    """What a cure adds to carry ashore, and to the wetted surface as a share of it."""
    return cure.carried - now.carried, cure.wetted / now.wetted - 1


def needed(craft: Craft) -> Steadiness:
    """The boat as it is against the limits."""
    return _steady(craft)


@lru_cache(maxsize=32)
def _steady(craft: Craft) -> Steadiness:
    return steadiness(craft)


def all_of(craft: Craft) -> Iterator[Cure]:
    """Every cure, one after the other as it is solved."""
    for code in codes_of(craft):
        yield solve(craft, code)


@lru_cache(maxsize=64)
def solve(craft: Craft, code: str) -> Cure:
    """One cure, solved for the least that meets every limit on tipping. Raises InvalidInput for a cure that this boat has not."""
    if code not in codes_of(craft):
        raise InvalidInput("code", "That cure is none for this boat.")
    try:
        way = WAYS[code](craft)
    except NoWay as no:
        return _none(code, no.sentence, no.values)
    tried: dict[float, Ratio] = {}

    def margin(amount: float) -> Ratio:
        if amount not in tried:
            try:
                tried[amount] = steadiness(Craft(way.make(amount)), whole=False).least[0]
            except InvalidInput:
                tried[amount] = -math.inf
        return tried[amount]

    amounts = [way.low + (way.high - way.low) * (k / SCANNED) ** 1.6 for k in range(1, SCANNED + 1)]
    below = way.low
    for amount in amounts:
        if margin(amount) >= 0:
            return _solved(code, way, _edge(margin, below, amount, CLOSE * (way.high - way.low)))
        below = amount
    best = max(amounts, key=lambda a: (margin(a), a))
    return _short(code, way, best)


def _edge(margin: Callable[[float], Ratio], bad: float, good: float, close: float) -> float:
    """The least amount between two that meets the limits: regula falsi with Illinois' halving, bisection where margins jump."""
    f_good, f_bad, side = margin(good), margin(bad) if bad > 0 else -1.0, 0
    for k in range(EDGE_STEPS):
        if good - bad < close or 0 <= margin(good) < KEPT:
            break
        share = f_good / (f_good - f_bad) if f_bad > -1.5 and k % 3 != 2 else 0.5
        middle = good - min(max(share, 0.03), 0.97) * (good - bad)
        f = margin(middle)
        if f >= 0:
            good, f_good, f_bad, side = middle, f, f_bad * (0.5 if side == 1 else 1.0), 1
        else:
            bad, f_bad, f_good, side = middle, f, f_good * (0.5 if side == -1 else 1.0), -1
    return good


def _solved(code: str, way: Way, amount: float) -> Cure:
    craft = Craft(way.make(amount))
    title, values = way.title(amount, craft)
    words, more = way.effort(amount, craft)
    return Cure(
        f"cure.{code}",
        Finding(f"cure.{code}", "note", title, "", BRIEF, values),
        Finding(f"cure.{code}", "note", words, "", COMMON_PRACTICE, more),
        amount,
        craft.design,
        figures_of(craft, _steady(craft)),
    )


def _short(code: str, way: Way, amount: float) -> Cure:
    """The most of a cure that is not enough: what it still misses."""
    try:
        craft = Craft(way.make(amount))
        found = steadiness(craft)
    except InvalidInput as error:
        return _none(code, f"It cannot be built: {error.sentence}")
    title, values = way.title(amount, craft)
    least, name = found.least
    if least <= -2:
        text = "Even then it does not float steadily." if name == "floating" else "Even then nothing holds the {name}."
    else:
        text = "Even then the {name} misses its limit by {short:percent} of it."
    return _none(code, f"{title}: {text[:1].lower()}{text[1:]}", values | {"name": word_of(name), "short": -least})


def _none(code: str, sentence: str, values: dict[str, float | str] | None = None) -> Cure:
    why = Finding(
        "cure.no_answer", "note", "No answer", sentence, BRIEF, values or {}, (Remedy("Ask for less, or join two cures", "brief"),)
    )
    empty = Finding(f"cure.{code}", "note", NAMES[code], "", BRIEF)
    return Cure(f"cure.{code}", empty, empty, 0.0, None, None, why)


__all__ = ["Cure", "Figures", "all_of", "codes_of", "figures_of", "needed", "solve"]
