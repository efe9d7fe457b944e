"""Motors and battery: how hard they push, how long, and where the thrust line runs."""

import math
from dataclasses import MISSING, dataclass
from typing import Literal

from yarekeel.core.constants import STANDARD_GRAVITY, USABLE_CAPACITY
from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, choice, described, place, text
from yarekeel.core.quantities import AmpereHours, Amperes, Kilograms, Metres, Newtons, Ohms, Point, Ratio, Seconds, Volts
from yarekeel.core.sources import COMMON_PRACTICE


@dataclass(frozen=True, slots=True)
class Motor:
    """A thruster at full throttle, standing still. ``at_m`` is where its thrust acts, pushing straight ahead."""

    name: str = text(MISSING, "Motor")
    thrust_n: Newtons = described(MISSING, "Thrust from rest", "force", 0, 5000)
    at_m: Point = place(MISSING, "Place")
    current_a: Amperes = described(0.0, "Current at full throttle", "current", 0, 2000)
    known: Literal["rated", "measured"] = choice("rated", "Known by", "", (("rated", "rated"), ("measured", "measured")))

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
    """Thrust and endurance at full throttle. ``line_height`` is the thrust line's height in boat axes (z)."""

    thrust: Newtons
    thrust_to_weight: Ratio
    line_height: Metres | None
    current: Amperes
    limit_current: Amperes | None
    load_voltage: Volts | None
    run_time: Seconds | None


@formula("T / (m g); I_max = C Q; U = U_0 - I R; t = 0.8 Q / I", COMMON_PRACTICE, "full throttle, standing still")
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
