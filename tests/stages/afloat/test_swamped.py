"""A swamped boat counts every litre once, each material by its own density: hand sums on boxes."""

import dataclasses
import math

import pytest

from tests.stages.rafts import raft
from yarekeel.core.geometry.attitude import rotation
from yarekeel.core.geometry.families import Box
from yarekeel.core.geometry.mesh import block
from yarekeel.core.geometry.spaces import encloses
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.core.weights.recipes import RECIPES
from yarekeel.stages.afloat import swamped
from yarekeel.stages.afloat.rules import cfr_183 as rules
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Compartment

SKIN, RHO = RECIPES["skin"], 1000.0
AREA = 2.0 * 0.6 + 2 * 2.0 * 0.3 + 2 * 0.6 * 0.3
"""m2: bottom, sides and ends of the raft, without a deck."""


def tub(*weights, bodies=(), compartments=(), **skin):
    shell = WeightItem("Shell", 1.0, (0, 0, 0), group="structure", recipe=SKIN(over="hull", **skin))
    return Craft(dataclasses.replace(raft(), weights=(shell, *weights), bodies=(*raft().bodies, *bodies), compartments=tuple(compartments)))


GLASS, EPOXY = 2560.0, 1150.0
"""kg/m3, makers' sheets as the table of materials has them."""
LAID = 8 * 0.4 * AREA
"""kg of dry cloth; as much resin again at a resin share of one half."""


def test_a_skin_of_cloth_alone_sinks_by_hand():
    bare = tub(thickness_m=0.0, layers_outside=8, cloth_kg_m2=0.4)
    mass, volume = 2 * LAID, LAID / GLASS + LAID / EPOXY
    assert bare.total.mass == pytest.approx(mass)
    assert swamped.assess(bare).carries == pytest.approx(volume * RHO - mass, rel=1e-6)
    assert swamped.assess(bare).findings[0].code == "swamped.sinks"


def test_a_sandwich_floats_by_its_core_paint_and_laminate_each():
    craft = tub(thickness_m=0.01, material="pvc_foam", layers_outside=2, layers_inside=2, cloth_kg_m2=0.3, coats=2, paint_kg_m2=0.1)
    cloth, paint = 4 * 0.3 * AREA, 2 * 0.1 * AREA
    volume = 0.01 * AREA + cloth / GLASS + cloth / EPOXY + paint / MATERIALS["paint"].density
    mass = 0.01 * AREA * 80.0 + 2 * cloth + paint
    assert swamped.assess(craft).carries == pytest.approx(volume * RHO - mass, rel=1e-6)


def test_a_corrected_estimate_displaces_by_as_much_more():
    craft = tub(thickness_m=0.006, layers_outside=0)
    heavier = Craft(dataclasses.replace(craft.design, weights=(dataclasses.replace(craft.design.weights[0], factor=1.5),)))
    wood = 0.006 * AREA
    assert swamped.assess(heavier).carries == pytest.approx(1.5 * wood * (RHO - 500.0), rel=1e-6)


def test_hand_laminate_follows_the_rule_of_mixtures():
    assert MATERIALS["glass_laminate"].density == pytest.approx(1 / (0.5 / GLASS + 0.5 / EPOXY), rel=0.01)


def test_walls_round_a_sealed_end_are_counted_once():
    end = Compartment("bow", "hull", aft_m=1.5)
    plain, ended = tub(thickness_m=0.006, layers_outside=0), tub(thickness_m=0.006, layers_outside=0, compartments=[end])
    air = 0.5 * 0.6 * 0.3
    # Bottom, two sides and one end of the half metre; what stands there is inside the sealed volume already.
    walls = 0.006 * (0.5 * 0.6 + 2 * 0.5 * 0.3 + 0.6 * 0.3)
    gained = swamped.assess(ended).carries - swamped.assess(plain).carries
    assert gained == pytest.approx((air - walls) * RHO, rel=0.01)


def test_lead_in_a_sealed_locker_weighs_in_full():
    end = Compartment("bow", "hull", aft_m=1.5)
    lead = WeightItem("Lead", 5.0, (1.8, 0.0, 0.1), material="lead")
    outside = dataclasses.replace(lead, at_m=(0.5, 0.0, 0.1))
    sealed, bare = (swamped.assess(tub(one, thickness_m=0.006, layers_outside=0, compartments=[end])) for one in (lead, outside))
    assert bare.carries - sealed.carries == pytest.approx(5.0 * RHO / 11340.0, rel=1e-6)
    assert next(c for c in sealed.carriers if c.name == "Lead").under_water == pytest.approx(5.0)


