"""The use cases: verdicts against the brief, what mends them, and that a fix does what it says."""

import dataclasses
import math

import pytest

from tests.cases import rated
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import Box, TwinHull
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import reedwarden, wagtail
from yarekeel.stages.afloat import afloat
from yarekeel.stages.brief import brief
from yarekeel.stages.changes.ways.ballast_at import mass_that_levels
from yarekeel.stages.design import editing
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design, with_value
from yarekeel.stages.drive import drive
from yarekeel.stages.fixes import fixes
from yarekeel.stages.fixes.correcting import as_found
from yarekeel.stages.judging import compare
from yarekeel.stages.shape import shape
from yarekeel.stages.stability import stability
from yarekeel.stages.trials import trials
from yarekeel.stages.trials.trials import FloatTest
from yarekeel.stages.underway import underway
from yarekeel.stages.weights import weights


def craft(*items: WeightItem, brief: Brief | None = None, deck: str = "decked", shape=None) -> Craft:
    return Craft(
        Design("test", Water(density_kg_m3=1000.0), brief or Brief(), (Body("hull", shape or Box(1.0, 0.4, 0.2), deck=deck),), items)
    )


def codes(findings) -> dict[str, str]:
    return {f.code: f.severity for f in findings}


LEVEL = WeightItem("all up", 30.0, (0.5, 0.0, 0.05), "weighed", place_spread_m=0.0)


def test_a_level_boat_holds_its_brief():
    got = codes(afloat.assess(craft(LEVEL)).findings)
    assert got == {"float.freeboard": "holds", "float.trim": "holds", "float.gm": "holds"}


def test_too_heavy_sinks_in_words_and_says_how_much_must_go():
    result = afloat.assess(craft(dataclasses.replace(LEVEL, mass_kg=100.0)))
    assert not result.floats
    sinks = result.findings[0]
    assert sinks.code == "float.sinks"
    assert sinks.values["over"] == pytest.approx(20.0)  # 100 kg on 80 litres, by hand
    assert sinks.values["scale"] == pytest.approx((100 / 80) ** (1 / 3) - 1)
    assert sinks.remedies


def test_loll_is_said_with_what_would_mend_it():
    result = afloat.assess(craft(WeightItem("all up", 30.0, (0.5, 0.0, 0.30), "weighed")))
    loll = next(f for f in result.findings if f.code in ("float.loll", "float.capsizes"))
    # GM = KB + BM - KG = 0.0375 + 0.16/(12 x 0.075) - 0.30, by hand
    assert loll.values["gm"] == pytest.approx(0.0375 + 0.4**2 / (12 * 0.075) - 0.30, rel=1e-6)
    assert loll.severity == "fails"
    lower = float(loll.values["lower"])
    mended = afloat.assess(craft(WeightItem("all up", 30.0, (0.5, 0.0, 0.30 - lower - 1e-4), "weighed")))
    assert "float.loll" not in codes(mended.findings)


def test_a_boat_that_nothing_rights_says_so():
    c = craft(WeightItem("all up", 30.0, (0.5, 0.0, 0.9), "weighed"))
    result = stability.assess(c)
    assert result.worse is not None
    assert not result.worse.rights
    assert result.worse.vanishing is None
    got = codes(result.findings)
    assert (got["stability.capsizes"], got["stability.no_arm"]) == ("fails", "fails")
    assert "stability.range" not in got
    assert codes(afloat.assess(c).findings)["float.capsizes"] == "fails"
    assert "float.gm" not in codes(afloat.assess(c).findings)  # GM upside down is no comfort


def test_a_small_boat_lolls_to_an_angle_that_the_curve_shares():
    # Where it rests the righting arm is nothing: the two solvers meet (equilibrium in three unknowns, curve at a held heel).
    c = craft(WeightItem("all up", 30.0, (0.5, 0.0, 0.218), "weighed"))
    at = afloat.assess(c).afloat
    assert at is not None
    assert at.is_lolling
    result = stability.assess(c)
    assert [round(h, 5) for h, stays in result.rests if stays and abs(h) < 1.2] == pytest.approx(
        [-abs(at.attitude.heel), abs(at.attitude.heel)], abs=2e-4
    )


