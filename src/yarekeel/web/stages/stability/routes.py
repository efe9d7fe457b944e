"""Stability's own routes: the cures as they are solved, and the one that becomes the next revision."""

import asyncio
import dataclasses
from collections.abc import AsyncIterator
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Depends, Form
from fastapi.responses import RedirectResponse, Response
from fastapi.sse import EventSourceResponse, ServerSentEvent

from yarekeel.core.errors import InvalidInput
from yarekeel.stages.changes import cures
from yarekeel.stages.changes.register import cures_for
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.units import SYSTEMS, fill
from yarekeel.web.shared import live
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, Frame, Reader, craft_of, frame_of
from yarekeel.web.stages.stability.tabs.cures import CureRow, row_of
from yarekeel.web.templating import render

router = APIRouter()


def _loaded(design: Design, load: str) -> Craft:
    if load and load not in {c.name for c in design.cases}:
        raise InvalidInput("load", "There is no such load case on this boat.")
    return craft_of(craft_of(design).in_case(load).design)


@dataclass(frozen=True)
class Solving:
    """The boat whose cures are asked for."""

    craft: Craft
    frame: Frame
    reader: Reader
    load: str


def _solving(yard: YardDep, boat_id: int, letter: str, load: str = "") -> Solving:
    boat = yard.boat(boat_id)
    revision = boat.revision(letter)
    craft = _loaded(revision.design, load)
    if not any(i.mass_kg > 0 for i in craft.items):
        raise InvalidInput("weights", "Nothing aboard weighs anything yet; enter its weights first.")
    frame = frame_of(boat, revision, BY_SLUG["stability"], revision.design)
    return Solving(craft, frame, Reader(SYSTEMS[revision.units]), load)


@router.get("/boats/{boat_id:int}/{letter}/stability/cures", response_class=EventSourceResponse)
async def solved(asked: Annotated[Solving, Depends(_solving)]) -> AsyncIterator[ServerSentEvent]:
    """Each cure's row as it is solved, with how many are done. It ends when the page closes the line."""
    craft, frame, reader, load = asked.craft, asked.frame, asked.reader, asked.load
    codes = [change.code for change in cures_for(craft)]
    for done, code in enumerate(codes, 1):
        row = await asyncio.to_thread(_row, craft, code, reader)
        html = render("stages/stability/tabs/_cure.html", frame=frame, row=row, load=load)
        yield live.step(done=done, of=len(codes), row=html)
    yield live.end(done=len(codes), of=len(codes))


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
