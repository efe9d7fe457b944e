"""The list of boats; new, duplicate, delete, restore, import."""

import dataclasses
from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from typing import Annotated

from fastapi import APIRouter, File, Form, Query, UploadFile
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from yarekeel.apart import Budget, apart
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES, MeshFile
from yarekeel.core.stopping import stoppable
from yarekeel.demo.boats import reedwarden
from yarekeel.exchange import archive, mesh_in, reading
from yarekeel.plain_text import plain
from yarekeel.stages.design import editing
from yarekeel.stages.design.brief import DEFAULTS
from yarekeel.stages.design.design import Design
from yarekeel.stages.sizing import outfit
from yarekeel.store import archives
from yarekeel.store.berths import ORDERS, PAGE, BerthRecord, Gone
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, parse
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.sending import attached
from yarekeel.web.templating import render
from yarekeel.web.yard.cards import MADE_BY, Berth, berth_of

router = APIRouter()
MESH_NEXT = "mesh"
WORKED_OUT_AT_ONCE = 1
"""Cards that are not kept, which a page waits for."""
FAMILY_CHOICES = (*((k, f.title) for k, f in FAMILIES.items() if f is not MeshFile), (MESH_NEXT, "A mesh from CAD, chosen next"))


LOOP = (
    ("Brief.", "What must it do, carry and keep?"),
    ("Shape, Weights.", "Draw the hull, list what is aboard."),
    ("Float, Stability.", "See it afloat, and what tips it."),
    ("Drive, Under way.", "Match its thrust, see it run."),
    ("Trials.", "Predict, go to the water, measure."),
    ("Fixes.", "Why it differs, what each change costs; then the next revision."),
)
"""The way a boat goes, told where there is none yet."""


@dataclass(frozen=True, slots=True)
class NewBoat:
    """A new boat's form as it was typed."""

    name: str = ""
    family: str = "round_bilge"
    kind: str = "model"
    length: str = ""
    usual: bool = True


@dataclass(frozen=True)
class YardView:
    berths: tuple[Berth, ...]
    families: tuple[tuple[str, str], ...]
    new: NewBoat
    wrong: Mapping[str, str]
    """Sentences by the field that was refused."""
    deleted: int
    deleted_name: str
    asking: int
    asking_name: str
    search: str
    order: str
    orders: tuple[tuple[str, str], ...]
    page: int
    pages: int
    total: int
    gone: tuple[Gone, ...]
    backup_fault: str = ""
    loop: tuple[tuple[str, str], ...] = LOOP


@dataclass(frozen=True)
class Listing:
    """Which part of the list is asked for."""

    search: str = ""
    order: str = "newest"
    page: int = 0


