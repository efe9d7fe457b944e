"""Under way's own routes: the control surface's gain over speed as a file."""

import csv
import io

from fastapi import APIRouter
from fastapi.responses import Response

from yarekeel.core.errors import NotFound
from yarekeel.stages.underway import foils
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import craft_of
from yarekeel.web.shared.sending import sent

router = APIRouter()


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
