"""Float in full at the stage: every solver's answer put in meets its target; bad cases end in words."""

import dataclasses
import math

import pytest

from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.geometry.families import Box
from yarekeel.core.geometry.families.submersible import Submersible
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import dabchick, moorhen, reedwarden, wagtail
from yarekeel.stages import answers, chances, compartments, dive, flooding, forced, loading, rules, sheer, swamped
from yarekeel.stages.craft import Craft
from yarekeel.stages.design import Body, Brief, Compartment, Design, Opening
from yarekeel.stages.fixes import scaled
from yarekeel.units import fill

WITHIN = 1e-3
"""A solver's answer, put in, meets its target to a thousandth."""


def said(findings):
    return [(f.code, fill(f.title, f.values), fill(f.sentence, f.values)) for f in findings]


def raft(mass: float = 40.0, **brief) -> Design:
    """A box 2 x 0.6 x 0.3 m in fresh water of 1000 kg/m3."""
    return Design(
        "Raft",
        Water(density_kg_m3=1000.0),
        Brief("model", 60.0, 0.05, 2.0, 0.05) if not brief else Brief(**brief),
        (Body("hull", Box(2.0, 0.6, 0.3), deck="open"),),
        (WeightItem("Shell", mass * 0.75, (1.0, 0.0, 0.1), group="structure"), WeightItem("Stone", mass * 0.25, (0.8, 0.05, 0.1))),
    )


@pytest.fixture
def boat() -> Craft:
    return Craft(raft())


# Solvers


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


# Water inside


def test_flooding_through_the_stage_agrees_with_hand_sums():
    design = compartments.act(Craft(raft(mass=60.0)), "compartments.divide", "hull|0.5,1.5")
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
    with pytest.raises(InvalidInput, match="l at most; flood it instead"):
        flooding.assess(craft, frozenset(), 5.0, into)
    heavy = Craft(dataclasses.replace(raft(), weights=(WeightItem("Lead", 500.0, (1.0, 0.0, 0.1)),)))
    assert flooding.assess(heavy).findings[0].code == "flood.sinks"


def test_bad_compartments_are_refused_in_a_sentence():
    hull = Compartment("a", "hull", fore_m=1.2)
    with pytest.raises(InvalidInput, match="overlap in hull: the same water would count twice"):
        dataclasses.replace(raft(), compartments=(hull, Compartment("b", "hull", aft_m=1.0)))
    with pytest.raises(InvalidInput, match="that the boat has not"):
        dataclasses.replace(raft(), compartments=(Compartment("a", "keel"),))
    with pytest.raises(InvalidInput, match="from 0 to 100 %"):
        Compartment("tank", "hull", use="tank", filled=1.2)
    with pytest.raises(InvalidInput, match="fore end must lie ahead"):
        Compartment("a", "hull", aft_m=1.0, fore_m=0.5)
    with pytest.raises(InvalidInput, match="0 to 100 %"):
        dive.state_at(Craft(dabchick()), 1.2)
    with pytest.raises(InvalidInput, match="Bulkheads stand between"):
        compartments.act(Craft(raft()), "compartments.divide", "hull|5")
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


# Swamped


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
    answer = swamped.foam_for(craft, 40.0)
    # Foam lifts (rho - rho_foam) per volume: 33 kg/m3 extruded polystyrene in this water.
    assert answer.lifts == pytest.approx(answer.volume * (craft.density - 33), rel=1e-12)
    after = swamped.assess(Craft(swamped.with_foam(craft, answer)))
    assert after.carries == pytest.approx(40.0, rel=WITHIN)
    with pytest.raises(NoAnswer, match="no foam is needed"):
        swamped.foam_for(craft, -5.0)
    with pytest.raises(NoAnswer, match="do not fit under the rim"):
        swamped.foam_for(craft, 2000.0)
    with pytest.raises(InvalidInput, match="lighter than water"):
        swamped.foam_for(craft, 40.0, "lead")


def test_a_swamped_boat_of_unknown_stuff_goes_down_in_words():
    found = swamped.assess(Craft(raft()))
    codes = [f.code for f in found.findings]
    assert codes == ["swamped.sinks", "swamped.unknown"]
    assert found.unknown == pytest.approx(40.0)


# Dived


