"""Float's own routes: the curves as a file, and the check by floating many boats, as it goes."""

import asyncio
import itertools
from collections.abc import AsyncIterator, Iterator
from typing import Annotated

import numpy as np
from fastapi import APIRouter, Depends
from fastapi.responses import Response
from fastapi.sse import EventSourceResponse, ServerSentEvent

from yarekeel.core.hydrostatics import chance
from yarekeel.core.hydrostatics.afloat import Outputs
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.judging import chances
from yarekeel.units import SYSTEMS, System, say
from yarekeel.web.shared import live
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import Reader, craft_of, float_of
from yarekeel.web.shared.sending import sent
from yarekeel.web.stages.afloat.tabs import curves
from yarekeel.web.stages.page_request import PageRequest

router = APIRouter()
FLOATS, AT_ONCE = 500, 20
_SHOWN = (
    ("draft_bow", "Draft, bow", "draft"),
    ("draft_stern", "Draft, stern", "draft"),
    ("trim", "Trim", "angle"),
    ("heel", "Heel", "angle"),
    ("freeboard", "Least freeboard", "draft"),
    ("gm", "GM", "draft"),
)


@router.get("/boats/{boat_id:int}/{letter}/float/curves.csv")
def curves_csv(yard: YardDep, boat_id: int, letter: str) -> Response:
    """The hydrostatic table in the units shown."""
    boat = yard.boat(boat_id)
    revision = boat.revision(letter)
    asked = PageRequest(boat=boat, revision=revision, design=revision.design, reader=Reader(SYSTEMS[revision.units]), ask={})
    return sent(revision, curves.csv_of(asked).encode(), "csv", "text/csv; charset=utf-8")


def _checked(yard: YardDep, boat_id: int, letter: str) -> tuple[Craft, System]:
    revision = yard.revision(boat_id, letter)
    return craft_of(revision.design), SYSTEMS[revision.units]


@router.get("/boats/{boat_id:int}/{letter}/float/check", response_class=EventSourceResponse)
async def check(asked: Annotated[tuple[Craft, System], Depends(_checked)]) -> AsyncIterator[ServerSentEvent]:
    """Float many boats with their weights drawn anew: each event has how many are done, the last what came out. It ends when the page
    closes the line."""
    craft, system = asked
    result = float_of(craft.design)
    afloat = result.afloat if result else None
    linear = chances.assess(craft).chances
    if afloat is None or linear is None or result is None or result.spread is None:
        yield live.end(done=0, words="It must float steadily first; there is nothing to check.")
        return
    marks = craft.marks
    floats = chance.true_floats(craft.hull, craft.acting, afloat, marks.bow_x_m, marks.stern_x_m, craft.kernel, FLOATS)
    rows: list[tuple[float, ...]] = []
    lost = done = 0
    while done < FLOATS:
        some = await asyncio.to_thread(_some, floats)
        done += len(some)
        rows += [r for r in some if r is not None]
        lost += sum(r is None for r in some)
        yield live.step(done=done)
        if not some:
            break
    if len(rows) < 2:
        yield live.end(done=done, words="Nearly all of them sank: the list is far off.")
        return
    found = np.array(rows)
    limits = chances.limits_of(craft.design.brief)
    seen = chance.chances(found, limits, [p for _, p in craft.openings])
    table = _compared(result.spread, chance.half_widths(found), system)
    share = seen.all * len(rows) / done
    table.append(["The whole brief", say(linear.all, "percent", system), say(share, "percent", system)])
    words = f"{done} boats floated" + (f", {lost} of them sank" if lost else "") + "."
    yield live.end(done=done, rows=table, words=words)


def _some(floats: Iterator[tuple[float, ...] | None]) -> list[tuple[float, ...] | None]:
    return list(itertools.islice(floats, AT_ONCE))


def _compared(linear: Outputs, floated: Outputs, system: System) -> list[list[str]]:
    rows = ((title, getattr(linear, name), getattr(floated, name), kind) for name, title, kind in _SHOWN)
    return [[title, f"±{say(a, kind, system)}", f"±{say(b, kind, system)}"] for title, a, b, kind in rows]
