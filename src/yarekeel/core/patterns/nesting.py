"""Flat parts laid out on sheets: each at the lowest free place, with what the saw takes between them and the grain along the sheet; and
parts that are longer than a sheet cut in two with a scarf."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.geometry.sections import flat_area
from yarekeel.core.quantities import Degrees, Metres, Ratio, SquareMetres

if TYPE_CHECKING:
    from shapely import Polygon

SCARF: Ratio = 8.0
"""Length of a scarf over the thickness (common practice: 8 at least)."""
MOST_PARTS = 400
MOST_SPOTS = 600
"""Places that a part is tried at on a sheet."""
OFF_FRAMES: Metres = 0.02
"""That a scarf keeps off a frame, beyond its own half length."""
MANY_POINTS, ROUGH = 200, 1e-4
"""Points of an outline from which a coarser one is laid out in its place, that much further from the others (m)."""
HAIR: Metres = 1e-6
LEVELS, STEEP = 12, 1.5
"""Heights of a part's own corners that the next is tried at, and how much more than the kerf over them: so that steep edges clear it."""


@dataclass(frozen=True, slots=True)
class Stock:
    """A sheet as it is sold: its size, the grain along its length; ``kerf`` is what the saw takes."""

    length: Metres
    width: Metres
    kerf: Metres = 0.003
    turned: bool = False
    """Whether parts may lie across the grain, too."""


@dataclass(frozen=True, eq=False)
class Part:
    """A flat part: its name and closed outline (n, 2), its length along x."""

    name: str
    outline: Floats

    @property
    def area(self) -> SquareMetres:
        """Within its outline."""
        return abs(flat_area(self.outline))


@dataclass(frozen=True, eq=False)
class Laid:
    """A part on a sheet: which, turned by how much, and its outline there (n, 2), from the sheet's lower left corner."""

    name: str
    sheet: int
    turn: Degrees
    outline: Floats


@dataclass(frozen=True, eq=False)
class Nested:
    """Every part laid, the number of sheets, and the share of them that is waste."""

    laid: tuple[Laid, ...]
    sheets: int
    waste: Ratio


def nest(parts: Sequence[Part], stock: Stock) -> Nested:
    """All parts on as few sheets as it finds: the tallest first, each at the lowest free place, leftmost; never more than row by row takes.
    Raises InvalidInput for a part larger than a sheet, or for too many."""
    if len(parts) > MOST_PARTS:
        raise InvalidInput("sheet", f"At most {MOST_PARTS} parts are laid out at a time; this is {len(parts)}.")
    if min(stock.length, stock.width) <= 0 or stock.kerf < 0:
        raise InvalidInput("sheet", "A sheet has a length and a width.")
    turned = [_turns(p, stock) for p in parts]
    order = sorted(range(len(parts)), key=lambda k: (-turned[k][0].height, -parts[k].area))
    free = _lowest([turned[k] for k in order], stock)
    rows = _row_by_row([turned[k][0] for k in order], stock)
    best = min((free, rows), key=lambda laid: max((one.sheet for one in laid), default=-1))
    sheets = max((one.sheet for one in best), default=-1) + 1
    used = sum(p.area for p in parts)
    waste = 1 - used / (sheets * stock.length * stock.width) if sheets else 0.0
    return Nested(tuple(sorted(best, key=lambda one: (one.sheet, one.name))), sheets, waste)


@dataclass(frozen=True, eq=False)
class _Turned:
    """A part turned: its lower left corner at the origin."""

    name: str
    turn: Degrees
    outline: Floats
    length: Metres
    height: Metres


