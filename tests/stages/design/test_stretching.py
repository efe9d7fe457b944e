"""The whole boat longer, wider and deeper by percents of its own, by hand."""

import dataclasses

import pytest

from tests.stages.rafts import raft
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import Box
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.demo.boats import moorhen, reedwarden
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Compartment
from yarekeel.stages.design.resizing import scaled, stretched


def boat():
    shell = WeightItem("Shell", 30.0, (1.0, 0.0, 0.1), group="structure")
    stone = WeightItem("Stone", 10.0, (0.8, 0.05, 0.1))
    skin = WeightItem("Skin", 1.0, (0, 0, 0), group="structure", recipe=Skin(over="all", thickness_m=0.003, layers_outside=0))
    room = Compartment("fore peak", "hull", aft_m=1.5)
    return Craft(dataclasses.replace(raft(), weights=(shell, stone, skin), compartments=(room,)))


def test_a_box_ten_percent_longer_and_twenty_deeper():
    """2 x 0.6 x 0.3 m: 2.2 x 0.6 x 0.36; its surface 2 (1.2 + 0.6 + 0.18) = 3.96 becomes 2 (1.32 + 0.792 + 0.216) = 4.656 m2."""
    after = Craft(stretched(boat(), (1.1, 1.0, 1.2)))
    low, high = after.hull.mesh.bounds
    assert (high - low).tolist() == pytest.approx([2.2, 0.6, 0.36])
    shell, stone, skin = after.design.weights
    assert shell.mass_kg == pytest.approx(30.0 * 4.656 / 3.96)
    assert stone.mass_kg == 10.0
    assert stone.at_m == pytest.approx((0.88, 0.05, 0.12))
    assert after.items[2].mass_kg == pytest.approx(4.656 * 0.003 * 500)
    assert skin.factor == 1.0
    assert after.design.compartments[0].aft_m == pytest.approx(1.65)


def test_alike_in_all_directions_it_is_a_scale():
    one, other = Craft(stretched(boat(), (1.2, 1.2, 1.2))), Craft(scaled(boat().design, 1.2))
    assert one.hull.mesh.volume == pytest.approx(other.hull.mesh.volume)
    assert one.total.mass == pytest.approx(other.total.mass)
    assert one.total.centre == pytest.approx(other.total.centre)


def test_a_body_turned_aside_is_stretched_along_the_boats_axes():
    """A box laid across the boat (turned 90 degrees) gets wider where the boat gets wider."""
    across = Body("beam", Box(0.8, 0.1, 0.1), (0.5, -0.4, 0.3), turn_deg=(0.0, 0.0, 90.0))
    craft = Craft(dataclasses.replace(raft(), bodies=(*raft().bodies, across)))
    after = Craft(stretched(craft, (1.0, 1.5, 1.0)))
    low, high = after.piece(1).bounds
    was_low, was_high = craft.piece(1).bounds
    assert (high - low)[1] == pytest.approx(1.5 * (was_high - was_low)[1])
    assert (high - low)[0] == pytest.approx((was_high - was_low)[0])


@pytest.mark.parametrize("make", [moorhen, reedwarden])
def test_a_demo_boat_holds_as_much_more_as_its_factors_say(make):
    craft = Craft(make())
    after = Craft(stretched(craft, (1.1, 1.05, 0.9)))
    assert after.hull.mesh.volume == pytest.approx(1.1 * 1.05 * 0.9 * craft.hull.mesh.volume, rel=1e-3)


def test_a_stretch_to_nothing_is_refused():
    with pytest.raises(InvalidInput, match="tenth"):
        stretched(boat(), (0.0, 1.0, 1.0))
