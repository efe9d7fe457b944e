"""Motors and battery: how hard they push, how long, and where the thrust line runs."""

import math
from dataclasses import MISSING, dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from yarekeel.core.constants import AIR_DENSITY, STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, choice, described, place, text
from yarekeel.core.propulsion.cells import LITHIUM, estimated_resistance, run_time
from yarekeel.core.propulsion.electric import Running, Supply, Unit, Windings, solve
from yarekeel.core.propulsion.propulsors import Propulsor
from yarekeel.core.quantities import (
    AmpereHours,
    Amperes,
    Floats,
    Kilograms,
    KilogramsPerCubicMetre,
    Metres,
    Newtons,
    Ohms,
    Point,
    Ratio,
    Seconds,
    SquareMetresPerSecond,
    Volts,
)
from yarekeel.core.sources import COMMON_PRACTICE

CELL = 3.7
"""Volts that a lithium cell is named by."""


@dataclass(frozen=True, slots=True)
class ElectricMotor:
    """A motor's electrics, with its control: ``kv`` turns a minute per volt, ``idle_current_a`` with nothing on its shaft,
    ``most_current_a`` what it or its control stands, 0 if not known."""

    kv: Ratio = described(1000.0, "Turns per volt", "ratio", 1, 20_000, "a minute; kV on its label")
    resistance_ohm: Ohms = described(0.08, "Resistance", "resistance", 1e-4, 50, "between two of its wires")
    idle_current_a: Amperes = described(0.7, "Idle current", "current", 0, 200, "nothing on the shaft")
    gear: Ratio = described(1.0, "Gearing", "ratio", 0.1, 200, "motor turns for one")
    control_ohm: Ohms = described(0.005, "Control and leads", "resistance", 0, 5, "what they add")
    most_current_a: Amperes = described(0.0, "Most current", "current", 0, 2000, "motor's or control's; 0 if not known")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class Motor:
    """A thruster. ``at_m`` is where its thrust acts, pushing straight ahead.

    Without a ``propulsor``, ``thrust_n`` and ``current_a`` say what it does at full throttle, standing still. With one, and a battery,
    the pull and the current are worked out from ``electric``, the propulsor and the battery.
    """

    name: str = text(MISSING, "Motor")
    thrust_n: Newtons = described(MISSING, "Thrust from rest", "force", 0, 5000)
    at_m: Point = place(MISSING, "Place")
    current_a: Amperes = described(0.0, "Current at full throttle", "current", 0, 2000)
    known: Literal["rated", "measured"] = choice("rated", "Pull is", "", (("rated", "rated"), ("measured", "measured")))
    electric: ElectricMotor = ElectricMotor()
    propulsor: Propulsor | None = None

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class Battery:
    """A pack. ``c_rating`` is what its label says; ``resistance_ohm`` its inner resistance, 0 if not known."""

    voltage_v: Volts = described(11.1, "Voltage", "voltage", 0.5, 1000)
    capacity_ah: AmpereHours = described(5.0, "Capacity", "capacity", 0.01, 10000)
    c_rating: Ratio = described(20.0, "C rating", "ratio", 0.05, 200)
    resistance_ohm: Ohms = described(0.0, "Inner resistance", "resistance", 0, 100)

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class Drive:
    """All motors and the battery that feeds them."""

    motors: tuple[Motor, ...] = ()
    battery: Battery | None = None


@dataclass(frozen=True, slots=True)
class DriveSums:
    """Thrust and endurance at full throttle. ``line_height`` is the thrust line's height in boat axes (z); ``thrust_spread`` is the
    half width of the thrust's 95 % band, as far as the propulsors' own laws are in doubt."""

    thrust: Newtons
    thrust_to_weight: Ratio
    line_height: Metres | None
    current: Amperes
    limit_current: Amperes | None
    load_voltage: Volts | None
    run_time: Seconds | None
    thrust_spread: Newtons


def worked_out(drive: Drive, motor: Motor) -> bool:
    """Whether a motor's pull is worked out from its parts."""
    return drive.battery is not None and motor.propulsor is not None


