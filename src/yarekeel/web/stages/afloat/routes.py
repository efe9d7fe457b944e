"""Float's own routes: the curves as a file, and the check by floating many boats, as it goes."""

import asyncio
import itertools
import json
from collections.abc import AsyncIterator, Iterator

import numpy as np
from fastapi import APIRouter
from fastapi.responses import Response, StreamingResponse

from yarekeel.core.hydrostatics import chance
from yarekeel.core.hydrostatics.afloat import Outputs
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.judging import chances
from yarekeel.units import SYSTEMS, System, say
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import Reader, craft_of, float_of
from yarekeel.web.shared.sending import sent
from yarekeel.web.stages.afloat.tabs import curves
from yarekeel.web.stages.asked import Asked

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
    asked = Asked(boat, revision, revision.design, Reader(SYSTEMS[revision.units]), {})
    return sent(revision, curves.csv_of(asked).encode(), "csv", "text/csv; charset=utf-8")


@router.get("/boats/{boat_id:int}/{letter}/float/check")
def check(yard: YardDep, boat_id: int, letter: str) -> StreamingResponse:
    """Float many boats with their weights drawn anew: server-sent events, each with how many are done, the last with what
    came out. It ends when the page closes the line."""
    revision = yard.revision(boat_id, letter)
    craft, system = craft_of(revision.design), SYSTEMS[revision.units]
    return StreamingResponse(_events(craft, system), media_type="text/event-stream")


async def _events(craft: Craft, system: System) -> AsyncIterator[str]:
    result = float_of(craft.design)
    afloat = result.afloat if result else None
    linear = chances.assess(craft).chances
    if afloat is None or linear is None or result is None or result.spread is None:
        yield _event({"done": 0, "words": "It must float steadily first; there is nothing to check."}, "end")
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
        yield _event({"done": done})
        if not some:
            break
    if len(rows) < 2:
        yield _event({"done": done, "words": "Nearly all of them sank: the list is far off."}, "end")
        return
    found = np.array(rows)
    limits = chances.limits_of(craft.design.brief)
    seen = chance.chances(found, limits, [p for _, p in craft.openings])
    table = _compared(result.spread, chance.half_widths(found), system)
    share = seen.all * len(rows) / done
    table.append(["The whole brief", say(linear.all, "percent", system), say(share, "percent", system)])
    words = f"{done} boats floated" + (f", {lost} of them sank" if lost else "") + "."
    yield _event({"done": done, "rows": table, "words": words}, "end")


def _some(floats: Iterator[tuple[float, ...] | None]) -> list[tuple[float, ...] | None]:
    return list(itertools.islice(floats, AT_ONCE))


def _compared(linear: Outputs, floated: Outputs, system: System) -> list[list[str]]:
    rows = ((title, getattr(linear, name), getattr(floated, name), kind) for name, title, kind in _SHOWN)
    return [[title, f"±{say(a, kind, system)}", f"±{say(b, kind, system)}"] for title, a, b, kind in rows]


def _event(data: dict[str, object], name: str = "message") -> str:
    return f"event: {name}\ndata: {json.dumps(data)}\n\n"
