"""Every stage's page, and the one route that every edit, drag and question goes through."""

import re
import threading
from collections import OrderedDict
from collections.abc import Mapping
from importlib import import_module
from types import ModuleType
from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from pydantic import BaseModel, Field

from yarekeel.core.errors import Conflict, InvalidInput, NoAnswer, NotFound, YareKeelError
from yarekeel.exchange import boat_file, bundle, offsets_csv, weights_csv
from yarekeel.stages.changes import answers
from yarekeel.stages.design import editing, listing
from yarekeel.stages.design.aboard import refreshed
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design, value_at
from yarekeel.stages.design.faults import fault_of
from yarekeel.stages.shape import bodies
from yarekeel.stages.weights import weigh_in
from yarekeel.store.yard import Boat, Revision
from yarekeel.units import SYSTEMS, parse, said
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.fields import field, parsed, spec_of
from yarekeel.web.shared.page import BY_SLUG, STAGES, Frame, Reader, Stage, craft_of, frame_of
from yarekeel.web.shared.sending import sent
from yarekeel.web.stages.asked import Asked
from yarekeel.web.stages.stability import sensor
from yarekeel.web.stages.weights import scale
from yarekeel.web.templating import render

router = APIRouter()
VIEWS: dict[str, ModuleType] = {s.slug: import_module(f"yarekeel.web.stages.{s.folder}.view") for s in STAGES}


class Change(BaseModel):
    """One edit: a field set to what was typed, a weight put at a place (SI), a line added or removed, a thing done to a body."""

    path: str = Field(max_length=120)
    text: str | None = Field(default=None, max_length=2_000_000)
    place: tuple[float, float, float] | None = None
    action: str = Field(default="set", pattern="^(set|place|add|remove|do)$")


class Look(BaseModel):
    """What a page sends: the state it was made on, the edits, the questions on the page; ``keep`` saves, ``whole`` asks for
    the page's form again too."""

    on: int
    seq: int = 0
    changes: list[Change] = Field(default_factory=list, max_length=50)
    ask: dict[str, str] = Field(default_factory=dict, max_length=40)
    keep: bool = False
    whole: bool = False


_REDRAWS = re.compile(
    r"case|cases\.\d+\.(name|counts\.\d+)|weights\.\d+\.(recipe\..*|pair)|weigh_in\..*|materials\..*|brief\.kind|compartments\.\d+\..*|"
    r"bodies\.\d+\.(shape\.kind|role|name|shape\.changes\..*|shape\.sections)"
)
"""Fields whose change gives the form other fields or other words."""
_COUNT = re.compile(r"cases\.(\d{1,3})\.counts\.(\d{1,4})")
"""How many of a weight are aboard in a load case; empty for as listed."""


def stage_of(slug: str) -> Stage:
    """The stage of an address. Raises NotFound."""
    stage = BY_SLUG.get(slug)
    if stage is None:
        raise NotFound("There is no such stage.")
    return stage


def asked_of(boat: Boat, revision: Revision, design: Design, ask: Mapping[str, str]) -> Asked:
    """What a view is asked with."""
    return Asked(boat, revision, design, Reader(SYSTEMS[revision.units]), ask)


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
    asked = asked_of(boat, revision, revision.design, dict(request.query_params))
    frame = frame_of(boat, revision, stage, revision.design)
    try:
        value = VIEWS[slug].view(asked)
    except YareKeelError as error:
        return HTMLResponse(render("shared/fault.html", frame=frame, fault=said(fault_of(error), asked.reader.system)))
    return HTMLResponse(render(f"stages/{stage.folder}/page.html", frame=frame, v=value))


