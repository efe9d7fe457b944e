"""A boat's figures by their names, against sums by hand."""

import dataclasses
import math

import pytest

from tests.stages.rafts import raft
from yarekeel.core.errors import InvalidInput, Unsolved
from yarekeel.core.propulsion.drive import Drive, Motor
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import SMALLEST
from yarekeel.stages.judging.figures import FIGURES, Figures
from yarekeel.stages.judging.report import STAGES, SUFFIX, report

K = math.sqrt(0.2**2 + (20 / 500) ** (2 / 3) / 6)
"""m: the radius of gyration of two cubes of 20 kg of plywood, 0.2 m off the middle (parallel axes, a cube's own is a side squared / 6)."""


def planks() -> Craft:
    """An open box 2 x 0.6 x 0.3 m with 20 kg of plywood of 500 kg/m3 at each side, 0.2 m out and 0.1 m up, and a motor of 12 N."""
    sides = tuple(
        WeightItem(f"Planks {n}", 20.0, (1.0, y, 0.1), material="ply_okoume", place_spread_m=0.0, spread=0.0)
        for n, y in enumerate((0.2, -0.2))
    )
    return Craft(dataclasses.replace(raft(), weights=sides, drive=Drive((Motor("Motor", 12.0, (0.0, 0.0, 0.04)),))))


def test_every_figure_that_a_script_relies_on_by_hand():
    found = {s.stage: s.by_name() for s in report(planks())}
    draft = 40 / 1000 / (2 * 0.6)
    gm = draft / 2 + 0.6**2 / 12 / draft - 0.1
    # The sheer meets the water when a triangle from it to the bottom holds the section's 0.02 m2: 2 * 0.02 / 0.3 wide.
    sheer = math.degrees(math.atan2(0.3, 2 * 0.02 / 0.3))
    periods = [2 * math.pi * K * math.sqrt(1 + added) / math.sqrt(9.80665 * gm) for added in (0.1, 0.2)]  # common practice
    assert found["float"]["freeboard_min_m"] == pytest.approx(0.3 - draft, rel=1e-9)
    assert found["float"]["draft_m"] == pytest.approx(draft, rel=1e-9)
    assert found["float"]["adds_to_rim_kg"] == pytest.approx(360 - 40, rel=1e-9)
    assert found["float"]["swamped_carries_kg"] == pytest.approx(40 * (1000 / 500 - 1), rel=1e-9)
    assert found["stability"]["gm_m"] == pytest.approx(gm, rel=1e-9)
    assert found["stability"]["downflooding_deg"] == pytest.approx(sheer, abs=0.01)
    assert found["stability"]["range_deg"] == pytest.approx(sheer, abs=0.01)  # an open boat's ends where the water comes in
    assert found["stability"]["roll_period_s"] == pytest.approx(sum(periods) / 2, rel=1e-9)
    assert found["drive"]["thrust_to_weight"] == pytest.approx(12 / (40 * 9.80665), rel=1e-9)
    assert found["drive"]["thrust_line_above_cg_m"] == pytest.approx(0.04 - 0.1, rel=1e-9)


def test_one_stage_is_told_alone_and_a_wrong_one_is_refused():
    (told,) = report(planks(), "stability")
    assert told.stage == "stability"
    assert any(f.code == "test.wind" for f in told.findings)
    with pytest.raises(InvalidInput, match="brief, shape, weights"):
        report(planks(), "keel")


def test_a_boat_that_sinks_has_no_rest_and_says_so():
    heavy = Craft(dataclasses.replace(raft(), weights=(WeightItem("Stone", 400.0, (1.0, 0.0, 0.1)),)))
    told = {s.stage: s for s in report(heavy)}
    assert list(told) == list(STAGES)
    assert told["float"].by_name()["freeboard_min_m"] is None
    assert told["stability"].by_name()["range_deg"] is None
    assert any(f.code == "float.sinks" for f in told["float"].findings)
    assert told["weights"].by_name()["mass_kg"] == pytest.approx(400.0)


def test_a_stage_that_cannot_be_worked_out_spoils_no_other():
    empty = Craft(dataclasses.replace(raft(), weights=()))
    told = {s.stage: s for s in report(empty)}
    assert told["shape"].by_name()["volume_m3"] == pytest.approx(0.36, rel=1e-9)
    assert told["float"].by_name()["draft_m"] is None
    assert any(f.severity == "fails" for f in told["float"].findings)


def test_a_figure_of_any_kind_can_be_asked_for():
    """A margin is counted in something for every unit that a figure has, and a report names it."""
    kinds = {row.kind for row in FIGURES}
    assert kinds <= set(SMALLEST)
    assert kinds <= set(SUFFIX)


def test_a_stage_that_fails_says_why_and_the_others_stand(monkeypatch):
    def fails(_):
        raise Unsolved("No balance was found in 60 tries.")

    monkeypatch.setitem(STAGES, "drive", fails)
    told = {s.stage: s for s in report(planks())}
    (finding,) = told["drive"].findings
    assert finding.severity == "fails"
    assert finding.values["why"] == "No balance was found in 60 tries."
    assert told["drive"].by_name()["thrust_to_weight"] is not None  # a figure is no worse for it
    assert told["stability"].by_name()["gm_m"] is not None


def test_the_band_of_a_roll_is_from_water_that_swings_along_and_from_sizes():
    figures = Figures(planks())
    draft = 40 / 1000 / (2 * 0.6)
    gm = draft / 2 + 0.6**2 / 12 / draft - 0.1
    short, long = (2 * math.pi * K * math.sqrt(1 + added) / math.sqrt(9.80665 * gm) for added in (0.1, 0.2))
    # Of each cube's own inertia 80 % may be more or less: k² by its share of the mass, two that are independent.
    unsure = math.sqrt(2) * 0.5 * 0.8 * (20 / 500) ** (2 / 3) / 6 / (2 * K**2)
    by_hand = math.hypot((long - short) / 2, unsure * (long + short) / 2)
    assert figures.half_width("roll_period") == pytest.approx(by_hand, rel=1e-6)
