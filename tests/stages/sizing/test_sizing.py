"""Sizing solved backwards: closed forms, the answer put back, limits that contradict."""

import dataclasses
import math

import pytest

from tests.deeds import done
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import Box
from yarekeel.core.geometry.families.pipe_raft import PipeRaft
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.demo.boats import dabchick, moorhen, reedwarden, wagtail
from yarekeel.stages.afloat.forced import rail_at
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.design.limits import asked_of
from yarekeel.stages.design.resizing import scaled
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import at_rest, judge
from yarekeel.stages.sizing import sizing, stock
from yarekeel.stages.sizing.need import Need, starts
from yarekeel.units import fill

WITHIN = 1e-3


def box(freeboard: float = 0.10, gm: float = 0.0, mass: float = 120.0, **more) -> Design:
    """A box 2 x 0.6 x 0.3 m with all its mass bought, low in the middle."""
    return Design(
        "Box",
        Water(density_kg_m3=1000.0),
        Brief("model", 500.0, freeboard, 2.0, gm, 0.1, **more),
        (Body("hull", Box(2.0, 0.6, 0.3)),),
        (WeightItem("Cargo", mass, (1.0, 0.0, 0.05)),),
    )


def answered(design: Design, path: str) -> float:
    found = sizing.solve(Craft(design), path)
    assert found.answer is not None, [fill(f.sentence, f.values) for f in found.findings]
    return found.answer.value


def test_a_box_solved_for_length_beam_and_depth_by_hand():
    """Freeboard asked 0.1: T = D - 0.1 = 0.2, so L = M / (rho B T), B = M / (rho L T); and D = T + 0.1 with T = M / (rho L B)."""
    assert answered(box(), "bodies.0.shape.length_m") == pytest.approx(120 / (1000 * 0.6 * 0.2), rel=WITHIN)
    assert answered(box(), "bodies.0.shape.beam_m") == pytest.approx(120 / (1000 * 2.0 * 0.2), rel=WITHIN)
    assert answered(box(), "bodies.0.shape.depth_m") == pytest.approx(0.1 + 120 / 1200, rel=WITHIN)


def test_a_box_solved_for_its_gm_by_hand():
    """KB + BM - KG = T/2 + B3 L / 12 V - KG with T = M / (rho L B); solved for B by halving here, by the mesh there. The cargo keeps
    its height; its place athwart is the middle."""
    wanted = 0.30
    design = box(freeboard=0.0, gm=wanted, mass=240.0)
    low, high = 0.3, 1.2
    for _ in range(80):
        b = (low + high) / 2
        t = 240 / (1000 * 2.0 * b)
        gm = t / 2 + b**3 * 2.0 / 12 / 0.24 - 0.05
        low, high = (b, high) if gm < wanted else (low, b)
    assert answered(design, "bodies.0.shape.beam_m") == pytest.approx(low, rel=WITHIN)


def test_a_twin_of_half_sunk_pipes_by_hand():
    """Two pipes, each half under: 2 x pi r2 L / 2 = V, so L = M / (rho pi r2); the greatest draft asked is r."""
    raft = Body("pipes", PipeRaft("mm-110", 2, 1.5, 0.4))
    r = (raft.shape.build().bounds[1][2] - raft.shape.build().bounds[0][2]) / 2
    mass = 1000 * math.pi * r**2 * 1.8
    design = dataclasses.replace(
        box(freeboard=0.0, most_draft_m=float(r)), bodies=(raft,), weights=(WeightItem("Deck and cargo", mass, (0.75, 0.0, 2 * float(r))),)
    )
    assert answered(design, "bodies.0.shape.length_m") == pytest.approx(1.8, rel=2e-3)  # facets of the pipe


def test_whole_boat_scale_with_a_skin_against_a_hand_iteration():
    """A plywood box that weighs what its surface does: freeboard asked in full. By hand: s3 V0 share under = (cargo + skin s2) / rho,
    with the freeboard s D - T = f."""
    skin = Skin("", "all", 0.006, coats=0, layers_outside=0)
    design = dataclasses.replace(
        box(freeboard=0.15),
        weights=(WeightItem("Cargo", 100.0, (1.0, 0.0, 0.05)), WeightItem("Skin", 0.0, (0, 0, 0), recipe=skin, group="structure")),
    )
    area, ply = 2 * (2 * 0.6 + 2 * 0.3 + 0.6 * 0.3), 0.006 * 500
    low, high = 0.4, 2.5
    for _ in range(80):
        s = (low + high) / 2
        draft = (100 + area * ply * s**2) / (1000 * 1.2 * s**2)
        low, high = (s, high) if 0.3 * s - draft < 0.15 else (low, s)
    assert answered(design, sizing.SCALE) == pytest.approx(low, rel=WITHIN)


