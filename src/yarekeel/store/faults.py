"""What can be wrong with the file that all is kept in: each a sentence that names the cause and the way out."""

import sqlite3
from pathlib import Path

from sqlalchemy import Connection, Engine, event
from sqlalchemy.engine import ExceptionContext

from yarekeel.core.errors import YareKeelError


class StoreFault(YareKeelError):
    """The data cannot be read or kept; what was typed stays on its page."""


_WAYS: tuple[tuple[str, str], ...] = (
    ("disk is full", "The disk is full, so nothing more can be saved; make room, and what was typed is sent again by itself."),
    ("readonly database", "The data file may only be read, so nothing is saved; let its owner write to {folder}."),
    ("database is locked", "Another program holds the data file; end it, and what was typed is sent again by itself."),
    ("disk image is malformed", "The data file is damaged; end the program and bring a backup back: `yare-keel restore`."),
    ("not a database", "{path} is not a file of this program's; name another folder with --data."),
    ("unable to open", "The data file {path} cannot be opened; is its folder still there?"),
    ("disk i/o error", "The disk under {folder} does not answer; nothing is saved until it does."),
    ("no such table", "The data file lacks a table; end the program and bring a backup back: `yare-keel restore`."),
)


def sentence_of(error: BaseException, path: Path) -> str | None:
    """What to say of a database error; None for one of the program's own making."""
    words = str(error).lower()
    return next((way.format(path=path, folder=path.parent) for sign, way in _WAYS if sign in words), None)


def watch(engine: Engine, path: Path) -> None:
    """Turn the driver's errors into StoreFault, and refuse to save into a file that is no longer there."""
    known: dict[str, int] = {}

    @event.listens_for(engine, "handle_error")
    def told(context: ExceptionContext) -> None:
        original = context.original_exception
        if isinstance(original, sqlite3.DatabaseError) and not isinstance(original, sqlite3.IntegrityError):
            sentence = sentence_of(original, path)
            if sentence is not None:
                raise StoreFault(sentence) from original

    @event.listens_for(engine, "commit")
    def still_there(connection: Connection) -> None:
        fault = ""
        try:
            now = path.stat().st_ino
            if known.setdefault("inode", now) != now:
                fault = f"{path} was replaced while the program ran; end it and start it anew."
        except OSError:
            fault = f"{path.parent} is gone, so nothing can be saved; bring it back, or end the program and start it anew."
        if fault:
            connection.connection.rollback()  # a commit that is refused leaves this to be done
            raise StoreFault(fault)
