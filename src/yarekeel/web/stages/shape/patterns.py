"""Patterns: frames and panels at full size, seen and saved as DXF, SVG and a PDF over sheets of a printer; what was printed of them."""

from collections.abc import Mapping
from datetime import date
from typing import Annotated
from urllib.parse import parse_qsl

from fastapi import APIRouter, Form
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.core.patterns.panels import Panel
from yarekeel.core.patterns.seams import leaning_ends
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.drawing.set_up import set_up_drawing
from yarekeel.exchange import bundle
from yarekeel.exchange.patterns import cad, tiles
from yarekeel.exchange.patterns.order import Length, Order, folded_from, ordered, weighed
from yarekeel.exchange.patterns.printed import MOVED, moved, remembered
from yarekeel.exchange.patterns.sheet import code_of
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, parse, plain
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import Reader
from yarekeel.web.shared.sending import attached
from yarekeel.web.stages.shape.pattern_request import FIELDS, PANEL_FIELDS, FramesDep, Panels, PanelsDep, Shown, ShownDep, page_of, small

router = APIRouter()
CUT_FROM = ("wood", "foam")
"""Kinds of material that frames are cut from."""


@router.get("/boats/{boat_id:int}/{letter}/patterns")
def page(yard: YardDep, shown: ShownDep, asked: FramesDep, panels: PanelsDep) -> HTMLResponse:
    """The frames with their table; what was typed stays, with what is wrong beside it."""
    say, found = shown.reader.say, asked.found
    rows = []
    for f, s in zip(found.frames, found.set_up, strict=True) if found is not None else ():
        figures = (s.x, s.spacing, s.keel, s.sheer, f.half_breadth)
        bevels = [b.angle for b in f.bevels]
        widest = f"{plain(min(bevels), 0)}° to {plain(max(bevels), 0)}°" if bevels else "–"
        rows.append((f.name, tuple(say(v, "length") for v in figures), widest, say(f.area, "area")))
    upside_down = asked.typed["stand"] != "up"
    folds, blank, no_blank = _folds(shown, panels)
    return page_of(
        "patterns",
        shown,
        fields=asked.rows(FIELDS),
        rows=rows,
        panels=[_panel_row(shown.reader, p) for p in panels.cut],
        query=asked.query,
        upside_down=upside_down,
        set_up=Markup(set_up_drawing(found.set_up, lambda v: say(v, "length"), upside_down=upside_down)) if found else "",
        panel_fields=panels.drawn.rows(PANEL_FIELDS),
        panel_query=panels.drawn.query,
        is_drawn=panels.drawn.found is not None,
        folds=folds,
        blank=blank,
        no_blank=no_blank,
        ends=_ends(shown, panels),
        printed=_printed(yard, shown),
        materials=[(m.code, m.title) for m in MATERIALS.values() if m.kind in CUT_FROM],
        sealed=shown.revision.is_sealed,
    )


def _ends(shown: Shown, panels: Panels) -> list[str]:
    found = leaning_ends(shown.craft.piece(shown.hull), panels.cut)
    return [f"{name} leans {plain(abs(lean), 1)}° {'outwards' if lean > 0 else 'inwards'} at its top" for name, lean in found]


def _folds(shown: Shown, panels: Panels) -> tuple[list[tuple[str, ...]], str, str]:
    """The folds of a hull that is folded, with what each takes of the sheet; the name of its blank, or why it is none."""
    say = shown.reader.say
    try:
        found = folded_from(shown.craft, shown.hull, panels.drawn.typed["bend"], shown.length)
    except InvalidInput:  # told beside its field
        return [], "", ""
    if found is None:
        return [], "", ""
    rows: list[tuple[str, ...]] = [
        (" to ".join(f.seam.panels), f"{plain(f.seam.turn, 0)}°", say(f.seam.length, "length"), say(f.takes, "thin"), say(f.less, "thin"))
        for f in found.folds
    ]
    return rows, found.blank.name if found.blank is not None and panels.drawn.found is not None else "", found.why


def _printed(yard: Yard, shown: Shown) -> tuple[str, tuple[str, ...]] | None:
    """What was last printed of this boat's frames, and in words how far each has moved since; None where nothing was noted."""
    kept = [(r.letter, p) for r in shown.boat.revisions for p in yard.predictions.of(r.id) if p.kind == "patterns"]
    if not kept:
        return None
    letter, last = max(kept, key=lambda k: k[1].id)
    head = f"Printed {last.figures['day']} of revision {letter}, shape {last.figures['code']}"
    if last.figures["code"] == code_of(shown.revision.design):
        return f"{head}: the hull is still the same.", ()
    try:
        rows = moved(last.figures, ordered(shown.craft, shown.hull, *_as_printed(last.figures)).frames)
    except InvalidInput as error:
        return f"{head}: the hull has changed since, and these frames cannot be cut of it: {error.sentence}", ()
    words = tuple(
        f"{name} is not cut any more" if far is None else f"{name} has moved by up to {shown.reader.say(far, 'draft')}"
        for name, far in rows
        if far is None or far > MOVED
    )
    return f"{head}: the hull has changed since.", words or ("No frame has moved by more than a hair.",)


