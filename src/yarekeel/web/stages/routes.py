"""Every stage's page, and the one route that every edit, drag and question goes through."""

import dataclasses
from collections.abc import Mapping
from importlib import import_module
from types import ModuleType
from typing import Annotated, Any, Literal
from urllib.parse import parse_qsl, urlencode

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from pydantic import BaseModel, Field

from yarekeel.core.errors import Conflict, InvalidInput, NoAnswer, NotFound
from yarekeel.core.kept import KEEP
from yarekeel.core.stopping import stoppable
from yarekeel.exchange import boat_file, bundle
from yarekeel.instruments.shelf import Shelf
from yarekeel.stages.design import editing
from yarekeel.stages.design.aboard import refreshed
from yarekeel.stages.design.design import Design, value_at
from yarekeel.stages.design.faults import noted_fault
from yarekeel.store.records import Boat, Revision
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, System, said
from yarekeel.web.shared.access import ShelfDep, YardDep
from yarekeel.web.shared.fields import field, parsed, spec_of
from yarekeel.web.shared.page import BY_SLUG, STAGES, Frame, Reader, Stage, craft_of, frame_of
from yarekeel.web.shared.sending import sent
from yarekeel.web.shared.speaking import shown_after
from yarekeel.web.stages.commands import COMMANDS, REDRAWS, Doing, command_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.templating import render

router = APIRouter()
MOST_NUMBER = 10**12
"""No state is counted so far."""
VIEWS: dict[str, ModuleType] = {s.slug: import_module(f"yarekeel.web.stages.{s.folder}.view") for s in STAGES}


class Change(BaseModel):
    """One edit: a field set to what was typed, a line added or removed by its path, or a command done by its ``verb``; ``path`` is
    also what a refusal is answered beside."""

    path: str = Field(max_length=120)
    action: Literal["set", "add", "remove", "do"] = "set"
    text: str | None = Field(default=None, max_length=2_000_000)
    verb: str = Field(default="", max_length=60)
    args: dict[str, Any] = Field(default_factory=dict, max_length=20)


class Look(BaseModel):
    """What a page sends: the state it was made on, the edits, the questions on the page; ``keep`` saves, ``whole`` asks for
    the page's form again too."""

    on: int = Field(ge=0, le=MOST_NUMBER)
    seq: int = Field(default=0, ge=0, le=MOST_NUMBER)
    changes: list[Change] = Field(default_factory=list, max_length=50)
    ask: dict[str, str] = Field(default_factory=dict, max_length=40)
    keep: bool = False
    whole: bool = False


def stage_of(slug: str) -> Stage:
    """The stage of an address. Raises NotFound."""
    stage = BY_SLUG.get(slug)
    if stage is None:
        raise NotFound("There is no such stage.")
    return stage


def asked_of(yard: Yard, boat: Boat, revision: Revision, design: Design, ask: Mapping[str, str]) -> PageRequest:
    """What a view is asked with."""
    return PageRequest(
        boat=boat,
        revision=revision,
        design=design,
        reader=Reader(SYSTEMS[revision.units]),
        ask=ask,
        parts=yard.bin.all,
        predictions=yard.predictions.of,
        sheets=yard.sheets.of,
    )


@router.get("/boats/{boat_id:int}/{letter}/boat.json")
def download(yard: YardDep, boat_id: int, letter: str) -> Response:
    """The revision as a boat file; with its meshes and photos, in a ZIP, where it has any."""
    if (kept := yard.document(boat_id, letter)) is not None:  # it cannot be read, but it is the builder's
        name = f'attachment; filename="boat-{boat_id}.json"'
        return Response(kept, media_type="application/json", headers={"content-disposition": name})
    revision = yard.revision(boat_id, letter)
    if bundle.meshes_of(revision.design) or bundle.photos_of(revision.design):
        return sent(revision, bundle.pack(revision.design, yard.mesh_data, yard.photo_data), "zip", "application/zip")
    return sent(revision, boat_file.dumps(revision.design).encode(), "json", "application/json")