def test_freeboard_under_the_brief_and_under_water():
    tall = Brief(least_freeboard_m=0.15)
    assert codes(afloat.assess(craft(LEVEL, brief=tall)).findings)["float.freeboard_short"] == "fails"
    awash = craft(dataclasses.replace(LEVEL, mass_kg=76.0, at_m=(0.54, 0.0, 0.05)), deck="open")
    found = next(f for f in afloat.assess(awash).findings if f.code == "float.rim_under")
    assert "over the rim" in found.sentence


@pytest.mark.parametrize("at", [(0.56, 0.0, 0.05), (0.47, 0.013, 0.06)])
def test_level_move_levels(at):
    c = craft(dataclasses.replace(LEVEL, mass_kg=24.0), WeightItem("battery", 6.0, at))
    move = afloat.level_move(c, 1)
    to = (at[0] + move.forward, at[1] + move.to_port, at[2])
    after = afloat.assess(Craft(with_value(c.design, "weights.1.at_m", to)))
    assert after.outputs is not None
    assert (after.outputs.trim, after.outputs.heel) == pytest.approx((0.0, 0.0), abs=1e-9)


def test_ballast_levels_or_has_no_answer():
    c = craft(dataclasses.replace(LEVEL, at_m=(0.53, 0.0, 0.05)))
    mass = mass_that_levels(c, 0.1)
    # Level needs the moments about amidships equal: 30 x 0.03 = m x 0.4, by hand
    assert mass == pytest.approx(30.0 * 0.03 / 0.4, rel=1e-6)
    assert mass_that_levels(c, 0.9) is None


def test_demo_boats_tell_the_story_meant():
    for design in (reedwarden(), wagtail()):
        got = codes(afloat.assess(Craft(design)).findings)
        assert "fails" not in got.values()
        assert stability.assess(Craft(design)).worse is not None
        assert weights.assess(Craft(design)).total is not None
    assert "caution.people_aboard" in codes(afloat.assess(Craft(wagtail())).findings)
    assert "caution.people_aboard" in codes(brief.assess(Craft(wagtail())).findings)
    assert "stability.downflooding" in codes(stability.assess(Craft(wagtail())).findings)


def test_drive_against_brief_and_battery():
    got = codes(drive.assess(Craft(rated())).findings)
    assert got["drive.thrust_to_weight"] == "holds"
    small = with_value(rated(), "drive.battery.capacity_ah", 0.5)
    assert codes(drive.assess(Craft(small)).findings)["drive.over_current"] == "fails"


def test_thrust_trim_by_moments():
    c = Craft(rated())
    r = underway.assess(c)
    boat = afloat.assess(c).afloat
    assert boat is not None
    # Moment of 12.8 N at the line's height under the centre of buoyancy over W GML (small trims), by hand
    lever = boat.buoyancy[2] - 0.020
    assert r.thrust_trim == pytest.approx(math.atan(12.8 * lever / (boat.mass * 9.80665 * boat.gm_longitudinal)), rel=1e-9)


def test_faceting_is_measured_not_assumed():
    assert shape.assess(craft(LEVEL)).faceting == 0.0  # a box has no curves to lose
    assert 0 < shape.assess(Craft(reedwarden())).faceting < 0.01


TEST = FloatTest("2026-05-01", mass_kg=31.0, draft_bow_m=0.082, draft_stern_m=0.073, heel_deg=0.0)


def test_trial_rows_and_what_explains_them():
    result = trials.assess(craft(LEVEL), TEST)
    # Bands by hand: 1 % of 30 kg is 0.75 mm of draft, with 1 mm of reading 1.25 mm; only the heel agrees.
    assert [r.inside for r in result.rows] == [False, False, False, True]
    assert result.rows[1].half_width == pytest.approx(0.00125, rel=1e-6)
    assert result.explanation is not None
    assert result.explanation.mass == pytest.approx(1000 * 0.4 * (0.082 + 0.073) / 2, rel=1e-9)


