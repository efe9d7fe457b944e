"""Readings of a thrust test as text, both ways: a row is a reading."""

from yarekeel.core.errors import InvalidInput
from yarekeel.core.propulsion.bench.sheet import MOST_POINTS, OVERLOAD, BenchPoint, BenchTest
from yarekeel.exchange import tables
from yarekeel.exchange.tables import Column, Row, Table, Wanted
from yarekeel.units import System

WANTED = Wanted(
    columns=(
        Column("throttle", r"throttle|stick|pwm|duty", "percent"),
        Column("volts", r"volt|^u\b|^v\b", "voltage"),
        Column("amps", r"amp|current|^i\b|^a\b", "current"),
        Column("rpm", r"rpm|turns|speed of", "ratio"),
        Column("at", r"time|after|^t\b|second", "seconds"),
        Column("note", r"note|remark|comment"),
        Column("reading", r"reading|scale|thrust|pull|force|weight|load", "force"),
    ),
    order=("throttle", "reading", "volts", "amps", "rpm", "note"),
    needed=("throttle", "reading"),
    most=MOST_POINTS,
    too_long="That is far more than a thrust test; paste the readings alone.",
    empty="Paste one row a reading: throttle, what the scale read, and volts, amps and turns if you have them.",
    too_many=f"A thrust test holds at most {MOST_POINTS} readings; this has {{rows}} rows. Average them, or take every tenth.",
    too_narrow="A row needs a throttle and a reading at least; separate the columns by tabs, semicolons or commas.",
    headless="The header has no column for the {missing}; name the columns, such as: throttle (%), reading (g), volts, amps, rpm, note.",
)


def read(text: str, field: str, system: System) -> tuple[BenchPoint, ...]:
    """The readings in ``text``; bare numbers are in ``system`` unless the header says otherwise. A reading of OL is past the scale's end.
    Raises InvalidInput for ``field`` with the row that cannot be used; then nothing is taken."""
    table = tables.read(text, field, system, WANTED)
    return tuple(_point(table, row) for row in table.rows)


def _point(table: Table, row: Row) -> BenchPoint:
    over = row.words("reading").strip().upper() in ("OL", "OVER", "OVERLOAD", "ERR")
    try:
        return BenchPoint(
            throttle=table.value(row, "throttle", none="has no throttle.") or 0.0,
            reading_n=None if over else table.value(row, "reading", none="has no reading; write OL where the scale was past its end."),
            volts=table.value(row, "volts"),
            amps=table.value(row, "amps"),
            rpm=table.value(row, "rpm"),
            at_s=table.value(row, "at"),
            note=row.words("note")[:80] or (OVERLOAD if over else ""),
        )
    except InvalidInput as error:
        said = error.sentence if error.sentence.startswith("Row ") else f"Row {row.number}: {error.sentence}"
        raise InvalidInput(table.field, said) from None


def write(test: BenchTest) -> str:
    """The readings as CSV in newtons and per cent."""

    def shown(value: float | None) -> str:
        return "" if value is None else f"{value:.10g}"

    rows = [
        [
            f"{100 * p.throttle:.10g}",
            "OL" if p.reading_n is None else shown(p.reading_n),
            shown(p.volts),
            shown(p.amps),
            shown(p.rpm),
            shown(p.at_s),
            p.note,
        ]
        for p in test.points
    ]
    return tables.write(["throttle (%)", "reading (N)", "volts (V)", "amps (A)", "rpm", "time (s)", "note"], rows)
