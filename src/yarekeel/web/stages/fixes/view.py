"""Fixes: what may be the cause, and the table of changes solved on the boat as the trial found it, row by row."""

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from urllib.parse import urlencode

from markupsafe import Markup

from yarekeel.drawing import overlaid
from yarekeel.drawing.overlaid import Laid
from yarekeel.stages.changes.register import CHANGES
from yarekeel.stages.changes.takes import COSTS, SKILLS, TIMES, Takes
from yarekeel.stages.changes.takes import of as takes_of
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import word_of
from yarekeel.stages.fixes import columns, fixes
from yarekeel.stages.fixes.causes import Diagnosis
from yarekeel.stages.fixes.columns import Column, Group, Priced, priced
from yarekeel.stages.fixes.fixes import JOINED, Candidate, FixesAssessment
from yarekeel.stages.fixes.joined import MOST as MOST_JOINED
from yarekeel.store.records import TrialRecord
from yarekeel.units import WordedFinding, fill, plain, said
from yarekeel.web.shared.page import Reader, craft_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.trials.view import numbered

PARTS = ("live", "side")
CLEAN = "Nothing that was read or seen speaks strongly for a fault: the boat is what its list and the laws say, as well as they know it."
ORDERS = (("", "as likely as their causes"), ("gain", "gain for effort"))
PICTURE = (132.0, 62.0)


@dataclass(frozen=True)
class FixLine:
    """A candidate in the table; ``code`` is empty when it cannot be chosen, ``keys`` what it is ordered by (more is better)."""

    code: str
    title: str
    work: str
    cells: tuple[tuple[str, str], ...]
    verdict: str
    tone: str
    why_not: str
    picture: Markup = Markup("")
    causes: str = ""
    keys: str = "{}"
    texts: tuple[str, ...] = ()


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
    letter: str
    new_href: str
    compare_href: str
    trial: int = 0
    number: int = 0
    items: tuple[tuple[int, str, bool], ...] = ()
    ballast: str = ""
    ballast_error: str = ""
    now: FixLine | None = None
    findings: tuple[WordedFinding, ...] = ()
    heads: tuple[str, ...] = ()
    text_heads: tuple[str, ...] = ()
    causes: tuple[CauseRow, ...] = ()
    clean: str = ""
    telling: str = ""
    url: str = ""
    count: int = 0
    show: str = "afloat"
    groups: tuple[tuple[str, str, bool], ...] = ()
    order: str = ""
    orders: tuple[tuple[str, str, bool], ...] = ()
    cannot: str = ""
    skills: tuple[tuple[str, str, bool], ...] = ()
    also: str = ""
    others: tuple[tuple[str, str], ...] = ()
    join: str = ""
    most_joined: int = MOST_JOINED
    is_early: bool = False
    """Whether the causes are still being worked out, and the boat is as its float was read."""


def record_of(asked: PageRequest) -> TrialRecord | None:
    """The trial asked for, else the latest on this revision."""
    wanted = asked.ask.get("trial", "")
    on_this = [t for t in numbered(asked.boat) if t.letter == asked.revision.letter]
    return next((t for t in on_this if str(t.id) == wanted), on_this[-1] if on_this and not wanted else None)


@dataclass(frozen=True)
class Questions:
    """What is asked of the table: the weight to move, where ballast may go (with what is wrong with it), what cannot be done, what else is
    tried, what is joined, and which figures are shown."""

    item: int | None
    ballast: float | None
    ballast_error: str
    cannot: tuple[str, ...]
    also: tuple[str, ...]
    join: str
    show: Group


def questions_of(asked: PageRequest) -> Questions:
    """As asked on the page; what is none of the program's words is passed over."""
    at, error = asked.length("ballast")
    words = {name: tuple(w for w in asked.ask.get(name, "").split(",") if w) for name in ("cannot", "also")}
    joined = asked.ask.get("join", "").split(JOINED)
    return Questions(
        item=asked.index("item", len(asked.design.weights) + 1),
        ballast=at,
        ballast_error=error,
        cannot=tuple(w for w in words["cannot"] if w in SKILLS),
        also=tuple(w for w in words["also"] if w in CHANGES),
        join=JOINED.join(joined) if 2 <= len(joined) <= MOST_JOINED and all(c in CHANGES for c in joined) else "",
        show=next((g for g, _ in columns.GROUPS if g == asked.ask.get("show")), "afloat"),
    )


