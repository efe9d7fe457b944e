"""What a parameter of a hull family is: its label, its range, and why the range ends there."""

import dataclasses
import math
from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput

LONGEST = 12.0
"""m. Beyond hobby building; the program is not for ships."""
SHORTEST = 0.02
"""m. Below it surface tension, which is not computed, carries a noticeable share."""


@dataclass(frozen=True, slots=True)
class Parameter:
    """Metadata of a family's field. ``kind`` is the units' word for it: length, angle, ratio."""

    name: str
    label: str
    kind: str
    low: float
    high: float
    meaning: str


def length(default: float, label: str, meaning: str, low: float = 0.0, high: float = LONGEST) -> Any:
    """A dataclass field holding a length in metres."""
    return dataclasses.field(default=default, metadata={"label": label, "kind": "length", "low": low, "high": high, "meaning": meaning})


def ratio(default: float, label: str, meaning: str, low: float = 0.0, high: float = 1.0) -> Any:
    """A dataclass field holding a plain ratio."""
    return dataclasses.field(default=default, metadata={"label": label, "kind": "ratio", "low": low, "high": high, "meaning": meaning})


def angle(default: float, label: str, meaning: str, low: float, high: float) -> Any:
    """A dataclass field holding an angle in degrees (the file's unit)."""
    return dataclasses.field(default=default, metadata={"label": label, "kind": "degrees", "low": low, "high": high, "meaning": meaning})


def parameters_of(family: Any) -> tuple[Parameter, ...]:
    """The parameters of a family (class or value), in order; its ``kind`` is not one."""
    return tuple(Parameter(f.name, **f.metadata) for f in dataclasses.fields(family) if "label" in f.metadata)


def check_parameters(shape: Any) -> None:
    """Raise InvalidInput naming the first parameter outside its range."""
    for p in parameters_of(shape):
        value = getattr(shape, p.name)
        if not isinstance(value, (int, float)) or not math.isfinite(value) or not p.low <= value <= p.high:
            unit = {"length": " m", "degrees": "°", "ratio": ""}[p.kind]
            raise InvalidInput(p.name, f"{p.label} must lie between {p.low:g} and {p.high:g}{unit}.")
