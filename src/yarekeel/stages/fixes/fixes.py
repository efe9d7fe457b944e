"""Fixes: after a trial, each candidate solved on the boat as found, and priced."""

import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.findings import Finding, Remedy, Values
from yarekeel.core.quantities import Kilograms, Metres, Point, Ratio
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE, MECHANICS
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.changes import cures
from yarekeel.stages.changes.change import NoWay, Solved, Way
from yarekeel.stages.changes.least import least
from yarekeel.stages.changes.register import CHANGES
from yarekeel.stages.changes.ways import ballast_at, level
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.limits import limit_always
from yarekeel.stages.fixes import drive_fixes
from yarekeel.stages.fixes.causes import Diagnosis, diagnose
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.outcome import Outcome, outcome_of
from yarekeel.stages.trials import found
from yarekeel.stages.trials.found import BoatFound
from yarekeel.stages.trials.readings import Readings
from yarekeel.stages.trials.trials import FloatTest

FIXES = {"move": "move", "ballast_at": "ballast", "scale": "scale"}
"""The changes that are tried after a trial, with their words among the fixes."""
LIKELY: Ratio = 0.1
"""Of belief, from which a cause's changes are solved: each takes its time."""
STEADIERS = ("wider", "outrigger", "strips", "ballast", "seat", "lower")
"""Changes that make a boat harder to tip, tried where a cause asks for them."""
NO_ANSWER_TITLES = {"move": "Move {name}", "ballast_at": "Ballast {x:length} from aft"}


@dataclass(frozen=True, slots=True)
class Candidate:
    """One fix, and how the boat floats with it; None when it has no answer."""

    solved: Solved
    outcome: Outcome | None


@dataclass(frozen=True, slots=True)
class FixesAssessment:
    """The boat as found (its list corrected by the trial), how it floats, and the candidates."""

    as_found: Design
    correction: Finding
    now: Outcome | None
    candidates: tuple[Candidate, ...]
    diagnosis: Diagnosis | None


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
    found, correction = as_found(craft, test)
    base = Craft(found)
    now = outcome_of(base)
    diagnosis = diagnosis_of(craft, test)
    more = tuple(_answer(base, code) for code in wanted(diagnosis))
    return FixesAssessment(found, correction, now, (_move(base, item), _ballast(base, ballast_x), _scale(base), *more), diagnosis)


def diagnosis_of(craft: Craft, test: FloatTest) -> Diagnosis | None:
    """What may be the cause of what was read and seen; None for a boat that does not float."""
    try:
        return diagnose(craft, test.readings, test.seen)
    except NoRest:
        return None


def wanted(diagnosis: Diagnosis | None) -> tuple[str, ...]:
    """Changes that answer causes which are at least possible and likely enough, the likeliest cause's first, but those that are always
    tried."""
    causes = (
        [j.cause for j in diagnosis.causes if j.state in ("supported", "possible") and (j.belief is None or j.belief >= LIKELY)]
        if diagnosis
        else []
    )
    codes = dict.fromkeys(code for cause in causes for code in cause.changes)
    return tuple(code for code in codes if code in drive_fixes.BY_CODE or code in STEADIERS)


def _answer(base: Craft, code: str) -> Candidate:
    """A change that answers a cause, solved on the boat as found."""
    name = f"fix.{code}"
    if code in drive_fixes.BY_CODE:
        try:
            solved, design = drive_fixes.solve(base, code)
        except NoWay as no:
            return _none(name, drive_fixes.TITLES[code], no.sentence, no.values)
        return Candidate(solved, outcome_of(Craft(design)))
    title = CHANGES[code].title
    if cures.needed(base).least[0] >= 0:
        return _none(name, title, "Nothing that tips it misses its limit, so there is nothing for it to mend.", {})
    try:
        cure = cures.solve(base, code)
    except InvalidInput:
        return _none(name, title, "It is none for this boat.", {})
    solved = dataclasses.replace(cure.solved, code=name)
    return Candidate(solved, outcome_of(Craft(solved.design)) if solved.design is not None else None)