def _as_printed(figures: Mapping[str, str]) -> tuple[Order, Length]:
    """What was asked then, and how lengths were read: a bare number is of the units that the boat had."""
    typed, system = dict(parse_qsl(figures["query"])), SYSTEMS[figures["units"]]
    order = Order(**{name: typed.get(name, "") for name, _, _ in FIELDS}, upside_down=typed.get("stand") != "up")
    return order, lambda text, name: parse(text, "length", system, name)


@router.get("/boats/{boat_id:int}/{letter}/patterns.dxf")
def as_dxf(shown: ShownDep, asked: FramesDep) -> Response:
    """All frames side by side, in layers."""
    return attached(cad.dxf(asked.made.patterns, shown.title), shown.file("frames.dxf"), "image/vnd.dxf")


@router.get("/boats/{boat_id:int}/{letter}/patterns.pdf")
def as_pdf(shown: ShownDep, asked: FramesDep, paper: str = "A4") -> Response:
    """At full size over sheets of a printer."""
    return attached(tiles.write(asked.made.patterns, shown.title, paper), shown.file("frames.pdf"), "application/pdf")


@router.get("/boats/{boat_id:int}/{letter}/patterns.zip")
def as_svgs(shown: ShownDep, asked: FramesDep) -> Response:
    """Each frame as an SVG of its own."""
    data = bundle.zipped((f"{p.name}.svg", cad.svg(p, shown.title)) for p in asked.made.patterns)
    return attached(data, shown.file("frames.zip"), "application/zip")


@router.get("/boats/{boat_id:int}/{letter}/patterns/{name}.svg")
def one(shown: ShownDep, asked: FramesDep, name: str) -> Response:
    """One frame, for the page."""
    return small(asked.made.patterns, shown, name)


@router.get("/boats/{boat_id:int}/{letter}/panels.dxf")
def panels_dxf(shown: ShownDep, panels: PanelsDep) -> Response:
    """All panels that develop, side by side."""
    return attached(cad.dxf(panels.drawn.made, shown.title), shown.file("panels.dxf"), "image/vnd.dxf")


@router.get("/boats/{boat_id:int}/{letter}/panels.pdf")
def panels_pdf(shown: ShownDep, panels: PanelsDep, paper: str = "A4") -> Response:
    """The same at full size over sheets of a printer."""
    return attached(tiles.write(panels.drawn.made, shown.title, paper), shown.file("panels.pdf"), "application/pdf")


@router.get("/boats/{boat_id:int}/{letter}/panels/{name}.svg")
def panel(shown: ShownDep, panels: PanelsDep, name: str) -> Response:
    """One panel, for the page."""
    return small(panels.drawn.made, shown, name)


@router.post("/boats/{boat_id:int}/{letter}/patterns/printed")
def note_printed(yard: YardDep, shown: ShownDep, asked: FramesDep) -> Response:
    """Remember these frames as printed, so that the page can say what moved since."""
    day, revision = f"{date.today():%Y-%m-%d}", shown.revision
    kept = remembered(asked.made.frames, code_of(revision.design), asked.query, revision.units, day)
    yard.predictions.keep(revision.id, "patterns", kept)
    return RedirectResponse(f"/boats/{shown.boat.id}/{revision.letter}/patterns?{asked.query}", 303)


@router.post("/boats/{boat_id:int}/{letter}/patterns/weigh")
def weigh(
    yard: YardDep,
    shown: ShownDep,
    asked: FramesDep,
    thickness: Annotated[str, Form(max_length=40)],
    material: Annotated[str, Form(max_length=40)],
) -> Response:
    """What the frames weigh, cut from a sheet: a line of the list, or the same one again. Raises InvalidInput."""
    stuff, revision = MATERIALS.get(material), shown.revision
    if stuff is None:
        raise InvalidInput("material", "Frames are cut from one of the materials listed.")
    design = weighed(revision.design, asked.made.frames, shown.length(thickness, "thickness"), stuff)
    after = yard.save(shown.boat.id, revision.letter, design, revision.snapshot, f"frames weighed, of {stuff.title}"[:200])
    return RedirectResponse(f"/boats/{shown.boat.id}/{after.letter}/weights", 303)


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
