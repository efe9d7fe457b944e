"""Patterns beyond frames and panels: pieces for a printer, sheets with their cutting list, templates for foam; what was printed, and what
the frames weigh."""

import io
import zipfile
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.core.patterns.pieces import Pieces
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.drawing.cut_up import cut_up
from yarekeel.exchange.bundle import STAMP
from yarekeel.exchange.patterns import cad, foam, lists, printed, tiles
from yarekeel.exchange.patterns.order import mass_of
from yarekeel.exchange.patterns.printing import BED, PLASTIC, PieceOrder, files_of, pieces_asked
from yarekeel.exchange.patterns.sheet import Pattern, Title, code_of
from yarekeel.exchange.patterns.sheets import SHEET, TIMBER, CutList, SheetOrder, cut_list
from yarekeel.units import parse, plain
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, craft_of, frame_of
from yarekeel.web.shared.sending import attached
from yarekeel.web.stages.shape.patterns import SEEN, Asked, AskedDep, PanelsDep
from yarekeel.web.templating import render

router = APIRouter()
FRAMES = "Frames, as cut"
"""The line of the list that the frames' mass goes into."""
PIECE_FIELDS = (
    ("bed", "Bed", BED),
    ("wall", "Wall", "as the estimate has it; 0: solid"),
    ("cuts", "Cut at", "solved; or stations with ; between"),
    ("whole", "Stays whole", "from .. to, with ; between"),
    ("pin", "Pins, thick", "4 mm; 0 for none"),
    ("deep", "into each face", "8 mm"),
    ("clearance", "Clearance round a pin", "0.2 mm"),
)
SHEET_FIELDS = (
    ("sheet", "Sheet", SHEET),
    ("thickness", "Thickness", "6 mm"),
    ("kerf", "The saw takes", "3 mm"),
    ("price", "Price of a sheet", "in your money"),
    ("timber", "Timber comes in", TIMBER),
    ("batten", "Timber, thick", "18 mm"),
)


@dataclass(frozen=True)
class PiecesAsked:
    """Pieces as they are asked for; ``found`` None where ``error`` says what is wrong in which ``field``."""

    frames: Asked
    typed: Mapping[str, str]
    found: Pieces | None
    field: str = ""
    error: str = ""

    @property
    def pieces(self) -> Pieces:
        """Raises InvalidInput where what was asked is wrong."""
        if self.found is None:
            raise InvalidInput(self.field, self.error)
        return self.found


def _pieces(asked: AskedDep, request: Request) -> PiecesAsked:
    typed = {name: request.query_params.get(name, "")[:200] for name, _, _ in PIECE_FIELDS}
    design, system = asked.revision.design, asked.reader.system
    try:
        order = PieceOrder(**typed)
        found = pieces_asked(craft_of(design), design.main_hull, order, lambda text, name: parse(text, "length", system, name))
    except InvalidInput as error:
        return PiecesAsked(asked, typed, None, error.field, error.sentence)
    return PiecesAsked(asked, typed, found)


PiecesDep = Annotated[PiecesAsked, Depends(_pieces)]


@router.get("/boats/{boat_id:int}/{letter}/pieces")
def pieces_page(asked: PiecesDep) -> HTMLResponse:
    """The pieces with their sizes; what was typed stays, with what is wrong beside it."""
    say, found, frames = asked.frames.reader.say, asked.found, asked.frames
    rows = []
    for p in found.pieces if found else ():
        x, y, z = (float(v) for v in p.standing.bounds[1])
        rows.append(
            (p.name, say(x, "length"), say(y, "length"), say(z, "length"), say(p.volume, "volume"), say(p.volume * PLASTIC, "mass"))
        )
    summary = ""
    if found is not None:
        total = sum(p.volume for p in found.pieces)
        at = ", ".join(say(x, "length") for x in found.stations) or "nowhere"
        summary = f"{len(rows)} pieces, cut at {at} from aft; {say(total, 'volume')} to print, {say(total * PLASTIC, 'mass')} in PLA, "
        summary += f"{len(found.joints)} pins." if found.joints else "no pins."
    where = asked.field if asked.field in asked.typed else "bed"
    rows_of_fields = [(n, label, hint, asked.typed[n], asked.error if n == where else "") for n, label, hint in PIECE_FIELDS]
    query = request_query(asked.typed)
    drawing = ""
    if found is not None:
        mesh = craft_of(frames.revision.design).piece(frames.revision.design.main_hull)
        drawing = cut_up(mesh, found.stations, [(p.name, p.mesh) for p in found.pieces], [say(x, "length") for x in found.stations])
    return _page("pieces", frames, fields=rows_of_fields, rows=rows, summary=summary, query=query, drawing=Markup(drawing))


