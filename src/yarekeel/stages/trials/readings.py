"""What is read of a boat in a day at the water, as numbers for the fit: each reading optional, each read to within a half width."""

import math
from dataclasses import dataclass, field, fields, replace
from typing import Any

from yarekeel.core.errors import SI_UNITS, InvalidInput
from yarekeel.core.quantities import Amperes, Degrees, Kilograms, Metres, MetresPerSecond, Newtons, Ratio, Seconds, Volts
from yarekeel.stages.trials.weather import Weather

MOST = 200
"""Pulls, runs or shifts of one day."""


@dataclass(frozen=True, slots=True)
class Rolls:
    """So many full rolls (there and back) in a time."""

    count: int
    time_s: Seconds


@dataclass(frozen=True, slots=True)
class Tilt:
    """A weight that is aboard, moved so far to starboard of where it was, and the heel read there, starboard down positive."""

    moved_m: Metres
    heel_deg: Degrees


@dataclass(frozen=True, slots=True)
class Inclining:
    """Shifts of one weight."""

    weight_kg: Kilograms
    shifts: tuple[Tilt, ...]


@dataclass(frozen=True, slots=True)
class Pull:
    """Held fast at a throttle: how hard it pulled, what it drew, and what the pack showed."""

    throttle: Ratio
    thrust_n: Newtons | None = None
    current_a: Amperes | None = None
    voltage_v: Volts | None = None


@dataclass(frozen=True, slots=True)
class Run:
    """At a steady speed, up and down the wind evenly: how fast, what it drew, and what the pack showed."""

    throttle: Ratio
    speed_ms: MetresPerSecond | None = None
    current_a: Amperes | None = None
    voltage_v: Volts | None = None


@dataclass(frozen=True, slots=True)
class ReadTo:
    """Half widths that readings are read to: each lies somewhere within (common practice at a bench and on a bank)."""

    mass_kg: Kilograms | None = None
    draft_m: Metres = 0.001
    heel_deg: Degrees = 0.5
    angle_deg: Degrees = 0.1
    place_m: Metres = 0.001
    time_s: Seconds = 0.3
    thrust_n: Newtons | None = None
    current_a: Amperes | None = None
    speed_ms: MetresPerSecond | None = None
    voltage_v: Volts | None = None


LIMITS: dict[str, tuple[str, float, float, str]] = {
    "mass_kg": ("Mass", 1e-6, 1e7, "mass"),
    "bow_m": ("Draft at the bow mark", -10, 1000, "length"),
    "stern_m": ("Draft at the stern mark", -10, 1000, "length"),
    "heel_deg": ("Heel", -90, 90, "°"),
    "water_inside_kg": ("Water taken in", 0, 1e6, "mass"),
    "count": ("Rolls counted", 1, 1000, ""),
    "time_s": ("Time they took", 0.05, 1e5, "s"),
    "weight_kg": ("Weight moved", 1e-6, 1e6, "mass"),
    "moved_m": ("Way moved", -1000, 1000, "length"),
    "throttle": ("Throttle", 0, 1, " (0 to 1)"),
    "thrust_n": ("Pull", 0, 1e6, "force"),
    "current_a": ("Current", 0, 1e5, "A"),
    "speed_ms": ("Speed", 0, 60, "speed"),
    "voltage_v": ("Pack's voltage", 0, 1000, "V"),
    "wind_ms": ("Wind", 0, 60, "speed"),
    "depth_m": ("Depth", 0.001, 12000, "length"),
}


@dataclass(frozen=True, slots=True)
class Readings:
    """Everything that was read; what was not is None or empty."""

    mass_kg: Kilograms | None = None
    bow_m: Metres | None = None
    stern_m: Metres | None = None
    heel_deg: Degrees | None = None
    water_inside_kg: Kilograms | None = None
    rolls: Rolls | None = None
    inclining: Inclining | None = None
    pulls: tuple[Pull, ...] = ()
    runs: tuple[Run, ...] = ()
    wind_ms: MetresPerSecond | None = None
    depth_m: Metres | None = None
    read_to: ReadTo = field(default_factory=ReadTo)

    def on(self, weather: Weather) -> "Readings":
        """The same of a day with this weather."""
        return replace(self, wind_ms=weather.wind or None, depth_m=None if math.isinf(weather.depth) else weather.depth)

    @property
    def weather(self) -> Weather:
        """What the runs were made in; what was not noted is calm, or deep."""
        return Weather(self.wind_ms or 0.0, math.inf if self.depth_m is None else self.depth_m)

    def __post_init__(self) -> None:
        checked(self, "")
        checked(self.rolls, "rolls.")
        checked(self.inclining, "inclining.")
        shifts = self.inclining.shifts if self.inclining else ()
        for name, lines in (("pulls", self.pulls), ("runs", self.runs), ("inclining.shifts", shifts)):
            if len(lines) > MOST:
                raise InvalidInput(name, f"At most {MOST} {name.split('.')[-1]} of one day; this has {len(lines)}.")
            for k, line in enumerate(lines):
                checked(line, f"{name}.{k}.")
        for f in fields(self.read_to):
            value = getattr(self.read_to, f.name)
            if value is not None and not (math.isfinite(value) and 0 < value < 1e6):
                raise InvalidInput(f"read_to.{f.name}", "A reading is good to within something more than 0.")


def checked(part: Any, at: str) -> None:
    """Raise InvalidInput for a number of a part that is outside its limits."""
    if part is None:
        return
    for f in fields(part):
        value = getattr(part, f.name)
        if f.name in LIMITS and isinstance(value, (int, float)):
            label, low, high, unit = LIMITS[f.name]
            if isinstance(value, bool) or not math.isfinite(value) or not low <= value <= high:
                raise out_of(f"{at}{f.name}", label, low, high, unit)


def out_of(field: str, label: str, low: float, high: float, unit: str) -> InvalidInput:
    """The refusal of a number outside its limits; ``unit`` is a kind that readers have their own units of, or a sign."""
    if unit in SI_UNITS:
        return InvalidInput(field, f"{label} must lie between {{low:{unit}}} and {{high:{unit}}}.", low=low, high=high)
    return InvalidInput(field, f"{label} must lie between {low:g} and {high:g}{unit and ' ' + unit.strip()}.")
