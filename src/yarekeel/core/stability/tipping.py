"""What a builder tips a boat with: people who step, lean and stand, a catch, wind, a turn, a tow, a wake."""

import dataclasses
import math
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Kilograms, Metres, MetresPerSecond, Newtons, Ratio

_RANGES = {
    "lean_m": ("The lean", 0.0, 5.0, "m"),
    "stand_m": ("The rise", 0.0, 3.0, "m"),
    "inboard_m": ("The distance from the rail", 0.0, 5.0, "m"),
    "catch_kg": ("The catch", 0.0, 1e5, "kg"),
    "catch_out_m": ("The distance out", -5.0, 20.0, "m"),
    "catch_up_m": ("The height over the rail", -5.0, 50.0, "m"),
    "wind_ms": ("The wind", 0.0, 60.0, "m/s"),
    "gust": ("The gust", 1.0, 3.0, "times the wind"),
    "turn_ms": ("The speed in the turn", 0.0, 60.0, "m/s"),
    "turn_m": ("The radius of the turn", 0.01, 1e4, "m"),
    "tow_n": ("The pull", 0.0, 1e6, "N"),
    "tow_up_m": ("The height of the tow point", -100.0, 1000.0, "m"),
    "wake_deg": ("The roll in a wake", 0.0, 90.0, "°"),
}


@dataclass(frozen=True, slots=True)
class Tipping:
    """The plain tests a boat is put to; None for the usual of its kind, 0 for left out.

    ``lean_m`` is how far each person leans to one side, ``stand_m`` how far a person's centre rises standing up, ``inboard_m``
    how far from the rail those sit who move to one side; ``catch_kg`` hangs ``catch_out_m`` beyond the rail from ``catch_up_m``
    over it; wind abeam, a gust so many times as fast; a turn at a speed of a radius; a tow line that pulls to the side at a
    height over the baseline; the roll that a passing wake gives.
    """

    lean_m: Metres | None = None
    stand_m: Metres | None = None
    inboard_m: Metres | None = None
    catch_kg: Kilograms | None = None
    catch_out_m: Metres | None = None
    catch_up_m: Metres | None = None
    wind_ms: MetresPerSecond | None = None
    gust: Ratio | None = None
    turn_ms: MetresPerSecond | None = None
    turn_m: Metres | None = None
    tow_n: Newtons | None = None
    tow_up_m: Metres | None = None
    wake_deg: float | None = None

    def __post_init__(self) -> None:
        for name, (label, low, high, unit) in _RANGES.items():
            value = getattr(self, name)
            if value is not None and not (math.isfinite(value) and low <= value <= high):
                raise InvalidInput(name, f"{label} must lie between {low:g} and {high:g} {unit}.")

    def filled(self, usual: "Tipping") -> "Tipping":
        """The same with the usual where nothing was said."""
        given = {f.name: getattr(self, f.name) for f in dataclasses.fields(self) if getattr(self, f.name) is not None}
        return dataclasses.replace(usual, **given)
