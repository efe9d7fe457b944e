"""Steering and shallow water against the outside: a ship's published derivatives, closed forms, sums by hand."""

import math

import pytest

from yarekeel.core.resistance.shallow import deep_speed, depth_froude, speed_lost
from yarekeel.core.running.course import (
    STALL,
    Derivatives,
    Fin,
    cross_flow,
    fin_slope,
    hull_derivatives,
    rudder_force,
    steadiness,
    stream_over,
    turn_lever,
    turn_of,
    with_fins,
)


def test_hull_derivatives_against_a_ships_measured_ones():
    """The Mariner ship, 160.9 x 23.2 x 7.5 m, C_B 0.6: measured Y_v -0.0116, N_v -0.0026, N_r -0.0017 (Chislett and Strøm-Tejsen 1965, from
    memory). The formulas are regressions over many ships, their N_v large for one with a rudder."""
    d = hull_derivatives(160.93, 23.17, 7.47, 0.6)
    assert d.y_v == pytest.approx(-0.0116, rel=0.06)
    assert d.n_r == pytest.approx(-0.00166, rel=0.25)
    assert -0.0045 < d.n_v < -0.0020


def test_a_fin_aft_steadies_and_one_ahead_unsteadies():
    bare = hull_derivatives(1.0, 0.25, 0.06, 0.5)
    mass = 0.0075 / 0.5  # 0.0075 m3 of water over half of the cube of the waterline

    def c(*fins):
        return steadiness(with_fins(bare, fins, 1.0), mass, 0.0)

    skeg, forward = Fin(0.004, 0.05, -0.45), Fin(0.004, 0.05, 0.45)
    assert c(skeg) > c() > c(forward)
    assert steadiness(bare, mass, 0.05) > steadiness(bare, mass, 0.0)  # weight forward
    # a fin's own slope: AR = 2 x 0.05² / 0.004 = 1.25
    assert fin_slope(skeg) == pytest.approx(2 * math.pi / (1 + 2 / 1.25))
    fins = with_fins(Derivatives(0, 0, 0, 0), (skeg,), 1.0)
    push = fin_slope(skeg) * 0.004
    assert (fins.y_v, fins.n_v, fins.y_r, fins.n_r) == pytest.approx((-push, 0.45 * push, 0.45 * push, -0.2025 * push))


def test_a_gentle_turn_is_the_linear_one():
    """Without the drag of the cross flow, Cramer's rule on the two equations."""
    d, mass, gravity = Derivatives(-0.02, -0.004, 0.003, -0.003), 0.015, 0.01
    side, moment = 0.0004, -0.0002
    yaw, drift = turn_of(d, mass, gravity, side, moment, 0.0)
    c = d.y_v * (d.n_r - mass * gravity) - d.n_v * (d.y_r - mass)
    assert yaw == pytest.approx((d.n_v * side - d.y_v * moment) / c)
    assert d.y_v * drift + (d.y_r - mass) * yaw + side == pytest.approx(0.0, abs=1e-12)
    tighter, _ = turn_of(d, mass, gravity, side, moment, 0.06)
    assert abs(tighter) < abs(yaw)  # what flows across holds it back
    assert turn_of(d, mass, gravity, 0.0, 0.0, 0.06) == (0.0, 0.0)
    other, _ = turn_of(d, mass, gravity, -side, -moment, 0.06)
    assert other == pytest.approx(-tighter, rel=1e-6)


def test_cross_flow_by_its_integrals():
    """Sway alone: w|w| over the length; yaw alone: x w|w| is 2 int x³ = 1/32 of the square of the rate."""
    assert cross_flow(0.2, 0.0, 0.05)[0] == pytest.approx(-0.8 * 0.05 * 0.04)
    assert cross_flow(0.2, 0.0, 0.05)[1] == pytest.approx(0.0, abs=1e-15)
    assert cross_flow(0.0, 0.4, 0.05)[1] == pytest.approx(-0.8 * 0.05 * 0.16 / 32, rel=0.01)


def test_rudder_stream_and_lean_by_hand():
    rudder = Fin(0.002, 0.06, -0.5, steers=True, stream=2.0)
    side, moment = rudder_force((rudder, Fin(0.01, 0.1, 0.2)), 1.0, math.radians(10))
    assert side == pytest.approx(fin_slope(rudder) * 2.0 * 0.002 * math.radians(10))
    assert moment == pytest.approx(-0.5 * side)
    assert rudder_force((rudder,), 1.0, math.radians(80)) == rudder_force((rudder,), 1.0, STALL)
    # 5 N through a disk of 10 cm2 at 2 m/s: 5 / (500 x 0.001 x 4) = 2.5
    assert stream_over(5.0, 0.001, 1000.0, 2.0, 1.0) == pytest.approx(3.5)
    assert stream_over(5.0, 0.001, 1000.0, 2.0, 0.5) == pytest.approx(2.25)
    assert stream_over(-5.0, 0.001, 1000.0, 2.0, 1.0) == 1.0
    # 2 m/s on 4 m, G 0.1 over the lateral centre: 4 x 0.1 / (9.80665 x 4)
    assert turn_lever(2.0, 4.0, 0.1) == pytest.approx(0.1 / 9.80665)
    assert turn_lever(2.0, 4.0, -0.1) < 0


def test_shallow_water_by_hand():
    """V 1 m/s in 0.3 m, midship 0.02 m2: 0.1242 (0.2222 - 0.05) + 1 - sqrt(tanh 2.942)."""
    lost = speed_lost(1.0, 0.02, 0.3)
    assert lost == pytest.approx(0.1242 * (0.02 / 0.09 - 0.05) + 1 - math.sqrt(math.tanh(9.80665 * 0.3)), rel=1e-9)
    assert deep_speed(1.0, 0.02, 0.3) == pytest.approx(1 / (1 - lost))
    assert speed_lost(1.0, 0.02, math.inf) == 0.0
    assert speed_lost(1.0, 0.001, 5.0) == pytest.approx(0.0, abs=1e-9)
    assert depth_froude(math.sqrt(9.80665 * 0.4), 0.4) == pytest.approx(1.0)
    assert depth_froude(3.0, math.inf) == 0.0
