"""The list as a builder works on it: recipes that follow the hull, load cases, what would have to go, corrections by weighing."""

import dataclasses

import numpy as np
import pytest

from tests.deeds import done
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import Box
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.block import Block
from yarekeel.core.weights.recipes.person import Person
from yarekeel.core.weights.recipes.printed import Printed
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.core.weights.recipes.tank import Tank
from yarekeel.core.weights.weigh_in import WeighIn
from yarekeel.stages.changes import lightening
from yarekeel.stages.design import editing, listing
from yarekeel.stages.design.aboard import refreshed
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design, LoadCase, LoadCount
from yarekeel.stages.judging import cases
from yarekeel.stages.weights import weigh_in, weights

HULL = Body("hull", Box(1.0, 0.4, 0.2))
SKIN = WeightItem("skin", 0.0, (0.0, 0.0, 0.0), "data", group="structure", recipe=Skin("", "all", 0.004, "ply_birch", 0, 0))
CELLS = WeightItem("cells", 0.25, (0.5, 0.0, 0.03), "weighed", group="electrics", quantity=6)
LOAD = WeightItem("load", 2.0, (0.6, 0.0, 0.10), "guessed")


def craft(*items: WeightItem, **more) -> Craft:
    brief = more.pop("brief", Brief("model", 30.0, 0.02, 2.0, 0.01))
    return Craft(Design("test", bodies=more.pop("bodies", (HULL,)), weights=items, brief=brief, **more))


def with_weight(c: Craft, k: int, **changes) -> Craft:
    lines = [dataclasses.replace(w, **changes) if n == k else w for n, w in enumerate(c.design.weights)]
    return Craft(dataclasses.replace(c.design, weights=tuple(lines)))


def test_an_estimate_follows_the_hull():
    """Length x 1.2 in every direction: a skin of the same thickness weighs 1.44 times (a fact of the trade)."""
    c = craft(SKIN)
    area = 2 * (0.4 + 0.2 + 0.08)
    assert c.items[0].mass_kg == pytest.approx(area * 0.004 * 680)
    larger = Craft(dataclasses.replace(c.design, bodies=(dataclasses.replace(HULL, scale=(1.2, 1.2, 1.2)),)))
    assert larger.items[0].mass_kg == pytest.approx(1.44 * c.items[0].mass_kg)
    assert larger.items[0].at_m == pytest.approx((0.6, 0.0, 0.12))
    written = refreshed(larger.design, larger.aboard).weights[0]
    assert written.mass_kg == pytest.approx(larger.items[0].mass_kg)
    assert written.at_m == pytest.approx(larger.items[0].at_m)


def test_quantity_pair_and_ashore():
    c = craft(CELLS, dataclasses.replace(LOAD, pair=True, at_m=(0.6, 0.15, 0.1)), dataclasses.replace(LOAD, name="left", on=False))
    assert [i.mass_kg for i in c.items] == [1.5, 4.0, 0.0]
    assert c.items[1].at_m == (0.6, 0.0, 0.1)
    # The two of a pair stand 0.15 m off: 4 kg x 0.15² about the length and the height, and each is a cube of 2 kg where both in one
    # would be one of 4 kg (payload, 500 kg/m3): a cube's own is m side² / 6.
    apart = c.aboard.inertia[0, 0] - with_weight(c, 1, at_m=(0.6, 0.0, 0.1)).aboard.inertia[0, 0]
    cubes = 4.0 / 6 * ((2.0 / 500) ** (2 / 3) - (4.0 / 500) ** (2 / 3))
    assert apart == pytest.approx(4.0 * 0.15**2 + cubes)


def test_inertia_of_a_block_aboard():
    lead = WeightItem("lead", 0.0, (0.2, 0.1, 0.05), "data", recipe=Block(0.4, 0.2, 0.1, "lead"))
    c = craft(lead)
    m = 0.008 * 11340
    assert np.diag(c.aboard.inertia) == pytest.approx([m / 12 * 0.05, m / 12 * 0.17, m / 12 * 0.20])


def test_a_seat_is_not_a_centre():
    c = craft(WeightItem("rower", 0.0, (0.5, 0.0, 0.2), "data", recipe=Person(80.0, 1.8, "seated", "aft")))
    assert c.items[0].mass_kg == 80.0
    assert c.items[0].at_m[2] > 0.4
    assert c.items[0].at_m[0] < 0.5  # knees point aft
    moved = listing.put(c, 0, (0.7, 0.1, c.items[0].at_m[2]))
    assert Craft(moved).items[0].at_m == pytest.approx((0.7, 0.1, c.items[0].at_m[2]))


