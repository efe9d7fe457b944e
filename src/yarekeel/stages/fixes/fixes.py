"""Fixes: after a trial, each candidate solved on the boat as found, and priced."""

from dataclasses import dataclass, replace

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.findings import Finding
from yarekeel.core.kept import kept
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import Metres
from yarekeel.stages.changes import cures, takes
from yarekeel.stages.changes.aims import STEADY
from yarekeel.stages.changes.change import Change, NoWay, Solved, Way
from yarekeel.stages.changes.register import CHANGES
from yarekeel.stages.changes.solving import Answer, no_answer, said, solve
from yarekeel.stages.changes.takes import Takes
from yarekeel.stages.changes.ways import ballast_at, level
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.fixes.causes import Diagnosis, diagnose
from yarekeel.stages.fixes.correcting import as_found
from yarekeel.stages.fixes.joined import solve_together
from yarekeel.stages.judging.outcome import Outcome, outcome_of
from yarekeel.stages.trials.readings import Readings
from yarekeel.stages.trials.trials import FloatTest

ALWAYS = ("move", "ballast_at", "scale")
"""Changes that are tried after any trial: they level and lift a boat."""
JOINED = "+"
"""Between the codes of changes that are solved together."""
LIKELY = 0.1
"""Of belief, from which a cause's changes are solved: each takes its time."""


@dataclass(frozen=True, eq=False)
class Candidate:
    """One fix: its change's code (several with ``JOINED`` between), the boat with it (None when it has no answer), what it takes, and the
    causes that it answers."""

    code: str
    solved: Solved
    craft: Craft | None
    takes: Takes
    causes: tuple[str, ...] = ()

    @cached_property
    def outcome(self) -> Outcome | None:
        """How the boat floats with it; None when it has no answer or sinks."""
        return outcome_of(self.craft) if self.craft is not None else None


@dataclass(frozen=True, eq=False)
class FixesAssessment:
    """The boat as found (its list corrected by the trial), how it floats, what may be the cause, the codes of the changes that are tried,
    and those that were solved."""

    as_found: Design
    correction: Finding
    now: Outcome | None
    diagnosis: Diagnosis | None
    codes: tuple[str, ...]
    candidates: tuple[Candidate, ...] = ()

    @cached_property
    def base(self) -> Craft:
        """The boat as found."""
        return Craft(self.as_found)


def for_readings(craft: Craft, readings: Readings, seen: tuple[str, ...] = ()) -> FixesAssessment:
    """As ``assess`` from readings alone. Raises InvalidInput where nothing was read."""
    r = readings
    test = FloatTest(
        date="",
        mass_kg=r.mass_kg,
        draft_bow_m=r.bow_m,
        draft_stern_m=r.stern_m,
        heel_deg=r.heel_deg,
        water_kg=r.water_inside_kg,
        seen=seen,
        rolls=r.rolls,
        inclining=r.inclining,
        pulls=r.pulls,
        runs=r.runs,
        read_to=r.read_to,
    )
    return assess(craft, test)


def assess(craft: Craft, test: FloatTest, item: int | None = None, ballast_x: Metres | None = None) -> FixesAssessment:
    """Correct the list by the trial, say what may be the cause, then solve and price each candidate: those that level and lift a boat, and
    those that answer the causes that the trial speaks for.

    ``item`` is the weight to move (the best loose one by default), ``ballast_x`` where ballast may go (the end that rides high).
    """
    start = begun(craft, test)
    return replace(start, candidates=tuple(candidate(start, code, item, ballast_x) for code in start.codes))


@kept
def begun(craft: Craft, test: FloatTest) -> FixesAssessment:
    """The boat as found and what may be the cause, with the codes of what is to be tried; nothing is solved yet."""
    found, correction = as_found(craft, test)
    diagnosis = diagnosis_of(craft, test)
    codes = tuple(dict.fromkeys((*ALWAYS, *wanted(diagnosis))))
    return FixesAssessment(found, correction, outcome_of(Craft(found)), diagnosis, codes)


@kept
def floated(craft: Craft, test: FloatTest) -> FixesAssessment:
    """The same from what was read of the float alone, its causes not asked for yet: quick, for the changes that level and lift a boat."""
    found, correction = as_found(craft, replace(test, pulls=(), runs=()))
    return FixesAssessment(found, correction, outcome_of(Craft(found)), None, ALWAYS)


def diagnosis_of(craft: Craft, test: FloatTest) -> Diagnosis | None:
    """What may be the cause of what was read and seen; None for a boat that does not float."""
    try:
        return diagnose(craft, test.readings, test.seen)
    except NoRest:
        return None


def likely(diagnosis: Diagnosis | None) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """Titles of the causes that are at least possible and likely enough, the likeliest first, each with the changes that answer it."""
    return tuple(
        (j.cause.title, j.cause.changes)
        for j in (diagnosis.causes if diagnosis else ())
        if j.state in ("supported", "possible") and (j.belief is None or j.belief >= LIKELY)
    )


def wanted(diagnosis: Diagnosis | None) -> tuple[str, ...]:
    """Changes that answer those causes, the likeliest cause's first."""
    return tuple(dict.fromkeys(code for _, changes in likely(diagnosis) for code in changes))


def offered(craft: Craft) -> tuple[Change, ...]:
    """Every change that a boat can have, for who wants to try another."""
    return tuple(row for row in CHANGES.values() if row.fits(craft) or row.aim is not STEADY)


def candidate(start: FixesAssessment, code: str, item: int | None = None, ballast_x: Metres | None = None) -> Candidate:
    """One change, or several joined, solved on the boat as found. Raises InvalidInput for a code that is none."""
    codes = tuple(code.split(JOINED))
    if any(c not in CHANGES for c in codes):
        raise InvalidInput("code", "There is no such fix.")
    base = start.base
    if len(codes) > 1:
        joined = _joined(base, codes)
        return Candidate(code, joined.solved, joined.craft, takes.of(codes))
    answers = tuple(title for title, changes in likely(start.diagnosis) if code in changes)
    answer = _placed(base, code, item, ballast_x) if code in ("move", "ballast_at") else _solved(base, code)
    return Candidate(code, answer.solved, answer.craft, takes.of(codes), answers)


_joined = kept(solve_together)


@kept
def _solved(base: Craft, code: str) -> Answer:
    row = CHANGES[code]
    if row.aim is not STEADY:
        return solve(base, row, "fix")
    if not row.fits(base):
        return Answer(no_answer("fix", row, "It is none for this boat.", {}))
    if STEADY.margin(base) >= 0:
        return Answer(no_answer("fix", row, STEADY.kept, {}))
    cure = cures.solve(base, code)
    solved = replace(cure.solved, code=f"fix.{code}")
    return Answer(solved, cure.amount, None, Craft(solved.design) if solved.design is not None else None)


def _placed(base: Craft, code: str, item: int | None, ballast_x: Metres | None) -> Answer:
    """A weight moved, or ballast put at a place: the amount that levels it."""
    items, row = base.items, CHANGES[code]
    if item is not None and (not 0 <= item < len(items) or items[item].mass_kg <= 0 or items[item].fixed):
        raise InvalidInput("item", "Choose one of the weights aboard that can be moved.")
    try:
        way: Way = level.way_of(base, item) if code == "move" else ballast_at.way_of(base, ballast_x)
    except NoWay as no:
        return Answer(no_answer("fix", row, no.sentence, no.values))
    return said("fix", row, way, way.high)
