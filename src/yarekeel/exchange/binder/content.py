"""What the binder holds: a boat's brief, lines, weights, how it floats, stands, is driven and runs, its trials, fixes and life, as headed
blocks of words, figures, tables and drawings; a PDF and a page are made of the same."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from yarekeel.core.findings import Finding
from yarekeel.drawing import lines, righting, tank
from yarekeel.drawing.plots import Axis, Trace, plot
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.faults import noted_fault
from yarekeel.stages.design.limits import asked_of, word_of
from yarekeel.stages.drive import match
from yarekeel.stages.fixes import columns, fixes, history
from yarekeel.stages.fixes.columns import Priced, priced
from yarekeel.stages.fixes.expected import came_of
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import judge
from yarekeel.stages.judging.report import report
from yarekeel.stages.shape import shape
from yarekeel.stages.trials import trials
from yarekeel.stages.trials.trials import SYMPTOMS, FloatTest
from yarekeel.units import System, fill, said, say

STAGES = {"shape": "Lines", "weights": "Weights", "float": "Afloat", "stability": "Stability", "drive": "Drive", "underway": "Under way"}
MOST_WEIGHTS = 400
"""Lines of the list that are printed."""
MOST_PHOTOS = 24


@dataclass(frozen=True, slots=True)
class Table:
    """Heads and rows; ``words`` are the numbers of the columns that hold words, ``tones`` of a row's last cell."""

    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    words: tuple[int, ...] = (0,)


@dataclass(frozen=True, slots=True)
class Picture:
    """A drawing of the program's own, with what it shows."""

    svg: str
    words: str


@dataclass(frozen=True, slots=True)
class Photo:
    """A photo by its name in the yard."""

    name: str
    words: str


@dataclass(frozen=True, slots=True)
class Verdict:
    """A finding in words."""

    severity: str
    title: str
    sentence: str
    source: str


Block = Table | Picture | Photo | Verdict | str
"""A string is a paragraph."""


@dataclass(frozen=True, slots=True)
class Section:
    """A chapter: its title and its blocks."""

    title: str
    blocks: tuple[Block, ...]


@dataclass(frozen=True)
class Told:
    """A revision as it is told of: its letter, why it is, the boat, its trials, and what was expected of it (None for nothing)."""

    letter: str
    note: str
    design: Design
    tests: tuple[FloatTest, ...] = ()
    expected: Mapping[str, Any] | None = None


@dataclass(frozen=True)
class Bound:
    """What is bound: the boat's revisions in order, the letter of the one that is described, the reader's units, the day."""

    revisions: tuple[Told, ...]
    letter: str
    system: System
    day: str
    head: tuple[tuple[str, str], ...] = field(default=())

    @property
    def chosen(self) -> Told:
        """The revision described."""
        return next(r for r in self.revisions if r.letter == self.letter)


def bound(revisions: Sequence[Told], letter: str, system: System, day: str) -> tuple[Bound, tuple[Section, ...]]:
    """The binder of a boat at a revision. A chapter that cannot be worked out says why."""
    told = next(r for r in revisions if r.letter == letter)
    craft = Craft(told.design)
    water = told.design.water
    head = (
        ("Boat", told.design.name),
        ("Revision", f"{letter}{f', {told.note}' if told.note else ''}"),
        ("Printed", day),
        ("Load", told.design.case or "as listed"),
        ("Water", f"{water.kind}, {say(water.temperature_c, 'temperature', system)}"),
    )
    b = Bound(tuple(revisions), letter, system, day, head)
    makers: tuple[tuple[str, Callable[[Bound, Craft], list[Block]]], ...] = (
        ("Brief", _brief),
        *((title, _stage(code)) for code, title in STAGES.items()),
        ("Trials", _trials),
        ("Fixes", _fixes),
        ("History", _history),
        ("Cautions", _cautions),
    )
    return b, tuple(Section(title, tuple(_guarded(make, b, craft))) for title, make in makers)


def _top_speed(m: match.Match, system: System) -> tuple[str, str]:
    speed = say(m.top.speed, "speed", system)
    if m.top_is == "balance":
        low, high = (say(v, "speed", system) if math.isfinite(v) else "" for v in (m.top_low, m.top_high))
        return "Top speed", f"{speed} ({low} to {high})" if high else f"{speed} (at least {low})"
    return "Top speed", f"more than {speed}: no law here holds beyond" if m.top_is == "beyond_law" else f"none: balanced up to {speed} only"


def _guarded(make: Callable[[Bound, Craft], list[Block]], b: Bound, craft: Craft) -> list[Block]:
    try:
        return make(b, craft)
    except Exception as error:  # whatever is kept of a boat, the rest of it is bound
        found = noted_fault(error)
        return [f"This cannot be worked out. {fill(found.sentence, found.values, b.system)}"]


