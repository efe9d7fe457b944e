"""Stability's verdicts, plain tests, floats, sails, criteria and rolling on boats whose sums can be done by hand."""

import dataclasses
import math

import pytest

from tests.stages.rafts import raft, said
from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import Box
from yarekeel.core.hydrostatics.afloat import float_boat
from yarekeel.core.propulsion.sail import Sail
from yarekeel.core.rules.is_2008 import Measured, clauses
from yarekeel.core.stability.inclining import Incline, Shift
from yarekeel.core.stability.tipping import Tipping
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.person import Person
from yarekeel.demo.boats import dabchick, moorhen, reedwarden, turnstone, wagtail
from yarekeel.stages.afloat import flooding
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Opening
from yarekeel.stages.design.limits import asked_of
from yarekeel.stages.judging import criteria
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.stability import plain_tests, rolling, stability

OFF = Tipping(*(0.0,) * 7, 1.0, 0.0, None, 0.0, 0.0, 0.0)
"""Every plain test left out but the rail's and moving to one side."""


def codes(findings):
    return {f.code: f.severity for f in findings}


def heavy_raft(**changes):
    """A decked box 2 x 0.6 x 0.3 m, 180 kg at 0.10 m up: draft 0.15, GM = 0.075 + 0.2 - 0.10 = 0.175 m by hand."""
    design = raft(180.0)
    weights = (WeightItem("all up", 180.0, (1.0, 0.0, 0.10), "weighed"),)
    bodies = (dataclasses.replace(design.bodies[0], deck="decked"),)
    return dataclasses.replace(design, weights=weights, bodies=bodies, **changes)


def test_gm_peak_range_and_deck_edge_by_hand():
    r = stability.assess(Craft(heavy_raft()))
    assert r.symmetric
    assert r.afloat is not None
    assert r.afloat.gm_transverse == pytest.approx(0.175, abs=1e-9)
    deck = next(e for e in r.events if e.code == "deck")
    assert deck.heel == pytest.approx(math.atan(0.15 / 0.3), abs=1e-4)
    assert r.rests[0][0] < 0 < r.rests[-1][0]
    assert (0.0, True) in [(round(h, 6), s) for h, s in r.rests]
    assert r.water_in(1) is None  # decked, without openings
    assert "stability.stays_over" in codes(r.findings)


def test_lowering_that_is_named_makes_it_right_itself():
    """What the verdict says a self-righting boat would need is put in, and it rights itself; a little less does not do."""
    design = heavy_raft()
    box = Body("hull", Box(2.0, 0.5, 0.4), deck="decked")
    tall = dataclasses.replace(design, bodies=(box,), weights=(WeightItem("all", 200.0, (1.0, 0.0, 0.22), "weighed"),))
    r = stability.assess(Craft(tall))
    assert r.lowering is not None
    assert 0 < r.lowering < 0.4
    for part, rights in ((1.02, True), (0.9, False)):
        lower = dataclasses.replace(tall, weights=(dataclasses.replace(tall.weights[0], at_m=(1.0, 0.0, 0.22 - part * r.lowering)),))
        again = stability.assess(Craft(lower))
        assert again.starboard is not None
        assert again.port is not None
        assert stability.comes_back(again.starboard, again.port) == rights


def test_an_opening_ends_the_safe_range_and_is_named_the_weak_point():
    design = heavy_raft(brief=Brief("model", 200.0, 0.05, 2.0, 0.05, least_range_deg=40.0))
    hatch = Opening("hatch", (1.0, -0.2, 0.3))
    design = dataclasses.replace(design, bodies=(dataclasses.replace(design.bodies[0], openings=(hatch,)),))
    r = stability.assess(Craft(design))
    # On the starboard half: it goes under when its height 0.15 cos - 0.2 sin is gone, at atan(0.15/0.2), as long as the deck is dry.
    wet = r.water_in(1)
    assert wet is not None
    assert wet.name == "hatch"
    assert math.degrees(wet.heel) < 40
    assert codes(r.findings)["stability.range_asked"] == "fails"
    assert any("hatch" in s for _, _, s in said(r.findings))


