"""Two windows, two phones, two programs that write at once: the second one's check sees what the first one saved.

Each write is held just before its first change, when all it checks has been looked at, while the other one is tried from a connection
of its own. Either the other waits, or what was looked at no longer holds.
"""

import re
import threading
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path

import pytest
from sqlalchemy import event

from yarekeel.core.errors import Conflict, InvalidInput, NotFound
from yarekeel.demo.boats import reedwarden
from yarekeel.stages.design.design import with_value
from yarekeel.stages.trials.sheet import Entry
from yarekeel.stages.trials.trials import FloatTest
from yarekeel.store import bin as bin_of_parts
from yarekeel.store import predictions, sheets
from yarekeel.store.engine import open_database
from yarekeel.store.records import Revision
from yarekeel.store.yard import Yard

WRITES = re.compile(r"\s*(INSERT|UPDATE|DELETE)", re.IGNORECASE)
TRIAL = FloatTest("2026-05-01", mass_kg=4.4)
HELD = 0.25
"""Seconds that the first writer is held, in which a second that does not wait for it would be through."""
Deed = Callable[[Yard], object]


class Two:
    """A yard that two programs have open."""

    def __init__(self, path: Path) -> None:
        self.first, self.second = Yard(open_database(path)), Yard(open_database(path))
        self.boat = self.first.create(reedwarden(), "mm_g")

    @property
    def revision(self) -> Revision:
        return self.first.revision(self.boat, "A")

    def at_once(self, one: Deed, other: Deed) -> tuple[object, object]:
        """What the two come to, errors as such: the other is tried while the first stands before its first change."""
        begun: Future[object] | None = None
        held = threading.Event()

        with ThreadPoolExecutor(1) as pool:

            def hold(_connection: object, _cursor: object, statement: str, *_: object) -> None:
                nonlocal begun
                if begun is None and WRITES.match(statement):
                    begun = pool.submit(came_to, other, self.second)
                    held.wait(HELD)

            event.listen(self.first.engine, "before_cursor_execute", hold)
            mine = came_to(one, self.first)
            assert begun is not None, "the first wrote nothing"
            return mine, begun.result(20)


def came_to(deed: Deed, yard: Yard) -> object:
    try:
        return deed(yard)
    except (Conflict, InvalidInput, NotFound) as error:
        return error


@pytest.fixture
def two(tmp_path: Path) -> Two:
    return Two(tmp_path / "yard.db")


def edit(two: Two, mass: float) -> Deed:
    r = two.revision
    return lambda yard: yard.save(two.boat, "A", with_value(r.design, "weights.2.mass_kg", mass), r.snapshot, "edit")


def step(two: Two, name: str) -> Deed:
    """Undo or redo, where there is something to."""
    r = two.revision
    r = two.first.save(two.boat, "A", with_value(r.design, "weights.2.mass_kg", 3.0), r.snapshot, "edit")
    if name == "redo":
        r = two.first.undo(two.boat, "A", r.snapshot)
    return lambda yard: getattr(yard, name)(two.boat, "A", r.snapshot)


def trial(two: Two, key: str | None = None, letter: str = "A") -> Deed:
    return lambda yard: yard.log_trial(two.boat, letter, TRIAL, key)


@pytest.mark.parametrize("kind", ["save", "undo", "redo"])
def test_nothing_lands_on_a_revision_that_a_trial_seals(two, kind):
    deed = edit(two, 9.9) if kind == "save" else step(two, kind)
    before = two.revision.design
    sealed, late = two.at_once(trial(two), deed)
    assert not isinstance(sealed, Exception)
    assert isinstance(late, Conflict)
    assert two.revision.is_sealed
    assert two.revision.design == before


@pytest.mark.parametrize("kind", ["save", "undo", "redo"])
def test_a_trial_that_comes_while_something_is_saved_seals_what_was_saved(two, kind):
    deed = edit(two, 9.9) if kind == "save" else step(two, kind)
    saved, _ = two.at_once(deed, trial(two))
    assert isinstance(saved, Revision)
    assert two.revision.design == saved.design


def test_of_two_edits_on_one_state_one_is_kept(two):
    a, b = edit(two, 2.0), edit(two, 3.0)
    saved, late = two.at_once(a, b)
    assert isinstance(saved, Revision)
    assert isinstance(late, Conflict)
    assert two.revision.design == saved.design


