"""A boat's life on one page: revisions, trials and fixes in order, a figure over them, and what has been learnt."""

import math
from dataclasses import dataclass
from itertools import pairwise

from fastapi import APIRouter
from fastapi.responses import HTMLResponse
from markupsafe import Markup

from yarekeel.drawing.plots import Axis, Dot, Trace, plot
from yarekeel.stages.fixes import history
from yarekeel.stages.fixes.expected import came_of
from yarekeel.stages.fixes.history import FIGURES, FigureRow
from yarekeel.store.records import Boat
from yarekeel.units import SYSTEMS, plain, unit_of
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, Reader, craft_of, frame_of
from yarekeel.web.stages.trials.view import VERDICTS, numbered
from yarekeel.web.templating import render

router = APIRouter()
LEARNT = {"mass": "Boats come out", "thrust_factor": "Drives pull", "drag_factor": "Hulls hold back"}
MOST_TICKS = 26
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
class HistoryView:
    rows: tuple[LifeRow, ...]
    heads: tuple[str, ...]
    figures: tuple[tuple[str, str, bool], ...]
    chart: Markup
    learnt: tuple[str, ...]
    compare: tuple[tuple[str, str], ...]
    archive: str


@router.get("/boats/{boat_id:int}/{letter}/history")
def page(yard: YardDep, boat_id: int, letter: str, figure: str = "trim") -> HTMLResponse:
    """The boat's life, with one figure drawn over its revisions."""
    boat, revision = yard.boat(boat_id), yard.revision(boat_id, letter)
    reader = Reader(SYSTEMS[boat.units])
    row = next((f for f in FIGURES if f.name == figure), FIGURES[1])
    expected = {r.letter: [p for p in yard.predictions.of(r.id) if p.kind == "expected"] for r in boat.revisions}
    rows: list[LifeRow] = []
    for r in boat.revisions:
        craft = craft_of(r.design)
        told = history.predicted(craft)
        cells = tuple(_words(reader, f, told[f.name][0]) if f.name in told else "–" for f in FIGURES if f.name in IN_TABLE)
        what = r.note or ("laid down" if r.follows is None else f"from {r.follows}")
        rows.append(LifeRow(r.letter, f"/boats/{boat_id}/{r.letter}/float", what, cells, "", "", is_trial=False))
        for t in r.trials:
            read = history.measured(craft, t.test)
            cells = tuple(_words(reader, f, read[f.name]) if f.name in read else "" for f in FIGURES if f.name in IN_TABLE)
            verdict, tone = "", ""
            if expected[r.letter]:
                verdict, tone = VERDICTS[came_of(expected[r.letter][-1].figures, craft, t.test)[1]]
            where = f"trial of {t.test.date}{', ' + t.test.place if t.test.place else ''}"
            rows.append(LifeRow("", f"/boats/{boat_id}/{r.letter}/trials?trial={t.id}", where, cells, verdict, tone, is_trial=True))
    letters, beside = [r.letter for r in boat.revisions], f"/boats/{boat_id}/compare"
    view = HistoryView(
        rows=tuple(rows),
        heads=tuple(f.label for f in FIGURES if f.name in IN_TABLE),
        figures=tuple((f.name, f.label, f is row) for f in FIGURES),
        chart=_chart(reader, boat, row),
        learnt=_learnt(boat),
        archive=f"/boats/{boat_id}/archive.zip",
        compare=tuple((f"{a} and {b}", f"{beside}?before={a}&after={b}") for a, b in pairwise(letters)),
    )
    frame = frame_of(boat, revision, BY_SLUG["fixes"], revision.design)
    return HTMLResponse(render("stages/fixes/history.html", frame=frame, v=view))


def _words(reader: Reader, row: FigureRow, value: float) -> str:
    return reader.say(value, row.kind)


def _chart(reader: Reader, boat: Boat, row: FigureRow) -> Markup:
    """Predicted with its band, and what was measured, over the revisions in order."""
    angle = row.kind in ("trim", "heel")
    unit = unit_of(row.kind, reader.system) if not angle else None
    si = math.radians(1) if unit is None else unit.si
    known = [(k, history.predicted(craft_of(r.design)).get(row.name)) for k, r in enumerate(boat.revisions)]
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


def _learnt(boat: Boat) -> tuple[str, ...]:
    days = [(craft_of(next(r.design for r in boat.revisions if r.letter == t.letter)), t.test) for t in numbered(boat)]
    return tuple(
        f"{LEARNT[v.name]} at {plain(100 * v.factor, 0)} % ±{plain(100 * v.half, 0)} % of what is listed, over {v.trials} trials. "
        "Count with that in the next list."
        for v in history.learnt(days)
    )
