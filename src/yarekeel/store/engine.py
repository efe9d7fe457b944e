"""The database file: opened with write-ahead log and foreign keys on, brought up to date before use."""

from pathlib import Path
from typing import Any

from sqlalchemy import Engine, event
from sqlmodel import create_engine


def open_database(path: Path) -> Engine:
    """The engine over ``path``, created and migrated as needed."""
    path.parent.mkdir(parents=True, exist_ok=True)
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 10})
    event.listen(engine, "connect", _prepare)
    migrate(engine)
    return engine


def _prepare(connection: Any, _record: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA foreign_keys=ON")
    # FULL: what was confirmed as saved survives a power cut, not only a crash of the program.
    cursor.execute("PRAGMA synchronous=FULL")
    cursor.close()


def migrate(engine: Engine) -> None:
    """Bring the tables up to this program's version; a newer database than the program is refused by Alembic."""
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
