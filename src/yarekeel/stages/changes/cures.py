"""Cures for a tippy boat, side by side: each built on this boat and solved for the least that meets the brief."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy, Values
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Kilograms, Metres, Ratio, SquareMetres
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE
from yarekeel.stages.changes.change import Change, NoWay, Solved, Way
from yarekeel.stages.changes.least import least
from yarekeel.stages.changes.register import cures_for
from yarekeel.stages.changes.twin import least_by_twin, twin_of
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import word_of
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import at_rest, judge, tried
from yarekeel.stages.judging.steadiness import FLOATING, LOST, Steadiness, steadiness
from yarekeel.stages.stability.plain_tests import Tested, worst

SCANNED = 6
CLOSER_FIRST = 1.6
CLOSE: Ratio = 2e-4
"""Of the range: an amount is known to that."""
KEPT: Ratio = 1e-3
"""Margin within which a limit is just met."""


@dataclass(frozen=True, slots=True)
class CureFigures:
    """What a boat with a cure is like: ``carried`` is what is carried ashore, without people and water
    ballast; ``misses`` name what else of the
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
    """One cure solved, with its amount and the boat's figures with it; None where it has no answer."""

    solved: Solved
    amount: float
    figures: CureFigures | None


def figures_of(craft: Craft, found: Steadiness) -> CureFigures | None:
    """A boat's figures for the table; None where it sinks."""
    result = found.result
    if result is None or result.afloat is None:
        return None
    figures = Figures.found(craft, result, found.tests)
    limits = tuple(row for row in at_rest(craft) if not row.tipping)
    a, judged = result.afloat, tried(lambda: judge(figures, limits))
    return CureFigures(
        gm=a.judged_gm,
        worst=worst(found.tests),
        carried=sum(i.mass_kg for i in craft.items if i.group != "crew"),
        draft=figures["draft"] or 0.0,
        freeboard=a.freeboard,
        wetted=figures["wetted"] or 0.0,
        beam=figures["beam"] or 0.0,
        misses=judged.misses if judged else (),
    )


def added_by(cure: CureFigures, now: CureFigures) -> tuple[Kilograms, Ratio]:
    """What a cure adds to carry ashore, and to the wetted surface as a share of it."""
    return cure.carried - now.carried, cure.wetted / now.wetted - 1


def needed(craft: Craft) -> Steadiness:
    """The boat as it is against the limits."""
    return _steady(craft)


@kept
def _steady(craft: Craft) -> Steadiness:
    return steadiness(craft)


def all_of(craft: Craft) -> Iterator[Cure]:
    """Every cure, one after the other as it is solved."""
    for change in cures_for(craft):
        yield solve(craft, change.code)


@kept
def solve(craft: Craft, code: str) -> Cure:
    """One cure, solved for the least that meets every limit on tipping. Raises InvalidInput for a cure that this boat has not."""
    change = next((row for row in cures_for(craft) if row.code == code), None)
    if change is None:
        raise InvalidInput("code", "That cure is none for this boat.")
    try:
        way = change.way(craft)
    except NoWay as no:
        return _none(change, no.sentence, no.values)

    def margin(boat: Craft) -> Ratio:
        return steadiness(boat, whole=False).least[0]

    how: dict[str, Any] = {"scanned": SCANNED, "closer_first": CLOSER_FIRST, "close": CLOSE}
    twin = twin_of(craft)
    found = least_by_twin(way, change.way(twin), margin, KEPT, **how) if twin else least(way, margin, enough=KEPT, **how)
    return _short(change, way, found.best) if found.amount is None else _solved(change, way, found.amount)


def _solved(change: Change, way: Way, amount: float) -> Cure:
    craft = Craft(way.make(amount))
    title, values = way.title(amount, craft)
    words, more = way.work(amount, craft)
    code = f"cure.{change.code}"
    solved = Solved(
        code,
        Finding(code, "note", title, "", source=BRIEF, values=values),
        Finding(code, "note", words, "", source=COMMON_PRACTICE, values=more),
        craft.design,
    )
    return Cure(solved, amount, figures_of(craft, _steady(craft)))


def _short(change: Change, way: Way, amount: float) -> Cure:
    """The most of a cure that is not enough: what it still misses."""
    try:
        craft = Craft(way.make(amount))
        found = steadiness(craft)
    except InvalidInput as error:
        return _none(change, f"It cannot be built: {error.sentence}")
    title, values = way.title(amount, craft)
    margin, name = found.least
    if margin <= LOST:
        text = "Even then it does not float steadily." if name == FLOATING else "Even then nothing holds the {name}."
    else:
        text = "Even then the {name} misses its limit by {short:percent} of it."
    if found.result is not None and found.result.afloat is not None:
        values = {**values, "gm": found.result.afloat.judged_gm}
        text += " GM is then {gm:length}."
    return _none(change, f"{title}: {text[:1].lower()}{text[1:]}", {**values, "name": word_of(name), "short": -margin})


def _none(change: Change, sentence: str, values: Values | None = None) -> Cure:
    way = (Remedy("Ask for less, or join two cures", "brief"),)
    why = Finding("cure.no_answer", "note", "No answer", sentence, source=BRIEF, values=values or {}, remedies=way)
    empty = Finding(f"cure.{change.code}", "note", change.title, "", source=BRIEF)
    return Cure(Solved(code=empty.code, title=empty, work=empty, design=None, why_not=why), 0.0, None)
