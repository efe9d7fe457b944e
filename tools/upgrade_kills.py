"""``python -m tools.upgrade_kills``: a data file of every earlier version is upgraded by a process that is killed after each statement in
turn; each must open again with the same content. ``--self-saving`` lets each change of a table save itself, as earlier programs did.
"""

import argparse
import os
import shutil
import signal
import sqlite3
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from sqlalchemy import create_engine, event

from yarekeel.demo.boats import reedwarden
from yarekeel.exchange import boat_file
from yarekeel.stages.design.design import with_value
from yarekeel.store import backups, upgrades
from yarekeel.store.engine import open_database
from yarekeel.store.transactions import DRIVER_BEGINS_NOTHING, begins
from yarekeel.store.yard import Yard

STATES = 3
"""Of the one boat in an earlier file."""


def earlier(path: Path, version: str) -> None:
    """A data file of an earlier version, made by its own steps, with a boat of three states, two revisions of one letter where it lets
    that be, a trial and whatever else it has a table for."""
    engine = create_engine(f"sqlite:///{path}", connect_args=DRIVER_BEGINS_NOTHING)
    begins(engine)
    upgrades.migrate(engine, to=version)
    engine.dispose()
    texts = [boat_file.dumps(with_value(reedwarden(), "weights.2.mass_kg", 1.0 + n)) for n in range(STATES)]
    with sqlite3.connect(path) as c:
        day = "2026-05-01 00:00:00.000000"
        c.execute("INSERT INTO boat (id, units, created_at) VALUES (1, 'mm_g', ?)", (day,))
        for revision, letter in ((1, 0), (2, 0 if version < "0004" else 1)):
            c.execute(
                "INSERT INTO revision (id, boat_id, number, note, head_id) VALUES (?, 1, ?, '', ?)", (revision, letter, revision * STATES)
            )
            for n, text in enumerate(texts):
                number = (revision - 1) * STATES + n + 1
                row: dict[str, Any] = {"id": number, "revision_id": revision, "parent_id": number - 1 if n else None, "label": f"edit {n}"}
                if version < "0007":
                    row["document"] = text
                else:
                    from yarekeel.store import documents

                    row |= {"name": "Reedwarden", "content": documents.packed(text)}
                row["created_at"] = day
                c.execute(f"INSERT INTO snapshot ({', '.join(row)}) VALUES ({', '.join('?' * len(row))})", tuple(row.values()))
        document = '{"date": "2026-05-01", "mass_kg": 4.4}'
        c.execute("INSERT INTO trial (revision_id, document, created_at) VALUES (1, ?, ?)", (document, day))
        if version >= "0006":
            c.execute("INSERT INTO prediction (revision_id, kind, document, created_at) VALUES (1, 'card', '{}', ?)", (day,))
    c.close()


def content(path: Path) -> tuple[Any, ...]:
    """What a file tells once it is opened: designs, letters, states to go back over, trials, predictions."""
    yard = Yard(open_database(path))
    boat = yard.boat(1)
    steps = []
    last = boat.revisions[-1]
    while last.undo_label:
        last = yard.undo(1, last.letter, last.snapshot)
        steps.append(last.design)
    told = (
        [(r.letter, r.design, [t.test for t in r.trials], len(yard.predictions.of(r.id))) for r in boat.revisions],
        steps,
        len(boat.unreadable),
    )
    yard.close()
    return told


def _self_saving(path: Path, after: Callable[[Any], None]) -> None:
    """The upgrade as earlier programs made it."""
    engine = create_engine(f"sqlite:///{path}")
    event.listen(engine, "after_cursor_execute", after)
    backups.back_up(path, upgrades.BEFORE)
    with engine.begin() as connection:
        upgrades._run(connection, "head")


def killed_after(path: Path, statement: int, *, self_saving: bool) -> bool:
    """Upgrade a file in a process that is killed after so many statements; whether it was, or had done before."""
    child = os.fork()
    if child == 0:
        seen = 0

        def after(*_: Any) -> None:
            nonlocal seen
            seen += 1
            if seen >= statement:
                os.kill(os.getpid(), signal.SIGKILL)

        try:
            if self_saving:
                _self_saving(path, after)
            else:
                engine = upgrades.create_engine

                def watched(*args: Any, **kwargs: Any) -> Any:
                    made = engine(*args, **kwargs)
                    event.listen(made, "after_cursor_execute", after)
                    return made

                from yarekeel.store import engine as opening

                opening.create_engine = watched
                open_database(path)
        finally:
            os._exit(0)
    return os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]) == -signal.SIGKILL


def run(folder: Path, every: int, *, self_saving: bool, say: Callable[[str], None] = print) -> list[str]:
    """Kill upgrades of each version after every n-th statement; what did not come back, in words."""
    wrong, kills = [], 0
    for version in sorted(upgrades.versions())[:-1]:
        whole = folder / f"{version}.db"
        earlier(whole, version)
        mine = folder / f"{version}-whole" / "yard.db"
        mine.parent.mkdir()
        shutil.copy(whole, mine)
        expected = content(mine)
        statement = 1
        while True:
            path = folder / f"{version}-{statement}" / "yard.db"
            path.parent.mkdir()
            shutil.copy(whole, path)
            if not killed_after(path, statement, self_saving=self_saving):
                break
            kills += 1
            try:
                if content(path) != expected:
                    wrong.append(f"version {version}, statement {statement}: other content")
            except Exception as error:
                wrong.append(f"version {version}, statement {statement}: {type(error).__name__}: {error}")
            shutil.rmtree(path.parent)
            statement += every
    say(f"{kills} upgrades killed, {len(wrong)} not whole again")
    return wrong


if __name__ == "__main__":
    parser = argparse.ArgumentParser()
    parser.add_argument("--every", type=int, default=1)
    parser.add_argument("--self-saving", action="store_true")
    given = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        lost = run(Path(name), given.every, self_saving=given.self_saving)
    print("\n".join(lost))
    sys.exit(bool(lost))
