"""Laws of running against the outside: Michell by another quadrature, Savitsky's own example, coasting and lift in closed form."""

import math

import numpy as np
import pytest
from scipy.integrate import quad

from yarekeel.core.lifting.wing import lift_slope
from yarekeel.core.resistance.michell import wave_resistance, wave_source
from yarekeel.core.resistance.planing import (
    PlaningHull,
    bottom_speed,
    flat_lift,
    planing_at,
    porpoising_trim,
    pressure_centre,
    speed_coefficient,
    vee_lift,
    wetted_lengths,
)
from yarekeel.core.running.flip import air_lift, flip_speed, holding_moment
from yarekeel.core.running.following import ADDED, Leg, coasted, follow
from yarekeel.core.running.laws.waves import stoutness, waves_of
from yarekeel.core.running.regime import planing_share, volumetric_froude

LENGTH, BEAM, DRAFT = 1.0, 0.1, 0.0625
G = 9.80665


def wigley_pieces(across: float = 0.0, along: int = 160, down: int = 32):
    """Centres and outward area vectors of Wigley's hull, y = B/2 (1 - (2x/L)²)(1 - (z/T)²), both sides."""
    x, z = np.meshgrid(np.linspace(-LENGTH / 2, LENGTH / 2, along + 1), -DRAFT * np.linspace(0, 1, down + 1), indexing="ij")
    centres, areas = [], []
    for side in (1, -1):
        y = side * BEAM / 2 * (1 - (2 * x / LENGTH) ** 2) * (1 - (z / DRAFT) ** 2) + across
        p = np.stack((x, y, z), -1)
        a, b, c, d = p[:-1, :-1], p[1:, :-1], p[1:, 1:], p[:-1, 1:]
        area = np.cross(c - a, d - b) / 2
        area *= np.where(np.sign(area[..., 1:2]) == side, 1, -1)
        centres.append(((a + b + c + d) / 4).reshape(-1, 3))
        areas.append(area.reshape(-1, 3))
    return np.concatenate(centres), np.concatenate(areas)


def michell_by_quad(speed: float) -> float:
    """The integral with the hull's slope in closed form along x, scipy's adaptive quadrature for the rest."""
    nu = G / speed**2

    def height(u):
        lam = math.cosh(u)
        k = nu * lam
        deep = quad(lambda z: (1 - (z / DRAFT) ** 2) * math.exp(nu * lam**2 * z), -DRAFT, 0)[0]
        along = 2 * (math.sin(k * LENGTH / 2) / k**2 - LENGTH / 2 * math.cos(k * LENGTH / 2) / k)
        return (4 * BEAM / LENGTH**2 * along * deep) ** 2 * lam**2

    return 4 * 1000 * G**2 / (math.pi * speed**2) * quad(height, 0, 4.2, limit=600)[0]


@pytest.mark.parametrize("froude", [0.2, 0.25, 0.316, 0.4, 0.5, 0.8])
def test_michell_on_wigleys_hull(froude):
    """An independent quadrature of Michell's integral (Phil. Mag. 45 (1898)), the hull's x integral in closed form."""
    speed = froude * math.sqrt(G * LENGTH)
    mine = wave_resistance(wave_source(*wigley_pieces()), np.array([0.0, speed]), 1000.0)
    assert mine[0] == 0.0
    assert mine[1] == pytest.approx(michell_by_quad(speed), rel=0.02)


def test_hulls_far_apart_and_in_one_place():
    """Two of one hull make twice its waves far apart and four times in one place: the closed limits of 2 cos of the phase."""
    speeds = np.array([0.25, 0.32, 0.5]) * math.sqrt(G * LENGTH)
    one = wave_resistance(wave_source(*wigley_pieces()), speeds, 1000.0)

    def pair(apart):
        left, right = wigley_pieces(apart / 2), wigley_pieces(-apart / 2)
        hull = np.repeat([0, 1], len(left[0]))
        source = wave_source(np.concatenate((left[0], right[0])), np.concatenate((left[1], right[1])), hull)
        return wave_resistance(source, speeds, 1000.0)

    assert pair(1e-9) == pytest.approx(4 * one, rel=1e-6)
    # over many spacings the phase averages out
    apart = np.mean([pair(s) for s in np.linspace(4.0, 9.0, 60)], axis=0)
    assert apart == pytest.approx(2 * one, rel=0.08)


