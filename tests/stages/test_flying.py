"""Foils, wings and pads on boats: read off their bodies, in balance, their loads by moments by hand, and what is said of them."""

import dataclasses
import math

import numpy as np
import pytest

from tools.running_shares import boat_of
from yarekeel.core.constants import AIR_DENSITY, STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.families import FAMILIES
from yarekeel.core.geometry.families.foil_wing import FoilWing
from yarekeel.core.running.balance import Balanced, is_steady, moment_of, slopes_at
from yarekeel.core.running.forces import Force, State
from yarekeel.core.running.laws.friction import under
from yarekeel.core.sources import STATICS
from yarekeel.demo.fast_boats import levelled, sandpiper, steadied, whimbrel
from yarekeel.demo.story import load_demo
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design, with_value
from yarekeel.stages.running.boat import underway_of
from yarekeel.stages.running.bottom import pads_of
from yarekeel.stages.running.foils import foil_of, foils_of
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.underway import fitting, flip, foils, pads, steering


def with_g(design: Design, forward: float) -> Design:
    """All weights moved along."""
    weights = tuple(dataclasses.replace(w, at_m=(w.at_m[0] + forward, w.at_m[1], w.at_m[2])) for w in design.weights)
    return dataclasses.replace(design, weights=weights)


def test_a_foil_is_read_off_its_body():
    shape = FoilWing(0.30, 0.05, 0.6, 0.10, 0.0, 12.0, 3.0, camber=0.02, flap=0.25)
    foil = foil_of(Body("f", shape, (0.5, 0.0, -0.1), turn_deg=(0.0, 1.0, 0.0), scale=(1.0, 2.0, 1.0), role="appendage"))
    assert foil.span == pytest.approx(0.6)
    assert foil.chord == pytest.approx(0.05 * 0.8)
    assert foil.area == pytest.approx(0.6 * 0.04)
    assert math.degrees(foil.angle) == pytest.approx(2.0)  # 3° nose up on a body turned 1° bow down
    assert math.degrees(foil.dihedral) == pytest.approx(12.0)
    assert foil.at == pytest.approx((0.5, 0.0, -0.1))
    swept = foil_of(Body("f", dataclasses.replace(shape, sweep_deg=30.0), (0.5, 0.0, -0.1)))
    assert swept.at[0] == pytest.approx(0.5 - 0.075 * math.tan(math.radians(30)))
    pair = dataclasses.replace(whimbrel(), bodies=(*whimbrel().bodies, Body("w", shape, (0.4, 0.2, -0.1), mirrored=True, role="appendage")))
    assert [round(f.at[1], 3) for f in foils_of(Craft(pair))][-2:] == [0.2, -0.2]
    upright = dataclasses.replace(pair, bodies=(*pair.bodies[:-1], dataclasses.replace(pair.bodies[-1], turn_deg=(90.0, 0.0, 0.0))))
    assert len(foils_of(Craft(upright))) == 2  # one that stands is no wing


@pytest.mark.parametrize("boat", [sandpiper, whimbrel, lambda: steadied(sandpiper()), lambda: levelled(whimbrel())])
def test_the_fast_boats_balance_at_every_speed(boat):
    found = resistance_of(Craft(boat()))
    assert sum(b is None for b in found.balances) <= 2
    for b in found.balances:
        if b is None:
            continue
        assert b.residual < 1e-6
        weight = found.boat.mass * STANDARD_GRAVITY
        for axis in (0, 2):
            assert math.fsum(f.newtons[axis] for f in b.forces) == pytest.approx(0.0, abs=1e-6 * weight)
        assert math.fsum(moment_of(found.boat, b.attitude, f) for f in b.forces) == pytest.approx(0.0, abs=1e-6 * weight)


