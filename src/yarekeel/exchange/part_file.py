"""Parts of the bin: one as JSON-ready data, many as CSV both ways.

A row is a part: its kind, name and mass, and the figures of its kind in columns named as in the boat file, in SI as the names say; a cell
may hold any unit.
"""

import dataclasses
from typing import Any, cast

from yarekeel.core.errors import InvalidInput
from yarekeel.core.parameters import Parameter, parameters_of
from yarekeel.core.propulsion.parts import KINDS, Known, Part
from yarekeel.exchange import tables
from yarekeel.exchange.tables import Column, Row, Table, Wanted
from yarekeel.units import System

MOST = 500
OWN = ("name", "size", "note", "known")


def data_of(part: Part) -> dict[str, Any]:
    """A part as data; ``part_of`` gives the same part back."""
    return {"kind": part.kind, "mass_kg": part.mass_kg, **{n: getattr(part, n) for n in OWN}, "spec": dataclasses.asdict(part.spec)}


def part_of(data: Any) -> Part:
    """A part from its data. Raises InvalidInput."""
    if not isinstance(data, dict) or data.get("kind") not in KINDS or not isinstance(data.get("spec"), dict):
        raise InvalidInput("kind", f"A part has a kind: {', '.join(KINDS)}.")
    spec = KINDS[data["kind"]].spec
    names = {p.name for p in parameters_of(spec)}
    try:
        return Part(spec=spec(**{k: v for k, v in data["spec"].items() if k in names}), **{k: v for k, v in data.items() if k != "spec"})
    except TypeError:
        raise InvalidInput("part", "This part's figures cannot be read.") from None


def _figures() -> dict[str, Parameter]:
    """Every figure of any kind, by its name."""
    return {p.name: p for kind in KINDS.values() for p in parameters_of(kind.spec)}


_UNIT = {"length": "m", "force": "N", "current": "A", "voltage": "V", "capacity": "Ah", "resistance": "ohm", "power": "W", "area": "m**2"}
WANTED = Wanted(
    columns=(
        Column("kind", r"^kind|^type"),
        Column("mass", r"^mass|^weight", "mass"),
        Column("size", r"^size"),
        Column("note", r"^note|^remark"),
        Column("known", r"^known|^figures"),
        *(Column(name, rf"^{name}$", p.kind if p.kind not in ("choice", "count", "flag") else "") for name, p in _figures().items()),
        Column("name", r"^name|^part"),
    ),
    order=("kind", "name", "mass"),
    needed=("kind", "name", "mass"),
    most=MOST,
    too_long="That is far more than a parts bin; paste the rows alone.",
    empty="Paste one row a part: its kind, its name, its mass, and its figures under a header that names them.",
    too_many=f"The bin takes at most {MOST} parts at a time; this has {{rows}} rows.",
    too_narrow="A row needs a kind, a name and a mass at least; separate the columns by tabs, semicolons or commas.",
    headless="The header has no column for the {missing}; name the columns, such as: kind, name, mass (g), kv, resistance_ohm.",
)


def read(text: str, field: str, system: System) -> tuple[Part, ...]:
    """The parts in ``text``. Raises InvalidInput for ``field`` with the row that cannot be used; then nothing is taken."""
    table = tables.read(text, field, system, WANTED)
    return tuple(_part(table, row) for row in table.rows)


def _part(table: Table, row: Row) -> Part:
    word = row.words("kind").strip().lower()
    kind = next((k for k in KINDS.values() if word in (k.code, k.title.lower())), None)
    if kind is None:
        raise InvalidInput(table.field, f"Row {row.number}: a part is one of {', '.join(KINDS)}.")
    try:
        mass = table.value(row, "mass", none="has no mass; weigh the part.")
        spec = kind.spec(**{p.name: value for p in parameters_of(kind.spec) if (value := _value(table, row, p)) is not None})
        known = row.words("known") if row.words("known") in ("common practice", "from memory") else "own"
        return Part(
            kind.code, row.words("name")[:80], mass or 0.0, spec, row.words("size")[:80], row.words("note")[:80], cast(Known, known)
        )
    except InvalidInput as error:
        said = error.sentence if error.sentence.startswith("Row ") else f"Row {row.number}: {error.sentence}"
        raise InvalidInput(table.field, said) from None


def _value(table: Table, row: Row, p: Parameter) -> Any:
    """A figure of a row in SI; a bare number is in SI, as its column's name says."""
    text = row.words(p.name).strip()
    if not text:
        return None
    if p.kind == "choice":
        return text
    if p.kind == "flag":
        return text.lower() in ("yes", "on", "true", "1")
    if p.kind == "count":
        value = table.value(row, p.name)
        return int(value) if value is not None and value == int(value) else value
    bare = text.replace(",", ".").lstrip("+-−").replace(".", "", 1).replace("e", "", 1).replace("-", "").isdecimal()
    table.units.setdefault(p.name, _UNIT.get(p.kind, "")) if bare else None
    return table.value(row, p.name)


def write(parts: tuple[Part, ...]) -> str:
    """The parts as CSV; ``read`` gives the same parts back."""
    names = [n for n in _figures() if any(hasattr(p.spec, n) for p in parts)]
    rows = []
    for p in parts:
        figures = [_shown(getattr(p.spec, n, None)) for n in names]
        rows.append([p.kind, p.name, f"{1000 * p.mass_kg:.10g}", p.size, p.note, p.known, *figures])
    return tables.write(["kind", "name", "mass (g)", "size", "note", "known", *names], rows)


def _shown(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:.12g}" if isinstance(value, float) else str(value)