FOOT, POUND, KNOT = 0.3048, 0.45359237, 0.514444
EXAMPLE = PlaningHull(14 * FOOT, 10.0, 60_000 * POUND, 29 * FOOT, 2 * FOOT, 0.5 * FOOT, 4.0)


def test_savitskys_own_example():
    """His worked example: 60 000 lb, 14 ft beam, 10° of deadrise, LCG 29 ft, VCG 2 ft, f 0.5 ft, 4° of shaft, 40 knots. From memory his
    sheet has C_v 3.18, C_Lb 0.069, C_L0 0.085, trim about 2.3° and a mean wetted length of about 3.4 beams."""
    speed = 40 * KNOT
    cv = speed_coefficient(speed, EXAMPLE.beam)
    assert cv == pytest.approx(3.18, abs=0.01)
    found = planing_at(EXAMPLE, speed, 1025.9, 1.19e-6)
    assert found.lift_coefficient == pytest.approx(0.069, abs=0.002)
    assert flat_lift(found.trim, found.wetted, cv) == pytest.approx(0.085, abs=0.004)
    assert found.trim == pytest.approx(2.3, abs=0.15)
    assert found.wetted == pytest.approx(3.43, abs=0.1)
    assert abs(found.residual) < 1e-6 * EXAMPLE.mass * G * EXAMPLE.beam


def test_savitskys_relations_by_hand():
    """tau 4°, lambda 2, C_v 3: 4^1.1 = 4.5948; 0.0120 x 1.41421 + 0.0055 x 5.65685 / 9."""
    flat = flat_lift(4.0, 2.0, 3.0)
    assert flat == pytest.approx(4.5948 * (0.0169706 + 0.0034570), rel=1e-4)
    assert vee_lift(flat, 15.0) == pytest.approx(flat - 0.0065 * 15 * flat**0.6)
    assert pressure_centre(2.0, 3.0) == pytest.approx(0.75 - 1 / (5.21 * 9 / 4 + 2.39))
    keel, chine = wetted_lengths(1.0, 15.0, 4.0, 2.0)
    assert keel - chine == pytest.approx(math.tan(math.radians(15)) / (math.pi * math.tan(math.radians(4))))
    assert (keel + chine) / 2 == pytest.approx(2.0)
    # a flat plate: V1 = V sqrt(1 - 0.0120 tau^1.1 / (lambda^0.5 cos tau))
    assert bottom_speed(10.0, 4.0, 2.0, 0.0) == pytest.approx(
        10 * math.sqrt(1 - 0.0120 * 4.5948 / (math.sqrt(2) * math.cos(math.radians(4)))), rel=1e-4
    )


def test_weight_forward_trims_less_and_no_trim_is_no_answer():
    speed = 40 * KNOT
    forward = PlaningHull(14 * FOOT, 10.0, 60_000 * POUND, 33 * FOOT, 2 * FOOT, 0.5 * FOOT, 4.0)
    assert planing_at(forward, speed, 1025.9, 1.19e-6).trim < planing_at(EXAMPLE, speed, 1025.9, 1.19e-6).trim
    heavy = PlaningHull(14 * FOOT, 10.0, 6e8 * POUND, 29 * FOOT, 2 * FOOT)
    assert planing_at(heavy, speed, 1025.9, 1.19e-6) is None
    assert porpoising_trim(0.2, 10.0) > porpoising_trim(0.1, 10.0) > 0


def test_the_blend_begins_and_ends_where_it_says():
    """Volumetric Froude 1 and 2.75 (common practice): 1 m3, sqrt(g) is 3.1316 m/s."""
    assert volumetric_froude(3.13156, 1.0) == pytest.approx(1.0, rel=1e-4)
    assert planing_share(3.13, 1.0) == 0.0
    assert planing_share(2.76 * 3.1316, 1.0) == 1.0
    assert planing_share((1 + 2.75) / 2 * 3.13156, 1.0) == pytest.approx(0.5, rel=1e-3)