def _ball() -> Design:
    """A submarine whose sums are known: a box pressure hull of 0.1 m3 and its tank."""
    return Design(
        "Test box",
        Water(density_kg_m3=1000.0),
        Brief("model", 110.0, 0.0, 2.0, 0.001, 0.05),
        (Body("hull", Box(1.0, 0.25, 0.4)),),
        (WeightItem("All", 80.0, (0.5, 0.0, 0.12), group="structure"),),
        compartments=(Compartment("tank", "hull", 0.4, 0.6, None, None, None, None, "tank", room=1.0),),
    )


def test_the_dived_boat_by_hand():
    """Tank amidships of 20 l in an 80 kg boat of 100 l: full it is neutral; with the tank 0.1 m forward it trims by the offset
    of G over the height of B above it."""
    craft = Craft(_ball())
    full = dive.assess(craft).way[-1]
    assert full.net == pytest.approx(0.0, abs=1e-9)
    g = (80 * 0.12 + 20 * 0.2) / 100
    assert full.bg == pytest.approx(0.2 - g, rel=1e-6)
    ahead = dataclasses.replace(_ball(), compartments=(dataclasses.replace(_ball().compartments[0], aft_m=0.5, fore_m=0.7),))
    dived = dive.state_at(Craft(ahead), 1.0)
    by_hand = dive.dived_trim((0.5, 0.0, 0.2), ((80 * 0.5 + 20 * 0.6) / 100, 0.0, g))
    assert math.degrees(by_hand) == pytest.approx(-math.degrees(math.atan(0.02 / (0.2 - g))), rel=1e-9)
    assert dived.attitude.trim == pytest.approx(by_hand, rel=2e-3)
    moved = dive.assess(Craft(ahead))
    assert moved.level_x == pytest.approx(0.5, rel=1e-9)
    assert any("aft levels it" in fill(r.sentence, f.values) for f in moved.findings for r in f.remedies)


def test_the_slider_passes_through_neutral_without_a_jump():
    """Fine steps about neutral: GM runs into BG and trim into the dived trim, with no step larger than those beside it allow."""
    design = dataclasses.replace(_ball(), weights=(WeightItem("All", 82.0, (0.495, 0.0, 0.12), group="structure"),))
    craft = Craft(design)  # neutral at nine tenths
    below, above = dive.state_at(craft, 0.9 - 1e-5), dive.state_at(craft, 0.9 + 1e-5)
    assert below.afloat is not None
    assert above.afloat is None
    assert below.attitude.trim == pytest.approx(above.attitude.trim, abs=2e-3)
    assert below.attitude.heel == pytest.approx(above.attitude.heel, abs=1e-6)
    assert below.bg == pytest.approx(above.bg, rel=1e-3)
    assert below.net < 0 < above.net
    for shares in ((0.3, 0.3001), (0.6, 0.6001)):
        a, b = (dive.state_at(craft, s) for s in shares)
        assert a.attitude.trim == pytest.approx(b.attitude.trim, abs=1e-3)


def test_the_demo_submarine_and_a_tank_made_for_it():
    craft = Craft(dabchick())
    found = dive.assess(craft, 1.0, dive.INLET_OUT)
    assert {f.code for f in found.findings} >= {"dive.fits", "dive.bg", "dive.trim", "dive.middle", "dive.inlet"}
    # What it shows above water surfaced, less what stays out, is what the tank takes.
    shown = craft.hull.kernel.total_volume - craft.total.mass / craft.density
    assert found.capacity == pytest.approx(shown - found.left_out, rel=WITHIN)
    assert found.state.inlet == pytest.approx(dive.INLET_OUT, abs=2e-3)
    without = Craft(dataclasses.replace(dabchick(), compartments=()))
    assert dive.assess(without).findings[0].code == "dive.no_tank"
    again = answers.act(without, "answer.tank", "0.025")
    assert dive.assess(Craft(again)).capacity == pytest.approx(found.capacity, rel=WITHIN)