@pytest.mark.parametrize("make", [wagtail, reedwarden, moorhen, dabchick])
def test_the_answer_put_back_as_a_boat_meets_what_binds(make):
    """As the button does it: the boat that comes of it has the binding figure to a thousandth, and misses nothing."""
    craft = Craft(make())
    for u in sizing.unknowns_of(craft)[:4]:
        found = sizing.solve(craft, u.path)
        if found.answer is None:
            assert found.findings[0].code in ("size.conflict", "size.never", "size.no_effect", "size.cannot")
            continue
        after = Craft(done(craft, "answer.resize", unknown=u.path, value=found.answer.value))
        again = judge(Figures(after), found.limits)
        assert min(again.margins.values()) >= -1e-9
        limit = next(w for w in found.limits if w.code == found.binding)
        at_an_end = min(abs(found.answer.value - e) for e in (u.low, u.high)) < 1e-6 * u.high
        if not at_an_end and limit.asked > 0:
            assert again.values[limit.code] == pytest.approx(limit.asked, rel=WITHIN)


def test_a_scale_of_1_2_carries_1_728_and_its_skin_weighs_1_44():
    """Lengths 1.2, areas 1.44, volumes 1.728 (geometry)."""
    one, larger = sizing.side_by_side(Craft(wagtail()), (1.0, 1.2))
    assert larger.area / one.area == pytest.approx(1.44, rel=1e-9)
    assert larger.volume / one.volume == pytest.approx(1.728, rel=1e-9)
    assert larger.built_mass / one.built_mass == pytest.approx(1.44, rel=1e-6)
    assert larger.bought_mass == pytest.approx(one.bought_mass, rel=1e-12)
    solid = [next(i.mass_kg for i in Craft(scaled(moorhen(), s)).items if i.name == "Bow foam") for s in (1.0, 1.2)]
    assert solid[1] / solid[0] == pytest.approx(1.728, rel=1e-6)  # a solid part goes by its volume
    with pytest.raises(InvalidInput, match=r"between 0.05 and 20"):
        sizing.side_by_side(Craft(wagtail()), (0.0,))


def test_a_bought_part_that_has_no_room_any_more_is_named():
    small = Craft(reedwarden())
    half = sizing.side_by_side(small, (0.4,))[0]
    assert "Battery, 4 cells" in half.outside
    assert sizing.side_by_side(small, (1.0,))[0].outside == ()


def test_limits_that_contradict_are_named_with_by_how_much():
    """A freeboard and a draft that no depth gives: T is 0.1 whatever the depth, so a draft of 0.05 is never kept; and a beam
    that must be small for the car and large for GM."""
    never = sizing.solve(Craft(box(most_draft_m=0.05)), "bodies.0.shape.depth_m")
    assert never.answer is None
    assert never.findings[0].code == "size.never"
    assert fill(never.findings[0].sentence, never.findings[0].values).startswith("The nearest it comes is 100\N{NO-BREAK SPACE}mm")
    both = sizing.solve(Craft(box(freeboard=0.0, gm=0.5, most_beam_m=0.5)), "bodies.0.shape.beam_m")
    assert both.answer is None
    assert both.findings[0].code == "size.conflict"
    words = fill(both.findings[0].title, both.findings[0].values)
    assert "GM" in words
    assert "beam" in words.lower()


def test_a_narrow_stretch_between_two_limits_is_found():
    """GM asks for a beam of at least b, the car for at most 1.004 b: no value that is looked at first lies between."""
    least = answered(box(freeboard=0.0, gm=0.30, mass=240.0), "bodies.0.shape.beam_m")
    found = answered(box(freeboard=0.0, gm=0.30, mass=240.0, most_beam_m=1.004 * least), "bodies.0.shape.beam_m")
    assert found == pytest.approx(least, rel=WITHIN)


def test_a_draft_deeper_than_the_hull_is_said_to_ask_nothing():
    found = sizing.solve(Craft(box(most_draft_m=0.5)), "bodies.0.shape.beam_m")
    assert [f.code for f in found.findings] == ["size.answer", "size.idle"]
    assert "300" in fill(found.findings[1].sentence, found.findings[1].values)


def test_an_unknown_without_effect_and_a_boat_without_a_load():
    craft = Craft(
        dataclasses.replace(
            box(freeboard=0.5, mass=120.0),
            bodies=(Body("hull", Box(2.0, 0.6, 0.3)), Body("fin", Box(0.1, 0.02, 0.02), (0, 0, 0.1), role="fairing")),
        )
    )
    nothing = sizing.solve(craft, "bodies.1.shape.depth_m")
    assert nothing.answer is None
    assert nothing.findings[0].code in ("size.no_effect", "size.never")
    with pytest.raises(InvalidInput):
        sizing.solve(Craft(dataclasses.replace(box(), weights=())), sizing.SCALE)
    with pytest.raises(InvalidInput, match="Choose what may change"):
        sizing.solve(craft, "name")


