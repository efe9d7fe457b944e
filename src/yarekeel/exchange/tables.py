"""Tables as text: CSV, and whatever a spreadsheet puts on the clipboard.

Tabs, semicolons or commas part the columns. A header row names them in any order, with a unit in brackets where it is not the page's;
without one they are in the order that their reader says. Commas may be decimal signs.
"""

import csv
import io
import re
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.plain_text import plain
from yarekeel.units import System, parse

LONGEST = 2_000_000
"""Characters: thousands of lines fit."""
LONGEST_CELL, LONGEST_NUMBER = 2_000, 60
"""Characters of a cell, and of one that is a number."""
LONGEST_HEAD = 80
MOST_COLUMNS = 80
_EITHER_CASE = ("g", "kg", "mm", "cm", "lb", "oz", "in", "rpm")
"""Units that mean the same in capitals."""
_DECIMAL_COMMA = re.compile(r"^[+\-−]?(0,\d+|\d+,(\d{1,2}|\d{4,}))$")
_NUMBER = re.compile(r"[+\-−]?\d+(?:[.,]\d*)?|[+\-−]?[.,]\d+")


@dataclass(frozen=True, slots=True)
class Column:
    """A column: its code, the words in a header that mean it, and the units' kind of its numbers; "" for words."""

    code: str
    words: str
    kind: str = ""


@dataclass(frozen=True, slots=True)
class Row:
    """A row's number in the text, and its cells by the column's code; what is not there is empty."""

    number: int
    cells: dict[str, str]

    def words(self, code: str) -> str:
        """A cell's words."""
        return self.cells.get(code, "")


@dataclass(frozen=True, slots=True)
class Table:
    """Rows, with how their numbers are written."""

    field: str
    system: System
    kinds: dict[str, str]
    units: dict[str, str]
    decimal_comma: bool
    rows: tuple[Row, ...]

    def value(self, row: Row, code: str, missing: float | None = None, none: str = "") -> float | None:
        """A cell's number in SI; ``missing`` for an empty one, or with ``none`` the refusal that says so. Raises InvalidInput that names
        the row."""
        typed = row.words(code)
        if len(typed) > LONGEST_NUMBER:
            raise InvalidInput(self.field, f"Row {row.number}: “{typed[:20]}…” is too long for a number.")
        typed = typed.replace("\u00a0", "").replace("\u202f", "").strip()
        if not typed:
            if none:
                raise InvalidInput(self.field, f"Row {row.number} {none}")
            return missing
        kind = self.kinds[code]
        if not _NUMBER.fullmatch(typed):
            try:
                return parse(typed, kind, self.system, self.field)
            except InvalidInput as error:
                raise InvalidInput(self.field, f"Row {row.number}: {error.sentence}") from None
        if re.search(r"[1-9]\d*,\d{3}$", typed) and not self.decimal_comma:
            two = f"“{typed}” can be read two ways; write {typed.replace(',', '')} or {typed.replace(',', '.')}."
            raise InvalidInput(self.field, f"Row {row.number}: {two}")
        value = float(typed.replace(",", ".").replace("−", "-"))
        unit = self.units.get(code)
        return parse(f"{value!r} {unit}" if unit else repr(value), kind, self.system, self.field)


@dataclass(frozen=True, slots=True)
class Wanted:
    """What a reader wants of a text: its columns, their order without a header, those without which it is nothing, how many rows at most,
    and the sentences for a text that is too long, empty, too many rows (with ``{rows}``), too narrow, or whose header lacks a column
    (with ``{missing}``)."""

    columns: tuple[Column, ...]
    order: tuple[str, ...]
    needed: tuple[str, ...]
    most: int
    too_long: str
    empty: str
    too_many: str
    too_narrow: str
    headless: str


def read(text: str, field: str, system: System, wanted: Wanted) -> Table:
    """The table in ``text``. Raises InvalidInput for ``field``; then nothing is taken."""
    if len(text) > LONGEST:
        raise InvalidInput(field, wanted.too_long)
    rows = [(n + 1, row) for n, row in enumerate(_rows(text)) if any(c.strip() for c in row)]
    if not rows:
        raise InvalidInput(field, wanted.empty)
    if len(rows) > wanted.most + 1:
        raise InvalidInput(field, wanted.too_many.format(rows=len(rows)))
    for n, row in rows:
        if len(row) > MOST_COLUMNS:
            raise InvalidInput(field, f"Row {n} has {len(row)} cells; a table has at most {MOST_COLUMNS} columns.")
        if max(map(len, row)) > LONGEST_CELL:
            raise InvalidInput(field, f"Row {n} has a cell of more than {LONGEST_CELL} characters; is a quotation mark missing?")
    columns: tuple[str, ...] = wanted.order
    units: dict[str, str] = {}
    if not any(_NUMBER.match(c.strip()) for c in rows[0][1]):
        if max(map(len, rows[0][1])) > LONGEST_HEAD:
            raise InvalidInput(field, f"A column's name has at most {LONGEST_HEAD} characters.")
        columns, units = _header(rows.pop(0)[1], field, wanted)
    elif len(rows[0][1]) < len(wanted.needed):
        raise InvalidInput(field, wanted.too_narrow)
    if not rows:
        raise InvalidInput(field, "There is a header and no row under it.")
    commas = any(_DECIMAL_COMMA.search(c.strip()) for _, row in rows for c in row if len(c) <= LONGEST_NUMBER)
    made = (Row(n, dict(zip(columns, (plain(c).strip() for c in cells), strict=False))) for n, cells in rows)
    return Table(field, system, {c.code: c.kind or "ratio" for c in wanted.columns}, units, commas, tuple(made))


def _rows(text: str) -> list[list[str]]:
    text = text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    first = next((line for line in text.split("\n") if line.strip()), "")
    separator = next((s for s in ("\t", ";") if s in first), ",")
    try:
        return list(csv.reader(io.StringIO(text), delimiter=separator, skipinitialspace=True))
    except csv.Error:
        return []


def _header(cells: list[str], field: str, wanted: Wanted) -> tuple[tuple[str, ...], dict[str, str]]:
    columns: list[str] = []
    units: dict[str, str] = {}
    kinds = {c.code: c.kind for c in wanted.columns}
    for cell in cells:
        name = cell.strip().lower()
        unit = re.search(r"[(\[]\s*([A-Za-zµ%°Ω]+)\s*[)\]]", cell)
        bare = re.sub(r"[(\[].*", "", name).strip()
        column = next((c.code for c in wanted.columns if c.code not in columns and re.search(c.words, bare)), "")
        columns.append(column)
        if unit and kinds.get(column):
            units[column] = unit[1].lower() if unit[1].lower() in _EITHER_CASE else unit[1]
    missing = [word for word in wanted.needed if word not in columns]
    if missing:
        raise InvalidInput(field, wanted.headless.format(missing=" or the ".join(missing)))
    return tuple(columns), units


def write(header: list[str], rows: list[list[str]]) -> str:
    """A table as CSV, safe in a spreadsheet."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(header)
    writer.writerows([[safe(c) for c in row] for row in rows])
    return out.getvalue()


def safe(text: str) -> str:
    """Text on one line that a spreadsheet does not take for a formula; numbers stay."""
    text = plain(text)
    return f"'{text}" if text.lstrip()[:1] in ("=", "+", "-", "@", "|") and not _NUMBER.fullmatch(text) else text
