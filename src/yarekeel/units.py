"""The edge between what people type and read and the SI numbers inside.

``parse("9 in", "length", system, field)`` gives metres; ``say(0.052, "length", system)`` gives "52 mm"; ``fill`` puts a
finding's values into its sentence. Directions are said in words here and nowhere else.
"""

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from yarekeel import typed, unit_names
from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding

NBSP = "\N{NO-BREAK SPACE}"
MINUS = "\N{MINUS SIGN}"


@dataclass(frozen=True, slots=True)
class Unit:
    """A unit shown to people: its label, how many SI units it is, and how many decimals it is shown with."""

    label: str
    si: float
    decimals: int


@dataclass(frozen=True, slots=True)
class System:
    """The units a boat is shown in."""

    code: str
    title: str
    length: Unit
    mass: Unit
    force: Unit
    speed: Unit
    area: Unit
    volume: Unit
    section: Unit
    areal: Unit


_MM, _IN = Unit("mm", 0.001, 0), Unit("in", 0.0254, 2)
_N, _MS = Unit("N", 1.0, 2), Unit("m/s", 1.0, 2)
_OZF, _LBF, _FT_S = Unit("ozf", 0.0283495231 * STANDARD_GRAVITY, 1), Unit("lbf", 4.4482216152605, 1), Unit("ft/s", 0.3048, 1)
_OZ, _LB = Unit("oz", 0.028349523125, 1), Unit("lb", 0.45359237, 1)
_GSM, _OZ_YARD = Unit("g/m²", 0.001, 0), Unit("oz/yd²", 0.028349523125 / 0.9144**2, 1)
_SMALL = (Unit("dm²", 0.01, 1), Unit("l", 0.001, 2), Unit("cm²", 0.0001, 1), _GSM)
_LARGE = (Unit("m²", 1.0, 2), Unit("l", 0.001, 0), Unit("dm²", 0.01, 1), _GSM)
_SQUARE_INCH, _SQUARE_FOOT = 0.00064516, 0.09290304
_INCHES = (Unit("in²", _SQUARE_INCH, 0), Unit("in³", 1.6387064e-5, 0), Unit("in²", _SQUARE_INCH, 1), _OZ_YARD)
_FEET = (Unit("ft²", _SQUARE_FOOT, 2), Unit("ft³", 0.028316846592, 2), Unit("ft²", _SQUARE_FOOT, 2), _OZ_YARD)
SYSTEMS: dict[str, System] = {
    s.code: s
    for s in (
        System("mm_g", "mm, g", _MM, Unit("g", 0.001, 0), _N, _MS, *_SMALL),
        System("mm_gf", "mm, g, pull in g", _MM, Unit("g", 0.001, 0), Unit("g", 0.001 * STANDARD_GRAVITY, 0), _MS, *_SMALL),
        System("mm_kg", "mm, kg", _MM, Unit("kg", 1.0, 1), Unit("N", 1.0, 1), _MS, *_LARGE),
        System("in_oz", "in, oz", _IN, _OZ, _OZF, _FT_S, *_INCHES),
        System("in_lb", "in, lb", Unit("in", 0.0254, 1), _LB, _LBF, _FT_S, *_FEET),
    )
}
DEFAULT = SYSTEMS["mm_g"]