def as_found(craft: Craft, test: FloatTest) -> tuple[Design, Finding]:
    """The design with its list corrected to the mass and centre that the trial found, water inside taken off.

    Mass missing from the list becomes an item of its own where the moments put it, if that is inside the boat. Otherwise
    the items not weighed are scaled by one factor and the one least sure is moved within the boat, or all that are loose; what that
    cannot give is left as listed and said. TCG stays as listed where no heel was read.
    """
    total = craft.total
    mass, lcg, tcg = total.mass, total.centre[0], total.centre[1]
    try:
        told = found.assess(craft, test.readings)
    except (InvalidInput, NoRest):
        told = None
    if told is not None:
        mass, lcg, tcg = (
            now if value is None else value
            for now, value in zip((mass, lcg, tcg), (told.value(n).value for n in ("mass", "lcg", "tcg")), strict=True)
        )
    design, correction = _listed_as(craft, mass, lcg, tcg)
    return (design if told is None else with_factors(design, told)), correction


def _listed_as(craft: Craft, mass: Kilograms, lcg: Metres, tcg: Metres) -> tuple[Design, Finding]:
    """The design with its list corrected to a mass and a centre."""
    design, total = craft.design, craft.total
    extra = mass - total.mass
    if abs(extra) < 1e-4 * total.mass and abs(lcg - total.centre[0]) < 1e-4 and abs(tcg - total.centre[1]) < 1e-4:
        return design, Finding(
            "fixes.as_listed", "holds", "The list stands", "The trial agrees with the list; nothing is corrected.", source=MECHANICS
        )
    if extra > 0:
        x = (mass * lcg - total.mass * total.centre[0]) / extra
        y = (mass * tcg - total.mass * total.centre[1]) / extra
        if _inside(craft, x, y):
            item = WeightItem(
                name="Unaccounted, by trial",
                mass_kg=round(extra, 6),
                at_m=_spot(x, y, total.centre[2]),
                known="guessed",
                group="structure",  # nobody knows what it is, so nobody can move it
            )
            return dataclasses.replace(design, weights=(*design.weights, item)), Finding(
                "fixes.unaccounted",
                "near",
                "{extra:mass} is unaccounted for",
                "The trial puts it {x:length} from aft; it is carried as an item of its own in what follows, and stays where it is.",
                source=MECHANICS,
                values={"extra": extra, "x": x},
            )
    return _redistributed(craft, mass, lcg, tcg)


def with_factors(design: Design, told: BoatFound) -> Design:
    """The boat with its pull and its drag as the trial found them, where it tells them."""
    pull, drag = (told.value(n).value for n in ("thrust_factor", "drag_factor"))
    if pull is not None:
        design = dataclasses.replace(design, drive=dataclasses.replace(design.drive, pull_factor=round(design.drive.pull_factor * pull, 3)))
    return design if drag is None else dataclasses.replace(design, drag_factor=round(design.drag_factor * drag, 3))


def _inside(craft: Craft, x: Metres, y: Metres) -> bool:
    low, high = craft.hull.mesh.bounds
    return bool(low[0] <= x <= high[0] and low[1] <= y <= high[1])