def test_an_uneven_boat_has_two_curves_and_speaks_of_the_worse():
    design = heavy_raft()
    uneven = dataclasses.replace(design, weights=(*design.weights, WeightItem("pump", 8.0, (1.0, 0.2, 0.1), "weighed")))
    r = stability.assess(Craft(uneven))
    assert not r.symmetric
    assert r.worse is r.port  # it leans to port already
    assert r.starboard is not None
    assert r.port is not None
    assert r.port.area < r.starboard.area
    assert "stability.sides" in codes(r.findings)
    assert any(stays and -0.2 < h < 0 for h, stays in r.rests)


def test_sunk_dived_and_swinging():
    sunk = stability.assess(Craft(dataclasses.replace(heavy_raft(), weights=(WeightItem("all", 500.0, (1.0, 0.0, 0.1)),))))
    got = codes(sunk.findings)
    assert got["stability.sinks"] == "fails"
    assert got["stability.dived"] == "holds"  # B at 0.15, G at 0.10: BG holds it
    assert sunk.worse is None
    hung = heavy_raft(tipping=OFF)
    weights = (dataclasses.replace(hung.weights[0], mass_kg=170.0), WeightItem("bucket", 10.0, (1.0, 0.0, 0.10), hung_m=0.9))
    r = stability.assess(Craft(dataclasses.replace(hung, weights=weights)))
    swinging = next(f for f in r.findings if f.code == "stability.swinging")
    assert swinging.values["lost"] == pytest.approx(10 * 0.9 / 180)
    assert r.afloat is not None
    assert r.afloat.gm_transverse == pytest.approx(0.175 - 0.05, abs=1e-9)


def test_water_in_the_bilge_takes_what_the_textbook_says_and_too_much_is_refused():
    """Loose water over the whole bottom: GM falls by i rho / (rho V) of its own surface (Principles of Naval Architecture, free surface),
    less what its low weight gives back; here against the same boat floated with a frozen weight."""
    craft = Craft(heavy_raft())
    into = flooding.places(craft)[0]
    litres = 0.02
    loose = stability.assess(craft, litres=litres, into=into)
    assert loose.afloat is not None
    lost = next(f for f in loose.findings if f.code == "stability.free_surface")
    assert lost.values["lost"] == pytest.approx(0.95 * 2.0 * 0.6**3 / 12 / 0.2, rel=1e-3)
    depth = litres / 0.95 / (2.0 * 0.6)
    frozen = float_boat(craft.hull, 200.0, (1.0, 0.0, (180 * 0.10 + 20 * depth / 2) / 200), 1000.0)
    assert loose.afloat.gm_transverse == pytest.approx(frozen.gm_transverse - float(lost.values["lost"]), abs=1e-6)
    with pytest.raises(InvalidInput, match="at most"):
        stability.assess(craft, litres=5.0, into=into)


# Plain tests


def put_to(design, code):
    craft = Craft(design)
    return next(t for t in plain_tests.assess(craft, stability.assess(craft)) if t.code == code)


def test_a_weight_on_the_rail_and_a_catch_lean_it_as_by_hand():
    """Small weights: tan(heel) = w y / (W GM) with the new W, G and GM (inclining formula; wall sides)."""
    design = heavy_raft(brief=Brief("model", 250.0, 0.05, 2.0, 0.05, rail_mass_kg=6.0, rail_heel_deg=10.0), tipping=OFF)
    rail = put_to(design, "test.rail")
    mass, kg, draft = 186.0, (180 * 0.10 + 6 * 0.30) / 186, 186 / 1200
    gm = draft / 2 + 0.6**2 / (12 * draft) - kg
    lever = 6 * 0.30 / mass
    # sin(heel) (GM + BM tan² / 2) = lever cos(heel), solved by two rounds from tan(heel) = lever / GM
    heel = math.atan(lever / gm)
    for _ in range(30):
        heel = math.atan(lever / (gm + 0.6**2 / (12 * draft) / 2 * math.tan(heel) ** 2))
    assert rail.lean == pytest.approx(heel, rel=1e-6)
    assert rail.finding.severity == "holds"
    assert rail.limit == pytest.approx(math.radians(10))
    catch = put_to(dataclasses.replace(design, tipping=dataclasses.replace(OFF, catch_kg=6.0)), "test.catch")
    assert catch.lean == pytest.approx(heel, rel=1e-6)  # hung from the rail itself
    far = put_to(dataclasses.replace(design, tipping=dataclasses.replace(OFF, catch_kg=6.0, catch_out_m=0.3, catch_up_m=0.5)), "test.catch")
    assert far.lean is not None
    assert far.lean > 1.9 * heel


