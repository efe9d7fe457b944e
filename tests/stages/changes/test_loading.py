"""Float: weights moved, ballast, the heaviest load, against hand sums of a box."""

import dataclasses
import math

import pytest

from tests.stages.rafts import WITHIN, raft
from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.geometry.families import Box
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import moorhen
from yarekeel.stages.afloat import sheer
from yarekeel.stages.changes import loading
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design


@pytest.fixture
def boat() -> Craft:
    return Craft(raft())


def test_one_weight_moved_levels_it(boat):
    after = Craft(loading.moved(boat, loading.level_by(boat, [1]))).rest().attitude
    assert (after.trim, after.heel) == pytest.approx((0.0, 0.0), abs=1e-9)


def test_two_weights_share_what_one_has_no_room_for():
    design = dataclasses.replace(raft(), weights=(*raft().weights, WeightItem("Sack", 5.0, (0.2, 0.0, 0.1))))
    craft = Craft(design)
    moves = loading.level_by(craft, [1, 2], [(0.7, 0.9), None])
    assert [m.name for m in moves] == ["Stone", "Sack"]  # the heavier first
    assert 0.7 <= moves[0].place[0] <= 0.9
    after = Craft(loading.moved(craft, moves)).rest().attitude
    assert (after.trim, after.heel) == pytest.approx((0.0, 0.0), abs=1e-9)


def test_no_room_is_said_with_what_is_left():
    craft = Craft(dataclasses.replace(raft(), weights=(*raft().weights, WeightItem("Anvil", 30.0, (0.1, 0.0, 0.1), group="structure"))))
    with pytest.raises(NoAnswer, match="kg moved half the boat's length would still be needed"):
        loading.level_by(craft, [1], [(0.7, 0.9)])
    with pytest.raises(InvalidInput, match="Choose a weight"):
        loading.level_by(craft, [])


def test_ballast_levels_it(boat):
    load = loading.ballast_at(boat, 1.8)
    assert load.volume == pytest.approx(load.mass / 11340)
    after = Craft(loading.with_load(boat, load, "Lead", material="lead")).rest().attitude
    assert (after.trim, after.heel) == pytest.approx((0.0, 0.0), abs=1e-8)
    # By hand: the stone's moment about amidships over the arm of the lead.
    assert load.mass == pytest.approx(10.0 * 0.2 / 0.8, rel=1e-9)
    with pytest.raises(NoAnswer, match="the end that rides high"):
        loading.ballast_at(boat, 0.2)


def test_ballast_for_a_wanted_gm():
    tender = Craft(dataclasses.replace(raft(), weights=(WeightItem("Mast", 60.0, (1.0, 0.0, 0.6)),)))
    load = loading.ballast_for_gm(tender, 0.06)
    after = Craft(loading.with_load(tender, load, "Lead")).rest()
    assert after.gm_transverse == pytest.approx(0.06, rel=WITHIN)
    assert not after.is_unsteady
    with pytest.raises(NoAnswer, match="as stiff as that already"):
        loading.ballast_for_gm(Craft(raft()), 0.05)
    with pytest.raises(NoAnswer, match="before it sinks"):
        loading.ballast_for_gm(tender, 3.0)


@pytest.mark.parametrize(("bow", "stern"), [(0.09, 0.09), (0.085, 0.095)])
def test_a_wanted_waterline_is_held(boat, bow, stern):
    load = loading.waterline(boat, bow, stern)
    after = sheer.assess(Craft(loading.with_load(boat, load, "Water cans")))
    drafts = {name: d for _, name, d in after.marks}
    assert (drafts["bow mark"], drafts["stern mark"]) == pytest.approx((bow, stern), rel=WITHIN)
    assert after.afloat is not None
    assert after.afloat.attitude.heel == pytest.approx(0.0, abs=1e-8)


def test_a_waterline_it_cannot_have(boat):
    with pytest.raises(NoAnswer, match="would have to go ashore"):
        loading.waterline(boat, 0.01, 0.01)
    with pytest.raises(NoAnswer, match="move a weight as well"):
        loading.waterline(boat, 0.01, 0.065)


