"""Every way to alter a boat: what it makes of a raft whose sums are done by hand, between which limits, with which words."""

import dataclasses
import math

import pytest

from tests.deeds import done
from tests.stages.changes.hulls import box, shifted, submarine
from tests.stages.rafts import raft
from tests.stages.stability.test_stability import heavy_raft
from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.geometry.families import Box, TwinHull
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.afloat import forced
from yarekeel.stages.changes import loading
from yarekeel.stages.changes.change import NoWay
from yarekeel.stages.changes.register import CHANGES
from yarekeel.stages.changes.ways import added_float, ballast_at, foam, level, tank
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Compartment

# Floats against a force


def test_a_stern_float_stands_behind_the_transom_as_deep_as_the_hull():
    """A box 0.3 m long, nine tenths and a half of it clear of the transom, and just so wide that the trim is what the brief allows."""
    craft, forces = box(), forced.Forces(tow=320.0, tow_at=(0.0, 0.0, 0.6))
    free = forced.solve(craft, forces).afloat.attitude.trim
    assert abs(free) > math.radians(2)
    answer = added_float.sized(craft, forces, "stern")
    assert abs(answer.left) == pytest.approx(math.radians(2), rel=1e-3)
    assert (answer.body.shape.length_m, answer.body.shape.beam_m, answer.body.shape.depth_m) == pytest.approx((0.3, answer.size, 0.3))
    assert answer.body.at_m == pytest.approx((-0.285, 0.0, 0.0))
    assert (answer.body.role, answer.body.mirrored, answer.body.name) == ("float", False, "stern float")
    assert 0.021 < answer.size < 0.72


def test_side_floats_lie_along_both_sides():
    craft, forces = box(), forced.Forces(hand=120.0)
    assert abs(forced.solve(craft, forces).afloat.attitude.heel) > math.radians(2)
    answer = added_float.sized(craft, forces, "sides")
    assert abs(answer.left) == pytest.approx(math.radians(2), rel=1e-3)
    shape, body = answer.body.shape, answer.body
    assert (shape.length_m, shape.beam_m, shape.depth_m) == pytest.approx((1.0, answer.size, 0.24))
    assert body.at_m == pytest.approx((0.4, 0.3 + 0.4 * answer.size, 0.0))
    assert (body.role, body.mirrored, body.name) == ("float", True, "side float")
    two = Craft(added_float.with_float(craft, answer))
    assert two.hull.kernel.total_volume == pytest.approx(0.36 + 2 * 1.0 * 0.9 * answer.size * 0.24, rel=1e-6)  # a tenth is in the hull


def test_a_float_is_refused_where_none_is_needed_or_none_is_enough():
    with pytest.raises(NoAnswer, match="21 mm"):
        added_float.sized(box(), forced.Forces(hand=1.0), "sides")
    with pytest.raises(NoAnswer, match="half as wide as the boat"):
        added_float.sized(box(), forced.Forces(hand=1500.0), "sides")
    with pytest.raises(NoAnswer, match="as wide as the boat"):
        added_float.sized(box(), forced.Forces(tow=3000.0, tow_at=(0.0, 0.0, 0.6)), "stern")


@pytest.mark.parametrize(
    "forces", [{"hand": 120.0}, {"wind": 24.0}, {"tow": 320.0, "tow_at": (0.0, 0.0, 0.6)}, {"tow": 60.0, "tow_at": (1.0, 0.2, 0.9)}]
)
def test_the_button_adds_the_float_for_the_forces_that_were_asked_about(forces):
    craft, what = box(), "stern" if "tow" in forces else "sides"
    given = {"throttle": 0.0, "tow": 0.0, "tow_at": (0.0, 0.0, 0.0), "hand": 0.0, "wind": 0.0, **forces}
    try:
        answer = added_float.sized(craft, forced.Forces(**given), what)
    except NoAnswer as error:
        with pytest.raises(NoAnswer, match=str(error)[:20]):
            done(craft, "answer.size", what=what, **given)
        return
    assert done(craft, "answer.size", what=what, **given).bodies[-1] == answer.body


# Moves and ballast that level