def test_what_moves_with_another_goes_along():
    c = craft(LOAD, dataclasses.replace(CELLS, moves_with="load"), WeightItem("strap", 0.1, (0.5, 0.1, 0.1), moves_with="cells"))
    moved = listing.put(c, 0, (0.7, 0.0, 0.10))
    assert [w.at_m[0] for w in moved.weights] == pytest.approx([0.7, 0.6, 0.6])
    back = editing.set_field(Craft(moved), "weights.0.at_m.0", 0.6)
    assert [w.at_m[0] for w in back.weights] == pytest.approx([0.6, 0.5, 0.5])
    with pytest.raises(InvalidInput, match="no other weight"):
        editing.set_field(c, "weights.0.moves_with", "the moon")
    renamed = editing.set_field(c, "weights.0.name", "catch")
    assert renamed.weights[1].moves_with == "catch"


def test_two_that_move_with_each_other_do_not_run_away():
    c = craft(dataclasses.replace(LOAD, moves_with="cells"), dataclasses.replace(CELLS, moves_with="load"))
    moved = listing.put(c, 0, (0.7, 0.0, 0.10))
    assert [w.at_m[0] for w in moved.weights] == pytest.approx([0.7, 0.6])


def test_a_skin_cannot_be_dragged_until_its_recipe_is_dropped():
    c = craft(SKIN)
    with pytest.raises(InvalidInput, match="follows the hull"):
        listing.put(c, 0, (0.1, 0.0, 0.0))
    plain = Craft(listing.with_recipe(c, 0, ""))
    assert plain.items[0].mass_kg == pytest.approx(c.items[0].mass_kg)
    assert plain.items[0].at_m == pytest.approx(c.items[0].at_m)
    assert listing.put(plain, 0, (0.1, 0.0, 0.1)).weights[0].at_m == pytest.approx((0.1, 0.0, 0.1))


def test_a_mass_typed_corrects_an_estimate():
    c = Craft(editing.set_field(craft(SKIN), "weights.0.mass_kg", 4.0))
    assert c.items[0].mass_kg == pytest.approx(4.0)
    assert c.design.weights[0].recipe == SKIN.recipe
    twice = Craft(dataclasses.replace(c.design, bodies=(dataclasses.replace(HULL, scale=(2.0, 2.0, 2.0)),)))
    assert twice.items[0].mass_kg == pytest.approx(16.0)
    with pytest.raises(InvalidInput):
        editing.set_field(craft(SKIN), "weights.0.mass_kg", 0.0)


def test_a_body_that_is_gone_leaves_the_last_mass():
    two = (HULL, Body("float", Box(0.5, 0.1, 0.1), (0.2, 0.4, 0.0), role="float"))
    c = craft(dataclasses.replace(SKIN, recipe=dataclasses.replace(SKIN.recipe, body="float")), LOAD, bodies=two)
    kept = refreshed(c.design, c.aboard)
    alone = Craft(dataclasses.replace(kept, bodies=(HULL,)))
    assert alone.items[0].mass_kg == pytest.approx(c.items[0].mass_kg)
    assert "float" in alone.aboard.faults[0][1]
    assert "weights.estimate" in [f.code for f in weights.assess(alone).findings]
    renamed = Craft(editing.set_field(Craft(kept), "bodies.1.name", "outrigger"))
    assert not renamed.aboard.faults


def test_an_estimate_is_as_unsure_as_its_material():
    c = craft(SKIN, WeightItem("p", 0.0, (0, 0, 0), recipe=Printed("hull", 1)), WeightItem("q", 0.0, (0, 0, 0), recipe=Printed("hull", 1)))
    assert c.items[0].share == pytest.approx((720 - 620) / 2 / 680)
    assert c.items[1].together == c.items[2].together == "printed parts"
    alone = with_weight(with_weight(c, 1, together="a"), 2, together="b")
    assert c.total.half_width > alone.total.half_width


def test_load_cases_count_what_differs():
    tank = WeightItem("tank", 0.0, (0.3, 0.0, 0.0), "data", recipe=Tank(0.2, 0.2, 0.1, 0.8))
    loads = (
        LoadCase("light", (LoadCount("load", 0.0), LoadCount("tank", 0.5))),
        LoadCase("heaped", (LoadCount("load", 3.0), LoadCount("cells", 2.0), LoadCount("tank", 9.0))),
    )
    c = craft(CELLS, LOAD, tank, cases=loads)
    light, heaped = c.in_case("light"), c.in_case("heaped")
    assert [round(i.mass_kg, 4) for i in c.items] == [1.5, 2.0, 3.1968]
    assert light.items[1].mass_kg == 0.0
    assert light.items[2].mass_kg == pytest.approx(0.2 * 0.2 * 0.04 * 999)  # half of what is listed
    assert light.items[2].at_m[2] == pytest.approx(0.02)
    assert heaped.items[1].mass_kg == 6.0
    assert heaped.items[0].mass_kg == 0.5
    assert heaped.items[2].mass_kg == pytest.approx(0.2 * 0.2 * 0.1 * 999)  # a tank is full at most


