"""What the fit tells: predicted against measured, the boat as found, which reading cannot be right, and what to measure next."""

import dataclasses
import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from yarekeel.core.errors import NoRest
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Floats, Ratio
from yarekeel.core.sources import COMMON_PRACTICE, GUM
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.trials.fitting import Fit, fitted, slopes_of
from yarekeel.stages.trials.model import COVERAGE, GYRATION, THRUST, TOLD, TOUCHED, UNKNOWNS, WATER, Line, Model, lines_of
from yarekeel.stages.trials.readings import Inclining, Pull, Readings, Rolls, Run, Tilt

KINDS = {
    "mass": "mass", "lcg": "length", "tcg": "length", "vcg": "length", "thrust_factor": "ratio", "drag_factor": "ratio",
    "water": "mass", "pack_ohms": "resistance",
}  # fmt: skip
WANTED: dict[str, Ratio] = {"mass": 0.02, "lcg": 0.01, "tcg": 0.01, "vcg": 0.04, "thrust_factor": 0.05, "drag_factor": 0.10}
"""How well each is wanted (half an interval, as a share of mass, length, breadth, depth): what decides which doubt is the worst (common
practice). What else may be told is not asked for."""
THRUST_LAW, DRAG_LAW = 0.15, 0.3
"""Half the band of a drive's and a hull's laws, where nothing narrower is known."""
INCLINED, ACROSS = 0.03, 0.25
"""Of the mass, moved so far of the breadth: what an inclining test is proposed with."""
SURPRISES = ((1.0, "as expected"), (1.96, "not odd"), (2.6, "1 in 20 by chance"), (3.3, "1 in 100 by chance"), (4.0, "1 in 1000 by chance"))
FLOAT_ROWS = ("Mass", "Draft at the bow mark", "Draft at the stern mark", "Heel")
"""Readings of the float itself, which the float test judges (``trials.assess``)."""
LEAST_FACTOR: Ratio = 0.2
"""Smaller than that no factor is taken to be."""
WORTH: Ratio = 0.95
"""Of a doubt, that a measurement must bring it below to be proposed."""


@dataclass(frozen=True, slots=True)
class Row:
    """A reading: what was predicted with half its 95 % band, what was measured with its own, and how surprising that is."""

    name: str
    kind: str
    predicted: float
    band: float
    measured: float
    half: float

    @property
    def off(self) -> float:
        """How far apart, in standard deviations."""
        both = math.hypot(self.band, self.half) / COVERAGE
        return (self.measured - self.predicted) / both if both > 0 else 0.0

    @property
    def where(self) -> str:
        """Inside its band, near it, or outside."""
        off = abs(self.off)
        return "inside" if off <= COVERAGE else "near" if off <= 1.5 * COVERAGE else "outside"

    @property
    def surprise(self) -> str:
        """In plain words."""
        off = abs(self.off)
        return next((words for most, words in SURPRISES if off <= most), "not by chance")


@dataclass(frozen=True, slots=True)
class Told:
    """An unknown as found: its value and half its interval, what was listed; None where nothing measured tells it."""

    name: str
    kind: str
    listed: float
    value: float | None
    half: float

    @property
    def away(self) -> float | None:
        """How far from the list it was found; None where nothing tells it, or the list lies within its interval."""
        off = None if self.value is None else self.value - self.listed
        return None if off is None or abs(off) <= self.half else off

    @property
    def severity(self) -> Severity:
        """As a verdict on the list: holds, near where it is off, a note where nothing tells."""
        return "note" if self.value is None else "holds" if self.away is None else "near"


@dataclass(frozen=True, slots=True)
class Next:
    """A measurement, what it needs, the doubt that it narrows most, and that doubt's half interval before and after; after for the boat
    as it is thought to be, and mostly from ``least`` to ``most`` as it turns out. A factor's doubt counts as a share of the factor."""

    words: str
    needs: str
    unknown: str
    before: float
    after: float
    least: float
    most: float


@dataclass(frozen=True, slots=True, eq=False)
class BoatFound:
    """The boat as found. ``out`` names a reading that cannot be right beside all others; the figures are then those without it."""

    fit: Fit
    rows: tuple[Row, ...]
    told: tuple[Told, ...]
    out: str
    next: Next | None
    findings: tuple[Finding, ...]

    def value(self, name: str) -> Told:
        """One of the unknowns."""
        return next(t for t in self.told if t.name == name)


@kept
def assess(craft: Craft, readings: Readings) -> BoatFound:
    """Fit the boat to its readings. Raises InvalidInput where there is nothing to go by, NoRest for a boat that does not float."""
    whole, fit, out = _fits(craft, readings)
    told = tuple(_told(fit, craft, k) for k in TOLD)
    advice = next_of(craft, readings, fit)
    rows = rows_of(craft, readings, whole)
    return BoatFound(fit, rows, told, out, advice, tuple(_findings(rows, told, out, advice)))