@pytest.mark.parametrize(("lead_x", "foam_x"), [(0.4, 0.2), (0.35, 0.15)])
def test_lead_and_foam_make_it_neutral_and_level(lead_x, foam_x):
    craft = Craft(dabchick())
    answer = dive.trim_out(craft, lead_x, foam_x)
    assert min(answer.lead, answer.foam) > 0
    after = dive.state_at(Craft(dive.with_trim(craft, answer)), 1.0)
    assert abs(after.net) <= WITHIN * after.mass
    assert abs(after.attitude.trim) < math.radians(0.1)
    alone = dive.trim_alone(craft)  # it is light: lead alone does it, at one place only
    assert alone.foam == 0
    done = dive.state_at(Craft(dive.with_trim(craft, alone)), 1.0)
    assert abs(done.net) <= WITHIN * done.mass
    assert abs(done.attitude.trim) < math.radians(0.1)
    for places, why in (((0.4, 0.4), "at one place"), ((0.4, 0.8), "less than nothing")):
        with pytest.raises(NoAnswer, match=why):
            dive.trim_out(craft, *places)


def test_salt_water_lifts_the_dived_boat():
    """Grams by which the same boat is lighter in the sea: its volume times the difference of densities (ITTC 7.5-02-01-03)."""
    found = dive.assess(Craft(_ball()))
    salt = dict(found.waters)["sea water, 15 °C"]
    assert salt == pytest.approx(0.1 * (1026.02 - 1000.0), rel=2e-3)


def test_a_dived_boat_with_its_weight_high_turns_over():
    high = Craft(dataclasses.replace(_ball(), weights=(WeightItem("All", 80.0, (0.5, 0.0, 0.33), group="structure"),)))
    codes = {f.code: f.severity for f in dive.assess(high).findings}
    assert codes["dive.bg"] == "fails"
    assert codes["dive.middle"] == "fails"
    vented = Craft(dataclasses.replace(_ball(), compartments=(dataclasses.replace(_ball().compartments[0], vented=True),)))
    assert any(f.code == "dive.no_inlet" for f in dive.assess(vented).findings)


# Forces


def test_floats_sized_against_a_force_hold_it():
    craft = Craft(wagtail())
    forces = forced.Forces(hand=220.0)
    before = forced.solve(craft, forces).afloat.attitude.heel
    allowed = math.radians(craft.design.brief.allowed_trim_deg)
    assert abs(before) > allowed
    answer = forced.sized(craft, forces, "sides")
    after = Craft(forced.with_float(craft, answer))
    assert abs(forced.solve(after, forces).afloat.attitude.heel) == pytest.approx(allowed, rel=WITHIN)
    assert answer.left == pytest.approx(allowed, rel=WITHIN)
    with pytest.raises(NoAnswer, match="keeps within"):
        forced.sized(craft, forced.Forces(hand=1.0), "sides")
    with pytest.raises(NoAnswer, match="Even half as wide"):
        forced.sized(craft, forced.Forces(hand=6000.0), "sides")


def test_throttle_and_wind_are_said_in_words():
    craft = Craft(reedwarden())
    found = forced.assess(craft, forced.Forces(throttle=1.0, wind=4.0))
    assert found.pushed is not None
    codes = [f.code for f in found.findings]
    assert codes[0] == "force.trim"
    assert "force.heel" in codes
    assert len(found.over_throttle) == 11
    gone = forced.assess(craft, forced.Forces(wind=60.0))
    assert gone.findings[0].code == "force.over"
    assert forced.assess(craft, forced.Forces()).findings[0].code == "force.none"
    sunk = Craft(dataclasses.replace(raft(), weights=(WeightItem("Lead", 500.0, (1.0, 0.0, 0.1)),)))
    assert forced.assess(sunk, forced.Forces(hand=3.0)).findings[0].code == "force.sinks"
    with pytest.raises(InvalidInput, match="0 and 100 %"):
        forced.checked(forced.Forces(throttle=1.4))


def test_windage_of_a_box():
    """A box 2 x 0.3 m deep floating at 0.1: 2 x 0.2 m2 stand in the wind, their middle half way up."""
    craft = Craft(dataclasses.replace(raft(), weights=(WeightItem("Shell", 120.0, (1.0, 0.0, 0.05)),)))
    area, at = forced.windage(craft.hull.mesh, craft.rest().attitude)
    assert area == pytest.approx(2.0 * 0.2, rel=1e-9)
    assert at[2] == pytest.approx(0.2, rel=1e-9)