def test_a_typed_line_of_foam_is_the_mass_of_the_foam_body():
    body = Body("foam", Box(1.0, 0.2, 0.1), at_m=(0.5, 0.35, 0.1), mirrored=True, role="foam")
    volume = 2 * 1.0 * 0.2 * 0.1
    line = WeightItem("Side foam", 33.0 * volume, (1.0, 0.0, 0.15), group="foam", material="xps")
    with_line, without = tub(line, bodies=[body], thickness_m=0.006), tub(bodies=[body], thickness_m=0.006)
    assert swamped.assess(without).carries - swamped.assess(with_line).carries == pytest.approx(33.0 * volume, rel=1e-6)
    more = dataclasses.replace(line, mass_kg=2 * line.mass_kg)  # twice as much foam as there are bodies: the rest is loose
    loose = swamped.assess(tub(more, bodies=[body], thickness_m=0.006)).carries
    assert loose - swamped.assess(with_line).carries == pytest.approx(volume * (RHO - 33.0), rel=1e-6)


def test_a_pair_of_foam_lies_at_both_sides():
    pair = WeightItem("Foam", 1.0, (1.0, 0.25, 0.25), group="foam", material="xps", pair=True)
    centred = dataclasses.replace(pair, mass_kg=2.0, at_m=(1.0, 0.0, 0.25), pair=False)
    beside, middle = (swamped.assess(tub(one, thickness_m=0.006, layers_outside=0)) for one in (pair, centred))
    assert beside.carries == pytest.approx(middle.carries)
    # On its side, the surface 0.2 m to starboard of the centreline: the block in the middle (0.39 m wide) is out of it, and of the
    # one at starboard (0.31 m wide, its middle 0.25 m off) 0.205 m of 0.31 are under.
    one = (1.0 / 33.0) ** (1 / 3)
    on_its_side = [k.kernel.evaluate(rotation(math.pi / 2, 0.0), -0.2 + k.kernel.centre[1]).volume for k in (beside, middle)]
    assert on_its_side[0] - on_its_side[1] == pytest.approx(one**2 * (0.05 + one / 2), rel=1e-3)


def test_a_point_is_inside_or_outside_a_mesh():
    box = block(1.0, 1.0, 1.0)
    assert encloses(box, (0.5, 0.2, 0.5))
    assert not encloses(box, (0.5, 0.2, 1.0001))
    assert not encloses(box, (0.5, 0.8, 0.5))


@pytest.mark.parametrize(("material", "factor"), [("steel", 0.88), ("aluminium", 0.63), ("glass_laminate", 0.33), ("lead", 0.91)])
def test_share_of_weight_under_water(material, factor):
    """Factors from the US Coast Guard's builders' guidance for flotation, from memory."""
    craft = tub(WeightItem("Thing", 10.0, (1.0, 0.0, 0.1), material=material), thickness_m=0.006)
    found = next(c for c in swamped.assess(craft).carriers if c.name == "Thing")
    assert found.under_water / 10.0 == pytest.approx(factor, abs=0.05)


def skiff(*weights, foam_at, wide=0.25, high=0.25, aside=0.6):
    """A people's tub 4 x 1.4 x 0.6 m of 40 kg with foam along its sides at a height."""
    foam = Body("foam", Box(3.5, wide, high), at_m=(0.25, aside, foam_at), mirrored=True, role="foam")
    return Craft(
        dataclasses.replace(
            raft(kind="people", target_mass_kg=300.0),
            bodies=(Body("hull", Box(4.0, 1.4, 0.6), deck="open"), foam),
            weights=(WeightItem("Hull", 40.0, (2.0, 0.0, 0.3), group="structure"), *weights),
        )
    )


def flotation(craft):
    found = {f.code: f for f in rules.assess(craft, "outboard", remote_and_high=False, flat_hard_chine=False).findings}
    return next(f for code, f in found.items() if code.startswith("rule.flotation"))


def test_33_cfr_asks_that_the_swamped_boat_floats_level_not_only_that_it_floats():
    held = flotation(skiff(foam_at=0.3))
    assert held.code == "rule.flotation"
    assert abs(held.values["heel"]) < math.radians(10.0)
    # A motor at one side outweighs what the foam of that side lifts: enough buoyancy in all, and yet it does not lie level.
    motor = WeightItem("Motor", 65.0, (2.0, 0.68, 0.2), group="drive")
    leaning = flotation(skiff(motor, foam_at=0.05, wide=0.1, high=0.55))
    assert leaning.code == "rule.flotation_level"
    assert math.radians(10.0) < abs(leaning.values["heel"]) < math.radians(30.0)
    assert leaning.values["carries"] > leaning.values["needed"]
    assert leaning.severity == "fails"
    # All the foam at the bottom, a weight at the rim: it rolls over.
    high = WeightItem("Engine", 60.0, (2.0, 0.0, 0.9), group="drive")
    assert "rolls over" in flotation(skiff(high, foam_at=0.0, aside=0.15)).title
