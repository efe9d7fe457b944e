"""Float: forces, the sheer, the chances, the rule and the answers."""

import dataclasses
import math

import pytest
from scipy.optimize import brentq

from tests.deeds import done
from tests.stages.rafts import WITHIN, raft
from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.families import Box
from yarekeel.core.hydrostatics.afloat import float_boat
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import dabchick, moorhen, reedwarden, wagtail
from yarekeel.stages.afloat import forced, sheer
from yarekeel.stages.afloat.rules import cfr_183 as rules
from yarekeel.stages.changes.ways import added_float
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Opening
from yarekeel.stages.judging import chances


def test_floats_sized_against_a_force_hold_it():
    craft = Craft(wagtail())
    forces = forced.Forces(hand=220.0)
    before = forced.solve(craft, forces).afloat.attitude.heel
    allowed = math.radians(craft.design.brief.allowed_trim_deg)
    assert abs(before) > allowed
    answer = added_float.sized(craft, forces, "sides")
    after = Craft(added_float.with_float(craft, answer))
    assert abs(forced.solve(after, forces).afloat.attitude.heel) == pytest.approx(allowed, rel=WITHIN)
    assert answer.left == pytest.approx(allowed, rel=WITHIN)
    with pytest.raises(NoAnswer, match="keeps within"):
        added_float.sized(craft, forced.Forces(hand=1.0), "sides")
    with pytest.raises(NoAnswer, match="Even half as wide"):
        added_float.sized(craft, forced.Forces(hand=6000.0), "sides")


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
    assert area == pytest.approx(2.0 * 0.2, rel=1e-6)
    assert at[2] == pytest.approx(0.2, rel=1e-6)


def test_what_stands_behind_counts_half_in_the_wind():
    """Two boxes of 1 x 0.2 m over the water, one behind the other and 0.1 m lower: 0.2 m2 seen, the other's 0.1 m2 counts half."""
    near, far = Body("near", Box(1.0, 0.2, 0.3), (0.0, 0.5, 0.0)), Body("far", Box(1.0, 0.2, 0.2), (0.0, -0.5, 0.0))
    craft = Craft(dataclasses.replace(raft(), bodies=(near, far)))
    level = Attitude(0.0, 0.0, -0.1)
    area, at = forced.windage(craft.hull.mesh, level)
    assert area == pytest.approx(0.2 + 0.5 * 0.1, rel=1e-6)
    assert at[2] == pytest.approx((0.2 * 0.2 + 0.05 * 0.15) / 0.25, rel=1e-6)
    assert at[1] == pytest.approx(0.0, abs=1e-9)


def test_people_stand_in_the_wind():
    crew = WeightItem("Ada", 75.0, (1.0, 0.0, 0.35), group="crew")
    craft = Craft(dataclasses.replace(raft(), weights=(WeightItem("Shell", 45.0, (1.0, 0.0, 0.05)), crew)))
    area, at = forced.exposed(craft, craft.rest().attitude)
    assert area == pytest.approx(0.4 + 0.5, rel=1e-6)
    assert at[2] == pytest.approx((0.4 * 0.2 + 0.5 * 0.35) / 0.9, rel=1e-6)


def test_a_raft_in_a_storm_leans_as_by_hand():
    """35 m/s on the side of a box 2 x 0.6 m floating at 0.1 of 0.3 m: the push acts in the middle of the silhouette, 0.1 m over the
    water, and is answered 0.05 m under it; W GZ by the wall-sided formula (Principles of Naval Architecture, vol. I, ch. II)."""
    craft = Craft(dataclasses.replace(raft(), weights=(WeightItem("Shell", 120.0, (1.0, 0.0, 0.05)),)))
    force = 0.5 * 1.225 * 1.2 * 2.0 * 0.2 * 35.0**2
    bm = 0.6**2 / 12 / 0.1
    gm = 0.05 + bm - 0.05

    def left(h):
        # Heights of both points over each other turn with the boat.
        return math.sin(h) * (gm + bm / 2 * math.tan(h) ** 2) - force * 0.15 * math.cos(h) / (120.0 * STANDARD_GRAVITY)

    found = forced.solve(craft, forced.Forces(wind=35.0)).afloat.attitude.heel
    assert abs(found) == pytest.approx(brentq(left, 0.0, 0.5), rel=1e-3)
    assert 3 < math.degrees(abs(found)) < 12


