"""Copies of the data beside it: before every change of its tables, and once a day that it is used; the last seven are kept.

They are made by SQLite's own backup, so that a copy is whole though somebody is saving meanwhile.
"""

import contextlib
import os
import secrets
import sqlite3
import threading
import time
from datetime import UTC, datetime
from pathlib import Path

from yarekeel.core.quantities import Seconds
from yarekeel.store.faults import StoreFault

KEPT = 7
FOLDER = "backups"
AGAIN: Seconds = 600.0
"""After a daily backup that failed, until the next try."""


def folder_of(database: Path) -> Path:
    """Where a database's backups lie."""
    return database.parent / FOLDER


def found(database: Path) -> list[Path]:
    """A database's backups, newest first."""
    folder = folder_of(database)
    return sorted(folder.glob(f"{database.stem}-*.db"), key=lambda p: p.name, reverse=True) if folder.is_dir() else []


def is_whole(path: Path) -> bool:
    """Whether a file is a database of this program's that can be read from end to end."""
    try:
        with contextlib.closing(sqlite3.connect(f"file:{path}?immutable=1", uri=True)) as connection:
            sound = bool(connection.execute("PRAGMA quick_check").fetchone()[0] == "ok")
            return sound and bool(connection.execute("SELECT count(*) FROM alembic_version").fetchone()[0] == 1)
    except sqlite3.Error:
        return False


def newest_whole(database: Path) -> Path | None:
    """The newest backup that can be read."""
    return next((path for path in found(database) if is_whole(path)), None)


def back_up(database: Path, why: str, to: Path | None = None, *, prune: bool = True) -> Path:
    """Copy a database, into its backups with a word for why, or to a file that is not there yet; without ``prune`` no older one goes.
    Raises StoreFault."""
    if not database.is_file():
        raise StoreFault(f"There is nothing to back up: {database} is not there.")
    stamp = datetime.now(UTC).strftime("%Y-%m-%d-%H%M%S")
    target = to or folder_of(database) / f"{database.stem}-{stamp}-{why}.db"
    if to is not None and to.exists():
        raise StoreFault(f"{to} is there already; name a file that is not.")
    rough = target.with_name(f"{target.name}.{secrets.token_hex(4)}.part")  # two may be made in one second
    try:
        target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        rough.unlink(missing_ok=True)
        os.close(os.open(rough, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))
        _copied(f"file:{database}?mode=rw", rough)
        os.replace(rough, target)
    except (OSError, sqlite3.Error) as error:
        with contextlib.suppress(OSError):
            rough.unlink(missing_ok=True)
        raise StoreFault(f"The backup {target} could not be made: {error}.") from None
    if to is None and prune:
        for old in found(database)[KEPT:]:
            with contextlib.suppress(OSError):
                old.unlink()
    return target


def _copied(source_uri: str, to: Path) -> None:
    """A whole copy of a database as it is at one moment, in one file. Raises sqlite3.Error."""
    source, copy = sqlite3.connect(source_uri, uri=True, timeout=30), sqlite3.connect(to)
    with contextlib.closing(source), contextlib.closing(copy):
        source.backup(copy)
        copy.execute("PRAGMA journal_mode=DELETE")


def restore(database: Path, backup: Path) -> Path | None:
    """Put a backup in a database's place; what was there is itself kept among the backups, and that file is given. Raises StoreFault."""
    if not is_whole(backup):
        raise StoreFault(f"{backup} is not a whole copy of this program's data.")
    kept = None
    if database.exists():
        kept = folder_of(database) / f"{database.stem}-{datetime.now(UTC).strftime('%Y-%m-%d-%H%M%S')}-replaced.db"
        kept.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    rough = database.with_name(database.name + ".part")
    try:
        database.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        rough.unlink(missing_ok=True)
        os.close(os.open(rough, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))
        _copied(f"file:{backup}?immutable=1", rough)
        if kept is not None:
            _set_aside(database, kept)
        os.replace(rough, database)
    except (OSError, sqlite3.Error) as error:
        raise StoreFault(f"{backup} could not be brought back: {error}.") from None
    return kept


def _set_aside(database: Path, kept: Path) -> None:
    """Move a database away, with what its log still holds where it can be read."""
    with contextlib.suppress(sqlite3.Error), contextlib.closing(sqlite3.connect(database, timeout=5)) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    os.replace(database, kept)
    for tail in ("-wal", "-shm"):
        database.with_name(database.name + tail).unlink(missing_ok=True)


class Daily:
    """A backup on the first use of every day, made beside the work and not before it."""

    fault = ""
    """Why the last one could not be made; empty where it could."""

    def __init__(self, database: Path) -> None:
        self._database = database
        self._lock = threading.Lock()
        self._day = self._last_day()
        self._not_before = 0.0

    def used(self) -> None:
        """Say that the data are being used."""
        today = datetime.now(UTC).strftime("%Y-%m-%d")
        with self._lock:
            if self._day == today or time.monotonic() < self._not_before:
                return
            self._day = today
        threading.Thread(target=self._copy, daemon=True).start()

    def _copy(self) -> None:
        try:
            back_up(self._database, "daily")
            self.fault = ""
        except StoreFault as error:
            self.fault = str(error)
            with self._lock:
                self._day, self._not_before = "", time.monotonic() + AGAIN

    def _last_day(self) -> str:
        newest = next((p for p in found(self._database) if p.stem.endswith("daily")), None)
        return newest.name[len(self._database.stem) + 1 :][:10] if newest else ""