def test_in_flight_the_foils_carry_it_and_share_by_moments():
    """Weight and the foils' lifts about the rear foil by hand; thrust and drag come in by their own arms."""
    craft = Craft(levelled(whimbrel()))
    found = resistance_of(craft)
    b = found.balances[-20]
    weight = found.boat.mass * STANDARD_GRAVITY
    lifts = [f for f in b.forces if f.part == "foil" and f.newtons[2] > 0.02 * weight]
    assert {f.name for f in lifts} == {"front foil", "rear foil"}
    front = next(f for f in lifts if f.name == "front foil")
    rear = next(f for f in lifts if f.name == "rear foil")

    def arm(point):
        return sum(r * (p - q) for r, p, q in zip(b.attitude.rows[0], point, rear.at, strict=True))

    def height(point):
        return b.attitude.height_of(point) - b.attitude.height_of(rear.at)

    others = [f for f in b.forces if f is not front and f is not rear and f.part != "weight"]
    turning = weight * arm(craft.gravity) - math.fsum(f.newtons[2] * arm(f.at) - f.newtons[0] * height(f.at) for f in others)
    turning += front.newtons[0] * height(front.at)
    assert front.newtons[2] == pytest.approx(turning / arm(front.at), rel=1e-4)


def test_what_foils_do_to_a_boat():
    before, after = foils.assess(Craft(whimbrel())), foils.assess(Craft(levelled(whimbrel())))
    words = {f.code: f.severity for f in before.findings}, {f.code: f.severity for f in after.findings}
    assert words[0]["underway.lift_together"] == "fails"
    assert words[1]["underway.lift_together"] == "holds"
    assert words[1]["underway.lift_off"] == "holds"
    assert max(f.trim for f in before.flown) > 2 * max(f.trim for f in after.flown)  # its bow goes up, then not
    front, rear = after.wings
    assert front.share + rear.share == pytest.approx(1.0)
    # by moments about the rear foil
    x_g, x_f, x_r = Craft(whimbrel()).gravity[0], front.foil.at[0], rear.foil.at[0]
    assert front.share == pytest.approx((x_g - x_r) / (x_f - x_r))
    assert front.lifts_from / rear.lifts_from == pytest.approx(foils.AIM, abs=0.02)
    assert after.lift_off is not None
    cruise = foils.cruise_of(after)
    assert cruise.clear > 0
    assert 0 < foils.wet_of(after, cruise, 0) <= 1
    assert any("front foil lifts nothing" in f.title or f.code for f in before.findings)


def test_the_answers_of_which_angle_and_where_g_do_what_they_say():
    craft = Craft(whimbrel())
    found = foils.assess(craft)
    for body, degrees in ((2, found.rear_angle), (1, found.front_angle)):
        if degrees is not None:
            solved = foils.assess(Craft(foils.with_angle(craft.design, body, degrees)))
            ratio = solved.wings[0].lifts_from / solved.wings[1].lifts_from
            assert ratio == pytest.approx(foils.AIM, abs=0.01)
    near = Craft(foils.with_angle(whimbrel(), 2, 4.5))
    place = foils.assess(near).gravity_x
    moved = foils.assess(Craft(with_g(near.design, place - near.gravity[0])))
    assert moved.wings[0].lifts_from / moved.wings[1].lifts_from == pytest.approx(foils.AIM, abs=0.1)  # its trim at rest changes with it
    with pytest.raises(InvalidInput):
        foils.with_angle(craft.design, 99, 2.0)
    with pytest.raises(InvalidInput):
        foils.with_angle(craft.design, 2, 50.0)


def test_a_control_surface_gives_by_the_square_of_the_speed():
    rows = foils.assess(Craft(whimbrel())).control
    assert len(rows) == foils.ROWS
    for r in rows:
        assert r.per_degree / rows[0].per_degree == pytest.approx((r.speed / rows[0].speed) ** 2)
        assert r.gain == pytest.approx((rows[0].speed / r.speed) ** 2)
        assert r.needed * r.per_degree == pytest.approx(rows[0].needed * rows[0].per_degree)
    assert foils.assess(Craft(with_value(whimbrel(), "bodies.2.shape.flap", 0.0))).control == ()


def test_heave_and_pitch_come_back_or_do_not():
    """A boat at rest comes back; one whose foils load the rear far more for their size than the front does not."""
    boat = underway_of(Craft(whimbrel()))
    at_rest = Balanced(0.0, boat.rest, (), 0.0, 0.0, 0.0)
    assert is_steady(boat, slopes_at(boat, at_rest))
    aft = foils.assess(Craft(with_g(foils.with_angle(with_value(whimbrel(), "bodies.1.shape.dihedral_deg", 0.0), 2, 8.0), -0.2)))
    assert any(not f.steady for f in aft.flown if f.speed > 1.0) or aft.lift_off is None


