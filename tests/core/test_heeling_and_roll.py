"""Levers over the righting arm, sails, rolling and inclining, against closed forms and boats heeled as meshes."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from tests.bodies import box
from tests.core.test_righting import exact_box_arm
from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.found import Found
from yarekeel.core.geometry.families import RoundBilge
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.afloat import float_boat
from yarekeel.core.hydrostatics.forces import AppliedForce, solve_pushed
from yarekeel.core.propulsion.sail import Sail, effort, lead
from yarekeel.core.stability.heeling import Lever, outward, steady, thrown, turning
from yarekeel.core.stability.inclining import (
    Incline,
    Shift,
    gm_by_slope,
    gm_from_period,
    height_from,
    predicted_period,
    roll_period,
    with_added,
)
from yarekeel.core.stability.pitching import pitch_curve, push_that_holds
from yarekeel.core.stability.righting import Righted, mirrored, righting_curve
from yarekeel.core.stability.roll_fit import fit_roll
from yarekeel.core.stability.tipping import Tipping

BEAM, DEPTH, DRAFT, KG = 0.5, 0.4, 0.17, 0.15
HEELS = [math.radians(a) for a in (*range(0, 20, 2), *range(20, 181, 5))]


@pytest.fixture(scope="module")
def raft():
    """A box whose arm is known by polygon geometry, and its curve."""
    hull = Hull(box(2.0, BEAM, DEPTH))
    boat = Righted(hull, 2.0 * BEAM * DRAFT, (1.0, 0.0, KG), hull.kernel)
    curve = righting_curve(hull, boat.displaced, boat.gravity, HEELS)
    return boat, curve, outward(curve.points, mirrored(curve).points)


@pytest.mark.parametrize("lever", [Lever(firm=0.02), Lever(leaning=0.03), Lever(sail=0.035), Lever(0.005, 0.01, 0.01)])
def test_a_steady_lever_leaves_it_where_the_exact_arm_is_as_large(raft, lever):
    boat, _, points = raft
    at = steady(boat, points, 1, 0.0, lever)
    assert at is not None
    by_hand = brentq(lambda h: exact_box_arm(BEAM, DEPTH, DRAFT, KG, h) - lever.at(h), 1e-6, 0.7)
    assert at.heel == pytest.approx(by_hand, abs=1e-4)  # a crossing is sought to 0.005°


def test_a_sudden_lever_throws_it_until_work_and_area_are_equal(raft):
    """By the exact arm: area under the lever from rest equals area under GZ (the way of the IMO 2008 IS Code, A 2.3, reckons a gust)."""
    boat, _, points = raft
    gust = Lever(firm=0.025)
    start = points[len(points) // 2]
    assert start.heel == 0.0
    at = thrown(boat, points, 1, start, gust)
    assert at is not None
    grid = np.linspace(0, at.heel, 801)
    area = np.trapezoid([exact_box_arm(BEAM, DEPTH, DRAFT, KG, h) for h in grid], grid)
    assert area == pytest.approx(0.025 * at.heel, rel=2e-4)
    rest = steady(boat, points, 1, 0.0, gust)
    assert rest is not None
    assert at.heel > 1.7 * rest.heel  # near upright a sudden push throws it twice as far as a slow one


def test_a_lever_larger_than_any_arm_is_held_nowhere_near(raft):
    boat, curve, points = raft
    strong = Lever(firm=1.2 * curve.righting_arm(curve.peak))
    at = steady(boat, points, 1, 0.0, strong)
    assert at is None or at.heel > curve.vanishing
    thrown_to = thrown(boat, points, 1, points[len(points) // 2], strong)
    assert thrown_to is None or thrown_to.heel > curve.peak.heel


def test_work_of_a_lever_is_its_integral():
    lever = Lever(0.01, 0.02, 0.03)
    for a, b in ((0.0, 0.5), (-0.3, 0.9), (0.2, 2.5), (-2.0, 2.0)):
        grid = np.linspace(a, b, 20_001)
        assert lever.work(a, b) == pytest.approx(np.trapezoid([lever.at(h) for h in grid], grid), abs=1e-8)
    assert turning(2.0, 4.0, 0.3).at(0.0) == pytest.approx(2.0**2 / (STANDARD_GRAVITY * 4.0) * 0.3)


def test_sails_add_up_by_their_moments():
    area, centre, coefficient = effort((Sail("main", 3.0, (1.0, 0.0, 2.0)), Sail("jib", 1.0, (3.0, 0.0, 1.2))))
    assert area == 4.0
    assert centre == pytest.approx(((3 * 1.0 + 1 * 3.0) / 4, 0.0, (3 * 2.0 + 1.2) / 4))
    assert coefficient == pytest.approx(1.2)
    assert effort(())[0] == 0.0
    assert lead(2.2, 2.0, 4.0) == pytest.approx(0.05)
    with pytest.raises(InvalidInput):
        Sail("x", -1.0)


# Rolling


def test_a_known_period_and_back():
    """T = 2 pi k / sqrt(g GM): k 0.4 m and GM 0.1 m by hand, 2.538 s; from it back to GM, inside its band."""
    assert roll_period(0.4, 0.1) == pytest.approx(2 * math.pi * 0.4 / math.sqrt(9.80665 * 0.1), rel=1e-12)
    assert roll_period(0.4, 0.1) == pytest.approx(2.538, abs=5e-4)
    assert math.isinf(roll_period(0.4, -0.1))
    predicted = predicted_period(0.4, 0.1, 0.0)
    gm = gm_from_period(Found(0.4, 0.0), Found(roll_period(with_added(0.4, 0.13), 0.1), 0.02))
    assert abs(gm.value - 0.1) < gm.half_width
    assert predicted.value == pytest.approx(2.538 * math.sqrt(1.15), rel=1e-3)
    # GM goes with the square of k: 5 % of k are 10 % of GM, and by themselves widen the period by 5 %.
    unsure = gm_from_period(Found(0.4, 0.02), Found(roll_period(with_added(0.4, 0.13), 0.1), 0.02))
    assert math.sqrt(unsure.half_width**2 - gm.half_width**2) == pytest.approx(0.10 * gm.value, rel=1e-6)
    widened = predicted_period(0.4, 0.1, 0.05).half_width
    assert math.sqrt(widened**2 - predicted.half_width**2) == pytest.approx(0.05 * predicted.value, rel=1e-6)


@given(st.floats(0.6, 4.0), st.floats(0.02, 0.12), st.floats(-3, 3), st.integers(0, 10_000))
@settings(max_examples=30, deadline=None)
def test_the_period_of_a_noisy_trace_is_found(period, damping, offset, seed):
    rng = np.random.default_rng(seed)
    t = np.arange(0, 8 * period, 0.05)
    rate = 2 * math.pi / period
    true = math.radians(offset) + math.radians(8) * np.exp(-damping * rate * t) * np.cos(rate * t * math.sqrt(1 - damping**2))
    fit = fit_roll(t, true + math.radians(0.06) * rng.standard_normal(len(t)))
    assert fit is not None
    assert fit.period.value == pytest.approx(period / math.sqrt(1 - damping**2), rel=0.01)
    assert fit.offset == pytest.approx(math.radians(offset), abs=math.radians(0.15))


def test_noise_a_still_boat_and_too_short_a_trace_have_no_period():
    rng = np.random.default_rng(1)
    t = np.arange(0, 15, 0.05)
    assert fit_roll(t, math.radians(0.06) * rng.standard_normal(len(t))) is None
    assert fit_roll(t, np.full(len(t), 0.02)) is None
    assert fit_roll(t[:8], np.cos(t[:8])) is None
    assert fit_roll(t[t < 1.0], np.cos(2 * math.pi * t[t < 1.0] / 3.0)) is None


# Inclining


@pytest.mark.parametrize("seed", range(8))
def test_an_inclining_test_on_a_heeled_mesh_gives_back_the_kg_put_in(seed):
    """The boat as it really is, with its weight moved across, is floated as a mesh; from the angles read off it, and a list that has
    G elsewhere, the height comes back within 0.5 %, whatever the angle."""
    rng = np.random.default_rng(seed)
    mesh = RoundBilge(beam_m=rng.uniform(0.25, 0.4)).build()
    hull, density, mass = Hull(mesh), 1000.0, 0.4 * mesh.volume * 1000.0
    kg, listed, weight = rng.uniform(0.05, 0.08), rng.uniform(0.05, 0.08), 0.04 * mass
    x = 0.45

    def heel(moved: float) -> float:
        a = float_boat(hull, mass, (x, -weight * moved / mass, kg), density)
        return math.degrees(a.attitude.heel)

    shifts = tuple(Shift(m, heel(m)) for m in (0.0, 0.1, 0.25, -0.1, -0.25))
    assert max(abs(s.heel_deg) for s in shifts) > 3
    boat = Righted(hull, mass / density, (x, 0.0, listed), hull.kernel)
    found = height_from(boat, mass, Incline(weight, shifts), 0.0)
    assert found is not None
    assert found[0].value == pytest.approx(kg, rel=0.005)
    assert found[1] == pytest.approx(0.0, abs=1e-4)
    # A sensor that was set down crooked shows as G to one side, and leaves the height as it is.
    crooked = height_from(boat, mass, Incline(weight, tuple(Shift(s.moved_m, s.heel_deg + 0.5) for s in shifts)), 0.0)
    assert crooked is not None
    assert crooked[0].value == pytest.approx(kg, rel=0.005)


def test_the_slope_near_upright_gives_gm_and_its_band_holds():
    """w d / (W tan heel) on a box: GM = KB + BM - KG by hand; 200 noisy tests, at least 95 in 100 inside the band."""
    hull, density = Hull(box(2.0, BEAM, DEPTH)), 1000.0
    mass = 2.0 * BEAM * DRAFT * density
    gm = DRAFT / 2 + BEAM**2 / (12 * DRAFT) - KG
    weight, moves = 2.0, (-0.2, -0.1, 0.0, 0.1, 0.2)
    heels = [math.degrees(float_boat(hull, mass, (1.0, -weight * d / mass, KG), density).attitude.heel) for d in moves]
    clean = gm_by_slope(weight, [Shift(d, h) for d, h in zip(moves, heels, strict=True)], mass, 0.1, 0.001)
    assert clean is not None
    assert clean.value == pytest.approx(gm, rel=0.01)
    rng = np.random.default_rng(3)
    inside = 0
    boat = Righted(hull, mass / density, (1.0, 0.0, KG + 0.02), hull.kernel)
    for _ in range(200):
        noisy = tuple(Shift(d + rng.uniform(-1e-3, 1e-3), h + rng.uniform(-0.1, 0.1)) for d, h in zip(moves, heels, strict=True))
        found = height_from(boat, mass, Incline(weight, noisy, angle_deg=0.1, place_m=0.001), 0.0)
        assert found is not None
        inside += abs(found[0].value - KG) <= found[0].half_width
    assert inside >= 190


def test_too_few_readings_tell_nothing_and_bad_ones_are_refused():
    hull = Hull(box(2.0, BEAM, DEPTH))
    boat = Righted(hull, 0.17, (1.0, 0.0, KG), hull.kernel)
    assert height_from(boat, 170.0, Incline(2.0, (Shift(0.0, 0.0),)), 0.0) is None
    assert height_from(boat, 170.0, Incline(None, (Shift(0.1, 2.0), Shift(-0.1, -2.0))), 0.0) is None
    assert gm_by_slope(2.0, [Shift(0.1, 2.0)], 170.0, 0.1, 0.001) is None
    assert gm_by_slope(2.0, [Shift(0.1, 2.0), Shift(0.2, 2.0)], 170.0, 0.1, 0.001) is None
    for bad in (dict(weight_kg=-1.0), dict(rolls=0), dict(time_s=0.0), dict(angle_deg=0.0)):
        with pytest.raises(InvalidInput):
            Incline(**bad)
    with pytest.raises(InvalidInput):
        Shift(0.1, 80.0)
    with pytest.raises(InvalidInput):
        Tipping(gust=0.5)
    assert Tipping(wind_ms=3.0).filled(Tipping(wind_ms=8.0, gust=1.4)) == Tipping(wind_ms=3.0, gust=1.4)


# Pitching


def test_a_push_forward_trims_a_box_as_it_does_by_the_solver_of_forces():
    """The pitch curve holds the boat upright at a trim and asks for the push; the solver of forces finds the trim of a push: they meet.
    Small angles by hand too: F h = W GM_L tan(trim)."""
    hull, density = Hull(box(2.0, BEAM, DEPTH)), 1000.0
    mass = 2.0 * BEAM * DRAFT * density
    boat = Righted(hull, mass / density, (1.0, 0.0, KG), hull.kernel)
    trims = [-math.radians(a) for a in (0.0, 0.3, 1.0, 3.0, 6.0)]
    points = pitch_curve(boat, trims)
    assert points[0].arm == pytest.approx(0.0, abs=1e-12)
    at = (0.9, 0.0, 1.4)
    pushes = [push_that_holds(p, boat, at, density) for p in points]
    gm_l = DRAFT / 2 + 4.0 / (12 * DRAFT) - KG
    assert pushes[1] * (1.4 - DRAFT / 2) == pytest.approx(mass * STANDARD_GRAVITY * gm_l * math.tan(math.radians(0.3)), rel=5e-3)
    for point, push in zip(points[1:], pushes[1:], strict=True):
        pushed = solve_pushed(hull, mass, (1.0, 0.0, KG), density, (AppliedForce("sail", at, (push, 0.0, 0.0)),), (1.0, 0.0, DRAFT / 2))
        assert pushed.afloat.attitude.trim == pytest.approx(point.trim, abs=1e-6)
        assert pushed.afloat.attitude.origin_height == pytest.approx(point.origin_height, abs=1e-6)
