"""Upgrades that are killed, and files that earlier programs left half-way, open with the same content."""

import subprocess
import sys

import pytest

from tools.fuzz import WHOLE
from tools.upgrade_kills import content, earlier
from yarekeel.store import backups, upgrades
from yarekeel.store.engine import open_database
from yarekeel.store.faults import StoreFault


@pytest.mark.parametrize("way", [[], ["--self-saving"]])
def test_an_upgrade_killed_after_any_statement_opens_with_the_same_content(way):
    """In a process of its own, which forks: each statement in ``make whole``, else one in thirteen."""
    every = "1" if WHOLE else "13"
    ran = subprocess.run(
        [sys.executable, "-m", "tools.upgrade_kills", "--every", every, *way], capture_output=True, text=True, timeout=500, check=False
    )
    assert ran.returncode == 0, ran.stdout + ran.stderr
    assert int(ran.stdout.split(maxsplit=1)[0]) >= 20


@pytest.fixture
def half_way(tmp_path):
    """A file of version 3 with the index that the next step makes."""
    earlier(tmp_path / "whole.db", "0003")
    whole = tmp_path / "there" / "yard.db"
    whole.parent.mkdir()
    whole.write_bytes((tmp_path / "whole.db").read_bytes())
    return whole


def spoilt(path, statement):
    with upgrades._opened(path) as connection:
        connection.execute(statement)


def test_what_the_next_step_had_added_is_taken_off_and_a_copy_kept(half_way):
    expected = upgrades.expected_tables("0003")
    spoilt(half_way, "ALTER TABLE trial ADD COLUMN kind VARCHAR NOT NULL DEFAULT 'float'")
    spoilt(half_way, "CREATE UNIQUE INDEX ix_revision_boat_number ON revision (id, number)")
    spoilt(half_way, "CREATE TABLE part (id INTEGER PRIMARY KEY)")
    with upgrades._opened(half_way) as connection:
        assert upgrades.tables_of(connection) != expected
    upgrades.healed(half_way)
    with upgrades._opened(half_way) as connection:
        assert upgrades.tables_of(connection) == expected
    assert [p.stem.endswith("half-way") for p in backups.found(half_way)] == [True]
    assert len(content(half_way)[0]) == 2


def test_the_backup_made_before_is_put_back_where_more_is_missing(half_way):
    kept = backups.back_up(half_way, upgrades.BEFORE)
    spoilt(half_way, "ALTER TABLE snapshot DROP COLUMN label")
    worse = backups.back_up(half_way, upgrades.BEFORE, to=kept.with_name("yard-2999-01-01-000000-before-update.db"))
    assert worse.exists()
    assert len(content(half_way)[0]) == 2


def test_a_whole_backup_is_found_behind_those_of_failed_starts(half_way):
    """Each failing start of an earlier program made one more of the spoilt file: the whole one is the last that is kept."""
    kept = backups.back_up(half_way, upgrades.BEFORE)
    spoilt(half_way, "ALTER TABLE snapshot DROP COLUMN label")
    for day in range(1, backups.KEPT):
        backups.back_up(half_way, upgrades.BEFORE, to=kept.with_name(f"yard-2999-01-{day:02}-000000-before-update.db"))
    assert backups.found(half_way)[-1] == kept
    assert len(content(half_way)[0]) == 2


def test_without_one_it_says_so_and_leaves_the_file(half_way):
    spoilt(half_way, "ALTER TABLE snapshot DROP COLUMN label")
    before = half_way.read_bytes()
    with pytest.raises(StoreFault, match="half-way by an update"):
        open_database(half_way)
    assert half_way.read_bytes() == before


def test_a_step_whose_outcome_is_not_sound_is_taken_back(half_way, monkeypatch):
    monkeypatch.setattr(upgrades, "tables_of", lambda _: {})
    with pytest.raises(StoreFault, match="as they were"):
        upgrades.migrate(open_without_upgrade(half_way))
    monkeypatch.undo()
    assert upgrades.version_of(half_way) == "0003"


def open_without_upgrade(path):
    engine = upgrades.create_engine(f"sqlite:///{path}", connect_args=upgrades.DRIVER_BEGINS_NOTHING)
    upgrades.begins(engine)
    return engine
