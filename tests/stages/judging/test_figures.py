"""The record of figures, load cases and comparisons against sums by hand."""

import dataclasses
import math

import pytest
from scipy.optimize import brentq

from tests.core.test_righting import exact_box_arm
from tests.stages.rafts import raft
from tests.stages.stability.test_stability import OFF, heavy_raft
from yarekeel.core.geometry.families import Box
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, LoadCase, LoadCount
from yarekeel.stages.design.limits import asked_of
from yarekeel.stages.judging import cases, chances, compare, criteria
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import judge
from yarekeel.stages.judging.steadiness import steadiness

ALL_UP = WeightItem("all", 40.0, (1.0, 0.0, 0.1), "weighed", spread=0.10)


def evenly(**changes):
    """The raft of 2 x 0.6 x 0.3 m with 40 kg +- 10 % amidships, 0.1 m up."""
    return dataclasses.replace(raft(), **{"weights": (ALL_UP,), **changes})


def test_a_printed_part_is_one_of_a_pair_and_the_largest_there_is():
    """A pair of boxes 0.12 m wide, 0.3 m off the middle, and one block in the middle: each is printed by itself."""
    pair = Body("float", Box(0.5, 0.12, 0.1), at_m=(0.4, 0.3, 0.2), mirrored=True, role="float")
    block = Body("block", Box(0.7, 0.08, 0.05), at_m=(0.2, 0.0, 0.3))
    one = Figures(Craft(evenly(bodies=(pair, block))))
    assert (one["part_length"], one["part_width"], one["part_height"]) == pytest.approx((0.7, 0.12, 0.1))
    assert (one["length"], one["beam"], one["depth"]) == pytest.approx((0.7, 0.72, 0.15))
    close = Figures(Craft(evenly(bodies=(dataclasses.replace(pair, at_m=(0.4, 0.03, 0.2)),))))  # they run into each other
    assert (close["beam"], close["part_width"]) == pytest.approx((0.18, 0.12))


@pytest.mark.parametrize("mass", [5.0, 20.0])
def test_the_lean_with_a_weight_on_the_rail_by_clipping_the_section(mass):
    """The heel at which the exact arm of the laden box is nothing with G where the weight has drawn it."""
    brief = dataclasses.replace(raft().brief, rail_mass_kg=mass)
    found = Figures(Craft(evenly(brief=brief)))["rail_lean"]
    whole = 40 + mass
    up, out = (40 * 0.1 + mass * 0.3) / whole, mass * 0.3 / whole

    def left(heel: float) -> float:
        return exact_box_arm(0.6, 0.3, whole / 1200, up, heel) - out * math.cos(heel)

    assert found == pytest.approx(brentq(left, 1e-6, 0.8), rel=1e-3)
    assert Figures(Craft(evenly()))["rail_lean"] is None  # not asked for


def test_bands_of_figures_by_hand():
    """4 kg more draw 4 / 1200 m; GM = T / 2 + B2 / (12 T) - KG changes by its slope in T (JCGM 100, eq. 10),
    and with KG, which a ruler gives to 2.5 % of the depth."""
    figures, draft = Figures(Craft(evenly())), 40 / 1200
    assert figures.half_width("mass") == pytest.approx(4.0, rel=1e-6)
    assert figures.half_width("freeboard_min") == pytest.approx(4 / 1200, rel=1e-4)
    assert figures.half_width("gm") == pytest.approx(math.hypot(abs(0.5 - 0.6**2 / 12 / draft**2) * 4 / 1200, 0.025 * 0.3), rel=1e-3)
    assert figures.half_width("wetted") == 0.0  # none is known


def test_near_is_within_the_limit_by_less_than_the_band():
    """Freeboard 266.7 +- 3.3 mm: 264 mm asked is near, 250 holds, 270 fails."""
    for asked, stands in ((0.264, "near"), (0.250, "holds"), (0.270, "fails")):
        brief = Brief("model", 60.0, asked, 2.0, 0.05)
        craft = Craft(evenly(brief=brief))
        judged = judge(Figures(craft), asked_of(brief), unsure=True)
        assert ("freeboard" in judged.misses) == (stands == "fails")
        assert ("freeboard" in judged.nearly) == (stands == "near")


def laden(*names_and_counts, **brief):
    loads = tuple(LoadCase(name, (LoadCount("all", count),)) for name, count in names_and_counts)
    return cases.assess(Craft(evenly(cases=loads, brief=dataclasses.replace(raft().brief, target_mass_kg=400.0, **brief))))


def test_load_cases_by_hand():
    found = laden(("double", 2.0), ("sunk", 10.0), ("ashore", 0.0))
    assert [line.title for line in found.lines] == ["As listed", "double", "sunk", "ashore"]
    assert [line.draft for line in found.lines[:2]] == pytest.approx([40 / 1200, 80 / 1200])
    assert found.lines[3].float is None
    assert found.worst["freeboard"] == found.worst["mass"] == found.worst["draft"] == 2  # it sinks
    (finding,) = found.findings
    assert (finding.code, finding.severity) == ("cases.some", "fails")
    assert (finding.values["n"], finding.values["all"], finding.values["name"]) == (1.0, 3.0, "sunk")


