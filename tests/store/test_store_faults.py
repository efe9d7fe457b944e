"""A damaged, newer, locked, full, read-only, vanished or foreign data file: a sentence with the way out each; backups; packed states."""

import contextlib
import random
import shutil
import sqlite3
import string
import subprocess
import sys
import tempfile
import time
from datetime import timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session, col, select

from yarekeel.cli import commands
from yarekeel.core.errors import YareKeelError
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import reedwarden
from yarekeel.stages.design.design import with_value
from yarekeel.store import backups, documents, tidying
from yarekeel.store.engine import open_database
from yarekeel.store.faults import StoreFault
from yarekeel.store.rows import BoatRow, SnapshotRow, now
from yarekeel.store.states import States
from yarekeel.store.upgrades import newest_version, version_of, versions
from yarekeel.store.yard import Yard
from yarekeel.web.app import create_app
from yarekeel.web.settings import Settings


def heavier(design, mass):
    return with_value(design, "weights.2.mass_kg", mass)


def edited(yard: Yard, boat: int, times: int) -> None:
    r = yard.revision(boat, "A")
    for k in range(times):
        r = yard.save(boat, "A", heavier(r.design, 0.1 + k), r.snapshot, f"edit {k}")


@pytest.fixture
def path(tmp_path: Path) -> Path:
    yard = Yard(open_database(tmp_path / "data" / "yard.db"))
    yard.create(reedwarden(), "mm_g")
    yard.close()
    return tmp_path / "data" / "yard.db"


def test_versions_are_the_migrations_own():
    from alembic.config import Config
    from alembic.script import ScriptDirectory

    from yarekeel.store.upgrades import MIGRATIONS

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    assert versions() == tuple(r.revision for r in ScriptDirectory.from_config(config).walk_revisions())


def test_the_file_is_its_owners_alone(path):
    assert path.stat().st_mode & 0o777 == 0o600
    assert path.parent.stat().st_mode & 0o077 == 0
    path.chmod(0o644)
    open_database(path).dispose()
    assert path.stat().st_mode & 0o777 == 0o600


def test_a_file_that_is_none(tmp_path):
    other = tmp_path / "yard.db"
    other.write_bytes(b"a letter to my aunt, " * 500)
    with pytest.raises(StoreFault, match=r"cannot be read.*restore"):
        open_database(other)
    assert other.read_bytes().startswith(b"a letter")


def test_another_programs_file(tmp_path):
    other = tmp_path / "yard.db"
    with contextlib.closing(sqlite3.connect(other)) as connection:
        connection.execute("CREATE TABLE recipes (cake TEXT)")
        connection.commit()
    with pytest.raises(StoreFault, match="belongs to another program"):
        open_database(other)


def test_a_newer_programs_file_names_its_version_and_a_backup(path):
    kept = backups.back_up(path, "daily")
    with contextlib.closing(sqlite3.connect(path)) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '0999'")
        connection.commit()
    with pytest.raises(StoreFault, match=r"newer program \(its tables are version 0999") as found:
        open_database(path)
    assert str(kept) in str(found.value)
    assert newest_version() in str(found.value)


def test_a_damaged_file_names_the_backup_that_is_whole(path):
    old = backups.back_up(path, "daily")
    bad = backups.folder_of(path) / "yard-2999-01-01-000000-daily.db"
    bad.write_bytes(b"SQLite format 3\0" + b"x" * 5000)
    data = bytearray(path.read_bytes())
    data[4096 : 4096 * 6] = random.Random(1).randbytes(4096 * 5)
    path.write_bytes(data)
    with pytest.raises(StoreFault, match="restore") as found:
        open_database(path)
    assert str(old) in str(found.value)
    assert str(bad) not in str(found.value)
    aside = backups.restore(path, old)
    assert aside is not None
    assert Yard(open_database(path)).boat(1).latest.design == reedwarden()


