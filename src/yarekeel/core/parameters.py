"""What a field is: its label, its unit, its range and why that ends where it does, and how it moves when the boat is resized.

A field is described once, where it is declared. The page's label, the check at the door and the sentence of a refusal all come
from here.
"""

import dataclasses
import math
from dataclasses import dataclass
from functools import cache
from typing import Any, Literal

from yarekeel.core.errors import SI_UNITS, InvalidInput
from yarekeel.core.quantities import Degrees, Kilograms, KilogramsPerSquareMetre, Metres, Ratio, Scalar

LONGEST: Metres = 12.0
"""Beyond hobby building; the program is not for ships."""
SHORTEST: Metres = 0.02
"""Below it surface tension, which is not computed, carries a noticeable share."""
FARTHEST: Metres = 1000.0
"""Of anything from the boat's origin."""
TOO_SMALL = "any smaller and surface tension, which is not computed, carries a noticeable share"
TOO_LARGE = "beyond hobby building"
NONE = "none at all"
WHOLE = "all of it"
UNITS = {
    "length": " m",
    "degrees": "°",
    "mass": " kg",
    "areal": " kg/m²",
    "force": " N",
    "current": " A",
    "voltage": " V",
    "capacity": " Ah",
    "resistance": " Ω",
    "speed": " m/s",
    "seconds": " s",
    "area": " m²",
    "density": " kg/m³",
    "temperature": " °C",
    "percent": " %",
    "power": " W",
}
LONGEST_NAME = 80
ALONG = ("From aft", "To port", "Up")
"""What the three coordinates of a place are called."""
TEXTS = ("text", "words")
NAMES = ("material", "liquid", "body", "test")
"""Kinds whose choices the boat knows: what it is made of, what fills it, which body, which thrust test."""
NUMBERED = ("station", "station_or_none", "line")
"""Kinds whose choices are numbers of a table's stations and lines."""
Moves = Literal["", "stays", "place", "x", "y", "z", "area"]
"""How a field goes with the hull when that is resized: a place or one coordinate of one (boat axes) moves with it, an area grows;
what stays says so. Nothing is said where the class has a rule of its own."""


@dataclass(frozen=True, slots=True)
class Parameter:
    """A field's description.

    ``kind`` is the units' word for it (length, degrees, ratio, mass, areal ...), ``count`` for a whole number, ``choice`` for one
    of ``choices`` (code, title), ``text`` for words that must be there and ``words`` for some that need not, ``flag`` for yes or
    no, ``material``, ``liquid`` or ``body`` for a name that the boat knows. ``axes`` are the labels of its parts where it is a
    place. ``optional``: it may be left open. ``why_low`` and ``why_high`` say why its range ends where it does.
    """

    name: str
    label: str
    kind: str
    low: float
    high: float
    meaning: str = ""
    why_low: str = ""
    why_high: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    axes: tuple[str, ...] = ()
    optional: bool = False
    longest: int = LONGEST_NAME
    moves: Moves = ""


def described(
    default: Any,
    label: str,
    kind: str,
    low: Scalar = -math.inf,
    high: Scalar = math.inf,
    meaning: str = "",
    why: tuple[str, str] = ("", ""),
    **more: Any,
) -> Any:
    """A dataclass field with its description; one with ``default`` None may be left open, one with MISSING must be given."""
    about = {"label": label, "kind": kind, "low": low, "high": high, "meaning": meaning, "why_low": why[0], "why_high": why[1], **more}
    if default is None:
        about["optional"] = True
    return dataclasses.field(default=default, metadata=about)


def length(
    default: Metres, label: str, meaning: str, low: Scalar = 0.0, high: Scalar = LONGEST, why: tuple[str, str] | None = None, **more: Any
) -> Any:
    """A dataclass field holding a length in metres."""
    usual = (TOO_SMALL if low >= SHORTEST else NONE if low == 0 else "thinner than can be built", TOO_LARGE)
    return described(default=default, label=label, kind="length", low=low, high=high, meaning=meaning, why=why or usual, **more)


def ratio(default: Ratio, label: str, meaning: str, low: Scalar = 0.0, high: Scalar = 1.0, why: tuple[str, str] = (NONE, WHOLE)) -> Any:
    """A dataclass field holding a plain ratio."""
    return described(default=default, label=label, kind="ratio", low=low, high=high, meaning=meaning, why=why)


def angle(default: Degrees, label: str, meaning: str, low: Scalar, high: Scalar, why: tuple[str, str]) -> Any:
    """A dataclass field holding an angle in degrees (the file's unit)."""
    return described(default=default, label=label, kind="degrees", low=low, high=high, meaning=meaning, why=why)


def count(default: int, label: str, meaning: str, low: int, high: int, why: tuple[str, str]) -> Any:
    """A dataclass field holding a whole number."""
    return described(default=default, label=label, kind="count", low=low, high=high, meaning=meaning, why=why)


