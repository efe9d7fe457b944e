"""Patterns beyond frames and panels: pieces for a printer, sheets with their cutting list, templates for foam."""

from typing import Annotated

from fastapi import APIRouter, Depends, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from yarekeel.core.errors import NotFound
from yarekeel.core.patterns.pieces import Pieces
from yarekeel.drawing.cut_up import cut_up
from yarekeel.exchange import bundle
from yarekeel.exchange.patterns import cad, foam, lists, tiles
from yarekeel.exchange.patterns.printing import BED, PLASTIC, PieceOrder, files_of, pieces_asked
from yarekeel.exchange.patterns.sheets import SHEET, TIMBER, CutList, SheetOrder, cut_list
from yarekeel.units import band, plain
from yarekeel.web.shared.sending import attached
from yarekeel.web.stages.shape.pattern_request import Fields, FramesDep, PanelsDep, ShownDep, Tried, page_of, small, tried

router = APIRouter()
PIECE_FIELDS: Fields = (
    ("bed", "Bed", BED),
    ("wall", "Wall", "as the estimate has it; 0: solid"),
    ("cuts", "Cut at", "solved; or stations with ; between"),
    ("whole", "Stays whole", "from .. to, with ; between"),
    ("pin", "Pins, thick", "4 mm; 0 for none"),
    ("deep", "into each face", "8 mm"),
    ("clearance", "Clearance round a pin", "0.2 mm"),
)
SHEET_FIELDS: Fields = (
    ("sheet", "Sheet", SHEET),
    ("thickness", "Thickness", "6 mm"),
    ("kerf", "The saw takes", "3 mm"),
    ("price", "Price of a sheet", "in your money"),
    ("timber", "Timber comes in", TIMBER),
    ("batten", "Timber, thick", "18 mm"),
)


def _pieces(shown: ShownDep, request: Request) -> Tried[Pieces]:
    return tried(
        request, (n for n, _, _ in PIECE_FIELDS), lambda typed: pieces_asked(shown.craft, shown.hull, PieceOrder(**typed), shown.length)
    )


PiecesDep = Annotated[Tried[Pieces], Depends(_pieces)]


@router.get("/boats/{boat_id:int}/{letter}/pieces")
def pieces_page(shown: ShownDep, asked: PiecesDep) -> HTMLResponse:
    """The pieces with their sizes; what was typed stays, with what is wrong beside it."""
    say, found, system = shown.reader.say, asked.found, shown.reader.system
    rows, summary, drawing = [], "", ""
    if found is not None:
        for p in found.pieces:
            sizes = tuple(say(float(v), "length") for v in p.standing.bounds[1])
            mass, half = p.mass(PLASTIC.density, PLASTIC.spread)
            rows.append((p.name, *sizes, say(p.volume, "volume"), f"{say(mass, 'mass')} {band(mass, half, 'mass', system)}"))
        at = [say(x, "length") for x in found.stations]
        mass, half = found.mass(PLASTIC.density, PLASTIC.spread)
        weighs = f"{say(mass, 'mass')} {band(mass, half, 'mass', system)} in {PLASTIC.title}"
        pins = f"{len(found.joints)} pins" if found.joints else "no pins"
        summary = (
            f"{len(rows)} pieces, cut at {', '.join(at) or 'nowhere'} from aft; {say(found.volume, 'volume')} to print, {weighs}, {pins}."
        )
        drawing = cut_up(shown.craft.piece(shown.hull), found.stations, [(p.name, p.mesh) for p in found.pieces], at)
    return page_of(
        "pieces",
        shown,
        fields=asked.rows(PIECE_FIELDS),
        rows=rows,
        summary=summary,
        query=asked.query,
        drawing=Markup(drawing),
        plastic=PLASTIC,
    )


@router.get("/boats/{boat_id:int}/{letter}/pieces.zip")
def pieces_zip(shown: ShownDep, asked: PiecesDep, kind: str = "stl") -> Response:
    """Every piece as it stands, and the pin."""
    return attached(bundle.zipped(files_of(asked.made, kind)), shown.file("pieces.zip"), "application/zip")


def _sheets(shown: ShownDep, frames: FramesDep, panels: PanelsDep, request: Request) -> Tried[CutList]:
    def make(typed: dict[str, str]) -> CutList:
        given = {name: text for name, text in typed.items() if text.strip() and name != "across"}
        order = SheetOrder(**given, across=typed["across"] == "yes")
        return cut_list(shown.craft, shown.hull, panels.cut, frames.made.frames, order, shown.length)

    return tried(request, [*(n for n, _, _ in SHEET_FIELDS), "across"], make)


SheetsDep = Annotated[Tried[CutList], Depends(_sheets)]


@router.get("/boats/{boat_id:int}/{letter}/sheets")
def sheets_page(shown: ShownDep, frames: FramesDep, asked: SheetsDep) -> HTMLResponse:
    """The sheets as they are cut, with the list."""
    say, found = shown.reader.say, asked.found
    summary, scarfs, sticks = "", [], []
    if found is not None:
        n = found.nested
        summary = f"{n.sheets} sheet{'s' if n.sheets != 1 else ''}, {plain(100 * n.waste, 0)} % of them left over"
        summary += f", {plain(found.cost, 2)} in your money." if found.cost is not None else "."
        scarfs = [(s.part, say(s.at, "length"), say(s.length, "length")) for s in found.scarfs]
        sticks = [(s.name, say(s.length, "length"), str(s.lengths), say(s.to_cut, "length")) for s in found.sticks]
    return page_of(
        "sheets",
        shown,
        fields=asked.rows(SHEET_FIELDS),
        across=asked.typed["across"],
        summary=summary,
        scarfs=scarfs,
        sticks=sticks,
        sheets=[p.name for p in found.sheets] if found else [],
        query="&".join(q for q in (asked.query, frames.query) if q),
    )


@router.get("/boats/{boat_id:int}/{letter}/sheets.dxf")
def sheets_dxf(shown: ShownDep, asked: SheetsDep) -> Response:
    """All sheets side by side."""
    return attached(cad.dxf(asked.made.sheets, shown.title), shown.file("sheets.dxf"), "image/vnd.dxf")


@router.get("/boats/{boat_id:int}/{letter}/cutting-list.csv")
def cutting_csv(shown: ShownDep, asked: SheetsDep) -> Response:
    """What is cut from what."""
    return attached(lists.cutting(asked.made), shown.file("cutting-list.csv"), "text/csv; charset=utf-8")


@router.get("/boats/{boat_id:int}/{letter}/sheets/{name}.svg")
def sheet(shown: ShownDep, asked: SheetsDep, name: str) -> Response:
    """One sheet, for the page."""
    return small(asked.made.sheets, shown, name)


@router.get("/boats/{boat_id:int}/{letter}/foam.{kind}")
def foam_templates(shown: ShownDep, frames: FramesDep, kind: str, paper: str = "A4") -> Response:
    """Templates for a hot wire, a pair for each block between two stations: PDF or DXF."""
    made = foam.templates(frames.made.frames, shown.title.boat)
    if kind == "pdf":
        return attached(tiles.write(made, shown.title, paper), shown.file("foam.pdf"), "application/pdf")
    if kind == "dxf":
        return attached(cad.dxf(made, shown.title), shown.file("foam.dxf"), "image/vnd.dxf")
    raise NotFound("Templates come as PDF or DXF.")
