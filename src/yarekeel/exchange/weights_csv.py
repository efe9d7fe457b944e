"""Lists of weights as text: CSV both ways, and whatever a spreadsheet puts on the clipboard.

A row is a weight. A header row names the columns in any order, with a unit in brackets if it is not the page's; without one
they are name, mass, from aft, to port, up. Only a name and a mass are needed.
"""

from typing import cast

from yarekeel.core.errors import InvalidInput
from yarekeel.core.parameters import LONGEST_NAME
from yarekeel.core.quantities import Point
from yarekeel.core.weights.items import GROUPS, LONGEST_NOTE, SPREAD, Group, Known, WeightItem
from yarekeel.core.weights.materials import MATERIALS, Material
from yarekeel.exchange import tables
from yarekeel.exchange.tables import Column, Row, Table, Wanted
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.listing import MOST_LINES
from yarekeel.units import System, parse

_COLUMNS = (
    Column("material", r"material|made of"),
    Column("hung", r"hangs|hung|swings", "length"),
    Column("y", r"to port|port|tcg|athwart|side|^y\b", "length"),
    Column("z", r"\bup\b|height|vcg|^z\b", "length"),
    Column("x", r"from aft|from stern|aft|lcg|station|^x\b", "length"),
    Column("quantity", r"quantity|qty|count|how many|number of|pieces|^n$"),
    Column("spread", r"spread|±|tolerance"),
    Column("known", r"known|how sure|source"),
    Column("group", r"group|kind|category|system"),
    Column("on", r"aboard|^on$|in use"),
    Column("note", r"note|remark|comment"),
    Column("mass", r"mass|weight|\bwt\b", "mass"),
    Column("name", r"name|item|part|what|description"),
)
WANTED = Wanted(
    columns=_COLUMNS,
    order=("name", "mass", "x", "y", "z"),
    needed=("name", "mass"),
    most=MOST_LINES,
    too_long="That is far more than a list of weights; paste the rows alone.",
    empty="Paste one row a weight: its name, its mass, and where it is (from aft, to port, up).",
    too_many=f"A list holds at most {MOST_LINES} weights; this has {{rows}} rows.",
    too_narrow="A row needs a name and a mass at least; separate the columns by tabs, semicolons or commas.",
    headless="The header has no column for the {missing}; name the columns, such as: name, mass (g), from aft (mm), to port (mm), up (mm).",
)
_KNOWN = {"guess": "guessed", "estimate": "guessed", "data": "data", "catalogue": "data", "weigh": "weighed", "scale": "weighed"}


def _item(table: Table, row: Row, middle: Point, materials: tuple[Material, ...]) -> WeightItem:
    """A row's weight. Raises InvalidInput that names the row."""
    name = row.words("name")[:LONGEST_NAME] or f"Row {row.number}"
    x, y, z = (table.value(row, k, middle[n]) or 0.0 for n, k in enumerate("xyz"))
    group = next((g for g in GROUPS if g.startswith(row.words("group").lower()[:5] or "-")), "payload")
    known = next((k for word, k in _KNOWN.items() if word in row.words("known").lower()), "guessed")
    spread = row.words("spread").strip("± ")
    try:
        return WeightItem(
            name=name,
            mass_kg=table.value(row, "mass", none="has no mass; write 0 if it is not known yet.") or 0.0,
            at_m=(x, y, z),
            known=cast(Known, known),
            spread=parse(spread, "percent", table.system, table.field) if spread and known in SPREAD else None,
            group=cast(Group, group),
            quantity=_or(table.value(row, "quantity"), 1.0),
            on=row.words("on").lower() not in ("no", "off", "0", "false", "ashore"),
            note=row.words("note")[:LONGEST_NOTE],
            material=_material(row.words("material"), materials),
            hung_m=_or(table.value(row, "hung"), 0.0),
        )
    except InvalidInput as error:
        said = error.sentence if error.sentence.startswith("Row ") else f"Row {row.number}, {name}: {error.sentence}"
        raise InvalidInput(table.field, said) from None


def _or(value: float | None, missing: float) -> float:
    return missing if value is None else value


def _material(text: str, known: tuple[Material, ...]) -> str:
    """The code of a material by its code or its title; empty for one that is not known."""
    word = text.strip().lower()
    return next((m.code for m in known if word in (m.code, m.title.lower())), "")


def read(text: str, field: str, system: System, craft: Craft) -> list[WeightItem]:
    """The weights in ``text``; bare numbers are in ``system`` unless the header says otherwise, and what has no place is put
    amidships. Raises InvalidInput for ``field`` with the row that cannot be used; then nothing is taken."""
    table = tables.read(text, field, system, WANTED)
    low, high = craft.hull.mesh.bounds
    middle = (round(float(low[0] + high[0]) / 2, 3), 0.0, round(float(low[2] + (high[2] - low[2]) / 3), 3))
    materials = (*craft.design.materials, *MATERIALS.values())
    return [_item(table, row, middle, materials) for row in table.rows]


def write(items: tuple[WeightItem, ...]) -> str:
    """The list as CSV in grams and millimetres; ``read`` gives the same lines back, without recipes."""
    header = ["name", "mass (g)", "from aft (mm)", "to port (mm)", "up (mm)", "quantity", "known", "spread (%)", "group", "aboard"]
    rows = []
    for i in items:
        numbers = [f"{1000 * v:.10g}" for v in (i.mass_kg, *i.at_m)]
        spread = "" if i.spread is None else f"{100 * i.spread:.10g}"
        words = [i.known, spread, i.group, "yes" if i.on else "no", i.note, i.material]
        rows.append([i.name, *numbers, f"{i.quantity:g}", *words, f"{1000 * i.hung_m:.10g}"])
    return tables.write([*header, "note", "material", "hangs from, above it (mm)"], rows)