def mass(default: Kilograms, label: str, meaning: str, low: Scalar, high: Scalar, why: tuple[str, str]) -> Any:
    """A dataclass field holding a mass in kilograms."""
    return described(default=default, label=label, kind="mass", low=low, high=high, meaning=meaning, why=why)


def areal(default: KilogramsPerSquareMetre, label: str, meaning: str, low: Scalar, high: Scalar, why: tuple[str, str]) -> Any:
    """A dataclass field holding a mass per area, kg/m2."""
    return described(default=default, label=label, kind="areal", low=low, high=high, meaning=meaning, why=why)


def required() -> Any:
    """A dataclass field without a description that must be given, though fields before it are described."""
    return dataclasses.field()


def named(default: Any, label: str, meaning: str, kind: str) -> Any:
    """A dataclass field holding the name of a ``material`` or a ``body``; the boat says which there are."""
    return described(default=default, label=label, kind=kind, low=0, high=0, meaning=meaning)


def choice(default: Any, label: str, meaning: str, choices: tuple[tuple[str, str], ...]) -> Any:
    """A dataclass field holding one of the codes of ``choices``."""
    return described(default=default, label=label, kind="choice", low=0, high=0, meaning=meaning, choices=choices)


def text(default: Any, label: str, longest: int = LONGEST_NAME) -> Any:
    """A dataclass field holding a name that must be given."""
    return described(default, label, "text", longest=longest)


def words(label: str, longest: int = LONGEST_NAME) -> Any:
    """A dataclass field holding words that may be left out."""
    return described("", label, "words", longest=longest)


def flag(default: bool, label: str) -> Any:
    """A dataclass field holding yes or no."""
    return described(default, label, "flag")


def place(default: Any, label: str, axes: tuple[str, ...] = ALONG, moves: Moves = "place") -> Any:
    """A dataclass field holding a point in the boat's axes."""
    return described(default=default, label=label, kind="length", low=-FARTHEST, high=FARTHEST, axes=axes, moves=moves)


def parameters_of(family: Any) -> tuple[Parameter, ...]:
    """The described fields of a class or value, in order; a family's ``kind`` is not one."""
    return _parameters_of(family if isinstance(family, type) else type(family))


@cache
def _parameters_of(family: Any) -> tuple[Parameter, ...]:
    return tuple(Parameter(f.name, **f.metadata) for f in dataclasses.fields(family) if "label" in f.metadata)


def parameter_of(family: Any, name: str) -> Parameter | None:
    """One of them by its name; None for a field that is not described."""
    return next((p for p in parameters_of(family) if p.name == name), None)


def check_parameters(part: Any) -> None:
    """Raise InvalidInput naming the first field outside its range, with the reason for the end it is beyond."""
    for p in parameters_of(part):
        value = getattr(part, p.name)
        if value is None and p.optional:
            continue
        if p.kind in TEXTS:
            _check_text(p, value)
        elif p.kind in NAMES:
            if not isinstance(value, str) or len(value) > LONGEST_NAME:
                raise InvalidInput(p.name, f"{p.label} must be a name of at most {LONGEST_NAME} characters.")
        elif p.kind == "choice":
            if value not in dict(p.choices):
                raise InvalidInput(p.name, f"{p.label} must be one of: {', '.join(code for code, _ in p.choices)}.")
        elif p.kind not in ("flag", *NUMBERED):
            for one in value if isinstance(value, tuple) else (value,):
                _check_number(p, one)


def _check_text(p: Parameter, value: Any) -> None:
    if not isinstance(value, str) or len(value) > p.longest or (p.kind == "text" and not value.strip()):
        least = "1 to" if p.kind == "text" else "at most"
        raise InvalidInput(p.name, f"{p.label} needs {least} {p.longest} characters.")


def _check_number(p: Parameter, value: Any) -> None:
    known = isinstance(value, (int, float))
    if not known or not math.isfinite(value) or not p.low <= value <= p.high:
        reason = p.why_low if known and value < p.low else p.why_high
        end = f" ({reason})" if reason not in ("", NONE, WHOLE) else ""
        if p.kind in SI_UNITS:
            range_of = f"{p.label} must lie between {{low:{p.kind}}} and {{high:{p.kind}}}{end}."
            raise InvalidInput(p.name, range_of, low=p.low, high=p.high)
        raise InvalidInput(p.name, f"{p.label} must lie between {_plain(p.low, p)} and {_plain(p.high, p)}{UNITS.get(p.kind, '')}{end}.")
    if p.kind == "count" and value != int(value):
        raise InvalidInput(p.name, f"{p.label} must be a whole number from {p.low:g} to {p.high:g}.")


def _plain(value: float, p: Parameter) -> str:
    shown = 100 * value if p.kind == "percent" else value
    return f"{shown:g}" if abs(shown) < 1e5 else f"{shown:,.15g}".replace(",", " ")
