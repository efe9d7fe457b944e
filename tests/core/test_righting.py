"""Righting arms against the exact box, a round log, energy, and the symmetry of the sea."""

import math

import numpy as np
import pytest
from scipy.optimize import minimize

from tests.bodies import box, tube
from tests.cases import energy
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.families import RoundBilge
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.stability.righting import Righted, righting_curve, wall_sided_arm

DEGREES = [math.radians(a) for a in range(0, 91, 5)]


def exact_box_arm(beam: float, depth: float, draft: float, kg: float, heel: float) -> float:
    """GZ of a heeled rectangle by clipping its outline with the waterline, area held: polygon geometry alone."""
    from scipy.optimize import brentq

    outline = np.array([[-beam / 2, 0], [beam / 2, 0], [beam / 2, depth], [-beam / 2, depth]])
    turn = np.array([[math.cos(heel), math.sin(heel)], [-math.sin(heel), math.cos(heel)]])  # starboard (x > 0 here) down
    points = outline @ turn.T

    def wet(level: float):
        out = []
        for p, q in zip(points, np.roll(points, -1, axis=0), strict=True):
            if p[1] <= level:
                out.append(p)
            if (p[1] - level) * (q[1] - level) < 0:
                out.append(p + (level - p[1]) / (q[1] - p[1]) * (q - p))
        poly = np.array(out) if len(out) > 2 else np.zeros((3, 2))
        x, y = poly.T
        cross = x * np.roll(y, -1) - np.roll(x, -1) * y
        area = cross.sum() / 2
        centre = ((x + np.roll(x, -1)) * cross).sum() / (6 * area) if area else 0.0
        return area, centre

    level = brentq(lambda h: wet(h)[0] - beam * draft, points[:, 1].min(), points[:, 1].max(), xtol=1e-15, rtol=1e-14)
    g = np.array([0.0, kg]) @ turn.T
    return wet(level)[1] - g[0]


def test_box_exactly_through_deck_edge_and_bilge_to_90():
    beam, depth, draft, kg = 0.5, 0.4, 0.17, 0.15
    curve = righting_curve(Hull(box(2.0, beam, depth)), 2.0 * beam * draft, (1.0, 0.0, kg), DEGREES)
    boat = Righted(Hull(box(2.0, beam, depth)), 2.0 * beam * draft, (1.0, 0.0, kg), Hull(box(2.0, beam, depth)).kernel)
    for point in curve.points:
        exact = exact_box_arm(beam, depth, draft, kg, point.heel)
        assert point.arm == pytest.approx(exact, abs=1e-8)  # what a sweep is left at
        assert boat.near(point, point.heel, tolerance=1e-9).arm == pytest.approx(exact, abs=1e-12)


def test_wall_sided_formula_until_the_edge():
    beam, depth, draft, kg = 0.5, 0.5, 0.25, 0.15
    bm = beam**2 / (12 * draft)
    gm = draft / 2 + bm - kg
    limit = math.atan(2 * draft / beam)
    heels = [f * limit for f in (0.2, 0.5, 0.8, 0.99)]
    curve = righting_curve(Hull(box(2.0, beam, depth)), 2.0 * beam * draft, (1.0, 0.0, kg), heels)
    for point in curve.points:
        assert point.arm == pytest.approx(wall_sided_arm(gm, bm, point.heel), abs=1e-8)


def test_half_sunk_log():
    # B stays under the axis: GZ = (R - KG) sin(heel) with R the axis height, within the facets.
    r = 0.2
    curve = righting_curve(Hull(tube(1.0, r, 180)), math.pi * r * r / 2, (0.5, 0.0, -0.08), DEGREES)
    for point in curve.points:
        assert point.arm == pytest.approx(0.08 * math.sin(point.heel), abs=1e-3 * r)


def test_port_mirrors_starboard_and_area_is_energy():
    mesh = RoundBilge().build()
    hull, volume, gravity = Hull(mesh), 0.3 * mesh.volume, (0.45, 0.0, 0.07)
    fine = [math.radians(a) for a in np.arange(-40, 40.1, 1.0)]
    curve = righting_curve(hull, volume, gravity, fine)
    arms = [p.arm for p in curve.points]
    assert arms == pytest.approx([-a for a in reversed(arms)], abs=1e-9)
    # Work done against the arm equals the rise of potential energy, here without trim worth naming (cos(trim) ~ 1).
    half = curve.points[40:]
    rise = energy(hull.kernel, volume, gravity, half[-1].attitude) - energy(hull.kernel, volume, gravity, half[0].attitude)
    work = np.trapezoid([p.arm * math.cos(p.trim) for p in half], [p.heel for p in half])
    assert rise / volume == pytest.approx(work, rel=1e-4)


@pytest.mark.parametrize("seed", range(3))
def test_free_trim_agrees_with_a_direct_search_of_energy(seed):
    rng = np.random.default_rng(seed)
    mesh = RoundBilge(beam_m=rng.uniform(0.2, 0.4), bow_fineness=rng.uniform(0.2, 0.9)).build()
    hull, volume = Hull(mesh), rng.uniform(0.2, 0.5) * mesh.volume
    gravity = (0.45 + rng.uniform(-0.03, 0.03), 0.0, 0.08)
    for heel in (0.3, 0.9):
        point = righting_curve(hull, volume, gravity, [0.0, heel / 2, heel]).points[-1]

        def at(x, heel=heel):
            return energy(hull.kernel, volume, gravity, Attitude(heel, x[0], x[1])) / volume

        found = minimize(at, [0.0, -0.05], method="Nelder-Mead", options={"xatol": 1e-9, "fatol": 1e-15, "maxiter": 4000})
        assert point.trim == pytest.approx(found.x[0], abs=2e-5)
        assert point.origin_height == pytest.approx(found.x[1], abs=2e-6)


def test_peak_range_and_deck_edge_are_read_off():
    beam, depth, draft, kg = 0.5, 0.3, 0.15, 0.19  # laid on its side G lies above the middle, so it must go over before 90 deg
    curve = righting_curve(Hull(box(2.0, beam, depth)), 2.0 * beam * draft, (1.0, 0.0, kg), DEGREES)
    assert curve.rim_under == pytest.approx(math.atan(2 * (depth - draft) / beam), abs=math.radians(1.0))
    assert curve.peak.arm == max(p.arm for p in curve.points)
    assert curve.vanishing is not None
    assert exact_box_arm(beam, depth, draft, kg, curve.vanishing) == pytest.approx(0.0, abs=2e-3)
