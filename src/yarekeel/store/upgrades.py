"""The tables brought up to this program's version: all steps in one transaction, looked over before it is saved.

A kill, a full disk or a fault leaves the file as it was. Earlier programs let each change of a table save itself: a file they left
half-way has what the next step adds (an index, a column, an empty table) but not its number. ``healed`` takes that off again, since
nothing was ever kept in it; where that does not give back the tables of its version, the backup made before the upgrade is put in
its place.
"""

import contextlib
import functools
import sqlite3
from pathlib import Path
from typing import Any, cast

from sqlalchemy import Connection, Engine, create_engine

from yarekeel.store import backups
from yarekeel.store.faults import StoreFault
from yarekeel.store.transactions import DRIVER_BEGINS_NOTHING, begins, for_writing

MIGRATIONS = Path(__file__).parent / "migrations"
BEFORE = "before-update"
"""Why a backup was made before an upgrade."""

Tables = dict[str, tuple[frozenset[tuple[Any, ...]], frozenset[tuple[Any, ...]]]]
"""Of each table its columns (name, type, whether it may be empty, place in the key) and its indexes (name, whether unique, columns)."""


def versions() -> tuple[str, ...]:
    """Versions of the tables that this program knows, newest first: what the files that make them begin with."""
    return tuple(sorted((p.name.split("_")[0] for p in (MIGRATIONS / "versions").glob("[0-9]*.py")), reverse=True))


def newest_version() -> str:
    """The version that this program works with."""
    return versions()[0]


def version_of(path: Path) -> str | None:
    """The version of a database's tables; None where it has none yet. Raises StoreFault."""
    try:
        with contextlib.closing(sqlite3.connect(f"file:{path}?mode=rw", uri=True, timeout=3)) as connection:
            row = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    except sqlite3.OperationalError:
        return None
    except sqlite3.DatabaseError as error:
        raise StoreFault(f"{path} cannot be read: {error}.") from None
    return str(row[0]) if row else None


def migrate(engine: Engine, to: str = "head") -> None:
    """Bring the tables up to this program's version, or another. Raises StoreFault where what came of it is not sound; nothing is saved
    then."""
    with for_writing(engine).begin() as connection:
        _run(connection, to)
        driver = cast(sqlite3.Connection, connection.connection.driver_connection)
        if driver.execute("PRAGMA foreign_key_check").fetchone() or tables_of(driver) != expected_tables(to):
            raise StoreFault("The data could not be brought up to this program's version; they are as they were.")


def _run(connection: Connection, to: str) -> None:
    from alembic import command  # a quarter of a second to load, so only where there is something to change
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["connection"] = connection
    command.upgrade(config, to)


def tables_of(connection: sqlite3.Connection) -> Tables:
    """The tables of a database."""
    names = [n for (n,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")]
    return {name: (_columns(connection, name), _indexes(connection, name)) for name in names if name != "alembic_version"}


def _columns(connection: sqlite3.Connection, table: str) -> frozenset[tuple[Any, ...]]:
    return frozenset((name, kind, full, key) for _, name, kind, full, _, key in connection.execute(f'PRAGMA table_info("{table}")'))


def _indexes(connection: sqlite3.Connection, table: str) -> frozenset[tuple[Any, ...]]:
    """Those that were made by name; what a column's own word makes goes with the column."""
    rows = [r for r in connection.execute(f'PRAGMA index_list("{table}")') if r[3] == "c"]
    return frozenset((r[1], r[2], tuple(c[2] for c in connection.execute(f'PRAGMA index_info("{r[1]}")'))) for r in rows)


@functools.lru_cache(8)
def expected_tables(version: str | None) -> Tables:
    """The tables of a version, as its steps make them; none for None."""
    if version is None:
        return {}
    engine = create_engine("sqlite://", connect_args=DRIVER_BEGINS_NOTHING)
    begins(engine)
    with engine.begin() as connection:
        _run(connection, version)
        return tables_of(cast(sqlite3.Connection, connection.connection.driver_connection))


def healed(path: Path) -> None:
    """Bring a file that an upgrade left half-way back to the tables of its version; a copy of it as it was is kept among the backups.
    Any other is left alone. Raises StoreFault with the way out."""
    version = version_of(path)
    expected = expected_tables(version)
    with contextlib.closing(_opened(path)) as connection:
        if tables_of(connection) == expected:
            return
    backups.back_up(path, "half-way", prune=False)  # the one that is whole may be the oldest
    with contextlib.closing(_opened(path)) as connection:
        connection.execute("BEGIN IMMEDIATE")
        if _without_additions(connection, expected):
            connection.execute("COMMIT")
            return
        connection.execute("ROLLBACK")
    for kept in backups.found(path):
        if kept.stem.endswith(BEFORE) and version_of(kept) == version and backups.is_whole(kept):
            with contextlib.closing(_opened(kept)) as connection:
                sound = tables_of(connection) == expected
            if sound:
                backups.restore(path, kept)
                return
    raise StoreFault(f"{path} was left half-way by an update; bring a backup back: `yare-keel restore FILE`.")


def _opened(path: Path) -> sqlite3.Connection:
    return sqlite3.connect(f"file:{path}?mode=rw", uri=True, timeout=10, isolation_level=None)


def _without_additions(connection: sqlite3.Connection, expected: Tables) -> bool:
    """Take off indexes, columns and empty tables that do not belong; whether what is left is what is expected."""
    for table, (columns, indexes) in tables_of(connection).items():
        if table not in expected:
            if connection.execute(f'SELECT 1 FROM "{table}" LIMIT 1').fetchone() is None:
                connection.execute(f'DROP TABLE "{table}"')
            continue
        for index, *_ in indexes - expected[table][1]:
            connection.execute(f'DROP INDEX "{index}"')
        names = {name for name, *_ in expected[table][0]}
        for column in [name for name, *_ in columns if name not in names]:
            connection.execute(f'ALTER TABLE "{table}" DROP COLUMN "{column}"')
    return tables_of(connection) == expected
