"""Trials: those logged, and one of them beside its prediction."""

import dataclasses
import math
from dataclasses import dataclass
from typing import Any

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.drawing.bands import Banded, bands
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.faults import lost_trial, noted_fault
from yarekeel.stages.fixes.expected import came_of
from yarekeel.stages.trials import found, trials
from yarekeel.stages.trials.found import FLOAT_ROWS, BoatFound, Row, Told
from yarekeel.stages.trials.trials import SYMPTOMS, Comparison, FloatTest
from yarekeel.store.records import Boat, TrialRecord
from yarekeel.units import WordedFinding, plain
from yarekeel.web.shared.page import Reader, craft_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.trials.plan_view import PlanCard, PlanForm, cards_of, last_checks, loads_of, plan_of

PARTS = ("live", "side")
SPAN = 3.0
"""Half widths that the strip shows to either side."""


@dataclass(frozen=True)
class Listed:
    id: int
    letter: str
    title: str
    href: str
    current: bool


@dataclass(frozen=True)
class CompareRow:
    """One reading; positions on the strip run from 0 to 100, the middle is the prediction."""

    name: str
    predicted: str
    measured: str
    difference: str
    band: str
    position: float
    band_from: float
    band_width: float
    inside: bool


@dataclass(frozen=True)
class Predicted:
    """A prediction that was kept: its course and its figures."""

    id: int
    title: str
    course: str
    facts: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class FoundRow:
    """A figure of the boat as found beside the list."""

    name: str
    listed: str
    found: str
    band: str
    away: str
    tone: str


@dataclass(frozen=True)
class ExpectedCard:
    """What the fix that this revision came from was to do, and what came of it; "" in place of what was not measured."""

    what: str
    verdict: str
    tone: str
    rows: tuple[tuple[str, str, str, str, str], ...]
    """Figure, expected with its band, measured, met or not, and its tone."""
    job: dict[str, Any] | None = None
    """What it takes: to shop and to work by."""


@dataclass(frozen=True)
class TrialsView:
    listed: tuple[Listed, ...]
    number: int
    record: int
    letter: str
    title: str
    facts: tuple[tuple[str, str], ...]
    rows: tuple[CompareRow, ...]
    seen: tuple[str, ...]
    notes: str
    findings: tuple[WordedFinding, ...]
    fixes_href: str
    new_href: str
    told: tuple[FoundRow, ...] = ()
    more: tuple[CompareRow, ...] = ()
    predicted: tuple[Predicted, ...] = ()
    cards: tuple[PlanCard, ...] = ()
    loads: tuple[str, ...] = ()
    plan: PlanForm = PlanForm()
    bands: Markup = Markup()
    """Predicted bands and what was measured, drawn."""
    checks: str = ""
    """The list before the launch, a line each, to be edited."""
    expected: ExpectedCard | None = None
    photos: tuple[str, ...] = ()
    struck: tuple[tuple[str, str, str], ...] = ()
    """What was struck out: what it was, as it was typed, and why it does not count."""
    sheets: tuple[tuple[str, str, str], ...] = ()
    """Title, what is on it, and address of each pond sheet."""
    lost: tuple[WordedFinding, ...] = ()
    """Trials that are kept but cannot be shown, each with why."""


def predicted_of(asked: PageRequest) -> tuple[Predicted, ...]:
    """The predictions of the revision in the reader's units."""
    say, out = asked.reader.say, []
    rows = (
        ("Fastest", "fastest_ms", "speed"),
        ("Gets out to", "farthest_m", "room"),
        ("Runs", "distance_m", "room"),
        ("Draws at most", "most_current_a", "current"),
        ("Planes after", "planes_after_s", "span"),
        ("Coasts", "coasts_m", "room"),
        ("Left in the pack", "left", "percent"),
        ("Turn back by", "back_by_m", "room"),
    )
    for p in asked.predictions(asked.revision.id):
        if p.kind != "run":
            continue
        facts = [(label, say(p.figures[name], kind)) for label, name, kind in rows if p.figures.get(name) is not None]
        band = p.figures.get("fastest_band_ms")
        if band and facts:
            facts[0] = (facts[0][0], f"{facts[0][1]} ±{say(band, 'speed')}")
        out.append(Predicted(p.id, f"Run of {p.date}", str(p.figures.get("course", "")), tuple(facts)))
    return tuple(out)


VERDICTS = {
    "met": ("met", "holds"),
    "partly": ("partly met", "near"),
    "not": ("not met", "fails"),
    "not measured": ("not measured yet", "note"),
}


