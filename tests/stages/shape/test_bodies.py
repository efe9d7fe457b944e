"""What a builder does with bodies: each step gives a boat that floats on, and undoing it is the store's work."""

import dataclasses

import pytest

from tests.deeds import deed
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES, Box, MeshFile, Offsets, RoundBilge, Vee
from yarekeel.core.geometry.families.offsets import Change
from yarekeel.core.parameters import parameters_of
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import reedwarden
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design import editing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design, Opening
from yarekeel.stages.design.resizing import scaled
from yarekeel.stages.shape import bodies, shape


def boat(shape_=None):
    return Craft(
        Design("Reed hen", bodies=(Body("hull", shape_ or Vee()),), weights=(WeightItem("all", 4.0, (0.45, 0.0, 0.09), "weighed"),))
    )


def did(craft, verb, body=None, **args):
    given = args if body is None else {"body": body, **args}
    result = deed(craft, f"bodies.{verb}", **given)
    return Craft(result.design), int(result.ask["body"])


@pytest.mark.parametrize("kind", [k for k, f in FAMILIES.items() if f is not MeshFile])
def test_every_family_can_be_added(kind):
    craft, chosen = did(boat(), "add", family=kind)
    assert chosen == 1
    added = craft.design.bodies[1]
    assert added.role == FAMILIES[kind].role
    assert craft.hull.mesh.volume >= boat().hull.mesh.volume * (1 - 1e-9)
    assert shape.assess(craft).parts[1].volume > 0


def test_added_parts_are_sized_to_the_boat():
    small = did(boat(), "add", family="pontoon")[0].piece(1).length
    large = did(boat(Vee(4.0, 1.4, 0.6)), "add", family="pontoon")[0].piece(1).length
    assert small == pytest.approx(0.6 * 1.0, rel=0.05)
    assert large == pytest.approx(0.6 * 4.0, rel=0.05)


def test_order_copy_and_remove():
    craft, _ = did(boat(), "add", family="strut")
    craft, chosen = did(craft, "up", 1)
    assert [b.shape.kind for b in craft.design.bodies] == ["strut", "vee"]
    assert chosen == 0
    assert did(craft, "up", 0)[0].design == craft.design
    craft, chosen = did(craft, "down", 0)
    assert chosen == 1
    craft, chosen = did(craft, "duplicate", 1)
    assert chosen == 2
    assert len({b.name for b in craft.design.bodies}) == 3
    craft, chosen = did(craft, "remove", 2)
    assert chosen == 1
    assert len(craft.design.bodies) == 2


def test_the_last_body_stays():
    with pytest.raises(InvalidInput, match="at least one"):
        did(boat(), "remove", 0)


@pytest.mark.parametrize(
    ("what", "hulls", "volumes"),
    [("twin", 1, 2.0), ("trimaran", 2, 1.0), ("outrigger", 2, 1.0), ("strips", 2, 1.0)],
)
def test_any_monohull_is_arranged(what, hulls, volumes):
    craft, chosen = did(boat(), "arrange", 0, what=what)
    assert len(craft.design.bodies) == hulls
    assert chosen == hulls - 1
    assert craft.hull.mesh.volume >= volumes * boat().hull.mesh.volume * (1 - 1e-9)
    low, high = craft.hull.mesh.bounds
    symmetrical = abs(low[1] + high[1]) < 1e-9
    assert symmetrical == (what != "outrigger")


def test_a_twin_is_two_hulls_apart():
    craft, _ = did(boat(), "arrange", 0, what="twin")
    assert craft.hull.mesh.volume == pytest.approx(2 * Vee().build().volume, rel=1e-9)
    with pytest.raises(InvalidInput, match="a pair already"):
        did(craft, "arrange", 0, what="twin")


