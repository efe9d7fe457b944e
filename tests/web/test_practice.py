"""A stand-in's reading is practice: marked in the record, said in findings, kept in files; it corrects no list but an example's."""

import dataclasses

import pytest
from starlette.testclient import TestClient

from tests.stages.rafts import raft
from tests.web.test_taken import still
from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.stability.inclining import Incline, Shift
from yarekeel.core.weights.weigh_in import WeighIn
from yarekeel.demo.boats import reedwarden, wagtail
from yarekeel.exchange import boat_file
from yarekeel.instruments.shelf import Shelf
from yarekeel.stages.design import editing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.stability import rolling, stability
from yarekeel.stages.weights import weigh_in
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS
from yarekeel.web.stages.commands import Doing, command_of


def test_what_a_stand_in_shows_is_marked_said_and_kept_and_corrects_nothing():
    shelf = Shelf()
    _, last = still(shelf)
    doing = Doing(Craft(raft()), SYSTEMS["mm_g"], shelf, 1)
    after = command_of("scale.take").done(doing, {"number": last.number, "path": "weigh_in.mass_kg"})[0].design
    assert after.weigh_in.mass_kg is not None
    assert after.weigh_in.practice == ("mass_kg",)
    assert boat_file.loads(boat_file.dumps(after)).weigh_in.practice == ("mass_kg",)
    found = weigh_in.assess(Craft(after))
    assert found.findings[0].code == "weigh_in.practice"
    assert [code for code, _, design in found.corrections if design is not None] == []
    with pytest.raises(InvalidInput):
        weigh_in.corrected(Craft(after), "unaccounted")
    typed = editing.set_field(Craft(after), "weigh_in.mass_kg", 41.0)
    assert typed.weigh_in.practice == ()
    assert any(design is not None for _, _, design in weigh_in.assess(Craft(typed)).corrections)


def test_an_example_may_be_corrected_by_practice():
    assert reedwarden().practice
    assert not raft().practice
    heavy = dataclasses.replace(wagtail(), weigh_in=WeighIn(mass_kg=230.0, practice=("mass_kg",)))
    assert any(design is not None for _, _, design in weigh_in.assess(Craft(heavy)).corrections)


def test_a_stand_ins_tilt_corrects_no_heights():
    shifts = tuple(Shift(m, 10.0 * m, practice=True) for m in (-0.1, 0.0, 0.1))
    design = dataclasses.replace(raft(), incline=Incline(weight_kg=1.0, shifts=shifts))
    craft = Craft(design)
    r = rolling.assess(craft, stability.assess(craft))
    assert "incline.practice" in {f.code for f in r.findings}
    with pytest.raises(NoAnswer, match="practice"):
        rolling.corrected(craft, 0.12)
    for k in range(3):
        design = editing.set_field(Craft(design), f"incline.shifts.{k}.heel_deg", 3.0 * (k - 1))
    assert not design.incline.is_practice
    rolling.corrected(Craft(design), 0.12)
    timed = dataclasses.replace(raft(), incline=Incline(time_s=12.0, time_practice=True))
    assert timed.incline.is_practice
    assert not editing.set_field(Craft(timed), "incline.time_s", 13.0).incline.is_practice


def test_only_a_reading_can_be_practice():
    with pytest.raises(InvalidInput, match="practice"):
        WeighIn(practice=("scale_kg",))


def test_on_a_boat_of_ones_own_the_stand_ins_are_behind_practise(client: TestClient, demo_yard: Yard):
    boat = demo_yard.create(raft(), "mm_kg")
    for page in ("weights?tab=weigh", "stability?tab=roll"):
        own, example = (client.get(f"/boats/{n}/{letter}/{page}").text for n, letter in ((boat, "A"), (2, "B")))
        assert "Practise with a stand-in" in own
        assert "Practise with a stand-in" not in example
        assert "practice-tag" in own
        assert "practice-tag" in example
