"""Bringing a mesh in, and taking the hull out."""

import dataclasses
from typing import Annotated

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup
from pydantic import BaseModel, Field

from yarekeel.apart import Budget, apart
from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.core.geometry.families import MeshFile, Offsets
from yarekeel.core.geometry.families.mesh_file import METRES_PER_UNIT
from yarekeel.core.geometry.lifting import table_of
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.stopping import stoppable
from yarekeel.core.weights.items import WeightItem
from yarekeel.drawing import lines, mesh_picture
from yarekeel.exchange import lines_out, mesh_in, mesh_out, offsets_csv, reading
from yarekeel.exchange.mesh_formats import FORMATS, named
from yarekeel.plain_text import whole
from yarekeel.stages.design import editing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.units import SYSTEMS, parse
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, craft_of, frame_of
from yarekeel.web.shared.sending import sent
from yarekeel.web.stages.shape.bring import EMPTY, ImportView, choice, turning
from yarekeel.web.stages.shape.drafts import Draft, Drafts
from yarekeel.web.templating import render

router = APIRouter()


class Choices(BaseModel):
    """What the page of a mesh on its way in sends; what was not chosen is empty."""

    unit: str = Field("", max_length=20)
    up: str = Field("", max_length=20)
    forward: str = Field("", max_length=20)
    part: str = Field("", max_length=20)
    skin: str = Field("", max_length=20)
    weigh: str = Field("", max_length=20)
    consent: str = Field("", max_length=20)
    density: str = Field("", max_length=80)
    on: str = Field("", max_length=20)


def drafts_of(request: Request) -> Drafts:
    """The drafts of this run of the program."""
    drafts = request.app.state.drafts
    assert isinstance(drafts, Drafts)
    return drafts


def _page(yard: YardDep, boat_id: int, letter: str, view: ImportView, status: int = 200) -> HTMLResponse:
    revision = yard.revision(boat_id, letter)
    frame = frame_of(yard.boat(boat_id), revision, BY_SLUG["shape"], revision.design)
    return HTMLResponse(render("stages/shape/import.html", frame=frame, v=view), status)


@router.get("/boats/{boat_id:int}/{letter}/mesh")
def ask(yard: YardDep, boat_id: int, letter: str) -> Response:
    """Which file?"""
    return _page(yard, boat_id, letter, ImportView(**EMPTY))


@router.post("/boats/{boat_id:int}/{letter}/mesh")
def upload(request: Request, yard: YardDep, boat_id: int, letter: str, file: Annotated[UploadFile | None, File()] = None) -> Response:
    """Read a file and look it over. A faulty one is shown with its faulty edges; nothing is kept yet either way."""
    yard.revision(boat_id, letter)
    name = (file.filename or "")[-80:] if file else ""
    try:
        if file is None or not name:
            raise InvalidInput("file", f"Choose a mesh file first: {named()}.")
        data = file.file.read(mesh_in.LARGEST_FILE + 1)
        stoppable(yes=True)
        found = apart(reading.mesh, data, name, budget=Budget.for_bytes(len(data)))
        stoppable(yes=False)
    except InvalidInput as error:
        return _page(yard, boat_id, letter, ImportView(**{**EMPTY, "error": error.sentence, "name": name}), 422)
    if found.fault:
        words = "The mesh, its faulty edges in red"
        picture = (
            ""
            if found.fault_edges is None
            else mesh_picture.faulty(mesh=found.mesh, faults=found.fault_edges, width=700, height=330, label=words)
        )
        shown = ImportView(**{**EMPTY, "error": found.fault, "name": name, "fault": Markup(picture), "mended": found.mended})
        return _page(yard, boat_id, letter, shown, 422)
    token = drafts_of(request).add(Draft(name, found))
    body = request.query_params.get("body", "")
    return RedirectResponse(f"/boats/{boat_id}/{letter}/mesh/{token}" + (f"?part={body}" if whole(body) is not None else ""), 303)


@router.get("/boats/{boat_id:int}/{letter}/mesh/{token}")
def turn(request: Request, yard: YardDep, boat_id: int, letter: str, token: str) -> Response:
    """Which unit, which way is up, which way forward: by pictures."""
    draft = drafts_of(request).get(token)
    revision = yard.revision(boat_id, letter)
    return _page(yard, boat_id, letter, turning(token, draft, revision, dict(request.query_params), {}))


