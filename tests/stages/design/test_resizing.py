"""A boat resized: every placed part says how it goes, and goes so."""

import dataclasses
from typing import get_type_hints

import pytest

from yarekeel.core.geometry.families import Box
from yarekeel.core.geometry.families.submersible import Submersible
from yarekeel.core.geometry.stretch import Stretch
from yarekeel.core.parameters import parameter_of
from yarekeel.core.propulsion.drive import Drive, Motor
from yarekeel.core.propulsion.sail import Sail
from yarekeel.core.stability.tipping import Tipping
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import dabchick
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Compartment, Design, Marks, Opening
from yarekeel.stages.design.resizing import moved, parts_in, refitted, scaled

OWN_RULE = {"Body", "Opening", "WeightItem"}
"""Classes that say in ``moved`` how they go."""
IN_THE_BODY = {"Station", "Change"}


def _classes(cls, seen):
    """Every class of the aggregate that holds fields, but for shapes and recipes, which are sizes of their own body."""
    seen.append(cls)
    for hint in get_type_hints(cls).values():
        for one in parts_in(hint):
            if dataclasses.is_dataclass(one) and one not in seen and not hasattr(one, "build") and not hasattr(one, "made"):
                _classes(one, seen)
    return seen


def _is_a_length(cls, f):
    hints = [str(t) for t in parts_in(get_type_hints(cls, include_extras=True)[f.name])]
    return any("'m'" in h or "'m2'" in h for h in hints)


def test_every_field_of_the_aggregate_says_how_it_moves():
    silent = []
    for cls in _classes(Design, []):
        if cls.__name__ in OWN_RULE:
            assert callable(cls.moved)
            continue
        for f in dataclasses.fields(cls):
            described = parameter_of(cls, f.name)
            if _is_a_length(cls, f) and (described is None or not described.moves):
                silent.append(f"{cls.__name__}.{f.name}")
    assert silent == []
    found = {c.__name__ for c in _classes(Design, [])}
    assert {"Brief", "Compartment", "Marks", "Motor", "Sail", "Tipping", "Incline", "Shift", "WeighIn", "WeightItem"} <= found


def raft() -> Design:
    """A box 1.0 x 0.4 x 0.2 m with something of every kind in and on it, placed by round numbers."""
    return Design(
        "Raft",
        bodies=(
            Body("hull", Box(1.0, 0.4, 0.2), openings=(Opening("hatch", (0.5, 0.1, 0.2)),)),
            Body("keel", Box(0.2, 0.02, 0.1), (0.4, 0.0, -0.1), role="appendage"),
            Body("float", Box(0.5, 0.1, 0.1), (0.25, 0.5, 0.05), mirrored=True, role="float"),
        ),
        weights=(
            WeightItem("shell", 2.0, (0.5, 0.0, 0.1), group="structure"),
            WeightItem("battery", 1.0, (0.25, 0.1, 0.05)),
            WeightItem("outboard", 0.5, (-0.05, 0.0, 0.1)),
        ),
        drive=Drive((Motor("propeller", 5.0, (-0.1, 0.0, -0.02)),)),
        marks=Marks(0.1, 0.9),
        compartments=(Compartment("tank", "hull", 0.2, 0.6, high_m=0.1, use="tank"), Compartment("buoy", "float", 0.3, 0.7, 0.0)),
        tipping=Tipping(tow_up_m=0.15, lean_m=0.1),
        sails=(Sail("main", 0.5, (0.5, 0.0, 1.2)),),
    )