def test_cases_side_by_side_name_the_worst():
    loads = (
        LoadCase("empty", (LoadCount("load", 0.0),)),
        LoadCase("sinking", (LoadCount("load", 60.0),)),
        LoadCase("double", (LoadCount("load", 2.0),)),
    )
    c = craft(CELLS, LOAD, SKIN, cases=loads)
    result = cases.assess(c)
    assert [line.title for line in result.lines] == [cases.AS_LISTED, "empty", "sinking", "double"]
    assert result.lines[2].misses == ("floating at all",)
    assert result.worst["freeboard"] == 2
    assert result.findings[0].severity == "fails"
    fine = cases.assess(Craft(dataclasses.replace(c.design, cases=(loads[0], loads[2]))))
    lines = [line.float.afloat for line in fine.lines]
    assert fine.worst["mass"] == max(range(3), key=lambda n: lines[n].mass)
    assert fine.worst["freeboard"] == min(range(3), key=lambda n: lines[n].freeboard)
    assert fine.worst["gm"] == min(range(3), key=lambda n: lines[n].gm_transverse)
    assert [f.code for f in cases.assess(craft(LOAD)).findings] == ["cases.none"]
    assert result.findings[0].values["name"] == "sinking"
    assert lines[1].mass / (1000 * 1.0 * 0.4) == pytest.approx(fine.lines[1].draft, rel=0.01)  # a box: mass / (density L B)
    assert fine.worst["draft"] == fine.worst["mass"]


def test_edits_of_cases():
    c = Craft(listing.with_case(craft(CELLS, LOAD).design, "laden"))
    assert c.design.case == "laden"
    c = Craft(editing.set_field(c, "cases.0.counts.1", 2.5))
    assert c.items[1].mass_kg == pytest.approx(5.0)
    assert Craft(editing.set_field(c, "cases.0.counts.1", None)).items[1].mass_kg == pytest.approx(2.0)
    with pytest.raises(InvalidInput, match="no such weight"):
        editing.set_field(c, "cases.0.counts.9", 1.0)
    with pytest.raises(InvalidInput):
        editing.set_field(c, "cases.0.counts.1", -2.0)
    renamed = editing.set_field(c, "cases.0.name", "full")
    assert (renamed.case, renamed.cases[0].name) == ("full", "full")
    assert editing.set_field(c, "weights.1.name", "catch").cases[0].counts[0].item == "catch"
    copy = listing.with_case_copied(c.design, 0)
    assert [n.name for n in copy.cases] == ["laden", "laden 2"]
    gone = listing.without_case(c.design, 0)
    assert (gone.cases, gone.case) == ((), "")


def test_many_lines_at_once():
    c = craft(CELLS, LOAD, SKIN)
    assert [w.name for w in done(c, "weights.many.remove", lines=[0, 2]).weights] == ["load"]
    assert [w.group for w in done(c, "weights.many.group", lines=[0, 1], to="ballast").weights] == ["ballast", "ballast", "structure"]
    assert [w.on for w in done(c, "weights.many.off", lines=[1]).weights] == [True, False, True]
    assert done(c, "weights.many.duplicate", lines=[0]).weights[-1].name == "cells 2"
    for lines in ([], [7], ["x"], [-1]):
        with pytest.raises(InvalidInput):
            done(c, "weights.many.remove", lines=lines)
    with pytest.raises(InvalidInput):
        done(c, "weights.many.group", lines=[0], to="toys")


def test_own_materials():
    c = Craft(listing.with_material(craft(LOAD).design, "Larch, dry"))
    c = Craft(editing.set_field(c, "materials.0.density", 600.0))
    own = c.design.materials[0]
    assert (own.code, own.density) == ("larch_dry", 600.0)
    assert own.low < 600 < own.high
    c = Craft(dataclasses.replace(c.design, weights=(WeightItem("keel", 0.0, (0, 0, 0), recipe=Block(1.0, 0.1, 0.1, own.code)),)))
    assert c.items[0].mass_kg == pytest.approx(6.0)
    with pytest.raises(InvalidInput, match="keel is made of it"):
        listing.without_material(c.design, 0)
    with pytest.raises(InvalidInput):
        editing.set_field(c, "materials.0.density", 0.0)


