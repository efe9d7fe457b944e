"""``yare-keel patterns``: a boat file's patterns at full size, into a folder."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from yarekeel.cli.words import working
from yarekeel.exchange import bundle
from yarekeel.exchange.patterns import cad, foam, lists, tiles
from yarekeel.exchange.patterns.order import Length, Order, Ordered, PanelOrder, ordered, panels_cut, panels_drawn
from yarekeel.exchange.patterns.printing import PieceOrder, files_of, pieces_asked
from yarekeel.exchange.patterns.sheet import Pattern, Title, title_of
from yarekeel.exchange.patterns.sheets import SheetOrder, cut_list
from yarekeel.stages.design.craft import Craft
from yarekeel.units import DEFAULT, parse


@dataclass(frozen=True, slots=True)
class More:
    """What is written beside the frames."""

    panels: PanelOrder | None = None
    foam: bool = False
    sheets: SheetOrder | None = None
    pieces: PieceOrder | None = None


def write(boat: Path, out: Path, order: Order, paper: str, more: More) -> Iterator[Path]:
    """Write the files and name each. Raises InvalidInput in one sentence before any is written."""
    craft = bundle.load(boat)
    hull = craft.design.main_hull

    def length(text: str, name: str) -> float:
        return parse(text, "length", DEFAULT, name)

    title = title_of(craft.design, "A", f"{date.today():%Y-%m-%d}")
    with working("frames"):
        found = ordered(craft, hull, order, length)
        files = {**drawn("frames", found.patterns, title, paper), "set-up.csv": lists.set_up(found.set_up)}
    if more.panels is not None:
        with working("panels"):
            files |= drawn("panels", panels_drawn(craft, hull, more.panels, length), title, paper)
    if more.foam:
        with working("foam"):
            files |= drawn("foam", foam.templates(found.frames, craft.design.name), title, paper)
    if more.sheets is not None:
        with working("sheets"):
            files |= _sheets(craft, hull, found, more.sheets, length, title)
    if more.pieces is not None:
        with working("pieces"):
            files |= {f"pieces/{name}": data for name, data in files_of(pieces_asked(craft, hull, more.pieces, length), "stl")}
    for name, data in files.items():
        (out / name).parent.mkdir(parents=True, exist_ok=True)
        (out / name).write_bytes(data)
        yield out / name


def _sheets(craft: Craft, hull: int, found: Ordered, order: SheetOrder, length: Length, title: Title) -> dict[str, bytes]:
    made = cut_list(craft, hull, panels_cut(craft, hull), found.frames, order, length)
    return {
        "sheets.dxf": cad.dxf(made.sheets, title),
        **{f"{p.name}.svg": cad.svg(p, title) for p in made.sheets},
        "cutting-list.csv": lists.cutting(made),
    }


def drawn(name: str, patterns: tuple[Pattern, ...] | list[Pattern], title: Title, paper: str) -> dict[str, bytes]:
    """Patterns as a PDF over sheets of a printer, a DXF, and an SVG of each."""
    return {
        f"{name}.pdf": tiles.write(patterns, title, paper),
        f"{name}.dxf": cad.dxf(patterns, title),
        **{f"{p.name}.svg": cad.svg(p, title) for p in patterns},
    }
