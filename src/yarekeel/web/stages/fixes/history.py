"""A boat's life on one page: revisions, trials and fixes in order, a figure over them, and what has been learnt."""

import asyncio
import math
from collections.abc import AsyncIterator, Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import pairwise
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Form
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from fastapi.sse import EventSourceResponse, ServerSentEvent
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.drawing.plots import Axis, Dot, Trace, plot
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.fixes import history
from yarekeel.stages.fixes.expected import came_of
from yarekeel.stages.fixes.history import FIGURES, FigureRow
from yarekeel.stages.trials.trials import FloatTest
from yarekeel.store.records import Boat
from yarekeel.units import SYSTEMS, plain, unit_of
from yarekeel.web.shared import live
from yarekeel.web.shared.access import RevisionDep, YardDep
from yarekeel.web.shared.page import BY_SLUG, Reader, craft_of, frame_of
from yarekeel.web.stages.trials.view import VERDICTS, numbered
from yarekeel.web.templating import render

router = APIRouter()
LEARNT = {"mass": "Boats come out", "thrust_factor": "Drives pull", "drag_factor": "Hulls hold back"}
MOST_TICKS = 26
MOST_OTHERS = 40
IN_TABLE = ("mass", "trim", "freeboard", "gm")


@dataclass(frozen=True)
class LifeRow:
    """A revision, or a trial on it: its mark, what it is, its figures, and what came of what was expected."""

    mark: str
    href: str
    what: str
    cells: tuple[str, ...]
    verdict: str
    tone: str
    is_trial: bool


@dataclass(frozen=True)
class LifeView:
    """The chart, the table and what was learnt; ``missing`` counts what is not worked out yet."""

    rows: tuple[LifeRow, ...]
    heads: tuple[str, ...]
    chart: Markup
    learnt: tuple[tuple[str, str], ...]
    """The name of each factor, and what is said of it."""
    boats: tuple[tuple[str, str], ...]
    """Boats that it can be counted with in: number and name, this one first."""
    base: str
    missing: int


@dataclass(frozen=True)
class HistoryView:
    life: LifeView
    figures: tuple[tuple[str, str, bool], ...]
    figure: str
    compare: tuple[tuple[str, str], ...]
    archive: str


@dataclass(frozen=True)
class Asked:
    """A boat's life as it is asked for."""

    boat: Boat
    reader: Reader
    row: FigureRow
    expected: Mapping[str, Mapping[str, Any]]
    others: tuple[tuple[int, str], ...] = ()
    """The yard's other boats, the newest first."""

    @property
    def trials(self) -> tuple[tuple[Craft, FloatTest], ...]:
        """Those that factors are looked for in."""
        designs = {r.letter: r.design for r in self.boat.revisions}
        return tuple((craft_of(designs[t.letter]), t.test) for t in numbered(self.boat)[-history.LATEST :])


def _asked(yard: YardDep, boat_id: int, figure: str = "trim") -> Asked:
    boat = yard.boat(boat_id)
    row = next((f for f in FIGURES if f.name == figure), FIGURES[1])
    kept = {r.letter: [p.figures for p in yard.predictions.of(r.id) if p.kind == "expected"] for r in boat.revisions}
    others = tuple(dict.fromkeys((number, name) for number, _, name in yard.berths.every() if number != boat_id))[:MOST_OTHERS]
    return Asked(boat, Reader(SYSTEMS[boat.units]), row, {letter: each[-1] for letter, each in kept.items() if each}, others)


@router.get("/boats/{boat_id:int}/{letter}/history")
def page(yard: YardDep, asked: Annotated[Asked, Depends(_asked)], boat_id: int, letter: str) -> HTMLResponse:
    """The boat's life, with one figure drawn over its revisions. What is not worked out yet comes over the line of ``figures``."""
    revision = yard.revision(boat_id, letter)
    letters, beside = [r.letter for r in asked.boat.revisions], f"/boats/{boat_id}/compare"
    view = HistoryView(
        life=_life(asked),
        figures=tuple((f.name, f.label, f is asked.row) for f in FIGURES),
        figure=asked.row.name,
        archive=f"/boats/{boat_id}/archive.zip",
        compare=tuple((f"{a} and {b}", f"{beside}?before={a}&after={b}") for a, b in pairwise(letters)),
    )
    frame = frame_of(asked.boat, revision, BY_SLUG["fixes"], revision.design)
    return HTMLResponse(render("stages/fixes/history.html", frame=frame, v=view))


@router.get("/boats/{boat_id:int}/{letter}/history/figures", response_class=EventSourceResponse)
async def figures(asked: Annotated[Asked, Depends(_asked)], _: RevisionDep) -> AsyncIterator[ServerSentEvent]:
    """Every revision's figures and what the latest trials tell, as they are worked out; then the chart and the tables."""
    work: list[Callable[[], object]] = [partial(history.predicted, craft_of(r.design)) for r in asked.boat.revisions]
    work += [partial(history.factors, *day) for day in asked.trials]
    for done, one in enumerate(work, 1):
        await asyncio.to_thread(one)
        yield live.step(done=done, of=len(work))
    html = await asyncio.to_thread(lambda: render("stages/fixes/_life.html", v=_life(asked)))
    yield live.end(done=len(work), of=len(work), html=html)