@router.get("/boats/{boat_id:int}/{letter}/pieces.zip")
def pieces_zip(asked: PiecesDep, kind: str = "stl") -> Response:
    """Every piece as it stands, and the pin."""
    data = zipped(files_of(asked.pieces, kind))
    return attached(data, f"{asked.frames.title.boat}-{asked.frames.title.letter}-pieces.zip", "application/zip")


@dataclass(frozen=True)
class SheetsAsked:
    """Sheets as they are asked for; ``found`` None where ``error`` says what is wrong in which ``field``."""

    frames: Asked
    typed: Mapping[str, str]
    found: CutList | None
    field: str = ""
    error: str = ""

    @property
    def cut(self) -> CutList:
        """Raises InvalidInput where what was asked is wrong."""
        if self.found is None:
            raise InvalidInput(self.field, self.error)
        return self.found


def _sheets(asked: AskedDep, panels: PanelsDep, request: Request) -> SheetsAsked:
    typed = {name: request.query_params.get(name, "")[:80] for name, _, _ in SHEET_FIELDS}
    across = request.query_params.get("across", "") == "yes"
    design, system = asked.revision.design, asked.reader.system
    try:
        given = {k: v for k, v in typed.items() if v.strip()}
        order = SheetOrder(**given, across=across)
        found = cut_list(
            craft_of(design),
            design.main_hull,
            panels.found,
            asked.frames.frames,
            order,
            lambda text, name: parse(text, "length", system, name),
        )
    except InvalidInput as error:
        return SheetsAsked(asked, typed | {"across": "yes" if across else ""}, None, error.field, error.sentence)
    return SheetsAsked(asked, typed | {"across": "yes" if across else ""}, found)


SheetsDep = Annotated[SheetsAsked, Depends(_sheets)]


@router.get("/boats/{boat_id:int}/{letter}/sheets")
def sheets_page(asked: SheetsDep) -> HTMLResponse:
    """The sheets as they are cut, with the list."""
    say, found = asked.frames.reader.say, asked.found
    summary, scarfs, sticks = "", [], []
    if found is not None:
        n = found.nested
        summary = f"{n.sheets} sheet{'s' if n.sheets != 1 else ''}, {plain(100 * n.waste, 0)} % of them left over"
        summary += f", {plain(found.cost, 2)} in your money." if found.cost is not None else "."
        scarfs = [(s.part, say(s.at, "length"), say(s.length, "length")) for s in found.scarfs]
        sticks = [(s.name, say(s.length, "length"), str(s.lengths), say(s.to_cut, "length")) for s in found.sticks]
    where = asked.field if asked.field in asked.typed else "sheet"
    rows = [(n, label, hint, asked.typed[n], asked.error if n == where else "") for n, label, hint in SHEET_FIELDS]
    query = request_query({**asked.typed}) + ("&" + asked.frames.query if asked.frames.query else "")
    sheets = [p.name for p in found.sheets] if found else []
    return _page(
        "sheets", asked.frames, fields=rows, across=asked.typed["across"], summary=summary, scarfs=scarfs, sticks=sticks, sheets=sheets,
        query=query,
    )  # fmt: skip


@router.get("/boats/{boat_id:int}/{letter}/sheets.dxf")
def sheets_dxf(asked: SheetsDep) -> Response:
    """All sheets side by side."""
    title = asked.frames.title
    return attached(cad.dxf(asked.cut.sheets, title), f"{title.boat}-{title.letter}-sheets.dxf", "image/vnd.dxf")


@router.get("/boats/{boat_id:int}/{letter}/cutting-list.csv")
def cutting_csv(asked: SheetsDep) -> Response:
    """What is cut from what."""
    title = asked.frames.title
    return attached(lists.cutting(asked.cut), f"{title.boat}-{title.letter}-cutting-list.csv", "text/csv; charset=utf-8")