def test_the_worst_load_is_named_where_none_sinks():
    found = laden(("triple", 3.0), ("double", 2.0))
    assert (found.worst["mass"], found.worst["draft"], found.worst["freeboard"]) == (1, 1, 1)
    assert "trim" not in found.worst  # all lie level
    assert [(f.code, f.severity, f.values["n"]) for f in found.findings] == [("cases.all", "holds", 3.0)]
    missing = laden(("triple", 3.0), ("double", 2.0), least_freeboard_m=0.21)  # 0.3 - 120 / 1200 is 0.2
    assert missing.findings[0].values["name"] == "triple"
    assert missing.findings[0].values["misses"] == "freeboard"
    assert [f.code for f in laden().findings] == ["cases.none"]


def test_a_load_is_judged_against_the_whole_brief():
    """Two loads of 40 kg weigh 80 kg against 60 kg asked, though they float within every other limit."""
    found = cases.assess(Craft(evenly(cases=(LoadCase("double", (LoadCount("all", 2.0),)),))))
    assert found.lines[0].misses == ()
    assert found.lines[1].misses == ("all-up mass",)


def test_differences_between_revisions_are_matched_by_name():
    one = evenly(weights=(ALL_UP, WeightItem("tin", 1.0, (0.5, 0.0, 0.1)), WeightItem("tin", 2.0, (0.6, 0.0, 0.1))))
    moved = dataclasses.replace(one.weights[2], at_m=(0.7, 0.0, 0.1))
    two = dataclasses.replace(one, weights=(one.weights[0], one.weights[1], moved, WeightItem("sack", 3.0, (0.2, 0.0, 0.1))))
    found = compare.assess(Craft(one), Craft(two))
    said = {d.path: (d.before, d.after) for d in found.changes}
    assert said["weights.tin (2).at_m"] == ((0.6, 0.0, 0.1), (0.7, 0.0, 0.1))
    assert said["weights.sack.mass_kg"] == (None, 3.0)
    assert not any(path.startswith(("weights.all", "weights.tin.")) or path.endswith(".name") for path in said)
    assert found.before.draft > 43 / 1200  # down by the stern a little
    assert found.after is not None
    empty = compare.assess(Craft(evenly(weights=())), Craft(one))
    assert empty.before is None
    assert empty.after is not None


def test_how_a_chance_stands():
    """Nineteen in twenty is sure, and even odds are doubtful (common practice)."""
    assert [chances.severity_of(s) for s in (1.0, 0.95, 0.94, 0.5, 0.49, 0.0)] == ["holds", "holds", "near", "near", "fails", "fails"]


def test_own_limits_are_those_on_tipping_that_are_asked_and_done():
    """GM, arm and range by themselves; of the tests only what is done (the rail's, with a weight named for it) and has a limit."""
    brief = dataclasses.replace(raft().brief, least_peak_m=0.05, least_range_deg=40.0, rail_mass_kg=10.0, rail_heel_deg=12.0)
    found = criteria.assess(Figures(Craft(heavy_raft(brief=brief, tipping=OFF))))
    assert [o.limit.code for o in found.own if not o.limit.code.startswith("test.")] == ["gm", "peak", "range"]
    assert "test.rail" in [o.limit.code for o in found.own]
    assert not {"test.wind", "test.turn", "test.tow"} & {o.limit.code for o in found.own}
    assert next(o.has for o in found.own if o.limit.code == "gm") == pytest.approx(0.175, abs=1e-9)


def test_area_is_taken_to_where_water_comes_in_if_that_is_before_forty_degrees():
    """An open raft of 180 kg has its rim under at atan(0.15 / 0.3), 26.6 degrees."""
    found = criteria.assess(Figures(Craft(dataclasses.replace(heavy_raft(), bodies=raft().bodies))))
    assert found.flooding == pytest.approx(math.atan(0.15 / 0.3), abs=1e-3)
    assert criteria.assess(Figures(Craft(heavy_raft()))).flooding == pytest.approx(math.radians(40))


def test_a_rim_under_in_a_test_is_missed_by_its_share_of_the_freeboard():
    """38 kg on the rail of an open raft of 250 kg: how far the rim is under, over the freeboard that is asked."""
    brief = dataclasses.replace(raft().brief, rail_mass_kg=38.0, least_freeboard_m=0.05)
    heavy = (WeightItem("all up", 250.0, (1.0, 0.0, 0.05), "weighed"),)
    craft = Craft(dataclasses.replace(heavy_raft(brief=brief, tipping=OFF), bodies=raft().bodies, weights=heavy))
    found = steadiness(craft)
    tested = next(t for t in found.tests if t.code == "test.rail")
    assert tested.left < 0
    assert found.margins["test.rail"] <= tested.left / 0.05
    assert found.margins["test.rail"] == pytest.approx(tested.left / 0.05, abs=0.02)
    assert found.least[1] == "test.rail"


def test_a_boat_of_a_few_grams_is_compared_too():
    light = evenly(weights=(WeightItem("sail", 0.4, (1.0, 0.0, 0.1), "weighed"),))
    found = compare.assess(Craft(light), Craft(light))
    assert found.before is not None
    assert found.after is not None
    assert found.changes == ()
