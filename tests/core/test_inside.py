"""Water inside: lost buoyancy, added weight and free surface against closed forms and against each other."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.bodies import box, spheroid, tube
from tools.fuzz import examples
from yarekeel.core.errors import BoatSinks
from yarekeel.core.geometry.attitude import Attitude, rotation
from yarekeel.core.geometry.families import RoundBilge
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import joined
from yarekeel.core.geometry.spaces import below, clipped, inset
from yarekeel.core.hydrostatics.afloat import draft_at, float_boat
from yarekeel.core.hydrostatics.equilibrium import solve_equilibrium, solve_held
from yarekeel.core.hydrostatics.inside import Laden, Liquid, Part, surface_of
from yarekeel.core.trials.float_test import explain

RHO = 1000.0
LENGTH, BEAM, DEPTH, DRAFT, KG = 10.0, 2.0, 1.5, 0.5, 0.7
MASS = RHO * LENGTH * BEAM * DRAFT


def _box_with_middle(aft: float = 4.0, fore: float = 6.0):
    hull = Hull(box(LENGTH, BEAM, DEPTH))
    space = clipped(hull.mesh, (aft, None, None), (fore, None, None))
    assert space is not None
    return hull, Flotation(space, hull.kernel.centre)


def test_a_flooded_middle_compartment_by_lost_buoyancy_and_by_added_weight():
    """Box with its middle open to the sea: draft T L/(L - l), I of what is left of the waterplane; counted as weight the draft and
    the righting moment are the same though GM and displacement are not (Principles of Naval Architecture, vol. I, ch. III)."""
    hull, space = _box_with_middle()
    bare = hull.kernel
    lost = float_boat(hull, MASS, (5.0, 0.0, KG), RHO, kernel=Laden(bare, (Part(bare), Part(space, -1.0))))
    sunk = DRAFT * LENGTH / (LENGTH - 2.0)
    volume = LENGTH * BEAM * DRAFT
    assert -lost.attitude.origin_height == pytest.approx(sunk, rel=1e-9)
    assert lost.gm_transverse == pytest.approx(sunk / 2 + (LENGTH - 2) * BEAM**3 / 12 / volume - KG, rel=1e-9)
    water = 2.0 * BEAM * sunk
    added = float_boat(hull, MASS, (5.0, 0.0, KG), RHO, kernel=Laden(bare, (Part(bare),), (Liquid(space, water),)))
    assert -added.attitude.origin_height == pytest.approx(sunk, rel=1e-9)
    assert added.mass == pytest.approx(MASS + RHO * water, rel=1e-12)
    whole, kg = volume + water, (MASS * KG + RHO * water * sunk / 2) / (MASS + RHO * water)
    by_hand = sunk / 2 + LENGTH * BEAM**3 / 12 / whole - kg - 2.0 * BEAM**3 / 12 / whole
    assert added.gm_transverse == pytest.approx(by_hand, rel=1e-9)
    assert added.gm_transverse * added.mass == pytest.approx(lost.gm_transverse * lost.mass, rel=1e-9)


def test_an_end_compartment_both_ways_with_trim():
    """Flooded to the sea's own level, both ways end at one attitude: the water inside then stands as high as outside."""
    hull, space = _box_with_middle(8.5, 10.0)
    bare = hull.kernel
    lost = float_boat(hull, MASS, (4.6, 0.05, KG), RHO, kernel=Laden(bare, (Part(bare), Part(space, -0.9))))
    a = lost.attitude
    inside = 0.9 * space.evaluate(a.rows, -a.height_of(space.centre)).volume
    added = float_boat(hull, MASS, (4.6, 0.05, KG), RHO, kernel=Laden(bare, (Part(bare),), (Liquid(space, inside, 1.0, 0.9),)))
    b = added.attitude
    assert (b.heel, b.trim, b.origin_height) == pytest.approx((a.heel, a.trim, a.origin_height), abs=1e-8)
    plane = added.liquids[0].plane
    assert plane == pytest.approx(-b.height_of(space.centre), abs=1e-8)
    assert abs(math.degrees(a.trim)) > 1  # it does go down by the head