def test_a_field_and_its_units_are_saved_together(two):
    r = two.revision
    design = with_value(r.design, "weights.2.mass_kg", 5.0)
    saved, seen = two.at_once(
        lambda yard: yard.save(two.boat, "A", design, r.snapshot, "edit", units="inch_lb"), lambda yard: yard.revision(two.boat, "A")
    )
    assert (seen.units, seen.design) == ("mm_g", r.design)
    assert (saved.units, saved.design) == (two.revision.units, two.revision.design) == ("inch_lb", design)


def test_a_one_time_link_lets_one_in(two):
    sheet = two.first.sheets.sheet(two.first.sheets.open(two.revision.id, "pond", {}))
    secret = two.first.sheets.link(sheet)
    let_in, late = two.at_once(lambda yard: yard.sheets.enter(secret), lambda yard: yard.sheets.enter(secret))
    assert isinstance(let_in, tuple)
    assert isinstance(late, NotFound)
    assert two.first.sheets.phones(sheet) == 1


def test_a_link_that_was_ended_lets_nobody_in(two):
    sheet = two.first.sheets.sheet(two.first.sheets.open(two.revision.id, "pond", {}))
    secret = two.first.sheets.link(sheet)
    _, late = two.at_once(lambda yard: yard.sheets.end(sheet), lambda yard: yard.sheets.enter(secret))
    assert isinstance(late, NotFound)


def test_a_form_and_an_entry_sent_twice_are_kept_once(two):
    first, again = two.at_once(trial(two, "form"), trial(two, "form"))
    assert first == again
    assert len(two.revision.trials) == 1
    sheet = two.first.sheets.sheet(two.first.sheets.open(two.revision.id, "pond", {}))
    entry = Entry("a-key", "mass", "2026-05-01T10:00", {"mass": "4 kg"}, None)
    assert two.at_once(lambda y: y.sheets.add(sheet, entry), lambda y: y.sheets.add(sheet, entry)) == (True, False)


def test_two_revisions_get_two_letters_with_what_is_expected_of_each(two):
    after = two.at_once(
        lambda yard: yard.follow(two.boat, "A", reedwarden(), "one", {"of": 1}),
        lambda yard: yard.follow(two.boat, "A", reedwarden(), "two", {"of": 2}),
    )
    assert [r.letter for r in after] == ["B", "C"]
    assert [two.first.predictions.of(r.id)[0].figures["of"] for r in after] == [1, 2]


def test_no_limit_of_a_list_is_passed(two, monkeypatch):
    monkeypatch.setattr(predictions, "MOST", 1)
    monkeypatch.setattr(sheets, "MOST_SHEETS", 1)
    monkeypatch.setattr(bin_of_parts, "MOST_PARTS", 1)
    revision, part = two.revision.id, two.first.bin.all()[0].part
    for deed in (
        lambda yard: yard.predictions.keep(revision, "card", {"at": id(yard)}),
        lambda yard: yard.sheets.open(revision, "pond", {}),
        lambda yard: yard.bin.add((part,)),
    ):
        kept, late = two.at_once(deed, deed)
        assert not isinstance(kept, Exception)
        assert isinstance(late, InvalidInput)


@pytest.mark.parametrize("name", ["save", "follow", "trial", "sheet", "entry", "link", "prediction", "units"])
def test_nothing_is_added_to_a_boat_that_was_deleted_meanwhile(two, name):
    r = two.revision
    sheet = two.first.sheets.sheet(two.first.sheets.open(r.id, "pond", {}))
    deeds: dict[str, Deed] = {
        "save": edit(two, 2.0),
        "follow": lambda yard: yard.follow(two.boat, "A", r.design, "next"),
        "trial": trial(two),
        "sheet": lambda yard: yard.sheets.open(r.id, "pond", {}),
        "entry": lambda yard: yard.sheets.add(sheet, Entry("k", "mass", "2026-05-01T10:00", {}, None)),
        "link": lambda yard: yard.sheets.link(sheet),
        "prediction": lambda yard: yard.predictions.keep(r.id, "card", {}),
        "units": lambda yard: yard.set_units(two.boat, "inch_lb"),
    }
    _, late = two.at_once(lambda yard: yard.delete(two.boat), deeds[name])
    assert isinstance(late, NotFound)


def test_a_part_removed_meanwhile_is_not_changed(two):
    key = two.first.bin.add((two.first.bin.all()[0].part,))[0]
    part = two.first.bin.part(key).part
    _, late = two.at_once(lambda yard: yard.bin.remove(key), lambda yard: yard.bin.change(key, part))
    assert isinstance(late, NotFound)
    assert two.first.bin.removed_name(key)
