"""Mass and centre of gravity from scales, a ruler and an edge, each with the interval that holds it 19 times in 20.

A reading lies within limits, evenly likely anywhere between them: its standard uncertainty is the limit over the root of 3
(JCGM 100:2008, 4.3.7), which goes through each formula by its slopes (eq. 10). What half width holds 95 % follows from how many
readings make it up (G.2): one alone stays within its limits, many are nearly normal.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields

from yarekeel.core.errors import InvalidInput
from yarekeel.core.formulas import formula
from yarekeel.core.found import Found
from yarekeel.core.parameters import check_parameters, described
from yarekeel.core.quantities import Degrees, Kilograms, Metres, Radians, Scalar
from yarekeel.core.sources import GUM, STATICS

SURE, MANY = 0.95, 1.96
"""Of the limit, what holds 95 % of one even reading; standard uncertainties that hold 95 % of a normal figure (JCGM 100:2008, G.1.3)."""
NORMAL = "listed "
"""How the parts begin that are normal, not evenly likely between limits."""
LARGEST = 1e6
ANGLES = (0.01, 89.99)
"""Degrees: at either end of them a height cannot be told."""


@dataclass(frozen=True, slots=True)
class WeighIn:
    """What was read, None where it was not. Places in the boat's axes (from aft, to port, up); they stay when the boat is resized,
    as all readings do: they tell of the boat that was weighed.

    ``scale_kg``, ``place_m`` and ``angle_deg`` are the limits within which scales, ruler and angle are read. ``practice`` names the
    readings that a stand-in for a scale gave: they say nothing of the boat.
    """

    mass_kg: Kilograms | None = described(None, "All up", "mass", 0, LARGEST)
    scale_kg: Kilograms = described(0.005, "Scales read to ±", "mass", 0, LARGEST)
    place_m: Metres = described(0.001, "Ruler reads to ±", "length", 0, LARGEST, moves="stays")
    angle_deg: Degrees = described(0.5, "Angle reads to ±", "degrees", 0, LARGEST)
    aft_kg: Kilograms | None = described(None, "Aft scale", "mass", 0, LARGEST)
    fore_kg: Kilograms | None = described(None, "Fore scale", "mass", 0, LARGEST)
    aft_x_m: Metres | None = described(None, "Aft support, from aft", "length", -LARGEST, LARGEST, moves="stays")
    fore_x_m: Metres | None = described(None, "Fore support, from aft", "length", -LARGEST, LARGEST, moves="stays")
    edge_x_m: Metres | None = described(None, "Edge, from aft", "length", -LARGEST, LARGEST, moves="stays")
    port_kg: Kilograms | None = described(None, "Port scale", "mass", 0, LARGEST)
    starboard_kg: Kilograms | None = described(None, "Starboard scale", "mass", 0, LARGEST)
    port_y_m: Metres | None = described(None, "Port support, to port", "length", -LARGEST, LARGEST, moves="stays")
    starboard_y_m: Metres | None = described(None, "Starboard support, to port", "length", -LARGEST, LARGEST, moves="stays")
    tip_deg: Degrees | None = described(None, "Balances at", "degrees", *ANGLES)
    tip_y_m: Metres | None = described(None, "Edge, to port", "length", -LARGEST, LARGEST, moves="stays")
    tip_z_m: Metres | None = described(None, "Edge, up", "length", -LARGEST, LARGEST, moves="stays")
    raised_kg: Kilograms | None = described(None, "Fore scale, raised", "mass", 0, LARGEST)
    rise_m: Metres | None = described(None, "Raised by", "length", -LARGEST, LARGEST, moves="stays")
    support_z_m: Metres | None = described(None, "Supports, up", "length", -LARGEST, LARGEST, moves="stays")
    hang_deg: Degrees | None = described(None, "Hangs at", "degrees", *ANGLES)
    hang_x_m: Metres | None = described(None, "Hung from, from aft", "length", -LARGEST, LARGEST, moves="stays")
    hang_z_m: Metres | None = described(None, "Hung from, up", "length", -LARGEST, LARGEST, moves="stays")
    practice: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        if not all(name in READINGS for name in self.practice):
            raise InvalidInput("practice", "Only readings of the weigh-in can be marked as practice.")
        check_parameters(self)


READINGS = tuple(f.name for f in fields(WeighIn) if f.default is None)
"""What is read, as against how well."""


@dataclass(frozen=True, slots=True)
class Weighed:
    """What a weigh-in found; None for what was not measured."""

    mass: Found | None
    lcg: Found | None
    tcg: Found | None
    vcg: Found | None


def reading(value: Scalar, limit: Scalar, name: str = "") -> Found:
    """A reading off by at most ``limit``; by its ``name`` it is known wherever it goes into a figure."""
    return Found(value, SURE * limit, ((name or "reading", limit / math.sqrt(3)),))


@formula("U = 2 a / sqrt(3)", GUM, "off by at most a, evenly likely, one part of many")
def as_normal(limit: Scalar) -> Scalar:
    """Twice the standard uncertainty of what is off by at most ``limit``: what it makes of a 95 % band among many others."""
    return 2 / math.sqrt(3) * limit


def _coverage(parts: Sequence[float], normal: float) -> float:
    """How many standard uncertainties hold 95 % of a sum of evenly likely ``parts`` (standard uncertainties each) and a ``normal``
    one: 1.645 for one even part (JCGM 100:2008, G.1.3), 1.902 for two that are alike (its trapezium a triangle), 1.96 for many;
    between them by the sum's kurtosis, -1.2 for one part, to a hundredth."""
    total = math.fsum(p * p for p in parts) + normal * normal
    kurtosis = -1.2 * math.fsum(p**4 for p in parts) / total**2 if total > 0 else 0.0
    return MANY - 0.069 * kurtosis - 0.276 * kurtosis**2