def test_rows_take_spread_and_reading_by_squares():
    row = trials.assess(craft(LEVEL), TEST).rows[0]
    assert row.half_width == pytest.approx(math.hypot(0.01 * 30.0, 0.002 * 30.0), rel=1e-6)


@pytest.mark.parametrize(
    "reading",
    [TEST, dataclasses.replace(TEST, mass_kg=None, draft_bow_m=0.07, draft_stern_m=0.074), dataclasses.replace(TEST, heel_deg=3.0)],
)
def test_the_boat_as_found_floats_as_the_trial_read(reading):
    guessed = craft(WeightItem("hull", 14.0, (0.5, 0.0, 0.05), "weighed"), WeightItem("battery", 16.0, (0.5, 0.0, 0.05), "guessed"))
    found, _ = as_found(guessed, reading)
    o = afloat.assess(Craft(found)).outputs
    assert o is not None
    assert (o.draft_bow, o.draft_stern) == pytest.approx((reading.draft_bow_m, reading.draft_stern_m), abs=2e-6)
    assert math.degrees(o.heel) == pytest.approx(reading.heel_deg, abs=1e-3)


def test_each_fix_meets_its_target_when_put_in():
    brief_ = Brief(least_freeboard_m=0.13, allowed_trim_deg=0.2, target_mass_kg=40.0)
    c = craft(
        WeightItem("hull", 20.0, (0.5, 0.0, 0.05), "weighed", None, "structure"),
        WeightItem("battery", 10.0, (0.5, 0.0, 0.05), "guessed"),
        brief=brief_,
    )
    result = fixes.assess(c, TEST)
    by_code = {x.solved.code: x for x in result.candidates}
    assert abs(by_code["fix.move"].outcome.trim) < 1e-5
    assert abs(by_code["fix.ballast_at"].outcome.trim) < 1e-5
    scale = by_code["fix.scale"]
    assert scale.outcome.freeboard == pytest.approx(0.13, rel=1e-3)
    factor = scale.solved.design.bodies[0].shape.length_m
    assert scale.solved.design.weights[0].mass_kg == pytest.approx(20.0 * factor**2, rel=1e-6)  # a skin grows with the area


def test_fix_without_an_answer_says_why():
    c = craft(dataclasses.replace(LEVEL, group="structure"), WeightItem("receiver", 0.05, (0.5, 0.0, 0.05), "weighed"))
    result = fixes.assess(c, TEST, item=1)  # 50 g would have to go many metres
    move = next(x for x in result.candidates if x.solved.code == "fix.move")
    assert move.solved.design is None
    assert move.solved.why_not is not None


def test_compare_names_what_differs():
    one = Craft(reedwarden())
    two = Craft(with_value(one.design, "weights.2.at_m", (0.2, 0.0, 0.06)))
    result = compare.assess(one, two)
    assert [d.path for d in result.changes] == ["weights.Battery, 4 cells.at_m"]
    assert result.after.trim > result.before.trim  # the battery went aft


def test_editing_keeps_what_was_changed_and_refuses_what_cannot_be():
    c = Craft(with_value(reedwarden(), "brief.least_gm_m", 0.2))
    changed = editing.set_field(c, "brief.kind", "people")
    assert changed.brief.least_gm_m == 0.2
    assert changed.brief.kind == "people"
    with pytest.raises(InvalidInput):
        editing.set_field(c, "bodies.0.shape.hull_spacing_m", 0.05)
    added = editing.add_line(c, "weights")
    assert editing.remove_line(added, f"weights.{len(added.weights) - 1}") == c.design
    box = editing.set_field(c, "bodies.0.shape.kind", "round_bilge")
    assert box.bodies[0].shape.depth_m == TwinHull.__dataclass_fields__["depth_m"].default - 0.005
    with pytest.raises(InvalidInput):
        editing.remove_line(c.design, "weights.99")


def test_a_brief_beyond_the_hull_is_said():
    c = craft(LEVEL, brief=Brief(target_mass_kg=90.0))
    assert codes(brief.assess(c).findings)["brief.too_heavy_for_hull"] == "fails"
