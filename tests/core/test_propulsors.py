"""Propulsors against momentum theory, the charts of the tested series, and sums by hand."""

import math

import numpy as np
import pytest

from yarekeel.core.propulsion import momentum
from yarekeel.core.propulsion.b_series import range_findings, thrust_coefficient, torque_coefficient
from yarekeel.core.propulsion.open_water import (
    REVERSED,
    air_screw,
    jet,
    paddle_wheel,
    reversed_screw,
    small_screw,
    thrust_at,
    torque_at,
    water_screw,
)

WATER, AIR = 999.1, 1.225


def test_pull_from_rest_by_hand():
    # cube root of 2 * 1000 * 0.01 * 100² = 200 000, and of 4 * 1.2 * 0.01 * 100² = 480
    assert momentum.static_pull(100, 0.01, 1000) == pytest.approx(58.480, abs=5e-4)
    assert momentum.static_duct_pull(100, 0.01, 1.2) == pytest.approx(7.8297, abs=5e-5)
    # merit goes on the power, before the two thirds: half of it leaves 0.62996
    assert momentum.static_pull(100, 0.01, 1000, 0.5) / 58.480 == pytest.approx(0.62996, abs=1e-4)
    assert momentum.figure_of_merit(momentum.static_pull(80, 0.02, 1.2, 0.6), 80, 0.02, 1.2) == pytest.approx(0.6)
    assert momentum.disk_area(0.2) == pytest.approx(0.031416, abs=1e-6)
    assert momentum.pitch_speed(0.1, 50) == 5.0


@pytest.mark.parametrize("speed", [0.5, 2.0, 9.0])
def test_over_speed_useful_power_is_the_ideal_share(speed):
    pulled = momentum.pull(120, 0.004, 1000, speed, 0.7)
    assert pulled * speed == pytest.approx(120 * 0.7 * momentum.ideal_efficiency(pulled, 0.004, 1000, speed))
    assert pulled < momentum.static_pull(120, 0.004, 1000, 0.7)
    # a duct's Froude efficiency: 2 V / (V + V_j)
    ducted = momentum.duct_pull(120, 0.004, 1000, speed, 0.7)
    stream = (speed + math.sqrt(speed**2 + 4 * ducted / (1000 * 0.004))) / 2
    assert ducted * speed == pytest.approx(120 * 0.7 * 2 * speed / (speed + stream))


def test_no_power_no_pull():
    assert momentum.pull(0, 0.01, 1000, 1) == momentum.duct_pull(0, 0.01, 1000, 1) == 0
    assert momentum.duct_pull(100, 0.01, 1.2, 0) == pytest.approx(7.8297, abs=5e-5)


def test_four_blades_as_the_chart_is_read():
    """B4-70 at P/D 1.0: the chart's values as they are read off it (from memory, to 0.02): 0.45 and 0.067 at rest, no thrust near
    J 1.06, best 0.69 near J 0.8."""
    advance = np.linspace(0, 1.2, 121)
    thrust, torque = thrust_coefficient(advance, 1.0, 0.7, 4), torque_coefficient(advance, 1.0, 0.7, 4)
    assert thrust[0] == pytest.approx(0.45, abs=0.02)
    assert torque[0] == pytest.approx(0.067, abs=0.002)
    assert advance[np.argmax(thrust < 0)] == pytest.approx(1.06, abs=0.02)
    best = advance[:100] * thrust[:100] / (2 * math.pi * torque[:100])
    assert best.max() == pytest.approx(0.69, abs=0.02)
    assert advance[np.argmax(best)] == pytest.approx(0.82, abs=0.05)


def test_series_never_beats_the_ideal_propeller_and_falls_with_speed():
    """Over the whole tested range; a wrong sign or digit among the 86 terms breaks it somewhere."""
    advance = np.linspace(0.01, 1.6, 160)
    for blades in range(2, 8):
        for area in np.linspace(0.30, 1.05, 11):
            for pitch in np.linspace(0.5, 1.4, 10):
                thrust, torque = thrust_coefficient(advance, pitch, area, blades), torque_coefficient(advance, pitch, area, blades)
                ahead = np.cumprod(thrust > 0).astype(bool)
                loading = 8 * thrust[ahead] / (math.pi * advance[ahead] ** 2)
                ideal = 2 / (1 + np.sqrt(1 + loading))
                assert np.all(advance[ahead] * thrust[ahead] / (2 * math.pi * torque[ahead]) < ideal)
                assert np.all(np.diff(thrust[ahead][advance[ahead] > 0.15]) < 0)
                # a screw without thrust moves near its pitch, most a little faster: its blades have camber (common knowledge of the trade)
                assert 0.85 < advance[np.argmin(ahead)] / pitch < 1.35 or ahead.all()


