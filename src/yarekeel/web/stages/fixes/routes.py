"""The table of fixes as they are solved, and choosing one: it becomes the next revision."""

import asyncio
import contextlib
from collections.abc import AsyncIterator
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Depends, Form, Request
from fastapi.responses import RedirectResponse, Response
from fastapi.sse import EventSourceResponse, ServerSentEvent

from yarekeel.core.errors import InvalidInput, NoRest, NotFound, YareKeelError
from yarekeel.stages.changes.takes import job
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.fixes import fixes
from yarekeel.stages.fixes.expected import expectation_of
from yarekeel.stages.fixes.fixes import JOINED, FixesAssessment
from yarekeel.store.records import TrialRecord
from yarekeel.units import SYSTEMS, fill
from yarekeel.web.shared import live
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, Frame, Reader, craft_of, frame_of
from yarekeel.web.stages.fixes.view import ASKED, FixLine, Questions, begun_or_early, codes_of, line_of, questions_of, record_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.templating import render

router = APIRouter()


@dataclass(frozen=True)
class Solving:
    """The boat as found, or (``is_early``) as its float was read while the rest is not worked out, and what is asked of its fixes."""

    craft: Craft
    record: TrialRecord
    start: FixesAssessment
    is_early: bool
    questions: Questions
    frame: Frame
    reader: Reader
    ballast: str


def _asked(asked: PageRequest) -> tuple[Craft, TrialRecord, Questions]:
    record = record_of(asked)
    if record is None:
        raise NotFound("There is no such trial on this revision.")
    questions = questions_of(asked)
    if questions.ballast_error:
        raise InvalidInput("ballast", questions.ballast_error)
    return craft_of(asked.design), record, questions


def _solving(yard: YardDep, request: Request, boat_id: int, letter: str, trial: str = "") -> Solving:
    boat, revision = yard.boat(boat_id), yard.revision(boat_id, letter)
    reader = Reader(SYSTEMS[revision.units])
    ask = {name: request.query_params.get(name, "") for name in ASKED} | {"trial": trial}
    craft, record, questions = _asked(PageRequest(boat=boat, revision=revision, design=revision.design, reader=reader, ask=ask))
    start, is_early = begun_or_early(craft, record, ask)
    frame = frame_of(boat, revision, BY_SLUG["fixes"], revision.design)
    return Solving(craft, record, start, is_early, questions, frame, reader, ask["ballast"])


@router.get("/boats/{boat_id:int}/{letter}/fixes/rows", response_class=EventSourceResponse)
async def rows(asked: Annotated[Solving, Depends(_solving)]) -> AsyncIterator[ServerSentEvent]:
    """Each fix's row as it is solved, with how many are done; where the causes are not worked out yet, first those of the float, then the
    word that the page can be drawn again. It ends when the page closes the line."""
    q = asked.questions
    codes = codes_of(asked.start, q)
    for done, code in enumerate(codes, 1):
        line = await asyncio.to_thread(_line, asked, code)
        html = render("stages/fixes/_row.html", frame=asked.frame, line=line, q=q, trial=asked.record.id, ballast=asked.ballast)
        yield live.step(done=done, of=len(codes) + asked.is_early, row=html)
    if asked.is_early:
        with contextlib.suppress(YareKeelError):  # the page that is drawn again says it
            await asyncio.to_thread(fixes.begun, asked.craft, asked.record.test)
        yield ServerSentEvent(data={}, event="found")
    else:
        yield live.end(done=len(codes), of=len(codes))


def _line(asked: Solving, code: str) -> FixLine:
    q = asked.questions
    return line_of(asked.reader, asked.start, fixes.candidate(asked.start, code, q.item, q.ballast), q.show)


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
    ask = {"trial": trial, "item": item, "ballast": ballast}
    craft, record, q = _asked(PageRequest(boat=boat, revision=revision, design=revision.design, reader=reader, ask=ask))
    start = fixes.begun(craft, record.test)
    chosen = fixes.candidate(start, code, q.item, q.ballast).solved
    if chosen.design is None:
        raise InvalidInput("code", "That fix has no answer on this boat; choose another.")
    note = fill(chosen.title.title, chosen.title.values, reader.system)
    expected = None
    with contextlib.suppress(NoRest):
        work = fill(chosen.work.title, chosen.work.values, reader.system)
        expected = expectation_of(craft_of(chosen.design), note) | {"job": job(tuple(code.split(JOINED)), work)}
    after = yard.follow(boat_id, letter, chosen.design, note, expected)
    return RedirectResponse(f"/boats/{boat_id}/{after.letter}/float", 303)
