"""Patterns on sheets of a printer, at full size over as many pages as it takes: an overlap, cut marks, a map of the pages, and a square
to check the printer with."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from yarekeel.core.errors import InvalidInput
from yarekeel.exchange.binder.pdf import plain
from yarekeel.exchange.patterns.sheet import LETTERS, Pattern, Title

if TYPE_CHECKING:
    from fpdf import FPDF

PAPERS: dict[str, tuple[float, float]] = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4), "A3": (297.0, 420.0)}
"""mm, upright (ISO 216; ANSI)."""
MARGIN, HEAD, OVERLAP = 10.0, 16.0, 10.0
"""mm: unprinted edge, room for the title over the pattern, and what two neighbours share."""
SQUARE = 50.0
"""mm, side of the square that is measured."""
MOST_PAGES = 400
STAMP = datetime(2000, 1, 1, tzinfo=UTC)
FONTS = Path(__file__).parents[1] / "binder/fonts"
POINTS = 72 / 25.4


@dataclass(frozen=True, slots=True)
class Tile:
    """A page: its column and row (from the lower left), and the part of the pattern that it shows: left, low, right, high, mm."""

    column: int
    row: int
    left: float
    low: float
    right: float
    high: float


def tiles_of(p: Pattern, paper: str) -> tuple[Tile, ...]:
    """The pages of a pattern. Each shows its own part and ``OVERLAP`` of its right and upper neighbours'. Raises InvalidInput for a paper
    that is none, or for more pages than anybody glues together."""
    if paper not in PAPERS:
        raise InvalidInput("paper", f"Paper is one of: {', '.join(PAPERS)}.")
    wide, tall = PAPERS[paper][0] - 2 * MARGIN, PAPERS[paper][1] - 2 * MARGIN - HEAD
    left, low, right, high = p.bounds
    left, low, right, high = left - 4, low - 4, right + 4, high + 16
    step_x, step_y = wide - OVERLAP, tall - OVERLAP
    columns = max(1, math.ceil((right - left - OVERLAP) / step_x))
    rows = max(1, math.ceil((high - low - OVERLAP) / step_y))
    if columns * rows > MOST_PAGES:
        raise InvalidInput("paper", f"{p.name} would take {columns * rows} pages; print it on a plotter from the DXF.")
    return tuple(
        Tile(c, r, left + c * step_x, low + r * step_y, left + c * step_x + wide, low + r * step_y + tall)
        for r in range(rows)
        for c in range(columns)
    )


def write(patterns: Sequence[Pattern], title: Title, paper: str = "A4") -> bytes:
    """The PDF: for each pattern its pages, numbered."""
    from fpdf import FPDF  # long to load

    every = [(p, tiles_of(p, paper)) for p in patterns]
    count = sum(len(tiles) for _, tiles in every)
    if count > MOST_PAGES:
        raise InvalidInput("paper", f"All of it would take {count} pages; print fewer frames at a time, or from the DXF on a plotter.")
    pdf = FPDF(format=PAPERS[paper], unit="mm")
    pdf.set_auto_page_break(False)
    pdf.set_margin(0)
    pdf.set_creation_date(STAMP)
    pdf.set_title(plain(title.line))
    pdf.add_font("text", "", FONTS / "text-regular.ttf")
    number = 0
    for p, tiles in every:
        for tile in tiles:
            number += 1
            _page(pdf, p, tiles, tile, title, f"page {number} of {count}")
    return bytes(pdf.output())


def _page(pdf: "FPDF", p: Pattern, tiles: Sequence[Tile], tile: Tile, title: Title, number: str) -> None:
    pdf.add_page()
    pdf.set_font("text", "", 8)
    columns, rows = max(t.column for t in tiles) + 1, max(t.row for t in tiles) + 1
    top = MARGIN + HEAD

    def at(x: float, y: float) -> tuple[float, float]:
        return MARGIN + x - tile.left, top + tile.high - y

    pdf.text(MARGIN, MARGIN + 4, plain(f"{title.line}; {p.name}, {number}"))
    pdf.text(MARGIN, MARGIN + 9, plain(f"column {tile.column + 1} of {columns}, row {tile.row + 1} of {rows}. Print at 100 %, not fitted."))
    _map(pdf, columns, rows, tile)
    wide, tall = tile.right - tile.left, tile.high - tile.low
    pdf.set_line_width(0.2)
    with pdf.rect_clip(MARGIN, top, wide, tall):
        for rounds, ink in ((p.outlines, (0, 0, 0)), (p.holes, (190, 0, 0))):
            pdf.set_draw_color(*ink)
            for one in rounds:
                pdf.polygon([at(x, y) for x, y in one.tolist()], style="D")
        pdf.set_draw_color(0, 90, 190)
        for one in p.marks:
            pdf.polyline([at(x, y) for x, y in one.tolist()], style="D")
        pdf.set_font("text", "", LETTERS * POINTS)
        for w in p.words:
            pdf.text(*at(w.x, w.y), plain(w.text))
    _cut_marks(pdf, tile, columns, rows, top, wide=wide, tall=tall)
    if tile.column == 0 and tile.row == 0:
        _square(pdf, top, tall)


def _map(pdf: "FPDF", columns: int, rows: int, tile: Tile) -> None:
    """Small, in the head's right corner: which of the pages this is."""
    size = min(12.0 / rows, 40.0 / columns)
    left = pdf.w - MARGIN - columns * size
    pdf.set_draw_color(120, 120, 120)
    pdf.set_fill_color(200, 215, 215)
    for r in range(rows):
        for c in range(columns):
            here = (c, r) == (tile.column, tile.row)
            pdf.rect(left + c * size, MARGIN + (rows - 1 - r) * size, size, size, style="DF" if here else "D")


def _cut_marks(pdf: "FPDF", tile: Tile, columns: int, rows: int, top: float, *, wide: float, tall: float) -> None:
    """Corners of the page's part, and where the next page to the right and above begins."""
    pdf.set_draw_color(0, 0, 0)
    xs = [0.0, *([wide - OVERLAP] if tile.column + 1 < columns else []), wide]
    ys = [0.0, *([tall - OVERLAP] if tile.row + 1 < rows else []), tall]
    for x in xs:
        for y in ys:
            px, py = MARGIN + x, top + tall - y
            pdf.line(px - 3, py, px + 3, py)
            pdf.line(px, py - 3, px, py + 3)


def _square(pdf: "FPDF", top: float, tall: float) -> None:
    pdf.set_draw_color(0, 0, 0)
    pdf.rect(MARGIN + 4, top + tall - 4 - SQUARE, SQUARE, SQUARE)
    pdf.set_font("text", "", 8)
    pdf.text(MARGIN + 6, top + tall - 6, f"This square is {SQUARE:g} mm a side: measure it before you cut.")
