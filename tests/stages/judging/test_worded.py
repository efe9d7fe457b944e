"""What is said: no remedy of less than nothing, the least sure weighed first, words that agree with their number."""

import dataclasses
import math

import pytest

from tests.stages.rafts import raft, said
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.propulsion.drive import Drive, Motor
from yarekeel.core.sources import MECHANICS
from yarekeel.core.stability.inclining import Incline, Shift
from yarekeel.core.water import kinematic_viscosity
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.afloat import flooding
from yarekeel.stages.changes import cures
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Compartment, LoadCase, LoadCount
from yarekeel.stages.drive import drive
from yarekeel.stages.judging import cases
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.stability import rolling, stability
from yarekeel.stages.weights import weights
from yarekeel.units import fill


def test_a_remedy_of_less_than_nothing_is_none():
    ways = (Remedy("Lower it by {lower:length}"), Remedy("Move it {by:fore_aft}"), Remedy("Look again"))
    finding = Finding("x", "fails", "", "", MECHANICS, {"lower": -0.02, "by": -0.1}, ways)
    assert finding.remedies == ways[1:]
    assert Finding("x", "fails", "", "", MECHANICS, {"lower": 0.02, "by": -0.1}, ways).remedies == ways


@pytest.mark.parametrize(("temperature", "published"), [(10.0, 1.3604e-6), (15.0, 1.1892e-6), (20.0, 1.0503e-6)])
def test_viscosity_of_sea_water(temperature, published):
    """ITTC 7.5-02-01-03 (2011), table of sea water; from memory."""
    assert kinematic_viscosity(temperature, salt=True) == pytest.approx(published, rel=0.0015)


def test_salt_thickens_water_more_where_it_is_warm():
    """One factor for all temperatures is 0.9 % off at both ends of 0 to 30 °C (the sums of Sharqawy and others, 2010)."""
    at = [kinematic_viscosity(t, salt=True) / kinematic_viscosity(t, salt=False) for t in (0.0, 15.0, 30.0)]
    assert at[1] / at[0] - 1 == pytest.approx(0.009, abs=0.001)
    assert at[2] / at[1] - 1 == pytest.approx(0.0075, abs=0.001)


def test_the_least_sure_is_weighed_first_and_two_alike_count_as_two():
    lines = (
        WeightItem("Hull", 30.0, (1.0, 0.0, 0.1), "weighed"),
        WeightItem("Motor", 9.0, (0.2, 0.1, 0.1), "data", quantity=2.0),
        WeightItem("Gear", 15.0, (1.2, 0.0, 0.1), "guessed"),
    )
    found = weights.assess(Craft(dataclasses.replace(raft(), weights=lines)))
    assert [item.mass_kg for _, item in found.heaviest] == [30.0, 18.0, 15.0]
    sure = next(f for f in found.findings if f.code == "weights.weighed")
    assert sure.remedies[0].sentence.startswith("Weigh {unsure}")
    assert sure.values["unsure"] == "Gear"  # 3 kg, where the two motors are 0.9 and the hull 0.3


@pytest.mark.parametrize(("persons", "words"), [(1.0, "1 person"), (2.0, "2 persons")])
def test_one_person_is_no_persons(persons, words):
    assert fill("{n:persons}", {"n": persons}) == words


def test_two_loads_are_both():
    loads = (LoadCase("light", (LoadCount("Stone", 0.0),)),)
    found = cases.assess(Craft(dataclasses.replace(raft(), cases=loads)))
    assert said(found.findings)[0][1] == "Both loads meet the brief"


def test_what_fails_does_not_begin_with_what_holds():
    """Water aft until the rim goes under: the title says that, not that it still floats."""
    craft = Craft(dataclasses.replace(raft(mass=150.0), weights=(WeightItem("All", 230.0, (0.75, 0.0, 0.1)),)))
    room = flooding.places(craft)[-1]
    for litres in (0.03, 0.06, 0.09):
        for finding in flooding.assess(craft, litres=litres, into=room).findings:
            if finding.severity == "fails":
                assert not finding.title.startswith("It still floats")


def test_one_reading_of_an_inclining_test_is_as_unsure_as_g_is():
    """Read once at 3.5 degrees with a GM of 0.2 m: the list's own TCG, and a sensor set down by hand (0.5 degrees), hide in it."""
    craft = Craft(
        dataclasses.replace(
            raft(180.0),
            weights=(WeightItem("all up", 180.0, (1.0, 0.0, 0.10), "weighed"),),
            incline=Incline(weight_kg=4.0, shifts=(Shift(0.5, 3.6),), angle_deg=0.1),
        )
    )
    one = rolling.assess(craft, stability.assess(craft))
    both = (Shift(0.5, 3.6), Shift(-0.5, -3.6), Shift(0.0, 0.0))
    three = Craft(dataclasses.replace(craft.design, incline=dataclasses.replace(craft.design.incline, shifts=both)))
    more = rolling.assess(three, stability.assess(three))
    by_tcg = craft.total.centre_half_width[1] / math.tan(math.radians(3.6))
    assert one.inclined.half_width > by_tcg
    assert one.inclined.half_width > 2 * more.inclined.half_width
    assert {f.code for f in one.findings} >= {"incline.one"}
    assert "incline.one" not in {f.code for f in more.findings}


def test_water_in_a_tank_is_pushed_and_carried_and_moves_g():
    """40 kg with G at 0.1 m, and 18 kg of water on the bottom of a tank (0.03 m deep, its middle 0.015 m up): 12 N push 58 kg; G lies at
    (40 x 0.1 + 18 x 0.015) / 58 = 0.0736 m, so that a line at 0.085 m is 11 mm above it, not 15 mm below the list's own."""
    tank = Compartment("tank", "hull", aft_m=0.5, fore_m=1.5, use="tank", filled=0.1, room=1.0)
    weights_ = (WeightItem("All", 40.0, (1.0, 0.0, 0.1), spread=0.0),)
    craft = Craft(
        dataclasses.replace(raft(), weights=weights_, compartments=(tank,), drive=Drive((Motor("Screw", 12.0, (0.0, 0.0, 0.085)),)))
    )
    found = {f.code: f for f in drive.assess(craft).findings}
    assert found["drive.thrust_to_weight"].values["ratio"] == pytest.approx(12 / (58 * 9.80665), rel=1e-6)
    assert found["drive.line"].values["gap"] == pytest.approx(0.085 - (40 * 0.1 + 18 * 0.015) / 58, abs=1e-5)
    assert Figures(craft)["mass"] == pytest.approx(58.0)
    target = dataclasses.replace(craft.design, brief=dataclasses.replace(craft.design.brief, target_mass_kg=50.0))
    assert "weights.over" in {f.code for f in weights.assess(Craft(target)).findings}


def test_a_cure_without_an_answer_says_how_far_it_got():
    """GM of 0.9 m on a raft: no lead brings that."""
    brief = Brief("model", 250.0, 0.01, 2.0, 0.9)
    craft = Craft(dataclasses.replace(raft(60.0), brief=brief))
    short = [c for c in cures.all_of(craft) if c.solved.design is None and "gm" in c.solved.why_not.values]
    assert short
    for cure in short:
        assert "GM is then" in said([cure.solved.why_not])[0][2]
        assert cure.solved.why_not.values["gm"] < 0.9
