"""The bench scale on the page: its readings as they come (server-sent events), what is put on it, tare."""

import asyncio
import json
import math
import random
from collections.abc import AsyncIterator

from fastapi import APIRouter, Header
from fastapi.responses import JSONResponse, StreamingResponse
from pydantic import BaseModel, Field

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Kilograms
from yarekeel.instruments.scale import Bench, StandIn
from yarekeel.stages.design.craft import Craft
from yarekeel.web.shared.access import YardDep

router = APIRouter()
STAND_IN = StandIn(capacity_kg=300.0)
BENCH = Bench(STAND_IN)


class Doing(BaseModel):
    """What is done to the stand-in: ``what`` is put on it (a word from the page), or it is tared, unplugged, plugged in."""

    do: str = Field(pattern="^(put|tare|unplug|plug)$")
    what: str = Field(default="", max_length=40)


@router.get("/scale/stream")
async def stream(last_event_id: str = Header(default="", max_length=20)) -> StreamingResponse:
    """Readings from the one after the last that the page has; a page that lost its line misses none."""
    return StreamingResponse(_events(int(last_event_id) if last_event_id.isdigit() else 0), media_type="text/event-stream")


async def _events(number: int) -> AsyncIterator[str]:
    if number == 0:  # a page that begins does not want what was before
        number = max((r.number for r in BENCH.after(0)), default=1) - 1
    while BENCH.is_open:  # not for ever: a program that is told to end must not wait for its pages
        for reading in BENCH.after(number):
            number = reading.number
            data = {"number": number, "kg": reading.kg, "state": reading.state}
            yield f"id: {number}\ndata: {json.dumps(data)}\n\n"
        await asyncio.sleep(0.1)


@router.post("/boats/{boat_id:int}/{letter}/scale")
def act(yard: YardDep, boat_id: int, letter: str, doing: Doing) -> JSONResponse:
    """Something done to the stand-in; a real scale has hands for this."""
    now = BENCH.clock()
    if doing.do == "put":
        STAND_IN.put(load_of(Craft(yard.revision(boat_id, letter).design), doing.what), now)
    elif doing.do == "tare":
        STAND_IN.tare(now)
    else:
        STAND_IN.plugged = doing.do == "plug"
    return JSONResponse({"done": True})


def load_of(craft: Craft, what: str) -> Kilograms:
    """What the stand-in feels. The boat on it is the one listed, but for what a list does not know: each line is off by a
    chance that its own spread allows, the same at every weighing."""
    items = craft.items
    chance = random.Random(craft.design.name)
    real = [max(0.0, i.mass_kg * (1 + chance.gauss(0.0, i.share / 2))) for i in items]
    if what == "nothing":
        return 0.0
    if what == "boat":
        return math.fsum(real)
    if what.isdigit() and int(what) < len(items):
        return real[int(what)]
    if what in ("aft", "fore", "port", "starboard"):
        return _on_support(craft, real, what)
    raise InvalidInput("scale", "Choose what to put on the scale.")


def _on_support(craft: Craft, real: list[Kilograms], which: str) -> Kilograms:
    """The share that one of two supports carries."""
    r, along = craft.design.weigh_in, which in ("aft", "fore")
    low, high = (r.aft_x_m, r.fore_x_m) if along else (r.starboard_y_m, r.port_y_m)
    if low is None or high is None or not high > low:
        raise InvalidInput("scale", "Say first where the two supports stand.")
    axis, mass = 0 if along else 1, math.fsum(real)
    centre = math.fsum(m * i.at_m[axis] for m, i in zip(real, craft.items, strict=True)) / mass if mass else 0.0
    share = (centre - low) / (high - low)
    if not 0 <= share <= 1:
        raise InvalidInput("scale", "The centre of gravity lies outside the two supports: the boat would tip off them.")
    return mass * (share if which in ("fore", "port") else 1 - share)
