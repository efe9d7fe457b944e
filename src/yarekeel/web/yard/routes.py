"""The list of boats; new, duplicate, delete, restore, import."""

import dataclasses
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, File, Form, UploadFile
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput, YareKeelError
from yarekeel.core.geometry.families import FAMILIES, MeshFile
from yarekeel.exchange import boat_file, bundle, mesh_in, photo
from yarekeel.stages.design import editing
from yarekeel.stages.design.brief import DEFAULTS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.judging.gravest import gravest
from yarekeel.store.records import Boat
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, said
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.page import Reader, craft_of
from yarekeel.web.templating import render

router = APIRouter()
MESH_NEXT = "mesh"
FAMILY_CHOICES = (*((k, f.title) for k, f in FAMILIES.items() if f is not MeshFile), (MESH_NEXT, "A mesh from CAD, chosen next"))


@dataclass(frozen=True)
class Berth:
    """A boat in the list."""

    id: int
    name: str
    href: str
    letter: str
    chain: tuple[tuple[str, bool], ...]
    picture: Markup
    state: str
    verdict: str
    tone: str
    hull: str


@dataclass(frozen=True)
class YardView:
    berths: tuple[Berth, ...]
    families: tuple[tuple[str, str], ...]
    typed: str
    family: str
    kind: str
    name_error: str
    file_error: str
    deleted: int
    deleted_name: str
    asking: int
    asking_name: str


def _berth(boat: Boat) -> Berth:
    """A boat as it floats; one that cannot be read or worked out says so, and harms no other."""
    if not boat.revisions:
        lost = boat.unreadable[-1]
        chain = tuple((u.letter, False) for u in boat.unreadable)
        why = f"This program cannot read it: {lost.why} Save it as a file; nothing of it is lost."
        return Berth(
            id=boat.id,
            name=lost.name,
            href="",
            letter=lost.letter,
            chain=chain,
            picture=Markup(""),
            state=why,
            verdict="It cannot be read",
            tone="fails",
            hull="",
        )
    revision = boat.latest
    try:
        now = afloat_now(revision.design, Reader(SYSTEMS[boat.units]), 340.0, 150.0)
    except YareKeelError as error:
        now = AfloatNow(Markup(""), str(error), "fails", "It cannot be worked out")
    verdict, tone = _gravest(boat, revision.design, now)
    return Berth(
        id=boat.id,
        name=revision.design.name,
        href=f"/boats/{boat.id}/{revision.letter}/float",
        letter=revision.letter,
        chain=tuple((r.letter, bool(r.trials)) for r in boat.revisions),
        picture=now.picture,
        state=now.words,
        verdict=verdict,
        tone=tone,
        hull=revision.design.bodies[0].shape.title,
    )


def _gravest(boat: Boat, design: Design, now: AfloatNow) -> tuple[str, str]:
    """The gravest verdict of all stages in the boat's units, with how many more stand as badly; and how it stands."""
    try:
        found = gravest(craft_of(design))
    except YareKeelError:
        found = None
    if found is None:
        return now.verdict, now.tone
    more = f"; {found.more} more {'fail' if found.more > 1 else 'fails'}" if found.more and found.finding.severity == "fails" else ""
    return said(found.finding, SYSTEMS[boat.units]).title + more, found.finding.severity


def _name_of(boat: Boat) -> str:
    return boat.latest.design.name if boat.revisions else boat.unreadable[-1].name


def _page(
    yard: Yard,
    status: int = 200,
    *,
    typed: str = "",
    family: str = "round_bilge",
    kind: str = "model",
    name_error: str = "",
    file_error: str = "",
    deleted: int = 0,
    asking: int = 0,
) -> HTMLResponse:
    boats = yard.boats()
    asked = next((b for b in boats if b.id == asking), None)
    gone = yard.deleted_name(deleted) if deleted else None
    view = YardView(
        berths=tuple(_berth(b) for b in boats),
        families=FAMILY_CHOICES,
        typed=typed,
        family=family,
        kind=kind,
        name_error=name_error,
        file_error=file_error,
        deleted=deleted if gone else 0,
        deleted_name=gone or "",
        asking=asked.id if asked else 0,
        asking_name=_name_of(asked) if asked else "",
    )
    return HTMLResponse(render("yard/page.html", v=view), status)


@router.get("/")
def page(yard: YardDep, deleted: int = 0, delete: int = 0) -> HTMLResponse:
    """The yard. ``delete`` asks before it is done, ``deleted`` offers the way back."""
    return _page(yard, deleted=deleted, asking=delete)


@router.post("/boats")
def create(
    yard: YardDep,
    name: Annotated[str, Form()] = "",
    family: Annotated[str, Form()] = "round_bilge",
    kind: Annotated[str, Form()] = "model",
) -> Response:
    """A new boat of a family at its usual size; its brief is next."""
    try:
        chosen = FAMILIES.get("box" if family == MESH_NEXT else family)
        if chosen is None or chosen is MeshFile:
            raise InvalidInput("family", "Choose one of the hull families listed.")
        if kind not in DEFAULTS:
            raise InvalidInput("kind", "Choose a model, or a boat that carries people.")
        design = editing.laid_down(name.strip(), chosen(), kind)
    except InvalidInput as error:
        return _page(yard, 422, typed=name, family=family, kind=kind, name_error=error.sentence)
    boat_id = yard.create(design, "mm_kg" if kind == "people" else "mm_g")
    return RedirectResponse(f"/boats/{boat_id}/A/{'mesh' if family == MESH_NEXT else 'brief'}", 303)


@router.post("/boats/import")
def bring_in(yard: YardDep, file: Annotated[UploadFile | None, File()] = None) -> Response:
    """A boat from a boat file. Off the event loop: its hull is united and drawn, which may take seconds."""
    try:
        if file is None or not file.filename:
            raise InvalidInput("file", "Choose a boat file first: JSON, as this program saves it.")
        design, photos = _design_of(file.file.read(mesh_in.LARGEST_FILE + 1))
        photos = {name: photo.small(picture) for name, picture in photos.items()}
        Craft(design).hull  # noqa: B018 a hull that cannot be built is refused at the door
    except InvalidInput as error:
        return _page(yard, 422, file_error=error.sentence)
    boat_id = yard.create(_kept(yard, design, photos), "mm_kg" if design.brief.kind == "people" else "mm_g")
    return RedirectResponse(f"/boats/{boat_id}/A/float", 303)


def _design_of(data: bytes) -> tuple[Design, dict[str, bytes]]:
    """A boat from a boat file, or from a ZIP of one with its meshes and photos, these by name."""
    if data[:4] == b"PK\x03\x04":
        return bundle.unpack(data)
    if len(data) > boat_file.LARGEST_FILE:
        raise InvalidInput("file", f"A boat file is at most {boat_file.LARGEST_FILE // 1_000_000} MB.")
    try:
        design = boat_file.loads(data.decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise InvalidInput("file", "This is not a boat file: it is not UTF-8 text.") from None
    if names := bundle.meshes_of(design):
        raise InvalidInput("file", f"This boat names the mesh {names[0]}; put boat.json and its meshes in one ZIP and bring that in.")
    return design, {}


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