def test_hinged_on_its_bow_the_bottom_carries_what_statics_says():
    """A box heavy forward in water 0.11 m deep: it stands on its bow edge. The edge's push is found by the hinge: the boat less that
    weight, taken off there, floats with the edge on the bottom."""
    at = (1.25, 0.0, 0.05)
    craft = Craft(dataclasses.replace(raft(), weights=(WeightItem("Shell", 120.0, at),)))

    def gap(push):
        mass = 120.0 - push
        g = tuple((120.0 * p - push * q) / mass for p, q in zip(at, (2.0, 0.0, 0.0), strict=True))
        return float_boat(craft.hull, mass, g, 1000.0).attitude.height_of((2.0, 0.0, 0.0)) + 0.11

    shallow = sheer.assess(craft, 0.11)
    assert shallow.pressing == pytest.approx(brentq(gap, 0.0, 90.0), rel=1e-3)
    assert shallow.pressing > 10
    assert shallow.aground.trim < 0


def test_sheer_bottom_and_paint_of_a_box():
    craft = Craft(dataclasses.replace(raft(), weights=(WeightItem("Shell", 120.0, (1.0, 0.0, 0.05)),)))
    found = sheer.assess(craft)
    assert found.bottom is not None
    assert found.bottom.needs == pytest.approx(0.1, rel=1e-9)
    assert all((p.up, p.down, p.out) == pytest.approx((0.1, 0.2, 0.3), rel=1e-6) for p in found.paint)
    assert found.pressing == 0.0
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
    for verb, args in (
        ("answer.move", {"moves": [{"line": 9, "place": (1, 2, 3)}]}),
        ("answer.move", {"moves": [{"line": 1, "place": (1, 2)}]}),
        ("answer.load", {"name": "a"}),
        ("answer.size", {"what": "keel", "throttle": 1.0, "tow": 0, "tow_at": (0, 0, 0), "hand": 0, "wind": 0}),
        ("answer.trim", {"lead_x": "x", "foam_x": 0}),
        ("answer.trim", {"lead_x": math.nan, "foam_x": 0}),
        ("answer.other", {}),
    ):
        with pytest.raises(InvalidInput):
            done(craft, verb, **args)
    moved = done(craft, "answer.move", moves=[{"line": 1, "place": (1.0, 0.0, 0.1)}])
    assert moved.weights[1].at_m == (1.0, 0.0, 0.1)
    laden = done(craft, "answer.load", name="Sand", group="ballast", material="lead", mass=2.5, place=(1.0, 0.0, 0.1))
    assert (laden.weights[-1].mass_kg, laden.weights[-1].material) == (2.5, "lead")


def test_the_reserve_of_an_open_boat_ends_at_the_lowest_of_its_rim():
    """Two boxes end to end, 0.2 m and 0.3 m high, 60 kg: the draft is 60 / (1000 x 1.2) = 0.05 m, so that 0.15 m x 1.2 m2 or 180 kg
    bring the low rim to the water, although 210 kg of closed volume are above it."""
    low, high = Body("hull", Box(1.5, 0.6, 0.2), deck="open"), Body("bow", Box(0.5, 0.6, 0.3), at_m=(1.5, 0.0, 0.0), deck="open")
    craft = Craft(dataclasses.replace(raft(), bodies=(low, high), weights=(WeightItem("All", 60.0, (1.0, 0.0, 0.05)),)))
    assert craft.settled.to_rim == pytest.approx(180.0, rel=1e-6)
    assert craft.settled.reserve == pytest.approx(3.0, rel=1e-6)
    decked = Craft(dataclasses.replace(craft.design, bodies=tuple(dataclasses.replace(b, deck="decked") for b in craft.design.bodies)))
    assert decked.settled.to_rim == pytest.approx(180.0, rel=1e-6)
    assert decked.settled.reserve == pytest.approx(3.5, rel=1e-6)