def test_limits_left_open_are_not_asked_and_bad_ones_are_refused():
    assert [w.code for w in asked_of(Brief())] == ["freeboard", "trim", "heel", "gm", "mass", "thrust"]
    assert "draft" in [w.code for w in asked_of(Brief(most_draft_m=0.1))]
    with pytest.raises(InvalidInput, match="Greatest draft must lie between"):
        Brief(most_draft_m=0.0)
    bed = judge(Figures(Craft(box(bed_width_m=0.25))), at_rest(Craft(box(bed_width_m=0.25))))
    assert bed.values["bed_width"] == pytest.approx(0.6)
    assert bed.margins["bed_width"] < 0


def test_pipes_off_the_shelf_by_hand():
    """Four pipes of 1.2 m carry 20 kg no deeper than their axes: 4 x pi r2 1.2 / 2 x 1000 >= 20, so r >= 51.5 mm: outside
    diameters of 103 mm and more, the next being 110 mm (ISO 161-1)."""
    raft = Body("raft", PipeRaft("mm-160", 4, 1.2, 0.4))
    design = dataclasses.replace(
        box(freeboard=0.0),
        bodies=(raft,),
        weights=(WeightItem("Cargo", 20.0, (0.6, 0.0, 0.1)),),
        brief=Brief("model", 500.0, 0.0, 2.0, 0.0, 0.1, least_reserve=1.0),
    )
    pipes = stock.shelves(Craft(design))[0]
    assert pipes.pick is not None
    assert pipes.steps[pipes.pick].value == "mm-110"
    kept = [s.margin is not None and s.margin >= 0 for s in pipes.steps]
    assert kept == sorted(kept)  # every larger pipe does it too
    after = Craft(done(Craft(design), "answer.stock", path="bodies.0.shape.pipe", size="mm-110"))
    assert judge(Figures(after), pipes.limits).margins["reserve"] >= 0


def test_the_thickest_sheet_that_is_light_enough():
    """Skin of t on a box of 3.96 m2 weighs 3.96 t 500 kg; 100 kg of cargo and a target of 115 kg leave 15 kg: 7.58 mm, so 6 mm."""
    skin = Skin("", "all", 0.003, coats=0, layers_outside=0)
    lines = (WeightItem("Cargo", 100.0, (1.0, 0.0, 0.05)), WeightItem("Skin", 0.0, (0, 0, 0), recipe=skin, group="structure"))
    design = dataclasses.replace(box(freeboard=0.0), weights=lines, brief=Brief("model", 115.0, 0.0, 2.0, 0.0, 0.1))
    area = 2 * (2 * 0.6 + 2 * 0.3 + 0.6 * 0.3)
    assert area * 0.006 * 500 < 15 < area * 0.009 * 500
    sheets = stock.shelves(Craft(design))[0]
    assert sheets.pick is not None
    assert sheets.steps[sheets.pick].value == 0.006
    assert stock.shelves(Craft(box())) == ()
    with pytest.raises(InvalidInput, match="No such size is sold"):
        done(Craft(design), "answer.stock", path=sheets.path, size="0.007")


NEEDS = (Need("model", 1.2, 0.060, 0.2, 5.0), Need("people", 150.0, 0.16, 75.0, 12.0), Need("model", 0.4))


@pytest.mark.parametrize("need", NEEDS)
def test_three_boats_of_different_families_each_meet_the_need(need):
    """Put to the water with the weight on the rail as one more item on the list: two ways to the lean."""
    offered = starts(need)
    assert len({type(s.sized.now.design.bodies[0].shape) for s in offered if s.sized.now}) == 3
    for start in offered:
        assert start.design is not None, fill(start.finding.sentence, start.finding.values)
        craft = Craft(start.design)
        a = craft.rest()
        assert sum(i.mass_kg for i in craft.items) == pytest.approx(need.load + craft.items[0].mass_kg)
        assert a.freeboard >= start.design.brief.least_freeboard_m - 1e-6
        assert a.mass <= start.design.brief.target_mass_kg
        if need.draft:
            assert -a.attitude.origin_height <= need.draft * 1.001
        if need.rail and need.lean_deg:
            on_rail = WeightItem("On the rail", need.rail, rail_at(craft, -1.0))
            leaning = Craft(dataclasses.replace(start.design, weights=(*start.design.weights, on_rail))).rest()
            assert abs(math.degrees(leaning.attitude.heel)) <= need.lean_deg * (1 + WITHIN)


def test_a_need_that_no_boat_meets_says_what_would_be_needed():
    for start in starts(Need("model", 5.0, 0.02, 0.2, 1.0)):
        assert start.design is None
        assert "you asked for 20" in fill(start.finding.sentence, start.finding.values)
    with pytest.raises(InvalidInput, match="between 5 g and 2000 kg"):
        Need("model", 0.0)