@router.get("/boats/{boat_id:int}/{letter}/{slug}")
def page(request: Request, yard: YardDep, boat_id: int, letter: str, slug: str) -> HTMLResponse:
    """A stage of a revision."""
    stage = stage_of(slug)
    boat = yard.boat(boat_id)
    revision = boat.revision(letter)
    asked = asked_of(yard, boat, revision, revision.design, dict(request.query_params))
    frame = frame_of(boat, revision, stage, revision.design)
    try:
        return HTMLResponse(render(f"stages/{stage.folder}/page.html", frame=frame, v=VIEWS[slug].view(asked)))
    except Exception as error:  # whatever is kept of a boat, its page opens
        return HTMLResponse(render("shared/fault.html", frame=frame, fault=said(noted_fault(error), asked.reader.system)))


@router.post("/boats/{boat_id:int}/{letter}/{slug}/look")
def look(yard: YardDep, shelf: ShelfDep, boat_id: int, letter: str, slug: str, body: Look) -> JSONResponse:
    """Apply edits (kept or only tried), answer the page's questions, and send the parts that changed.

    A field that cannot be used is answered beside its name; the edits that can be are still applied.
    """
    stage = stage_of(slug)
    stoppable(yes=not body.keep)
    boat = yard.boat(boat_id)
    revision = boat.revision(letter)
    design, errors, label = _applied(yard, revision, body.changes, body.ask, shelf)
    # A refused edit leaves the form as it is, with what was typed.
    structural = body.whole or (any(_redraws_form(c) for c in body.changes) and not errors)
    if body.keep and design is not revision.design:
        units = _units_after(design, body.changes, errors, SYSTEMS[boat.units])
        changed = units if units != boat.units else None
        revision = yard.save(boat_id=boat_id, letter=letter, design=design, on=body.on, label=label, units=changed)
        structural = structural or changed is not None
        others = (dataclasses.replace(r, units=units) for r in boat.revisions)
        boat = Boat(boat_id, units, tuple(revision if r.letter == letter else r for r in others))
    elif body.keep and body.changes and revision.is_sealed:
        raise Conflict(f"Revision {letter} has a trial on it and is sealed; start the next revision to change it.")
    frame = frame_of(boat, revision, stage, design)
    asked = asked_of(yard, boat, revision, design, body.ask)
    parts, shown = _parts(slug, asked, frame, structural)
    if body.keep:
        parts |= {name: render(f"shared/_{name}.html", frame=frame) for name in ("ladder", "status", "load")}
    system = SYSTEMS[revision.units]
    # A changed family or kind redraws its whole form, so only plain fields are said again.
    plain = [c.path for c in body.changes if c.action == "set" and c.path not in errors]
    fields = {} if structural else {path: field(design, path, system).text for path in plain}
    says: dict[str, str] = {}
    if body.keep and not structural and shown is not None and hasattr(VIEWS[slug], "said_again"):
        again, says = VIEWS[slug].said_again(shown)
        fields = {path: text for path, text in again.items() if path not in errors} | fields
    return JSONResponse({"seq": body.seq, "snapshot": revision.snapshot, "fields": fields, "errors": errors, "parts": parts, "says": says})


def _parts(slug: str, asked: PageRequest, frame: Frame, structural: bool) -> tuple[dict[str, str], Any]:
    """The parts of a page drawn again, and the view they show (None if they were remembered, as is done where they depend on
    nothing but the design and the questions)."""
    view = VIEWS[slug]
    wanted = tuple(part for part in view.PARTS if part != "form" or structural)
    key = ("shown", frame.base, asked.sealed, asked.design, asked.reader, tuple(sorted(asked.ask.items())), wanted)
    alone = getattr(view, "DEPENDS_ON_DESIGN_ALONE", False)
    known = KEEP.get(key) if alone else None
    if known is not None:
        return dict(known), None
    try:
        value = view.view(asked)
        parts = {part: render(f"stages/{frame.stage.folder}/_{part}.html", frame=frame, v=value) for part in wanted}
    except Exception as error:
        return {"live": render("shared/_fault.html", frame=frame, fault=said(noted_fault(error), asked.reader.system))}, None
    if alone:
        KEEP.put(key, dict(parts))
    return parts, value


