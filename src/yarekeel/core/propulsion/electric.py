"""Motor, control, pack and propulsor solved together: turns, current, power and heat at any throttle and speed."""

import math
from collections import Counter
from dataclasses import dataclass

import numpy as np

from yarekeel.core.formulas import formula
from yarekeel.core.propulsion.open_water import OpenWater, thrust_at, torque_at
from yarekeel.core.quantities import Amperes, Floats, KilogramsPerCubicMetre, NewtonMetres, Ohms, Ratio, Volts
from yarekeel.core.search import roots
from yarekeel.core.sources import OHM

CLOSE = 1e-9
"""Of the pack's voltage, and amperes at the shaft: what a solved drive is off by at most."""


@dataclass(frozen=True, slots=True)
class Windings:
    """A motor's electrics. ``kv`` is turns a minute per volt of back-EMF; ``idle_current`` what it draws with nothing on its shaft.
    ``gear`` is motor turns for one turn of the propulsor."""

    kv: Ratio
    resistance: Ohms
    idle_current: Amperes
    gear: Ratio = 1.0


@dataclass(frozen=True, slots=True)
class Supply:
    """A pack as it is now: open voltage and inner resistance, wires and plugs included."""

    open_voltage: Volts
    resistance: Ohms


@dataclass(frozen=True, slots=True, eq=False)
class Running:
    """The state of one unit, each an array of the speeds' shape: thrust (N), turns of the propulsor a second, torque at the propulsor
    (N m), the motor's current and voltage, the pack's current and voltage, and the heat in the motor and its control (W)."""

    thrust: Floats
    turns: Floats
    torque: Floats
    motor_current: Floats
    motor_voltage: Floats
    pack_current: Floats
    pack_voltage: Floats
    heat: Floats


@dataclass(frozen=True, slots=True)
class Unit:
    """A motor behind a control, and what it turns. ``density`` is of the water or air that it pushes."""

    windings: Windings
    curve: OpenWater
    density: KilogramsPerCubicMetre
    control: Ohms = 0.0


@formula("K_t = 60 / (2 pi k_V)", OHM, "any permanent-magnet motor")
def torque_constant(kv: Ratio) -> Ratio:
    """Torque per ampere, N m/A."""
    return 60 / (2 * math.pi * kv)


@formula("Q = K_t (I - I_0)", OHM, "any permanent-magnet motor")
def shaft_torque(windings: Windings, current: Amperes) -> NewtonMetres:
    """Torque that leaves the shaft at a current."""
    return torque_constant(windings.kv) * (current - windings.idle_current)


@formula("I_pack = (E - U) / R; units' currents sum to it", OHM, "control feeding on the average of its pulses: U_m = d U, I_pack = d I_m")
def solve(units: tuple[Unit, ...], throttle: Floats, speed: Floats, supply: Supply, close: Ratio = CLOSE) -> tuple[Running, ...]:
    """All units of one pack at throttles (0 to 1) and speeds through the stream (m/s), which broadcast to one shape.

    For a voltage at the pack's terminals each unit has one answer: what the motor gives falls with the turns, what the propulsor
    asks rises. The currents of all rise with that voltage and what the pack gives falls, so that one voltage fits; both are closed
    in on between two ends, which cannot end in another root. A control does not brake: the motor's current is never below nothing.
    """
    throttle, speed = (np.asarray(a, dtype=np.float64) for a in np.broadcast_arrays(throttle, speed))
    counts = Counter(units)
    kinds = tuple(counts)
    if supply.resistance <= 0:
        bus = np.full(speed.shape, supply.open_voltage)
    else:

        def spare(bus: Floats) -> Floats:
            drawn: Floats = np.zeros(speed.shape)
            for unit, turns in zip(kinds, _turns(kinds, throttle, speed, bus, close), strict=True):
                drawn = drawn + counts[unit] * throttle * _current(unit, throttle * bus, turns)
            return np.asarray(supply.open_voltage - bus - supply.resistance * drawn)

        bus = roots(spare, np.zeros(speed.shape), np.full(speed.shape, supply.open_voltage), close * supply.open_voltage)
    known = {u: _unit(u, throttle, speed, bus, turns) for u, turns in zip(kinds, _turns(kinds, throttle, speed, bus, close), strict=True)}
    return tuple(known[u] for u in units)


def stalled(unit: Unit, throttle: Ratio, supply: Supply) -> tuple[Amperes, Amperes]:
    """The motor's and the pack's current with the shaft held: I = d E / (R + d² R_pack)."""
    inside = unit.windings.resistance + unit.control
    current = throttle * supply.open_voltage / (inside + throttle**2 * supply.resistance)
    return current, throttle * current


def _current(unit: Unit, voltage: Floats, turns: Floats) -> Floats:
    w = unit.windings
    return np.maximum(voltage - turns * w.gear * 60 / w.kv, 0.0) / (w.resistance + unit.control)


def _turns(units: tuple[Unit, ...], throttle: Floats, speed: Floats, bus: Floats, close: Ratio) -> Floats:
    """Where each motor's torque is what its propulsor asks, (units, ...); 0 where a motor cannot turn itself. All are closed in on
    together, in amperes: what a step costs is mostly its own."""
    voltage = throttle * bus
    per_ampere = [torque_constant(u.windings.kv) * u.windings.gear for u in units]

    def spare(turns: Floats) -> Floats:
        return np.stack(
            [
                _current(u, voltage, n) - u.windings.idle_current - torque_at(u.curve, n, speed, u.density) / k
                for u, n, k in zip(units, turns, per_ampere, strict=True)
            ]
        )

    # the stream itself can turn a propulsor faster than the motor would
    high = np.stack(
        [voltage * u.windings.kv / 60 / u.windings.gear + 2 * speed / (u.curve.diameter * u.curve.advance[-1]) + 1e-6 for u in units]
    )
    return roots(spare, np.zeros(high.shape), high, close)


def _unit(unit: Unit, throttle: Floats, speed: Floats, bus: Floats, turns: Floats) -> Running:
    w = unit.windings
    current = _current(unit, throttle * bus, turns)
    loss = current**2 * (w.resistance + unit.control) + np.minimum(w.idle_current, current) * turns * w.gear * 60 / w.kv
    return Running(
        thrust=thrust_at(unit.curve, turns, speed, unit.density),
        turns=turns,
        torque=torque_at(unit.curve, turns, speed, unit.density),
        motor_current=current,
        motor_voltage=throttle * bus,
        pack_current=throttle * current,
        pack_voltage=bus,
        heat=loss,
    )