def _page(
    yard: Yard,
    status: int = 200,
    *,
    new: NewBoat | None = None,
    wrong: Mapping[str, str] | None = None,
    deleted: int = 0,
    asking: int = 0,
    listing: Listing | None = None,
) -> HTMLResponse:
    listing = listing or Listing()
    records, total = yard.berths.page(MADE_BY, listing.search, listing.order, listing.page)
    asked = next((r for r in records if r.id == asking), None)
    gone = yard.deleted_name(deleted) if deleted else None
    view = YardView(
        berths=_berths(yard, records),
        families=FAMILY_CHOICES,
        new=new or NewBoat(),
        wrong=wrong or {},
        deleted=deleted if gone else 0,
        deleted_name=gone or "",
        asking=asked.id if asked else 0,
        asking_name=asked.name if asked else "",
        search=listing.search,
        order=listing.order,
        orders=tuple(ORDERS.items()),
        page=listing.page,
        pages=max(-(-total // PAGE), 1),
        total=total,
        gone=yard.berths.deleted(),
        backup_fault=yard.backup_fault,
    )
    return HTMLResponse(render("yard/page.html", v=view), status)


def _berths(yard: Yard, records: tuple[BerthRecord, ...]) -> tuple[Berth, ...]:
    """Their cards, as kept. One that is not (its boat was changed) is worked out here; of more the page asks once it is there."""
    lacking = sum(r.card is None for r in records)
    return tuple(berth_of(yard, r, now=lacking <= WORKED_OUT_AT_ONCE) for r in records)


@router.get("/")
def page(
    yard: YardDep, deleted: int = 0, delete: int = 0, q: str = "", order: str = "newest", page: Annotated[int, Query(ge=0, le=9999)] = 0
) -> HTMLResponse:
    """The yard. ``delete`` asks before it is done, ``deleted`` offers the way back; ``q`` is looked for in the names."""
    listing = Listing(plain(q).strip()[:80], order if order in ORDERS else "newest", page)
    return _page(yard, deleted=deleted, asking=delete, listing=listing)


@router.get("/boats/{boat_id:int}/card")
def card(yard: YardDep, boat_id: int) -> HTMLResponse:
    """A boat's card, worked out where it is not kept."""
    berth = berth_of(yard, yard.berths.one(boat_id, MADE_BY), now=True)
    return HTMLResponse(render("yard/_card.html", b=berth))


@router.post("/boats")
def create(
    yard: YardDep,
    name: Annotated[str, Form()] = "",
    family: Annotated[str, Form()] = "round_bilge",
    kind: Annotated[str, Form()] = "model",
    length: Annotated[str, Form()] = "",
    usual: Annotated[str, Form()] = "",
) -> Response:
    """A new boat of a family at a length (its usual for none). With ``usual`` crew and gear are aboard and it is seen afloat; without, its
    brief is next."""
    units = "mm_kg" if kind == "people" else "mm_g"
    try:
        chosen = FAMILIES.get("box" if family == MESH_NEXT else family)
        if chosen is None or chosen is MeshFile:
            raise InvalidInput("family", "Choose one of the hull families listed.")
        if kind not in DEFAULTS:
            raise InvalidInput("kind", "Choose a model, or a boat that carries people.")
        long = parse(length, "length", SYSTEMS[units], "length") if length.strip() else None
        make = partial(outfit.outfitted, length=long) if usual and family != MESH_NEXT else editing.laid_down
        design = make(plain(name).strip(), outfit.sized(chosen(), long), kind)
    except InvalidInput as error:
        of_length = error.field == "length" or (bool(length.strip()) and error.field.endswith("_m"))
        new = NewBoat(name, family, kind, length, bool(usual))
        return _page(yard, 422, new=new, wrong={"length" if of_length else "name": error.sentence})
    boat_id = yard.create(design, units)
    return RedirectResponse(f"/boats/{boat_id}/A/{'mesh' if family == MESH_NEXT else 'float' if usual else 'brief'}", 303)


@router.post("/example")
def example(yard: YardDep) -> Response:
    """A boat to look at: one of the program's own, marked as an example."""
    return RedirectResponse(f"/boats/{yard.create(reedwarden(), 'mm_g')}/A/float", 303)


@router.post("/boats/import")
def bring_in(yard: YardDep, file: Annotated[UploadFile | None, File()] = None) -> Response:
    """A boat from a boat file. Read in a process of its own: what is in it may take seconds."""
    try:
        if file is None or not file.filename:
            raise InvalidInput("file", "Choose a boat file first: JSON, as this program saves it.")
        data = file.file.read(mesh_in.LARGEST_FILE + 1)
        stoppable(yes=True)
        if archive.is_archive(data):
            whole = apart(reading.everything, data, budget=Budget.for_bytes(len(data)))
            stoppable(yes=False)
            boat_id = archives.brought(yard, whole)
            return RedirectResponse(f"/boats/{boat_id}/{yard.boat(boat_id).latest.letter}/float", 303)
        design, photos = apart(reading.boat, data, budget=Budget.for_bytes(len(data)))
        stoppable(yes=False)
    except InvalidInput as error:
        return _page(yard, 422, wrong={"file": error.sentence})
    boat_id = yard.create(_kept(yard, design, photos), "mm_kg" if design.brief.kind == "people" else "mm_g")
    return RedirectResponse(f"/boats/{boat_id}/A/float", 303)


@router.get("/boats/{boat_id:int}/archive.zip")
def whole(yard: YardDep, boat_id: int) -> Response:
    """The boat with everything: revisions, meshes, photos, tracks, trials, predictions and pond sheets."""
    boat = yard.boat(boat_id)
    return attached(archives.written(yard, boat_id), f"{boat.latest.design.name}-archive.zip", "application/zip")


def _kept(yard: Yard, design: Design, photos: dict[str, bytes]) -> Design:
    """The design with its meshes and photos kept in the yard; a photo that did not come along is left out."""
    names = {name: yard.keep_photo(data) for name, data in photos.items()}
    weights = tuple(dataclasses.replace(w, photo=names.get(w.photo, "")) if w.photo else w for w in design.weights)
    bodies = (dataclasses.replace(b, shape=yard.keep_mesh(b.shape.build())) if isinstance(b.shape, MeshFile) else b for b in design.bodies)
    return dataclasses.replace(design, bodies=tuple(bodies), weights=weights)


@router.post("/boats/{boat_id:int}/duplicate")
def duplicate(yard: YardDep, boat_id: int) -> Response:
    """A copy of the latest revision."""
    copy = yard.duplicate(boat_id)
    return RedirectResponse(f"/boats/{copy}/A/float", 303)


@router.post("/boats/{boat_id:int}/delete")
def delete(yard: YardDep, boat_id: int) -> Response:
    """Take it out of the yard; the yard then offers the way back."""
    yard.delete(boat_id)
    return RedirectResponse(f"/?deleted={boat_id}", 303)


@router.post("/boats/{boat_id:int}/restore")
def restore(yard: YardDep, boat_id: int) -> Response:
    """Bring it back."""
    yard.restore(boat_id)
    return RedirectResponse("/", 303)