def _units_after(design: Design, changes: list[Change], errors: Mapping[str, str], system: System) -> str:
    """The units that the boat is shown in once pulls were typed."""
    code = system.code
    for c in changes:
        if c.action == "set" and c.path not in errors and c.text and spec_of(design, c.path).kind == "force":
            code = shown_after(c.text, SYSTEMS[code])
    return code


def _redraws_form(change: Change) -> bool:
    """Whether an edit gives the page's form other fields or other words."""
    if change.action == "do":
        return "form" in COMMANDS[change.verb].redraws if change.verb in COMMANDS else False
    return change.action != "set" or bool(REDRAWS.fullmatch(change.path))


def _applied(
    yard: Yard, revision: Revision, changes: list[Change], ask: dict[str, str], shelf: Shelf
) -> tuple[Design, dict[str, str], str]:
    design = revision.design
    errors: dict[str, str] = {}
    labels: list[str] = []
    for change in changes:
        try:
            changed, words = _one(Doing(craft_of(design), SYSTEMS[revision.units], shelf, revision.boat_id, yard.bin.part), change, ask)
        except (InvalidInput, NoAnswer) as error:
            errors[change.path] = str(error)
            continue
        if changed != design:
            design, labels = changed, [*labels, words]
    if design is not revision.design:
        design = refreshed(design, craft_of(design).aboard)
    return design, errors, "; ".join(labels)[:200] or "no change"


def _one(doing: Doing, change: Change, ask: dict[str, str]) -> tuple[Design, str]:
    """The changed design, and what was done in a few words; what a command makes the page ask about next goes into ``ask``."""
    craft, design = doing.craft, doing.design
    if change.action == "do":
        done, words = command_of(change.verb).done(doing, change.args)
        ask.update(done.ask)
        return done.design, words
    if change.action == "add":
        return editing.add_line(craft, change.path), f"add to {change.path.split('.')[-1]}"
    if change.action == "remove":
        name = getattr(value_at(design, change.path), "name", "battery")
        return editing.remove_line(design, change.path), f"remove {name}"
    value: Any = parsed(design, change.path, change.text or "", doing.system)
    return editing.set_field(craft, change.path, value), spec_of(design, change.path).label.lower()


class Step(BaseModel):
    """The state that a step back or forward starts from."""

    on: int = Field(ge=0, le=MOST_NUMBER)


@router.post("/boats/{boat_id:int}/{letter}/undo")
def undo(yard: YardDep, boat_id: int, letter: str, step: Step) -> JSONResponse:
    """One edit back."""
    return JSONResponse({"snapshot": yard.undo(boat_id, letter, step.on).snapshot})


@router.post("/boats/{boat_id:int}/{letter}/redo")
def redo(yard: YardDep, boat_id: int, letter: str, step: Step) -> JSONResponse:
    """One edit forward."""
    return JSONResponse({"snapshot": yard.redo(boat_id, letter, step.on).snapshot})


@router.post("/boats/{boat_id:int}/{letter}/follow")
def follow(yard: YardDep, boat_id: int, letter: str, stage: Annotated[str, Form()] = "float") -> Response:
    """The next revision as it is, to be changed by hand: at any time, with a trial or without."""
    revision = yard.revision(boat_id, letter)
    after = yard.follow(boat_id, letter, revision.design, "changed by hand")
    return RedirectResponse(f"/boats/{boat_id}/{after.letter}/{stage_of(stage).slug}", 303)


@router.post("/boats/{boat_id:int}/{letter}/units")
def choose_units(
    yard: YardDep,
    boat_id: int,
    letter: str,
    units: Annotated[str, Form()],
    stage: Annotated[str, Form()] = "float",
    ask: Annotated[str, Form(max_length=2000)] = "",
) -> Response:
    """The units the boat is shown in; ``ask`` is what was asked on the page, which it returns to."""
    if units not in SYSTEMS:
        raise InvalidInput("units", f"Units must be one of: {', '.join(s.title for s in SYSTEMS.values())}.")
    yard.set_units(boat_id, units)
    asked = urlencode(parse_qsl(ask.removeprefix("?")))
    page = f"/boats/{boat_id}/{yard.boat(boat_id).revision(letter).letter}/{stage_of(stage).slug}"
    return RedirectResponse(f"{page}?{asked}" if asked else page, 303)