def test_a_locked_file_says_who_holds_it(path, monkeypatch):
    from yarekeel.store import engine

    monkeypatch.setattr(engine, "PATIENCE", 0.1)
    yard = Yard(open_database(path))
    r = yard.revision(1, "A")
    with contextlib.closing(sqlite3.connect(path)) as other:
        other.execute("BEGIN IMMEDIATE")
        with pytest.raises(StoreFault, match="Another program holds"):
            yard.save(1, "A", heavier(r.design, 2.0), r.snapshot, "edit")
    assert yard.save(1, "A", heavier(r.design, 2.0), r.snapshot, "edit").design.weights[2].mass_kg == 2.0


def test_a_full_disk_keeps_what_was_confirmed(path):
    yard = Yard(open_database(path))
    r = yard.revision(1, "A")
    with yard._engine.connect() as connection:  # the connection that the pool hands out again
        pages = connection.exec_driver_sql("PRAGMA page_count").scalar()
        connection.exec_driver_sql(f"PRAGMA max_page_count = {pages + 1}")
    saved = 0
    big = "".join(random.Random(3).choices(string.ascii_letters, k=180))
    try:
        for k in range(2000):
            r = yard.save(1, "A", with_value(r.design, "weights.2.note", big[k % 90 :] + str(k)), r.snapshot, "edit")
            saved = k
    except StoreFault as fault:
        assert "disk is full" in str(fault)
    assert saved < 1999
    with yard._engine.connect() as connection:
        connection.exec_driver_sql("PRAGMA max_page_count = 1000000")
    assert yard.revision(1, "A").design.weights[2].note.endswith(str(saved))


FULL = """
import resource, signal, sys
from pathlib import Path
from yarekeel.demo.boats import reedwarden
from yarekeel.stages.design.design import with_value
from yarekeel.store.engine import open_database
from yarekeel.store.faults import StoreFault
from yarekeel.store.yard import Yard
path = Path(sys.argv[1])
yard = Yard(open_database(path))
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
resource.setrlimit(resource.RLIMIT_FSIZE, (600_000, 600_000))
r = yard.revision(1, "A")
for n in range(5000):
    try:
        r = yard.save(1, "A", with_value(r.design, "weights.2.mass_kg", float(n + 1)), r.snapshot, "edit")
    except StoreFault as fault:
        print("FAULT", fault)
        break
    print(n + 1, flush=True)
"""


def test_a_file_that_may_not_grow_keeps_what_was_confirmed(path):
    out = subprocess.run([sys.executable, "-c", FULL, str(path)], capture_output=True, text=True, check=True).stdout.splitlines()
    assert out[-1].startswith("FAULT The disk")
    assert Yard(open_database(path)).revision(1, "A").design.weights[2].mass_kg == float(out[-2])


READ_ONLY = """
import os, sys
from pathlib import Path
from yarekeel.demo.boats import reedwarden
from yarekeel.store.engine import open_database
from yarekeel.store.faults import StoreFault
from yarekeel.store.yard import Yard
import alembic, sqlmodel
if os.geteuid() == 0:
    os.setuid(65534)  # whoever may do everything may write to a read-only file too
yard = Yard(open_database(Path(sys.argv[1])))
print(yard.boat(1).latest.design.name)
try:
    yard.create(reedwarden(), "mm_g")
except StoreFault as fault:
    print("FAULT", fault)
"""


def test_a_read_only_file_can_be_looked_at(path):
    with tempfile.TemporaryDirectory() as name:  # where another user may look in
        folder = Path(name) / "data"
        folder.mkdir()
        copy = folder / "yard.db"
        with contextlib.closing(sqlite3.connect(path)) as source, contextlib.closing(sqlite3.connect(copy)) as connection:
            source.backup(connection)
            connection.execute("PRAGMA journal_mode=DELETE")
        Path(name).chmod(0o755)
        copy.chmod(0o444)
        folder.chmod(0o555)
        out = subprocess.run([sys.executable, "-c", READ_ONLY, str(copy)], check=False, capture_output=True, text=True)
        folder.chmod(0o755)
    lines = out.stdout.splitlines()
    assert lines[0] == "Reedwarden", out.stderr
    assert lines[1].startswith("FAULT The data file may only be read")