def expected_of(asked: PageRequest, record: TrialRecord | None) -> ExpectedCard | None:
    """What was expected of the fix that a revision came from, beside its trial; None where it came from none."""
    letter = record.letter if record else asked.revision.letter
    revision = next((r for r in asked.boat.revisions if r.letter == letter), asked.revision)
    kept = [p for p in asked.predictions(revision.id) if p.kind == "expected"]
    if not kept:
        return None
    figures, say = kept[-1].figures, asked.reader.say
    rows, verdict = came_of(figures, craft_of(revision.design), record.test if record else None)

    def words(value: float, kind: str, *, band: bool = False) -> str:
        if kind in ("trim", "heel"):
            return f"{plain(math.degrees(value), 1)}°" if band else say(value, kind)
        return say(value, kind)

    lines = []
    for r in rows:
        met = r.is_met
        measured = "" if r.measured is None else words(r.measured, r.kind)
        word, tone = ("", "note") if met is None else ("met", "holds") if met else ("not met", "fails")
        lines.append((r.name, f"{words(r.expected, r.kind)} ±{words(r.band, r.kind, band=True)}", measured, word, tone))
    said, tone = VERDICTS[verdict]
    return ExpectedCard(str(figures["what"]), said, tone, tuple(lines), figures.get("job"))


def bands_of(as_found: BoatFound | None) -> Markup:
    """Every reading beside its prediction, in half widths of the predicted band."""
    rows = [r for r in as_found.rows if r.band > 0] if as_found else []
    tones = {"inside": "holds", "near": "near", "outside": "fails"}
    drawn = [Banded(r.name, (r.measured - r.predicted) / r.band, r.half / r.band, tones[r.where], r.surprise) for r in rows]
    return Markup(bands(drawn, "Measured against predicted")) if drawn else Markup()


def sheets_of(asked: PageRequest) -> tuple[tuple[str, str, str], ...]:
    """The pond sheets of the revision."""
    return tuple(
        (
            f"{s.date}{', ' + s.place if s.place else ''}",
            f"{s.entries} entr{'y' if s.entries == 1 else 'ies'}",
            f"/boats/{s.boat_id}/{asked.revision.letter}/pond/{s.code}",
        )
        for s in asked.sheets(asked.revision.id)
    )


def numbered(boat: Boat) -> list[TrialRecord]:
    """All trials of a boat in the order they were logged."""
    return sorted((t for r in boat.revisions for t in r.trials), key=lambda t: t.id)


def view(asked: PageRequest) -> TrialsView:
    """The trial asked for, else the latest on this revision, else the latest of all; an empty list when there is none."""
    records = numbered(asked.boat)
    wanted = asked.ask.get("trial", "")
    mine = [t for t in records if t.letter == asked.revision.letter]
    latest = mine[-1] if mine and not wanted else None
    record = next((t for t in records if str(t.id) == wanted), latest)
    base = f"/boats/{asked.boat.id}"
    listed = tuple(
        Listed(
            id=t.id,
            letter=t.letter,
            title=f"{t.test.date}{', ' + t.test.place if t.test.place else ''}",
            href=f"{base}/{t.letter}/trials?trial={t.id}",
            current=t is record,
        )
        for t in records
    )
    new = f"{base}/{asked.revision.letter}/trials/new"
    lost = tuple(lost_trial(why) for r in asked.boat.revisions for why in r.lost_trials)
    if record is not None:
        try:
            return dataclasses.replace(_shown(asked, records, record, listed, new), lost=asked.reader.findings(lost))
        except Exception as error:  # whatever is kept of one day, the others are shown
            lost = (*lost, noted_fault(error))
    return TrialsView(
        listed=listed,
        number=0,
        record=0,
        letter=asked.revision.letter,
        title="",
        facts=(),
        rows=(),
        seen=(),
        notes="",
        findings=(),
        fixes_href="",
        new_href=new,
        predicted=predicted_of(asked),
        cards=cards_of(asked),
        sheets=sheets_of(asked),
        expected=expected_of(asked, None) if record is None else None,
        loads=loads_of(asked),
        checks=last_checks(asked),
        plan=plan_of(asked),
        lost=asked.reader.findings(lost),
    )


def _shown(asked: PageRequest, records: list[TrialRecord], record: TrialRecord, listed: tuple[Listed, ...], new: str) -> TrialsView:
    say = asked.reader.say
    design = next(r.design for r in asked.boat.revisions if r.letter == record.letter)
    test = record.test
    craft = craft_of(design)
    result = trials.assess(craft, test)
    as_found = found_of(craft, test)
    facts = [("When", test.date), ("Where", test.place or "not noted"), ("Load", test.load or "as listed")]
    if test.mass_kg is not None:
        facts.append(("Weighed in at", say(test.mass_kg, "mass")))
    if test.water_kg is not None:
        facts.append(("Water taken in", say(test.water_kg, "mass") if test.water_kg else "none"))
    facts += _day_facts(asked.reader, test)
    return TrialsView(
        listed=listed,
        number=records.index(record) + 1,
        record=record.id,
        letter=record.letter,
        title=f"Float test on revision {record.letter}",
        facts=tuple(facts),
        rows=tuple(_row(asked.reader, r) for r in result.rows),
        seen=tuple(SYMPTOMS[c] for c in test.seen),
        notes=test.notes,
        photos=test.photos,
        struck=tuple((s.what, ", ".join(v for _, v in s.typed if v), s.reason) for s in test.struck),
        findings=asked.reader.findings((*result.findings, *(as_found.findings if as_found else ()))),
        told=tuple(_told_row(asked.reader, t) for t in as_found.told) if as_found else (),
        more=tuple(_more_row(asked.reader, r) for r in as_found.rows if r.name not in FLOAT_ROWS) if as_found else (),
        fixes_href=f"/boats/{asked.boat.id}/{record.letter}/fixes?trial={record.id}",
        new_href=new,
        predicted=predicted_of(asked),
        cards=cards_of(asked),
        sheets=sheets_of(asked),
        expected=expected_of(asked, record),
        loads=loads_of(asked),
        checks=last_checks(asked),
        plan=plan_of(asked),
        bands=bands_of(as_found),
    )