def _fits(craft: Craft, readings: Readings) -> tuple[Fit, Fit, str]:
    """The fit to all readings, that without the one which cannot be right beside the others, and this one's name."""
    whole = fitted(craft, readings)
    out = whole.lines[whole.out].name if whole.out is not None and len(whole.lines) > 1 else ""
    return whole, fitted(craft, readings, frozenset({whole.out})) if out and whole.out is not None else whole, out


def told_of(craft: Craft, readings: Readings) -> dict[str, Told]:
    """The unknowns by their names, without what else the readings say: quicker. Raises as ``assess`` does."""
    _, fit, _ = _fits(craft, readings)
    return {t.name: t for t in (_told(fit, craft, k) for k in TOLD)}


def _told(fit: Fit, craft: Craft, k: int) -> Told:
    listed = float(Model(craft, Readings()).listed[k])
    name = UNKNOWNS[k]
    return Told(name, KINDS[name], listed, float(fit.values[k]) if fit.is_told(k) else None, fit.half(k))


def rows_of(craft: Craft, readings: Readings, fit: Fit) -> tuple[Row, ...]:
    """Every reading beside what the list and the laws predict of it."""
    model, total = Model(craft, readings), craft.total
    known = np.array([total.half_width, *total.centre_half_width, THRUST_LAW, DRAG_LAW, THRUST_LAW])
    half = np.concatenate([known, COVERAGE * model.before[1][len(known) :]])
    half[WATER] = 0.0  # a boat is predicted dry
    rows = []
    for line, slopes in zip(fit.lines, fit.slopes, strict=True):
        try:
            predicted = line.shown(model, model.listed)
        except NoRest:
            continue
        band = float(np.sqrt(((slopes * half) ** 2).sum()))
        rows.append(Row(line.name, line.kind, predicted, band, line.measured, COVERAGE * line.sigma))
    return tuple(rows)


# What to measure next


@dataclass(frozen=True, slots=True)
class Candidate:
    """A measurement that could be made: words, needs, and the readings with it, made up so that the fitted boat shows them."""

    words: str
    needs: str
    with_it: Readings


def candidates(craft: Craft, r: Readings) -> tuple[Candidate, ...]:
    """What could be measured of this boat besides."""
    low, high = craft.hull.mesh.bounds
    breadth, mass, driven = float(high[1] - low[1]), craft.total.mass, bool(craft.design.drive.motors)
    inclining = Inclining(INCLINED * mass, (Tilt(ACROSS * breadth, 0.0), Tilt(-ACROSS * breadth, 0.0)))
    both = {"bow_m": r.bow_m or 0.0, "stern_m": r.stern_m or 0.0}
    ways: tuple[tuple[bool, str, str, dict[str, Any]], ...] = (
        (r.mass_kg is None, "weigh it all-up", "a scale", {"mass_kg": mass}),
        (r.bow_m is None or r.stern_m is None, "read both drafts", "marks and a ruler", both),
        (r.heel_deg is None, "read the heel", "a level or a phone", {"heel_deg": 0.0}),
        (r.rolls is None, "time ten rolls", "a stopwatch", {"rolls": Rolls(10, 10.0)}),
        (r.inclining is None, "move a weight across and read the heel", "a weight and a level", {"inclining": inclining}),
        (driven, "pull at full throttle", "a scale and a line", {"pulls": (*r.pulls, Pull(1.0, 1.0))}),
        (driven, "time a run at full throttle", "a measured way and a watch", {"runs": (*r.runs, Run(1.0, 1.0))}),
    )
    return tuple(Candidate(words, needs, dataclasses.replace(r, **more)) for lacks, words, needs, more in ways if lacks)


def next_of(craft: Craft, readings: Readings, fit: Fit) -> Next | None:
    """The measurement that narrows the worst doubt most; None where none narrows it."""
    driven = bool(craft.design.drive.motors)
    sizes = Model(craft, readings).size
    doubts = {}
    for k, name in enumerate(UNKNOWNS):
        if name in WANTED and (driven or not name.endswith("factor")):
            doubts[k] = fit.half(k) / (WANTED[name] * (float(sizes[k]) if k < 4 else 1.0))
    for worst in sorted(doubts, key=lambda k: -doubts[k]):
        if doubts[worst] <= 1:
            return None
        tried = [(after, one) for one in candidates(craft, readings) if (after := _after(craft, readings, fit, one, worst, fit.values))]
        if not tried:
            continue
        after, best = min(tried, key=lambda pair: pair[0])
        before = doubt_of(fit.half(worst), float(fit.values[worst]), worst)
        if after < WORTH * before:
            whole = before / fit.half(worst)
            least, most = _as_it_may_be(craft, readings, fit, best, worst, after)
            return Next(best.words, best.needs, UNKNOWNS[worst], fit.half(worst), after / whole, least / whole, most / whole)
    return None