def test_a_foil_is_added_with_its_strut_and_sized_to_the_weight():
    bare = dataclasses.replace(whimbrel(), bodies=whimbrel().bodies[:1])
    craft = Craft(bare)
    assert foils.assess(craft) is None
    both = fitting.added(Craft(fitting.added(craft, "front")), "rear")
    assert [b.name for b in both.bodies[1:]] == ["front foil", "front strut", "rear foil", "rear strut"]
    again = Craft(fitting.added(Craft(both), "front"))
    assert again.design.bodies[-2].name == "front foil 2"
    found = foils.assess(Craft(both))
    wing = found.wings[0].foil
    # half the weight at 1.6 hull speeds by a coefficient of 0.5; Froude number 0.40 on the hull's length
    speed = 1.6 * 0.40 * math.sqrt(9.80665 * 0.86)
    assert wing.area == pytest.approx(craft.mass * STANDARD_GRAVITY / 2 / (craft.density / 2 * speed**2 * 0.5), rel=0.05)
    assert found.lift_off is not None


def flier(law: str = "wieselsberger"):
    """A flat raft under a large wing in the air."""
    raft = boat_of("pontoon", 0.10, 0.5)
    wing = Body("wing", FoilWing(1.2, 0.35, 1.0, 0.12, 0.0, 0.0, 5.0, camber=0.04), (0.36, 0.0, 0.14), role="fairing")
    return resistance_of(Craft(dataclasses.replace(raft, bodies=(*raft.bodies, wing))), 0.0, law)


def test_a_wing_over_the_water_lifts_by_the_air():
    found = flier()
    b = next(b for b in reversed(found.balances) if b is not None)
    (lift,) = [f for f in b.forces if f.part == "foil"]
    # of the order of half rho V² S C_L with C_L near 1
    push = AIR_DENSITY / 2 * b.speed**2 * 1.2 * 0.35
    assert 0.3 < lift.newtons[2] / push < 1.3
    craft = Craft(dataclasses.replace(boat_of("pontoon", 0.10, 0.5), bodies=found_bodies()))
    first, second = foils.assess(craft), foils.assess(craft, "mccormick")
    (over,) = first.over
    assert over.factors[0][1] < over.factors[1][1] < 1.0  # a low wing; Prandtl's law takes more of the drag
    assert second is not None
    assert "underway.ground" in {f.code for f in first.findings}
    both = [(a, b) for a, b in zip(flier("mccormick").balances, flier().balances, strict=True) if a is not None and b is not None]
    assert both[-1][0].resistance > both[-1][1].resistance  # it leaves more of the induced drag
    with pytest.raises(InvalidInput):
        foils.assess(craft, "guessed")


def found_bodies():
    raft = boat_of("pontoon", 0.10, 0.5)
    wing = Body("wing", FoilWing(1.2, 0.35, 1.0, 0.12, 0.0, 0.0, 5.0, camber=0.04), (0.36, 0.0, 0.14), role="fairing")
    return (*raft.bodies, wing)


# Pads


def test_pads_are_read_off_the_hull():
    shape = FAMILIES["three_point"](sponson_drop_m=0.02, deadrise_deg=8.0)
    design = boat_of("three_point")
    craft = Craft(design)
    found = pads_of(craft.hull.mesh, craft.settled.attitude)
    assert [p.name for p in found] == ["fore pad, port", "fore pad, starboard", "after pad"]
    port, _, after = found
    assert port.beam == pytest.approx(shape.sponson_beam_m, rel=0.05)
    assert port.deadrise == pytest.approx(8.0, abs=0.3)
    assert port.keel[0] == pytest.approx((shape.length_m - shape.sponson_length_m) * shape.sponson_at, abs=0.01)
    assert port.keel[2] == pytest.approx(0.0, abs=0.001)
    assert after.keel == pytest.approx((0.0, 0.0, 0.02), abs=0.001)
    assert after.beam == pytest.approx(shape.hull_beam_m, rel=0.05)
    stepped = Craft(boat_of("stepped"))
    fore, rear = pads_of(stepped.hull.mesh, stepped.settled.attitude)
    assert rear.keel[2] - fore.keel[2] == pytest.approx(FAMILIES["stepped"]().step_m, abs=0.002)
    assert rear.length == pytest.approx(fore.keel[0], abs=0.03)
    for kind in ("vee", "round_bilge", "twin_hull", "folded_tray"):
        plain = Craft(boat_of(kind))
        assert pads_of(plain.hull.mesh, plain.settled.attitude) == ()