@router.post("/boats/{boat_id:int}/{letter}/{slug}/look")
def look(yard: YardDep, boat_id: int, letter: str, slug: str, body: Look) -> JSONResponse:
    """Apply edits (kept or only tried), answer the page's questions, and send the parts that changed.

    A field that cannot be used is answered beside its name; the edits that can be are still applied.
    """
    stage = stage_of(slug)
    boat = yard.boat(boat_id)
    revision = boat.revision(letter)
    design, errors, label = _applied(revision, body.changes, body.ask)
    # A refused edit leaves the form as it is, with what was typed.
    redraws = any(c.action in ("add", "remove", "do") or _REDRAWS.fullmatch(c.path) for c in body.changes)
    structural = body.whole or (redraws and not errors)
    if body.keep and design is not revision.design:
        revision = yard.save(boat_id, letter, design, body.on, label)
        boat = Boat(boat_id, boat.units, tuple(revision if r.letter == letter else r for r in boat.revisions))
    elif body.keep and body.changes and revision.is_sealed:
        raise Conflict(f"Revision {letter} has a trial on it and is sealed; start the next revision to change it.")
    frame = frame_of(boat, revision, stage, design)
    asked = asked_of(boat, revision, design, body.ask)
    parts, shown = _parts(slug, asked, frame, structural)
    if body.keep:
        parts |= {name: render(f"shared/_{name}.html", frame=frame) for name in ("ladder", "status", "load")}
    system = SYSTEMS[revision.units]
    # A changed family or kind redraws its whole form, so only plain fields are said again.
    plain = [c.path for c in body.changes if c.action == "set" and c.path not in errors and not _COUNT.fullmatch(c.path)]
    fields = {} if structural else {path: field(design, path, system).text for path in plain}
    says: dict[str, str] = {}
    if body.keep and not structural and shown is not None and hasattr(VIEWS[slug], "said_again"):
        again, says = VIEWS[slug].said_again(shown)
        fields = {path: text for path, text in again.items() if path not in errors} | fields
    return JSONResponse({"seq": body.seq, "snapshot": revision.snapshot, "fields": fields, "errors": errors, "parts": parts, "says": says})


_shown: OrderedDict[tuple[object, ...], dict[str, str]] = OrderedDict()
_shown_lock = threading.Lock()
MOST_SHOWN = 12
"""Answers remembered: what was drawn while a size was typed is not drawn again when the field is left."""


def _parts(slug: str, asked: Asked, frame: Frame, structural: bool) -> tuple[dict[str, str], Any]:
    """The parts of a page drawn again, and the view they show (None if they were remembered, as is done where they depend on
    nothing but the design and the questions)."""
    view = VIEWS[slug]
    wanted = tuple(part for part in view.PARTS if part != "form" or structural)
    key = (frame.base, asked.sealed, asked.design, asked.reader, tuple(sorted(asked.ask.items())), wanted)
    alone = getattr(view, "DEPENDS_ON_DESIGN_ALONE", False)
    with _shown_lock:
        known = _shown.get(key) if alone else None
    if known is not None:
        return dict(known), None
    try:
        value = view.view(asked)
    except YareKeelError as error:
        return {"live": render("shared/_fault.html", frame=frame, fault=said(fault_of(error), asked.reader.system))}, None
    parts = {part: render(f"stages/{frame.stage.folder}/_{part}.html", frame=frame, v=value) for part in wanted}
    if alone:
        with _shown_lock:
            _shown[key] = dict(parts)
            while len(_shown) > MOST_SHOWN:
                _shown.popitem(last=False)
    return parts, value


def _applied(revision: Revision, changes: list[Change], ask: dict[str, str]) -> tuple[Design, dict[str, str], str]:
    design = revision.design
    errors: dict[str, str] = {}
    labels: list[str] = []
    for change in changes:
        try:
            changed, words = _one(design, change, revision.units, ask)
        except InvalidInput as error:
            errors[change.path] = error.sentence
            continue
        except NoAnswer as error:
            errors[change.path] = str(error)
            continue
        if changed != design:
            design, labels = changed, [*labels, words]
    if design is not revision.design:
        design = refreshed(design, craft_of(design).aboard)
    return design, errors, "; ".join(labels)[:200] or "no change"


