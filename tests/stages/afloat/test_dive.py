"""Float: the dived boat, its tanks, lead and foam, against hand sums."""

import dataclasses
import math

import pytest

from tests.deeds import done
from tests.stages.rafts import WITHIN
from yarekeel.core.errors import NoAnswer
from yarekeel.core.geometry.families import Box
from yarekeel.core.geometry.families.submersible import Submersible
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import dabchick
from yarekeel.stages.afloat import dive
from yarekeel.stages.changes.ways import tank
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Compartment, Design, Opening
from yarekeel.units import fill


def _ball() -> Design:
    """A submarine whose sums are known: a box pressure hull of 0.1 m3 and its tank."""
    return Design(
        "Test box",
        Water(density_kg_m3=1000.0),
        Brief("model", 110.0, 0.0, 2.0, 0.001, 0.05),
        (Body("hull", Box(1.0, 0.25, 0.4)),),
        (WeightItem("All", 80.0, (0.5, 0.0, 0.12), group="structure"),),
        compartments=(Compartment("tank", "hull", 0.4, 0.6, None, None, None, None, "tank", room=1.0),),
    )


def test_the_dived_boat_by_hand():
    """Tank amidships of 20 l in an 80 kg boat of 100 l: full it is neutral; with the tank 0.1 m forward it trims by the offset
    of G over the height of B above it."""
    craft = Craft(_ball())
    full = dive.assess(craft).way[-1]
    assert full.net == pytest.approx(0.0, abs=1e-9)
    g = (80 * 0.12 + 20 * 0.2) / 100
    assert full.bg == pytest.approx(0.2 - g, rel=1e-6)
    ahead = dataclasses.replace(_ball(), compartments=(dataclasses.replace(_ball().compartments[0], aft_m=0.5, fore_m=0.7),))
    dived = dive.state_at(Craft(ahead), 1.0)
    by_hand = dive.dived_trim((0.5, 0.0, 0.2), ((80 * 0.5 + 20 * 0.6) / 100, 0.0, g))
    assert math.degrees(by_hand) == pytest.approx(-math.degrees(math.atan(0.02 / (0.2 - g))), rel=1e-9)
    assert dived.attitude.trim == pytest.approx(by_hand, rel=2e-3)
    moved = dive.assess(Craft(ahead))
    assert moved.level_x == pytest.approx(0.5, rel=1e-9)
    assert any("aft levels it" in fill(r.sentence, f.values) for f in moved.findings for r in f.remedies)


def test_the_slider_passes_through_neutral_without_a_jump():
    """Fine steps about neutral: GM runs into BG and trim into the dived trim, with no step larger than those beside it allow."""
    design = dataclasses.replace(_ball(), weights=(WeightItem("All", 82.0, (0.495, 0.0, 0.12), group="structure"),))
    craft = Craft(design)  # neutral at nine tenths
    below, above = dive.state_at(craft, 0.9 - 1e-5), dive.state_at(craft, 0.9 + 1e-5)
    assert below.afloat is not None
    assert above.afloat is None
    assert below.attitude.trim == pytest.approx(above.attitude.trim, abs=2e-3)
    assert below.attitude.heel == pytest.approx(above.attitude.heel, abs=1e-6)
    assert below.bg == pytest.approx(above.bg, rel=1e-3)
    assert below.net < 0 < above.net
    for shares in ((0.3, 0.3001), (0.6, 0.6001)):
        a, b = (dive.state_at(craft, s) for s in shares)
        assert a.attitude.trim == pytest.approx(b.attitude.trim, abs=1e-3)


def test_the_demo_submarine_and_a_tank_made_for_it():
    craft = Craft(dabchick())
    found = dive.assess(craft, 1.0, dive.INLET_OUT)
    assert {f.code for f in found.findings} >= {"dive.fits", "dive.bg", "dive.trim", "dive.middle", "dive.inlet"}
    # What it shows above water surfaced, less what stays out, is what the tank takes.
    shown = craft.hull.kernel.total_volume - craft.total.mass / craft.density
    assert found.capacity == pytest.approx(shown - found.left_out, rel=WITHIN)
    assert found.state.inlet == pytest.approx(dive.INLET_OUT, abs=2e-3)
    without = Craft(dataclasses.replace(dabchick(), compartments=()))
    assert dive.assess(without).findings[0].code == "dive.no_tank"
    again = done(without, "answer.tank", inlet_out=0.025)
    assert dive.assess(Craft(again)).capacity == pytest.approx(found.capacity, rel=WITHIN)


@pytest.mark.parametrize(("lead_x", "foam_x"), [(0.4, 0.2), (0.35, 0.15)])
def test_lead_and_foam_make_it_neutral_and_level(lead_x, foam_x):
    craft = Craft(dabchick())
    answer = tank.trim_out(craft, lead_x, foam_x)
    assert min(answer.lead, answer.foam) > 0
    after = dive.state_at(Craft(tank.with_trim(craft, answer)), 1.0)
    assert abs(after.net) <= WITHIN * after.mass
    assert abs(after.attitude.trim) < math.radians(0.1)
    alone = tank.trim_alone(craft)  # it is light: lead alone does it, at one place only
    assert alone.foam == 0
    done = dive.state_at(Craft(tank.with_trim(craft, alone)), 1.0)
    assert abs(done.net) <= WITHIN * done.mass
    assert abs(done.attitude.trim) < math.radians(0.1)
    for places, why in (((0.4, 0.4), "at one place"), ((0.4, 0.8), "less than nothing")):
        with pytest.raises(NoAnswer, match=why):
            tank.trim_out(craft, *places)


def test_salt_water_lifts_the_dived_boat():
    """Grams by which the same boat is lighter in the sea: its volume times the difference of densities (ITTC 7.5-02-01-03)."""
    found = dive.assess(Craft(_ball()))
    salt = dict(found.waters)["sea water, 15 °C"]
    assert salt == pytest.approx(0.1 * (1026.02 - 1000.0), rel=2e-3)


def test_a_dived_boat_with_its_weight_high_turns_over():
    high = Craft(dataclasses.replace(_ball(), weights=(WeightItem("All", 80.0, (0.5, 0.0, 0.33), group="structure"),)))
    codes = {f.code: f.severity for f in dive.assess(high).findings}
    assert codes["dive.bg"] == "fails"
    assert codes["dive.middle"] == "fails"
    vented = Craft(dataclasses.replace(_ball(), compartments=(dataclasses.replace(_ball().compartments[0], vented=True),)))
    assert any(f.code == "dive.no_inlet" for f in dive.assess(vented).findings)


def test_submersible_openings_ride_along():
    sub = Submersible()
    assert Craft(Design("S", bodies=(Body("hull", sub, openings=(Opening("inlet", (0.4, 0.0, 0.2)),)),))).openings[0][0] == "inlet"