def test_a_longer_hull_takes_everything_along():
    """Length x 1.5, by hand: inside keeps its share, outside its distance; the float goes along with its middle, 0.5 to 0.75 m."""
    after = refitted(Craft(raft()), "bodies.0.shape.length_m", 1.5)
    tank, buoy = after.compartments
    assert (tank.aft_m, tank.fore_m, tank.high_m) == pytest.approx((0.3, 0.9, 0.1))
    assert (buoy.aft_m, buoy.fore_m, buoy.starboard_m) == pytest.approx((0.55, 0.95, 0.0))
    assert after.bodies[0].openings[0].at_m == pytest.approx((0.75, 0.1, 0.2))
    assert after.bodies[1].at_m == pytest.approx((0.65, 0.0, -0.1))  # its middle was at 0.5, half way
    assert after.bodies[2].at_m == pytest.approx((0.5, 0.5, 0.05))
    assert [w.at_m[0] for w in after.weights] == pytest.approx([0.75, 0.375, -0.05])
    assert after.drive.motors[0].at_m[0] == pytest.approx(-0.1)
    assert (after.marks.stern_x_m, after.marks.bow_x_m) == pytest.approx((0.15, 1.35))
    assert after.sails[0].at_m == pytest.approx((0.75, 0.0, 1.2))
    assert after.sails[0].area_m2 == 0.5
    grown = Craft(after).hull.mesh.area / Craft(raft()).hull.mesh.area
    assert after.weights[0].mass_kg == pytest.approx(2.0 * grown)
    assert after.weights[1].mass_kg == 1.0


def test_a_wider_deeper_hull_keeps_what_stands_beyond_it_at_its_distance():
    craft = Craft(raft())
    wider = refitted(craft, "bodies.0.shape.beam_m", 0.6)
    assert wider.bodies[2].at_m[1] == pytest.approx(0.6)  # 0.3 beyond the side before and after
    assert wider.weights[1].at_m[1] == pytest.approx(0.15)
    assert wider.compartments[1].starboard_m == 0.0
    deeper = refitted(craft, "bodies.0.shape.depth_m", 0.3)
    assert deeper.sails[0].at_m[2] == pytest.approx(1.3)  # 1 m above the deck before and after
    assert deeper.tipping.tow_up_m == pytest.approx(0.225)
    assert deeper.bodies[1].at_m[2] == pytest.approx(-0.1)


def test_a_float_set_further_out_takes_its_compartments_and_no_weight():
    after = refitted(Craft(raft()), "bodies.2.at_m.1", 0.7)
    assert after.compartments[1].starboard_m == pytest.approx(0.0)
    assert after.weights == raft().weights
    off = dataclasses.replace(raft(), compartments=(Compartment("buoy", "float", starboard_m=0.5),))
    assert refitted(Craft(off), "bodies.2.at_m.1", 0.7).compartments[0].starboard_m == pytest.approx(0.7)


def test_a_whole_boat_half_as_large_again_is_so_in_every_length():
    after, before = scaled(raft(), 1.5), raft()
    assert after.tipping.tow_up_m == pytest.approx(0.225)
    assert after.tipping.lean_m == 0.1  # a person does not grow
    assert after.sails[0].area_m2 == pytest.approx(0.5 * 2.25)
    assert after.compartments[0].fore_m == pytest.approx(0.9)
    assert after.weights[2].at_m == pytest.approx((-0.075, 0.0, 0.15))
    assert after.weights[0].mass_kg == pytest.approx(4.5)
    assert after.bodies[0].openings[0].at_m == pytest.approx((0.75, 0.15, 0.3))
    assert Craft(after).hull.mesh.volume == pytest.approx(Craft(before).hull.mesh.volume * 1.5**3)


def test_the_submarines_tank_and_hatch_go_along_when_it_is_half_as_long_again():
    """The tank keeps its share of the pressure hull, and with it its capacity over the hull's volume."""
    before = Craft(dabchick())
    number = next(n for n, b in enumerate(before.design.bodies) if isinstance(b.shape, Submersible))
    body = before.design.bodies[number]
    after = Craft(refitted(before, f"bodies.{number}.shape.length_m", 1.5 * body.shape.length_m))
    tanks = [next(s for s in c.spaces if s.compartment.use == "tank") for c in (before, after)]
    x = [s.kernel_or_fail.centroid[0] / c.piece(number).length for s, c in zip(tanks, (before, after), strict=True)]
    assert x[1] == pytest.approx(x[0], abs=0.02)
    assert tanks[1].capacity == pytest.approx(1.5 * tanks[0].capacity, rel=0.08)  # its ends are as blunt as before
    hatches = [c.openings[0][1][0] / c.piece(number).length for c in (before, after)]
    assert hatches[1] == pytest.approx(hatches[0], abs=0.02)


def test_a_stretch_of_nothing_moves_nothing():
    assert moved(raft(), Stretch()) == raft()
