"""The pond sheet's addresses. All that a phone reaches begins with /pond/CODE; what opens, shares or collects a sheet is the bench's."""

import base64
import binascii
import re
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, File, Form, UploadFile
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from pydantic import BaseModel, Field, ValidationError

from yarekeel.apart import Budget, apart
from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.exchange import photo, reading
from yarekeel.exchange.tracks import LARGEST_FILE as LARGEST_TRACK
from yarekeel.plain_text import plain
from yarekeel.stages.trials.sheet import Entry, collected, usable
from yarekeel.store.records import letter_of
from yarekeel.store.sheets import Sheet
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS
from yarekeel.web.pond import phones
from yarekeel.web.pond.tracks import kept_track, mine
from yarekeel.web.pond.view import entries_data, entry_data, parser_of, shown_from, view
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import Reader
from yarekeel.web.shared.sending import attached
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.trials.plan_view import cards_of
from yarekeel.web.stages.trials.planning import LIMITS, PlanDep, asked_again, planned
from yarekeel.web.templating import render

sheet_router = APIRouter()
"""What a phone may reach."""
router = APIRouter()
"""What only the bench may."""
STATIC = Path(__file__).parent.parent / "static"
INLINED = ("alpine/pond.js", "vendor/alpine-csp.min.js")
LARGEST_READINGS = 40_000_000
"""Bytes of a file of readings with its photos."""
LARGEST_SENT = max(photo.LARGEST_FILE, LARGEST_TRACK)
_KEY = re.compile(r"[A-Za-z0-9_-]{8,40}")
_MOMENT = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d{1,6})?Z?")


class Sent(BaseModel):
    """An entry as a phone sends it."""

    key: str = Field(pattern=_KEY.pattern, max_length=40)
    code: str = Field(max_length=20)
    at: str = Field(pattern=f"^{_MOMENT.pattern}$", max_length=30)
    typed: dict[str, str] = Field(default_factory=dict, max_length=20)


class SentWithPhoto(Sent):
    """An entry of a file of readings; its photo as base64."""

    photo: str | None = Field(default=None, max_length=LARGEST_READINGS)


@sheet_router.get("/pond/worker.js")
def worker() -> Response:
    """The script that keeps an opened sheet, from where it may watch over all sheets."""
    return Response((STATIC / "pond-worker.js").read_bytes(), media_type="text/javascript")


@sheet_router.get("/pond/{code}")
def sheet_page(yard: YardDep, code: str) -> HTMLResponse:
    """The sheet."""
    return HTMLResponse(render("pond/sheet.html", v=view(yard, code, "page"), inline=None))


@sheet_router.get("/pond/{code}/manifest.json")
def manifest(yard: YardDep, code: str) -> JSONResponse:
    """What makes the sheet a page that a phone installs."""
    sheet = yard.sheets.sheet(code)
    return JSONResponse(
        {
            "name": f"Pond sheet: {sheet.shows['boat']} {letter_of(sheet.number)}",
            "short_name": "Pond sheet",
            "start_url": f"/pond/{code}",
            "scope": "/pond/",
            "display": "standalone",
            "background_color": "#ffffff",
            "theme_color": "#15232B",
            "icons": [{"src": "/static/mark.svg", "sizes": "any", "type": "image/svg+xml"}],
        },
        media_type="application/manifest+json",
    )


@sheet_router.get("/pond/{code}/entries")
def entries(yard: YardDep, code: str) -> JSONResponse:
    """All that was entered, from whichever phone."""
    sheet = yard.sheets.sheet(code)
    return JSONResponse({"entries": entries_data(yard.sheets.entries(sheet), parser_of(sheet))})