@router.get("/boats/{boat_id:int}/{letter}/sheets/{name}.svg")
def sheet(asked: SheetsDep, name: str) -> Response:
    """One sheet, for the page."""
    return small(asked.cut.sheets, asked.frames.title, name)


@router.get("/boats/{boat_id:int}/{letter}/foam.{kind}")
def foam_templates(asked: AskedDep, kind: str, paper: str = "A4") -> Response:
    """Templates for a hot wire, a pair for each block between two stations: PDF or DXF."""
    made = foam.templates(asked.frames.frames, asked.title.boat)
    name = f"{asked.title.boat}-{asked.title.letter}-foam"
    if kind == "pdf":
        return attached(tiles.write(made, asked.title, paper), f"{name}.pdf", "application/pdf")
    if kind == "dxf":
        return attached(cad.dxf(made, asked.title), f"{name}.dxf", "image/vnd.dxf")
    raise NotFound("Templates come as PDF or DXF.")


@router.post("/boats/{boat_id:int}/{letter}/patterns/printed")
def note_printed(yard: YardDep, asked: AskedDep) -> Response:
    """Remember these frames as printed, so that the page can say what moved since."""
    code, day = code_of(asked.revision.design), f"{date.today():%Y-%m-%d}"
    yard.predictions.keep(asked.revision.id, "patterns", printed.remembered(asked.frames.frames, code, asked.query, day))
    return RedirectResponse(f"/boats/{asked.boat.id}/{asked.revision.letter}/patterns?{asked.query}", 303)


@router.post("/boats/{boat_id:int}/{letter}/patterns/weigh")
def weigh(
    yard: YardDep, asked: AskedDep, thickness: Annotated[str, Form(max_length=40)], material: Annotated[str, Form(max_length=40)]
) -> Response:
    """What the frames weigh, cut from a sheet: a line of the list, or the same one again. Raises InvalidInput."""
    thick = parse(thickness, "length", asked.reader.system, "thickness")
    stuff = MATERIALS.get(material)
    if stuff is None or thick <= 0:
        raise InvalidInput("thickness", "Frames are cut from a sheet of some thickness, of one of the materials listed.")
    mass, at = mass_of(asked.frames.frames, thick, stuff.density)
    revision = asked.revision
    note = f"{plain(1000 * thick, 1)} mm {stuff.title}, {len(asked.frames.frames)} frames"
    line = WeightItem(FRAMES, round(mass, 6), at, "data", group="structure")
    design = revision.design
    kept = tuple(line if w.name == FRAMES else w for w in design.weights)
    weights = kept if any(w.name == FRAMES for w in design.weights) else (*kept, line)
    after = yard.save(asked.boat.id, revision.letter, replace(design, weights=weights), revision.snapshot, f"frames weighed: {note}"[:200])
    return RedirectResponse(f"/boats/{asked.boat.id}/{after.letter}/weights", 303)


def zipped(files: Iterable[tuple[str, bytes]]) -> bytes:
    """A ZIP of files, the same bytes for the same files."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as box:
        for name, data in files:
            box.writestr(zipfile.ZipInfo(name, STAMP), data)
    return out.getvalue()


def small(patterns: Iterable[Pattern], title: Title, name: str) -> Response:
    """One pattern as it is shown on a page. Raises NotFound."""
    found = next((p for p in patterns if p.name == name), None)
    if found is None:
        raise NotFound("There is no such sheet.")
    left, low, right, high = found.bounds
    return Response(cad.svg(found, title, max(right - left, high - low) / SEEN), media_type="image/svg+xml")


def request_query(typed: Mapping[str, str]) -> str:
    """What was typed, as the questions of an address."""
    from urllib.parse import urlencode

    return urlencode({name: text for name, text in typed.items() if text})


def _page(name: str, asked: Asked, **values: Any) -> HTMLResponse:
    frame = frame_of(asked.boat, asked.revision, BY_SLUG["shape"], asked.revision.design)
    return HTMLResponse(render(f"stages/shape/{name}.html", frame=frame, title=asked.title, part=name, **values))
