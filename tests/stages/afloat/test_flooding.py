"""Float: water inside and a swamped boat, against hand sums."""

import dataclasses
import math

import pytest

from tests.stages.rafts import WITHIN, raft, said
from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.geometry.families import Box
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import dabchick, moorhen, reedwarden, wagtail
from yarekeel.stages.afloat import compartments, dive, flooding, swamped
from yarekeel.stages.changes.ways import foam
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Compartment
from yarekeel.stages.design.resizing import scaled


def test_flooding_through_the_stage_agrees_with_hand_sums():
    design = compartments.divided(Craft(raft(mass=60.0)), "hull", [0.5, 1.5])
    design = dataclasses.replace(
        design,
        compartments=tuple(dataclasses.replace(c, room=1.0) for c in design.compartments),
        weights=(WeightItem("Shell", 60.0, (1.0, 0.0, 0.1)),),
    )
    craft = Craft(design)
    assert [s.capacity for s in craft.spaces] == pytest.approx([0.09, 0.18, 0.09], rel=1e-9)
    result = flooding.assess(craft, frozenset([1]))
    assert result.after is not None
    assert -result.after.attitude.origin_height == pytest.approx(0.05 * 2.0 / 1.0, rel=1e-9)  # half the waterplane is lost
    assert result.lost == pytest.approx(0.18)
    assert result.findings[0].code == "flood.afloat"


def test_a_leak_takes_its_time():
    """Box open above, 10 l a minute: it fills evenly until the rim is at the water, which is hand arithmetic."""
    craft = Craft(dataclasses.replace(raft(), weights=(WeightItem("Shell", 240.0, (1.0, 0.0, 0.02)),)))
    into = flooding.places(craft)[0]
    assert into.title == "bilge of hull"
    result = flooding.assess(craft, into=into, leak=10e-3 / 60)
    assert result.leak is not None
    assert result.leak.water is not None
    # It would be 120 kg to the rim, but the water in it runs to one side before that unless GM is kept: the sum says which.
    assert result.leak.water <= 0.120 + 1e-6
    assert result.leak.until == pytest.approx(result.leak.water / (10e-3 / 60), rel=1e-9)
    kept = flooding.assess(
        Craft(dataclasses.replace(craft.design, weights=(WeightItem("Shell", 40.0, (1.0, 0.0, 0.02)),))), into=into, leak=1e-5
    )
    assert kept.leak is not None


@pytest.mark.parametrize("make", [wagtail, reedwarden, moorhen, dabchick])
def test_every_way_of_flooding_ends_in_words(make):
    """Each space open to the sea, all of them, water in each: a finding with a sentence, whatever happens."""
    craft = Craft(make())
    places = flooding.places(craft)
    count = len(craft.spaces)
    tries = [frozenset([k]) for k in range(count)] + [frozenset(range(count))]
    for opened in tries:
        result = flooding.assess(craft, opened)
        assert result.findings[0].code in ("flood.afloat", "flood.sinks", "flood.capsizes")
        assert all(text and "{" not in text for _, title, text in said(result.findings) for text in (title, text))
    for into in places:
        result = flooding.assess(craft, frozenset(), 0.0005, into, 1e-6)
        assert said(result.findings)


def test_one_hull_of_the_skimmer_flooded_is_said():
    craft = Craft(reedwarden())
    result = flooding.assess(craft, frozenset([0]))
    assert result.after is not None
    assert result.after.attitude.heel < 0  # to port, where the water is
    assert result.findings[0].code == "flood.capsizes"


def test_more_water_than_it_holds_is_refused_and_a_sunk_boat_is_said():
    craft = Craft(moorhen())
    into = flooding.places(craft)[0]
    with pytest.raises(InvalidInput, match="m³ at most; flood it instead"):
        flooding.assess(craft, frozenset(), 5.0, into)
    heavy = Craft(dataclasses.replace(raft(), weights=(WeightItem("Lead", 500.0, (1.0, 0.0, 0.1)),)))
    assert flooding.assess(heavy).findings[0].code == "flood.sinks"


def test_bad_compartments_are_refused_in_a_sentence():
    hull = Compartment("a", "hull", fore_m=1.2)
    with pytest.raises(InvalidInput, match="overlap in hull: the same water would count twice"):
        dataclasses.replace(raft(), compartments=(hull, Compartment("b", "hull", aft_m=1.0)))
    with pytest.raises(InvalidInput, match="that the boat has not"):
        dataclasses.replace(raft(), compartments=(Compartment("a", "keel"),))
    with pytest.raises(InvalidInput, match="between 0 and 100 %"):
        Compartment("tank", "hull", use="tank", filled=1.2)
    with pytest.raises(InvalidInput, match="fore end must lie ahead"):
        Compartment("a", "hull", aft_m=1.0, fore_m=0.5)
    with pytest.raises(InvalidInput, match="0 to 100 %"):
        dive.state_at(Craft(dabchick()), 1.2)
    with pytest.raises(InvalidInput, match="Bulkheads stand between"):
        compartments.divided(Craft(raft()), "hull", [5.0])
    outside = Craft(dataclasses.replace(raft(), compartments=(Compartment("a", "hull", aft_m=4.0),)))
    assert "lies outside hull" in outside.spaces[0].fault
    foam = dataclasses.replace(raft(), bodies=(*raft().bodies, Body("block", Box(0.2, 0.2, 0.1), (0, 0, 0.4), role="foam")))
    solid = Craft(dataclasses.replace(foam, compartments=(Compartment("a", "block"),)))
    assert "solid" in solid.spaces[0].fault
    assert any(code == "flood.space" for code, _, _ in said(flooding.assess(solid).findings))