@sheet_router.post("/pond/{code}/entries")
def note(
    yard: YardDep, code: str, entry: Annotated[str, Form(max_length=60_000)], file: Annotated[UploadFile | None, File()] = None
) -> Response:
    """Keep an entry. Answers when it is kept; one that was kept before is answered the same."""
    sheet = yard.sheets.sheet(code)
    try:
        sent = Sent.model_validate_json(entry)
    except ValidationError:
        raise InvalidInput("entry", "This entry was not understood; reload the sheet.") from None
    kept = _kept(yard, sheet, sent, file.file.read(LARGEST_SENT + 1) if file else None)
    return JSONResponse({"entry": entry_data(kept, parser_of(sheet), {})})


def _kept(yard: Yard, sheet: Sheet, sent: Sent, picture: bytes | None) -> Entry:
    if sent.code == "track":
        return _kept_track(yard, sheet, sent, picture)
    typed = usable(sent.code, {plain(k)[:40]: v for k, v in sent.typed.items()})
    if sent.code == "photo" and picture is None and not yard.sheets.has(sheet, sent.key):
        raise InvalidInput("photo", "Choose a picture first.")
    name = None
    if picture is not None and not yard.sheets.has(sheet, sent.key):
        name = yard.keep_photo(apart(reading.picture, picture, budget=Budget.for_bytes(len(picture))))
    made = Entry(sent.key, sent.code, sent.at, typed, name)
    yard.sheets.add(sheet, made)
    return made


def _kept_track(yard: Yard, sheet: Sheet, sent: Sent, data: bytes | None) -> Entry:
    known = next((e for e in yard.sheets.entries(sheet) if e.key == sent.key), None)
    if known is not None:
        return known
    if data is None:
        raise InvalidInput("track", "Choose a track first: a GPX file, or a CSV table.")
    made = Entry(sent.key, "track", sent.at, kept_track(yard, sheet, data, sent.typed.get("name", "track.gpx"), anyway=False))
    yard.sheets.add(sheet, made)
    return made


@sheet_router.get("/pond/{code}/photos/{name}")
def sheet_photo(yard: YardDep, code: str, name: str) -> Response:
    """A photo of this sheet."""
    if all(e.photo != name for e in yard.sheets.entries(yard.sheets.sheet(code))):
        raise NotFound("There is no such photo on this sheet.")
    return Response(yard.photo_data(name), media_type="image/jpeg")


@sheet_router.get("/pond/{code}/print")
def paper(yard: YardDep, code: str) -> HTMLResponse:
    """The sheet on one page of paper, A4 or Letter."""
    return HTMLResponse(render("pond/paper.html", v=view(yard, code, "page")))


@sheet_router.get("/pond/{code}/file")
def one_file(yard: YardDep, code: str) -> Response:
    """The sheet as one HTML file that works by itself."""
    made = view(yard, code, "file")
    scripts = [(STATIC / name).read_text(encoding="utf-8").replace("</script", "<\\/script") for name in INLINED]
    style = re.sub(r"@font-face\{[^}]*\}", "", (STATIC / "css/app.css").read_text(encoding="utf-8"))
    page = render("pond/sheet.html", v=made, inline={"scripts": scripts, "style": style})
    return attached(page.encode(), f"pond-sheet-{made.boat}-{made.letter}.html", "text/html; charset=utf-8")


# The bench's side


@router.post("/boats/{boat_id:int}/{letter}/pond")
def open_sheet(yard: YardDep, plan: PlanDep, boat_id: int, letter: str) -> Response:
    """Open a sheet: the prediction card is written down first, and stays as it is. Raises NoRest."""
    boat, revision = yard.boat(boat_id), yard.revision(boat_id, letter)
    try:
        number = planned(yard, revision, plan)
    except InvalidInput as error:
        if error.field not in LIMITS:
            raise
        return RedirectResponse(f"/boats/{boat_id}/{letter}/trials?{asked_again(plan)}", 303)
    asked = PageRequest(
        boat=boat,
        revision=revision,
        design=revision.design,
        reader=Reader(SYSTEMS[revision.units]),
        ask={},
        predictions=yard.predictions.of,
    )
    card = next(c for c in cards_of(asked) if c.id == number)
    code = yard.sheets.open(revision.id, plain(plan.place).strip(), shown_from(card, boat, letter))
    return RedirectResponse(f"/boats/{boat_id}/{letter}/pond/{code}", 303)


