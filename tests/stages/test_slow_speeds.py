"""At low speed drag rises with speed and waves are next to nothing, on the demo boats and on random hulls."""

import math
import random

import numpy as np
import pytest

from yarekeel.core.geometry.families import FAMILIES
from yarekeel.core.geometry.families.round_bilge import RoundBilge
from yarekeel.core.running.forces import State
from yarekeel.core.running.laws import friction
from yarekeel.core.running.laws.waves import band_of
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo import boats, fast_boats
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.running.boat import underway_of

DEMO = (boats.reedwarden, boats.wagtail, boats.dabchick, boats.moorhen, boats.turnstone, fast_boats.sandpiper, fast_boats.whimbrel)
HULLS = ("round_bilge", "vee", "flat_bottom", "foam_block", "pontoon", "box")
FROUDES = np.linspace(0.03, 0.25, 23)


def shares(boat):
    """Froude numbers, and waves and friction in N at each."""
    speeds = FROUDES * math.sqrt(9.80665 * boat.waterline)
    waves = np.array([boat.wave(v) for v in speeds.tolist()])
    rubs = np.array([-sum(f.newtons[0] for f in friction.forces(boat, State(v, boat.rest))) for v in speeds.tolist()])
    return waves, rubs


def held(boat):
    waves, rubs = shares(boat)
    assert (np.diff(waves + rubs) > 0).all()
    slow = FROUDES < 0.1001
    assert (waves[slow] < 0.03 * rubs[slow]).all()


@pytest.mark.parametrize("make", DEMO)
def test_drag_rises_and_waves_are_small_on_the_demo_boats(make):
    held(underway_of(Craft(make())))


def afloat(rng):
    """A random hull of a family at a random size, loaded to a quarter to half of its volume, so that it floats upright."""
    while True:
        shape = FAMILIES[rng.choice(HULLS)]()
        length = math.exp(rng.uniform(math.log(0.25), math.log(6.0)))
        scale = length / float(np.ptp(shape.build().vertices[:, 0]))
        hull = Body("hull", shape, scale=(scale, scale * rng.uniform(0.7, 1.3), scale * rng.uniform(0.8, 1.4)))
        mesh = Craft(Design("one", bodies=(hull,))).hull.mesh
        mass = 1000 * mesh.volume * rng.uniform(0.15, 0.4)
        z = float((mesh.bounds[0] + 0.1 * (mesh.bounds[1] - mesh.bounds[0]))[2])
        middle = float(mesh.centroid[0])
        boat = underway_of(Craft(Design("one", bodies=(hull,), weights=(WeightItem("all", mass, (middle, 0.0, z)),))))
        if boat is not None:
            return boat


@pytest.mark.parametrize("seed", range(10))
def test_drag_rises_and_waves_are_small_on_random_hulls(seed):
    rng = random.Random(seed)
    for _ in range(10):
        held(afloat(rng))


def slim(apart=0.0):
    """A slim hull, or a pair of it so far apart."""
    hull = Body("hull", RoundBilge(length_m=1.0, beam_m=0.12, depth_m=0.2), at_m=(0.0, apart / 2, 0.0), mirrored=apart > 0)
    middle = float(Craft(Design("one", bodies=(hull,))).hull.mesh.centroid[0])
    weight = WeightItem("all", 5.0 if apart else 2.5, (middle, 0.0, 0.01))
    return underway_of(Craft(Design("one", bodies=(hull,), weights=(weight,))))


def test_two_hulls_far_apart_are_told_as_two_single_ones():
    """Twice the friction and the waves of one; these by their mean over many spacings, over which interference averages out."""
    one, pairs = slim(), [slim(apart) for apart in np.linspace(4.0, 9.0, 24)]
    assert [len(p.bodies) for p in (one, pairs[0])] == [1, 2]
    for speed in (1.2, 1.8):
        alone = one.wave(speed)
        assert np.mean([p.wave(speed) for p in pairs]) == pytest.approx(2 * alone, rel=0.1)
        rub = [sum(f.newtons[0] for f in friction.forces(b, State(speed, b.rest))) for b in (one, pairs[0])]
        assert rub[1] == pytest.approx(2 * rub[0], rel=0.01)
        assert band_of(pairs[0]) == pytest.approx(band_of(one), rel=1e-3)
