"""Lead and foam that trim a dived boat, tanks, and foam in an open one, by hand."""

import dataclasses
import math

import pytest

from tests.deeds import done
from tests.stages.changes.hulls import submarine
from tests.stages.rafts import raft
from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.afloat import swamped
from yarekeel.stages.afloat.dive import state_at
from yarekeel.stages.changes.ways import foam, tank
from yarekeel.stages.design.craft import Craft

# Trim of the dived boat


def test_lead_and_foam_by_two_equations_by_hand():
    """10 kg light. Of force lead - lift = 10, of moment 0.6 lead - 0.2 lift = 100 x 0.5 - (70 x 0.48 + 20 x 0.5) = 6.4: 11 and 1 kg."""
    with pytest.raises(NoAnswer, match="foam would have to be less"):
        tank.trim_out(submarine(), 0.3, 0.7)
    craft = submarine(70.0, 0.48)
    found = tank.trim_out(craft, 0.6, 0.2)
    lead, lift = 11.0, 1.0
    assert found.lead == pytest.approx(lead, rel=1e-9)
    assert found.foam == pytest.approx(lift / (1000 - 80), rel=1e-9)  # PVC foam of 80 kg/m3
    assert found.foam_mass == pytest.approx(found.foam * 1000 - lift, rel=1e-9)
    assert found.lead_at == pytest.approx((0.6, 0.0, 0.04))
    assert found.foam_at == pytest.approx((0.2, 0.0, 0.4 + found.foam ** (1 / 3) / 2))
    after = Craft(tank.with_trim(craft, found))
    dived = state_at(after, 1.0)
    assert dived.net == pytest.approx(0.0, abs=1e-6)
    assert math.degrees(dived.attitude.trim) == pytest.approx(0.0, abs=0.01)
    lines = {w.name: w for w in after.design.weights}
    assert lines["Trim lead"].mass_kg == pytest.approx(lead)
    assert lines["Trim lead"].material == "lead"
    assert (lines["Trim foam"].group, lines["Trim foam"].recipe.body) == ("foam", "trim foam")
    assert after.design.bodies[-1].role == "foam"
    assert after.design.bodies[-1].shape.length_m == pytest.approx(found.foam ** (1 / 3))


def test_places_outside_or_at_one_place_are_refused():
    for lead_x, foam_x in ((-0.1, 0.5), (0.5, 1.1), (1.1, 0.5), (0.5, -0.1)):
        with pytest.raises(InvalidInput, match="between 0 m and 1 m"):
            tank.trim_out(submarine(), lead_x, foam_x)
    with pytest.raises(NoAnswer, match="set them apart"):
        tank.trim_out(submarine(), 0.5, 0.5005)
    with pytest.raises(NoAnswer, match="lead would have to be less"):
        tank.trim_out(submarine(90.0), 0.3, 0.6)


def test_lead_alone_or_foam_alone_lies_where_it_levels():
    """10 kg light with G at 0.48 m: lead where its moment is, (50 - 43.6) / 10 = 0.64 m. 10 kg heavy: foam alone, by the same."""
    light = tank.trim_alone(submarine(70.0, 0.48))
    assert (light.lead, light.lead_at[0], light.foam) == (pytest.approx(10.0), pytest.approx(0.64), 0.0)
    aft = tank.trim_alone(submarine(70.0, 0.52))
    assert (aft.lead, aft.lead_at[0]) == (pytest.approx(10.0), pytest.approx(0.36))
    heavy = tank.trim_alone(submarine(90.0, 0.49))
    assert (heavy.lead, heavy.foam_at[0]) == (0.0, pytest.approx((50 - 90 * 0.49 - 10.0) / -10.0))
    assert heavy.foam > 0.01
    with pytest.raises(NoAnswer, match="neither rises nor sinks"):
        tank.trim_alone(submarine(80.0))
    with pytest.raises(NoAnswer, match="Lead alone would have to lie outside"):
        tank.trim_alone(submarine(70.0, 0.40))