@router.get("/boats/{boat_id:int}/{letter}/pond/{code}")
def ways(yard: YardDep, sharing: phones.SharingDep, boat_id: int, letter: str, code: str) -> HTMLResponse:
    """How a sheet gets to the water: here, on a phone by a link, on paper, or as a file."""
    return phones.ways_page(yard, mine(yard, boat_id, letter, code), sharing, link="")


@router.post("/boats/{boat_id:int}/{letter}/pond/{code}/link")
def link(yard: YardDep, sharing: phones.SharingDep, boat_id: int, letter: str, code: str) -> HTMLResponse:
    """A new one-time link for a phone."""
    sheet = mine(yard, boat_id, letter, code)
    if sharing is None:
        raise InvalidInput("share", phones.NOT_SHARED)
    return phones.ways_page(yard, sheet, sharing, link=f"{sharing.address}/enter/{yard.sheets.link(sheet)}")


@router.post("/boats/{boat_id:int}/{letter}/pond/{code}/end")
def end(yard: YardDep, boat_id: int, letter: str, code: str) -> Response:
    """End every phone's session and every link of a sheet."""
    yard.sheets.end(mine(yard, boat_id, letter, code))
    return RedirectResponse(f"/boats/{boat_id}/{letter}/pond/{code}", 303)


@router.post("/boats/{boat_id:int}/{letter}/pond/{code}/trial")
def make_trial(yard: YardDep, boat_id: int, letter: str, code: str) -> Response:
    """The trial that a sheet's entries make. The same entries make it once. Raises InvalidInput without a reading."""
    sheet = mine(yard, boat_id, letter, code)
    kept = yard.sheets.entries(sheet)
    found = collected(kept, parser_of(sheet), sheet.date, sheet.place)
    if found.test is None:
        raise InvalidInput("sheet", found.problems[""])
    record = yard.log_trial(boat_id, letter, found.test, f"sheet-{sheet.code}-{len(kept)}")
    return RedirectResponse(f"/boats/{boat_id}/{letter}/trials?trial={record.id}", 303)


@router.post("/boats/{boat_id:int}/{letter}/pond/{code}/readings")
def bring(yard: YardDep, boat_id: int, letter: str, code: str, file: Annotated[UploadFile | None, File()] = None) -> Response:
    """Readings that a sheet of one file gave back. Those that came before are kept once. Raises InvalidInput."""
    sheet = mine(yard, boat_id, letter, code)
    if file is None or not file.filename:
        raise InvalidInput("file", "Choose the file that the sheet saved its readings in.")
    data = file.file.read(LARGEST_READINGS + 1)
    if len(data) > LARGEST_READINGS:
        raise InvalidInput("file", f"A file of readings is at most {LARGEST_READINGS // 1_000_000} MB.")
    for sent, picture in _brought(data, code):
        _kept(yard, sheet, sent, picture)
    return RedirectResponse(f"/boats/{boat_id}/{letter}/pond/{code}", 303)


class Brought(BaseModel):
    """A file of readings."""

    format: str = Field(pattern="^yare-keel-sheet$")
    version: int = Field(ge=1, le=1)
    sheet: str = Field(max_length=40)
    entries: list[SentWithPhoto] = Field(max_length=2000)


def _brought(data: bytes, code: str) -> list[tuple[Sent, bytes | None]]:
    try:
        read = Brought.model_validate_json(data)
        pictures = [base64.b64decode(e.photo, validate=True) if e.photo else None for e in read.entries]
    except (ValidationError, binascii.Error):
        raise InvalidInput("file", "This is not a file of readings that a pond sheet saved.") from None
    if read.sheet != code:
        raise InvalidInput("file", "These readings were noted on another pond sheet; bring them in there.")
    return list(zip(read.entries, pictures, strict=True))
