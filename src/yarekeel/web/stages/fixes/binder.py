"""The boat bound: a PDF, a page to print, and its trials as a table and a list."""

from datetime import date

from fastapi import APIRouter
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.exchange import trial_log
from yarekeel.exchange.binder import pdf
from yarekeel.exchange.binder.content import Bound, Photo, Picture, Section, Table, Verdict, bound
from yarekeel.store.binders import photo_of, told_of
from yarekeel.store.records import Boat
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, frame_of
from yarekeel.web.shared.sending import attached
from yarekeel.web.stages.trials.view import numbered
from yarekeel.web.templating import render

router = APIRouter()


def _bound(yard: Yard, boat: Boat, letter: str) -> tuple[Bound, tuple[Section, ...]]:
    revision = yard.revision(boat.id, letter)
    return bound(told_of(yard, boat), revision.letter, SYSTEMS[revision.units], f"{date.today():%Y-%m-%d}")


@router.get("/boats/{boat_id:int}/{letter}/binder.pdf")
def as_pdf(yard: YardDep, boat_id: int, letter: str, paper: str = "A4") -> Response:
    """The whole boat as one PDF on A4 or Letter."""
    if paper not in pdf.PAPERS:
        raise InvalidInput("paper", f"Paper is one of: {', '.join(pdf.PAPERS)}.")
    b, sections = _bound(yard, yard.boat(boat_id), letter)
    data = pdf.write(b, sections, lambda name: photo_of(yard, name), paper)
    return attached(data, f"{b.head[0][1]}-{letter}.pdf", "application/pdf")


@router.get("/boats/{boat_id:int}/{letter}/binder")
def as_page(yard: YardDep, boat_id: int, letter: str) -> HTMLResponse:
    """The same as one page to read and to print."""
    boat = yard.boat(boat_id)
    b, sections = _bound(yard, boat, letter)
    revision = boat.revision(letter)
    frame = frame_of(boat, revision, BY_SLUG["fixes"], revision.design)
    shown = [(s.title, [_shown(block) for block in s.blocks]) for s in sections]
    return HTMLResponse(render("stages/fixes/binder.html", frame=frame, head=b.head, sections=shown))


def _shown(block: object) -> tuple[str, object]:
    """A block with the word that the page knows its kind by."""
    if isinstance(block, Picture):
        return "picture", Markup(block.svg)
    kinds = {Table: "table", Photo: "photo", Verdict: "verdict"}
    return kinds.get(type(block), "words"), block


@router.get("/boats/{boat_id:int}/trials.csv")
def log_csv(yard: YardDep, boat_id: int) -> Response:
    """The trials of all revisions as a table."""
    boat = yard.boat(boat_id)
    text = trial_log.as_csv([(t.letter, t.test) for t in numbered(boat)])
    return attached(text.encode(), f"{boat.latest.design.name}-trials.csv", "text/csv")


@router.get("/boats/{boat_id:int}/trials.json")
def log_json(yard: YardDep, boat_id: int) -> Response:
    """The trials of all revisions with everything that is kept of them."""
    boat = yard.boat(boat_id)
    text = trial_log.as_json([(t.letter, t.test) for t in numbered(boat)])
    return attached(text.encode(), f"{boat.latest.design.name}-trials.json", "application/json")
