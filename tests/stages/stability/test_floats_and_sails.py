"""Side floats and sails on boats whose sums can be done by hand."""

import dataclasses
import math

import pytest

from tests.stages.stability.test_stability import OFF, codes, heavy_raft
from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import Unsolved
from yarekeel.core.geometry.families import Box
from yarekeel.core.propulsion.sail import Sail
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import turnstone
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body
from yarekeel.stages.design.outers import outers_of
from yarekeel.stages.design.resizing import scaled
from yarekeel.stages.stability import floats, plain_tests, sailing, stability


def test_a_sail_page_stays_when_the_bow_cannot_be_pitched(monkeypatch):
    def lost(*_args, **_more):
        raise Unsolved("No balance.")

    monkeypatch.setattr(sailing, "nose_dive", lost)
    craft = Craft(heavy_raft(tipping=dataclasses.replace(OFF, wind_ms=5.5), sails=(Sail("sail", 8.0, (1.1, 0.0, 1.5), 1.2),)))
    found = sailing.assess(craft, stability.assess(craft))
    assert found.nose is None
    assert codes(found.findings)["sail.nose_unsolved"] == "near"
    assert found.capsize is not None


def trimaran(up: float = 0.20):
    """A box with a box float on each side: bottom of the floats ``up`` over the baseline, inner edges 0.5 m out, 0.1 m wide."""
    design = heavy_raft()
    body = Body("float", Box(2.0, 0.1, 0.1), (0.0, 0.55, up), mirrored=True, role="float")
    return dataclasses.replace(design, bodies=(*design.bodies, body))


def test_floats_touch_where_geometry_puts_them_and_stiffen_by_parallel_axes():
    """A wall-sided hull keeps its draft amidships while it heels: the float's outer lower edge, 0.60 out and 0.05 over the water, is in
    when tan(heel) = 0.05 / 0.60; past that its waterplane adds 2 l b y² / V of one side to BM."""
    craft = Craft(trimaran())
    r = stability.assess(craft)
    f = floats.assess(craft, r)
    assert f is not None
    port = next(s for s in f.sides if s.outer.side > 0)
    assert port.clearance == pytest.approx(0.05, abs=1e-9)
    assert port.contact == pytest.approx(math.atan(0.05 / 0.60), abs=1e-4)
    assert f.wobble == pytest.approx(2 * math.atan(0.05 / 0.60), abs=2e-4)
    assert f.stiff == pytest.approx(0.175, abs=1e-6)
    assert f.stiff_after is not None
    assert f.stiff_after > f.stiff + 0.1
    assert codes(f.findings)["floats.clear"] == "near"
    over = floats.lowered(craft)
    assert [p.clearance for p in over] == sorted((p.clearance for p in over), reverse=True)
    touching = floats.at_lower(craft, 0.05 + 1e-4)
    assert touching is not None
    assert touching.contact == 0.0
    # In the water on both sides: BM = (2.0 0.6³/12 + 2 (2.0 0.1³/12 + 0.2 0.55²)) / V by parallel axes.
    deep = Craft(floats.with_floats_lower(craft.design, 0.10))
    rest = deep.rest()
    bm = (2.0 * 0.6**3 / 12 + 2 * (2.0 * 0.1**3 / 12 + 0.2 * 0.55**2)) / rest.volume
    assert rest.bm_transverse == pytest.approx(bm, rel=1e-6)


