"""Pulls, runs and shifts of a day at the water as typed or pasted tables: a row is a reading."""

from yarekeel.core.errors import InvalidInput
from yarekeel.exchange import tables
from yarekeel.exchange.tables import Column, Table, Wanted
from yarekeel.stages.trials.readings import MOST, Pull, Run, Tilt
from yarekeel.units import System, plain

_THROTTLE = Column("throttle", r"throttle|stick", "percent")
_AMPS = Column("amps", r"amp|current", "current")
_VOLTS = Column("volts", r"volt|pack", "voltage")


def _wanted(columns: tuple[Column, ...], what: str, order: str) -> Wanted:
    return Wanted(
        columns=columns,
        order=tuple(c.code for c in columns),
        needed=(columns[0].code,),
        most=MOST,
        too_long=f"That is far more than a day of {what}; paste the rows alone.",
        empty=f"Write one row a reading: {order}.",
        too_many=f"At most {MOST} {what} of one day; this has {{rows}} rows.",
        too_narrow=f"A row is {order}; separate them by commas, semicolons or tabs.",
        headless=f"The header has no column for the {{missing}}; a row is {order}.",
    )


PULLS = _wanted((_THROTTLE, Column("thrust", r"pull|thrust|force|scale", "force"), _AMPS, _VOLTS), "pulls", "throttle, pull, amps, volts")
RUNS = _wanted((_THROTTLE, Column("speed", r"speed|velocity", "speed"), _AMPS, _VOLTS), "runs", "throttle, speed, amps, volts")
_MOVED, _HEEL = Column("moved", r"moved|shift|way", "length"), Column("heel", r"heel|lean|angle", "degrees")
SHIFTS = _wanted((_MOVED, _HEEL), "shifts", "moved to starboard, heel")


def _value(table: Table, row: tables.Row, code: str) -> float | None:
    return table.value(row, code)


def pulls(text: str, field: str, system: System) -> tuple[Pull, ...]:
    """The pulls in a table. Raises InvalidInput for ``field``."""
    if not text.strip():
        return ()
    t = tables.read(text, field, system, PULLS)
    return tuple(Pull(_needed(t, r, "throttle"), _value(t, r, "thrust"), _value(t, r, "amps"), _value(t, r, "volts")) for r in t.rows)


def runs(text: str, field: str, system: System) -> tuple[Run, ...]:
    """The runs in a table. Raises InvalidInput for ``field``."""
    if not text.strip():
        return ()
    t = tables.read(text, field, system, RUNS)
    return tuple(Run(_needed(t, r, "throttle"), _value(t, r, "speed"), _value(t, r, "amps"), _value(t, r, "volts")) for r in t.rows)


def shifts(text: str, field: str, system: System) -> tuple[Tilt, ...]:
    """The shifts in a table. Raises InvalidInput for ``field``."""
    if not text.strip():
        return ()
    t = tables.read(text, field, system, SHIFTS)
    return tuple(Tilt(_needed(t, r, "moved"), _needed(t, r, "heel")) for r in t.rows)


def _needed(table: Table, row: tables.Row, code: str) -> float:
    value = table.value(row, code, none=f"has no {code}.")
    assert value is not None
    return value


def percent(share: float) -> str:
    """A throttle as it is typed."""
    if not 0 <= share <= 1:
        raise InvalidInput("throttle", "Throttle runs from 0 to 100 %.")
    return f"{plain(100 * share, 0)} %"
