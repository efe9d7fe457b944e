"""Lists of weights as text: CSV both ways, and whatever a spreadsheet puts on the clipboard.

A row is a weight. A header row names the columns in any order, with a unit in brackets if it is not the page's; without one
they are name, mass, from aft, to port, up. Only a name and a mass are needed.
"""

import csv
import io
import re
from dataclasses import dataclass
from typing import cast

from yarekeel.core.errors import InvalidInput
from yarekeel.core.parameters import LONGEST_NAME
from yarekeel.core.quantities import Point
from yarekeel.core.weights.items import GROUPS, LONGEST_NOTE, SPREAD, Group, Known, WeightItem
from yarekeel.core.weights.materials import MATERIALS, Material
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.listing import MOST_LINES
from yarekeel.units import System, parse

LONGEST = 2_000_000
"""Characters: thousands of lines fit."""
PLAIN = ("name", "mass", "x", "y", "z")
"""Columns where no header names them."""
_WORDS = (
    ("material", r"material|made of"),
    ("hung", r"hangs|hung|swings"),
    ("y", r"to port|port|tcg|athwart|side|^y\b"),
    ("z", r"\bup\b|height|vcg|^z\b"),
    ("x", r"from aft|from stern|aft|lcg|station|^x\b"),
    ("quantity", r"quantity|qty|count|how many|number of|pieces|^n$"),
    ("spread", r"spread|±|tolerance"),
    ("known", r"known|how sure|source"),
    ("group", r"group|kind|category|system"),
    ("on", r"aboard|^on$|in use"),
    ("note", r"note|remark|comment"),
    ("mass", r"mass|weight|\bwt\b"),
    ("name", r"name|item|part|what|description"),
)
_KINDS = {"mass": "mass", "x": "length", "y": "length", "z": "length", "hung": "length"}
_NUMBER = re.compile(r"[+\-−]?\d+(?:[.,]\d*)?|[+\-−]?[.,]\d+")
_KNOWN = {"guess": "guessed", "estimate": "guessed", "data": "data", "catalogue": "data", "weigh": "weighed", "scale": "weighed"}


@dataclass(frozen=True)
class _Reader:
    """How this text is written: its columns, their units, and whether a comma is its decimal sign."""

    columns: tuple[str, ...]
    units: dict[str, str]
    decimal_comma: bool
    system: System
    field: str
    middle: Point
    materials: tuple[Material, ...]

    def item(self, cells: list[str], row: int) -> WeightItem:
        """A row's weight. Raises InvalidInput that names the row."""
        at = dict(zip(self.columns, (c.strip() for c in cells), strict=False))
        name = at.get("name", "")[:LONGEST_NAME] or f"Row {row}"
        place = [self._number(at.get(k, ""), k, row, self.middle[n]) for n, k in enumerate("xyz")]
        group = next((g for g in GROUPS if g.startswith(at.get("group", "-").lower()[:5])), "payload")
        known = next((k for word, k in _KNOWN.items() if word in at.get("known", "").lower()), "guessed")
        spread = at.get("spread", "").strip("± ")
        try:
            return WeightItem(
                name=name,
                mass_kg=self._number(at.get("mass", ""), "mass", row, None),
                at_m=(place[0], place[1], place[2]),
                known=cast(Known, known),
                spread=parse(spread, "percent", self.system, self.field) if spread and known in SPREAD else None,
                group=cast(Group, group),
                quantity=self._number(at.get("quantity", ""), "quantity", row, 1.0),
                on=at.get("on", "yes").lower() not in ("no", "off", "0", "false", "ashore"),
                note=at.get("note", "")[:LONGEST_NOTE],
                material=_material(at.get("material", ""), self.materials),
                hung_m=self._number(at.get("hung", ""), "hung", row, 0.0),
            )
        except InvalidInput as error:
            said = error.sentence if error.sentence.startswith("Row ") else f"Row {row}, {name}: {error.sentence}"
            raise InvalidInput(self.field, said) from None

    def _number(self, text: str, column: str, row: int, missing: float | None) -> float:
        plain = text.replace("\u00a0", "").replace("\u202f", "").strip()
        if not plain:
            if missing is None:
                raise InvalidInput(self.field, f"Row {row} has no mass; write 0 if it is not known yet.")
            return missing
        kind = _KINDS.get(column, "ratio")
        if _NUMBER.fullmatch(plain):
            if re.search(r"[1-9]\d*,\d{3}$", plain) and not self.decimal_comma:
                raise InvalidInput(
                    self.field, f"Row {row}: “{plain}” can be read two ways; write {plain.replace(',', '')} or {plain.replace(',', '.')}."
                )
            value = float(plain.replace(",", ".").replace("−", "-"))
            unit = self.units.get(column)
            return parse(f"{value!r} {unit}", kind, self.system, self.field) if unit else parse(repr(value), kind, self.system, self.field)
        try:
            return parse(plain, kind, self.system, self.field)
        except InvalidInput as error:
            raise InvalidInput(self.field, f"Row {row}: {error.sentence}") from None