@pytest.mark.parametrize("target", [2.5, 3.2, 4.0, 5.5])
def test_each_way_takes_off_what_it_says(target):
    """Put in as a real change, a way that reaches the target does, and weighs what it said."""
    printed = WeightItem("print", 0.0, (0.0, 0.0, 0.0), "data", group="structure", recipe=Printed("", 4, 0.00045, 4, 0.0002, 0.0))
    c = craft(CELLS, LOAD, printed, SKIN, brief=Brief("model", target, 0.02, 2.0, 0.01))
    ways = lightening.lightenings(c)
    assert ways
    for way in ways:
        after = Craft(lightening.apply(c, way.path))
        assert c.total.mass - after.total.mass == pytest.approx(way.saved)
        assert way.reaches == (after.total.mass <= target + 1e-9)
    with pytest.raises(InvalidInput):
        lightening.apply(c, "weights.0.name")


def test_nothing_has_to_go_when_the_target_is_met():
    assert lightening.lightenings(craft(LOAD)) == ()
    assert lightening.lightenings(craft()) == ()


def test_a_weight_outside_the_boat_is_allowed_and_said():
    c = craft(LOAD, WeightItem("outboard", 1.0, (-0.1, 0.0, 0.1), "weighed"))
    finding = next(f for f in weights.assess(c).findings if f.code == "weights.outside")
    assert finding.values["names"] == "outboard"
    assert "weights.outside" not in [f.code for f in weights.assess(craft(LOAD)).findings]


def test_the_unaccounted_line_makes_mass_and_centre_as_weighed():
    readings = WeighIn(scale_kg=0.001, aft_kg=2.2, fore_kg=1.9, aft_x_m=0.2, fore_x_m=0.9)
    c = craft(CELLS, LOAD, weigh_in=readings)
    result = weigh_in.assess(c)
    assert {code for code, _, design in result.corrections if design} == {"unaccounted", "factor"}
    after = Craft(weigh_in.corrected(c, "unaccounted"))
    assert after.total.mass == pytest.approx(4.1)
    assert after.total.centre[0] == pytest.approx((2.2 * 0.2 + 1.9 * 0.9) / 4.1)
    assert after.total.centre[2] == pytest.approx(c.total.centre[2])
    assert after.design.weights[-1].name == weigh_in.UNACCOUNTED


def test_the_factor_goes_to_what_was_not_weighed():
    c = craft(CELLS, LOAD, SKIN, weigh_in=WeighIn(mass_kg=9.0))
    after = Craft(weigh_in.corrected(c, "factor"))
    assert after.total.mass == pytest.approx(9.0)
    assert after.items[0].mass_kg == 1.5  # weighed
    assert after.items[1].mass_kg / 2.0 == pytest.approx(after.items[2].mass_kg / c.items[2].mass_kg)
    assert after.design.weights[2].recipe == SKIN.recipe
    edge = craft(CELLS, LOAD, weigh_in=WeighIn(edge_x_m=0.7))
    assert weigh_in.assess(edge).corrections == ()  # without a mass there is nothing to add
    with pytest.raises(InvalidInput, match="no all-up mass"):
        weigh_in.corrected(edge, "unaccounted")
    light = craft(CELLS, LOAD, weigh_in=WeighIn(mass_kg=3.0))
    with pytest.raises(InvalidInput, match="nothing is missing"):
        weigh_in.corrected(light, "unaccounted")


@pytest.mark.parametrize(
    ("readings", "code"),
    [
        (WeighIn(), "weigh_in.none"),
        (WeighIn(mass_kg=3.5), "weigh_in.agrees"),
        (WeighIn(mass_kg=3.5 * 2.2046), "weigh_in.unit"),
        (WeighIn(mass_kg=4.8), "weigh_in.off"),
        (WeighIn(aft_kg=2.3, fore_kg=1.2, aft_x_m=0.2, fore_x_m=0.75), "weigh_in.swapped"),
        (WeighIn(aft_kg=1.0, fore_kg=1.0, aft_x_m=0.9, fore_x_m=0.2), "weigh_in.contradiction"),
    ],
)
def test_what_the_weigh_in_says(readings, code):
    assert code in [f.code for f in weigh_in.assess(craft(CELLS, LOAD, weigh_in=readings)).findings]
    assert weigh_in.assess(craft(weigh_in=readings)).findings[0].code == "weigh_in.no_list"
