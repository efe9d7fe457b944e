"""Brief's own route: the size map, row by row as it is worked out."""

import asyncio
from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Depends
from fastapi.sse import EventSourceResponse, ServerSentEvent

from yarekeel.core.errors import InvalidInput
from yarekeel.drawing import size_map as drawing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.sizing import size_map
from yarekeel.units import SYSTEMS, System
from yarekeel.web.shared import live
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import craft_of

router = APIRouter()


def _mapped(yard: YardDep, boat_id: int, letter: str, ux: str = "", uy: str = "") -> tuple[Craft, size_map.Axes, System]:
    revision = yard.revision(boat_id, letter)
    craft = craft_of(revision.design)
    if not any(i.mass_kg > 0 for i in craft.items):
        raise InvalidInput("weights", "Nothing aboard weighs anything yet; enter its weights first.")
    return craft, size_map.axes_of(craft, ux, uy, size_map.POINTS), SYSTEMS[revision.units]


@router.get("/boats/{boat_id:int}/{letter}/brief/map", response_class=EventSourceResponse)
async def size_map_events(
    asked: Annotated[tuple[Craft, size_map.Axes, System], Depends(_mapped)],
) -> AsyncIterator[ServerSentEvent]:
    """After each row how many are done, at last the drawing. It ends when the page closes the line."""
    craft, axes, system = asked
    found, of = size_map.blank(axes), len(axes.y)
    steps = size_map.steps(craft, found)
    for done in range(1, of + 1):
        await asyncio.to_thread(next, steps, None)
        yield live.step(done=done, of=of)
    picture = await asyncio.to_thread(drawing.draw, found, system)
    yield live.end(done=of, svg=picture)
