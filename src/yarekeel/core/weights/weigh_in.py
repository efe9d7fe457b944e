"""Mass and centre of gravity from scales, a ruler and an edge, each with the interval that holds it 19 times in 20.

A reading lies within limits, evenly likely anywhere between them: its standard uncertainty is the limit over the root of 3
(JCGM 100:2008, 4.3.7), and twice that is the half width that goes through each formula by its slopes (eq. 10; 6.2.1, k = 2).
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, described
from yarekeel.core.quantities import Degrees, Kilograms, Metres, Point, Radians, Scalar
from yarekeel.core.sources import STATICS

LARGEST = 1e6
ANGLES = (0.01, 89.99)
"""Degrees: at either end of them a height cannot be told."""


@dataclass(frozen=True, slots=True)
class Found:
    """A figure and the half width of the band that holds it 19 times in 20."""

    value: float
    half_width: float


@dataclass(frozen=True, slots=True)
class WeighIn:
    """What was read, None where it was not. Places in the boat's axes (from aft, to port, up); they stay when the boat is resized,
    as all readings do: they tell of the boat that was weighed.

    ``scale_kg``, ``place_m`` and ``angle_deg`` are the limits within which scales, ruler and angle are read.
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

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class Weighed:
    """What a weigh-in found; None for what was not measured."""

    mass: Found | None
    lcg: Found | None
    tcg: Found | None
    vcg: Found | None


def reading(value: Scalar, limit: Scalar) -> Found:
    """A reading off by at most ``limit``."""
    return Found(value, 2 / math.sqrt(3) * limit)


def through(formula: Callable[..., float], *readings: Found) -> Found:
    """A formula of independent readings, its half width by central differences."""
    values = [r.value for r in readings]
    square = 0.0
    for k, r in enumerate(readings):
        if r.half_width == 0:
            continue
        step = 1e-3 * r.half_width
        up, down = list(values), list(values)
        up[k] += step
        down[k] -= step
        square += ((formula(*up) - formula(*down)) / (2 * step) * r.half_width) ** 2
    return Found(formula(*values), math.sqrt(square))


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


def weighed(readings: WeighIn, listed: Point) -> Weighed:
    """All that the readings tell; ``listed`` is the list's centre, used where a height needs an LCG or TCG not measured.

    Two scales go before the edge; for the height tipping goes before raising before hanging. Raises InvalidInput where
    readings contradict geometry (supports at one place, a rise longer than their distance).
    """
    r = readings
    mass = None if r.mass_kg is None else reading(r.mass_kg, r.scale_kg)
    lcg = None if r.edge_x_m is None else reading(r.edge_x_m, r.place_m)
    along = _on_two(
        r=r,
        carried=(r.aft_kg, r.fore_kg),
        places=(r.aft_x_m, r.fore_x_m),
        field="fore_x_m",
        text="The fore support must stand ahead of the aft one.",
    )
    text = "The port support must lie to port of the starboard one."
    across = _on_two(r=r, carried=(r.starboard_kg, r.port_kg), places=(r.starboard_y_m, r.port_y_m), field="port_y_m", text=text)
    mass, lcg, tcg = mass or along[0] or across[0], along[1] or lcg, across[1]
    return Weighed(mass, lcg, tcg, _height(r, mass, lcg or Found(listed[0], 0.0), tcg or Found(listed[1], 0.0)))


_Two = tuple[float | None, float | None]


def _on_two(r: WeighIn, carried: _Two, places: _Two, field: str, text: str) -> tuple[Found | None, Found | None]:
    """Mass and centre from two supports, the one of lesser coordinate first; None for what was not read."""
    if None in carried:
        return None, None
    first, second = (reading(v, r.scale_kg) for v in carried if v is not None)
    both = through(lambda a, b: a + b, first, second)
    if None in places or both.value <= 0:
        return both, None
    low, high = (reading(v, r.place_m) for v in places if v is not None)
    if not high.value > low.value:
        raise InvalidInput(field, text)
    return both, through(between, first, second, low, high)


def _height(r: WeighIn, mass: Found | None, lcg: Found, tcg: Found) -> Found | None:
    def place_of(value: float) -> Found:
        return reading(value, r.place_m)

    def angle_of(degrees: float) -> Found:
        return reading(math.radians(degrees), math.radians(r.angle_deg))

    if r.tip_deg is not None and r.tip_y_m is not None and r.tip_z_m is not None:
        return through(over_edge, place_of(r.tip_y_m), place_of(r.tip_z_m), tcg, angle_of(r.tip_deg))
    supports = (r.aft_x_m, r.fore_x_m, r.support_z_m, r.rise_m, r.raised_kg)
    if mass is not None and mass.value > 0 and all(v is not None for v in supports):
        x1, x2, z, rise, raised = (v for v in supports if v is not None)
        if not 0 < rise < x2 - x1:
            raise InvalidInput("rise_m", "The rise must be more than 0 and less than the distance between the supports.")
        return through(one_end_raised, reading(raised, r.scale_kg), mass, lcg, place_of(x1), place_of(x2), place_of(z), place_of(rise))
    if r.hang_deg is not None and r.hang_x_m is not None and r.hang_z_m is not None:
        return through(hung, place_of(r.hang_x_m), place_of(r.hang_z_m), lcg, angle_of(r.hang_deg))
    return None


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