def test_free_surface_at_small_angles_is_i_over_volume():
    """GM falls by i / V for a slack tank, whatever its height (textbook; Principles of Naval Architecture, vol. I, ch. II)."""
    hull = Hull(box(LENGTH, BEAM, DEPTH))
    tank = clipped(hull.mesh, (2.0, -0.6, 0.1), (5.0, 0.6, 0.9))
    assert tank is not None
    kernel = Flotation(tank, hull.kernel.centre)
    volume = 0.5 * kernel.total_volume
    slack = float_boat(hull, MASS, (5.4, 0.0, KG), RHO, kernel=Laden(hull.kernel, (Part(hull.kernel),), (Liquid(kernel, volume),)))
    centre, liquid = (3.5, 0.0, 0.1 + 0.4 / 2), RHO * volume
    frozen = float_boat(
        hull, MASS + liquid, tuple((MASS * g + liquid * c) / (MASS + liquid) for g, c in zip((5.4, 0.0, KG), centre, strict=True)), RHO
    )
    # The trim moves it a little along the tank, so B, I and the centroid hardly change: the loss is i / V.
    loss = 3.0 * 1.2**3 / 12 / (frozen.mass / RHO)
    assert frozen.gm_transverse - slack.gm_transverse == pytest.approx(loss, rel=2e-3)


@pytest.mark.parametrize("degrees", [3.0, 20.0, 45.0, 70.0])
def test_a_liquids_shift_in_a_heeled_box_tank_is_exact(degrees):
    """A wide tank half full: until the surface meets floor or lid the centroid moves b2 tan / 12 h athwart and b2 tan2 / 24 h up;
    past that the wedge is a triangle, whose centroid is the mean of its corners."""
    wide, high, long = 1.2, 0.8, 3.0
    tank = Flotation(box(long, wide, high), (0.0, 0.0, 0.0))
    heel = math.radians(degrees)
    _, m = surface_of(tank, rotation(heel, 0.0), 0.5 * tank.total_volume)
    laden = Laden(tank, (), (Liquid(tank, 0.5 * tank.total_volume),))
    y, z = laden.levels(Attitude(heel, 0.0, 0.0))[0].centre[1:]
    fill = 0.5 * high
    slope = math.tan(heel)
    if slope * wide / 2 <= fill:
        assert y == pytest.approx(-(wide**2) * slope / 12 / fill, rel=1e-9)
        assert z == pytest.approx(fill / 2 + wide**2 * slope**2 / 24 / fill, rel=1e-9)
    else:  # half full, the plane passes through the middle and cuts floor and lid: a trapezoid on the low side
        reach = (high / 2) / slope
        low, top = wide / 2 + reach, wide / 2 - reach  # lengths of floor and lid that are covered
        area = (low + top) / 2 * high
        # Split in a rectangle and a triangle, from the low side's wall.
        from_wall = (top * high * top / 2 + (low - top) * high / 2 * (top + (low - top) / 3)) / area
        up = (top * high * high / 2 + (low - top) * high / 2 * high / 3) / area
        assert y == pytest.approx(-(wide / 2) + from_wall, rel=1e-9)
        assert z == pytest.approx(up, rel=1e-9)
    assert m.volume == pytest.approx(0.5 * tank.total_volume, rel=1e-12)


