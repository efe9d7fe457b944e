"""Brief's own route: the size map, row by row as it is worked out."""

import asyncio
import json
from collections.abc import AsyncIterator

from fastapi import APIRouter
from fastapi.responses import StreamingResponse

from yarekeel.core.errors import InvalidInput
from yarekeel.drawing import size_map as drawing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.sizing import size_map
from yarekeel.units import SYSTEMS, System
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import craft_of

router = APIRouter()


@router.get("/boats/{boat_id:int}/{letter}/brief/map")
def size_map_events(yard: YardDep, boat_id: int, letter: str, ux: str = "", uy: str = "") -> StreamingResponse:
    """Server-sent events: after each row how many are done, at last the drawing. It ends when the page closes the line."""
    revision = yard.revision(boat_id, letter)
    craft = craft_of(revision.design)
    if not any(i.mass_kg > 0 for i in craft.items):
        raise InvalidInput("weights", "Nothing aboard weighs anything yet; enter its weights first.")
    axes = size_map.axes_of(craft, ux, uy, size_map.POINTS)
    return StreamingResponse(_events(craft, axes, SYSTEMS[revision.units]), media_type="text/event-stream")


async def _events(craft: Craft, axes: size_map.Axes, system: System) -> AsyncIterator[str]:
    found, of = size_map.blank(axes), len(axes.y)
    steps = size_map.steps(craft, found)
    for done in range(1, of + 1):
        await asyncio.to_thread(next, steps, None)
        yield f"event: message\ndata: {json.dumps({'done': done, 'of': of})}\n\n"
    picture = await asyncio.to_thread(drawing.draw, found, system)
    yield f"event: end\ndata: {json.dumps({'done': of, 'svg': picture})}\n\n"