_PINT = {
    "length": "meter",
    "mass": "kilogram",
    "force": "newton",
    "current": "ampere",
    "voltage": "volt",
    "capacity": "ampere_hour",
    "resistance": "ohm",
    "degrees": "degree",
    "ratio": "",
    "density": "kilogram/meter**3",
    "areal": "kilogram/meter**2",
    "volume": "meter**3",
    "speed": "meter/second",
    "flow": "meter**3/second",
    "percent": "",
    "count": "",
    "seconds": "second",
    "area": "meter**2",
    "power": "watt",
}
_FIXED = {
    "current": Unit("A", 1.0, 1),
    "voltage": Unit("V", 1.0, 1),
    "capacity": Unit("Ah", 1.0, 2),
    "resistance": Unit("Ω", 1.0, 3),
    "degrees": Unit("°", 1.0, 1),
    "temperature": Unit("°C", 1.0, 1),
    "ratio": Unit("", 1.0, 2),
    "density": Unit("kg/m³", 1.0, 1),
    "percent": Unit("%", 0.01, 0),
    "flow": Unit("ml/min", 1e-6 / 60, 0),
    "count": Unit("", 1.0, 0),
    "arm_area": Unit("mm·rad", 0.001, 0),
    "moment": Unit("N m", 1.0, 1),
    "seconds": Unit("s", 1.0, 2),
    "power": Unit("W", 1.0, 1),
    "impulse": Unit("N s", 1.0, 1),
}
_EXAMPLES = {
    "length": "45 mm, 4.5 cm or 1.8 in",
    "mass": "860 g, 0.86 kg or 30 oz",
    "force": "12 N, 1.2 kgf or 2.7 lbf",
    "current": "12 A",
    "voltage": "11.1 V",
    "capacity": "5 Ah or 5000 mAh",
    "resistance": "0.02 ohm or 20 mohm",
    "degrees": "2.5 or 2.5°",
    "temperature": "12 °C or 54 °F",
    "ratio": "0.3 or 30 %",
    "density": "1000 kg/m3",
    "areal": "200 g/m² or 6 oz/yd²",
    "percent": "20 or 20 %",
    "power": "75 W or 0.1 hp",
    "volume": "2 l, 500 ml or 0.5 US gal",
    "speed": "5 m/s, 18 km/h or 10 knots",
    "flow": "50 ml/min or 3 l/h",
    "count": "4",
    "seconds": "12.4 s or 0.5 min",
    "area": "3.4 m², 340 dm² or 36 ft²",
}
_GROUPED = r"(?:\d{1,3}(?:[ \u00a0\u202f]\d{3})+|\d+)(?:[.,]\d+)*|[.,]\d+"
_NUMBER = re.compile(rf"^([+\-−]?)(?:(\d+/\d+)|({_GROUPED})((?:[eE][+-]?\d{{1,3}})?)(?:\s+(\d+/\d+))?)(?![\d./])\s*(.*)$")
LONGEST_TYPED = 60
_BY_INCH = {"moment": Unit("lbf·in", 4.4482216152605 * 0.0254, 1), "arm_area": Unit("in·rad", 0.0254, 2)}
_SPELLINGS = {
    "st": "stone",
    "″": "inch",
    "′": "foot",
    '"': "inch",
    "”": "inch",
    "'": "foot",
    "’": "foot",
    "°": "degree",
    "Ω": "ohm",
    "µm": "micrometer",
    "mΩ": "milliohm",
    "%": "percent",
    "gsm": "g/m**2",
    "knots": "knot",
    "kn": "knot",
    "kt": "knot",
    "us gal": "US_liquid_gallon",
    "imp gal": "imperial_gallon",
    "uk gal": "imperial_gallon",
    "us pint": "US_pint",
    "imp pint": "imperial_pint",
    "us quart": "US_quart",
    "imp quart": "imperial_quart",
    "us ton": "US_ton",
    "short ton": "US_ton",
    "imp ton": "UK_ton",
    "long ton": "UK_ton",
    "tonne": "metric_ton",
    "tonnes": "metric_ton",
}
_TWO_MEANINGS = {
    "ton": "t (1000 kg), US ton (907 kg) or imp ton (1016 kg)",
    "gal": "US gal (3.785 l) or imp gal (4.546 l)",
    "gallon": "US gal (3.785 l) or imp gal (4.546 l)",
    "pint": "US pint (473 ml) or imp pint (568 ml)",
    "quart": "US quart (946 ml) or imp quart (1.137 l)",
}
"""Units that two countries mean differently by."""
_SMALL_POWERS = re.compile(r"[^*]*(?:\*(?:\*[1-4](?![\d*]))?(?!\*)[^*]*)*")
"""Stars that multiply, or one small whole exponent after a unit; no power of a power."""
_UNIT_TEXT = re.compile(r"^[A-Za-zµ_][A-Za-z0-9µ_/*^³² ]{0,24}$")