def test_a_read_only_connection_says_so(path):
    yard = Yard(open_database(path))
    r = yard.revision(1, "A")
    with yard._engine.connect() as connection:
        connection.exec_driver_sql("PRAGMA query_only = 1")
    with pytest.raises(StoreFault, match="only be read"):
        yard.save(1, "A", heavier(r.design, 2.0), r.snapshot, "edit")


def test_nothing_is_saved_into_a_folder_that_is_gone(path):
    yard = Yard(open_database(path))
    r = yard.revision(1, "A")
    r = yard.save(1, "A", heavier(r.design, 2.0), r.snapshot, "edit")
    shutil.move(path.parent, path.parent.with_name("moved"))
    with pytest.raises(StoreFault, match=r"is gone|cannot be opened|does not answer"):
        yard.save(1, "A", heavier(r.design, 3.0), r.snapshot, "edit")
    path.parent.mkdir()
    shutil.copy(path.parent.with_name("moved") / "yard.db", path)
    with pytest.raises(StoreFault, match=r"was replaced|cannot be opened|does not answer|is gone"):
        yard.save(1, "A", heavier(r.design, 3.0), r.snapshot, "edit")
    shutil.rmtree(path.parent)
    shutil.move(path.parent.with_name("moved"), path.parent)
    assert Yard(open_database(path)).revision(1, "A").design.weights[2].mass_kg == 2.0


def test_a_state_that_is_damaged_closes_its_boat_alone(path):
    yard = Yard(open_database(path))
    other = yard.create(reedwarden(), "mm_g")
    with Session(yard._engine) as session:
        row = session.exec(select(SnapshotRow).where(SnapshotRow.revision_id == 1)).one()
        row.content = b"not packed"
        session.commit()
    yard = Yard(open_database(path))
    assert yard.boat(other).latest.design == reedwarden()
    lost = yard.boat(1).unreadable[0]
    assert (lost.name, "damaged" in lost.why) == ("Reedwarden", True)
    assert [b.name for b in yard.berths.page("x")[0]] == ["Reedwarden", "Reedwarden"]


# Backups


def test_a_backup_before_every_change_of_tables_and_one_a_day(path):
    from alembic import command
    from alembic.config import Config

    from yarekeel.store.upgrades import MIGRATIONS

    engine = open_database(path)
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.downgrade(config, "0006")
    engine.dispose()
    assert version_of(path) == "0006"
    assert Yard(open_database(path)).boat(1).latest.design == reedwarden()  # up again, through text and packed
    before = [p for p in backups.found(path) if "update" in p.name]
    assert [version_of(p) for p in before] == ["0006"]
    for p in backups.found(path):
        p.unlink()
    daily = backups.Daily(path)
    for _ in range(3):
        daily.used()
    for _ in range(100):
        if any("daily" in p.name for p in backups.found(path)):
            break
        time.sleep(0.05)
    assert sum("daily" in p.name for p in backups.found(path)) == 1
    assert backups.Daily(path)._day != ""


def test_a_daily_backup_that_fails_is_said_and_tried_again(path, monkeypatch):
    folder = backups.folder_of(path)
    assert eventually(lambda: backups.found(path))  # the first day's own
    shutil.rmtree(folder)
    folder.write_text("in the way")
    yard = Yard(open_database(path))
    edited(yard, 1, 1)
    assert eventually(lambda: "could not be made" in yard.backup_fault)
    page = TestClient(create_app(Settings(path), yard), base_url="http://127.0.0.1").get("/").text
    assert "backup of your data failed" in page
    assert str(folder) in page
    folder.unlink()
    monkeypatch.setattr(backups.time, "monotonic", lambda: 1e9)
    edited(yard, 1, 1)
    assert eventually(lambda: not yard.backup_fault)
    assert len(backups.found(path)) == 1


