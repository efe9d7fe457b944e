"""Under way's own routes: a run kept as the prediction for a trial, and the control surface's gain over speed as a file."""

import csv
import io
from typing import Annotated

from fastapi import APIRouter, Form
from fastapi.responses import RedirectResponse, Response

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.stages.underway import foils
from yarekeel.units import SYSTEMS
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import Reader, craft_of
from yarekeel.web.shared.sending import sent
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.underway.tabs import run

router = APIRouter()
LONGEST = 4000


@router.post("/boats/{boat_id:int}/{letter}/underway/run/keep")
def keep_run(
    yard: YardDep, boat_id: int, letter: str, course: Annotated[str, Form(max_length=LONGEST)], run_depth: Annotated[str, Form()] = ""
) -> Response:
    """Keep a run as the prediction for a trial. Raises InvalidInput for a course that cannot be run."""
    boat = yard.boat(boat_id)
    revision = boat.revision(letter)
    reader = Reader(SYSTEMS[revision.units])
    asked = PageRequest(boat=boat, revision=revision, design=revision.design, reader=reader, ask={"course": course, "run_depth": run_depth})
    typed, _, text, found = run.asked_for(asked)
    if typed.error:
        raise InvalidInput("course", typed.error)
    if found is None:
        raise InvalidInput("course", run.NEEDS)
    yard.predictions.keep(revision.id, "run", run.kept_as(found, text))
    return RedirectResponse(f"/boats/{boat_id}/{letter}/trials", 303)


@router.post("/boats/{boat_id:int}/{letter}/trials/prediction/{number:int}/strike")
def strike(yard: YardDep, boat_id: int, letter: str, number: int) -> Response:
    """Strike a prediction out. Raises NotFound."""
    yard.predictions.strike(yard.revision(boat_id, letter).id, number)
    return RedirectResponse(f"/boats/{boat_id}/{letter}/trials", 303)


@router.get("/boats/{boat_id:int}/{letter}/underway/gain.csv")
def gain_csv(yard: YardDep, boat_id: int, letter: str) -> Response:
    """Speed, moment a degree and gain of a boat's control surface, in SI units. Raises NotFound for a boat without one."""
    revision = yard.revision(boat_id, letter)
    found = foils.assess(craft_of(revision.design))
    if found is None or not found.control:
        raise NotFound("This boat has no foil with a control surface.")
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\r\n")
    rows.writerow(("speed_ms", "moment_nm_per_deg", "deflection_deg_for_g_1_percent_off", "gain"))
    for c in found.control:
        rows.writerow((f"{c.speed:.3f}", f"{c.per_degree:.5g}", f"{c.needed:.4g}", f"{c.gain:.4f}"))
    return sent(revision, out.getvalue().encode(), "csv", "text/csv; charset=utf-8")
