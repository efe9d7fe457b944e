"""A new boat ready to float: every family at a size, with the usual crew and gear."""

import math

import pytest

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES, MeshFile
from yarekeel.core.geometry.families.box import Box
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.sizing.outfit import outfitted, sized

HULLS = [f for f in FAMILIES.values() if f is not MeshFile and f.role == "hull"]


@pytest.mark.parametrize("kind", ["model", "people"])
@pytest.mark.parametrize("family", HULLS, ids=lambda f: f.kind)
def test_every_family_floats_at_once_with_what_is_usual(family, kind):
    design = outfitted("Coot", family(), kind)
    craft = Craft(design)
    result = afloat.assess(craft)
    assert result.afloat is not None, family.kind
    assert {w.known for w in design.weights} == {"guessed"}
    low, high = craft.hull.mesh.bounds
    for item in craft.items:
        assert low[0] <= item.at_m[0] <= high[0]
        assert item.mass_kg > 0
    assert 0.1 < craft.mass / (craft.hull.kernel.total_volume * craft.density) < 1


def test_a_length_scales_the_hull_and_all_its_lengths():
    shape = sized(Box(length_m=1.0, beam_m=0.4, depth_m=0.2), 2.0)
    assert (shape.length_m, shape.beam_m, shape.depth_m) == (2.0, 0.8, 0.4)
    assert sized(Box(), None) == Box()
    design = outfitted("Coot", Box(length_m=1.0, beam_m=0.4, depth_m=0.2), "model", 1.5)
    low, high = Craft(design).hull.mesh.bounds
    assert float(high[0] - low[0]) == pytest.approx(1.5)
    with pytest.raises(InvalidInput):
        outfitted("Coot", Box(), "model", 0.0)


def test_it_floats_as_a_sum_by_hand_says():
    """A box: draft is mass over density, length and beam, by Archimedes; the trim small enough that its middle keeps to that."""
    design = outfitted("Coot", Box(), "model", 1.0)
    craft = Craft(design)
    rest = afloat.assess(craft).afloat
    box = design.bodies[0].shape
    by_hand = craft.mass / (craft.density * box.length_m * box.beam_m)
    middle = -rest.attitude.height_of((box.length_m / 2, 0.0, 0.0)) / math.cos(rest.attitude.trim)
    assert middle == pytest.approx(by_hand, abs=1e-3)