# The sheer, the chances, the rule


def test_sheer_bottom_and_paint_of_a_box():
    craft = Craft(dataclasses.replace(raft(), weights=(WeightItem("Shell", 120.0, (1.0, 0.0, 0.05)),)))
    found = sheer.assess(craft)
    assert found.bottom is not None
    assert found.bottom.needs == pytest.approx(0.1, rel=1e-9)
    assert all((p.up, p.down, p.out) == pytest.approx((0.1, 0.2, 0.3), rel=1e-6) for p in found.paint)
    shallow = sheer.assess(craft, 0.06)
    assert shallow.pressing == pytest.approx(120.0 - 0.06 * 1.2 * 1000, rel=1e-9)
    assert any(f.code == "sheer.aground" for f in shallow.findings)
    with pytest.raises(InvalidInput, match="more than nothing"):
        sheer.assess(craft, 0.0)
    opened = dataclasses.replace(craft.design.bodies[0], openings=(Opening("hatch", (1.0, 0.0, 0.08)),))
    low = sheer.assess(Craft(dataclasses.replace(craft.design, bodies=(opened,))))
    assert low.openings[0].height == pytest.approx(-0.02, abs=1e-9)
    assert any(f.code == "sheer.opening" and f.severity == "fails" for f in low.findings)
    sunk = sheer.assess(Craft(dataclasses.replace(raft(), weights=(WeightItem("Lead", 500.0, (1.0, 0.0, 0.1)),))), 0.5)
    assert sunk.findings[0].code == "sheer.sinks"


def test_chances_of_the_demo_boats_are_said():
    for make in (wagtail, reedwarden, moorhen, dabchick):
        found = chances.assess(Craft(make()))
        assert found.findings
        if found.chances is not None:
            assert 0 <= found.chances.all <= min(found.chances.freeboard, found.chances.trim, found.chances.gm) + 1e-12


def test_the_rule_on_the_tender_and_on_boats_it_does_not_cover():
    found = rules.assess(Craft(wagtail()), "outboard", False, True)
    by_title = {c.title: c.value for c in found.clauses}
    craft = Craft(wagtail())
    assert by_title["Maximum displacement"] == pytest.approx(rules.maximum_displacement(craft))
    own = sum(i.mass_kg for i in craft.items if i.group == "structure")
    assert by_title["Weight of persons, motor and gear"] == pytest.approx((by_title["Maximum displacement"] - own) / 5)
    assert any(f.code == "rule.defer" for f in found.findings)
    for make in (reedwarden, dabchick):
        assert rules.assess(Craft(make()), "manual", False, False).findings[0].code == "rule.not_covered"


def test_answers_that_are_out_of_date_are_refused():
    craft = Craft(raft())
    for path, text in (
        ("answer.move", "9:1,2,3"),
        ("answer.load", "a|b"),
        ("answer.size", "keel|1,2"),
        ("answer.trim", "x"),
        ("answer.other", ""),
    ):
        with pytest.raises(InvalidInput):
            answers.act(craft, path, text)
    moved = answers.act(craft, "answer.move", "1:1.0,0.0,0.1")
    assert moved.weights[1].at_m == (1.0, 0.0, 0.1)
    laden = answers.act(craft, "answer.load", "Sand|ballast|lead|2.5,1.0,0.0,0.1")
    assert (laden.weights[-1].mass_kg, laden.weights[-1].material) == (2.5, "lead")


def test_submersible_openings_ride_along():
    sub = Submersible()
    assert Craft(Design("S", bodies=(Body("hull", sub, openings=(Opening("inlet", (0.4, 0.0, 0.2)),)),))).openings[0][0] == "inlet"


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
    divided = Craft(compartments.act(craft, "compartments.divide", "ama|1.0"))
    assert [s.compartment.name for s in divided.spaces] == [
        "after part, port",
        "after part, starboard",
        "fore part, port",
        "fore part, starboard",
    ]
    assert [s.capacity for s in divided.spaces] == pytest.approx([0.95 * 0.8 * 0.04] * 4, rel=1e-9)
    added = Craft(compartments.act(craft, "compartments.add", "ama"))
    assert added.spaces[0].capacity == pytest.approx(0.95 * 0.8 * 0.04, rel=1e-9)