def test_the_weight_that_goes_least_far_is_moved_by_the_moment_over_its_mass():
    """180 kg at 0.98 m and two loose tins: 20 kg has to go 0.18 m ahead, 5 kg would have to go 0.72 m."""
    tins = (WeightItem("tin", 20.0, (1.0, 0.03, 0.1), group="payload"), WeightItem("can", 5.0, (1.0, 0.0, 0.1), group="payload"))
    hull = WeightItem("hull", 180.0, (0.98, 0.0, 0.1), group="structure")
    craft = Craft(dataclasses.replace(heavy_raft(), weights=(hull, *tins)))
    move = level.move_of(craft, None)
    assert (move.name, move.forward, move.to_port) == ("tin", pytest.approx(0.18), pytest.approx(-0.03))
    way = level.way_of(craft, None)
    assert (way.low, way.high) == (0.0, 1.0)
    assert way.make(0.5).weights[1].at_m == pytest.approx((1.09, 0.015, 0.1))
    assert way.make(1.0).weights[1].at_m == pytest.approx((1.18, 0.0, 0.1))
    words, values = way.title(0.5, craft)
    assert (words, values["by"]) == ("{name} {by:fore_aft}", pytest.approx(0.09))
    assert level.move_of(craft, 2).forward == pytest.approx(0.72)
    with pytest.raises(NoWay, match="outside the boat"):
        level.move_of(Craft(dataclasses.replace(craft.design, weights=(hull, *(dataclasses.replace(t, mass_kg=1.0) for t in tins)))), 2)
    with pytest.raises(NoWay, match="No loose weight"):
        level.move_of(Craft(dataclasses.replace(craft.design, weights=(hull,))), None)


@pytest.mark.parametrize(("x", "place", "mass"), [(0.95, 1.7, 180 * 0.05 / 0.7), (1.05, 0.1, 180 * 0.05 / 0.9)])
def test_ballast_goes_to_the_end_that_rides_high(x, place, mass):
    craft = box(180.0, x)
    assert ballast_at.usual_place(craft) == pytest.approx(place)
    way = ballast_at.way_of(craft, None)
    assert way.high == pytest.approx(mass, rel=1e-6)
    line = way.make(1.23456789).weights[-1]
    assert (line.mass_kg, line.at_m, line.group) == (1.234568, pytest.approx((place, 0.0, 0.03)), "ballast")
    with pytest.raises(NoWay, match="already rides low"):
        ballast_at.way_of(craft, 2.0 - place)


def test_a_move_button_moves_the_first_line_too_and_refuses_one_that_is_gone():
    craft = box()
    assert done(craft, "answer.move", moves=[{"line": 0, "place": (0.9, 0.0, 0.1)}]).weights[0].at_m == pytest.approx((0.9, 0.0, 0.1))
    for line in (-1, 1):
        with pytest.raises(InvalidInput, match="no such weight"):
            done(craft, "answer.move", moves=[{"line": line, "place": (0.9, 0.0, 0.1)}])


# Hulls, larger and apart


def test_hulls_go_apart_by_what_is_said():
    design = dataclasses.replace(raft(), bodies=(Body("pair", TwinHull(), role="hull"),))
    craft = Craft(design)
    way, now = CHANGES["spacing"].way(craft), TwinHull().hull_spacing_m
    assert (way.low, way.high) == pytest.approx((0.0, 1.5 * now))
    assert way.make(0.1).bodies[0].shape.hull_spacing_m == pytest.approx(now + 0.1)
    mirrored = dataclasses.replace(raft(), bodies=(Body("hull", Box(2.0, 0.2, 0.3), at_m=(0.0, 0.4, 0.0), mirrored=True),))
    pair = CHANGES["spacing"].way(Craft(mirrored))
    assert (pair.low, pair.high) == pytest.approx((0.0, 1.2))
    assert pair.make(0.1).bodies[0].at_m[1] == pytest.approx(0.45)
    assert pair.title(0.1, craft)[1] == pair.work(0.1, craft)[1] == {"by": 0.1}
    starboard = dataclasses.replace(mirrored, bodies=(dataclasses.replace(mirrored.bodies[0], at_m=(0.0, -0.4, 0.0)),))
    assert CHANGES["spacing"].way(Craft(starboard)).make(0.1).bodies[0].at_m[1] == pytest.approx(-0.45)