LARGE_MASS = 20.0
"""kg: from there on grams are shown as kilograms."""
LARGE_MOMENT = 100.0
_KG, _NM = Unit("kg", 1.0, 2), Unit("N m", 1.0, 0)


def unit_for(value: float, kind: str, system: System) -> Unit:
    """The unit a value of a kind is shown in: as ``unit_of``, but no longer a small one for what is large."""
    unit = unit_of(kind, system)
    if kind == "mass" and unit.label == "g" and abs(value) >= LARGE_MASS:
        return _KG
    return _NM if kind == "moment" and unit.si == 1.0 and abs(value) >= LARGE_MOMENT else unit


def _decimals(half: float, unit: Unit, most: int) -> int:
    """Decimals that a band's two first figures leave (JCGM 100:2008, 7.2.6), at most as many as are shown without; less than 0 for
    tens and hundreds."""
    shown = abs(half) / unit.si
    return min(most, 1 - math.floor(math.log10(shown))) if shown > 0 else most


def number_within(value: float, half: float, kind: str, system: System, extra: int = 0) -> str:
    """The number alone, no finer than its band."""
    unit = unit_for(value, kind, system)
    return plain(value / unit.si, _decimals(half, unit, unit.decimals + extra))


def band(value: float, half: float, kind: str, system: System, extra: int = 0) -> str:
    """The band of a value in its unit, to two figures: "±55 mm"."""
    if kind in ("angle", "trim", "heel"):
        return f"±{_degrees(half)}"
    unit = unit_for(value, kind, system)
    return f"±{plain(half / unit.si, _decimals(half, unit, unit.decimals + extra))}{NBSP}{unit.label}"


def unit_of(kind: str, system: System) -> Unit:
    """The unit a kind of value is shown in."""
    fixed = (_BY_INCH if system.length.label == "in" else _FIXED).get(kind) or _FIXED.get(kind)
    found = fixed or getattr(system, kind)
    assert isinstance(found, Unit)
    return found


def parse(text: str, kind: str, system: System, field: str) -> float:
    """SI value (degrees stay degrees, temperatures °C) of what was typed; a bare number is in the shown unit.

    Raises InvalidInput for ``field`` with what would be accepted.
    """
    written = text.strip()
    refusal = InvalidInput(field, f"“{written[:40]}” was not understood; write for example {_EXAMPLES[kind]}.")
    if not written:
        raise InvalidInput(field, f"A value is needed here, for example {_EXAMPLES[kind]}.")
    match = _NUMBER.match(written) if len(written) <= LONGEST_TYPED else None
    if not match or typed.MORE.search(match[6]):
        return _summed(written, kind, system, refusal)
    sign, alone, digits, exponent, rest, unit = match.groups()
    value = _number(digits + exponent, field, refusal) if digits else 0.0
    for fraction in (alone, rest):
        if fraction:
            top, bottom = fraction.split("/")
            if int(bottom) == 0:
                raise refusal
            value += int(top) / int(bottom)
    value = -value if sign in ("-", MINUS) else value
    result = value * unit_of(kind, system).si if not unit else _converted(value, unit, kind, refusal)
    if not math.isfinite(result):
        raise refusal
    return result


def _summed(text: str, kind: str, system: System, refusal: InvalidInput) -> float:
    """Compounds, halves, sums, and digits grouped by any custom; of temperatures there are no sums."""
    if len(text) > LONGEST_TYPED or kind == "temperature":
        raise refusal
    try:
        found = typed.measures(text)
    except typed.NotUnderstood:
        raise refusal from None
    shown = unit_of(kind, system).si
    total = math.fsum(value * shown if not unit else _converted(value, unit, kind, refusal) for value, unit in found)
    if not math.isfinite(total):
        raise refusal
    return total