def test_loads_of_the_pads_by_moments_about_the_after_one():
    """Weight by its arm, thrust and all that holds back by their heights, over the distance of the fore pads' lift."""
    craft = Craft(sandpiper())
    found = resistance_of(craft)
    b = found.balances[40]
    weight = found.boat.mass * STANDARD_GRAVITY
    lifts = [f for f in b.forces if f.part == "planing"]
    after = next(f for f in lifts if f.name == "after pad")
    fore = [f for f in lifts if f is not after]

    def arm(point):
        return sum(r * (p - q) for r, p, q in zip(b.attitude.rows[0], point, after.at, strict=True))

    def over(point):
        return b.attitude.height_of(point) - b.attitude.height_of(after.at)

    rest = [f for f in b.forces if f.part not in ("planing", "weight")]
    moment = weight * arm(craft.gravity) - math.fsum(f.newtons[2] * arm(f.at) - f.newtons[0] * over(f.at) for f in rest)
    moment += math.fsum(f.newtons[0] * over(f.at) for f in lifts)
    by_hand = moment / arm(fore[0].at)
    assert math.fsum(f.newtons[2] for f in fore) == pytest.approx(by_hand, rel=1e-4)
    row = pads.row_at(found.boat, b, 0.25)
    assert math.fsum(p.lift for p in row.pads) == pytest.approx(weight * row.carried)
    assert row.carried == pytest.approx(1.0, abs=0.05)


def test_weight_forward_loads_the_fore_pads_and_wider_sponsons_lean_less():
    found = pads.assess(Craft(sandpiper()))
    forward = pads.assess(Craft(with_g(sandpiper(), 0.04)))

    def fore(a, k=50):
        return math.fsum(p.lift for p in a.rows[k].pads if p.name.startswith("fore"))

    assert fore(forward) > fore(found)
    closer, as_is, wider = next(r.leans for r in found.rows if r.carried > 0.95)
    assert closer > as_is > wider
    assert closer / as_is == pytest.approx(1 / 0.8)
    assert {"underway.pads_carry", "underway.pads_couple", "underway.pads_roll"} <= {f.code for f in found.findings}
    assert found.carries is not None
    assert pads.assess(Craft(boat_of("vee"))) is None
    aft = pads.assess(Craft(with_g(sandpiper(), -0.12)))
    if aft is not None and aft.carries is not None:
        assert next(f for f in aft.findings if f.code == "underway.pads_carry").severity == "near"


def test_the_demo_model_flips_at_a_speed_it_reaches_and_its_cure_does_not():
    before, after = flip.assess(Craft(sandpiper()), 3.0), flip.assess(Craft(steadied(sandpiper())), 3.0)
    assert before.pitched < before.top
    assert after.pitched > after.top
    assert flip.lifting_off(before.plan) * before.plan.arm == pytest.approx(
        before.plan.mass * STANDARD_GRAVITY * before.plan.ahead + before.plan.thrust * before.plan.above
    )


def test_fins_are_wet_by_their_heights():
    boat = underway_of(Craft(sandpiper()))
    blade = boat.blades[0]
    foot, head = blade.foot, blade.head
    level = Attitude(0.0, 0.0, -(foot[2] + head[2]) / 2)
    assert under(blade, State(5.0, level)) == pytest.approx(0.5)
    assert under(blade, State(5.0, Attitude(0.0, 0.0, 1.0))) == 0.0
    assert under(blade, State(5.0, Attitude(0.0, 0.0, -1.0))) == 1.0
    assert moment_of(boat, level, Force("x", (0.0, 0.0, 1.0), boat.gravity, 0.0, STATICS)) == pytest.approx(0.0)


def test_steering_knows_that_it_flies():
    last = steering.assess(Craft(whimbrel())).findings[0]
    assert last.code == "underway.margin"
    assert last.severity in ("near", "fails", "holds")  # judged, since it is off the water
    assert np.isfinite([r.margin for r in steering.assess(Craft(whimbrel())).rows]).all()


def test_the_demo_tells_both(demo_yard):
    names = [b.latest.design.name for b in demo_yard.boats()]
    assert {"Sandpiper", "Whimbrel"} <= set(names)
    assert all(len(b.revisions) == 3 for b in demo_yard.boats() if b.latest.design.name in ("Sandpiper", "Whimbrel"))
    assert load_demo