def test_a_larger_hull_is_larger_in_every_length():
    way = CHANGES["scale"].way(box())
    assert (way.low, way.high) == (1.0, 2.0)
    shape = way.make(1.5).bodies[0].shape
    assert (shape.length_m, shape.beam_m, shape.depth_m) == pytest.approx((3.0, 0.9, 0.45))
    assert way.title(1.5, box())[1]["by"] == pytest.approx(0.5)


# Ballast, water, strips, floats, seats and width, on the shifted raft


def test_ballast_and_water_lie_low_under_g():
    craft = shifted(box(180.0, 0.9))
    way = CHANGES["ballast"].way(craft)
    assert (way.low, way.high) == pytest.approx((0.0, 0.9 * 180))  # of 180 kg that it carries more
    line = way.make(7.0).weights[-1]
    assert (line.mass_kg, line.material, line.group) == (7.0, "lead", "ballast")
    assert line.at_m == pytest.approx((3.9, 0.0, -0.2 + 0.08 * 0.3))
    assert way.title(7.0, craft)[1] == {"kg": 7.0, "x": pytest.approx(3.9)}
    assert way.work(7.0, craft)[1]["volume"] == pytest.approx(7 / 11340)
    water = CHANGES["water"].way(craft)
    assert (water.low, water.high) == pytest.approx((0.0, 0.21))
    space = water.make(0.05).compartments[-1]
    assert (space.aft_m, space.fore_m, space.high_m) == pytest.approx((3.4, 4.4, -0.15))
    assert (space.use, space.filled, space.body) == ("tank", 1.0, "hull")
    after = water.built(0.05)
    assert water.title(0.05, after)[1]["volume"] == pytest.approx(
        0.95 * 1.0 * 0.6 * 0.05, rel=1e-6
    )  # less a twentieth for what is built in
    assert water.work(0.05, after)[1] == {"up": 0.05, "long": pytest.approx(1.0)}
    near_bow = CHANGES["water"].way(shifted(box(180.0, 1.8))).make(0.05).compartments[-1]
    assert (near_bow.aft_m, near_bow.fore_m) == pytest.approx((4.3, 5.0))


def test_strips_lie_along_the_sides_at_the_waterline():
    """Half the length, from a quarter of it on; 0.45 of the depth tall, half of that under; a fiftieth of the beam let in."""
    craft = shifted(box())
    way = CHANGES["strips"].way(craft)
    assert (way.low, way.high) == pytest.approx((0.0, 0.36))
    design = way.make(0.05)
    body, line, tall = design.bodies[-1], design.weights[-1], 0.135
    assert (body.shape.length_m, body.shape.beam_m, body.shape.depth_m) == pytest.approx((1.0, 0.05 + 0.012, tall))
    assert body.at_m == pytest.approx((3.5, 0.3 + (0.05 - 0.012) / 2, -0.05 - tall / 2))
    assert (body.mirrored, body.role) == (True, "foam")
    assert line.mass_kg == pytest.approx(2 * (33 * 0.05 * tall + 0.5 * (0.1 + tall)))  # glass of 0.5 kg/m2 on three sides of a model's
    assert line.at_m == pytest.approx((4.0, 0.0, -0.05))
    assert way.title(0.05, craft)[1] == {"wide": 0.05}
    values = way.work(0.05, craft)[1]
    assert values == pytest.approx({"volume": 2 * 0.05 * tall, "skin": 2 * (0.1 + tall), "tall": tall})


def with_floats() -> Craft:
    """The raft with a float 0.1 x 0.1 m on each side, 0.8 m out, 50 mm over the water."""
    side = Body("ama", Box(1.0, 0.1, 0.1), at_m=(0.5, 0.8, 0.20), mirrored=True, role="float")
    return box(bodies=(*heavy_raft().bodies, side))


