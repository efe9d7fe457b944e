"""Boats and variants raced: one table of their figures, one chart of how far each is by when."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Query
from fastapi.responses import HTMLResponse
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.drawing.plots import Axis, Trace, plot
from yarekeel.plain_text import whole
from yarekeel.stages.fixes import columns
from yarekeel.stages.fixes.columns import priced
from yarekeel.stages.fixes.race import MOST, Racer, order, raced
from yarekeel.store.records import Boat, Revision
from yarekeel.units import SYSTEMS, parse, plain, unit_of
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, Reader, craft_of, frame_of
from yarekeel.web.stages.fixes.view import cell
from yarekeel.web.templating import render

router = APIRouter()
SHOWN = ("mass", "freeboard", "gm", "ratio", "top", "time", "far")
LOOKS = ("", "warm", "soft", "faint", "", "warm")
USUAL = "50 m"


@dataclass(frozen=True)
class RaceRow:
    """A boat's place in the race, its figures, and where it is left out by."""

    place: str
    name: str
    href: str
    cells: tuple[str, ...]
    without: str


@dataclass(frozen=True)
class RaceView:
    rows: tuple[RaceRow, ...]
    heads: tuple[str, ...]
    chart: Markup
    over: str
    error: str
    who: tuple[str, ...]
    choices: tuple[tuple[str, str], ...]
    full: bool


@router.get("/boats/{boat_id:int}/{letter}/race")
def page(yard: YardDep, boat_id: int, letter: str, who: Annotated[list[str] | None, Query()] = None, over: str = USUAL) -> HTMLResponse:
    """This revision against others of any boat, by number and letter (``3:A``), over a course of any length."""
    boat, revision = yard.boat(boat_id), yard.revision(boat_id, letter)
    reader = Reader(SYSTEMS[boat.units])
    codes = tuple(dict.fromkeys(w for w in (who or _others(boat)) if w))[:MOST]
    entered = [_entered(yard.boat, code) for code in codes]
    error, course = "", 50.0
    try:
        course = parse(over, "length", reader.system, "over")
        racers = [raced(craft_of(r.design), course) for _, r in entered]
    except InvalidInput as refused:
        error = refused.sentence
        racers = [raced(craft_of(r.design), 50.0) for _, r in entered]
    names = [f"{r.design.name} {r.letter}" for _, r in entered]
    places = order(racers)
    here = f"/boats/{boat_id}/{letter}/race"
    rows = tuple(
        RaceRow(
            place=str(n) if (racer := racers[k]) is not None and racer.there is not None else "–",
            name=names[k],
            href=f"/boats/{entered[k][0].id}/{entered[k][1].letter}/float",
            cells=_cells(reader, racer, entered[k][1]),
            without=f"{here}?" + urlencode([("who", c) for c in codes if c != codes[k]] + [("over", over)]) if len(codes) > 1 else "",
        )
        for n, k in enumerate(places, 1)
    )
    view = RaceView(
        rows=rows,
        heads=("There after", "At", "Left in the pack", *(row.title for row in columns.ROWS if row.code in SHOWN)),
        chart=_chart(reader, names, racers, places),
        over=over,
        error=error,
        who=codes,
        choices=tuple((f"{n}:{le}", f"{name} {le}") for n, le, name in yard.berths.every() if f"{n}:{le}" not in codes),
        full=len(codes) >= MOST,
    )
    frame = frame_of(boat, revision, BY_SLUG["fixes"], revision.design)
    return HTMLResponse(render("compare/race.html", frame=frame, v=view))


def _others(boat: Boat) -> list[str]:
    return [f"{boat.id}:{r.letter}" for r in boat.revisions[-MOST:]]


def _entered(boat_of: Callable[[int], Boat], code: str) -> tuple[Boat, Revision]:
    number, _, letter = code.partition(":")
    wanted = whole(number)
    if wanted is None:
        raise NotFound("There is no such boat in the yard.")
    boat = boat_of(wanted)
    return boat, boat.revision(letter)


def _cells(reader: Reader, racer: Racer | None, revision: Revision) -> tuple[str, ...]:
    if racer is None:
        first = ("nothing drives it", "–", "–")
    elif racer.there is None:
        first = ("never", reader.say(racer.speed, "speed"), "–")
    else:
        half = racer.there * racer.doubt
        band = f"{reader.say(racer.there, 'span')} ±{plain(half, 1 if half < 20 else 0)}"
        first = (band, reader.say(racer.speed, "speed"), "–" if racer.left is None else reader.say(racer.left, "percent"))
    p = priced(craft_of(revision.design))
    return (*first, *(cell(reader, row, p, None)[0] for row in columns.ROWS if row.code in SHOWN))


def _chart(reader: Reader, names: list[str], racers: list[Racer | None], places: list[int]) -> Markup:
    lines = []
    for n, k in enumerate(places):
        r = racers[k]
        if r is None:
            continue
        step = max(1, len(r.time) // 200)
        keep = [*range(0, len(r.time) - 1, step), len(r.time) - 1]
        lines.append(Trace([float(r.time[i]) for i in keep], [float(r.place[i]) for i in keep], names[k], LOOKS[n % len(LOOKS)]))
    if not lines:
        return Markup("")
    feet = unit_of("length", reader.system).label == "in"
    far = Axis("feet", 0.3048, 0.0) if feet else Axis("m", 1.0, 0.0)
    return Markup(plot(lines, Axis("s", 1.0, 0.0), far, "How far, by when", height=330.0))