@router.post("/boats/{boat_id:int}/{letter}/mesh/{token}")
def bring(request: Request, yard: YardDep, boat_id: int, letter: str, token: str, form: Annotated[Choices, Form()]) -> Response:
    """Bring it in as chosen: a mesh in the yard, a body that names it, and its material as a weight."""
    drafts = drafts_of(request)
    draft = drafts.get(token)
    typed = {k: v for k, v in form.model_dump().items() if v}
    revision = yard.revision(boat_id, letter)
    c = choice(draft, typed, len(revision.design.bodies))
    skin = draft.skin(c.forward, c.up)
    errors: dict[str, str] = {}
    if draft.found.triangles and typed.get("consent") != "yes":
        errors["consent"] = "Say that the simpler mesh will do, or export it coarser and choose that file."
    density = 0.0
    if skin is not None and typed.get("weigh") == "yes":
        try:
            density = parse(typed.get("density", ""), "density", SYSTEMS[revision.units], "density")
            if not 50 <= density <= 20_000:
                raise InvalidInput("density", "A material's density lies between 50 and 20 000 kg/m³.")
        except InvalidInput as error:
            errors["density"] = error.sentence
    if errors:
        return _page(yard, boat_id, letter, turning(token, draft, revision, typed, errors), 422)
    material = draft.turned(c.forward, c.up, c.unit)
    hollow = skin is not None and typed.get("skin") == "outer"
    per = METRES_PER_UNIT[c.unit]
    mesh = _like(skin.scaled(per), material) if hollow and skin is not None else material
    try:
        design = _with_mesh(
            design=revision.design,
            shape=yard.keep_mesh(mesh),
            part=c.part,
            name=draft.name,
            deck="open" if hollow else "decked",
            material=material,
            density=density,
        )
    except InvalidInput as error:
        return _page(yard, boat_id, letter, turning(token, draft, revision, typed, {"part": error.sentence}), 422)
    yard.save(
        boat_id=boat_id,
        letter=letter,
        design=design,
        on=whole(typed.get("on", "")) or 0,
        label=f"bring in {draft.name}",
    )
    drafts.drop(token)
    chosen = len(design.bodies) - 1 if c.part is None else c.part
    return RedirectResponse(f"/boats/{boat_id}/{letter}/shape?body={chosen}", 303)


def _like(mesh: Mesh, other: Mesh) -> Mesh:
    """The mesh moved so that its foot, after end and middle lie where the other's do: both come from one file."""
    (a0, a1), (b0, _) = mesh.bounds, other.bounds
    return mesh.moved((float(b0[0] - a0[0]), -float(a0[1] + a1[1]) / 2, float(b0[2] - a0[2])))


def _with_mesh(design: Design, shape: MeshFile, part: int | None, name: str, deck: str, material: Mesh, density: float) -> Design:
    plain = name.rsplit(".", 1)[0][:60] or "mesh"
    bodies = list(design.bodies)
    if part is None:
        bodies.append(Body(plain, shape, deck="open" if deck == "open" else "decked"))
    else:
        now = bodies[part]
        bodies[part] = Body(plain, shape, deck="open" if deck == "open" else now.deck, role=now.role, hidden=now.hidden)
    weights = design.weights
    if density:
        x, y, z = (round(float(v), 4) for v in material.centroid)
        weights = (*weights, WeightItem(f"{plain} material", round(material.volume * density, 6), (x, y, z), "data", group="structure"))
    changed = dataclasses.replace(design, bodies=tuple(bodies), weights=weights)
    if part is not None:
        changed = editing.refitted(design, changed)
    Craft(changed).hull  # noqa: B018 a hull that cannot be built is refused here
    return changed


# Out


@router.get("/boats/{boat_id:int}/{letter}/hull.{kind}")
def hull_file(yard: YardDep, boat_id: int, letter: str, kind: str) -> Response:
    """The united hull as a mesh in millimetres."""
    revision = yard.revision(boat_id, letter)
    if kind not in FORMATS:
        raise NotFound(f"A hull is written as {named()}.")
    return sent(revision, mesh_out.write(craft_of(revision.design).hull.mesh, kind), kind, FORMATS[kind].media)


@router.get("/boats/{boat_id:int}/{letter}/lines.{kind}")
def lines_file(yard: YardDep, boat_id: int, letter: str, kind: str) -> Response:
    """Stations, waterlines and buttocks as closed outlines."""
    revision = yard.revision(boat_id, letter)
    hull = craft_of(revision.design).hull
    low, high = hull.mesh.bounds
    grid = lines.grid_of(
        hull=hull,
        stations=11,
        waterline=lines.nice_spacing(float(high[2] - low[2])),
        buttock=lines.nice_spacing(float(high[1] - low[1]) / 2, 4),
        chosen=None,
    )
    cut = lines_out.lines_of(hull.mesh, grid.stations, grid.waterlines[1:], grid.buttocks)
    if kind == "dxf":
        return sent(revision, lines_out.dxf(cut), "dxf", "image/vnd.dxf")
    if kind == "svg":
        return sent(revision, lines_out.svg(cut, f"{revision.design.name} {letter}, lines"), "svg", "image/svg+xml")
    raise NotFound("Lines are written as DXF or SVG.")


@router.get("/boats/{boat_id:int}/{letter}/offsets.csv")
def offsets_file(yard: YardDep, boat_id: int, letter: str, body: int = 0) -> Response:
    """A body's table of offsets; lifted from its surface where it is none."""
    revision = yard.revision(boat_id, letter)
    if not 0 <= body < len(revision.design.bodies):
        raise NotFound("There is no such part.")
    shape = revision.design.bodies[body].shape
    table = shape if isinstance(shape, Offsets) else table_of(shape.build())
    return sent(revision, offsets_csv.write(table).encode(), "csv", "text/csv")
