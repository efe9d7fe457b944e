"""Patterns: frames at full size, seen and saved as DXF, SVG and a PDF over sheets of a printer."""

import io
import zipfile
from dataclasses import dataclass
from datetime import date
from typing import Annotated
from urllib.parse import parse_qsl, urlencode

from fastapi import APIRouter, Depends, Query, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.core.patterns.panels import Panel
from yarekeel.core.patterns.seams import bend_allowance, bend_deduction, lean_of_end, seams_of
from yarekeel.core.quantities import Degrees
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.drawing.set_up import set_up_drawing
from yarekeel.exchange.bundle import STAMP
from yarekeel.exchange.patterns import cad, tiles
from yarekeel.exchange.patterns.order import Length, Order, Ordered, ordered, panels_cut, panels_drawn
from yarekeel.exchange.patterns.printed import MOVED, moved
from yarekeel.exchange.patterns.sheet import Pattern, Title, code_of, title_of
from yarekeel.store.records import Boat, Revision
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, parse, plain
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, Reader, craft_of, frame_of
from yarekeel.web.shared.sending import attached
from yarekeel.web.templating import render

router = APIRouter()
CUT_FROM = ("wood", "foam")
"""Kinds of material that frames are cut from."""
LEANS: Degrees = 0.5
"""An end that leans less is upright."""
SEEN = 260.0
"""Of a pattern's size: how thick its lines are drawn where it is shown small."""
FIELDS = (
    ("every", "Frames every", "evenly spread"),
    ("at", "Or at stations", "from aft, with ; between"),
    ("skin", "Skin taken off", "thickness of planks or sheet"),
    ("ring", "As rings, this wide", "whole for none"),
    ("keelson", "Notch for the keelson", "width x depth"),
    ("clamp", "Notches for the sheer clamps", "width x depth"),
    ("limber", "Limber holes, radius", "beside the keelson"),
)


@dataclass(frozen=True)
class Asked:
    """A boat's frames as they are asked for; ``found`` None where ``error`` says what is wrong in which ``field``."""

    boat: Boat
    revision: Revision
    reader: Reader
    order: Order
    query: str
    title: Title
    found: Ordered | None
    field: str = ""
    error: str = ""

    @property
    def frames(self) -> Ordered:
        """Raises InvalidInput where what was asked is wrong."""
        if self.found is None:
            raise InvalidInput(self.field, self.error)
        return self.found


def _asked(yard: YardDep, request: Request, boat_id: int, letter: str) -> Asked:
    boat, revision = yard.boat(boat_id), yard.revision(boat_id, letter)
    reader = Reader(SYSTEMS[revision.units])
    typed = {name: request.query_params.get(name, "")[:200] for name, _, _ in FIELDS}
    order = Order(**typed, upside_down=request.query_params.get("stand", "down") != "up")
    design = revision.design
    hull = design.main_hull
    title = title_of(design, revision.letter, f"{date.today():%Y-%m-%d}")
    query = urlencode({name: text for name, text in {**typed, "stand": "down" if order.upside_down else "up"}.items() if text})
    try:
        found = ordered(craft_of(design), hull, order, lambda text, name: parse(text, "length", reader.system, name))
    except InvalidInput as error:
        return Asked(boat, revision, reader, order, query, title, None, error.field, error.sentence)
    return Asked(boat, revision, reader, order, query, title, found)


AskedDep = Annotated[Asked, Depends(_asked)]


@dataclass(frozen=True)
class Panels:
    """A boat's panels, and what names its sheets."""

    found: tuple[Panel, ...]
    title: Title
    stitch: str
    length: Length

    @property
    def patterns(self) -> tuple[Pattern, ...]:
        """Of those that develop. Raises InvalidInput where none does."""
        return panels_drawn(self.found, self.title.boat, self.stitch, self.length)


def _panels(yard: YardDep, boat_id: int, letter: str, stitch: Annotated[str, Query(max_length=60)] = "") -> Panels:
    revision = yard.revision(boat_id, letter)
    hull = revision.design.main_hull
    found = panels_cut(craft_of(revision.design), hull)
    title = title_of(revision.design, revision.letter, f"{date.today():%Y-%m-%d}")
    return Panels(found, title, stitch, lambda text, name: parse(text, "length", SYSTEMS[revision.units], name))


PanelsDep = Annotated[Panels, Depends(_panels)]


