"""Motor, pack and propulsor at once against their equations, and packs and wires against hand sums and standards."""

import math
from time import process_time

import numpy as np
import pytest
from scipy.optimize.elementwise import find_root

from tools.fuzz import some
from yarekeel.core.propulsion import cells
from yarekeel.core.propulsion.electric import Supply, Unit, Windings, shaft_torque, solve, stalled, torque_constant
from yarekeel.core.propulsion.open_water import air_screw, jet, paddle_wheel, reversed_screw, thrust_at, torque_at, water_screw
from yarekeel.core.search import roots


def test_motor_by_hand():
    """kV 920, 0.08 ohm, 0.7 A idle, 9000 turns a minute at 11.1 V: back-EMF 9.7826 V, 16.467 A, K_t 0.010380 N m/A, 0.16366 N m."""
    motor = Windings(kv=920, resistance=0.08, idle_current=0.7)
    current = (11.1 - 9000 / 920) / 0.08
    assert torque_constant(920) == pytest.approx(0.010380, abs=1e-6)
    assert shaft_torque(motor, current) == pytest.approx(0.16366, abs=2e-5)
    # what goes in less both losses comes out: 182.79 = 21.69 + 6.85 + 154.24
    assert shaft_torque(motor, current) * 9000 * math.pi / 30 == pytest.approx(182.79 - 21.69 - 6.85, abs=0.02)


def curves(rng):
    size, ratio, blades = rng.uniform(0.03, 0.3), rng.uniform(0.4, 1.5), int(rng.integers(2, 5))
    water = water_screw(size, size * ratio, rng.uniform(0.3, 0.9), blades, rng.uniform(3e4, 1e6))
    air = air_screw(size, size * ratio, rng.uniform(0.06, 0.2), blades)
    kinds = (
        (water, 999.1),
        (reversed_screw(water), 1026.0),
        (air, 1.225),
        (jet(rng.uniform(5e-4, 0.01), rng.uniform(0.02, 0.1), rng.uniform(0.4, 0.8)), 1.225),
        (paddle_wheel(size, size**2 * rng.uniform(0.05, 0.5)), 999.1),
    )
    return kinds[int(rng.integers(len(kinds)))]


def test_random_drives_satisfy_all_their_equations():
    """Eighty here; two hundred with YAREKEEL_ALL (``make whole``)."""
    rng = np.random.default_rng(15)
    for _ in range(some(200)):
        units = tuple(
            Unit(
                Windings(
                    kv=float(np.exp(rng.uniform(np.log(60), np.log(4000)))),
                    resistance=rng.uniform(0.01, 0.5),
                    idle_current=rng.uniform(0.1, 2),
                    gear=rng.choice([1.0, 2.5]),
                ),
                *curves(rng),
                control=rng.uniform(0, 0.02),
            )
            for _ in range(int(rng.integers(1, 4)))
        )
        supply = Supply(rng.uniform(3.5, 26), rng.uniform(0.005, 0.3))
        throttle, speed = np.linspace(0, 1, 9)[:, None], np.linspace(0, rng.uniform(1, 15), 7)[None, :]
        running = solve(units, throttle, speed, supply)
        bus = running[0].pack_voltage
        drawn = sum(r.pack_current for r in running)
        assert np.allclose(bus, supply.open_voltage - supply.resistance * drawn, atol=1e-7 * supply.open_voltage)
        assert np.all(drawn <= supply.open_voltage / supply.resistance)
        for unit, r in zip(units, running, strict=True):
            w = unit.windings
            emf = r.turns * w.gear * 60 / w.kv
            driven = r.motor_current > 0
            assert np.allclose(r.motor_voltage[driven], (emf + r.motor_current * (w.resistance + unit.control))[driven], rtol=1e-6)
            at = (unit.curve, r.turns, np.broadcast_to(speed, r.turns.shape), unit.density)
            assert np.allclose(r.thrust, thrust_at(*at))
            given = torque_constant(w.kv) * w.gear * (r.motor_current - w.idle_current)
            turning = r.turns > 1e-6
            assert np.allclose(
                given[turning], torque_at(*at)[turning], rtol=1e-5, atol=1e-7 * stalled(unit, 1, supply)[0] * torque_constant(w.kv)
            )
            held = np.array([stalled(unit, d, supply)[0] for d in throttle[:, 0]])[:, None]
            assert np.all(r.motor_current <= held + 1e-9)
            if len(units) == 1:
                pushes = r.thrust[:-1] > 0  # a screw that the stream turns draws what it likes
                assert np.all(np.diff(r.pack_current, axis=0)[pushes] >= -1e-9)
                if supply.resistance <= w.resistance:  # a worse pack gives most before the control is wide open
                    assert np.all(np.diff(r.turns, axis=0) > -1e-6 * (1 + r.turns[1:]))
                    assert np.all(np.diff(r.thrust[:, 0]) >= -1e-9)
            # what the pack gives is heat in the motor and power on the shaft, the idle torque's share in it
            power = r.torque * 2 * math.pi * r.turns
            driven &= r.motor_current > w.idle_current
            assert np.allclose((r.motor_voltage * r.motor_current)[driven], (power + r.heat)[driven], rtol=1e-5, atol=1e-6)


