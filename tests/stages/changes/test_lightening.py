"""What would have to go, by hand: loads of known mass against a target."""

import dataclasses

import pytest

from tests.stages.rafts import raft
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.printed import Printed
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.stages.changes import lightening
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import LoadCase


def item(name: str, mass: float, quantity: float = 1.0, group: str = "payload", **more) -> WeightItem:
    return WeightItem(name, mass, (1.0, 0.0, 0.1), "weighed", quantity=quantity, group=group, **more)


def ways(target: float, *items: WeightItem, **changes):
    brief = dataclasses.replace(raft().brief, target_mass_kg=target)
    craft = Craft(dataclasses.replace(raft(), weights=items, brief=brief, **changes))
    return craft, lightening.lightenings(craft)


def test_the_least_that_is_enough_comes_first_then_the_most_that_is_not():
    """11.02 kg against 8.5: 2.52 has to go. 3 kg does, 5 kg does and gives up more, 2 kg is the most of what does not."""
    loads = [item(f"{m:g}", m) for m in (1.0, 5.0, 2.0, 3.0)]
    craft, found = ways(8.5, *loads, item("crumb", 0.02))
    assert [w.finding.values["name"] for w in found] == ["3", "5", "2"]
    assert [w.saved for w in found] == pytest.approx([3.0, 5.0, 2.0])
    assert [w.reaches for w in found] == [True, True, False]
    assert [w.finding.severity for w in found] == ["holds", "holds", "near"]
    assert all(w.finding.values["over"] == pytest.approx(2.52) for w in found)
    assert [(w.path, w.value) for w in found] == [("weights.3.on", False), ("weights.1.on", False), ("weights.2.on", False)]
    assert lightening.apply(craft, "weights.3.on").weights[3].on is False


def test_what_is_less_than_a_thirtieth_of_it_is_not_worth_a_line_and_structure_stays():
    _, found = ways(5.0, item("hull", 5.0, group="structure"), item("tin", 2.9), item("coin", 0.05))
    assert [w.finding.values["name"] for w in found] == ["tin"]


def test_fewer_of_a_thing_is_as_few_as_is_needed():
    """Six cells of 0.5 kg and a sack of 8: 1.2 has to go, which three cells do; half a cell more or less is no number to take off."""
    _, found = ways(9.8, item("cell", 0.5, 6.0), item("sack", 8.0, group="structure"))
    fewer = [w for w in found if w.finding.code == "weights.fewer"]
    assert [(w.path, w.value, w.saved, w.reaches) for w in fewer] == [("weights.0.quantity", 3.0, pytest.approx(1.5), True)]
    assert (fewer[0].finding.values["left"], fewer[0].finding.values["all"]) == (3.0, 6.0)
    _, all_but_one = ways(0.1, item("cell", 0.5, 6.0))
    assert [w.value for w in all_but_one if w.finding.code == "weights.fewer"] == [1.0]  # one stays
    for quantity in (1.0, 2.5):
        _, none = ways(0.1, item("cell", 0.5, quantity))
        assert [w for w in none if w.finding.code == "weights.fewer"] == []


def test_nothing_is_left_out_of_a_load_case_nor_when_the_target_is_met():
    _, found = ways(1.0, item("tin", 2.0), item("cell", 0.5, 4.0), cases=(LoadCase("light"),), case="light")
    assert found == ()
    assert ways(2.0, item("tin", 2.0))[1] == ()
    assert ways(1.9999, item("tin", 2.0))[1] != ()
    assert ways(1.0)[1] == ()


def test_walls_and_sheets_are_thinned_as_far_as_is_needed():
    """Of a print whose walls weigh, each of four takes the same off; of a sheet, thickness by tenths of a millimetre, to half at most."""
    printed = item("print", 0.0, group="structure", recipe=Printed("", 4, 0.00045, 0, 0.0002, 0.0))
    whole = Craft(dataclasses.replace(raft(), weights=(printed,))).mass
    one = (
        whole
        - Craft(dataclasses.replace(raft(), weights=(dataclasses.replace(printed, recipe=Printed("", 3, 0.00045, 0, 0.0002, 0.0)),))).mass
    )
    for over, walls in ((0.9 * one, 3), (1.1 * one, 2), (2.9 * one, 1), (3.9 * one, 1)):
        _, found = ways(whole - over, printed)
        way = next(w for w in found if w.finding.code == "weights.walls")
        assert (way.path, way.value, way.reaches) == ("weights.0.recipe.walls", walls, over < 3 * one)
        assert way.saved == pytest.approx((4 - walls) * one, rel=1e-6)
        assert (way.finding.values["walls"], way.finding.values["now"]) == (float(walls), 4.0)
    sheet = item("skin", 0.0, group="structure", recipe=dataclasses.replace(Skin(), thickness_m=0.004))
    heavy = Craft(dataclasses.replace(raft(), weights=(sheet,))).mass
    bare = Craft(
        dataclasses.replace(raft(), weights=(dataclasses.replace(sheet, recipe=dataclasses.replace(Skin(), thickness_m=0.0)),))
    ).mass
    core = heavy - bare
    for share, thickness in ((0.26, 0.0029), (0.9, 0.002)):  # 0.004 (1 - 0.26) = 2.96 mm, down to 2.9; never under half
        _, found = ways(heavy - share * core, sheet)
        way = next(w for w in found if w.finding.code == "weights.thinner")
        assert way.value == pytest.approx(thickness)
        assert way.saved == pytest.approx(core * (1 - thickness / 0.004), rel=1e-6)
        assert (way.reaches, way.finding.values["now"]) == (share < 0.5, 0.004)
        assert way.finding.values["name"] == "skin"