def _life(asked: Asked) -> LifeView:
    """As far as it is worked out."""
    reader, boat = asked.reader, asked.boat
    rows: list[LifeRow] = []
    told = {r.letter: history.predicted.known(craft_of(r.design)) for r in boat.revisions}
    for r in boat.revisions:
        craft, has = craft_of(r.design), told[r.letter]
        unknown = "…" if has is None else "–"
        cells = tuple(_words(reader, f, has[f.name][0]) if has and f.name in has else unknown for f in FIGURES if f.name in IN_TABLE)
        what = r.note or ("laid down" if r.follows is None else f"from {r.follows}")
        rows.append(LifeRow(r.letter, f"/boats/{boat.id}/{r.letter}/float", what, cells, "", "", is_trial=False))
        for t in r.trials:
            read = history.measured(craft, t.test)
            cells = tuple(_words(reader, f, read[f.name]) if f.name in read else "" for f in FIGURES if f.name in IN_TABLE)
            verdict, tone = "", ""
            if r.letter in asked.expected:
                verdict, tone = VERDICTS[came_of(asked.expected[r.letter], craft, t.test)[1]]
            where = f"trial of {t.test.date}{', ' + t.test.place if t.test.place else ''}"
            rows.append(LifeRow("", f"/boats/{boat.id}/{r.letter}/trials?trial={t.id}", where, cells, verdict, tone, is_trial=True))
    days = asked.trials
    lacking = sum(h is None for h in told.values()) + sum(history.factors.known(*day) is None for day in days)
    return LifeView(
        rows=tuple(rows),
        heads=tuple(f.label for f in FIGURES if f.name in IN_TABLE),
        chart=_chart(reader, boat, asked.row, told),
        learnt=_learnt(days) if not lacking else (),
        boats=tuple((str(number), name) for number, name in ((boat.id, f"{boat.latest.design.name} (this boat)"), *asked.others)),
        base=f"/boats/{boat.id}",
        missing=lacking,
    )


def _words(reader: Reader, row: FigureRow, value: float) -> str:
    return reader.say(value, row.kind)


def _chart(reader: Reader, boat: Boat, row: FigureRow, told: Mapping[str, Mapping[str, tuple[float, float]] | None]) -> Markup:
    """Predicted with its band, and what was measured, over the revisions in order."""
    angle = row.kind in ("trim", "heel")
    unit = unit_of(row.kind, reader.system) if not angle else None
    si = math.radians(1) if unit is None else unit.si
    known = [(k, (told[r.letter] or {}).get(row.name)) for k, r in enumerate(boat.revisions)]
    at = [(float(k), *v) for k, v in known if v is not None]
    lines = []
    if at:
        xs = [a[0] for a in at]
        lines = [
            Trace(xs, [v for _, v, _ in at], "predicted"),
            Trace(xs, [v + h for _, v, h in at], "", "faint"),
            Trace(xs, [v - h for _, v, h in at], "", "faint"),
        ]
    dots = []
    for k, r in enumerate(boat.revisions):
        for t in r.trials:
            value = history.measured(craft_of(r.design), t.test).get(row.name)
            if value is not None:
                dots.append(Dot(float(k), value, f"{r.letter}, measured", words=f"{t.test.date}: {reader.say(value, row.kind)}"))
    name = "degrees" if unit is None else unit.label
    return Markup(
        plot(
            lines,
            Axis("revision", 1.0, -0.3, len(boat.revisions) - 0.7, _letters(boat)),
            Axis(name, si),
            row.label,
            height=280.0,
            dots=dots,
        )
    )


def _letters(boat: Boat) -> tuple[tuple[float, str], ...]:
    """Of the revisions along the axis; of many, as many as there is room for."""
    step = max(1, len(boat.revisions) // MOST_TICKS + 1) if len(boat.revisions) > MOST_TICKS else 1
    return tuple((float(k), r.letter) for k, r in enumerate(boat.revisions) if k % step == 0)


def _learnt(days: Sequence[tuple[Craft, FloatTest]]) -> tuple[tuple[str, str], ...]:
    return tuple((v.name, _said(v)) for v in history.learnt(days))


def _said(v: history.Learnt) -> str:
    return f"{LEARNT[v.name]} at {plain(100 * v.factor, 0)} % ±{plain(100 * v.half, 0)} % of what is listed, over {v.trials} trials."


@router.post("/boats/{boat_id:int}/learnt")
def count_with(
    yard: YardDep, boat_id: int, name: Annotated[str, Form(max_length=20)], into: Annotated[int, Form(ge=1, lt=2**31)]
) -> Response:
    """Count with what this boat's trials keep finding in a boat's list, pull or drag: on its last revision, or the next where that is
    sealed. Raises NotFound, InvalidInput."""
    found = next((v for v in history.learnt(_asked(yard, boat_id).trials) if v.name == name), None)
    if found is None:
        raise InvalidInput("name", "The trials do not agree on that any more.")
    last = yard.boat(into).latest
    design, note = history.counted_with(craft_of(last.design), found), f"as trials find: {_said(found)}"[:200]
    sealed = last.is_sealed
    after = yard.follow(into, last.letter, design, note) if sealed else yard.save(into, last.letter, design, last.snapshot, note)
    return RedirectResponse(f"/boats/{into}/{after.letter}/{'weights' if name == 'mass' else 'drive'}", 303)
