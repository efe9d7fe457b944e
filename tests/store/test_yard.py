"""Snapshots, undo, sealing, two windows, and that what was confirmed survives a killed process."""

import json
import os
import signal
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine, text

from tests.cases import rewritten
from yarekeel.core.errors import Conflict, InvalidInput, NotFound
from yarekeel.demo.boats import reedwarden
from yarekeel.exchange import boat_file, trial_file
from yarekeel.stages.design.design import with_value
from yarekeel.stages.trials.trials import FloatTest
from yarekeel.store import migrations
from yarekeel.store.engine import open_database
from yarekeel.store.records import letter_of
from yarekeel.store.yard import Yard

TEST = FloatTest("2026-05-01", mass_kg=4.4, seen=("tippy",))


def heavier(design, mass):
    return with_value(design, "weights.2.mass_kg", mass)


def test_undo_redo_and_a_branch(yard):
    boat = yard.create(reedwarden(), "mm_g")
    r = yard.revision(boat, "A")
    r = yard.save(boat, "A", heavier(r.design, 1.0), r.snapshot, "one")
    r = yard.save(boat, "A", heavier(r.design, 2.0), r.snapshot, "two")
    r = yard.undo(boat, "A", r.snapshot)
    assert (r.design.weights[2].mass_kg, r.undo_label, r.redo_label) == (1.0, "one", "two")
    r = yard.save(boat, "A", heavier(r.design, 3.0), r.snapshot, "three")
    assert r.redo_label is None
    r = yard.undo(boat, "A", yard.undo(boat, "A", r.snapshot).snapshot)
    assert r.design == reedwarden()
    with pytest.raises(Conflict, match="nothing to undo"):
        yard.undo(boat, "A", r.snapshot)
    assert yard.redo(boat, "A", yard.redo(boat, "A", r.snapshot).snapshot).design.weights[2].mass_kg == 3.0


def test_two_windows_never_overwrite_each_other(yard):
    boat = yard.create(reedwarden(), "mm_g")
    first = yard.revision(boat, "A")
    yard.save(boat, "A", heavier(first.design, 1.0), first.snapshot, "here")
    with pytest.raises(Conflict, match="another window"):
        yard.save(boat, "A", heavier(first.design, 2.0), first.snapshot, "there")
    assert yard.revision(boat, "A").design.weights[2].mass_kg == 1.0


def test_a_trial_seals_its_revision_which_is_then_followed(yard):
    boat = yard.create(reedwarden(), "mm_g")
    yard.log_trial(boat, "A", TEST)
    r = yard.revision(boat, "A")
    assert r.is_sealed
    assert r.trials[0].test == TEST
    for act in (lambda: yard.save(boat, "A", heavier(r.design, 1.0), r.snapshot, "x"), lambda: yard.undo(boat, "A", r.snapshot)):
        with pytest.raises(Conflict, match="sealed"):
            act()
    after = yard.follow(boat, "A", heavier(r.design, 1.0), "lighter battery")
    assert (after.letter, after.follows, after.is_sealed) == ("B", "A", False)
    assert yard.revision(boat, "A").design == reedwarden()


def test_delete_can_be_undone_and_duplicate_is_apart(yard):
    boat = yard.create(reedwarden(), "mm_g")
    copy = yard.duplicate(boat)
    yard.delete(boat)
    assert [b.id for b in yard.boats()] == [copy]
    with pytest.raises(NotFound):
        yard.revision(boat, "A")
    with pytest.raises(NotFound):
        yard.delete(boat)
    assert yard.deleted_name(boat) == "Reedwarden"
    yard.restore(boat)
    assert {b.latest.design.name for b in yard.boats()} == {"Reedwarden", "Reedwarden copy"}


def test_letters_go_on_past_z():
    assert [letter_of(n) for n in (0, 25, 26, 51, 52)] == ["A", "Z", "AA", "AZ", "BA"]


def test_database_is_set_up_as_promised(yard, tmp_path):
    engine = open_database(tmp_path / "yard.db")  # a second opening migrates nothing and loses nothing
    with engine.connect() as connection:
        assert connection.execute(text("PRAGMA journal_mode")).scalar() == "wal"
        assert connection.execute(text("PRAGMA foreign_keys")).scalar() == 1


def test_migrations_and_tables_agree(yard, tmp_path):
    from alembic.autogenerate import compare_metadata
    from alembic.migration import MigrationContext
    from sqlmodel import SQLModel

    with open_database(tmp_path / "yard.db").connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), SQLModel.metadata) == []


WRITER = """
import sys
from pathlib import Path
from yarekeel.demo.boats import reedwarden
from yarekeel.exchange import boat_file, trial_file
from yarekeel.stages.design.design import with_value
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
yard = Yard(open_database(Path(sys.argv[1])))
boat = yard.create(reedwarden(), "mm_g")
r = yard.revision(boat, "A")
n = 0
while True:
    n += 1
    r = yard.save(boat, "A", with_value(r.design, "weights.2.mass_kg", float(n)), r.snapshot, "edit")
    print(n, flush=True)
"""