def test_liquid_acts_as_a_weight_at_its_centroid():
    """Two ways: the boat with a slack tank, and the boat with that liquid frozen where it came to rest, rest alike."""
    hull = Hull(RoundBilge().build())
    tank = clipped(hull.mesh, (0.2, 0.0, None), (0.6, None, 0.05))
    assert tank is not None
    kernel = Flotation(tank, hull.kernel.centre)
    laden = Laden(hull.kernel, (Part(hull.kernel),), (Liquid(kernel, 0.5 * kernel.total_volume, 0.8),))
    slack = float_boat(hull, 4.0, (0.5, 0.0, 0.05), RHO, kernel=laden)
    liquid = slack.liquids[0]
    mass = liquid.volume * liquid.ratio * RHO
    assert slack.mass == pytest.approx(4.0 + mass)
    frozen = float_boat(hull, slack.mass, slack.gravity, RHO)
    assert (frozen.attitude.heel, frozen.attitude.trim, frozen.attitude.origin_height) == pytest.approx(
        (slack.attitude.heel, slack.attitude.trim, slack.attitude.origin_height), abs=1e-8
    )
    assert slack.attitude.heel < 0  # it lies in the port half
    assert frozen.gm_transverse > slack.gm_transverse  # frozen water does not run


@examples(25)
@given(heel=st.floats(-1.2, 1.2), trim=st.floats(-0.4, 0.4), share=st.floats(0.05, 0.95), room=st.floats(0.3, 1.0))
def test_the_sums_are_the_gradient_of_the_energy(heel, trim, share, room):
    """With liquids in, the sums still are the slopes of one energy: a check of the free surface's part at any angle."""
    hull = Hull(RoundBilge().build())
    tank = clipped(hull.mesh, (0.3, None, None), (0.7, None, 0.08))
    assert tank is not None
    kernel = Flotation(tank, hull.kernel.centre)
    laden = Laden(hull.kernel, (Part(hull.kernel),), (Liquid(kernel, share * room * kernel.total_volume, 1.0, room),))

    def sums(h, t, d):
        return laden.evaluate(rotation(h, t), d)

    d, step = 0.01, 1e-5
    m = sums(heel, trim, d)
    # d(-mz)/d(d) is the negative of what lies below, since raising the plane lowers everything by as much.
    by_d = (sums(heel, trim, d + step).mz - sums(heel, trim, d - step).mz) / (2 * step)
    assert by_d == pytest.approx(-m.volume, rel=1e-5, abs=1e-9)
    by_volume = (sums(heel, trim, d + step).volume - sums(heel, trim, d - step).volume) / (2 * step)
    assert by_volume == pytest.approx(m.area, rel=2e-3, abs=1e-6)
    by_trim = (sums(heel, trim + step, d).mz - sums(heel, trim - step, d).mz) / (2 * step)
    assert by_trim == pytest.approx(m.mx, rel=1e-4, abs=1e-7)


def test_one_hull_of_a_twin_flooded_leans_to_it_and_a_boat_of_water_sinks():
    sides = [box(2.0, 0.3, 0.4).moved((0.0, y, 0.0)) for y in (-0.6, 0.6)]
    hull = Hull(joined(sides))
    port = Flotation(sides[1], hull.kernel.centre)
    half = Laden(hull.kernel, (Part(hull.kernel), Part(port, -0.5)))
    leaning = float_boat(hull, 60.0, (1.0, 0.0, 0.3), RHO, kernel=half)
    assert leaning.attitude.heel < -math.radians(2)
    with pytest.raises(BoatSinks):
        float_boat(hull, 60.0, (1.0, 0.0, 0.3), RHO, kernel=Laden(hull.kernel, (Part(hull.kernel), Part(hull.kernel, -0.95))))


def test_spaces_and_walls():
    body = tube(2.0, 0.3)
    fore = clipped(body, (1.5, None, None), (None, None, None))
    assert fore is not None
    assert fore.volume == pytest.approx(body.volume / 4, rel=1e-9)
    assert clipped(body, (3.0, None, None), (None, None, None)) is None
    half = below(body, (0.0, 0.0, 1.0), 0.0)
    assert half is not None
    assert half.volume == pytest.approx(body.volume / 2, rel=1e-9)
    thin = 0.002
    inner = inset(box(1.0, 0.4, 0.3), thin, open_top=True)  # four sides and a bottom
    wall = box(1.0, 0.4, 0.3).volume - inner.volume
    assert wall == pytest.approx(1.0 * 0.4 * 0.3 - (1 - 2 * thin) * (0.4 - 2 * thin) * (0.3 - thin), rel=5e-3)
    ball = spheroid(0.5, 0.5, 0.5)
    shell = ball.volume - inset(ball, thin, open_top=False).volume
    assert shell == pytest.approx(ball.area * thin, rel=0.01)


