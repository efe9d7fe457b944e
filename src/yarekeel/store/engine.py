"""The database file: looked at before it is used, backed up before it is changed, opened with write-ahead log and foreign keys on."""

import contextlib
import os
import sqlite3
from pathlib import Path
from typing import Any

from sqlalchemy import Engine, event
from sqlmodel import create_engine

from yarekeel.store import backups, upgrades
from yarekeel.store.faults import StoreFault, sentence_of, watch
from yarekeel.store.transactions import DRIVER_BEGINS_NOTHING, begins
from yarekeel.store.upgrades import newest_version, version_of, versions

PATIENCE = 10
"""Seconds that a save waits for another program's."""
CACHE = 8_000
"""Kibibytes of pages that a connection keeps."""


def open_database(path: Path) -> Engine:
    """The engine over ``path``, created and migrated as needed; its owner's alone. Raises StoreFault with the way out."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        known = path.exists() and path.stat().st_size > 0
        if known:
            looked_over(path)
        else:
            with contextlib.suppress(FileExistsError):
                os.close(os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))
        with contextlib.suppress(PermissionError):
            path.chmod(0o600)
    except OSError as error:
        raise StoreFault(f"The data folder {path.parent} cannot be used: {error.strerror or error}.") from None
    if known and version_of(path) != newest_version():
        upgrades.healed(path)
        if version_of(path) is not None:
            backups.back_up(path, upgrades.BEFORE)
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": PATIENCE, **DRIVER_BEGINS_NOTHING})
    event.listen(engine, "connect", _prepare)
    begins(engine)
    watch(engine, path)
    if version_of(path) != newest_version():
        upgrades.migrate(engine)
        if known:
            with contextlib.closing(sqlite3.connect(path, timeout=PATIENCE, isolation_level=None)) as connection:
                connection.execute("VACUUM")
    return engine


def looked_over(path: Path) -> None:
    """Refuse a file that is no database, another program's, a newer program's or damaged. Raises StoreFault with the way out."""
    try:
        with contextlib.closing(sqlite3.connect(f"file:{path}?mode=rw", uri=True, timeout=3)) as connection:
            tables = {name for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            sound = connection.execute("PRAGMA quick_check(1)").fetchone()[0] == "ok"
    except sqlite3.Error as error:
        if "malformed" in str(error) or "not a database" in str(error):
            raise StoreFault(f"{path} cannot be read: {error}. {_way_back(path)}") from None
        raise StoreFault(sentence_of(error, path) or f"{path} cannot be opened: {error}.") from None
    if tables and "alembic_version" not in tables:
        raise StoreFault(f"{path} belongs to another program; name another folder with --data.")
    if not sound:
        raise StoreFault(f"{path} is damaged. {_way_back(path)}")
    version = version_of(path)
    if version is not None and version not in versions():
        raise StoreFault(
            f"{path} was kept by a newer program (its tables are version {version}; this one knows up to {newest_version()}). "
            f"Start that program, or {_way_back(path, begin='bring').rstrip('.')}."
        )


def _way_back(path: Path, begin: str = "Bring") -> str:
    newest = backups.newest_whole(path)
    if newest is None:
        return f"{begin} a copy of your own back: `yare-keel restore FILE`; there is no whole one beside it."
    return f"{begin} the newest whole backup back: `yare-keel restore {newest}`."


def _prepare(connection: Any, _record: Any) -> None:
    cursor = connection.cursor()
    with contextlib.suppress(sqlite3.OperationalError):  # a file that may only be read stays as it is, and says so when it is saved to
        cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA foreign_keys=ON")
    # FULL: what was confirmed as saved survives a power cut, not only a crash of the program.
    cursor.execute("PRAGMA synchronous=FULL")
    cursor.execute(f"PRAGMA cache_size=-{CACHE}")
    cursor.close()