def _number(text: str, field: str, refusal: InvalidInput) -> float:
    plain = re.sub(r"\s", "", text)
    if plain.count(",") + plain.count(".") > 1:
        try:
            return typed.number(plain)
        except typed.NotUnderstood:
            raise refusal from None
    if re.search(r"\d,\d{3}$", plain) and not plain.startswith("0"):
        two = f"write {plain.replace(',', '')} or {plain.replace(',', '.')}"
        raise InvalidInput(field, f"“{text.strip()}” can be read two ways; {two}.")
    try:
        return float(plain.replace(",", "."))
    except ValueError:
        raise refusal from None


def _converted(value: float, unit: str, kind: str, refusal: InvalidInput) -> float:
    if kind == "temperature":
        scale = unit.replace("°", "").replace("deg", "").strip().upper()
        if scale in ("C", "F", "K"):
            return {"C": value, "F": (value - 32) / 1.8, "K": value - 273.15}[scale]
        raise refusal
    name = _SPELLINGS.get(unit.lower(), _SPELLINGS.get(unit, unit))
    if (which := _TWO_MEANINGS.get(unit.lower().rstrip("s"))) is not None:
        raise InvalidInput(refusal.field, f"“{unit}” means more than one thing; write {which}.")
    if not _UNIT_TEXT.match(unit) and name == unit:
        raise refusal
    import pint

    registry = unit_names.registry()
    written = _powers(name)
    if not _SMALL_POWERS.fullmatch(written):  # worked out by the library with no limit: 9**9**9 never ends
        raise refusal
    try:
        quantity = registry.Quantity(value, registry.parse_units(written))
        if kind == "force" and quantity.check("[mass]"):  # a pull read off a kitchen scale
            return float(quantity.to("kilogram").magnitude) * STANDARD_GRAVITY
        return float(quantity.to(_PINT[kind]).magnitude)
    except (pint.errors.PintError, ValueError, TypeError, AttributeError, OverflowError, ZeroDivisionError):
        raise refusal from None


def _powers(unit: str) -> str:
    """m², m^2 and m2 are one."""
    written = unit.replace("²", "**2").replace("³", "**3").replace("^", "**")
    return re.sub(r"(?<=[A-Za-z])([23])(?!\w)", r"**\1", written)


def plain(value: float, decimals: int) -> str:
    """A number with a real minus, spaces between thousands, and no "-0"."""
    text = f"{round(value, decimals) + 0.0:,.{max(decimals, 0)}f}".replace(",", NBSP)
    return text.replace("-", MINUS)


def number_in(value: float, kind: str, system: System, extra: int = 0) -> str:
    """The number alone, in the shown unit."""
    unit = unit_for(value, kind, system)
    return plain(value / unit.si, unit.decimals + extra)


def field_text(value: float | None, kind: str, system: System) -> str:
    """A value as a field shows it, in the shown unit: the unit's decimals, more where four figures need them.

    It is for reading: a field that is not typed in is never read back, so nothing is lost by rounding it here.
    """
    if value is None:
        return ""
    unit = unit_of(kind, system)
    shown = value / unit.si
    digits = max(unit.decimals, 3 - math.floor(math.log10(abs(shown)))) if abs(shown) > 10 ** -(unit.decimals + 3) else 0
    number = f"{shown:.{min(digits, 9)}f}"
    number = number.rstrip("0").rstrip(".") if "." in number else number
    number = "0" if number == "-0" else number.replace("-", MINUS)
    return f"{number} {unit.label}".strip()


def say(value: float, kind: str, system: System = DEFAULT) -> str:
    """A value in words and units, by the kind named in a finding's sentence."""
    if kind in _WORDS:
        return _WORDS[kind](value, system)
    unit = unit_for(value, kind, system)
    joint = "" if unit.label in ("°", "") else NBSP
    return f"{plain(value / unit.si, unit.decimals)}{joint}{unit.label}"