def test_wind_turn_and_tow_by_their_moments():
    design = heavy_raft(
        tipping=dataclasses.replace(OFF, wind_ms=10.0, turn_ms=3.0, turn_m=6.0, tow_n=30.0, tow_up_m=0.30),
        sails=(Sail("sail", 1.0, (1.0, 0.0, 1.15), 1.2),),
    )
    weight, draft, gm, bm = 180 * STANDARD_GRAVITY, 0.15, 0.175, 0.2

    def arm(h):  # wall-sided
        return math.sin(h) * (gm + bm / 2 * math.tan(h) ** 2)

    side = 0.5 * 1.225 * 1.2 * 100
    # Wind takes hold of the side, its middle half way up, and of spars for a twentieth of the sail at its centre.
    hull = side * (2.0 * 0.15 * (0.15 / 2 + draft / 2) + 0.05 * (1.15 - draft + draft / 2)) / weight
    sail = side * 1.0 * (1.15 - draft + draft / 2) / weight
    wind = put_to(design, "test.wind")
    assert wind.lean is not None
    assert arm(wind.lean) == pytest.approx(hull + sail * math.cos(wind.lean) ** 2, rel=2e-4)
    turn = put_to(design, "test.turn")
    assert turn.lean is not None
    assert arm(turn.lean) == pytest.approx(9.0 / (STANDARD_GRAVITY * 6.0) * (0.10 - draft / 2) * math.cos(turn.lean), rel=2e-3)
    tow = put_to(design, "test.tow")
    assert tow.lean is not None
    assert arm(tow.lean) == pytest.approx(30.0 * (0.30 - draft / 2) / weight * math.cos(tow.lean), rel=2e-3)


def test_people_lean_stand_and_move_and_what_is_too_much_goes_over():
    brief = Brief("people", 300.0, 0.05, 2.0, 0.05, most_lean_deg=12.0)
    crew = (WeightItem("Ada", 70.0, (1.2, 0.0, 0.35), "data", group="crew"), WeightItem("Bo", 60.0, (0.7, 0.0, 0.35), "data", group="crew"))
    design = dataclasses.replace(heavy_raft(brief=brief), weights=(WeightItem("hull", 60.0, (1.0, 0.0, 0.1), group="structure"), *crew))
    craft = Craft(design)
    found = {t.code: t for t in plain_tests.assess(craft, stability.assess(craft))}
    assert {"test.lean", "test.stand", "test.move"} <= set(found)
    assert "test.rail" not in found  # the brief asks for none
    assert found["test.move"].lean is None  # both at the rail
    assert "goes over" in said([found["test.move"].finding])[0][2]
    assert found["test.lean"].finding.severity in ("holds", "near", "fails")
    assert plain_tests.worst(list(found.values())).lean is None
    assert codes(plain_tests.notes(craft)) == {"test.wind_how": "note", "test.official": "note"}