def test_the_heaviest_load_just_keeps_the_brief():
    """Central on a level box: freeboard binds, D - M / (rho L B) = asked, so M by hand."""
    craft = Craft(dataclasses.replace(raft(), weights=(WeightItem("Shell", 40.0, (1.0, 0.0, 0.1)),)))
    load = loading.heaviest(craft, (1.0, 0.0, 0.05))
    assert load.limit == "freeboard"
    assert load.mass == pytest.approx((0.3 - 0.05) * 2.0 * 0.6 * 1000 - 40.0, rel=1e-5)
    after = Craft(loading.with_load(craft, load, "Sand")).rest()
    assert after.freeboard == pytest.approx(0.05, rel=WITHIN)
    aside = loading.heaviest(craft, (1.0, -0.2, 0.05))
    assert aside.limit == "heel"
    assert abs(Craft(loading.with_load(craft, aside, "Sand")).rest().attitude.heel) == pytest.approx(math.radians(2.0), rel=WITHIN)


def test_capacity_central_is_the_box_and_badly_placed_is_less():
    craft = Craft(dataclasses.replace(raft(), weights=(WeightItem("Shell", 40.0, (1.0, 0.0, 0.1)),)))
    found = loading.capacity(craft)
    assert found.central.mass == pytest.approx(0.3 * 1.2 * 1000 - 40.0, rel=1e-4)
    assert found.side.mass < found.central.mass
    after = Craft(loading.with_load(craft, dataclasses.replace(found.side, mass=found.side.mass * 0.999), "Man")).rest()
    assert 0 < after.freeboard < 0.004
    assert found.end.limit == "the rim goes under"


def test_equal_loads_in_a_folded_tray():
    """A tray 300 x 200 x 50 mm of 120 g carries 3 kg to the rim: (3 - 0.12) / 0.05 is 57 loads, the 58th is too many."""
    tray = Design("Tray", Water(density_kg_m3=1000.0), bodies=(Body("tray", Box(0.3, 0.2, 0.05), deck="open"),))
    craft = Craft(dataclasses.replace(tray, weights=(WeightItem("Card", 0.120, (0.15, 0.0, 0.01)),)))
    even = loading.equal_loads(craft, 0.050, "even")
    assert even.last == 57
    assert even.why == "it sinks"
    # One side, a quarter of the beam off: the box heels, by tan = m y / (M GM), until the rim meets the water.
    side = loading.equal_loads(craft, 0.050, "side")
    assert 0 < side.last < even.last
    with pytest.raises(InvalidInput, match="more than nothing"):
        loading.equal_loads(craft, 0.0, "even")


@pytest.mark.parametrize("shift", [(0.15, 0.0, 0.0), (-0.2, 0.01, 0.05)])
def test_weights_moved_one_way_are_the_hull_moved_the_other(shift):
    """Two ways: all weights moved by d, and the hull moved by -d, lie in the water alike."""
    design = moorhen()
    dx, dy, dz = shift

    def at(p, sign):
        return (p[0] + sign * dx, p[1] + sign * dy, p[2] + sign * dz)

    plain = tuple(
        dataclasses.replace(w, recipe=None, mass_kg=i.mass_kg, at_m=i.at_m)
        for w, i in zip(design.weights, Craft(design).items, strict=True)
    )
    bodies = tuple(dataclasses.replace(b, mirrored=False) for b in design.bodies[:2])
    base = dataclasses.replace(design, bodies=bodies, weights=plain)
    one = Craft(dataclasses.replace(base, weights=tuple(dataclasses.replace(w, at_m=at(w.at_m, 1)) for w in plain))).rest()
    other = Craft(dataclasses.replace(base, bodies=tuple(dataclasses.replace(b, at_m=at(b.at_m, -1)) for b in bodies))).rest()
    assert (one.attitude.heel, one.attitude.trim) == pytest.approx((other.attitude.heel, other.attitude.trim), abs=1e-8)
    assert one.gm_transverse == pytest.approx(other.gm_transverse, rel=1e-7)
    assert one.freeboard == pytest.approx(other.freeboard, abs=1e-8)