@router.get("/boats/{boat_id:int}/{letter}/patterns")
def page(yard: YardDep, asked: AskedDep, panels_asked: PanelsDep, bend: Annotated[str, Query(max_length=60)] = "") -> HTMLResponse:
    """The frames with their table; what was typed stays, with what is wrong beside it."""
    say, found = asked.reader.say, asked.found
    rows = []
    if found is not None:
        for f, s in zip(found.frames, found.set_up, strict=True):
            figures = (s.x, s.spacing, s.keel, s.sheer, f.half_breadth)
            bevels = [b.angle for b in f.bevels]
            widest = f"{plain(min(bevels), 0)}° to {plain(max(bevels), 0)}°" if bevels else "–"
            rows.append((f.name, tuple(say(v, "length") for v in figures), widest, say(f.area, "area")))
    frame = frame_of(asked.boat, asked.revision, BY_SLUG["shape"], asked.revision.design)
    where = asked.field if asked.field in {n for n, _, _ in FIELDS} else "every"
    hull = asked.revision.design.main_hull
    panels = [_panel_row(asked.reader, p) for p in panels_asked.found]
    stitch_error = ""
    try:
        _ = panels_asked.patterns
    except InvalidInput as error:
        stitch_error = error.sentence if error.field == "stitch" else ""
    folds, ends, bend_error = _folds(asked, hull, panels_asked, bend)
    fields = [(n, label, hint, getattr(asked.order, n), asked.error if n == where else "") for n, label, hint in FIELDS]
    return HTMLResponse(
        render(
            "stages/shape/patterns.html",
            frame=frame,
            fields=fields,
            rows=rows,
            panels=panels,
            query=asked.query,
            title=asked.title,
            order=asked.order,
            part="patterns",
            set_up=Markup(set_up_drawing(found.set_up, lambda v: say(v, "length"), upside_down=asked.order.upside_down)) if found else "",
            stitch=(panels_asked.stitch, stitch_error),
            panel_query=urlencode({"stitch": panels_asked.stitch}) if panels_asked.stitch else "",
            bend=(bend, bend_error),
            folds=folds,
            ends=ends,
            printed=_printed(yard, asked),
            materials=[(m.code, m.title) for m in MATERIALS.values() if m.kind in CUT_FROM],
            sealed=asked.revision.is_sealed,
        )
    )


USUAL_BEND = "2 mm x 1 mm"
"""Of a tray: inner radius and thickness."""


def _folds(asked: Asked, hull: int, panels: Panels, bend: str) -> tuple[list[tuple[str, ...]], list[str], str]:
    """The folds of a tray with what each takes of the sheet; how the ends lean; and what is wrong with the bend as typed."""
    craft, say = craft_of(asked.revision.design), asked.reader.say
    mesh, body = craft.piece(hull), asked.revision.design.bodies[hull]
    ends = [
        f"{p.name} leans {plain(abs(lean), 1)}° {'outwards' if lean > 0 else 'inwards'} at its top"
        for p in panels.found
        if p.name.startswith("end") and abs(lean := lean_of_end(mesh, p)) >= LEANS
    ]
    if getattr(body.shape, "kind", "") != "folded_tray" and not bend:
        return [], ends, ""
    first, mark, second = (bend or USUAL_BEND).lower().replace("×", "x").partition("x")
    try:
        if not mark:
            raise InvalidInput("bend", f"Write a bend as its inner radius x the thickness, such as {USUAL_BEND}.")
        radius, thick = (parse(text, "length", asked.reader.system, "bend") for text in (first, second))
        if radius < 0 or thick <= 0:
            raise InvalidInput("bend", "A radius and a thickness are more than nothing.")
    except InvalidInput as error:
        return [], ends, error.sentence
    rows: list[tuple[str, ...]] = []
    for s in seams_of(mesh, panels.found, open_top=body.deck == "open"):
        if s.kind in ("chine", "end"):
            takes, less = bend_allowance(s.turn, radius, thick), bend_deduction(s.turn, radius, thick)
            rows.append((" to ".join(s.panels), f"{plain(s.turn, 0)}°", say(s.length, "length"), say(takes, "thin"), say(less, "thin")))
    return rows, ends, ""


