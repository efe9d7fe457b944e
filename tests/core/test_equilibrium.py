"""Equilibrium: force and moment balance, a minimum of energy, loll, capsize, sinking."""

import math

import numpy as np
import pytest

from tests.bodies import box, tube
from tests.cases import is_minimum, random_cases
from yarekeel.core.errors import BoatSinks
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.afloat import draft_at, float_boat, level_centre
from yarekeel.core.hydrostatics.equilibrium import required_volume, solve_equilibrium


@pytest.mark.parametrize("extreme", [False, True])
def test_random_boats_balance_and_rest_in_a_minimum(extreme):
    for mesh, volume, gravity in random_cases(90, 11, extreme):
        kernel = Flotation(mesh)
        r = solve_equilibrium(kernel, volume, gravity)
        rows = np.array(r.attitude.rows)
        m = kernel.evaluate(r.attitude.rows, -r.attitude.height_of(kernel.centre))
        assert m.volume == pytest.approx(volume, rel=1e-9, abs=1e-12 * mesh.volume)  # weight is carried
        g = rows @ (np.array(gravity) - np.array(kernel.centre))
        assert [m.mx / volume, m.my / volume] == pytest.approx(g[:2].tolist(), abs=1e-7 * kernel.half_extent)  # B under G
        assert is_minimum(kernel, volume, r)


def test_off_centre_weight_on_a_box_by_the_wall_sided_moment():
    # Wall-sided: w d cos(heel) = W sin(heel) (GM + BM tan^2(heel) / 2), before an edge moves through the surface.
    length, beam, mass, kg = 1.0, 0.4, 40.0, 0.06
    hull = Hull(box(length, beam, 0.3))
    y = -0.012
    heel = float_boat(hull, mass, (0.5, y, kg), 1000.0).attitude.heel
    draft = mass / 1000 / (length * beam)
    bm = beam**2 / (12 * draft)
    gm = draft / 2 + bm - kg
    assert math.sin(heel) * (gm + bm / 2 * math.tan(heel) ** 2) == pytest.approx(-y * math.cos(heel), rel=1e-9)
    assert heel > 0  # weight to starboard puts starboard down


def test_square_log_of_half_density_floats_on_its_corner():
    # A square prism of density 0.5 is unstable flat and rests at 45 deg: classical (Gilbert 1991, from memory).
    a = float_boat(Hull(box(4.0, 0.3, 0.3)), 0.5 * 4.0 * 0.09 * 1000, (2.0, 0.0, 0.15), 1000.0)
    assert abs(math.degrees(a.attitude.heel)) == pytest.approx(45.0, abs=1e-5)
    assert a.is_lolling
    assert a.upright.heel_stiffness == pytest.approx(0.075 + 0.09 / (12 * 0.15) - 0.15, rel=1e-9)


def test_loll_angle_of_a_box_is_that_of_the_wall_sided_formula():
    # tan^2(loll) = -2 GM / BM (wall-sided, mechanics).
    length, beam, draft, kg = 1.0, 0.3, 0.12, 0.1268
    a = float_boat(Hull(box(length, beam, 0.4)), 1000 * length * beam * draft, (0.5, 0.0, kg), 1000.0)
    bm = beam**2 / (12 * draft)
    gm = draft / 2 + bm - kg
    assert gm < 0
    assert math.tan(a.attitude.heel) ** 2 == pytest.approx(-2 * gm / bm, rel=1e-6)
    assert a.is_lolling
    assert a.gm_transverse > 0  # stable where it rests


def test_top_heavy_boat_capsizes_and_says_so():
    a = float_boat(Hull(box(1.0, 0.3, 0.3)), 20.0, (0.5, 0.0, 0.9), 1000.0)
    assert a.is_capsized
    assert abs(math.degrees(a.attitude.heel)) == pytest.approx(180.0, abs=1e-4)


def test_round_log_is_neutral():
    kernel = Flotation(tube(1.0, 0.2, 64))
    r = solve_equilibrium(kernel, 0.5 * kernel.total_volume, (0.5, 0.0, 0.0))
    assert r.neutral
    assert not solve_equilibrium(Flotation(box(1.0, 0.4, 0.3)), 0.04, (0.5, 0.0, 0.05)).neutral


def test_too_heavy_sinks_with_its_figures():
    kernel = Flotation(box(1.0, 0.2, 0.1))
    with pytest.raises(BoatSinks) as caught:
        required_volume(kernel, 25.0, 1000.0)
    assert caught.value.capacity_kg == pytest.approx(20.0)


def test_marks_read_along_the_boat():
    hull = Hull(box(1.0, 0.4, 0.3))
    a = float_boat(hull, 40.0, (0.52, 0.0, 0.05), 1000.0)
    # On a box the mean of the end drafts is the draft amidships, and their difference over the length is tan(trim).
    stern, bow = draft_at(a.attitude, 0.0), draft_at(a.attitude, 1.0)
    assert (stern + bow) / 2 == pytest.approx(0.1, rel=1e-9)
    assert stern - bow == pytest.approx(math.tan(a.attitude.trim), rel=1e-9)
    assert a.attitude.trim < 0  # weight forward puts the bow down


def test_level_centre_is_where_g_must_lie():
    hull = Hull(box(1.0, 0.4, 0.3).moved((0.2, 0.05, 0.0)))
    assert level_centre(hull.kernel, 0.04) == pytest.approx((0.7, 0.05, 0.05), rel=1e-9)


def test_gm_is_the_slope_of_the_righting_moment():
    # Independent of the waterplane: turn the boat a little and read the moment arm off volumes alone.
    from yarekeel.core.stability.righting import righting_curve

    hull = Hull(box(1.0, 0.4, 0.3))
    a = float_boat(hull, 40.0, (0.5, 0.0, 0.08), 1000.0)
    eps = 1e-4
    curve = righting_curve(hull, a.volume, a.gravity, [-eps, 0.0, eps])
    slope = (curve.points[2].arm - curve.points[0].arm) / (2 * eps)
    assert a.gm_transverse == pytest.approx(slope, rel=1e-6)
