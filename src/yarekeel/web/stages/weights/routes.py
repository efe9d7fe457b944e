"""The list of weights as a file, and photos of its lines."""

from typing import Annotated

from fastapi import APIRouter, File, UploadFile
from fastapi.responses import RedirectResponse, Response

from yarekeel.apart import Budget, apart
from yarekeel.core.errors import InvalidInput
from yarekeel.exchange import photo, reading, weights_csv
from yarekeel.stages.design import listing
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.sending import sent

router = APIRouter()


@router.get("/boats/{boat_id:int}/{letter}/weights.csv")
def table(yard: YardDep, boat_id: int, letter: str) -> Response:
    """The list as CSV, in grams and millimetres."""
    revision = yard.revision(boat_id, letter)
    return sent(revision, weights_csv.write(revision.design.weights).encode(), "csv", "text/csv; charset=utf-8")


@router.post("/boats/{boat_id:int}/{letter}/weights/{index:int}/photo")
def add_photo(yard: YardDep, boat_id: int, letter: str, index: int, file: Annotated[UploadFile | None, File()] = None) -> Response:
    """A photo on a line: made small, then kept."""
    if file is None or not file.filename:
        raise InvalidInput("photo", "Choose a picture first: a JPEG or PNG file.")
    revision = yard.revision(boat_id, letter)
    data = file.file.read(photo.LARGEST_FILE + 1)
    small = apart(reading.picture, data, budget=Budget.for_bytes(len(data)))
    design = listing.with_photo(revision.design, index, yard.keep_photo(small))
    yard.save(boat_id=boat_id, letter=letter, design=design, on=revision.snapshot, label=f"photo of {design.weights[index].name}")
    return RedirectResponse(f"/boats/{boat_id}/{letter}/weights?item={index}", 303)


@router.get("/photos/{name}")
def show_photo(yard: YardDep, name: str) -> Response:
    """A kept photo; its name never changes its picture."""
    return Response(yard.photo_data(name), media_type="image/jpeg")
