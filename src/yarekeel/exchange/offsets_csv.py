"""Tables of offsets as text: CSV both ways, and whatever a spreadsheet puts on the clipboard.

A row is a station: its place from aft, then a half-breadth and a height for each line, keel first. A header row may name
the lines and the unit; without one, bare numbers are in the unit shown on the page.
"""

import csv
import io
import re
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import Offsets
from yarekeel.core.geometry.families.mesh_file import METRES_PER_UNIT
from yarekeel.core.geometry.families.offsets import MOST_LINES, MOST_STATIONS, Station
from yarekeel.core.quantities import Metres
from yarekeel.exchange.tables import safe
from yarekeel.plain_text import plain

LONGEST = 60_000
"""Characters."""
LONGEST_CELL = 80
MOST_CELLS = 2 * MOST_LINES + 3
_UNIT = re.compile(r"\b(mm|cm|m|in|ft)\b")
_NUMBER = re.compile(r"[+\-−]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d{1,3})?")


def read(text: str, field: str, shown: Metres, now: Any = None) -> Offsets:
    """The table in ``text``; ``shown`` is metres a bare number; ``now`` is the table it replaces, whose names and kind of
    sections it keeps where they fit. Raises InvalidInput for ``field`` with the row that cannot be used."""
    if len(text) > LONGEST:
        raise InvalidInput(field, "That is far more than a table of offsets; paste the stations alone.")
    rows = [row for row in _rows(text) if any(cell.strip() for cell in row)]
    if any(len(row) > MOST_CELLS or max(map(len, row)) > LONGEST_CELL for row in rows):
        raise InvalidInput(field, f"A row has at most {MOST_CELLS} cells, of at most {LONGEST_CELL} characters each.")
    if not rows:
        raise InvalidInput(field, "Paste one row a station: its place from aft, then half-breadth and height of each line.")
    names: tuple[str, ...] = ()
    if not _NUMBER.fullmatch(rows[0][0].strip()):
        shown, names = _header(rows.pop(0), shown)
    stations = []
    for k, row in enumerate(rows[: MOST_STATIONS + 1]):
        cells = [c.strip() for c in row]
        while cells and not cells[-1]:
            cells.pop()
        if len(cells) < 5 or len(cells) % 2 == 0:
            raise InvalidInput(
                field, f"Row {k + 1} has {len(cells)} numbers; it needs a place and two for each line, keel and sheer at least."
            )
        numbers = [_number(c, k + 1, field) * shown for c in cells]
        stations.append(Station(numbers[0], tuple(numbers[1::2]), tuple(numbers[2::2])))
    count = len(stations[0].half_breadths_m) if stations else 0
    if any(len(s.half_breadths_m) != count for s in stations):
        raise InvalidInput(field, "Every row must have as many numbers as the first.")
    kept = now if isinstance(now, Offsets) and len(now.lines) == count else None
    lines = names if len(names) == count else kept.lines if kept else _names(count)
    try:
        return Offsets(now.sections if isinstance(now, Offsets) else "chine", lines[:MOST_LINES], tuple(stations))
    except InvalidInput as error:
        raise InvalidInput(field, error.sentence) from None


def _names(count: int) -> tuple[str, ...]:
    return ("keel", *(["chine"] if count == 3 else [f"line {k}" for k in range(1, count - 1)]), "sheer")


def _rows(text: str) -> list[list[str]]:
    """Cells by the separator in use: a tab, a semicolon, else a comma."""
    text = text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    separator = next((s for s in ("\t", ";") if s in text), ",")
    try:
        return list(csv.reader(io.StringIO(text), delimiter=separator, skipinitialspace=True))
    except csv.Error:
        return []


def _header(cells: list[str], shown: Metres) -> tuple[Metres, tuple[str, ...]]:
    units = [m[1] for c in cells if (m := _UNIT.search(c.split("(")[-1]))]
    names = [re.sub(r"\s*(\(.*\)|half[- ]breadth|height)\s*", " ", c).strip() for c in cells[1::2]]
    return METRES_PER_UNIT[units[0]] if units else shown, tuple(plain(n)[:30] for n in names if n)


def _number(text: str, row: int, field: str) -> float:
    plain = text.replace("\u00a0", "").replace(" ", "")
    if not _NUMBER.fullmatch(plain):
        raise InvalidInput(field, f"Row {row}: “{text[:20]}” is not a number.")
    return float(plain.replace(",", ".").replace("−", "-"))


def write(table: Offsets) -> str:
    """The table, its changes worked in, as CSV in millimetres; ``read`` gives the same stations back."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["from aft (mm)", *(safe(f"{name} {what} (mm)") for name in table.lines for what in ("half-breadth", "height"))])
    for s in table.changed().stations:
        pairs = zip(s.half_breadths_m, s.heights_m, strict=True)
        writer.writerow([f"{1000 * v:.6g}" for v in (s.x_m, *(v for pair in pairs for v in pair))])
    return out.getvalue()