def test_held_shaft():
    unit = Unit(Windings(900, 0.09, 0.5), paddle_wheel(50.0, 500.0), 999.1, control=0.01)
    supply = Supply(12.0, 0.05)
    # 0.8 * 12 / (0.1 + 0.64 * 0.05) = 72.73 A in the motor, 58.18 A from the pack
    assert stalled(unit, 0.8, supply) == pytest.approx((72.727, 58.182), abs=1e-3)
    held = solve((unit,), np.array(0.8), np.array(0.0), supply)[0]
    assert held.motor_current == pytest.approx(72.727, rel=1e-3)


def test_no_throttle_draws_nothing():
    unit = Unit(Windings(900, 0.09, 0.5), water_screw(0.04, 0.04, 0.5, 3, 1e5), 999.1)
    r = solve((unit,), np.array(0.0), np.array([0.0, 2.0]), Supply(12, 0.05))[0]
    assert np.all(r.pack_current == 0)
    assert r.thrust[0] == pytest.approx(0, abs=1e-9)
    assert r.thrust[1] < 0  # it drags


def test_sixty_speeds_with_three_units_are_solved_at_once():
    units = tuple(Unit(Windings(kv, 0.08, 0.7), water_screw(0.045, 0.045, 0.5, 3, 1e5), 999.1, 0.01) for kv in (900, 1000, 1100))
    speeds, supply = np.linspace(0, 8, 60), Supply(11.8, 0.03)

    def spent(at) -> float:
        began = process_time()
        solve(units, np.array(1.0), at, supply)
        return process_time() - began

    assert min(spent(speeds) for _ in range(7)) < 6 * min(spent(speeds[30:31]) for _ in range(7))


def test_roots_as_the_library_finds_them():
    asked = np.linspace(0.05, 2, 40)
    ours = roots(lambda x: asked - x - np.tanh(3 * x), np.zeros(40), np.full(40, 3.0), 0)
    theirs = find_root(lambda x, c: c - x - np.tanh(3 * x), (np.zeros(40), np.full(40, 3.0)), args=(asked,)).x
    assert np.allclose(ours, theirs, atol=1e-12)
    assert roots(lambda x: -1 - x, np.zeros(1), np.ones(1), 0)[0] == 0


def test_packs_by_hand():
    lithium = cells.CHEMISTRIES["lithium_polymer"]
    # 4.20 V full, 3.85 half, 3.7 at a fifth (common practice)
    assert [round(cells.open_voltage(lithium, q, 3), 3) for q in (1, 0.5, 0.2)] == [12.6, 11.55, 11.1]
    assert cells.open_voltage(lithium, 0.05, 1) == pytest.approx(3.5)
    # 0.8 * 5 Ah at 20 A is 12 minutes; half the time at 40 A, the other at rest: the same
    assert cells.run_time(lithium, 5, 20) == pytest.approx(720)
    assert cells.mixed_current(((0.5, 40), (0.5, 0))) == 20
    assert cells.run_time(lithium, 5, 0) == math.inf
    # lead of 12 Ah (at 20 h, 0.6 A) drawn at 6 A, exponent 1.2: 0.8 * 20 h * 0.1^1.2 = 1.00953 h
    assert cells.run_time(cells.CHEMISTRIES["lead_acid"], 12, 6) / 3600 == pytest.approx(1.00953, abs=1e-5)
    assert cells.honest_limit(5, 30) == 75
    assert cells.honest_limit(5, 30, tested=True) == 150
    assert cells.measured_resistance((5, 12.2), (25, 11.4)) == pytest.approx(0.04)
    warm, cold = (cells.estimated_resistance(lithium, 5, 3, t) for t in (20, 0))
    assert cold / warm == pytest.approx(2)
    assert warm == pytest.approx(3 * 0.012 / 5)


@pytest.mark.parametrize(
    ("gauge", "square_mm", "ohm_per_km"), [(10, 5.261, 3.277), (12, 3.308, 5.211), (18, 0.8230, 20.95), (22, 0.3255, 52.96)]
)
def test_wire_as_its_standard_lists_it(gauge, square_mm, ohm_per_km):
    """ASTM B258, annealed copper at 20 °C."""
    area = cells.gauge_area(gauge)
    assert area * 1e6 == pytest.approx(square_mm, rel=1e-3)
    assert cells.wire_resistance(1000, area) == pytest.approx(ohm_per_km, rel=1e-3)
    assert cells.wire_resistance(1, area, 70) / cells.wire_resistance(1, area) == pytest.approx(1.1965)
