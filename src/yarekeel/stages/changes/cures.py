"""Cures for a tippy boat, side by side: each built on this boat and solved for the least that meets the brief."""

from collections.abc import Iterator
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Values
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Kilograms, Metres, Ratio, SquareMetres
from yarekeel.stages.changes.aims import STEADY
from yarekeel.stages.changes.change import Change, NoWay, Solved, Way
from yarekeel.stages.changes.register import cures_for
from yarekeel.stages.changes.solving import no_answer, said, search
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import word_of
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import at_rest, judge, tried
from yarekeel.stages.judging.steadiness import FLOATING, LOST, Steadiness, steadiness
from yarekeel.stages.stability.plain_tests import Tested, worst


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
        way, found = search(craft, change, STEADY.margin)
    except NoWay as no:
        return _none(change, no.sentence, no.values)
    return _short(change, way, found.best) if found.amount is None else _solved(change, way, found.amount)


def _solved(change: Change, way: Way, amount: float) -> Cure:
    answer = said("cure", change, way, amount)
    figures = figures_of(answer.craft, _steady(answer.craft)) if answer.craft is not None else None
    return Cure(answer.solved, amount, figures)


def _short(change: Change, way: Way, amount: float) -> Cure:
    """The most of a cure that is not enough: what it still misses."""
    try:
        craft = Craft(way.make(amount))
        found = steadiness(craft)
    except InvalidInput as error:
        return _none(change, f"It cannot be built: {error.within}", dict(error.values))
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
    return Cure(no_answer("cure", change, sentence, values or {}, "Ask for less, or join two cures"), 0.0, None)