def test_outside_the_series_is_said_and_doubted_more():
    assert [f.values["what"] for f in range_findings(1.7, 0.2, 1)] == ["Pitch over diameter", "Blade area over disk area", "Blades"]
    assert range_findings(1.4, 0.3, 2) == ()
    inside, outside = water_screw(0.05, 0.07, 0.5, 3, 1e5), water_screw(0.05, 0.085, 0.5, 3, 1e5)
    assert outside.spread > inside.spread + 0.05


def test_a_small_screw_pushes_less_for_more_torque():
    assert small_screw(2e6, 1.0, 0.5) == pytest.approx((0, 0), abs=1e-12)
    # Re 64 000: 2 * 1.12 * 0.044 * (0.15811 - 0.08909) = 0.006803; times 0.3 and 0.25, P/D 0.8, chords 1.0 of the diameter
    assert small_screw(64_000, 0.8, 0.5) == pytest.approx((0.001633, 0.001701), abs=2e-6)
    large, small = water_screw(0.05, 0.05, 0.5, 3, 2e6), water_screw(0.05, 0.05, 0.5, 3, 64_000)
    assert small.thrust[0] < large.thrust[0]
    assert small.torque[0] > large.torque[0]


@pytest.mark.parametrize(("pitch", "area", "blades"), [(0.4, 0.08, 2), (0.6, 0.1, 2), (0.8, 0.12, 3), (1.2, 0.1, 2)])
def test_air_screw_keeps_to_the_ideal_and_the_trade(pitch, area, blades):
    screw = air_screw(0.25, 0.25 * pitch, area, blades)
    ahead = (screw.thrust > 0) & (screw.advance > 0)
    loading = 8 * screw.thrust[ahead] / (math.pi * screw.advance[ahead] ** 2)
    best = screw.advance[ahead] * screw.thrust[ahead] / (2 * math.pi * screw.torque[ahead])
    assert np.all(best < 2 / (1 + np.sqrt(1 + loading)))
    # from memory, of small two- and three-blade propellers measured in wind tunnels
    assert 0.06 < screw.thrust[0] < 0.16
    assert 1.0 < screw.advance[np.argmax(screw.thrust < 0)] / pitch < 1.4
    power = 2 * math.pi * screw.torque[0]
    assert 0.35 < momentum.figure_of_merit(screw.thrust[0], power, math.pi / 4, 1.0) < 0.75


def test_fan_and_jet_are_momentum_theory_itself():
    fan = jet(0.003, 0.06, 0.6)
    turns, speed = np.full(4, 500.0), np.array([0.0, 5.0, 15.0, 30.0])
    thrust, torque = thrust_at(fan, turns, speed, AIR), torque_at(fan, turns, speed, AIR)
    assert thrust[0] == pytest.approx(AIR * 0.003 * 30**2)  # the stream leaves at 0.06 * 500 = 30 m/s
    assert momentum.jet_speed(thrust[0], 0.003, AIR) == pytest.approx(30)
    assert thrust[3] == pytest.approx(0, abs=1e-9)
    for pulled, held, at in zip(thrust[:3], torque[:3], speed, strict=False):
        assert pulled == pytest.approx(momentum.duct_pull(2 * math.pi * 500 * held, 0.003, AIR, at, 0.6), rel=1e-3)


def test_paddles_push_by_their_slip():
    wheel = paddle_wheel(0.2, 0.004)
    # rim at pi * 0.2 * 2 = 1.2566 m/s, boat at 0.6: 1.3 * 999.1 / 2 * 0.004 * 0.6566² = 1.120 N
    at = (wheel, np.array(2.0), np.array(0.6), WATER)
    thrust, torque = thrust_at(*at), torque_at(*at)
    assert thrust == pytest.approx(1.120, rel=0.003)
    assert torque == pytest.approx(thrust * 0.1)
    assert thrust_at(wheel, np.array(2.0), np.array(1.4), WATER) < 0


def test_backwards_pulls_less_for_the_same_torque():
    ahead = water_screw(0.05, 0.05, 0.5, 3, 1e5)
    back = reversed_screw(ahead)
    assert back.thrust[0] / ahead.thrust[0] == pytest.approx(REVERSED)
    assert back.torque[0] == ahead.torque[0]
    assert back.spread >= 0.15
