"""Panels and frames laid out on the sheets that the builder has, long ones scarfed, and the list of what is cut: sheets, timber, cost."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.patterns.frames import Frame
from yarekeel.core.patterns.nesting import Nested, Part, Scarf, Stick, Stock, nest, scarfed, stick
from yarekeel.core.patterns.panels import Panel
from yarekeel.core.patterns.seams import seams_of
from yarekeel.core.quantities import Metres
from yarekeel.exchange.patterns.order import Length, sides
from yarekeel.exchange.patterns.sheet import MILLIMETRES, Pattern, Word, laid_along
from yarekeel.stages.design.craft import Craft

SHEET, TIMBER = "2440 mm x 1220 mm", "2400 mm"
"""As plywood and battens are mostly sold (common practice)."""
THICKNESS: Metres = 0.006
MOST_PRICE = 1e6


@dataclass(frozen=True, slots=True)
class SheetOrder:
    """As typed: the sheet, its thickness, what the saw takes, the lengths timber comes in, its thickness, and a sheet's price. ``across``:
    parts may lie across the grain."""

    sheet: str = SHEET
    thickness: str = ""
    kerf: str = ""
    timber: str = TIMBER
    batten: str = ""
    price: str = ""
    across: bool = False


@dataclass(frozen=True, eq=False)
class CutList:
    """The sheets as patterns, the layout, the scarfs, the timber, and the cost of the sheets (None where no price is given)."""

    sheets: tuple[Pattern, ...]
    nested: Nested
    scarfs: tuple[Scarf, ...]
    sticks: tuple[Stick, ...]
    cost: float | None


def cut_list(craft: Craft, number: int, panels: Sequence[Panel], frames: Sequence[Frame], order: SheetOrder, length: Length) -> CutList:
    """The cutting of a body's panels and frames. Raises InvalidInput with the field that is wrong."""
    long, wide = sides(order.sheet or SHEET, "sheet", length, "length x width", SHEET)
    thickness = _more_than_nothing(order.thickness, "thickness", length, THICKNESS)
    kerf = length(order.kerf, "kerf") if order.kerf.strip() else 0.003
    if not 0 <= kerf < 0.1:
        raise InvalidInput("kerf", "A saw takes between {low:length} and {high:length}.", low=0.0, high=0.1)
    stock = Stock(long, wide, kerf, order.across)
    stations = [f.x for f in frames]
    parts: list[Part] = []
    scarfs: list[Scarf] = []
    for p in (p for p in panels if p.develops):
        flat, along = laid_along(p)
        keep_off = [float(np.interp(x, *along)) for x in stations]
        for side in ("port", "starboard") if p.pair else ("",):
            outline = flat * np.array([1.0, -1.0]) if side == "starboard" else flat
            name = f"{side} {p.name}".strip().replace(" ", "-")
            pieces, joints = scarfed(Part(name, outline), stock.length, thickness, keep_off)
            parts, scarfs = [*parts, *pieces], [*scarfs, *joints]
    for f in frames:
        parts += [Part(f"{f.name}{f'-{k + 1}' if len(f.outlines) > 1 else ''}", o) for k, o in enumerate(f.outlines)]
    if not parts:
        raise InvalidInput("sheet", "Nothing flat is cut of this hull: no panel develops, and no frame was asked for.")
    nested = nest(parts, stock)
    timber = _more_than_nothing(order.timber, "timber", length, length(TIMBER, "timber"))
    batten = _more_than_nothing(order.batten, "batten", length, 0.018)
    sticks = tuple(stick(name, lies, timber, batten) for name, lies in timber_of(craft, number, panels))
    return CutList(tuple(_sheets(nested, stock)), nested, tuple(scarfs), sticks, _cost(order.price, nested.sheets))


def _more_than_nothing(text: str, name: str, length: Length, usual: Metres) -> Metres:
    value = length(text, name) if text.strip() else usual
    if value <= 0:
        raise InvalidInput(name, "It is more than nothing.")
    return value


def _cost(price: str, sheets: int) -> float | None:
    if not price.strip():
        return None
    try:
        value = float(price.replace(",", "."))
    except ValueError:
        raise InvalidInput("price", "A price is a number, in your own money.") from None
    if not (math.isfinite(value) and 0 <= value <= MOST_PRICE):
        raise InvalidInput("price", f"A price lies between 0 and {MOST_PRICE:.0f}.")
    return value * sheets


def _sheets(nested: Nested, stock: Stock) -> list[Pattern]:
    wide, tall = MILLIMETRES * stock.length, MILLIMETRES * stock.width
    edge = np.array([[0.0, 0.0], [wide, 0.0], [wide, tall], [0.0, tall], [0.0, 0.0]])
    out = []
    for number in range(nested.sheets):
        lying = [one for one in nested.laid if one.sheet == number]
        outlines = tuple(MILLIMETRES * one.outline for one in lying)
        spots = [MILLIMETRES * _inside(one.outline) for one in lying]
        words = [Word(float(s[0]), float(s[1]), one.name) for s, one in zip(spots, lying, strict=True)]
        words.append(Word(0.0, tall + 8, f"sheet {number + 1} of {nested.sheets}, {wide:.0f} by {tall:.0f}, grain along it"))
        out.append(Pattern(f"sheet-{number + 1}", outlines, (), (edge,), tuple(words)))
    return out


def _inside(outline: Floats) -> Floats:
    from shapely import Polygon

    spot = Polygon(outline).representative_point()
    return np.array([spot.x, spot.y])


WORDS = {"chine": "chine log", "keel": "keelson", "sheer": "sheer clamp"}
"""Timber by the seam that it lies along; the ends have cleats of their own."""


def timber_of(craft: Craft, number: int, panels: Sequence[Panel]) -> list[tuple[str, Metres]]:
    """Where timber lies along the seams of panels, and how long it is there."""
    open_top = craft.design.bodies[number].deck == "open"
    out = []
    for seam in seams_of(craft.piece(number), panels, open_top=open_top):
        if seam.kind in WORDS:
            where = f", {' to '.join(seam.panels)}" if len(seam.panels) > 1 else ""
            out.append((f"{WORDS[seam.kind]}{where}{', one a side' if seam.pair else ''}", seam.length))
    return out
