"""The binder as a PDF: text stays text, drawings stay lines, photos as they are. The same binder gives the same bytes."""

import io
from collections.abc import Callable, Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from yarekeel.exchange.binder.content import Bound, Photo, Picture, Section, Table, Verdict
from yarekeel.exchange.binder.ink import inked

if TYPE_CHECKING:
    from fpdf import FPDF

FONTS = Path(__file__).parent / "fonts"
PAPERS = ("A4", "Letter")
MARGIN, FOOT = 16.0, 16.0
"""mm."""
STAMP = datetime(2000, 1, 1, tzinfo=UTC)
WORDS = {"holds": "Holds", "near": "Near", "fails": "Fails", "note": ""}
INKS = {"holds": (59, 115, 80), "near": (122, 90, 27), "fails": (163, 58, 42), "note": (86, 100, 106)}
MISSING = str.maketrans({"Ω": "ohm", "Δ": "d", "≤": "<=", "≥": ">=", "µ": "u", "→": "to", "☐": "-"})
"""Signs that the fonts have not, in words they have."""
TALLEST = 120.0
"""mm, of a drawing or a photo."""


def write(b: Bound, sections: Sequence[Section], photo_of: Callable[[str], bytes | None], paper: str = "A4") -> bytes:
    """The file; ``photo_of`` gives a photo's bytes by its name, None for one that is gone."""
    from fpdf import FPDF  # long to load

    name, letter = b.head[0][1], b.letter

    class Sheets(FPDF):
        """Pages with a foot that names boat, revision and page."""

        def footer(self) -> None:
            self.set_y(-FOOT + 4)
            self.set_font("text", "", 8)
            self.set_text_color(*INKS["note"])
            self.cell(0, 5, plain(f"{name}, revision {letter}, {b.day}"), align="L")
            self.set_x(MARGIN)
            self.cell(0, 5, f"{self.page_no()} / {{nb}}", align="R")

    pdf = Sheets(format=paper)
    pdf.set_margins(MARGIN, MARGIN, MARGIN)
    pdf.set_auto_page_break(True, FOOT)
    pdf.set_creation_date(STAMP)
    pdf.set_title(plain(f"{name}, revision {letter}"))
    for family, style, file in (("text", "", "text-regular"), ("text", "B", "text-bold"), ("head", "", "head"), ("head", "B", "head")):
        pdf.add_font(family, style, FONTS / f"{file}.ttf")
    pdf.add_page()
    pdf.set_font("head", "", 26)
    pdf.cell(0, 14, plain(name), new_x="LMARGIN", new_y="NEXT")
    _table(pdf, Table(("", ""), b.head[1:], (0, 1)), headless=True)
    for section in sections:
        _room(pdf, 14 + _needs(pdf, section.blocks[0]) if section.blocks else 14)
        pdf.ln(4)
        pdf.set_text_color(21, 35, 43)
        pdf.set_font("head", "", 16)
        pdf.start_section(section.title)
        pdf.cell(0, 9, section.title, new_x="LMARGIN", new_y="NEXT")
        for block in section.blocks:
            _block(pdf, block, photo_of)
    return bytes(pdf.output())


def plain(text: str) -> str:
    """Text in signs that the fonts have."""
    return text.translate(MISSING)


def _room(pdf: "FPDF", wanted: float) -> None:
    """A new page where less than so many mm are left on this."""
    if pdf.get_y() + wanted > pdf.h - FOOT:
        pdf.add_page()


def _needs(pdf: "FPDF", block: object) -> float:
    """mm that a heading wants under it: a whole drawing, or some lines."""
    return _size(pdf, inked(block.svg))[1] + 4 if isinstance(block, Picture) else 26.0


def _size(pdf: "FPDF", drawing: str) -> tuple[float, float]:
    """Width and height of a drawing on the page, mm."""
    _, _, width, height = (float(v) for v in drawing.partition('viewBox="')[2].partition('"')[0].split())
    wide = min(pdf.epw, TALLEST * width / height)
    return wide, wide * height / width


