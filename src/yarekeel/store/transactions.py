"""Every read sees one moment of the data; every write goes through one function, and all of it is saved or nothing.

SQLite's driver begins a transaction only before the first change, so what was checked before it may no longer hold when the change
is made. Here the driver begins nothing by itself: the engine does (``begins``), and a write takes the data file's one place for a writer
*before* it reads what it checks. A second writer waits for it, and then reads what the first has saved.
"""

import contextlib
from collections.abc import Iterator
from typing import Any

import sqlalchemy
from sqlalchemy import Connection, Engine, event
from sqlmodel import Session, col

from yarekeel.core.errors import NotFound
from yarekeel.store.rows import BoatRow, RevisionRow

_WRITES = "yarekeel_writes"
DRIVER_BEGINS_NOTHING: dict[str, Any] = {"isolation_level": None}
"""For ``sqlite3.connect``."""


def begins(engine: Engine) -> None:
    """Let an engine begin its transactions itself: one that writes takes the writer's place at once."""

    @event.listens_for(engine, "begin")
    def begin(connection: Connection) -> None:
        connection.exec_driver_sql("BEGIN IMMEDIATE" if connection.get_execution_options().get(_WRITES) else "BEGIN")


def for_writing(engine: Engine) -> Engine:
    """The same engine, whose transactions write."""
    return engine.execution_options(**{_WRITES: True})


@contextlib.contextmanager
def reading(engine: Engine) -> Iterator[Session]:
    """A session that reads the data as they are at one moment; what it changes is dropped."""
    with Session(engine) as session:
        yield session


@contextlib.contextmanager
def writing(engine: Engine) -> Iterator[Session]:
    """The one way to save: a session that alone may write, from before its first look until all of it is saved, once, at the end.

    Whatever is raised inside takes everything back. Raises StoreFault where another program keeps the place too long.
    """
    with Session(for_writing(engine), expire_on_commit=False) as session:
        session.connection()  # begins
        yield session
        session.commit()


def must_be_there(session: Session, revision_id: int) -> None:
    """Raises NotFound where a revision is not there (any more), or its boat was deleted."""
    there = (
        sqlalchemy.select(col(RevisionRow.id))
        .join_from(RevisionRow, BoatRow, col(BoatRow.id) == RevisionRow.boat_id)
        .where(col(RevisionRow.id) == revision_id, col(BoatRow.deleted_at).is_(None))
    )
    if session.execute(there).first() is None:
        raise NotFound("There is no such boat in the yard.")
