"""The thrust stand on the page: its readings as they come, throttle, tare, what is wrong with the rig."""

import re
from collections.abc import AsyncIterator
from typing import Any

from fastapi import APIRouter, Header
from fastapi.responses import JSONResponse, Response
from fastapi.sse import EventSourceResponse, ServerSentEvent
from pydantic import BaseModel, Field

from yarekeel.core.errors import NotFound
from yarekeel.core.propulsion.bench.rig import pull_per_reading
from yarekeel.exchange import bench_csv
from yarekeel.instruments.thrust_stand import StandReading
from yarekeel.plain_text import whole
from yarekeel.stages.design.fitted import at_rest_of
from yarekeel.units import SYSTEMS, say
from yarekeel.web.shared import live
from yarekeel.web.shared.access import RevisionDep, ShelfDep, YardDep
from yarekeel.web.shared.sending import sent

router = APIRouter()
_PERCENT = re.compile(r"-?\d{1,4}(\.\d{1,6})?", re.ASCII)
USUAL_PULL, USUAL_CURRENT = 8.0, 4.0
"""Newtons and amperes of the stand-in's unit where the boat has none yet."""


class Doing(BaseModel):
    """What is done to the stand-in: a unit clamped on the rig of test ``what``, a throttle in per cent set, tared, unplugged, plugged in,
    or something made wrong with the rig."""

    do: str = Field(pattern="^(clamp|throttle|tare|unplug|plug|trouble)$")
    what: str = Field(default="", max_length=40)


@router.get("/boats/{boat_id:int}/{letter}/stand/stream", response_class=EventSourceResponse)
async def stream(
    revision: RevisionDep, shelf: ShelfDep, boat_id: int, last_event_id: str = Header(default="", max_length=20)
) -> AsyncIterator[ServerSentEvent]:
    """Readings of this boat's stand: the newest, and the point that it has made since the throttle settled."""
    bench = shelf.stand(boat_id)
    system = SYSTEMS[revision.units]

    def shown(batch: list[StandReading]) -> dict[str, Any]:
        last, held = batch[-1], bench.held()
        force = "OL" if last.newtons is None else say(last.newtons, "force", system)
        point = None
        if held is not None:
            names = ("throttle", "reading_n", "volts", "amps", "rpm", "at_s", "spread_n", "step_n")
            point = {name: getattr(held, name) for name in names}
        return {
            "state": last.state,
            "throttle": round(100 * last.throttle, 1),
            "force": force if last.state != "off" else "–",
            "electric": f"{last.volts:.2f} V, {last.amps:.1f} A, {last.rpm:.0f} rpm" if last.state != "off" else "",
            "readings": len(bench.since_settled()),
            "point": point,
        }

    async for event in live.readings(shelf, bench, last_event_id, shown, 0.1):
        yield event


@router.post("/boats/{boat_id:int}/{letter}/stand")
def stand_command(yard: YardDep, shelf: ShelfDep, boat_id: int, letter: str, doing: Doing) -> JSONResponse:
    """Something done to the stand-in; a real stand has hands for most of it."""
    revision, bench = yard.revision(boat_id, letter), shelf.stand(boat_id)
    if doing.do == "clamp":
        tests = revision.design.drive.tests
        number = found if (found := whole(doing.what)) is not None and found < len(tests) else None
        ratio = pull_per_reading(tests[number].rig) if number is not None else 1.0
        full, current = max(at_rest_of(revision.design), default=(0.0, 0.0))
        bench.clamp(full or USUAL_PULL, current or USUAL_CURRENT, ratio)
    elif doing.do == "throttle":
        bench.throttle(float(doing.what) / 100 if _PERCENT.fullmatch(doing.what) else 2.0)
    elif doing.do == "tare":
        bench.tare()
    elif doing.do == "trouble":
        bench.set_trouble(doing.what)
    else:
        bench.plug(doing.do == "plug")
    return JSONResponse({"done": True})


@router.get("/boats/{boat_id:int}/{letter}/bench-{number:int}.csv")
def bench_table(yard: YardDep, boat_id: int, letter: str, number: int) -> Response:
    """A thrust test's readings as CSV."""
    revision = yard.revision(boat_id, letter)
    tests = revision.design.drive.tests
    if number >= len(tests):
        raise NotFound("There is no such thrust test.")
    return sent(revision, bench_csv.write(tests[number]).encode(), "csv", "text/csv; charset=utf-8")
