"""What a parameter of a hull family or an estimate is: its label, its range, and why the range ends there."""

import dataclasses
import math
from dataclasses import dataclass
from functools import cache
from typing import Any

from yarekeel.core.errors import InvalidInput

LONGEST = 12.0
"""m. Beyond hobby building; the program is not for ships."""
SHORTEST = 0.02
"""m. Below it surface tension, which is not computed, carries a noticeable share."""
TOO_SMALL = "any smaller and surface tension, which is not computed, carries a noticeable share"
TOO_LARGE = "beyond hobby building"
NONE = "none at all"
WHOLE = "all of it"
UNITS = {"length": " m", "degrees": "°", "mass": " kg", "areal": " kg/m²"}
LONGEST_NAME = 80


@dataclass(frozen=True, slots=True)
class Parameter:
    """Metadata of a family's or recipe's field.

    ``kind`` is the units' word for it (length, degrees, ratio, mass, areal), ``count`` for a whole number, ``choice`` for one
    of ``choices`` (code, title), ``material`` for a material's code or ``body`` for a body's name. ``why_low`` and
    ``why_high`` say why its range ends where it does.
    """

    name: str
    label: str
    kind: str
    low: float
    high: float
    meaning: str
    why_low: str = ""
    why_high: str = ""
    choices: tuple[tuple[str, str], ...] = ()


def _field(default: Any, label: str, kind: str, low: float, high: float, meaning: str, why: tuple[str, str], **more: Any) -> Any:
    about = {"label": label, "kind": kind, "low": low, "high": high, "meaning": meaning, "why_low": why[0], "why_high": why[1], **more}
    return dataclasses.field(default=default, metadata=about)


def length(default: float, label: str, meaning: str, low: float = 0.0, high: float = LONGEST, why: tuple[str, str] | None = None) -> Any:
    """A dataclass field holding a length in metres."""
    usual = (TOO_SMALL if low >= SHORTEST else NONE if low == 0 else "thinner than can be built", TOO_LARGE)
    return _field(default, label, "length", low, high, meaning, why or usual)


def ratio(default: float, label: str, meaning: str, low: float = 0.0, high: float = 1.0, why: tuple[str, str] = (NONE, WHOLE)) -> Any:
    """A dataclass field holding a plain ratio."""
    return _field(default, label, "ratio", low, high, meaning, why)


def angle(default: float, label: str, meaning: str, low: float, high: float, why: tuple[str, str]) -> Any:
    """A dataclass field holding an angle in degrees (the file's unit)."""
    return _field(default, label, "degrees", low, high, meaning, why)


def count(default: int, label: str, meaning: str, low: int, high: int, why: tuple[str, str]) -> Any:
    """A dataclass field holding a whole number."""
    return _field(default, label, "count", low, high, meaning, why)


def mass(default: float, label: str, meaning: str, low: float, high: float, why: tuple[str, str]) -> Any:
    """A dataclass field holding a mass in kilograms."""
    return _field(default, label, "mass", low, high, meaning, why)


def areal(default: float, label: str, meaning: str, low: float, high: float, why: tuple[str, str]) -> Any:
    """A dataclass field holding a mass per area, kg/m2."""
    return _field(default, label, "areal", low, high, meaning, why)


def named(default: str, label: str, meaning: str, kind: str) -> Any:
    """A dataclass field holding the name of a ``material`` or a ``body``; the boat says which there are."""
    return _field(default, label, kind, 0, 0, meaning, ("", ""))


def choice(default: str, label: str, meaning: str, choices: tuple[tuple[str, str], ...]) -> Any:
    """A dataclass field holding one of the codes of ``choices``."""
    return _field(default, label, "choice", 0, 0, meaning, ("", ""), choices=choices)


def parameters_of(family: Any) -> tuple[Parameter, ...]:
    """The parameters of a family (class or value), in order; its ``kind`` is not one."""
    return _parameters_of(family if isinstance(family, type) else type(family))


@cache
def _parameters_of(family: Any) -> tuple[Parameter, ...]:
    return tuple(Parameter(f.name, **f.metadata) for f in dataclasses.fields(family) if "label" in f.metadata)


def check_parameters(shape: Any) -> None:
    """Raise InvalidInput naming the first parameter outside its range, with the reason for the end it is beyond."""
    for p in parameters_of(shape):
        value = getattr(shape, p.name)
        if p.kind in ("material", "body"):
            if not isinstance(value, str) or len(value) > LONGEST_NAME:
                raise InvalidInput(p.name, f"{p.label} must be a name of at most {LONGEST_NAME} characters.")
            continue
        if p.kind == "choice":
            if value not in dict(p.choices):
                raise InvalidInput(p.name, f"{p.label} must be one of: {', '.join(code for code, _ in p.choices)}.")
            continue
        if not isinstance(value, (int, float)) or not math.isfinite(value) or not p.low <= value <= p.high:
            low_side = isinstance(value, (int, float)) and value < p.low
            reason = (p.why_low if low_side else p.why_high) or ""
            end = f" ({reason})" if reason not in ("", NONE, WHOLE) else ""
            raise InvalidInput(p.name, f"{p.label} must lie between {p.low:g} and {p.high:g}{UNITS.get(p.kind, '')}{end}.")
        if p.kind == "count" and value != int(value):
            raise InvalidInput(p.name, f"{p.label} must be a whole number from {p.low:g} to {p.high:g}.")
