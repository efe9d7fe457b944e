"""Logging a float test."""

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.stages.fixes.correcting import as_found
from yarekeel.store.records import Boat, Revision
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, Reader, craft_of, float_of, frame_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.trials.form import form, read_form
from yarekeel.web.stages.trials.planning import LIMITS, PlanDep, asked_again, planned
from yarekeel.web.stages.trials.view import numbered
from yarekeel.web.templating import render

router = APIRouter()


def _asked(boat: Boat, letter: str, revision: Revision) -> PageRequest:
    return PageRequest(boat=boat, revision=revision, design=revision.design, reader=Reader(SYSTEMS[revision.units]), ask={})


@router.get("/boats/{boat_id:int}/{letter}/trials/new")
def new(yard: YardDep, boat_id: int, letter: str) -> Response:
    """The empty form; a boat that does not float yet is sent to its float."""
    boat, revision = yard.boat(boat_id), yard.revision(boat_id, letter)
    result = float_of(revision.design)
    if result is None or not result.floats:
        return RedirectResponse(f"/boats/{boat_id}/{letter}/float", 303)
    return _form_page(boat=boat, revision=revision, typed={}, seen=(), errors={}, status=200)


@router.post("/boats/{boat_id:int}/{letter}/trials/new")
async def log(request: Request, yard: YardDep, boat_id: int, letter: str) -> Response:
    """Keep the test, or show the form again with what was typed and what is wrong."""
    async with request.form(max_files=0, max_fields=60) as data:
        typed = {k: str(v) for k, v in data.items() if k != "seen"}
        seen = tuple(str(v) for v in data.getlist("seen"))
    return await run_in_threadpool(_log, yard, boat_id, letter, typed, seen)


def _log(yard: Yard, boat_id: int, letter: str, typed: dict[str, str], seen: tuple[str, ...]) -> Response:
    boat = yard.boat(boat_id)
    revision = boat.revision(letter)
    test, errors = read_form(_asked(boat, letter, revision), typed, seen)
    if test is None:
        return _form_page(boat=boat, revision=revision, typed=typed, seen=seen, errors=errors, status=422)
    record = yard.log_trial(boat_id, letter, test, typed.get("key", "")[:40] or None)
    return RedirectResponse(f"/boats/{boat_id}/{letter}/trials?trial={record.id}", 303)


@router.post("/boats/{boat_id:int}/{letter}/trials/card")
def write_card(yard: YardDep, asked: PlanDep, boat_id: int, letter: str) -> Response:
    """Write the prediction card down as the boat is now; what is changed later does not change it. Raises NoRest."""
    try:
        planned(yard, yard.revision(boat_id, letter), asked)
    except InvalidInput as error:
        if error.field not in LIMITS:
            raise  # else the form says beside the field what is wrong with it
        return RedirectResponse(f"/boats/{boat_id}/{letter}/trials?{asked_again(asked)}", 303)
    return RedirectResponse(f"/boats/{boat_id}/{letter}/trials", 303)


@router.post("/boats/{boat_id:int}/{letter}/trials/{number:int}/take")
def take(yard: YardDep, boat_id: int, letter: str, number: int) -> Response:
    """The next revision, its list, its pull and its drag as the trial found them; the record of the trial stays as it was."""
    record = next((t for t in numbered(yard.boat(boat_id)) if t.id == number), None)
    if record is None:
        raise NotFound("There is no such trial on this boat.")
    design, _ = as_found(craft_of(yard.revision(boat_id, record.letter).design), record.test)
    after = yard.follow(boat_id, record.letter, design, f"as the trial of {record.test.date} found it"[:200])
    return RedirectResponse(f"/boats/{boat_id}/{after.letter}/weights", 303)


def _form_page(
    boat: Boat, revision: Revision, typed: dict[str, str], seen: tuple[str, ...], errors: dict[str, str], status: int
) -> HTMLResponse:
    frame = frame_of(boat, revision, BY_SLUG["trials"], revision.design)
    value = form(_asked(boat, revision.letter, revision), typed, seen, errors)
    return HTMLResponse(render("stages/trials/new.html", frame=frame, v=value), status)