def _mm(value: float, system: System, extra: int = 0) -> str:
    return f"{number_in(abs(value), 'length', system, extra)}{NBSP}{system.length.label}"


def _degrees(value: float, decimals: int = 1) -> str:
    return f"{plain(abs(math.degrees(value)), decimals)}°"


def _trim_words(value: float, system: System) -> str:
    return "level" if abs(math.degrees(value)) < 0.05 else f"bow {'up' if value > 0 else 'down'} {_degrees(value)}"


def _heel_words(value: float, system: System) -> str:
    return "stands upright" if abs(math.degrees(value)) < 0.05 else f"leans {_degrees(value)} to {'starboard' if value > 0 else 'port'}"


def _room(value: float, system: System) -> str:
    """Distances that a boat covers: metres, or feet where lengths are in inches."""
    feet = system.length.label == "in"
    shown = value / 0.3048 if feet else value
    return f"{plain(shown, 1 if shown < 20 else 0)}{NBSP}{'ft' if feet else 'm'}"


def _plural(one: str, many: str) -> Callable[[float, System], str]:
    return lambda v, s: f"{plain(v, 0)} {one if round(v) == 1 else many}"


_WORDS: dict[str, Callable[[float, System], str]] = {
    "trim": _trim_words,
    "heel": _heel_words,
    "angle": lambda v, s: _degrees(v),
    "angle0": lambda v, s: _degrees(v, 0),
    "draft": lambda v, s: f"{number_in(v, 'length', s, 1)}{NBSP}{s.length.label}",
    "fore_aft": lambda v, s: f"{_mm(v, s)} {'forward' if v > 0 else 'aft'}",
    "athwart": lambda v, s: f"{_mm(v, s, 1)} to {'port' if v > 0 else 'starboard'}",
    "above_below": lambda v, s: f"{_mm(v, s)} {'above' if v > 0 else 'below'}",
    "thin": lambda v, s: f"{number_in(v, 'length', s, 1)}{NBSP}{s.length.label}",
    "span": lambda v, s: f"{plain(v, 1 if v < 20 else 0)}{NBSP}s",
    "minutes": lambda v, s: f"{plain(v / 60, 0 if v >= 600 else 1)}{NBSP}min",
    "distance": lambda v, s: f"{plain(v / 1000, 1)}{NBSP}km" if v >= 1000 else f"{plain(round(v, -1), 0)}{NBSP}m",
    "room": _room,
    "persons": _plural("person", "persons"),
    "loads": _plural("load", "loads"),
    "percent1": lambda v, s: f"{plain(100 * v, 1)}{NBSP}%",
}


class _Filler:
    """Lets ``{spare:length}`` in a sentence ask for a kind."""

    def __init__(self, value: float | str, system: System) -> None:
        self.value, self.system = value, system

    def __format__(self, kind: str) -> str:
        return self.value if isinstance(self.value, str) else say(self.value, kind, self.system)


def fill(sentence: str, values: Mapping[str, float | str], system: System = DEFAULT) -> str:
    """The sentence with its places filled in."""
    return sentence.format(**{name: _Filler(value, system) for name, value in values.items()})


@dataclass(frozen=True, slots=True)
class WordedFinding:
    """A finding in the reader's words and units."""

    code: str
    severity: str
    title: str
    sentence: str
    source: str
    standing: str
    remedies: tuple[tuple[str, str | None], ...]


def said(finding: Finding, system: System = DEFAULT) -> WordedFinding:
    """A finding with every place filled in."""
    return WordedFinding(
        code=finding.code,
        severity=finding.severity,
        title=fill(finding.title, finding.values, system),
        sentence=fill(finding.sentence, finding.values, system),
        source=finding.source.citation,
        standing=finding.source.standing,
        remedies=tuple((fill(r.sentence, finding.values, system), r.stage) for r in finding.remedies),
    )