def _brief(b: Bound, craft: Craft) -> list[Block]:
    figures = Figures(craft)
    limits = asked_of(craft.design.brief)
    judged = judge(figures, limits, unsure=True)
    words = {"holds": "holds", "near": "near", "fails": "fails", "note": ""}
    rows = []
    for row in judged.limits:
        value, half = judged.values.get(row.code), judged.unsure.get(row.code)
        has = "none" if value is None else say(value, row.kind, b.system) + (f" ±{say(half, row.kind, b.system)}" if half else "")
        asked = f"{'at least' if row.at_least else 'at most'} {say(row.asked, row.kind, b.system)}"
        rows.append((row.title, asked, has, words[judged.standing(row.code)]))
    use = f"For {'people' if craft.design.brief.kind == 'people' else 'a model'}."
    return [use, Table(("Limit", "Asked", "Has", "It"), tuple(rows), (0, 3))]


def _stage(code: str) -> Callable[[Bound, Craft], list[Block]]:
    def make(b: Bound, craft: Craft) -> list[Block]:
        found = report(craft, code)[0]
        rows = tuple((_label(row.name), say(value, _kind(row.kind, value), b.system)) for row, value in found.figures if value is not None)
        out: list[Block] = list(PICTURES[code](b, craft) if code in PICTURES else [])
        if code == "weights":
            out.append(_weights(b, craft))
        if rows:
            out.append(Table(("Figure", "Value"), rows))
        return [*out, *_verdicts(b, [f for f in found.findings if not f.code.startswith("caution.")])]

    return make


LONG = 600.0
"""s, from which a time is said in minutes."""


def _kind(kind: str, value: float) -> str:
    return "minutes" if kind == "seconds" and value >= LONG else kind


TERMS = ("lcg", "tcg", "vcg", "gm", "kb", "bm", "lcb", "vcb", "tcb")
LABELS = {row.name: row.label for row in history.FIGURES}


def _label(name: str) -> str:
    if name.startswith("lean_"):
        return f"Lean, {word_of('test.' + name.removeprefix('lean_'))}"
    label = LABELS.get(name) or name.replace("_", " ")
    return label.upper() if name in TERMS else label[:1].upper() + label[1:]


def _verdicts(b: Bound, findings: Sequence[Finding]) -> list[Block]:
    out: list[Block] = []
    for f in findings:
        w = said(f, b.system)
        out.append(Verdict(w.severity, w.title, w.sentence, w.source))
    return out


def _lines(b: Bound, craft: Craft) -> list[Block]:
    hull, length = craft.shown, b.system.length
    found = shape.assess(craft)
    drawing = lines.draw(
        hull,
        lines.usual_grid(hull),
        lambda v, kind: say(v, kind, b.system),
        form=found.form,
        floating=found.attitude if found.afloat else None,
        ghost=None,
        unit=(length.si, length.label, length.decimals),
        openings=craft.openings,
    )
    return [Picture(drawing, "Lines: profile, plan, body plan, section areas")]


def _afloat(b: Bound, craft: Craft) -> list[Block]:
    rest, marks = Figures(craft).rest, craft.marks
    drawing = tank.draw(
        tank.Tank(craft.hull, craft.items, rest, marks.bow_x_m, marks.stern_x_m, None, lambda v, kind: say(v, kind, b.system))
    )
    return [Picture(drawing, "Afloat, from starboard and from astern")]


def _stability(b: Bound, craft: Craft) -> list[Block]:
    found = Figures(craft).stability
    if found.worse is None:
        return []
    curve = found.worse
    wet = found.water_in(curve.side)
    drawing = righting.draw(
        [righting.Curve("this boat", curve)],
        (),
        abs(wet.heel) if wet else None,
        lambda v, kind: say(v, kind, b.system),
        b.system.length.label,
        b.system.length.si,
    )
    return [Picture(drawing, "Righting arm over the lean, to the worse side")]


def _running(b: Bound, craft: Craft) -> list[Block]:
    m = match.assess(craft) if craft.design.drive.motors else None
    if m is None:
        return []
    v = m.speeds.tolist()
    drawing = plot(
        [Trace(v, m.thrust.tolist(), "thrust", "soft"), Trace(v, m.drag.tolist(), "drag", "warm")],
        Axis("m/s", 1.0, 0.0),
        Axis("N", 1.0, 0.0),
        "Thrust and drag over speed",
        height=280.0,
    )
    rows = [
        _top_speed(m, b.system),
        ("Current flat out", say(m.top.current, "current", b.system)),
    ]
    if m.top.time < float("inf"):
        rows += [
            ("Run time flat out", say(m.top.time, "minutes", b.system)),
            ("Goes farthest", say(m.economical.distance, "distance", b.system)),
        ]
    return [Picture(drawing, "Thrust and drag over speed"), Table(("Figure", "Value"), tuple(rows))]


PICTURES: Mapping[str, Callable[[Bound, Craft], list[Block]]] = {
    "shape": _lines,
    "float": _afloat,
    "stability": _stability,
    "underway": _running,
}


