"""Check values from outside the project, each with where it was printed and how it reached this file."""

import math

import pytest

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.families import Box
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import joined
from yarekeel.core.geometry.wetted import waterline_length, wetted_surface
from yarekeel.core.hydrostatics.afloat import float_boat
from yarekeel.core.resistance.friction import friction_coefficient, hull_speed
from yarekeel.core.water import fresh_water_density, kinematic_viscosity, sea_water_density


def test_textbook_box():
    """Box 24 x 5 x 5 m at 2 m draft, KG 1.5 m: KB 1.000, BM 1.042, GM 0.54 m (ship-stability textbooks' example; from memory)."""
    a = float_boat(Hull(Box(24.0, 5.0, 5.0).build()), 24 * 5 * 2 * 1025.0, (12.0, 0.0, 1.5), 1025.0)
    assert a.buoyancy[2] == pytest.approx(1.000, abs=5e-4)
    assert a.bm_transverse == pytest.approx(1.042, abs=5e-4)
    assert a.gm_transverse == pytest.approx(0.54, abs=5e-3)


def test_two_hulls_by_parallel_axes():
    """Two boxes apart: BM = 2 (l b^3 / 12 + l b s^2) / V (mechanics, parallel-axis theorem)."""
    length, b, half, draft = 1.0, 0.1, 0.2, 0.06
    hull = Box(length, b, 0.15).build()
    twin = Hull(joined([hull.moved((0, half, 0)), hull.moved((0, -half, 0))]))
    volume = 2 * length * b * draft
    a = float_boat(twin, volume * 1000, (0.5, 0.0, 0.05), 1000.0)
    assert a.bm_transverse == pytest.approx(2 * (length * b**3 / 12 + length * b * half**2) / volume, rel=1e-9)


def test_water_density_against_the_ittc_table():
    """ITTC 7.5-02-01-03 at 15 degC: fresh 999.1, sea 1026.0 kg/m3 (as printed to one decimal)."""
    assert round(fresh_water_density(15.0), 1) == 999.1
    assert round(sea_water_density(15.0), 1) == 1026.0


@pytest.mark.parametrize(("t", "density"), [(0, 999.84), (4, 999.97), (10, 999.70), (20, 998.20), (25, 997.05), (30, 995.65)])
def test_fresh_water_against_the_handbook_of_chemistry_and_physics(t, density):
    """CRC Handbook, density of water at one atmosphere, two decimals (from memory)."""
    assert fresh_water_density(float(t)) == pytest.approx(density, abs=6e-3)


@pytest.mark.parametrize(("s", "t", "density"), [(0, 5, 999.96675), (0, 25, 997.04796), (35, 5, 1027.67547), (35, 25, 1023.34306)])
def test_sea_water_against_the_unesco_check_values(s, t, density):
    """UNESCO Technical Papers in Marine Science 44, check values at zero pressure."""
    assert sea_water_density(float(t), float(s)) == pytest.approx(density, abs=1e-5)


def test_viscosity_against_the_ittc_table():
    """ITTC 7.5-02-01-03 at 15 degC: fresh 1.1386e-6, sea 1.1892e-6 m2/s (from memory)."""
    assert kinematic_viscosity(15.0, salt=False) == pytest.approx(1.1386e-6, rel=2e-3)
    assert kinematic_viscosity(15.0, salt=True) == pytest.approx(1.1892e-6, rel=5e-3)


def test_ittc_1957_line():
    """C_F at Re 1e7 is 0.003000 (0.075 / 25, by hand from the published formula)."""
    assert friction_coefficient(1e7) == pytest.approx(0.003000, abs=5e-7)
    assert friction_coefficient(1e6) == pytest.approx(0.075 / 16, rel=1e-12)


def test_hull_speed_of_a_six_metre_waterline():
    """Speed-length ratio 1.34 knots per root foot, the trade's rule (common practice), is Fn 0.40: within 1 %."""
    knots = hull_speed(6.0) / 0.514444
    assert knots == pytest.approx(1.34 * math.sqrt(6.0 / 0.3048), rel=0.01)


def test_wetted_surface_of_a_box_excludes_the_waterplane():
    """By hand: bottom and four sides to the draft; then heeled so that one bottom edge comes out."""
    mesh = Box(1.0, 0.4, 0.3).build()
    level = Attitude(0.0, 0.0, -0.1)
    assert wetted_surface(mesh, level) == pytest.approx(1.0 * 0.4 + 2 * (1.0 + 0.4) * 0.1, rel=1e-12)
    assert waterline_length(mesh, level) == pytest.approx(1.0)
    heeled = Attitude(math.radians(45), 0.0, 0.0)  # the wet section is a right triangle with legs 0.2, by geometry
    assert wetted_surface(mesh, heeled) == pytest.approx(2 * 0.2 * 1.0 + 2 * 0.5 * 0.2 * 0.2, rel=1e-12)