@pytest.mark.parametrize(
    ("verb", "args"),
    [
        ("bodies.up", {"body": 9}),
        ("bodies.up", {"body": "x"}),
        ("bodies.up", {}),
        ("bodies.paint", {"body": 0}),
        ("bodies.change_up", {"body": 0, "change": 0}),
        ("bodies.add", {"family": "raft of straw"}),
        ("bodies.add", {"family": "vee", "colour": "red"}),
    ],
)
def test_what_cannot_be_done_is_refused(verb, args):
    with pytest.raises(InvalidInput):
        deed(boat(), verb, **args)


def test_a_family_becomes_a_table_of_the_same_volume():
    craft, _ = did(boat(RoundBilge()), "table", 0)
    assert isinstance(craft.design.bodies[0].shape, Offsets)
    assert craft.hull.mesh.volume == pytest.approx(RoundBilge().build().volume, rel=0.04)


def test_changes_are_added_ordered_worked_in_and_removed():
    craft = boat(Offsets())
    plain = craft.hull.mesh.volume
    craft, _ = did(craft, "change", 0, what="higher")
    craft, _ = did(craft, "change", 0, what="wider")
    table = craft.design.bodies[0].shape
    assert [c.what for c in table.changes] == ["higher", "wider"]
    assert table.changes[0].above == 1  # above the chine
    craft, _ = did(craft, "change_down", 0, change=0)
    assert [c.what for c in craft.design.bodies[0].shape.changes] == ["wider", "higher"]
    changed = craft.hull.mesh.volume
    worked, _ = did(craft, "work_in", 0)
    assert worked.design.bodies[0].shape.changes == ()
    assert worked.hull.mesh.volume == pytest.approx(changed, rel=1e-12)
    craft, _ = did(craft, "change_remove", 0, change=1)
    craft, _ = did(craft, "change_remove", 0, change=0)
    assert craft.hull.mesh.volume == pytest.approx(plain, rel=1e-12)


def test_stations_come_and_go_and_changes_follow_them():
    craft = boat(Offsets(changes=(Change("wider", 0.2, 3, 5),)))
    craft, _ = did(craft, "add_station", 0, station="1")
    table = craft.design.bodies[0].shape
    assert len(table.stations) == 7
    assert table.stations[2].x_m == pytest.approx(0.9)
    assert (table.changes[0].station, table.changes[0].fade_to) == (4, 6)
    with pytest.raises(InvalidInput, match="remove that change first"):
        did(craft, "drop_station", 0, station="4")
    craft, _ = did(craft, "drop_station", 0, station="2")
    assert craft.design.bodies[0].shape.stations == Offsets().stations
    assert craft.design.bodies[0].shape.changes[0].station == 3


def test_a_new_family_keeps_the_sizes_both_have():
    craft, _ = did(boat(Vee(1.3, 0.35, 0.17)), "add", family="strut")
    design = editing.set_field(craft, "bodies.0.shape.kind", "round_bilge")
    assert isinstance(design.bodies[0].shape, RoundBilge)
    assert design.bodies[0].shape.length_m == 1.3
    assert design.bodies[1] == craft.design.bodies[1]


def test_every_parameter_can_be_lit():
    for kind, family in FAMILIES.items():
        if family in (MeshFile,):
            continue
        craft = boat(family())
        for p in parameters_of(family()):
            other = bodies.nudged(craft, f"bodies.0.shape.{p.name}")
            assert other is not None, (kind, p.name)
            assert other.design != craft.design
    assert bodies.nudged(boat(), "bodies.0.shape.colour") is None
    assert bodies.nudged(boat(), "bodies.7.shape.length_m") is None


def test_scaling_reaches_every_kind_of_body():
    design = Design(
        "s",
        bodies=(
            Body("table", Offsets()),
            Body("pipes", FAMILIES["pipe_raft"](), (0.0, 2.0, 0.0), role="float"),
            Body("vee", Vee(), (0.0, -2.0, 0.0)),
        ),
    )
    larger = scaled(design, 1.2)
    before, after = Craft(design), Craft(larger)
    for n in range(3):
        assert after.piece(n).volume == pytest.approx(1.728 * before.piece(n).volume, rel=1e-9)  # 1.2 cubed
        assert after.piece(n).area == pytest.approx(1.44 * before.piece(n).area, rel=1e-9)