def test_floats_go_out_or_down_as_pairs():
    craft = shifted(with_floats())
    out = CHANGES["apart"].way(craft)
    assert (out.low, out.high) == pytest.approx((0.0, 0.8))
    assert [b.at_m[1] for b in out.make(0.2).bodies] == pytest.approx([0.0, 1.0])
    assert (out.title(0.2, craft)[1], out.work(0.2, craft)[1]) == ({"by": 0.2}, {"more": 0.4})
    down = CHANGES["lower"].way(craft)
    assert (down.low, down.high) == pytest.approx((0.0, 0.05 + 0.8 * 0.1))
    assert [b.at_m[2] for b in down.make(0.03).bodies] == pytest.approx([-0.2, -0.03])
    assert down.title(0.03, craft)[1] == {"by": 0.03}


def test_loose_weights_go_down_to_a_twentieth_of_the_depth():
    craft = shifted(box(180.0, 1.0, 0.0, 0.1, WeightItem("tin", 5.0, (1.0, 0.0, 0.25), group="payload")))
    fixed = dataclasses.replace(craft.design.weights[0], group="structure")
    way = CHANGES["seat"].way(Craft(dataclasses.replace(craft.design, weights=(fixed, craft.design.weights[1]))))
    assert (way.low, way.high) == pytest.approx((0.0, 0.25))
    assert [w.at_m[2] for w in way.make(0.1).weights] == pytest.approx([-0.1, -0.05])
    assert way.make(0.25).weights[1].at_m[2] == pytest.approx(-0.2 + 0.05 * 0.3)
    assert way.title(0.1, craft)[1] == {"by": 0.1}


def test_wider_sections_are_wider_by_a_share():
    craft = box()
    way = CHANGES["wider"].way(craft)
    assert (way.low, way.high) == (0.0, 1.0)
    after = way.built(0.1)
    assert after.design.bodies[0].shape.beam_m == pytest.approx(0.66)
    assert way.title(0.1, after)[1] == pytest.approx({"by": 0.1, "beam": 0.66})
    assert way.work(0.1, after)[1]["skin"] == pytest.approx(0.06 * 2 * 2 + 0.06 * 0.3 * 2)  # bottom and deck, two ends


def test_a_move_that_levels_is_kept_within_the_beam_and_a_waterline_within_the_boat():
    low = shifted(box(40.0, 1.0, 0.1, 0.1, WeightItem("tin", 8.0, (1.0, -0.1, 0.1), group="payload")))
    with pytest.raises(NoAnswer, match="would still be needed"):
        loading.level_by(low, [1])  # 40 x 0.1 over 8 kg is half a metre, past the side
    near = shifted(box(40.0, 1.0, 0.03, 0.1, WeightItem("tin", 8.0, (1.0, -0.1, 0.1), group="payload")))
    (move,) = loading.level_by(near, [1])
    assert move.place[1] == pytest.approx(-0.15)  # 40 x 0.03 over 8 kg
    for bow, stern, words in ((0.06, 0.02, "forward of the bow"), (0.02, 0.06, "aft of the stern")):
        with pytest.raises(NoAnswer, match=words):
            loading.waterline(box(45.0), bow, stern)
    with pytest.raises(NoAnswer, match="beside the boat"):
        loading.waterline(box(45.0, 1.0, 0.2), 0.04, 0.04)


# Nothing hangs on where the origin is