def _weights(b: Bound, craft: Craft) -> Table:
    rows = [
        (i.name, say(i.mass_kg, "mass", b.system), *(say(v, "length", b.system) for v in i.at_m), i.known)
        for i in craft.items[:MOST_WEIGHTS]
        if i.mass_kg > 0
    ]
    t = craft.total
    total = ("Together", f"{say(t.mass, 'mass', b.system)} ±{say(t.half_width, 'mass', b.system)}")
    rows.append((*total, *(say(v, "length", b.system) for v in t.centre), ""))
    return Table(("Weight", "Mass", "From aft", "To port", "Up", "Known"), tuple(rows), (0, 5))


def _trials(b: Bound, craft: Craft) -> list[Block]:
    out: list[Block] = []
    photos = 0
    for revision in b.revisions:
        for test in revision.tests:
            out.append(f"Revision {revision.letter}, {test.date}{', ' + test.place if test.place else ''}. {test.notes}".strip())
            found = trials.assess(Craft(revision.design), test)
            rows = tuple(
                (
                    r.name,
                    f"{say(r.predicted, r.kind, b.system)} ±{_width(r.half_width, r.kind, b)}",
                    say(r.measured, r.kind, b.system),
                    "inside" if r.inside else "outside",
                )
                for r in found.rows
            )
            if rows:
                out.append(Table(("Reading", "Predicted", "Measured", "The band"), rows, (0, 3)))
            if test.seen:
                out.append("Seen: " + ", ".join(SYMPTOMS[c] for c in test.seen) + ".")
            for name in test.photos[: MOST_PHOTOS - photos]:
                photos += 1
                out.append(Photo(name, f"Photo of {test.date}"))
    return out or ["No trial yet."]


def _width(half: float, kind: str, b: Bound) -> str:
    return say(half, "angle" if kind in ("heel", "trim") else kind, b.system)


def _fixes(b: Bound, craft: Craft) -> list[Block]:
    told = b.chosen
    out: list[Block] = []
    if told.expected is not None:
        rows, verdict = came_of(told.expected, craft, told.tests[-1] if told.tests else None)
        out.append(f"This revision comes from a fix: {told.expected['what']}. What it was to do: {verdict}.")
        out.append(
            Table(
                ("Figure", "Expected", "Measured"),
                tuple(
                    (
                        r.name,
                        f"{say(r.expected, r.kind, b.system)} ±{_width(r.band, r.kind, b)}",
                        "–" if r.measured is None else say(r.measured, r.kind, b.system),
                    )
                    for r in rows
                ),
            )
        )
    if told.tests:
        out += _candidates(b, craft, told.tests[-1])
    return out or ["No trial on this revision to mend from."]


def _candidates(b: Bound, craft: Craft, test: FloatTest) -> list[Block]:
    start = fixes.assess(craft, test)
    out: list[Block] = []
    for j in start.diagnosis.causes if start.diagnosis else ():
        if j.state in ("supported", "possible"):
            w = said(j.finding, b.system)
            out.append(Verdict("near" if j.state == "possible" else "fails", f"{j.cause.title} ({j.state})", w.sentence, ""))
    shown = columns.of_group("afloat")

    def row(name: str, p: Priced) -> tuple[str, ...]:
        return (name, *(_cell(c, p, b) for c in shown), ", ".join(p.misses) or "nothing")

    rows = [row("As found by the trial", priced(start.base))] if start.now is not None else []
    rows += [
        row(said(c.solved.title, b.system).title, priced(c.craft, c.takes)) for c in start.candidates if c.craft is not None and c.outcome
    ]
    return [*out, Table(("Fix", *(c.title for c in shown), "Misses"), tuple(rows), (0, len(shown) + 1))]


def _cell(column: columns.Column, p: Priced, b: Bound) -> str:
    value = column.of(p)
    return "–" if value is None else say(value, column.kind, b.system)


def _history(b: Bound, craft: Craft) -> list[Block]:
    rows = []
    for r in b.revisions:
        told = history.predicted(Craft(r.design))
        rows.append(
            (r.letter, r.note or "first draft", *(say(told[f.name][0], f.kind, b.system) if f.name in told else "–" for f in SHOWN))
        )
        for test in r.tests:
            read = history.measured(Craft(r.design), test)
            rows.append(("", f"trial of {test.date}", *(say(read[f.name], f.kind, b.system) if f.name in read else "" for f in SHOWN)))
    return [Table(("Revision", "What", *(f.label for f in SHOWN)), tuple(rows), (0, 1))]


SHOWN = tuple(f for f in history.FIGURES if f.name in ("mass", "trim", "freeboard", "gm"))


def _cautions(b: Bound, craft: Craft) -> list[Block]:
    out: list[Block] = []
    seen: set[str] = set()
    for stage in report(craft):
        for f in stage.findings:
            if f.code.startswith("caution.") and f.code not in seen:
                seen.add(f.code)
                w = said(f, b.system)
                out.append(Verdict("note", w.title, w.sentence, w.source))
    text = (
        "These are sums on a builder's own figures, and common practice where they say so. Local rules, and people licensed for it, decide."
    )
    return [*out, text]