def doubt_of(half: float, value: float, unknown: int) -> float:
    """Half an interval as doubts are compared: of a factor as a share of it, since a boat that holds back twice as much is known half as
    finely by the same watch."""
    return half / max(abs(value), LEAST_FACTOR) if UNKNOWNS[unknown].endswith("factor") else half


def _as_it_may_be(craft: Craft, readings: Readings, fit: Fit, one: Candidate, unknown: int, after: float) -> tuple[float, float]:
    """The least and the most of an unknown's doubt once a measurement was made, as the boat may be within what is known: at the fitted
    boat, and at those a standard uncertainty to either side of it along the two of what the measurement hangs on that are known least."""
    known = {line.name for line in lines_of(craft, readings)}
    hangs = set[int]().union(*(TOUCHED[line.part] for line in lines_of(craft, one.with_it) if line.name not in known))
    spread = np.sqrt(np.diag(fit.covariance))
    vague = sorted(hangs & set(TOLD), key=lambda k: -spread[k] / fit.before[1][k])[:2]
    found = [after]
    for k in vague:
        for way in (-1.0, 1.0):
            u = fit.values + way * fit.covariance[:, k] / spread[k]
            u[THRUST : GYRATION + 1] = np.maximum(u[THRUST : GYRATION + 1], LEAST_FACTOR)
            there = _after(craft, readings, fit, one, unknown, u)
            found += [there] if there is not None else []
    return min(found), max(found)


def _after(craft: Craft, readings: Readings, fit: Fit, one: Candidate, unknown: int, u: Floats) -> float | None:
    """The doubt of an unknown once a measurement was made, where the boat is as ``u`` (11,) says; None where such a boat cannot show it."""
    more = one.with_it
    known = {line.name for line in lines_of(craft, readings)}
    model = Model(craft, more)
    model.holding.around = fit.around
    information = np.linalg.inv(fit.covariance)
    for line in lines_of(craft, more):
        if line.name in known:
            continue
        try:
            shown = line.shown(model, u)
            slopes = slopes_of(model, (line,), u, shows=Line.shown)[0]
        except NoRest:
            return None
        sigma = line.sigma_at(shown)
        if sigma > 0:
            information += np.outer(slopes, slopes) / sigma**2
    half = COVERAGE * math.sqrt(float(np.linalg.inv(information)[unknown, unknown]))
    return doubt_of(half, float(u[unknown]), unknown)


# In words

_WORDS = {
    "mass": "mass", "lcg": "LCG", "tcg": "TCG", "vcg": "VCG", "thrust_factor": "pull of the drive", "drag_factor": "drag",
}  # fmt: skip


def _findings(rows: tuple[Row, ...], told: tuple[Told, ...], out: str, advice: Next | None) -> list[Finding]:
    made: list[Finding] = []
    outside = [r for r in rows if r.where == "outside" and r.name not in FLOAT_ROWS]
    if outside:
        names: dict[str, float | str] = {"names": ", ".join(r.name.lower() for r in outside[:4])}
        text = "Further off than chance makes likely: {names}. The boat as found tells what would explain it."
        made.append(Finding("trial.outside", "fails", "Outside its band: {names}", text, GUM, names))
    if out:
        text = "It stands against all the others, which agree; read it again. What follows leaves it out."
        made.append(Finding("trial.misread", "near", "“{name}” cannot be right", text, GUM, {"name": out}))
    for t in told:
        if t.value is None or t.away is None or not t.name.endswith("factor"):
            continue
        values: dict[str, float | str] = {"share": t.value, "half": t.half, "what": _WORDS[t.name]}
        text = "The readings put it at {share:percent} of what was predicted, ±{half:percent}."
        title = "It {verb} than predicted"
        verb = {("thrust_factor", True): "pulls harder", ("thrust_factor", False): "pulls less"}.get(
            (t.name, t.value > 1), "holds back more" if t.value > 1 else "holds back less"
        )
        worse = (t.name == "thrust_factor") != (t.value > 1)
        code = "trial.thrust_factor" if t.name == "thrust_factor" else "trial.drag_factor"
        made.append(Finding(code, "near" if worse else "note", title, text, GUM, {**values, "verb": verb}))
    if advice is not None:
        shares = {name: v / advice.before for name, v in (("share", advice.after), ("least", advice.least), ("most", advice.most))}
        values = {"words": advice.words, "what": _WORDS[advice.unknown], "needs": advice.needs, **shares}
        text = (
            "It narrows the worst doubt, the {what}, to {share:percent} of what it is ({least:percent} to {most:percent} as it turns out). "
        )
        text += "It needs {needs}."
        made.append(Finding("trial.next", "note", "Measure next: {words}", text, COMMON_PRACTICE, values, (Remedy("Enter it", "trials"),)))
    return made