def through(formula: Callable[..., float], *readings: Found) -> Found:
    """A formula of readings, each with a name of its own, its half width by central differences.

    What one reading does through several of them adds plainly (full correlation, JCGM 100:2008, 5.2.2 note 1), different readings
    add by squares.
    """
    values = [r.value for r in readings]
    shares: dict[str, float] = {}
    for k, r in enumerate(readings):
        if r.half_width == 0:
            continue
        step = 1e-3 * r.half_width
        up, down = list(values), list(values)
        up[k] += step
        down[k] -= step
        slope = (formula(*up) - formula(*down)) / (2 * step)
        for name, part in r.parts or ((f"{NORMAL}{k}", r.half_width / MANY),):
            shares[name] = shares.get(name, 0.0) + slope * part
    even = [v for name, v in shares.items() if not name.startswith(NORMAL)]
    normal = math.hypot(*(v for name, v in shares.items() if name.startswith(NORMAL)))
    return Found(formula(*values), _coverage(even, normal) * math.hypot(*shares.values()), tuple(shares.items()))


@formula("x = (m1 x1 + m2 x2) / (m1 + m2)", STATICS, "two level supports")
def between(first: Kilograms, second: Kilograms, x1: Metres, x2: Metres) -> Metres:
    """Centre over two supports at ``x1`` and ``x2`` that carry ``first`` and ``second``: moments about either."""
    return (first * x1 + second * x2) / (first + second)


@formula("z = z_e + (y - y_e) / tan(phi)", STATICS, "balanced on an edge")
def over_edge(y_edge: Metres, z_edge: Metres, y: Metres, angle: Radians) -> Metres:
    """Height of the centre of a boat tipped about a lengthwise edge until it balances at ``angle``: G stands over the edge."""
    return z_edge + abs(y - y_edge) / math.tan(angle)


@formula("fore L cos = m ((x - x1) cos - (z - z_s) sin)", STATICS, "one support raised")
def one_end_raised(fore: Kilograms, mass: Kilograms, x: Metres, x1: Metres, x2: Metres, z_support: Metres, rise: Metres) -> Metres:
    """Height of the centre from what the fore support carries with that support raised by ``rise``.

    Moments about the aft support with the boat pitched by asin(rise / (x2 - x1)):
    fore L cos = mass ((x - x1) cos - (z - z_support) sin).
    """
    tangent = math.tan(math.asin(rise / (x2 - x1)))
    return z_support + (x - x1 - fore * (x2 - x1) / mass) / tangent


@formula("z = z_p - (x - x_p) / tan(theta)", STATICS, "hung from one point")
def hung(x_point: Metres, z_point: Metres, x: Metres, angle: Radians) -> Metres:
    """Height of the centre of a boat hung from one point, pitched by ``angle``: G hangs plumb under the point."""
    return z_point - abs(x - x_point) / math.tan(angle)