def _turns(p: Part, stock: Stock) -> list[_Turned]:
    """The ways that a part may lie on a sheet, the flattest first. Raises InvalidInput for one that is larger."""
    out = []
    for turn in (0.0, 180.0, 90.0, 270.0) if stock.turned else (0.0, 180.0):
        c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
        flat = p.outline @ np.array([[c, s], [-s, c]])
        flat = flat - flat.min(axis=0)
        length, height = (float(v) for v in flat.max(axis=0))
        if length <= stock.length + HAIR and height <= stock.width + HAIR:
            out.append(_Turned(p.name, turn, flat, length, height))
    if not out:
        length, height = (float(v) for v in np.ptp(p.outline, axis=0))
        sentence = "The sheet is smaller than {name}, which is {x:length} by {y:length}."
        raise InvalidInput("sheet", sentence.replace("{name}", p.name), x=length, y=height)
    return sorted(out, key=lambda t: t.height)


def _row_by_row(parts: Sequence[_Turned], stock: Stock) -> list[Laid]:
    """First fit by height: in rows, each as high as its first part, on the first sheet with room."""
    rows: list[list[float]] = []  # sheet, y, height, x used
    tops: list[float] = []
    out = []
    for p in parts:
        row = next((r for r in rows if p.height <= r[2] + HAIR and r[3] + p.length <= stock.length + HAIR), None)
        if row is None:
            sheet = next((k for k, top in enumerate(tops) if top + p.height <= stock.width + HAIR), len(tops))
            if sheet == len(tops):
                tops.append(0.0)
            row = [float(sheet), tops[sheet], p.height, 0.0]
            tops[sheet] += p.height + stock.kerf
            rows.append(row)
        out.append(Laid(p.name, int(row[0]), p.turn, p.outline + np.array([row[3], row[1]])))
        row[3] += p.length + stock.kerf
    return out


def _lowest(parts: Sequence[list[_Turned]], stock: Stock) -> list[Laid]:
    """Each part at the lowest free place on the first sheet that has one, tried beside and over all that lie there."""
    sheets: list[_Sheet] = []
    out = []
    for ways in parts:
        for number in range(len(sheets) + 1):
            if number == len(sheets):
                sheets.append(_Sheet(stock))
            found = sheets[number].place(ways)
            if found is not None:
                way, at = found
                out.append(Laid(way.name, number, way.turn, way.outline + at))
                break
    return out