def _one(design: Design, change: Change, units: str, ask: dict[str, str]) -> tuple[Design, str]:
    """The changed design, and what was done in a few words; a body that was made or moved is the one asked about next."""
    craft = craft_of(design)
    if change.action == "do" and change.path == "scale.take":
        number, _, path = (change.text or "").partition("|")
        if not number.isdigit() or not re.fullmatch(r"weigh_in\.\w+_kg", path):
            raise InvalidInput(change.path, "Say which reading is taken, and for what.")
        taken = scale.BENCH.take(int(number), f"{craft.design.name} {path}")
        return editing.set_field(craft, path, round(taken, 6)), f"take {spec_of(design, path).label.lower()}"
    if change.action == "do" and change.path in ("tilt.angle", "tilt.period"):
        return sensor.taken(design, change.path, change.text or "", units), f"take the {change.path.removeprefix('tilt.')}"
    if change.action == "do" and re.match(r"answer\.|compartments\.", change.path):
        return answers.act(craft, change.path, _bulkheads(change, units)), answers.WORDS.get(change.path, "compartments")
    if change.action == "do" and re.match(r"weights|cases|materials", change.path):
        return _listed(craft, change, units), change.path.split(".")[-1].replace("_", " ")
    if change.action == "do":
        changed, chosen = _done(craft, change, units)
        ask["body"] = str(chosen)
        return changed, f"{change.path.split('.')[-1].replace('_', ' ')} {changed.bodies[chosen].name}"
    if change.action == "add":
        return editing.add_line(craft, change.path), f"add to {change.path.split('.')[-1]}"
    if change.action == "remove":
        name = getattr(value_at(design, change.path), "name", "battery")
        return editing.remove_line(design, change.path), f"remove {name}"
    if change.action == "place":
        if change.place is None or not re.fullmatch(r"weights\.\d{1,4}\.at_m", change.path):
            raise InvalidInput(change.path, "Only a weight can be put at a place.")
        index = int(change.path.split(".")[1])
        name = value_at(design, change.path.removesuffix(".at_m")).name
        return listing.put(craft, index, change.place), f"move {name}"
    count = _COUNT.fullmatch(change.path)
    if count:
        return listing.act(craft, f"cases.{count[1]}.count", f"{count[2]}|{change.text or ''}"), "load case"
    value: Any = parsed(design, change.path, change.text or "", SYSTEMS[units])
    return editing.set_field(craft, change.path, value), spec_of(design, change.path).label.lower()


def _bulkheads(change: Change, units: str) -> str:
    """Places of bulkheads as typed (body|300 mm, 0.8 m) in metres; any other text as it is."""
    if change.path != "compartments.divide":
        return change.text or ""
    body, _, typed = (change.text or "").partition("|")
    places = [parse(t, "length", SYSTEMS[units], change.path) for t in re.split(r"[;,]\s+|;|\s+and\s+", typed.strip()) if t.strip()]
    return f"{body}|{','.join(repr(p) for p in places)}"


def _listed(craft: Craft, change: Change, units: str) -> Design:
    if change.path == "weights.correct":
        return weigh_in.corrected(craft, change.text or "")
    if change.path == "weights.paste":
        return listing.appended(craft.design, weights_csv.read(change.text or "", "weights.paste", SYSTEMS[units], craft))
    return listing.act(craft, change.path, change.text or "")


def _done(craft: Craft, change: Change, units: str) -> tuple[Design, int]:
    pasted = re.fullmatch(r"bodies\.(\d{1,3})\.paste", change.path)
    if pasted and int(pasted[1]) < len(craft.design.bodies):
        number = int(pasted[1])
        table = offsets_csv.read(change.text or "", change.path, SYSTEMS[units].length.si, craft.design.bodies[number].shape)
        return editing.set_field(craft, f"bodies.{number}.shape", table), number
    return bodies.act(craft, change.path, change.text or "")


class Step(BaseModel):
    """The state that a step back or forward starts from."""

    on: int


@router.post("/boats/{boat_id:int}/{letter}/undo")
def undo(yard: YardDep, boat_id: int, letter: str, step: Step) -> JSONResponse:
    """One edit back."""
    return JSONResponse({"snapshot": yard.undo(boat_id, letter, step.on).snapshot})


@router.post("/boats/{boat_id:int}/{letter}/redo")
def redo(yard: YardDep, boat_id: int, letter: str, step: Step) -> JSONResponse:
    """One edit forward."""
    return JSONResponse({"snapshot": yard.redo(boat_id, letter, step.on).snapshot})


@router.post("/boats/{boat_id:int}/{letter}/follow")
def follow(yard: YardDep, boat_id: int, letter: str) -> Response:
    """The next revision as it is, to be changed by hand."""
    revision = yard.revision(boat_id, letter)
    after = yard.follow(boat_id, letter, revision.design, "changed by hand")
    return RedirectResponse(f"/boats/{boat_id}/{after.letter}/float", 303)


@router.post("/boats/{boat_id:int}/{letter}/units")
def choose_units(
    yard: YardDep, boat_id: int, letter: str, units: Annotated[str, Form()], stage: Annotated[str, Form()] = "float"
) -> Response:
    """The units the boat is shown in."""
    if units not in SYSTEMS:
        raise InvalidInput("units", f"Units must be one of: {', '.join(s.title for s in SYSTEMS.values())}.")
    yard.set_units(boat_id, units)
    return RedirectResponse(f"/boats/{boat_id}/{yard.boat(boat_id).revision(letter).letter}/{stage_of(stage).slug}", 303)