def codes_of(start: FixesAssessment, q: Questions) -> tuple[str, ...]:
    """Codes in the order they are solved: what is joined first, what answers the causes, what else is tried; without what one cannot do."""
    wanted = tuple(dict.fromkeys((*((q.join,) if q.join else ()), *start.codes, *q.also)))
    return tuple(c for c in wanted if not set(takes_of(tuple(c.split(JOINED))).needs) & set(q.cannot))


def view(asked: PageRequest) -> FixesView:
    """The table's frame and the boat as found; empty until a trial was run on this revision."""
    record = record_of(asked)
    base = f"/boats/{asked.boat.id}"
    new = f"{base}/{asked.revision.letter}/trials/new"
    before = asked.revision.follows
    compare = f"{base}/compare?before={before}&after={asked.revision.letter}" if before else ""
    after = asked.boat.latest.letter
    if not before and after != asked.revision.letter:
        compare = f"{base}/compare?before={asked.revision.letter}&after={after}"
    if record is None:
        return FixesView(empty=True, letter=asked.revision.letter, new_href=new, compare_href=compare)
    start, is_early = begun_or_early(craft_of(asked.design), record, asked.ask)
    q = questions_of(asked)
    items = start.base.items
    moved = asked.index("item", len(items))
    order = asked.ask.get("order", "")
    shown = columns.of_group(q.show)
    tried = (*start.codes, *q.also)
    return FixesView(
        empty=False,
        trial=record.id,
        number=numbered(asked.boat).index(record) + 1,
        letter=record.letter,
        items=tuple((k, w.name, k == moved) for k, w in enumerate(items) if w.mass_kg > 0 and not w.fixed),
        ballast=asked.ask.get("ballast", ""),
        ballast_error=q.ballast_error,
        now=_now(asked.reader, start, q.show),
        findings=(said(start.correction, asked.reader.system),),
        new_href=new,
        compare_href=compare,
        heads=tuple(c.title for c in shown),
        text_heads=TEXTS if q.show == "work" else (),
        causes=_causes(asked.reader, start.diagnosis),
        clean=CLEAN if not is_early and (start.diagnosis is None or start.diagnosis.is_clean) else "",
        telling=_telling(start.diagnosis),
        url="fixes/rows?" + urlencode(_asks(asked.ask, record)),
        count=len(codes_of(start, q)),
        show=q.show,
        groups=tuple((g, words, g == q.show) for g, words in columns.GROUPS),
        order=order,
        orders=tuple((code, words, code == order) for code, words in (*ORDERS, *((c.code, c.title.lower()) for c in shown if c.better))),
        cannot=",".join(q.cannot),
        skills=tuple((code, words, code in q.cannot) for code, words in SKILLS.items()),
        also=",".join(q.also),
        others=tuple((c.code, c.title) for c in fixes.offered(start.base) if c.code not in tried),
        join=q.join,
        is_early=is_early,
    )


def begun_or_early(craft: Craft, record: TrialRecord, ask: Mapping[str, str]) -> tuple[FixesAssessment, bool]:
    """The boat as found with its causes where they are worked out already, or asked for (``found``: a page that waited for them once does
    not go back); else as its float was read. And whether it is the latter."""
    whole = fixes.begun(craft, record.test) if ask.get("found") else fixes.begun.known(craft, record.test)
    return (whole, False) if whole is not None else (fixes.floated(craft, record.test), True)


ASKED = ("item", "ballast", "cannot", "also", "join", "show", "found")
TEXTS = ("What it takes", "Mind")


def _asks(ask: Mapping[str, str], record: TrialRecord) -> dict[str, str]:
    return {"trial": str(record.id), **{name: ask[name] for name in ASKED if ask.get(name)}}


def cell(reader: Reader, row: Column, p: Priced, now: Priced | None) -> tuple[str, str]:
    """A figure in words with whether it is better or worse than now."""
    value = row.of(p)
    tone = {1: "holds", -1: "fails", 0: ""}[row.gain(p, now) if now is not None else 0]
    if value is None:
        return "–", tone
    if row.code == "carried" and now is not None:
        extra = value - (row.of(now) or 0.0)
        return ("0" if abs(extra) < row.step else ("+" if extra > 0 else "−") + reader.say(abs(extra), "mass")), tone
    if row.code == "test" and p.test is not None:
        return f"{word_of(p.test.code)}: {'goes over' if p.test.lean is None else reader.say(value, 'angle')}", tone
    if row.kind == "heel":
        return ("upright" if abs(value) < row.step else reader.say(value, "heel").removeprefix("leans ")), tone
    return WORDS[row.kind](value) if row.kind in WORDS else reader.say(value, row.kind), tone