def test_coasting_against_its_closed_form():
    """(1 + 0.05) m dV/dt = -k V²: x = m' / k ln(1 + k V t / m')."""
    run = follow(10.0, (Leg(20.0, 0.0),), lambda v, d: 0.0, lambda v, w: 1.5 * v * v, lambda v, d: 0.0, start=4.0)
    assert run.distance[-1] == pytest.approx(coasted(10.0, 1.5, 4.0, 20.0), rel=1e-5)
    assert run.speed[-1] == pytest.approx(4.0 / (1 + 1.5 * 4.0 * 20 / (10 * (1 + ADDED))), rel=1e-6)


def test_work_balances_energy():
    run = follow(8.0, (Leg(6.0, 1.0), Leg(4.0, 0.4)), lambda v, d: d * (12 - 2 * v), lambda v, w: 1.2 * v**2, lambda v, d: 5 * d)
    assert run.thrust_work - run.drag_work == pytest.approx(run.kinetic, abs=0.002 * run.thrust_work)
    assert run.used[-1] == pytest.approx((6 * 5 + 4 * 2) / 3600, rel=1e-6)
    assert run.time[-1] == pytest.approx(10.0)
    assert follow(8.0, (Leg(2.0, 1.0),), lambda v, d: 1.0, lambda v, w: 50.0, lambda v, d: 0.0).speed.max() == 0.0


def test_lift_slopes_against_their_theories():
    """Slender wing, R. T. Jones: pi AR / 2; Prandtl's lifting line with elliptic load: 2 pi / (1 + 2 / AR)."""
    assert lift_slope(0.5, 1.0) == pytest.approx(math.pi * 0.25 / 2)
    assert lift_slope(4.0, 2.0) == pytest.approx(2 * math.pi / (1 + 2 / 8))


def test_a_flip_by_moments_by_hand():
    """2 kg, G 0.3 m ahead of the contact: 5.884 N m; air 1.2 kg/m3 or so on 0.2 m2, 0.4 m broad, at 5°, 0.5 m ahead of it."""
    moment = holding_moment(2.0, 0.3, 6.0, 0.05)
    assert moment == pytest.approx(2 * G * 0.3 + 6 * 0.05)
    slope = lift_slope(0.4, 0.2)
    speed = flip_speed(moment, 0.2, slope, math.radians(5), 0.5)
    assert air_lift(speed, 0.2, slope, math.radians(5)) * 0.5 == pytest.approx(moment)
    assert flip_speed(moment, 0.2, slope, math.radians(5), 0.5, 4.0) == pytest.approx(speed - 4.0)
    assert flip_speed(-1.0, 0.2, slope, 0.1, 0.5) == 0.0
    assert math.isinf(flip_speed(1.0, 0.2, slope, 0.0, 0.5))


@pytest.mark.parametrize(("froude", "exact"), [(0.06, 0.011e-3), (0.08, 0.042e-3), (0.10, 0.10e-3)])
def test_waves_at_a_walking_pace_are_not_noise(froude, exact):
    """Michell's integral for Wigley's hull with the hull in closed form (an outside audit's values): as small as that, not 6 to 1 300
    times as much, which is what pieces of surface send where waves are shorter than they are."""
    speed = froude * math.sqrt(G * LENGTH)
    wetted = float(np.linalg.norm(wigley_pieces()[1], axis=1).sum())
    told = wave_resistance(wave_source(*wigley_pieces()), np.array([speed]), 1000.0)[0] / (500 * speed**2 * wetted)
    assert exact / 2 < told < 2 * exact


def test_two_hulls_far_apart_are_two_single_ones():
    """A stout hull's rough hump, and how stout it is, go by each hull and not by the volume of both."""
    speeds = np.linspace(0.3, 3.0, 12)
    volume, length, wetted = 0.004, 0.75, 0.11
    michell = 0.3 * speeds**2
    one = waves_of(michell, ((volume, length),), wetted, speeds, 1000.0)
    both = waves_of(2 * michell, ((volume, length), (volume, length)), 2 * wetted, speeds, 1000.0)
    assert both == pytest.approx(2 * one, rel=1e-12)
    assert stoutness(length, volume) > 0.1  # it is told apart from slender ones
