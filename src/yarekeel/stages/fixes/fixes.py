"""Fixes: after a trial, each candidate solved on the boat as found, and priced."""

import dataclasses
import math
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.hydrostatics.afloat import level_centre
from yarekeel.core.propulsion.drive import drive_sums
from yarekeel.core.quantities import Kilograms, Metres, Point, Radians, Ratio
from yarekeel.core.sources import BRIEF, MECHANICS
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.resizing import scaled
from yarekeel.stages.trials.trials import FloatTest, explanation_of

MOST_SCALE: Ratio = 2.0
"""A hull twice as long is another boat."""
BALLAST_HEIGHT: Ratio = 0.1
"""Of the depth: ballast lies on the bottom."""


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a candidate floats like. ``misses`` names what of the brief still fails, empty when it all holds."""

    mass: Kilograms
    trim: Radians
    heel: Radians
    freeboard: Metres
    gm: Metres
    draft: Metres
    thrust_to_weight: Ratio
    misses: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Candidate:
    """One fix. ``design`` and ``outcome`` are None when it has no answer, and ``why_not`` says why."""

    code: str
    title: Finding
    work: str
    design: Design | None
    outcome: Outcome | None
    why_not: Finding | None = None


@dataclass(frozen=True, slots=True)
class FixesAssessment:
    """The boat as found (its list corrected by the trial), how it floats, and the candidates."""

    as_found: Design
    correction: Finding
    now: Outcome | None
    candidates: tuple[Candidate, ...]


def assess(craft: Craft, test: FloatTest, item: int | None = None, ballast_x: Metres | None = None) -> FixesAssessment:
    """Correct the list by the trial, then solve and price each candidate.

    ``item`` is the weight to move (the best loose one by default), ``ballast_x`` where ballast may go (the end that rides high).
    """
    found, correction = as_found(craft, test)
    base = Craft(found)
    now = outcome_of(base)
    return FixesAssessment(found, correction, now, (_move(base, item), _ballast(base, ballast_x), _scale(base)))


def as_found(craft: Craft, test: FloatTest) -> tuple[Design, Finding]:
    """The design with its list corrected to the mass and centre that the trial found.

    Mass missing from the list becomes an item of its own where the moments put it, if that is inside the boat. Otherwise
    the items not weighed are scaled by one factor and the one least sure is moved, which gives the same two sums.
    """
    design, total = craft.design, craft.total
    explained = explanation_of(craft, test)
    if explained is None:
        mass = test.mass_kg or total.mass
        lcg, tcg = total.centre[0], total.centre[1]
    else:
        mass, lcg, tcg = explained.mass, explained.lcg, explained.tcg
    extra = mass - total.mass
    if abs(extra) < 1e-4 * total.mass and abs(lcg - total.centre[0]) < 1e-4:
        return design, Finding(
            "fixes.as_listed", "holds", "The list stands", "The trial agrees with the list; nothing is corrected.", MECHANICS
        )
    low, high = craft.hull.mesh.bounds
    if extra > 0:
        x = (mass * lcg - total.mass * total.centre[0]) / extra
        y = (mass * tcg - total.mass * total.centre[1]) / extra
        if low[0] <= x <= high[0] and low[1] <= y <= high[1]:
            item = WeightItem("Unaccounted, by trial", round(extra, 6), _spot(x, y, total.centre[2]), "guessed", 0.2)
            return dataclasses.replace(design, weights=(*design.weights, item)), Finding(
                "fixes.unaccounted",
                "near",
                "{extra:mass} is unaccounted for",
                "The drafts put it {x:length} from aft; it is carried as an item of its own in what follows.",
                MECHANICS,
                {"extra": extra, "x": x},
            )
    return _redistributed(craft, mass, lcg, tcg)


def _redistributed(craft: Craft, mass: Kilograms, lcg: Metres, tcg: Metres) -> tuple[Design, Finding]:
    corrected, unsure, factor = listing.factored(craft, mass)
    changed = Craft(corrected)
    items, total = changed.items, changed.total.mass
    movable = [k for k, w in enumerate(items) if not w.fixed and w.mass_kg > 0]
    at = max([k for k in movable if k in unsure] or movable or unsure, key=lambda k: items[k].half_width)
    have_x, have_y, _ = changed.total.centre
    dx, dy = total * (lcg - have_x) / items[at].mass_kg, total * (tcg - have_y) / items[at].mass_kg
    x, y, z = items[at].at_m
    if movable:
        corrected = listing.put(changed, at, _spot(x + dx, y + dy, z), alone=True)
    finding = Finding(
        "fixes.redistributed",
        "near",
        "The list is corrected to the trial",
        "What was not weighed is taken as {factor:percent} of its listed mass, and {name} as {shift:fore_aft} of its listed place.",
        MECHANICS,
        {"factor": factor, "name": items[at].name, "shift": dx},
    )
    return corrected, finding


def _spot(x: Metres, y: Metres, z: Metres) -> Point:
    """A place to a thousandth of a millimetre: no builder sets a weight finer, and the file stays readable."""
    return round(x, 6) + 0.0, round(y, 6) + 0.0, round(z, 6) + 0.0


def outcome_of(craft: Craft) -> Outcome | None:
    """How a design floats against the brief; None when it sinks."""
    total, brief = craft.total, craft.design.brief
    try:
        boat = craft.rest()
    except NoRest:
        return None
    ratio = drive_sums(craft.design.drive, total.mass).thrust_to_weight
    allowed = math.radians(brief.allowed_trim_deg)
    checks = (
        ("freeboard", boat.freeboard >= brief.least_freeboard_m),
        ("trim", abs(boat.attitude.trim) <= allowed),
        ("heel", abs(boat.attitude.heel) <= allowed),
        ("GM", boat.gm_transverse >= brief.least_gm_m),
        ("target mass", total.mass <= brief.target_mass_kg),
        ("thrust to weight", not craft.design.drive.motors or ratio >= brief.thrust_to_weight),
    )
    middle = (craft.marks.bow_x_m + craft.marks.stern_x_m) / 2
    draft = -boat.attitude.height_of((middle, 0.0, 0.0))
    return Outcome(
        mass=total.mass,
        trim=boat.attitude.trim,
        heel=boat.attitude.heel,
        freeboard=boat.freeboard,
        gm=boat.gm_transverse,
        draft=draft,
        thrust_to_weight=ratio,
        misses=tuple(name for name, good in checks if not good),
    )


def _title(code: str, title: str, values: dict[str, float | str]) -> Finding:
    return Finding(code, "note", title, "", MECHANICS, values)


def _move(base: Craft, item: int | None) -> Candidate:
    code, items = "fix.move", base.items
    if item is None:
        loose = [k for k, w in enumerate(items) if not w.structure and not w.fixed and w.mass_kg > 0]
        low, high = base.hull.mesh.bounds
        moves = [afloat.level_move(base, k) for k in loose]
        inside = [m for m in moves if low[0] <= items[m.index].at_m[0] + m.forward <= high[0]]
        if not inside:
            return Candidate(
                code,
                _title(code, "Move a weight", {}),
                "",
                None,
                None,
                _why("No loose weight can be moved far enough inside the boat; add ballast or reshape an end."),
            )
        move = min(inside, key=lambda m: abs(m.forward))
    else:
        if not 0 <= item < len(items) or items[item].mass_kg <= 0 or items[item].fixed:
            raise InvalidInput("item", "Choose one of the weights aboard that can be moved.")
        move = afloat.level_move(base, item)
    x, y, z = items[move.index].at_m
    to = _spot(x + move.forward, y + move.to_port, z)
    low, high = base.hull.mesh.bounds
    if not (low[0] <= to[0] <= high[0] and low[1] <= to[1] <= high[1]):
        return Candidate(
            code,
            _title(code, "Move {name}", {"name": move.name}),
            "",
            None,
            None,
            _why("It would have to go {by:fore_aft}, which is outside the boat.", {"by": move.forward}),
        )
    design = listing.put(base, move.index, to, alone=True)
    title = _title(code, "{name} {by:fore_aft}", {"name": move.name, "by": move.forward})
    return _priced(base, code, title, "free: shift and strap down", design)


def _ballast(base: Craft, x: Metres | None) -> Candidate:
    code = "fix.ballast"
    low, high = base.hull.mesh.bounds
    if x is None:
        total = base.total
        stern_light = total.centre[0] > level_centre(base.kernel, total.mass / base.density)[0]
        x = float(low[0] + (0.05 if stern_light else 0.85) * (high[0] - low[0]))
    title_values: dict[str, float | str] = {"x": x}
    mass = afloat.ballast_to_level(base, x)
    if mass is None:
        return Candidate(
            code,
            _title(code, "Ballast {x:length} from aft", title_values),
            "",
            None,
            None,
            _why("No mass there brings it level: that end already rides low."),
        )
    z = float(low[2] + BALLAST_HEIGHT * (high[2] - low[2]))
    item = WeightItem("Ballast", round(mass, 6), _spot(x, 0.0, z), "weighed", group="ballast")
    design = dataclasses.replace(base.design, weights=(*base.design.weights, item))
    return _priced(
        base,
        code,
        _title(code, "{mass:mass} ballast {x:length} from aft", title_values | {"mass": mass}),
        "lead or shot, fixed low",
        design,
    )


def _scale(base: Craft) -> Candidate:
    code = "fix.scale"
    plain = _title(code, "A larger hull", {})
    asked = base.design.brief.least_freeboard_m

    def freeboard(factor: Ratio) -> Metres:
        try:
            outcome = outcome_of(Craft(scaled(base.design, factor)))
        except InvalidInput:
            return -math.inf
        return outcome.freeboard if outcome else -math.inf

    if freeboard(1.0) >= asked:
        return Candidate(code, plain, "", None, None, _why("Freeboard is already met; a larger hull would only weigh more."))
    low, high = 1.0, MOST_SCALE
    if freeboard(high) < asked:
        return Candidate(
            code, plain, "", None, None, _why("Even twice as large it misses the freeboard asked for; lighten or level it first.")
        )
    for _ in range(22):
        middle = (low + high) / 2
        low, high = (low, middle) if freeboard(middle) >= asked else (middle, high)
    title = _title(code, "Hull {by:percent1} larger, every length", {"by": high - 1})
    return _priced(base, code, title, "a new hull; its skin grows with the area", scaled(base.design, high))


def _why(sentence: str, values: dict[str, float | str] | None = None) -> Finding:
    return Finding("fix.no_answer", "note", "No answer", sentence, BRIEF, values or {}, (Remedy("Change the brief", "brief"),))


def _priced(base: Craft, code: str, title: Finding, work: str, design: Design) -> Candidate:
    outcome = outcome_of(Craft(design))
    if outcome is None:
        return Candidate(code, title, work, None, None, _why("With it, the boat sinks."))
    return Candidate(code, title, work, design, outcome)