def _material(text: str, known: tuple[Material, ...]) -> str:
    """The code of a material by its code or its title; empty for one that is not known."""
    word = text.strip().lower()
    return next((m.code for m in known if word in (m.code, m.title.lower())), "")


def read(text: str, field: str, system: System, craft: Craft) -> list[WeightItem]:
    """The weights in ``text``; bare numbers are in ``system`` unless the header says otherwise, and what has no place is put
    amidships. Raises InvalidInput for ``field`` with the row that cannot be used; then nothing is taken."""
    if len(text) > LONGEST:
        raise InvalidInput(field, "That is far more than a list of weights; paste the rows alone.")
    rows = [(n + 1, row) for n, row in enumerate(_rows(text)) if any(c.strip() for c in row)]
    if not rows:
        raise InvalidInput(field, "Paste one row a weight: its name, its mass, and where it is (from aft, to port, up).")
    if len(rows) > MOST_LINES + 1:
        raise InvalidInput(field, f"A list holds at most {MOST_LINES} weights; this has {len(rows)} rows.")
    columns: tuple[str, ...] = PLAIN
    units: dict[str, str] = {}
    if not any(_NUMBER.match(c.strip()) for c in rows[0][1]):
        columns, units = _header(rows.pop(0)[1], field)
    elif len(rows[0][1]) < 2:
        raise InvalidInput(field, "A row needs a name and a mass at least; separate the columns by tabs, semicolons or commas.")
    low, high = craft.hull.mesh.bounds
    middle = (round(float(low[0] + high[0]) / 2, 3), 0.0, round(float(low[2] + (high[2] - low[2]) / 3), 3))
    commas = any(re.search(r"^[+\-−]?(0,\d+|\d+,(\d{1,2}|\d{4,}))$", c.strip()) for _, row in rows for c in row)
    reader = _Reader(
        columns=columns,
        units=units,
        decimal_comma=commas,
        system=system,
        field=field,
        middle=middle,
        materials=(*craft.design.materials, *MATERIALS.values()),
    )
    if not rows:
        raise InvalidInput(field, "There is a header and no row under it.")
    return [reader.item(row, number) for number, row in rows]


def _rows(text: str) -> list[list[str]]:
    text = text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    first = next((line for line in text.split("\n") if line.strip()), "")
    separator = next((s for s in ("\t", ";") if s in first), ",")
    try:
        return list(csv.reader(io.StringIO(text), delimiter=separator, skipinitialspace=True))
    except csv.Error:
        return []


def _header(cells: list[str], field: str) -> tuple[tuple[str, ...], dict[str, str]]:
    columns: list[str] = []
    units: dict[str, str] = {}
    for cell in cells:
        name = cell.strip().lower()
        unit = re.search(r"[(\[]\s*([a-zµ]+)\s*[)\]]", name)
        bare = re.sub(r"[(\[].*", "", name).strip()
        column = next((c for c, words in _WORDS if c not in columns and re.search(words, bare)), "")
        columns.append(column)
        if unit and column in _KINDS:
            units[column] = unit[1]
    missing = [word for word in ("name", "mass") if word not in columns]
    if missing:
        raise InvalidInput(
            field,
            f"The header has no column for the {' or the '.join(missing)}; "
            "name the columns, such as: name, mass (g), from aft (mm), to port (mm), up (mm).",
        )
    return tuple(columns), units


def write(items: tuple[WeightItem, ...]) -> str:
    """The list as CSV in grams and millimetres; ``read`` gives the same lines back, without recipes."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(
        [
            "name",
            "mass (g)",
            "from aft (mm)",
            "to port (mm)",
            "up (mm)",
            "quantity",
            "known",
            "spread (%)",
            "group",
            "aboard",
            "note",
            "material",
            "hangs from, above it (mm)",
        ]
    )
    for i in items:
        numbers = [f"{1000 * v:.10g}" for v in (i.mass_kg, *i.at_m)]
        spread = "" if i.spread is None else f"{100 * i.spread:.10g}"
        words = (i.known, spread, i.group, "yes" if i.on else "no", _safe(i.note), i.material)
        writer.writerow([_safe(i.name), *numbers, f"{i.quantity:g}", *words, f"{1000 * i.hung_m:.10g}"])
    return out.getvalue()


def _safe(text: str) -> str:
    """Text that a spreadsheet does not take for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t") else text