def test_0_on_the_rail_leaves_the_test_out_and_nothing_is_judged():
    for asked in (None, 0.0):
        design = heavy_raft(brief=Brief("people", 250.0, 0.05, 2.0, 0.05, rail_mass_kg=asked, rail_heel_deg=10.0))
        craft = Craft(design)
        assert "test.rail" not in {t.code for t in plain_tests.assess(craft, stability.assess(craft))}
        assert not {"rail", "test.rail"} & {row.code for row in asked_of(design.brief)}
    judged = heavy_raft(brief=Brief("people", 250.0, 0.05, 2.0, 0.05, rail_mass_kg=6.0, rail_heel_deg=10.0))
    assert {"rail", "test.rail"} <= {row.code for row in asked_of(judged.brief)}


def test_standing_up_raises_a_person_by_the_persons_own_estimate():
    """Winter's segments, by hand: standing 0.678 x 0.7103 + 0.2 x 0.4239 + 0.093 x 0.1785 + 0.029 x 0.0195 = 0.5835 of stature over the
    feet; seated the hip is 0.05 over the seat, and the feet 0.235 below it, on the bottom at the lowest (of stature)."""
    seated = Person(75.0, 1.70, "seated")
    up = 0.678 * (0.53 + 0.626 * 0.288) + 0.2 * (0.53 - 0.433 * 0.245) + 0.093 * (0.285 - 0.433 * 0.246) + 0.029 * 0.039 / 2
    hip = 0.05
    low = 0.678 * (hip + 0.626 * 0.288) + 0.2 * hip + 0.093 * (hip - 0.433 * 0.246) + 0.029 * (hip - 0.246 - 0.039 / 2)
    feet = max(0.0, 0.30 - (0.285 - 0.05) * 1.70)
    crew = WeightItem("Ada", 75.0, (1.0, 0.0, 0.30), "data", group="crew", recipe=seated)
    design = dataclasses.replace(
        heavy_raft(brief=Brief("people", 300.0, 0.05, 2.0, 0.05)),
        weights=(WeightItem("hull", 160.0, (1.0, 0.0, 0.05), group="structure"), crew),
    )
    craft = Craft(design)
    found = {t.code: t for t in plain_tests.assess(craft, stability.assess(craft))}
    assert found["test.stand"].finding.values["by"] == pytest.approx(feet + up * 1.70 - (0.30 + low * 1.70), rel=1e-9)
    up_already = dataclasses.replace(crew, recipe=Person(75.0, 1.70, "standing"), at_m=(1.0, 0.0, 0.0))
    stood = Craft(dataclasses.replace(design, weights=(design.weights[0], up_already)))
    assert "test.stand" not in {t.code for t in plain_tests.assess(stood, stability.assess(stood))}


def test_the_range_of_a_boat_that_lets_water_in_ends_there():
    """A hatch on one side of the deck: leaned that way the range is where it meets the water, not where the arm ends."""
    body = dataclasses.replace(heavy_raft().bodies[0], deck="decked", openings=(Opening("hatch", (1.0, 0.28, 0.30)),))
    craft = Craft(dataclasses.replace(heavy_raft(), bodies=(body,)))
    r = stability.assess(craft)
    assert not r.symmetric
    assert r.worse.side == -1  # to port, where the hatch is
    wet = r.water_in(-1)
    assert r.water_in(1) is None or abs(r.water_in(1).heel) > math.radians(90)
    assert abs(wet.heel) < abs(stability.end_of(r.worse)) - math.radians(5)
    finding = next(f for f in r.findings if f.code.startswith("stability.range"))
    assert finding.code == "stability.range_wet"
    assert finding.values["safe"] == pytest.approx(abs(wet.heel))
    assert "Comes back from {safe" in finding.title
    assert r.safe_range == pytest.approx(abs(wet.heel))


def test_a_wake_past_the_range_stays_over_and_every_demo_boat_has_words():
    design = heavy_raft(tipping=dataclasses.replace(OFF, wake_deg=60.0))
    assert put_to(design, "test.wake").finding.severity == "holds"
    high = dataclasses.replace(design, weights=(dataclasses.replace(design.weights[0], at_m=(1.0, 0.0, 0.25)),))
    assert put_to(high, "test.wake").finding.severity == "fails"
    for make in (wagtail, reedwarden, moorhen, dabchick, turnstone):
        craft = Craft(make())
        for t in plain_tests.assess(craft, stability.assess(craft)):
            title, sentence = said([t.finding])[0][1:]
            assert title
            assert sentence.endswith(".")