def test_a_full_tank_is_weight_everywhere():
    """A tank's water counts in Float and in the curve of arms as it does in a hand sum."""
    design = dataclasses.replace(
        raft(), compartments=(Compartment("tank", "hull", 0.5, 1.5, -0.1, 0.1, None, 0.1, "tank", filled=1.0, room=1.0),)
    )
    craft = Craft(design)
    a = craft.rest()
    assert a.mass == pytest.approx(40.0 + 1000 * 1.0 * 0.2 * 0.1, rel=1e-9)
    assert a.gravity[2] == pytest.approx((40 * 0.1 + 20 * 0.05) / 60, abs=1e-4)
    plain = Craft(dataclasses.replace(raft(), weights=(*raft().weights, WeightItem("Water", 20.0, (1.0, 0.0, 0.05))))).rest()
    assert a.attitude.heel == pytest.approx(plain.attitude.heel, abs=1e-8)  # full: it cannot run
    half = Craft(dataclasses.replace(design, compartments=(dataclasses.replace(design.compartments[0], filled=0.5),))).rest()
    assert abs(half.attitude.heel) > abs(Craft(raft()).rest().attitude.heel) * 0.5


def test_a_swamped_wooden_box_by_hand():
    """30 kg of wood of 500 kg/m3 lift 30 kg; a 10 kg stone of 2500 weighs 6 kg under water: 24 kg are left over."""
    design = dataclasses.replace(
        raft(),
        weights=(
            WeightItem("Shell", 30.0, (1.0, 0.0, 0.1), group="structure", material="ply_okoume"),
            WeightItem("Stone", 10.0, (1.0, 0.0, 0.02), material="glass_fibre"),
            WeightItem("Rower", 70.0, (1.0, 0.0, 0.5), group="crew"),
        ),
    )
    found = swamped.assess(Craft(design))
    assert found.carries == pytest.approx(30 * (1000 / 500 - 1) - 10 * (1 - 1000 / 2560), rel=1e-9)
    assert found.afloat is not None
    assert found.unknown == 0
    held = swamped.assess(Craft(design), 2, "side")
    assert held.carries == pytest.approx(found.carries - 2 * swamped.HOLD, rel=1e-9)
    assert held.afloat is None or held.afloat.attitude.heel > 0  # hands on the starboard rail


def test_foam_put_in_carries_what_was_asked():
    craft = Craft(moorhen())
    answer = foam.foam_for(craft, 40.0)
    # Foam lifts (rho - rho_foam) per volume: 33 kg/m3 extruded polystyrene in this water.
    assert answer.lifts == pytest.approx(answer.volume * (craft.density - 33), rel=1e-12)
    after = swamped.assess(Craft(foam.with_foam(craft, answer)))
    assert after.carries == pytest.approx(40.0, rel=WITHIN)
    with pytest.raises(NoAnswer, match="no foam is needed"):
        foam.foam_for(craft, -5.0)
    with pytest.raises(NoAnswer, match="do not fit under the rim"):
        foam.foam_for(craft, 2000.0)
    with pytest.raises(InvalidInput, match="lighter than water"):
        foam.foam_for(craft, 40.0, "lead")


def test_a_swamped_boat_of_unknown_stuff_goes_down_in_words():
    found = swamped.assess(Craft(raft()))
    codes = [f.code for f in found.findings]
    assert codes == ["swamped.sinks", "swamped.unknown"]
    assert found.unknown == pytest.approx(40.0)


@pytest.mark.parametrize("make", [dabchick, reedwarden])
def test_a_boat_grown_takes_its_spaces_and_holes_along(make):
    """1.2 times in every length: 1.728 times in every volume, openings at 1.2 times their places."""
    small, grown = Craft(make()), Craft(scaled(make(), 1.2))
    assert grown.hull.kernel.total_volume == pytest.approx(1.728 * small.hull.kernel.total_volume, rel=1e-9)
    assert [s.capacity for s in grown.spaces] == pytest.approx([1.728 * s.capacity for s in small.spaces], rel=1e-9)
    for (_, a), (_, b) in zip(small.openings, grown.openings, strict=True):
        assert b == pytest.approx(tuple(1.2 * v for v in a))


def test_the_two_of_a_pair_are_not_one_room():
    """Floats on both sides, divided: four rooms of a quarter each; loose water goes into one side and leans the boat to it."""
    pair = Body("ama", Box(1.6, 0.2, 0.2), (0.2, 0.8, 0.05), mirrored=True, role="float")
    design = dataclasses.replace(raft(), bodies=(*raft().bodies, pair))
    craft = Craft(design)
    names = [p.title for p in flooding.places(craft)]
    assert names == ["bilge of hull", "bilge of ama, port", "bilge of ama, starboard"]
    leaning = flooding.assess(craft, frozenset(), 0.03, flooding.places(craft)[2], 0.0)
    dry = craft.rest().attitude.heel
    assert leaning.after is not None
    assert leaning.after.attitude.heel > dry + math.radians(1)  # starboard down
    divided = Craft(compartments.divided(craft, "ama", [1.0]))
    assert [s.compartment.name for s in divided.spaces] == [
        "after part, port",
        "after part, starboard",
        "fore part, port",
        "fore part, starboard",
    ]
    assert [s.capacity for s in divided.spaces] == pytest.approx([0.95 * 0.8 * 0.04] * 4, rel=1e-9)
    added = Craft(compartments.with_one(craft, "ama"))
    assert added.spaces[0].capacity == pytest.approx(0.95 * 0.8 * 0.04, rel=1e-9)
