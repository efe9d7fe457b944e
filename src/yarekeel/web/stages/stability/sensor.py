"""The tilt sensor on the page: its trace as it comes, a push, a weight moved, a zero, the roll fitted."""

import math
from collections.abc import AsyncIterator

from fastapi import APIRouter, Header
from fastapi.responses import JSONResponse
from fastapi.sse import EventSourceResponse, ServerSentEvent
from pydantic import BaseModel, Field

from yarekeel.instruments.tilt import Tilt
from yarekeel.units import SYSTEMS, parse, say
from yarekeel.web.shared import live
from yarekeel.web.shared.access import RevisionDep, ShelfDep, YardDep
from yarekeel.web.shared.page import craft_of

router = APIRouter()


class Doing(BaseModel):
    """What is done to the stand-in: put aboard, pushed, a weight moved to ``what``, zeroed, unplugged, plugged in, or the roll fitted."""

    do: str = Field(pattern="^(aboard|push|move|zero|unplug|plug|fit)$")
    what: str = Field(default="", max_length=40)


def shown(batch: list[Tilt]) -> list[list[float | None]]:
    """Readings as the page takes them: [seconds, degrees or null]."""
    return [[round(r.at, 3), None if r.heel is None else round(math.degrees(r.heel), 3)] for r in batch]


@router.get("/boats/{boat_id:int}/{letter}/tilt/stream", response_class=EventSourceResponse)
async def stream(
    _: RevisionDep, shelf: ShelfDep, boat_id: int, last_event_id: str = Header(default="", max_length=20)
) -> AsyncIterator[ServerSentEvent]:
    """Readings of this boat's sensor, a batch at a time."""
    async for event in live.readings(shelf, shelf.tilt(boat_id), last_event_id, shown, 0.05):
        yield event


@router.post("/boats/{boat_id:int}/{letter}/tilt")
def sensor_command(yard: YardDep, shelf: ShelfDep, boat_id: int, letter: str, doing: Doing) -> JSONResponse:
    """Something done to the stand-in or with its trace; a real sensor has hands for the first."""
    revision, bench = yard.revision(boat_id, letter), shelf.tilt(boat_id)
    craft, system = craft_of(revision.design), SYSTEMS[revision.units]
    if doing.do == "aboard":
        bench.put_aboard(craft)
    elif doing.do == "push":
        bench.push()
    elif doing.do == "move":
        bench.lean_over(craft, parse(doing.what or "0", "length", system, "tilt"))
    elif doing.do == "zero":
        bench.set_zero()
    elif doing.do == "fit":
        fit = bench.fitted()
        period = say(fit.period.value, "seconds", system)
        words = f"{period} a roll, ±{say(fit.period.half_width, 'seconds', system)}; about a lean of {math.degrees(fit.offset):.2f}°."
        return JSONResponse({"done": True, "words": words})
    else:
        bench.plug(doing.do == "plug")
    return JSONResponse({"done": True})