def test_a_catamaran_flies_a_hull_and_the_beams_carry_half_the_boat_out_there():
    """Two boxes 0.2 wide, 1.0 apart: with one hull out the other lifts the whole boat, and that bends the beams with W times its arm."""
    bodies = (Body("hull", Box(2.0, 0.2, 0.4), (0.0, 0.5, 0.0), deck="decked", mirrored=True),)
    design = dataclasses.replace(heavy_raft(), bodies=bodies, weights=(WeightItem("all", 120.0, (1.0, 0.0, 0.25), "weighed"),))
    craft = Craft(design)
    r = stability.assess(craft)
    f = floats.assess(craft, r)
    assert f is not None
    flies = {s.outer.name: s.flies for s in f.sides}
    assert set(flies) == {"port hull", "starboard hull"}
    assert flies["port hull"] == pytest.approx(flies["starboard hull"], abs=1e-6)
    # Just flying: the lee hull has 0.06 m³ under, a wedge about a mean draft of 0.15 m; tan(heel) = draft / (its distance out - ...)
    assert 0.1 < flies["port hull"] < 0.4
    assert f.beam is not None
    assert f.beam.lift == pytest.approx(120 * STANDARD_GRAVITY, rel=1e-3)
    assert 0.9 * 120 * STANDARD_GRAVITY * 0.5 < f.beam.bending < 1.1 * 120 * STANDARD_GRAVITY * 0.55
    assert floats.lowered(craft) == ()
    assert outers_of(Craft(heavy_raft())) == ()


# Sails


def test_the_capsize_wind_is_where_lever_and_greatest_arm_meet():
    design = heavy_raft(tipping=dataclasses.replace(OFF, wind_ms=5.0, gust=1.5), sails=(Sail("sail", 8.0, (1.1, 0.0, 1.5), 1.2),))
    craft = Craft(design)
    r = stability.assess(craft)
    s = sailing.assess(craft, r)
    assert s is not None
    assert s.capsize is not None
    assert s.gusted is not None
    assert s.gusted * 1.0 < s.capsize
    lever = plain_tests.lever_of_wind(craft, r.afloat, s.capsize)
    assert r.starboard is not None
    # At that wind the lever just clears the curve somewhere: least distance between them is next to nothing.
    gap = max(r.starboard.righting_arm(p) - lever.at(p.heel) for p in r.starboard.points[1:] if p.heel <= sailing.KNOCKED_DOWN)
    assert gap == pytest.approx(0.0, abs=3e-3)
    assert [a for _, a in s.leans if a is not None] == sorted(a for _, a in s.leans if a is not None)
    # Box: the lateral area under water is 2.0 x 0.15 about amidships; lead by hand.
    assert s.lateral_area == pytest.approx(0.30, rel=1e-6)
    assert s.lead == pytest.approx((1.1 - 1.0) / 2.0, abs=1e-6)
    # Drive before the wind trims it by F h / (W GM_L), small angles.
    gm_l = r.afloat.gm_longitudinal
    trim = s.nose.drive * (1.5 - 0.15 + 0.075) / (180 * STANDARD_GRAVITY * gm_l)
    assert s.nose.trim == pytest.approx(-math.atan(trim), rel=0.02)
    assert {"sail.capsize", "sail.nose_dive", "sail.lead"} <= set(codes(s.findings))
    assert sailing.assess(Craft(heavy_raft()), r) is None


def test_weight_aft_delays_the_nose_dive_on_the_demo_canoe():
    craft = Craft(turnstone())
    s = sailing.assess(craft, stability.assess(craft))
    assert s is not None
    assert s.moved == "Paddler on the seat"
    assert [n.wind for _, n in s.aft] == sorted(n.wind for _, n in s.aft)
    assert s.nose.wind < s.aft[0][1].wind


# Criteria


def test_sails_grow_with_the_boat():
    twice = scaled(turnstone(), 2.0)
    assert twice.sails[0].area_m2 == pytest.approx(4 * 3.4)
    assert twice.sails[0].at_m[2] == pytest.approx(2 * 1.55)


def test_more_sail_than_the_bow_holds_is_a_verdict_that_fails():
    light = heavy_raft(tipping=dataclasses.replace(OFF, wind_ms=14.0), sails=(Sail("far too much", 30.0, (1.1, 0.0, 3.0), 1.2),))
    s = sailing.assess(Craft(light), stability.assess(Craft(light)))
    assert s is not None
    assert s.nose.trim is None
    assert codes(s.findings)["sail.nose_dive"] == "fails"
    assert codes(s.findings)["sail.capsize"] == "fails"