def test_a_tank_that_takes_it_under_holds_what_is_left_of_its_lift():
    """30 l of room are left over 70 kg; in the lower half of 0.25 x 0.2 m that is 0.6 m of length, about where it dives level."""
    bare = dataclasses.replace(submarine(70.0, 0.5).design, compartments=())
    one = tank.tank_for(Craft(bare))
    assert (one.aft_m, one.fore_m, one.high_m) == pytest.approx((0.2, 0.8, 0.2), abs=1e-6)
    assert (one.use, one.body, one.room, one.vented) == ("tank", "hull", 1.0, False)
    ahead = tank.tank_for(Craft(dataclasses.replace(bare, weights=(WeightItem("All", 70.0, (0.48, 0.0, 0.12)),))))
    assert ((ahead.aft_m + ahead.fore_m) / 2) == pytest.approx((50 - 70 * 0.48) / 30, abs=1e-6)
    for mass, x, words in ((101.0, 0.5, "lighten it first"), (70.0, 0.1, "outside the hull"), (40.0, 0.5, "does not hold enough")):
        heavy = dataclasses.replace(bare, weights=(WeightItem("All", mass, (x, 0.0, 0.12)),))
        with pytest.raises(NoAnswer, match=words):
            tank.tank_for(Craft(heavy))


# Foam in an open boat


def test_foam_lies_under_the_rim_against_the_sides():
    """40 kg of glass of 2560 kg/m3 weigh 24.4 kg under water: foam of 33 kg/m3 that lifts that and 5 kg more, in two blocks 0.8 m long."""
    craft = Craft(
        dataclasses.replace(raft(), weights=(WeightItem("Shell", 40.0, (1.0, 0.0, 0.1), group="structure", material="glass_fibre"),))
    )
    now = swamped.assess(craft).carries
    assert now == pytest.approx(40 * (1000 / 2560 - 1), rel=1e-9)
    lifts = 5.0 - now
    answer = foam.foam_for(craft, 5.0)
    assert answer.volume == pytest.approx(lifts / (1000 - 33), rel=1e-9)
    side = math.sqrt(answer.volume / 2 / 0.8)
    assert answer.size == pytest.approx((0.8, side, side))
    assert answer.at == pytest.approx((1.0, 0.3 - side / 2, 0.3 - side / 2), abs=1e-2)
    assert abs(answer.trim) < 1e-6
    assert (answer.mass, answer.lifts) == pytest.approx((answer.volume * 33, lifts))
    long = foam.foam_for(craft, 5.0, long=1.2)
    assert long.size[0] == pytest.approx(1.2)
    after = Craft(foam.with_foam(craft, answer))
    body, line = after.design.bodies[-1], after.design.weights[-1]
    assert body.at_m == pytest.approx((0.6, 0.3 - side / 2, 0.3 - side), abs=1e-2)
    assert (body.role, body.mirrored, line.group, line.recipe.body) == ("foam", True, "foam", body.name)
    assert swamped.assess(after).carries == pytest.approx(5.0, rel=1e-3)
    assert done(craft, "answer.foam", spare=5.0, material="pvc_foam").weights[-1].recipe.material == "pvc_foam"


def test_foam_goes_to_where_the_swamped_boat_lies_level():
    """24.4 kg under water amidships and a steel engine of 12 kg, 10.5 under water, at 0.3 m: the foam has its middle over theirs."""
    engine = WeightItem("Engine", 12.0, (0.3, 0.0, 0.1), group="drive", material="steel")
    shell = WeightItem("Shell", 40.0, (1.0, 0.0, 0.1), group="structure", material="glass_fibre")
    answer = foam.foam_for(Craft(dataclasses.replace(raft(), weights=(shell, engine))), 5.0)
    under = 40 * (1 - 1000 / 2560), 12 * (1 - 1000 / 7850)
    assert answer.at[0] == pytest.approx((under[0] * 1.0 + under[1] * 0.3) / sum(under), abs=1e-2)
    assert abs(answer.trim) < 1e-4
