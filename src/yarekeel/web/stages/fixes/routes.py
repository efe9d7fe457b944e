"""Choosing a fix: it becomes the next revision."""

import contextlib
from typing import Annotated

from fastapi import APIRouter, Form
from fastapi.responses import RedirectResponse, Response

from yarekeel.core.errors import InvalidInput, NoRest, NotFound
from yarekeel.stages.fixes.expected import expectation_of
from yarekeel.units import SYSTEMS, fill
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import Reader, craft_of
from yarekeel.web.stages.fixes.view import assessed, record_of
from yarekeel.web.stages.page_request import PageRequest

router = APIRouter()


@router.post("/boats/{boat_id:int}/{letter}/fixes/choose")
def choose(
    yard: YardDep,
    boat_id: int,
    letter: str,
    code: Annotated[str, Form()],
    trial: Annotated[str, Form()],
    item: Annotated[str, Form()] = "",
    ballast: Annotated[str, Form()] = "",
) -> Response:
    """Solve the candidate again under the same questions and start the next revision with it."""
    boat, revision = yard.boat(boat_id), yard.revision(boat_id, letter)
    reader = Reader(SYSTEMS[revision.units])
    asked = PageRequest(
        boat=boat, revision=revision, design=revision.design, reader=reader, ask={"trial": trial, "item": item, "ballast": ballast}
    )
    record = record_of(asked)
    if record is None:
        raise NotFound("There is no such trial on this revision.")
    result, error = assessed(asked, record)
    if error:
        raise InvalidInput("ballast", error)
    chosen = next((c.solved for c in result.candidates if c.solved.code == code), None)
    if chosen is None or chosen.design is None:
        raise InvalidInput("code", "That fix has no answer on this boat; choose another.")
    note = fill(chosen.title.title, chosen.title.values, reader.system)
    after = yard.follow(boat_id, letter, chosen.design, note)
    with contextlib.suppress(NoRest):
        yard.predictions.keep(after.id, "expected", expectation_of(craft_of(chosen.design), note))
    return RedirectResponse(f"/boats/{boat_id}/{after.letter}/float", 303)
