"""Motors and battery: how hard they push, how long, and where the thrust line runs."""

import math
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.constants import STANDARD_GRAVITY, USABLE_CAPACITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import AmpereHours, Amperes, Kilograms, Metres, Newtons, Point, Ratio, Seconds, Volts


def _check(value: float | None, field: str, label: str, low: float, high: float, unit: str) -> None:
    if value is not None and not (math.isfinite(value) and low <= value <= high):
        raise InvalidInput(field, f"{label} must lie between {low:g} and {high:g} {unit}.")


@dataclass(frozen=True, slots=True)
class Motor:
    """A thruster at full throttle, standing still. ``at_m`` is where its thrust acts, pushing straight ahead."""

    name: str
    thrust_n: Newtons
    at_m: Point
    current_a: Amperes = 0.0
    known: Literal["rated", "measured"] = "rated"

    def __post_init__(self) -> None:
        _check(self.thrust_n, "thrust_n", "Thrust", 0, 5000, "N")
        _check(self.current_a, "current_a", "Current", 0, 2000, "A")
        for value in self.at_m:
            _check(value, "at_m", "Place", -1000, 1000, "m")


@dataclass(frozen=True, slots=True)
class Battery:
    """A pack. ``c_rating`` is what its label says; ``resistance_ohm`` its inner resistance, 0 if not known."""

    voltage_v: Volts = 11.1
    capacity_ah: AmpereHours = 5.0
    c_rating: Ratio = 20.0
    resistance_ohm: float = 0.0

    def __post_init__(self) -> None:
        _check(self.voltage_v, "voltage_v", "Voltage", 0.5, 1000, "V")
        _check(self.capacity_ah, "capacity_ah", "Capacity", 0.01, 10000, "Ah")
        _check(self.c_rating, "c_rating", "C rating", 0.05, 200, "(C)")
        _check(self.resistance_ohm, "resistance_ohm", "Inner resistance", 0, 100, "ohm")


@dataclass(frozen=True, slots=True)
class Drive:
    """All motors and the battery that feeds them."""

    motors: tuple[Motor, ...] = ()
    battery: Battery | None = None


@dataclass(frozen=True, slots=True)
class DriveSums:
    """Thrust and endurance at full throttle. ``line_height`` is the thrust line's height in boat axes (z)."""

    thrust: Newtons
    thrust_to_weight: Ratio
    line_height: Metres | None
    current: Amperes
    limit_current: Amperes | None
    load_voltage: Volts | None
    run_time: Seconds | None


def drive_sums(drive: Drive, mass: Kilograms) -> DriveSums:
    """Sums at full throttle: limit current = C rating x capacity; voltage = open - I R; run time on 80 % of capacity."""
    thrust = math.fsum(m.thrust_n for m in drive.motors)
    current = math.fsum(m.current_a for m in drive.motors)
    line = math.fsum(m.thrust_n * m.at_m[2] for m in drive.motors) / thrust if thrust > 0 else None
    b = drive.battery
    return DriveSums(
        thrust=thrust,
        thrust_to_weight=thrust / (mass * STANDARD_GRAVITY),
        line_height=line,
        current=current,
        limit_current=b.c_rating * b.capacity_ah if b else None,
        load_voltage=b.voltage_v - current * b.resistance_ohm if b and b.resistance_ohm > 0 else None,
        run_time=USABLE_CAPACITY * b.capacity_ah / current * 3600 if b and current > 0 else None,
    )
