"""Fixes: the candidates solved on the boat as the trial found it, priced side by side."""

import math
from dataclasses import dataclass

from yarekeel.stages.fixes import fixes
from yarekeel.stages.fixes.fixes import Candidate, FixesAssessment
from yarekeel.stages.judging.outcome import Outcome
from yarekeel.store.records import TrialRecord
from yarekeel.units import WordedFinding, fill, said
from yarekeel.web.shared.page import Reader, craft_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.trials.view import numbered

PARTS = ("live", "side")


@dataclass(frozen=True)
class FixLine:
    """A candidate in the table; ``code`` is empty when it cannot be chosen."""

    code: str
    title: str
    work: str
    cells: tuple[tuple[str, str], ...]
    verdict: str
    tone: str
    why_not: str


@dataclass(frozen=True)
class FixesView:
    empty: bool
    trial: int
    number: int
    letter: str
    items: tuple[tuple[int, str, bool], ...]
    ballast: str
    ballast_error: str
    lines: tuple[FixLine, ...]
    findings: tuple[WordedFinding, ...]
    new_href: str
    compare_href: str


def record_of(asked: PageRequest) -> TrialRecord | None:
    """The trial asked for, else the latest on this revision."""
    wanted = asked.ask.get("trial", "")
    on_this = [t for t in numbered(asked.boat) if t.letter == asked.revision.letter]
    return next((t for t in on_this if str(t.id) == wanted), on_this[-1] if on_this and not wanted else None)


def assessed(asked: PageRequest, record: TrialRecord) -> tuple[FixesAssessment, str]:
    """The candidates under the questions asked, and what is wrong with the ballast's place."""
    at, error = asked.length("ballast")
    item = asked.index("item", len(asked.design.weights) + 1)
    return fixes.assess(craft_of(asked.design), record.test, item, at), error


def view(asked: PageRequest) -> FixesView:
    """The table; empty until a trial was run on this revision."""
    record = record_of(asked)
    base = f"/boats/{asked.boat.id}"
    new = f"{base}/{asked.revision.letter}/trials/new"
    before = asked.revision.follows
    compare = f"{base}/compare?before={before}&after={asked.revision.letter}" if before else ""
    after = asked.boat.latest.letter
    if not before and after != asked.revision.letter:
        compare = f"{base}/compare?before={asked.revision.letter}&after={after}"
    if record is None:
        return FixesView(
            empty=True,
            trial=0,
            number=0,
            letter=asked.revision.letter,
            items=(),
            ballast="",
            ballast_error="",
            lines=(),
            findings=(),
            new_href=new,
            compare_href=compare,
        )
    result, error = assessed(asked, record)
    items = craft_of(result.as_found).items
    moved = asked.index("item", len(items))
    return FixesView(
        empty=False,
        trial=record.id,
        number=numbered(asked.boat).index(record) + 1,
        letter=record.letter,
        items=tuple((k, w.name, k == moved) for k, w in enumerate(items) if w.mass_kg > 0 and not w.fixed),
        ballast=asked.ask.get("ballast", ""),
        ballast_error=error,
        lines=(_now(asked.reader, result), *(_line(asked.reader, c, result.now) for c in result.candidates)),
        findings=(said(result.correction, asked.reader.system),),
        new_href=new,
        compare_href=compare,
    )


def cells(reader: Reader, o: Outcome, now: Outcome | None) -> tuple[tuple[str, str], ...]:
    """Trim, heel, freeboard, GM, draft and mass carried, as the table's columns."""
    extra = o.mass - now.mass if now else 0.0
    carried = "0" if abs(extra) < 5e-5 else ("+" if extra > 0 else "−") + reader.say(abs(extra), "mass")
    return (
        ("Trim", reader.say(o.trim, "trim")),
        ("Heel", "upright" if abs(math.degrees(o.heel)) < 0.05 else reader.say(o.heel, "heel").removeprefix("leans ")),
        ("Freeboard", reader.say(o.freeboard, "length")),
        ("GM", reader.say(o.gm, "length")),
        ("Draft", reader.say(o.draft, "draft")),
        ("Carried ashore", carried),
    )


def _verdict(o: Outcome) -> tuple[str, str]:
    return ("misses " + ", ".join(o.misses), "fails") if o.misses else ("meets the whole brief", "holds")


def _now(reader: Reader, result: FixesAssessment) -> FixLine:
    if result.now is None:
        return FixLine(code="", title="As found", work="", cells=(), verdict="it sinks", tone="fails", why_not="As found, the boat sinks.")
    verdict, tone = _verdict(result.now)
    return FixLine(
        code="",
        title="As found by the trial",
        work="nothing changed",
        cells=cells(reader, result.now, result.now),
        verdict=verdict,
        tone=tone,
        why_not="",
    )


def _line(reader: Reader, c: Candidate, now: Outcome | None) -> FixLine:
    s = c.solved
    title, work = fill(s.title.title, s.title.values, reader.system), fill(s.work.title, s.work.values, reader.system)
    if c.outcome is None:
        why = fill(s.why_not.sentence, s.why_not.values, reader.system) if s.why_not else ""
        return FixLine(code="", title=title, work=work, cells=(), verdict="", tone="", why_not=why)
    verdict, tone = _verdict(c.outcome)
    return FixLine(code=s.code, title=title, work=work, cells=cells(reader, c.outcome, now), verdict=verdict, tone=tone, why_not="")