def _printed(yard: Yard, asked: Asked) -> tuple[str, tuple[str, ...]] | None:
    """What was last printed of this boat's frames, and in words how far each has moved since; None where nothing was noted."""
    kept = [(r.letter, p) for r in asked.boat.revisions for p in yard.predictions.of(r.id) if p.kind == "patterns"]
    if not kept:
        return None
    letter, last = max(kept, key=lambda k: k[1].id)
    design, say = asked.revision.design, asked.reader.say
    head = f"Printed {last.figures['day']} of revision {letter}, shape {last.figures['code']}"
    if last.figures["code"] == code_of(design):
        return f"{head}: the hull is still the same.", ()
    again = Order(**dict(parse_qsl(last.figures["query"].replace("stand=down", "").replace("stand=up", ""))))
    try:
        now = ordered(craft_of(design), design.main_hull, again, lambda text, name: parse(text, "length", asked.reader.system, name))
    except InvalidInput as error:
        return f"{head}: the hull has changed since, and these frames cannot be cut of it: {error.sentence}", ()
    rows = moved(last.figures, now.frames)
    words = tuple(
        f"{name} is not cut any more" if far is None else f"{name} has moved by up to {say(far, 'draft')}"
        for name, far in rows
        if far is None or far > MOVED
    )
    return f"{head}: the hull has changed since.", words or ("No frame has moved by more than a hair.",)


@router.get("/boats/{boat_id:int}/{letter}/patterns.dxf")
def as_dxf(asked: AskedDep) -> Response:
    """All frames side by side, in layers."""
    return attached(cad.dxf(asked.frames.patterns, asked.title), _name(asked, "dxf"), "image/vnd.dxf")


@router.get("/boats/{boat_id:int}/{letter}/patterns.pdf")
def as_pdf(asked: AskedDep, paper: str = "A4") -> Response:
    """At full size over sheets of a printer."""
    return attached(tiles.write(asked.frames.patterns, asked.title, paper), _name(asked, "pdf"), "application/pdf")


@router.get("/boats/{boat_id:int}/{letter}/patterns.zip")
def as_svgs(asked: AskedDep) -> Response:
    """Each frame as an SVG of its own."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as box:
        for p in asked.frames.patterns:
            box.writestr(zipfile.ZipInfo(f"{p.name}.svg", STAMP), cad.svg(p, asked.title))
    return attached(out.getvalue(), _name(asked, "zip"), "application/zip")


@router.get("/boats/{boat_id:int}/{letter}/patterns/{name}.svg")
def one(asked: AskedDep, name: str) -> Response:
    """One frame, for the page."""
    found = next((p for p in asked.frames.patterns if p.name == name), None)
    if found is None:
        raise NotFound("There is no such frame.")
    left, low, right, high = found.bounds
    return Response(cad.svg(found, asked.title, max(right - left, high - low) / SEEN), media_type="image/svg+xml")


@router.get("/boats/{boat_id:int}/{letter}/panels.dxf")
def panels_dxf(panels: PanelsDep) -> Response:
    """All panels that develop, side by side."""
    return attached(cad.dxf(panels.patterns, panels.title), f"{panels.title.boat}-{panels.title.letter}-panels.dxf", "image/vnd.dxf")


@router.get("/boats/{boat_id:int}/{letter}/panels.pdf")
def panels_pdf(panels: PanelsDep, paper: str = "A4") -> Response:
    """The same at full size over sheets of a printer."""
    data = tiles.write(panels.patterns, panels.title, paper)
    return attached(data, f"{panels.title.boat}-{panels.title.letter}-panels.pdf", "application/pdf")


@router.get("/boats/{boat_id:int}/{letter}/panels/{name}.svg")
def panel(panels: PanelsDep, name: str) -> Response:
    """One panel, for the page."""
    found = next((p for p in panels.patterns if p.name == name), None)
    if found is None:
        raise NotFound("There is no such panel, or it does not develop.")
    left, low, right, high = found.bounds
    return Response(cad.svg(found, panels.title, max(right - left, high - low) / SEEN), media_type="image/svg+xml")


def _panel_row(reader: Reader, p: Panel) -> tuple[str, str, tuple[str, ...], str]:
    """Name, the name of its drawing (empty for none), figures, and what is to be said."""
    name = f"{p.name}, two of them" if p.pair else p.name
    if not p.develops:
        words = (
            f"{p.why}: two ways of unrolling it differ by {reader.say(p.gap, 'length')} near {reader.say(p.where[0], 'length')} from aft. "
        )
        return name, "", (reader.say(p.skin, "area"),), words + "Straighten its sections between two chines, or put a chine in it."
    (left, low), (right, high) = p.outline.min(axis=0), p.outline.max(axis=0)
    longest = max(float(right - left), float(high - low))
    return name, p.name.replace(" ", "-"), (reader.say(p.area, "area"), reader.say(longest, "length"), reader.say(p.gap, "thin")), ""


def _name(asked: Asked, ending: str) -> str:
    return f"{asked.title.boat}-{asked.title.letter}-frames.{ending}"