def _redistributed(craft: Craft, mass: Kilograms, lcg: Metres, tcg: Metres) -> tuple[Design, Finding]:
    corrected, unsure, factor = listing.factored(craft, mass)
    changed = Craft(corrected)
    items, total = changed.items, changed.total.mass
    have_x, have_y, _ = changed.total.centre
    need = (total * (lcg - have_x), total * (tcg - have_y))
    movable = [k for k, w in enumerate(items) if not w.fixed and w.mass_kg > 0]
    loose = [k for k in movable if k in unsure] or movable
    one_by_one = [[k] for k in sorted(loose, key=lambda k: -items[k].half_width)]
    values: dict[str, float | str] = {"factor": factor, "short": lcg - have_x}
    for lines in (*one_by_one, loose):
        moved = math.fsum(items[k].mass_kg for k in lines)
        if not moved:
            continue
        dx, dy = need[0] / moved, need[1] / moved
        if not all(_inside(craft, items[k].at_m[0] + dx, items[k].at_m[1] + dy) for k in lines):
            continue
        for k in lines:
            x, y, z = items[k].at_m
            corrected = listing.put(Craft(corrected), k, _spot(x + dx, y + dy, z), alone=True)
        values |= {"name": items[lines[0]].name if len(lines) == 1 else "all that was not weighed", "shift": dx}
        text = "What was not weighed is taken as {factor:percent} of its listed mass, and {name} as {shift:fore_aft} of its listed place."
        return corrected, Finding(
            "fixes.redistributed", "near", "The list is corrected to the trial", text, source=MECHANICS, values=values
        )
    text = (
        "What was not weighed is taken as {factor:percent} of its listed mass. Its centre would have to lie {short:fore_aft}, which no "
        "listed weight can do within the boat: read the drafts and the marks again."
    )
    return corrected, Finding("fixes.unexplained", "near", "The list does not explain the trial", text, source=MECHANICS, values=values)


def _spot(x: Metres, y: Metres, z: Metres) -> Point:
    """A place to a thousandth of a millimetre: no builder sets a weight finer, and the file stays readable."""
    return round(x, 6) + 0.0, round(y, 6) + 0.0, round(z, 6) + 0.0


def _candidate(base: Craft, code: str, way: Callable[[], Way], amount: Callable[[Way], float]) -> Candidate:
    """A change solved on the boat as found, and how the boat floats with it; or why it has no answer."""
    row = CHANGES[code]
    name = f"fix.{FIXES[code]}"
    try:
        found = way()
        much = amount(found)
    except NoWay as no:
        title = NO_ANSWER_TITLES.get(code, row.title) if no.values else row.title
        return _none(name, title, no.sentence, no.values)
    craft = Craft(found.make(much))
    title, values = found.title(much, craft)
    words, more = found.work(much, craft)
    work = Finding(name, "note", words, "", source=COMMON_PRACTICE, values=more)
    outcome = outcome_of(craft)
    if outcome is None:
        return _none(name, title, "With it, the boat sinks.", values, work)
    return Candidate(Solved(name, Finding(name, "note", title, "", source=MECHANICS, values=values), work, craft.design), outcome)


def _move(base: Craft, item: int | None) -> Candidate:
    items = base.items
    if item is not None and (not 0 <= item < len(items) or items[item].mass_kg <= 0 or items[item].fixed):
        raise InvalidInput("item", "Choose one of the weights aboard that can be moved.")
    return _candidate(base, "move", lambda: level.way_of(base, item), lambda way: way.high)


def _ballast(base: Craft, x: Metres | None) -> Candidate:
    return _candidate(base, "ballast_at", lambda: ballast_at.way_of(base, x), lambda way: way.high)


def _scale(base: Craft) -> Candidate:
    asked = limit_always(base.design.brief, "freeboard")

    def margin(craft: Craft) -> Ratio:
        freeboard = Figures(craft)["freeboard_min"]
        return -math.inf if freeboard is None else asked.spare(freeboard)

    def amount(way: Way) -> float:
        if margin(base) >= 0:
            raise NoWay("Freeboard is already met; a larger hull would only weigh more.")
        found = least(way, margin, close=1e-9)
        if found.amount is None:
            raise NoWay("Even twice as large it misses the freeboard asked for; lighten or level it first.")
        return found.amount

    return _candidate(base, "scale", lambda: CHANGES["scale"].way(base), amount)


def _none(code: str, title: str, sentence: str, values: Values, work: Finding | None = None) -> Candidate:
    why = Finding(
        "fix.no_answer", "note", "No answer", sentence, source=BRIEF, values=values, remedies=(Remedy("Change the brief", "brief"),)
    )
    said = Finding(code, "note", title, "", source=MECHANICS, values=values)
    return Candidate(
        Solved(code=code, title=said, work=work or Finding(code, "note", "", "", source=COMMON_PRACTICE), design=None, why_not=why), None
    )