def test_answers_go_along_with_the_origin():
    sub = submarine(70.0, 0.48)
    here, there = tank.trim_out(sub, 0.6, 0.2), tank.trim_out(shifted(sub), 3.6, 3.2)
    assert (there.lead, there.foam) == pytest.approx((here.lead, here.foam), rel=1e-6)
    assert there.lead_at == pytest.approx((3.6, 0.0, here.lead_at[2] - 0.2))
    assert there.foam_at == pytest.approx((3.2, 0.0, here.foam_at[2] - 0.2))
    assert tank.trim_alone(shifted(sub)).lead_at[0] == pytest.approx(3.64)
    bare = dataclasses.replace(shifted(sub).design, compartments=())
    one = tank.tank_for(Craft(bare))
    assert (one.high_m, (one.aft_m + one.fore_m) / 2) == pytest.approx((0.0, 3 + (50 - 70 * 0.48) / 30), abs=1e-6)
    craft = shifted(box(180.0, 0.95))
    assert ballast_at.usual_place(craft) == pytest.approx(4.7)
    assert ballast_at.way_of(craft, None).make(1.0).weights[-1].at_m == pytest.approx((4.7, 0.0, -0.17))
    assert level.move_of(craft, 0).forward == pytest.approx(0.05)
    stern = added_float.sized(shifted(box()), forced.Forces(tow=320.0, tow_at=(3.0, 0.0, 0.4)), "stern")
    assert stern.body.at_m == pytest.approx((2.715, 0.0, -0.2))
    assert stern.size == pytest.approx(added_float.sized(box(), forced.Forces(tow=320.0, tow_at=(0.0, 0.0, 0.6)), "stern").size, rel=1e-3)
    sides = added_float.sized(shifted(box()), forced.Forces(hand=120.0), "sides")
    assert sides.body.at_m == pytest.approx((3.4, 0.3 + 0.4 * sides.size, -0.2))
    glass = WeightItem("Shell", 40.0, (1.0, 0.0, 0.1), group="structure", material="glass_fibre")
    far = foam.foam_for(shifted(Craft(dataclasses.replace(raft(), weights=(glass,)))), 5.0)
    assert far.at == pytest.approx((4.0, far.at[1], 0.1 - far.size[2] / 2), abs=1e-2)
    assert far.size[0] == pytest.approx(0.8)


def test_an_outrigger_is_a_pair_a_third_in_the_water():
    """100 mm deep: 1.2 m long (a twelfth, and six tenths of the hull at most), 110 mm wide, 0.66 m out, a third of it under at rest."""
    craft = box()
    way = CHANGES["outrigger"].way(craft)
    assert (way.low, way.high) == pytest.approx((0.006, 0.24))
    design = way.make(0.1)
    body, line = design.bodies[-1], design.weights[-1]
    assert (body.shape.length_m, body.shape.beam_m, body.shape.depth_m) == pytest.approx((1.2, 0.11, 0.1))
    assert body.at_m == pytest.approx((1.0 - 0.45 * 1.2, 0.66, 0.15 - 0.1 / 3))
    assert (body.mirrored, body.role, body.name) == (True, "float", "outrigger")
    assert (line.name, line.group, line.at_m[0]) == ("Outriggers and beams", "structure", 1.0)
    assert line.at_m[2] == pytest.approx(0.15 - 0.1 / 3 + 0.08)
    assert way.make(0.05).bodies[-1].shape.length_m == pytest.approx(0.6)
    assert way.title(0.1, craft)[1]["y"] == pytest.approx(0.66)
    assert way.work(0.1, craft)[1]["span"] == pytest.approx(1.32)


def test_edges_of_what_can_be_done():
    """Foam at the very end; a space that is taken; ballast for a boat that is full; a place past the stern; a float under the baseline."""
    end = tank.trim_out(submarine(70.0, 0.48), 0.6, 0.0)
    assert end.lead == pytest.approx(6.4 / 0.6)
    assert end.lead_at[2] == pytest.approx(0.04)
    assert end.foam_at[2] == pytest.approx(0.4 + end.foam ** (1 / 3) / 2)
    dry = Compartment("dry", "hull", use="dry")
    with pytest.raises(NoWay, match="compartment already"):
        CHANGES["water"].way(box(compartments=(dry,)))
    assert CHANGES["water"].way(box(compartments=(dataclasses.replace(dry, low_m=0.25),))).high == pytest.approx(0.21)
    with pytest.raises(NoWay, match="no buoyancy to spare"):
        CHANGES["ballast"].way(box(360.0))
    assert CHANGES["ballast"].way(box()).make(1.0).weights[-1].known == "weighed"
    with pytest.raises(NoAnswer, match="still be needed"):
        loading.level_by(shifted(box(180.0, 1.9, 0.0, 0.1, WeightItem("tin", 40.0, (0.2, 0.0, 0.1), group="payload"))), [1])
    deep = shifted(shifted(with_floats()))
    assert CHANGES["lower"].way(deep).high == pytest.approx(0.05 + 0.8 * 0.1)
    assert loading.with_load(box(), loading.Load(1.0, (1.0, 0.0, 0.1)), "Sand", material="moon dust").weights[-1].material == ""