WORDS: dict[str, Callable[[float], str]] = {
    "hours": lambda v: next(words for words, hours in TIMES if hours == v),
    "cost": lambda v: COSTS[round(v)],
    "ratio": lambda v: plain(v, 2),
}


def facts(reader: Reader, craft: Craft) -> dict[str, str]:
    """Every figure that fixes are compared by, by name, for a boat beside another; empty for one that sinks."""
    p = priced(craft)
    if p.outcome is None:
        return {}
    rows = [row for row in columns.ROWS if row.group != "work" and row.code != "gm_tipped"]
    return {row.title: cell(reader, row, p, None)[0] for row in rows}


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


def _verdict(p: Priced, now: Priced | None) -> tuple[str, str]:
    if not p.misses:
        return "meets the whole brief", "holds"
    fresh = [m for m in p.misses if now is not None and m not in now.misses]
    old = [m for m in p.misses if m not in fresh]
    words = "; ".join(w for w in (f"misses {', '.join(old)}" if old else "", f"now misses {', '.join(fresh)}" if fresh else "") if w)
    return words, "fails"


def _now(reader: Reader, start: FixesAssessment, show: Group) -> FixLine:
    if start.now is None:
        return FixLine(code="", title="As found", work="", cells=(), verdict="it sinks", tone="fails", why_not="As found, the boat sinks.")
    p = priced(start.base)
    verdict, tone = _verdict(p, None)
    cells = tuple(cell(reader, row, p, p) for row in columns.of_group(show))
    return FixLine(
        code="",
        title="As found by the trial",
        work="nothing changed",
        cells=cells,
        verdict=verdict,
        tone=tone,
        why_not="",
        picture=picture_of(start.base, start.base, "The boat as found"),
        texts=("", "") if show == "work" else (),
    )


def _laid(p: Priced) -> Laid | None:
    rest = p.figures.rest
    return Laid(p.craft.hull.sketch, rest.attitude, p.craft.items) if rest is not None else None


def picture_of(before: Craft, after: Craft, words: str, size: tuple[float, float] = PICTURE, *, both: bool = False) -> Markup:
    """Two states of a boat laid over each other; nothing where one of them does not float."""
    one, two = _laid(priced(before)), _laid(priced(after))
    return Markup(overlaid.draw(one, two, *size, words, both=both)) if one is not None and two is not None else Markup("")


def line_of(reader: Reader, start: FixesAssessment, c: Candidate, show: Group) -> FixLine:
    """A solved change as a row, beside the boat as found."""
    s = c.solved
    title, work = fill(s.title.title, s.title.values, reader.system), fill(s.work.title, s.work.values, reader.system)
    causes = "; ".join(c.causes)
    if c.craft is None or c.outcome is None:
        why = fill(s.why_not.sentence, s.why_not.values, reader.system) if s.why_not else "With it, the boat sinks."
        return FixLine(code="", title=title, work="", cells=(), verdict="", tone="", why_not=why, causes=causes)
    p, now = priced(c.craft, c.takes), priced(start.base)
    verdict, tone = _verdict(p, now)
    shown = columns.of_group(show)
    keys = {row.code: row.key(p) for row in shown if row.better} | {"gain": columns.gain_for_effort(p, now)}
    return FixLine(
        code=c.code,
        title=title,
        work=work,
        cells=tuple(cell(reader, row, p, now) for row in shown),
        verdict=verdict,
        tone=tone,
        why_not="",
        picture=picture_of(start.base, c.craft, f"The boat with it, and as found dashed: {title}"),
        causes=causes,
        keys=json.dumps(keys),
        texts=_texts(c.takes) if show == "work" else (),
    )


def _texts(takes: Takes) -> tuple[str, str]:
    """What must be got and done, and what to mind."""
    words = [", ".join(takes.parts), ", ".join(SKILLS[n] for n in takes.needs)]
    return "; ".join(w for w in words if w) or "nothing", takes.caution or "–"
