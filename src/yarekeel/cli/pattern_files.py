"""``yare-keel patterns``: a boat file's frames at full size, into a folder."""

from collections.abc import Iterator
from datetime import date
from pathlib import Path

from yarekeel.core.errors import InvalidInput
from yarekeel.exchange import boat_file, tables
from yarekeel.exchange.patterns import cad, tiles
from yarekeel.exchange.patterns.order import Order, ordered, panels_cut
from yarekeel.exchange.patterns.sheet import panel_pattern, title_of
from yarekeel.units import DEFAULT, parse


def write(boat: Path, out: Path, order: Order, paper: str, panels: bool = False) -> Iterator[Path]:
    """Write the files and name each. Raises InvalidInput in one sentence before any is written."""
    craft = boat_file.load(boat)
    design = craft.design
    hull = design.main_hull
    found = ordered(craft, hull, order, lambda text, name: parse(text, "length", DEFAULT, name))
    title = title_of(design, "A", f"{date.today():%Y-%m-%d}")
    rows = [[s.name, *(f"{1000 * v:.1f}" for v in (s.x, s.spacing, s.keel, s.sheer))] for s in found.set_up]
    heads = ["frame", "from_aft_mm", "spacing_mm", "keel_over_strongback_mm", "sheer_over_strongback_mm"]
    files = {
        "frames.pdf": tiles.write(found.patterns, title, paper),
        "frames.dxf": cad.dxf(found.patterns, title),
        "set-up.csv": tables.write(heads, rows).encode(),
        **{f"{p.name}.svg": cad.svg(p, title) for p in found.patterns},
    }
    if panels:
        flat = [panel_pattern(p, design.name) for p in panels_cut(craft, hull) if p.develops]
        if not flat:
            raise InvalidInput("panels", "No panel of this hull develops: it is curved two ways all over.")
        files |= {"panels.pdf": tiles.write(flat, title, paper), "panels.dxf": cad.dxf(flat, title)}
        files |= {f"{p.name}.svg": cad.svg(p, title) for p in flat}
    out.mkdir(parents=True, exist_ok=True)
    for name, data in files.items():
        (out / name).write_bytes(data)
        yield out / name