def test_the_form_of_the_demo_boat_is_between_its_bounds():
    result = shape.assess(Craft(reedwarden()))
    form = result.form
    assert result.afloat
    assert 0 < form.block < form.prismatic < 1
    assert form.block == pytest.approx(form.prismatic * form.midship, rel=1e-9)  # Cb = Cp Cm, PNA vol. I ch. I
    assert form.waterplane < 1


def test_a_hull_too_small_for_its_target_is_said():
    codes = {f.code: f.severity for f in shape.assess(boat(Vee(0.2, 0.05, 0.03, rocker_bow_m=0.0, sheer_m=0.0, stem_rake_m=0.0))).findings}
    assert codes["shape.capacity"] == "fails"


def test_openings_are_placed_moved_and_measured_from_the_water():
    # A box 1 m by 0.4 m by 0.2 m of 40 kg in fresh water of 1000 kg/m3 draws 100 mm.
    water = Water(density_kg_m3=1000.0)
    box = Body("hull", Box(1.0, 0.4, 0.2), openings=(Opening("vent", (0.5, 0.0, 0.15)), Opening("hatch", (0.5, 0.0, 0.2))))
    craft = Craft(Design("d", water=water, bodies=(box,), weights=(WeightItem("all", 40.0, (0.5, 0.0, 0.05), "weighed"),)))
    finding = next(f for f in afloat.assess(craft).findings if f.code == "float.opening")
    assert finding.values["name"] == "vent"
    assert finding.values["height"] == pytest.approx(0.05, abs=1e-9)
    low = dataclasses.replace(box, openings=(Opening("shaft", (0.1, 0.05, 0.04)),))
    under = next(
        f for f in afloat.assess(Craft(dataclasses.replace(craft.design, bodies=(low,)))).findings if f.code == "float.opening_under"
    )
    assert under.severity == "fails"
    assert under.values["under"] == pytest.approx(0.06, abs=1e-9)


def test_openings_follow_their_body():
    body = Body(
        "float",
        Box(1.0, 0.1, 0.1),
        (0.2, 0.4, 0.0),
        turn_deg=(0.0, 0.0, 90.0),
        scale=(2.0, 1.0, 1.0),
        mirrored=True,
        openings=(Opening("plug", (0.5, 0.0, 0.1)),),
    )
    craft = Craft(Design("d", bodies=(body,)))
    # Half a metre stretched to one, then turned to port by a quarter, then moved.
    assert craft.openings[0] == ("plug", pytest.approx((0.2, 1.4, 0.1)))
    assert craft.openings[1] == ("plug, other side", pytest.approx((0.2, -1.4, 0.1)))


def test_openings_come_and_go():
    craft, _ = did(boat(), "opening", 0)
    craft, _ = did(craft, "opening", 0)
    assert [o.name for o in craft.design.bodies[0].openings] == ["hatch", "hatch 2"]
    craft, _ = did(craft, "opening_remove", 0, opening=0)
    assert [o.name for o in craft.design.bodies[0].openings] == ["hatch 2"]
    with pytest.raises(InvalidInput, match="no such opening"):
        did(craft, "opening_remove", 0, opening=7)


@pytest.mark.parametrize(
    "shape_", [RoundBilge(), RoundBilge(bilge_radius_m=0.12, stern_width=0.0), Vee(), FAMILIES["pontoon"](), Offsets()]
)
def test_what_facets_leave_out_is_foreseen(shape_):
    foreseen = shape.assess(boat(shape_)).faceting
    gained = shape_.build(2).volume / shape_.build(1).volume - 1
    assert foreseen == pytest.approx(gained, rel=0.35, abs=2e-4)
