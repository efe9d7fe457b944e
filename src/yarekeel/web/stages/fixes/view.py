"""Fixes: the candidates solved on the boat as the trial found it, priced side by side."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.stages.fixes import fixes
from yarekeel.stages.fixes.causes import Diagnosis
from yarekeel.stages.fixes.fixes import Candidate, FixesAssessment
from yarekeel.stages.judging.outcome import Outcome
from yarekeel.store.records import TrialRecord
from yarekeel.units import WordedFinding, fill, plain, said
from yarekeel.web.shared.page import Reader, craft_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.trials.view import numbered

PARTS = ("live", "side")
CLEAN = "Nothing that was read or seen speaks strongly for a fault: the boat is what its list and the laws say, as well as they know it."


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
class CauseRow:
    """A cause: its state in a word, how likely of 100, and why."""

    title: str
    sentence: str
    state: str
    tone: str
    belief: str
    why: str


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
    heads: tuple[str, ...] = ()
    causes: tuple[CauseRow, ...] = ()
    clean: str = ""
    telling: str = ""


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
        heads=HEADS,
        causes=_causes(asked.reader, result.diagnosis),
        clean=CLEAN if result.diagnosis is None or result.diagnosis.is_clean else "",
        telling=_telling(result.diagnosis),
    )


HEADS = ("Trim", "Heel", "Freeboard", "GM", "Draft", "Carried ashore", "Thrust/weight")


def cells(reader: Reader, o: Outcome, now: Outcome | None) -> tuple[tuple[str, str], ...]:
    """Trim, heel, freeboard, GM, draft, mass carried ashore and thrust to weight, each with whether it is better or worse than now."""
    extra = o.mass - now.mass if now else 0.0
    carried = "0" if abs(extra) < 5e-5 else ("+" if extra > 0 else "−") + reader.say(abs(extra), "mass")

    def tone(of: Callable[[Outcome], float], step: float) -> str:
        """``step`` is the least change that counts; less than 0 where less is better."""
        by = of(o) - of(now) if now else 0.0
        return "" if abs(by) < abs(step) else "holds" if (by > 0) == (step > 0) else "fails"

    degree = -math.radians(0.05)
    upright = abs(math.degrees(o.heel)) < 0.05
    return (
        (reader.say(o.trim, "trim"), tone(lambda v: abs(v.trim), degree)),
        ("upright" if upright else reader.say(o.heel, "heel").removeprefix("leans "), tone(lambda v: abs(v.heel), degree)),
        (reader.say(o.freeboard, "length"), tone(lambda v: v.freeboard, 5e-4)),
        (reader.say(o.gm, "length"), tone(lambda v: v.gm, 5e-4)),
        (reader.say(o.draft, "draft"), ""),
        (carried, tone(lambda v: v.mass, -5e-5)),
        (plain(o.thrust_to_weight, 2) if o.thrust_to_weight else "none", tone(lambda v: v.thrust_to_weight, 0.005)),
    )


def facts(reader: Reader, o: Outcome) -> dict[str, str]:
    """The same by name, for a boat beside another."""
    return {name: value for name, (value, _) in zip(HEADS, cells(reader, o, None), strict=True)}


STATES = {
    "supported": ("supported", "fails"),
    "possible": ("possible", "near"),
    "against": ("spoken against", "note"),
    "excluded": ("excluded", "note"),
}
MOST_CAUSES = 6


def _causes(reader: Reader, diagnosis: Diagnosis | None) -> tuple[CauseRow, ...]:
    if diagnosis is None:
        return ()
    shown = [j for j in diagnosis.causes if j.state in ("supported", "possible")]
    rest = [j for j in diagnosis.causes if j not in shown and j.reasons]
    rows = []
    for j in [*shown, *rest][: max(3, min(len(shown), MOST_CAUSES))]:
        word, tone = STATES[j.state]
        finding = said(j.finding, reader.system)
        why = " ".join(fill(text, values, reader.system) for text, values in j.reasons)
        belief = "" if j.belief is None else "under 1" if j.belief < 0.01 else f"{100 * min(j.belief, 0.99):.0f}"
        rows.append(CauseRow(j.cause.title, finding.sentence if j in shown else "", word, tone, belief, why))
    return tuple(rows)


def _telling(diagnosis: Diagnosis | None) -> str:
    t = diagnosis.telling if diagnosis else None
    if t is None:
        return ""
    return f"To tell “{t.one}” from “{t.other}”: {t.words}. It needs {t.needs}."


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