@formula("R = typed, else cells k / Q, cells = U / 3.7 V", COMMON_PRACTICE, "lithium-polymer where nothing is typed")
def pack_resistance(battery: Battery) -> Ohms:
    """Inner resistance of the pack: as typed, else as such packs have."""
    if battery.resistance_ohm > 0:
        return battery.resistance_ohm
    cells = max(1, round(battery.voltage_v / CELL))
    return estimated_resistance(LITHIUM, battery.capacity_ah, cells)


def running_at(
    drive: Drive, throttle: Floats, speed: Floats, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond
) -> tuple[Running | None, ...]:
    """Each motor at throttles (0 to 1) and speeds (m/s), which broadcast to one shape; None for one that is known by its pull alone,
    whose typed current the pack gives all the same."""
    battery = drive.battery
    if battery is None or not any(m.propulsor for m in drive.motors):
        return (None,) * len(drive.motors)
    units = {n: _unit_of(m, battery, density, viscosity) for n, m in enumerate(drive.motors) if m.propulsor is not None}
    inside = pack_resistance(battery)
    beside = math.fsum(m.current_a for m in drive.motors if m.propulsor is None)
    supply = Supply(max(battery.voltage_v - inside * beside, 0.1), inside)
    solved = dict(zip(units, solve(tuple(units.values()), throttle, speed, supply), strict=True))
    return tuple(solved.get(n) for n in range(len(drive.motors)))


def _unit_of(motor: Motor, battery: Battery, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond) -> Unit:
    assert motor.propulsor is not None
    e = motor.electric
    usual = 0.75 * e.kv * battery.voltage_v / 60 / e.gear  # a loaded motor turns some three quarters of what it would alone
    return Unit(
        windings=Windings(kv=e.kv, resistance=e.resistance_ohm, idle_current=e.idle_current_a, gear=e.gear),
        curve=motor.propulsor.curve(usual, viscosity),
        density=AIR_DENSITY if motor.propulsor.in_air else density,
        control=e.control_ohm,
    )


@lru_cache(maxsize=128)
def at_rest(
    drive: Drive, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond, throttle: Ratio = 1.0
) -> tuple[tuple[Newtons, Amperes], ...]:
    """Pull and the pack's current of each motor standing still; of one that is known by its pull alone, in step with the throttle."""
    running = running_at(drive, np.array(throttle), np.array(0.0), density, viscosity)
    return tuple(
        (m.thrust_n * throttle, m.current_a * throttle) if r is None else (float(r.thrust), float(r.pack_current))
        for m, r in zip(drive.motors, running, strict=True)
    )


def thrust_spreads(drive: Drive, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond) -> tuple[Ratio, ...]:
    """Half width of the 95 % band of each motor's pull as a share of it, as far as its propulsor's law is in doubt."""
    return tuple(
        2 * _unit_of(m, drive.battery, density, viscosity).curve.spread if drive.battery and m.propulsor else 0.0 for m in drive.motors
    )


@formula("T / (m g); I_max = C Q; U = U_0 - I R; t = 0.8 Q / I", COMMON_PRACTICE, "full throttle, standing still")
def drive_sums(drive: Drive, mass: Kilograms, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond) -> DriveSums:
    """Sums at full throttle in water of a density and viscosity: limit current = C rating x capacity; voltage = open - I R; run time on
    80 % of capacity."""
    each = at_rest(drive, density, viscosity)
    thrust = math.fsum(t for t, _ in each)
    current = math.fsum(i for _, i in each)
    line = math.fsum(t * m.at_m[2] for (t, _), m in zip(each, drive.motors, strict=True)) / thrust if thrust > 0 else None
    b = drive.battery
    solved = any(worked_out(drive, m) for m in drive.motors)
    spreads = thrust_spreads(drive, density, viscosity)
    return DriveSums(
        thrust=thrust,
        thrust_to_weight=thrust / (mass * STANDARD_GRAVITY),
        line_height=line,
        current=current,
        limit_current=b.c_rating * b.capacity_ah if b else None,
        load_voltage=b.voltage_v - current * pack_resistance(b) if b and (b.resistance_ohm > 0 or solved) else None,
        run_time=run_time(LITHIUM, b.capacity_ah, current) if b and current > 0 else None,
        thrust_spread=math.fsum(share * t for share, (t, _) in zip(spreads, each, strict=True)),
    )