def _day_facts(reader: Reader, test: FloatTest) -> list[tuple[str, str]]:
    """What the day was like, what it took from the pack, and how it was liked."""
    c, facts = test.conditions, []
    if c is not None:
        if c.wind_ms is not None:
            gusts = f", gusts {reader.say(c.gust_ms, 'speed')}" if c.gust_ms is not None else ""
            facts.append(("Wind", reader.say(c.wind_ms, "speed") + gusts))
        water = [c.surface, c.water, "" if c.water_c is None else reader.say(c.water_c, "temperature")]
        if any(water):
            facts.append(("Water", ", ".join(w for w in water if w)))
        if c.depth_m is not None:
            facts.append(("Depth", reader.say(c.depth_m, "room")))
    if test.charge_ah is not None:
        facts.append(("Charge put back", reader.say(test.charge_ah, "capacity")))
    if test.rating is not None:
        facts.append(("Liked", f"{test.rating} of 5"))
    return facts


TOLD_WORDS = {
    "mass": "Mass", "lcg": "LCG, from aft", "tcg": "TCG, to port", "vcg": "VCG, up", "thrust_factor": "Pull, of predicted",
    "drag_factor": "Drag, of predicted", "water": "Water inside", "pack_ohms": "Pack's inner resistance",
}  # fmt: skip


def found_of(craft: Craft, test: FloatTest) -> BoatFound | None:
    """The boat as found; None where nothing that was read can tell."""
    try:
        return found.assess(craft, test.readings)
    except (InvalidInput, NoRest):
        return None


def _quantity(reader: Reader, value: float, kind: str) -> str:
    if kind == "ratio":
        return f"{plain(100 * value, 0)} %"
    if kind == "degrees":
        return f"{plain(value, 1)}°"
    return f"{plain(value, 2)} s" if kind == "seconds" else reader.say(value, "length" if kind == "draft" else kind)


def _told_row(reader: Reader, t: Told) -> FoundRow:
    listed = _quantity(reader, t.listed, t.kind)
    if t.value is None:
        return FoundRow(TOLD_WORDS[t.name], listed, "nothing measured tells", "", "", "note")
    away = t.away
    return FoundRow(
        name=TOLD_WORDS[t.name],
        listed=listed,
        found=_quantity(reader, t.value, t.kind),
        band=f"±{_quantity(reader, t.half, t.kind)}",
        away="as listed" if away is None else f"{'+' if away > 0 else '−'}{_quantity(reader, abs(away), t.kind)}",
        tone=t.severity,
    )


def _more_row(reader: Reader, r: Row) -> CompareRow:
    offset = (r.measured - r.predicted) / max(math.hypot(r.band, r.half), 1e-12)
    shown = max(-SPAN, min(SPAN, offset))
    sign = "+" if r.measured > r.predicted else "−"
    return CompareRow(
        name=r.name,
        predicted=f"{_quantity(reader, r.predicted, r.kind)} ±{_quantity(reader, r.band, r.kind)}",
        measured=_quantity(reader, r.measured, r.kind),
        difference=f"{sign}{_quantity(reader, abs(r.measured - r.predicted), r.kind)}",
        band=f"({r.surprise})",
        position=round(50 + 50 * shown / SPAN, 1),
        band_from=round(50 - 50 / SPAN, 1),
        band_width=round(100 / SPAN, 1),
        inside=r.where == "inside",
    )


def _row(reader: Reader, row: Comparison) -> CompareRow:
    def words(value: float) -> str:
        if row.kind == "heel":
            said = reader.say(value, "heel")
            return "0.0°" if said.startswith("stands") else said.removeprefix("leans ")
        return reader.say(value, row.kind)

    change = row.measured - row.predicted
    sign = "+" if change > 0 else "−"
    size = f"{plain(abs(math.degrees(change)), 1)}°" if row.kind == "heel" else reader.say(abs(change), row.kind)
    band = f"±{plain(math.degrees(row.half_width), 1)}°" if row.kind == "heel" else f"±{reader.say(row.half_width, row.kind)}"
    offset = max(-SPAN, min(SPAN, row.offset))
    return CompareRow(
        name=row.name,
        predicted=words(row.predicted),
        measured=words(row.measured),
        difference="none" if size.startswith(("0.0°", "0\N{NO-BREAK SPACE}")) else f"{sign}{size}",
        band=band,
        position=round(50 + 50 * offset / SPAN, 1),
        band_from=round(50 - 50 / SPAN, 1),
        band_width=round(100 / SPAN, 1),
        inside=row.inside,
    )
