"""Stability's own routes: the cures as they are solved, and the one that becomes the next revision."""

import asyncio
import dataclasses
import json
from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Form
from fastapi.responses import RedirectResponse, Response, StreamingResponse

from yarekeel.core.errors import InvalidInput
from yarekeel.stages.changes import cures
from yarekeel.stages.changes.register import cures_for
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.units import SYSTEMS, fill
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, Frame, Reader, craft_of, frame_of
from yarekeel.web.stages.stability.tabs.cures import CureRow, row_of
from yarekeel.web.templating import render

router = APIRouter()


def _loaded(design: Design, load: str) -> Craft:
    if load and load not in {c.name for c in design.cases}:
        raise InvalidInput("load", "There is no such load case on this boat.")
    return craft_of(craft_of(design).in_case(load).design)


@router.get("/boats/{boat_id:int}/{letter}/stability/cures")
def solved(yard: YardDep, boat_id: int, letter: str, load: str = "") -> StreamingResponse:
    """Server-sent events: each cure's row as it is solved, with how many are done. It ends when the page closes the line."""
    boat = yard.boat(boat_id)
    revision = boat.revision(letter)
    craft = _loaded(revision.design, load)
    if not any(i.mass_kg > 0 for i in craft.items):
        raise InvalidInput("weights", "Nothing aboard weighs anything yet; enter its weights first.")
    frame = frame_of(boat, revision, BY_SLUG["stability"], revision.design)
    return StreamingResponse(_events(craft, frame, Reader(SYSTEMS[revision.units]), load), media_type="text/event-stream")


async def _events(craft: Craft, frame: Frame, reader: Reader, load: str) -> AsyncIterator[str]:
    codes = [change.code for change in cures_for(craft)]
    for done, code in enumerate(codes, 1):
        row = await asyncio.to_thread(_row, craft, code, reader)
        html = render("stages/stability/tabs/_cure.html", frame=frame, row=row, load=load)
        yield f"event: message\ndata: {json.dumps({'done': done, 'of': len(codes), 'row': html})}\n\n"
    yield f"event: end\ndata: {json.dumps({'done': len(codes), 'of': len(codes)})}\n\n"


def _row(craft: Craft, code: str, reader: Reader) -> CureRow:
    return row_of(craft, cures.solve(craft, code), reader)


@router.post("/boats/{boat_id:int}/{letter}/stability/cures")
def choose(yard: YardDep, boat_id: int, letter: str, code: Annotated[str, Form()], load: Annotated[str, Form()] = "") -> Response:
    """Solve the cure again and start the next revision with it."""
    revision = yard.revision(boat_id, letter)
    cure = cures.solve(_loaded(revision.design, load), code).solved
    if cure.design is None:
        raise InvalidInput("code", "That cure has no answer on this boat; choose another.")
    note = fill(cure.title.title, cure.title.values, SYSTEMS[revision.units])
    after = yard.follow(boat_id, letter, dataclasses.replace(cure.design, case=revision.design.case), note)
    return RedirectResponse(f"/boats/{boat_id}/{after.letter}/stability", 303)
