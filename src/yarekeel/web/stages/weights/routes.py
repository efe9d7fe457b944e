"""The list of weights as a file."""

from fastapi import APIRouter
from fastapi.responses import Response

from yarekeel.exchange import weights_csv
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.sending import sent

router = APIRouter()


@router.get("/boats/{boat_id:int}/{letter}/weights.csv")
def table(yard: YardDep, boat_id: int, letter: str) -> Response:
    """The list as CSV, in grams and millimetres."""
    revision = yard.revision(boat_id, letter)
    return sent(revision, weights_csv.write(revision.design.weights).encode(), "csv", "text/csv; charset=utf-8")