def test_a_half_sunk_cylinder_and_a_dived_spheroid_with_water_in_them():
    """A log half full of water floats with KM at its axis still: liquid in a round hull turns with it, so GM is that of the dry
    weight alone, (R - KG) m / M (closed form: both B and the liquid's centroid keep to the vertical through the axis)."""
    log = tube(2.0, 0.3, sides=720)
    hull = Hull(log)
    inside = Flotation(log, hull.kernel.centre)
    laden = Laden(hull.kernel, (Part(hull.kernel),), (Liquid(inside, 0.2 * log.volume),))
    low = -0.1
    a = float_boat(hull, 150.0, (1.0, 0.0, low), RHO, kernel=laden)
    assert a.gm_transverse * a.mass == pytest.approx(-low * 150.0, rel=2e-4)
    egg = spheroid(0.5, 0.2, 0.2, 96, 48)
    dived = Hull(egg)
    volume = egg.volume
    held = solve_held(dived.kernel, 0.999999 * volume, (0.0, 0.0, -0.02), math.radians(30))
    assert held.righting_arm == pytest.approx(0.02 * math.sin(math.radians(30)), rel=1e-3)  # BG sin: no waterplane is left


def test_solver_takes_a_laden_boat_from_anywhere():
    """Random tanks and starts: the rest found is one, its energy no higher than any neighbour's."""
    hull = Hull(RoundBilge().build())
    rng = np.random.default_rng(8)
    for _ in range(12):
        x = rng.uniform(0.1, 0.6)
        tank = clipped(hull.mesh, (x, None, None), (x + 0.25, None, None))
        assert tank is not None
        kernel = Flotation(tank, hull.kernel.centre)
        laden = Laden(hull.kernel, (Part(hull.kernel),), (Liquid(kernel, rng.uniform(0.1, 0.9) * 0.003),))
        gravity = (0.5, float(rng.uniform(-0.02, 0.02)), float(rng.uniform(0.03, 0.12)))
        rest = solve_equilibrium(laden, 0.004, gravity, Attitude(float(rng.uniform(-2, 2)), float(rng.uniform(-0.3, 0.3)), -0.05))
        a = rest.attitude

        def energy(heel, trim, height, laden=laden, gravity=gravity):
            at = Attitude(heel, trim, height)
            d = -at.height_of(laden.centre)
            return 0.004 * at.height_of(gravity) - laden.evaluate(at.rows, d).mz

        least = energy(a.heel, a.trim, a.origin_height)
        for dh, dt, dz in rng.normal(0, 1e-3, (20, 3)):
            assert energy(a.heel + dh, a.trim + dt, a.origin_height + 0.1 * dz) >= least - 1e-12


def test_drafts_read_off_a_boat_with_a_slack_tank_weigh_its_list():
    """Two ways: floated with the tank's water, and weighed back from the drafts it then shows."""
    hull = Hull(RoundBilge().build())
    tank = clipped(hull.mesh, (0.55, None, None), (0.85, None, 0.06))
    assert tank is not None
    kernel = Flotation(tank, hull.kernel.centre)
    laden = Laden(hull.kernel, (Part(hull.kernel),), (Liquid(kernel, 0.6 * kernel.total_volume),))
    a = float_boat(hull, 4.0, (0.47, 0.0, 0.05), RHO, kernel=laden).attitude
    found = explain(hull, RHO, 0.05, 0.9, draft_at(a, 0.9) or 0.0, 0.1, draft_at(a, 0.1) or 0.0, a.heel, laden)
    assert (found.mass, found.lcg) == pytest.approx((4.0, 0.47), rel=1e-8)