def eventually(holds, seconds=10.0):
    ends = time.time() + seconds
    while not holds() and time.time() < ends:
        time.sleep(0.02)
    return holds()


def test_the_last_seven_are_kept(path):
    for k in range(10):
        made = backups.back_up(path, f"n{k}")
        made.rename(made.with_name(f"yard-2026-01-{k + 1:02d}-000000-n{k}.db"))
    backups.back_up(path, "last")
    assert len(backups.found(path)) == backups.KEPT
    assert not any("-n3" in p.name for p in backups.found(path))


def test_backup_and_restore_by_command(path, tmp_path, capsys, monkeypatch):
    yard = Yard(open_database(path))
    commands.backup_command(tmp_path / "mine.db", path.parent)
    with pytest.raises(YareKeelError, match="there already"):
        commands.backup_command(tmp_path / "mine.db", path.parent)
    edited(yard, 1, 3)
    yard.close()
    monkeypatch.setattr(commands.typer, "confirm", lambda words: False)
    with pytest.raises(YareKeelError, match="Nothing was changed"):
        commands.restore_command(tmp_path / "mine.db", path.parent)
    assert Yard(open_database(path)).revision(1, "A").design.weights[2].mass_kg == 2.1
    with pytest.raises(StoreFault, match="not a whole copy"):
        commands.restore_command(Path(__file__), path.parent, yes=True)
    commands.restore_command(tmp_path / "mine.db", path.parent, yes=True)
    assert Yard(open_database(path)).revision(1, "A").design == reedwarden()
    kept = next(p for p in backups.found(path) if "replaced" in p.name)
    assert Yard(open_database(kept)).revision(1, "A").design.weights[2].mass_kg == 2.1
    assert "is in place" in capsys.readouterr().out
    with pytest.raises(YareKeelError, match="no whole backup"):
        commands.restore_command(None, tmp_path / "empty", yes=True)


# Packed states


def test_what_differs_is_packed_and_comes_back(path):
    rng = random.Random(5)
    for _ in range(200):
        old = "".join(rng.choices("ab\n", k=rng.randrange(0, 60)))
        new = old
        for _ in range(rng.randrange(0, 4)):
            at = rng.randrange(0, len(new) + 1)
            new = new[:at] + rng.choice(["", "é", "a", "bbb"]) + new[at + rng.randrange(0, 5) :]
        assert documents.unpacked_on(documents.packed_on(new, old), old) == new
        assert documents.unpacked(documents.packed(new)) == new
    with pytest.raises(documents.Damaged):
        documents.unpacked(b"x")


@pytest.mark.whole
def test_two_thousand_edits_of_two_thousand_weights_stay_small(path):
    lines = tuple(WeightItem(f"Frame {k}, left, of 4 mm ply", 0.001 * k + 0.01, (0.1 * (k % 9), 0.01 * (k % 5), 0.02)) for k in range(2000))
    yard = Yard(open_database(path))
    design = with_value(reedwarden(), "weights", (*reedwarden().weights, *lines))
    boat = yard.create(design, "mm_g")
    text = len(yard._states.text(Session(yard._engine), yard.revision(boat, "A").snapshot))
    r = yard.revision(boat, "A")
    before = path.stat().st_size
    rng, edits = random.Random(9), 150
    for k in range(edits):
        r = yard.save(boat, "A", with_value(r.design, f"weights.{rng.randrange(3, 2000)}.mass_kg", 0.01 + k / 1e4), r.snapshot, "edit")
    with Session(yard._engine) as session:
        grown = sum(len(c) for c in session.exec(select(SnapshotRow.content).where(SnapshotRow.revision_id == r.id)))
    assert text > 300_000  # as text each state is larger than this
    assert grown / edits * 2000 < 60e6 / 20  # two thousand of them take a twentieth of the limit
    assert path.stat().st_size - before < 60e6
    assert Yard(open_database(path)).revision(boat, "A").design == r.design