# Floats


def test_is_code_areas_of_a_wall_sided_box_by_hand():
    """Area under sin(h) (GM + BM tan² h / 2) to 25° in closed form: GM (1 - cos h) + BM (sec h + cos h - 2) / 2, here to where the
    deck goes under, 26.57°."""
    craft = Craft(heavy_raft())
    r = stability.assess(craft)
    h = math.radians(25)
    by_hand = 0.175 * (1 - math.cos(h)) + 0.2 / 2 * (1 / math.cos(h) + math.cos(h) - 2)
    assert criteria.area_to(r.boat, r.starboard, h) == pytest.approx(by_hand, rel=1e-6)
    c = criteria.assess(Figures.found(craft, r, plain_tests.assess(craft, r)))
    assert c is not None
    assert [x.clause for x in c.clauses] == ["2.2.1", "2.2.1", "2.2.1", "2.2.2", "2.2.3", "2.2.4"]
    assert c.clauses[-1].has == pytest.approx(0.175, abs=1e-9)
    assert c.clauses[-1].holds
    assert "criterion.large_ships" in codes(c.findings)


def test_the_codes_numbers_are_those_published():
    """IMO Resolution MSC.267(85), part A, 2.2.1 to 2.2.4: 0.055, 0.090 and 0.030 m rad, 0.20 m at 30°, 25°, 0.15 m (from memory)."""
    asked = [c.asked for c in clauses(Measured(0, 0, 0, 0, 0))]
    assert asked == pytest.approx([0.055, 0.090, 0.030, 0.20, math.radians(25), 0.15])
    assert all(c.holds for c in clauses(Measured(0.055, 0.09, 0.2, math.radians(25), 0.15)))


# Rolling, inclining


def test_a_test_done_on_a_boat_that_differs_corrects_its_list():
    """The real boat has its load 30 mm higher; inclined by readings floated from it, the list is corrected and then floats as it does."""
    design = heavy_raft()
    lines = (WeightItem("hull", 100.0, (1.0, 0.0, 0.08), "weighed"), WeightItem("load", 80.0, (1.0, 0.0, 0.125), "guessed"))
    true = 0.10 + 80 * 0.03 / 180
    hull = Craft(design).hull
    shifts = tuple(
        Shift(d, math.degrees(float_boat(hull, 180.0, (1.0, -4 * d / 180, true), 1000.0).attitude.heel)) for d in (0.0, 0.2, -0.2)
    )
    design = dataclasses.replace(design, weights=lines, incline=Incline(4.0, shifts))
    craft = Craft(design)
    r = rolling.assess(craft, stability.assess(craft))
    assert r is not None
    assert r.vcg is not None
    assert r.vcg.value == pytest.approx(true, rel=0.005)
    assert r.gm_slope.value == pytest.approx(0.275 - true, rel=0.01)
    by, count = rolling.shift_of_unsure(craft, r.vcg.value)
    assert (by, count) == (pytest.approx(0.03, rel=0.02), 1)
    corrected = Craft(rolling.corrected(craft, r.vcg.value))
    assert corrected.total.centre[2] == pytest.approx(r.vcg.value, abs=1e-9)
    assert corrected.design.weights[0] == lines[0]
    assert codes(r.findings)["incline.vcg"] == "near"