def _block(pdf: "FPDF", block: object, photo_of: Callable[[str], bytes | None]) -> None:
    if isinstance(block, Table):
        _table(pdf, block)
    elif isinstance(block, Picture):
        _picture(pdf, block)
    elif isinstance(block, Photo):
        _photo(pdf, block, photo_of(block.name))
    elif isinstance(block, Verdict):
        _verdict(pdf, block)
    elif block:
        pdf.set_font("text", "", 9.5)
        pdf.set_text_color(21, 35, 43)
        pdf.multi_cell(0, 5, plain(str(block)), new_x="LMARGIN", new_y="NEXT")
        pdf.ln(1.5)


def _verdict(pdf: "FPDF", v: Verdict) -> None:
    _room(pdf, 14)
    pdf.set_font("text", "B", 9.5)
    pdf.set_text_color(*INKS[v.severity])
    word = WORDS[v.severity]
    pdf.multi_cell(0, 5, plain(f"{word}: {v.title}" if word else v.title), new_x="LMARGIN", new_y="NEXT")
    pdf.set_font("text", "", 9.5)
    pdf.set_text_color(21, 35, 43)
    if v.sentence:
        pdf.multi_cell(0, 4.6, plain(v.sentence), new_x="LMARGIN", new_y="NEXT")
    if v.source:
        pdf.set_font("text", "", 7.5)
        pdf.set_text_color(*INKS["note"])
        pdf.multi_cell(0, 4, plain(v.source), new_x="LMARGIN", new_y="NEXT")
    pdf.ln(1.5)


def _table(pdf: "FPDF", t: Table, *, headless: bool = False) -> None:
    from fpdf.fonts import FontFace

    pdf.set_font("text", "", 8.5)
    pdf.set_text_color(21, 35, 43)
    pdf.set_draw_color(207, 200, 184)
    pdf.set_line_width(0.2)
    widths = _widths(pdf, t)
    align = tuple("LEFT" if k in t.words else "RIGHT" for k in range(len(t.heads)))
    with pdf.table(
        col_widths=widths,
        width=sum(widths),
        align="LEFT",
        text_align=align,
        borders_layout="HORIZONTAL_LINES",
        line_height=4.6,
        first_row_as_headings=not headless,
        headings_style=FontFace(emphasis="", color=INKS["note"]),
        padding=(0.7, 2.0, 0.7, 1.0),
    ) as table:
        for row in ([] if headless else [t.heads]) + list(t.rows):
            line = table.row()
            for cell in row:
                line.cell(plain(cell))
    pdf.ln(2)


def _widths(pdf: "FPDF", t: Table) -> tuple[float, ...]:
    """By the longest cell of each column, the longest columns giving way."""
    longest = [max([pdf.get_string_width(plain(r[k])) for r in (t.heads, *t.rows)] + [6.0]) + 5 for k in range(len(t.heads))]
    usable = pdf.epw
    if sum(longest) <= usable:
        return tuple(longest)
    while sum(longest) > usable:
        k = longest.index(max(longest))
        longest[k] = max(longest[k] - (sum(longest) - usable), sorted(longest)[-2] * 0.9, 12.0)
        if max(longest) <= 12.0:
            break
    return tuple(longest)


def _picture(pdf: "FPDF", p: Picture) -> None:
    drawing = inked(p.svg)
    wide, high = _size(pdf, drawing)
    _room(pdf, high + 4)
    pdf.image(io.BytesIO(drawing.encode()), x=MARGIN + (pdf.epw - wide) / 2, w=wide, alt_text=plain(p.words))
    pdf.ln(2)


def _photo(pdf: "FPDF", p: Photo, data: bytes | None) -> None:
    if data is None:
        _block(pdf, f"{p.words}: it is not there any more.", lambda name: None)
        return
    from PIL import Image

    with Image.open(io.BytesIO(data)) as image:
        width, height = image.size
    wide = min(pdf.epw * 0.7, TALLEST * 0.75 * width / height)
    _room(pdf, wide * height / width + 8)
    pdf.image(io.BytesIO(data), x=MARGIN, w=wide, alt_text=plain(p.words))
    pdf.set_font("text", "", 8)
    pdf.cell(0, 5, plain(p.words), new_x="LMARGIN", new_y="NEXT")
    pdf.ln(1)
