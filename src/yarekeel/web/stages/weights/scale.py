"""The bench scale on the page: its readings as they come, what is put on it, tare."""

from collections.abc import AsyncIterator
from typing import Any

from fastapi import APIRouter, Header
from fastapi.responses import JSONResponse
from fastapi.sse import EventSourceResponse, ServerSentEvent
from pydantic import BaseModel, Field

from yarekeel.instruments.scale import Reading, load_of
from yarekeel.web.shared import live
from yarekeel.web.shared.access import RevisionDep, ShelfDep, YardDep
from yarekeel.web.shared.page import craft_of

router = APIRouter()


class Doing(BaseModel):
    """What is done to the stand-in: ``what`` is put on it (a word from the page), or it is tared, unplugged, plugged in."""

    do: str = Field(pattern="^(put|tare|unplug|plug)$")
    what: str = Field(default="", max_length=40)


def shown(batch: list[Reading]) -> list[dict[str, Any]]:
    """Readings as the page takes them."""
    return [{"number": r.number, "kg": r.kg, "state": r.state} for r in batch]


@router.get("/boats/{boat_id:int}/{letter}/scale/stream", response_class=EventSourceResponse)
async def stream(
    _: RevisionDep, shelf: ShelfDep, boat_id: int, last_event_id: str = Header(default="", max_length=20)
) -> AsyncIterator[ServerSentEvent]:
    """Readings of this boat's scale, a batch at a time."""
    async for event in live.readings(shelf, shelf.scale(boat_id), last_event_id, shown, 0.1):
        yield event


@router.post("/boats/{boat_id:int}/{letter}/scale")
def scale_command(yard: YardDep, shelf: ShelfDep, boat_id: int, letter: str, doing: Doing) -> JSONResponse:
    """Something done to the stand-in; a real scale has hands for this."""
    bench = shelf.scale(boat_id)
    if doing.do == "put":
        bench.put(load_of(craft_of(yard.revision(boat_id, letter).design), doing.what))
    elif doing.do == "tare":
        bench.tare()
    else:
        bench.plug(doing.do == "plug")
    return JSONResponse({"done": True})