@pytest.mark.whole
def test_undo_goes_back_over_whole_and_packed_states(path):
    yard = Yard(open_database(path))
    edited(yard, 1, 2 * documents.LONGEST_CHAIN + 5)
    yard = Yard(open_database(path))
    r = yard.revision(1, "A")
    for k in reversed(range(2 * documents.LONGEST_CHAIN + 5)):
        assert r.design.weights[2].mass_kg == pytest.approx(0.1 + k)
        r = yard.undo(1, "A", r.snapshot)
    assert r.design == reedwarden()


# What is let go of


def test_deleted_boats_come_back_for_thirty_days(path):
    yard = Yard(open_database(path))
    gone = yard.create(with_value(reedwarden(), "name", "Gone"), "mm_g")
    yard.delete(gone)
    assert [(g.id, g.name, g.days) for g in yard.berths.deleted()] == [(gone, "Gone", 30)]
    with Session(yard._engine) as session:
        row = session.get(BoatRow, gone)
        row.deleted_at = now() - timedelta(days=29)
        session.commit()
    yard.tidy()
    assert yard.berths.deleted()[0].days == 1
    yard.restore(gone)
    yard.delete(gone)
    with Session(yard._engine) as session:
        session.get(BoatRow, gone).deleted_at = now() - timedelta(days=31)
        session.commit()
    assert tidying.tidy(yard._engine) == (1, 0)
    assert yard.berths.deleted() == ()
    assert [b.id for b in yard.boats()] == [1]


def test_old_undo_steps_are_thinned_and_the_rest_is_whole(path, monkeypatch):
    monkeypatch.setattr(tidying, "STEPS_KEPT", 20)
    yard = Yard(open_database(path))
    edited(yard, 1, 100)
    assert tidying.tidy(yard._engine) == (0, 0)  # none is old yet
    with Session(yard._engine) as session:
        for row in session.exec(select(SnapshotRow)):
            row.created_at = now() - timedelta(days=40)
        session.commit()
    head = yard.revision(1, "A")
    went = tidying.tidy(yard._engine)[1]
    assert 60 < went < 80
    with Session(yard._engine) as session:
        left = session.exec(select(SnapshotRow.id).order_by(col(SnapshotRow.id))).all()
        texts = [States().text(session, n) for n in left]
    assert len(set(texts)) == len(left) == 101 - went
    yard = Yard(open_database(path))
    r = yard.revision(1, "A")
    assert r.design == head.design
    steps = 0
    while r.undo_label is not None:
        r, steps = yard.undo(1, "A", r.snapshot), steps + 1
    assert (steps, r.design) == (100 - went, reedwarden())


@pytest.mark.whole
def test_what_was_confirmed_survives_kills_on_one_file(tmp_path):
    """Two here; ``python -m tools.kills 100`` for the rest."""
    from tools import kills

    assert kills.killed(tmp_path, 2) == []


def test_search_order_and_pages_of_the_yard(path):
    yard = Yard(open_database(path))
    for k in range(30):
        yard.create(with_value(reedwarden(), "name", f"Boat {k:02d} 50%"), "mm_g")
    first, total = yard.berths.page("x")
    assert (len(first), total, first[0].name) == (24, 31, "Boat 29 50%")
    assert [b.name for b in yard.berths.page("x", order="name")[0]][:2] == ["Boat 00 50%", "Boat 01 50%"]
    assert yard.berths.page("x", number=1)[0][-1].name == "Reedwarden"
    assert yard.berths.page("x", search="boat 1")[1] == 10
    assert yard.berths.page("x", search="0%")[1] == 30
    assert yard.berths.page("x", search="_%")[1] == 0