class _Sheet:
    """A sheet with what lies on it."""

    def __init__(self, stock: Stock) -> None:
        self.stock = stock
        self.lying: list[tuple[Polygon, Metres]] = []
        self.boxes: list[tuple[float, float, float, float]] = []
        self.xs, self.ys = [0.0], [0.0]

    def place(self, ways: list[_Turned]) -> tuple[_Turned, Floats] | None:
        """The lowest, then leftmost free place of a part in any of its ways; it lies there then."""
        best: tuple[float, float, _Turned] | None = None
        for way in ways:
            shape, off = _coarse(way.outline)
            for x, y in self._spots(way):
                if best is not None and (y, x) >= best[:2]:
                    break
                if self._free(shape, off, way, x, y):
                    best = (y, x, way)
                    break
        if best is None:
            return None
        y, x, way = best
        at = np.array([x, y])
        self.lying.append(_coarse(way.outline + at))
        self.boxes.append((x, y, x + way.length, y + way.height))
        gap = self.stock.kerf + HAIR
        self.xs, self.ys = [*self.xs, x + way.length + gap], [*self.ys, y + way.height + gap]
        levels = sorted(set(np.round(way.outline[:, 1] + y + STEEP * gap, 6).tolist()))
        self.ys += levels[:: max(1, len(levels) // LEVELS)]
        return way, at

    def _spots(self, way: _Turned) -> list[tuple[float, float]]:
        most_x, most_y = self.stock.length - way.length + HAIR, self.stock.width - way.height + HAIR
        spots = {(x, y) for x in self.xs if x <= most_x for y in self.ys if y <= most_y}
        return sorted(spots, key=lambda s: (s[1], s[0]))[:MOST_SPOTS]

    def _free(self, shape: "Polygon", off: Metres, way: _Turned, x: float, y: float) -> bool:
        from shapely.affinity import translate

        gap = self.stock.kerf
        near = [
            k for k, (a, b, c, d) in enumerate(self.boxes)
            if x < c + gap and a < x + way.length + gap and y < d + gap and b < y + way.height + gap
        ]  # fmt: skip
        if not near:
            return True
        here = translate(shape, x, y)
        return all(here.distance(other) >= gap + off + more for other, more in (self.lying[k] for k in near))


def _coarse(outline: Floats) -> "tuple[Polygon, Metres]":
    """An outline (n, 2) as a polygon, of fewer points where it has very many; and how far it may lie off."""
    from shapely import Polygon

    whole = Polygon(outline)
    return (whole.simplify(ROUGH), ROUGH) if len(outline) > MANY_POINTS else (whole, 0.0)


@dataclass(frozen=True, slots=True)
class Scarf:
    """A scarf: in which part, how far its middle is from the part's after end, and how long it is."""

    part: str
    at: Metres
    length: Metres


def scarfed(part: Part, most: Metres, thickness: Metres, keep_off: Sequence[Metres] = ()) -> tuple[tuple[Part, ...], tuple[Scarf, ...]]:
    """A part in lengths of at most ``most``, each reaching half a scarf over the joint; the joints away from places ``keep_off`` along it
    (frames). Raises InvalidInput where a length cannot hold its scarfs."""
    from shapely import Polygon, box

    low, high = float(part.outline[:, 0].min()), float(part.outline[:, 0].max())
    long = SCARF * thickness
    if high - low <= most + HAIR:
        return (part,), ()
    if most < 3 * long:
        raise InvalidInput("sheet", "A sheet of {most:length} is too short for scarfs of {scarf:length}.", most=most, scarf=long)
    count = math.ceil((high - low - long) / (most - long) - 1e-9)
    cuts: list[Metres] = []
    for k in range(1, count):
        wanted = low + k * (high - low) / count
        off = long / 2 + OFF_FRAMES
        spots = [wanted, *(f + side * off for f in keep_off for side in (-1, 1))]
        far = (cuts[-1] if cuts else low - long / 2) + most - long
        good = [s for s in spots if s <= far + HAIR and all(abs(s - f) >= off - HAIR for f in keep_off)]
        cuts.append(min(good or [min(wanted, far)], key=lambda s: abs(s - wanted)))
    whole = Polygon(part.outline).buffer(0)
    ends = [low - 1.0, *cuts, high + 1.0]
    parts = []
    for k, (a, b) in enumerate(pairwise(ends)):
        piece = whole.intersection(box(a - (long / 2 if k else 0), -1e3, b + (long / 2 if k < len(cuts) else 0), 1e3))
        largest = max(getattr(piece, "geoms", [piece]), key=lambda g: g.area)
        ring = np.asarray(largest.exterior.coords)[:-1]
        if float(np.ptp(ring[:, 0])) > most + 1e-4:
            raise InvalidInput("sheet", "{most:length} of sheet is not enough for this panel with its scarfs off the frames.", most=most)
        parts.append(Part(f"{part.name}-{k + 1}", ring))
    return tuple(parts), tuple(Scarf(part.name, c - low, long) for c in cuts)


@dataclass(frozen=True, slots=True)
class Stick:
    """A length of timber: what it is, how long it is when it lies on the hull, from how many lengths of stock it is made, and how long
    these are together with their scarfs."""

    name: str
    length: Metres
    lengths: int
    to_cut: Metres


def stick(name: str, length: Metres, stock: Metres, thickness: Metres) -> Stick:
    """A batten of a length, scarfed where the stock is shorter."""
    long = SCARF * thickness
    if length <= stock:
        return Stick(name, length, 1, length)
    if stock <= long:
        raise InvalidInput("timber", "Timber of {stock:length} is too short for scarfs of {scarf:length}.", stock=stock, scarf=long)
    lengths = math.ceil((length - long) / (stock - long) - 1e-9)
    return Stick(name, length, lengths, length + (lengths - 1) * long)