def test_what_was_confirmed_survives_a_kill(tmp_path: Path):
    path = tmp_path / "killed.db"
    with subprocess.Popen([sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE, text=True, env={**os.environ}) as writer:
        assert writer.stdout is not None
        confirmed = 0
        while confirmed < 25:
            confirmed = int(writer.stdout.readline())
        writer.send_signal(signal.SIGKILL)
        confirmed = max([confirmed, *(int(line) for line in writer.stdout if line.strip())])
    kept = Yard(open_database(path)).revision(1, "A").design.weights[2].mass_kg
    assert kept in (confirmed, confirmed + 1)  # the last one may have been saved without the word getting out


def test_revisions_started_at_once_get_letters_of_their_own(yard):
    boat = yard.create(reedwarden(), "mm_g")
    design = yard.revision(boat, "A").design
    with ThreadPoolExecutor(8) as pool:
        letters = [r.letter for r in pool.map(lambda n: yard.follow(boat, "A", heavier(design, 1.0 + n), f"try {n}"), range(8))]
    assert sorted(letters) == list("BCDEFGHI")
    assert [r.letter for r in yard.boat(boat).revisions] == list("ABCDEFGHI")


def test_a_form_sent_three_times_is_kept_once(yard):
    boat = yard.create(reedwarden(), "mm_g")
    kept = {yard.log_trial(boat, "A", TEST, "one form").id for _ in range(3)}
    assert len(kept) == 1
    assert len(yard.revision(boat, "A").trials) == 1
    yard.log_trial(boat, "A", TEST, "another form")
    assert len(yard.revision(boat, "A").trials) == 2


def test_an_edit_sent_again_on_the_same_state_is_saved_once(yard):
    boat = yard.create(reedwarden(), "mm_g")
    r = yard.revision(boat, "A")
    first = yard.save(boat, "A", heavier(r.design, 1.0), r.snapshot, "once")
    again = yard.save(boat, "A", heavier(r.design, 1.0), r.snapshot, "once")
    assert again.snapshot == first.snapshot
    with pytest.raises(Conflict, match="another window"):
        yard.save(boat, "A", heavier(r.design, 2.0), r.snapshot, "other")


def test_letters_given_twice_by_an_older_program_are_parted(tmp_path):
    path = tmp_path / "old.db"
    engine = create_engine(f"sqlite:///{path}")
    config = Config()
    config.set_main_option("script_location", str(Path(migrations.__file__).parent))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "0003")
        connection.execute(text("INSERT INTO boat (id, units, created_at) VALUES (1, 'mm_g', '2026-01-01')"))
        for number, revision in ((1, 0), (2, 1), (3, 1)):
            connection.execute(
                text(f"INSERT INTO revision (id, boat_id, number, note, head_id) VALUES ({number}, 1, {revision}, '', {number})")
            )
            document = boat_file.dumps(heavier(reedwarden(), float(number)))
            row = {"id": number, "document": document}
            connection.execute(
                text("INSERT INTO snapshot (id, revision_id, label, document, created_at) VALUES (:id, :id, '', :document, '2026-01-01')"),
                row,
            )
        readings = '{"date": "2026-05-01", "mass_kg": 4.4, "seen": ["tippy"]}'
        connection.execute(text("INSERT INTO trial (revision_id, document, created_at) VALUES (1, :r, '2026-05-01')"), {"r": readings})
    boat = Yard(open_database(path)).boat(1)
    assert [(r.letter, r.design.weights[2].mass_kg) for r in boat.revisions] == [("A", 1.0), ("B", 2.0), ("C", 3.0)]
    assert boat.revisions[0].trials[0].test == TEST


def test_a_trial_of_a_newer_program_still_seals(yard):
    boat = yard.create(reedwarden(), "mm_g")
    yard.log_trial(boat, "A", TEST)
    with yard._engine.begin() as connection:
        connection.execute(text("UPDATE trial SET version = 99"))
    r = yard.revision(boat, "A")
    assert (r.trials, r.is_sealed) == ((), True)
    with pytest.raises(InvalidInput, match="newer program"):
        trial_file.read("run", 1, "{}")


def test_a_state_that_todays_limits_refuse_is_listed_as_such(yard):
    good, bad = yard.create(reedwarden(), "mm_g"), yard.create(reedwarden(), "mm_g")
    rewritten(yard, '"target_mass_kg": 4.9', '"target_mass_kg": -4.9', 2)
    boats = {b.id: b for b in yard.boats()}
    assert boats[good].latest.design == reedwarden()
    lost = boats[bad].unreadable[0]
    assert (lost.name, lost.letter, boats[bad].revisions) == ("Reedwarden", "A", ())
    assert "Target all-up mass" in lost.why
    assert json.loads(yard.document(bad, "A"))["brief"]["target_mass_kg"] == -4.9
    with pytest.raises(NotFound, match="cannot be read"):
        yard.revision(bad, "A")
