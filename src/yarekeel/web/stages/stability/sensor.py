"""The tilt sensor on the page: its trace as it comes (server-sent events), a push, a weight moved, angles and periods taken."""

import asyncio
import dataclasses
import json
import math
import random
from collections.abc import AsyncIterator

import numpy as np
from fastapi import APIRouter, Header
from fastapi.responses import JSONResponse, StreamingResponse
from pydantic import BaseModel, Field

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat
from yarekeel.core.quantities import Metres, Radians, Seconds
from yarekeel.core.stability.inclining import ADDED, Shift, roll_period, with_added, with_shift
from yarekeel.core.stability.roll_fit import RollFit, fit_roll
from yarekeel.instruments.tilt import StandIn, Trace
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.units import SYSTEMS, parse, say
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import craft_of

router = APIRouter()
STAND_IN = StandIn()
TRACE = Trace(STAND_IN)
PUSH: Radians = math.radians(8)
DAMPING = 0.05
"""Of critical: a small hull's swings die away in some ten rolls (common practice)."""
UNSURE_HEIGHT = 0.03
"""Of the depth: by so much the heights of guessed things are off (one standard deviation)."""
_pushed: dict[str, Seconds] = {"at": -math.inf}


class Doing(BaseModel):
    """What is done to the stand-in: put aboard, pushed, a weight moved to ``what``, zeroed, unplugged, plugged in, or the roll fitted."""

    do: str = Field(pattern="^(aboard|push|move|zero|unplug|plug|fit)$")
    what: str = Field(default="", max_length=40)


@router.get("/tilt/stream")
async def stream(last_event_id: str = Header(default="", max_length=20)) -> StreamingResponse:
    """Readings from the one after the last that the page has, a batch at a time: [seconds, degrees or null]."""
    return StreamingResponse(_events(int(last_event_id) if last_event_id.isdigit() else 0), media_type="text/event-stream")


async def _events(number: int) -> AsyncIterator[str]:
    if number == 0:  # a page that begins does not want what was before
        number = max((r.number for r in TRACE.after(0)), default=1) - 1
    while TRACE.is_open:
        batch = TRACE.after(number)
        if batch:
            number = batch[-1].number
            rows = [[round(r.at, 3), None if r.heel is None else round(math.degrees(r.heel), 3)] for r in batch]
            yield f"id: {number}\ndata: {json.dumps(rows)}\n\n"
        await asyncio.sleep(0.05)


@router.post("/boats/{boat_id:int}/{letter}/tilt")
def act(yard: YardDep, boat_id: int, letter: str, doing: Doing) -> JSONResponse:
    """Something done to the stand-in or with its trace; a real sensor has hands for the first."""
    revision = yard.revision(boat_id, letter)
    design, system, now = revision.design, SYSTEMS[revision.units], TRACE.clock()
    if doing.do == "aboard":
        boat, rest = true_boat(design)
        STAND_IN.aboard(_period(boat, rest), rest.attitude.heel, DAMPING)
    elif doing.do == "push":
        _pushed["at"] = now
        STAND_IN.push(PUSH, now)
    elif doing.do == "move":
        STAND_IN.lean(lean_with(design, parse(doing.what or "0", "length", system, "tilt")), now)
    elif doing.do == "zero":
        TRACE.set_zero()
    elif doing.do == "fit":
        fit = fitted()
        period = say(fit.period.value, "seconds", system)
        words = f"{period} a roll, ±{say(fit.period.half_width, 'seconds', system)}; about a lean of {math.degrees(fit.offset):.2f}°."
        return JSONResponse({"done": True, "words": words})
    else:
        STAND_IN.plugged = doing.do == "plug"
    return JSONResponse({"done": True})


def true_boat(design: Design) -> tuple[Craft, Afloat]:
    """The boat that the sensor is aboard of: as listed, but for what a list does not know, the same each time: each mass off by a
    chance that its own spread allows, each guessed height by a little. Raises InvalidInput where it does not float."""
    craft = craft_of(design)
    chance = random.Random(f"{design.name} rolls")
    low, high = craft.hull.mesh.bounds
    depth = float(high[2] - low[2])
    lines = []
    for item in craft.acting:
        x, y, z = item.at_m
        off = chance.gauss(0.0, UNSURE_HEIGHT * depth) if item.known == "guessed" and not item.fixed else 0.0
        mass = max(0.0, item.mass_kg * (1 + chance.gauss(0.0, item.share / 2)))
        lines.append(
            dataclasses.replace(item, mass_kg=mass, at_m=(x, y, z + off), recipe=None, quantity=1.0, on=True, pair=False, hung_m=0.0)
        )
    boat = Craft(dataclasses.replace(design, weights=tuple(lines), cases=(), case=""))
    try:
        return boat, boat.rest()
    except NoRest:
        raise InvalidInput("tilt", "The boat must float before a sensor can go aboard.") from None


def _period(boat: Craft, rest: Afloat) -> Seconds:
    gyration = math.sqrt(max(float(boat.aboard.inertia[0, 0]), 1e-9) / boat.total.mass)
    return roll_period(with_added(gyration, sum(ADDED) / 2), rest.gm_transverse)


def lean_with(design: Design, moved: Metres) -> Radians:
    """The lean of the true boat with the test's weight moved to starboard. Raises InvalidInput."""
    weight = design.incline.weight_kg
    if weight is None:
        raise InvalidInput("tilt", "Say first how heavy the weight is that is moved.")
    boat, _ = true_boat(design)
    total = boat.total
    x, y, z = total.centre
    try:
        after = float_boat(boat.hull, total.mass, (x, y - weight * moved / total.mass, z), boat.density, None, boat.kernel)
    except NoRest:
        raise InvalidInput("tilt", "The boat does not hold that.") from None
    if after.is_capsized:
        raise InvalidInput("tilt", "So far over the boat capsizes; move it less.")
    return after.attitude.heel


def fitted() -> RollFit:
    """The roll since the last push. Raises InvalidInput where there is none to fit."""
    readings = TRACE.since(max(_pushed["at"] + 0.05, TRACE.clock() - 25.0))
    found = fit_roll(np.array([r.at for r in readings]), np.array([r.heel for r in readings], dtype=float)) if readings else None
    if found is None:
        raise InvalidInput(
            "tilt",
            "No roll stands clear in the trace: push it, and let it swing for three rolls or more. It must last ten readings.",
        )
    return found


def taken(design: Design, path: str, text: str, units: str) -> Design:
    """The design with a reading taken: the angle it lies at (``tilt.angle``, with how far the weight is moved), or the period of the
    roll (``tilt.period``) as ten rolls. Raises InvalidInput."""
    incline = design.incline
    if path == "tilt.angle":
        moved = parse(text or "0", "length", SYSTEMS[units], path)
        return dataclasses.replace(design, incline=with_shift(incline, Shift(moved, round(math.degrees(TRACE.still()), 3))))
    fit = fitted()
    limit = max(0.001, round(10 * fit.period.half_width / 2, 4))
    return dataclasses.replace(
        design, incline=dataclasses.replace(incline, rolls=10, time_s=round(10 * fit.period.value, 3), time_limit_s=limit)
    )