def test_timed_rolls_agree_with_the_period_predicted_or_say_which_way():
    design = dataclasses.replace(
        heavy_raft(),
        weights=(
            WeightItem("port", 60.0, (1.0, 0.25, 0.1), material="lead"),
            WeightItem("starboard", 60.0, (1.0, -0.25, 0.1), material="lead"),
            WeightItem("low", 60.0, (1.0, 0.0, 0.1), material="lead"),
        ),
    )
    plain = rolling.assess(Craft(design), stability.assess(Craft(design)))
    assert plain is not None
    # Three cubes of lead, two of them 0.25 m off, by parallel axes; a cube's own is a side squared over 6.
    assert plain.gyration.value == pytest.approx(math.sqrt(120 * 0.25**2 / 180 + (60 / 11340) ** (2 / 3) / 6), rel=1e-9)
    assert plain.period.value == pytest.approx(2 * math.pi * plain.gyration.value * math.sqrt(1.15) / math.sqrt(9.80665 * 0.175), rel=2e-3)
    for factor, word in ((1.0, "holds"), (1.3, "near")):
        timed = dataclasses.replace(design, incline=Incline(rolls=10, time_s=10 * plain.period.value * factor))
        r = rolling.assess(Craft(timed), stability.assess(Craft(timed)))
        assert r is not None
        assert codes(r.findings)["roll.timed"] == word
        assert (r.vcg.value > r.listed_vcg.value + r.vcg.half_width) == (word == "near")


def test_b_stands_as_far_from_the_common_g_as_the_arm_says_with_water_loose():
    """At any heel the arm is the distance of the two verticals, the water inside at its own level (statics)."""
    craft = Craft(heavy_raft())
    r = stability.assess(craft, litres=0.02, into=flooding.places(craft)[0])
    assert r.boat is not None
    for heel in (0.1, 0.5, 1.2):
        held = r.boat.held(heel, tolerance=1e-9)
        g, b = r.boat.centres(held)
        across = held.attitude.rows[1]
        assert sum(across[k] * (g[k] - b[k]) for k in range(3)) == pytest.approx(held.righting_arm * r.boat.share, abs=1e-8)


def test_every_weight_turns_with_its_size_and_says_what_it_was_taken_for():
    """A cube of 12 kg of lead 0.2 m off and a seated person of 75 kg on the middle, by parallel axes; shares make up the whole."""
    lines = (
        WeightItem("Lead", 12.0, (1.0, 0.2, 0.1), material="lead"),
        WeightItem("Ada", 75.0, (1.0, 0.0, 0.1), group="crew"),
        WeightItem("Hull", 40.0, (1.0, 0.0, 0.1), "data", group="structure"),
    )
    craft = Craft(dataclasses.replace(heavy_raft(), weights=lines))
    found = {name: (taken, share) for name, taken, share in rolling.turning_of(craft)}
    assert {name: taken for name, (taken, _) in found.items()} == {
        "Lead": "a cube of its mass",
        "Ada": "a seated person",
        "Hull": "a skin of its hull",
    }
    assert sum(share for _, share in found.values()) == pytest.approx(1.0)
    y = 12 * 0.2 / 127
    lead = 12 * (0.2 - y) ** 2 + 12 * (12 / 11340) ** (2 / 3) / 6
    assert found["Lead"][1] == pytest.approx(lead / (127 * craft.aboard.gyration(0).radius ** 2), rel=1e-9)
    # A skin over a box 2 x 0.6 x 0.3 m with its deck turns about its length as two walls, two plates and two ends do (by hand).
    walls, plates, ends = 2 * 2.0 * 0.3, 2 * 2.0 * 0.6, 2 * 0.6 * 0.3
    turning = walls * (0.3**2 + 0.3**2 / 12) + plates * (0.15**2 + 0.6**2 / 12) + ends * (0.6**2 + 0.3**2) / 12
    shell = 40 * turning / (walls + plates + ends) + 40 * y**2
    assert found["Hull"][1] == pytest.approx(shell / (127 * craft.aboard.gyration(0).radius ** 2), rel=1e-6)


def test_one_weight_alone_has_a_period_and_a_timed_roll_an_answer():
    lone = dataclasses.replace(heavy_raft(), weights=(WeightItem("all", 180.0, (1.0, 0.0, 0.1)),), incline=Incline(time_s=20.0))
    r = rolling.assess(Craft(lone), stability.assess(Craft(lone)))
    assert r.period.value > 0.1
    assert r.period.half_width > 0.0
    assert r.vcg_timed is not None