def weighed(readings: WeighIn, listed_lcg: Found, listed_tcg: Found) -> Weighed:
    """All that the readings tell; the list's centre, with its band, is used where a height needs an LCG or TCG not measured.

    Two scales go before the edge; for the height tipping goes before raising before hanging. Raises InvalidInput where
    readings contradict geometry (supports at one place, a rise longer than their distance).
    """
    r = readings
    mass = None if r.mass_kg is None else reading(r.mass_kg, r.scale_kg, "mass_kg")
    lcg = None if r.edge_x_m is None else reading(r.edge_x_m, r.place_m, "edge_x_m")
    along = _on_two(r, ("aft_kg", "fore_kg"), ("aft_x_m", "fore_x_m"), "The fore support must stand ahead of the aft one.")
    sides = ("starboard_kg", "port_kg"), ("starboard_y_m", "port_y_m")
    across = _on_two(r, *sides, "The port support must lie to port of the starboard one.")
    mass, lcg, tcg = mass or along[0] or across[0], along[1] or lcg, across[1]
    return Weighed(mass, lcg, tcg, _height(r, mass, lcg or listed_lcg, tcg or listed_tcg))


def _read(r: WeighIn, fields: tuple[str, ...], limit: Scalar) -> list[Found] | None:
    """Several readings by their names; None if any was not read."""
    values = [getattr(r, name) for name in fields]
    return None if None in values else [reading(v, limit, name) for name, v in zip(fields, values, strict=True)]


def _angle(r: WeighIn, field: str) -> Found | None:
    degrees = getattr(r, field)
    return None if degrees is None else reading(math.radians(degrees), math.radians(r.angle_deg), field)


def _on_two(r: WeighIn, carried: tuple[str, str], places: tuple[str, str], text: str) -> tuple[Found | None, Found | None]:
    """Mass and centre from two supports, the one of lesser coordinate first; None for what was not read."""
    loads, at = _read(r, carried, r.scale_kg), _read(r, places, r.place_m)
    if loads is None:
        return None, None
    first, second = loads
    both = through(lambda a, b: a + b, first, second)
    if at is None or both.value <= 0:
        return both, None
    low, high = at
    if not high.value > low.value:
        raise InvalidInput(places[1], text)
    return both, through(between, first, second, low, high)


def _height(r: WeighIn, mass: Found | None, lcg: Found, tcg: Found) -> Found | None:
    tipped, angle = _read(r, ("tip_y_m", "tip_z_m"), r.place_m), _angle(r, "tip_deg")
    if tipped is not None and angle is not None:
        return through(over_edge, *tipped, tcg, angle)
    places = _read(r, ("aft_x_m", "fore_x_m", "support_z_m", "rise_m"), r.place_m)
    if mass is not None and mass.value > 0 and places is not None and r.raised_kg is not None:
        if not 0 < places[3].value < places[1].value - places[0].value:
            raise InvalidInput("rise_m", "The rise must be more than 0 and less than the distance between the supports.")
        return through(one_end_raised, reading(r.raised_kg, r.scale_kg, "raised_kg"), mass, lcg, *places)
    hanging, angle = _read(r, ("hang_x_m", "hang_z_m"), r.place_m), _angle(r, "hang_deg")
    return through(hung, *hanging, lcg, angle) if hanging is not None and angle is not None else None


_SLIPS = (
    (2.20462, "pounds for kilograms"),
    (1 / 2.20462, "kilograms for pounds"),
    (35.27396, "ounces for kilograms"),
    (0.0352740, "grams for ounces"),
    (28.34952, "ounces for grams"),
    (1000.0, "grams for kilograms"),
    (0.001, "kilograms for grams"),
    (16.0, "ounces for pounds"),
    (0.0625, "pounds for ounces"),
)
SLIP: float = 0.12
"""How near a ratio must come to that of two units to be taken for a slip between them."""


def unit_slip(measured: Found, listed: Found) -> str:
    """The units that were likely taken one for the other; empty if the two agree or no slip explains the ratio."""
    if (
        measured.value <= 0
        or listed.value <= 0
        or abs(measured.value - listed.value) <= 3 * math.hypot(measured.half_width, listed.half_width)
    ):
        return ""
    ratio = measured.value / listed.value
    near = min(_SLIPS, key=lambda s: abs(math.log(ratio / s[0])))
    return near[1] if abs(math.log(ratio / near[0])) <= SLIP else ""


def are_swapped(readings: WeighIn, listed: Found) -> bool:
    """Whether the two scales' readings fit the list's LCG the other way round, and do not as they were written down."""
    r = readings
    if r.aft_kg is None or r.fore_kg is None or r.aft_x_m is None or r.fore_x_m is None or r.aft_kg + r.fore_kg <= 0:
        return False
    room = math.hypot(listed.half_width, r.place_m) + 0.02 * (r.fore_x_m - r.aft_x_m)
    as_read = abs(between(r.aft_kg, r.fore_kg, r.aft_x_m, r.fore_x_m) - listed.value)
    other = abs(between(r.fore_kg, r.aft_kg, r.aft_x_m, r.fore_x_m) - listed.value)
    return as_read > 2 * room and other < room
