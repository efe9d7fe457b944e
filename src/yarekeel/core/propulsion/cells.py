"""Packs and wires: voltage over charge, resistance, how long they last, and what a wire takes."""

import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.constants import USABLE_CAPACITY
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import AmpereHours, Amperes, Celsius, Kilograms, Metres, Ohms, Ratio, Seconds, SquareMetres, Volts
from yarekeel.core.sources import COMMON_PRACTICE, IEC_60028, OHM

COPPER_RESISTIVITY = 1.7241e-8
"""Ohm metre at 20 °C (IEC 60028)."""
COPPER_WARMTH = 0.00393
"""Rise of its resistance per kelvin from 20 °C (IEC 60028)."""
HONEST_LABEL: Ratio = 0.5
"""Of a label's C that a pack gives without fading (common practice)."""
COLD_DOUBLES = 20.0
"""Kelvin below 20 °C that about double a lithium cell's resistance (common practice)."""
OHM_AMPERE_HOURS = 0.012
"""Resistance of one ordinary lithium-polymer cell times its capacity (from memory: 0.006 for a high-C one to 0.02)."""


@dataclass(frozen=True, slots=True)
class Chemistry:
    """A kind of cell: open voltage over what is left (shares rising, volts), what it must not go under, and how it is limited.
    Generic curves, common practice. ``peukert`` is the exponent with which capacity falls with current; 1 where it does not."""

    code: str
    title: str
    left: tuple[Ratio, ...]
    volts: tuple[Volts, ...]
    least: Volts
    resistance_ah: Ratio
    peukert: Ratio = 1.0


CHEMISTRIES = {
    c.code: c
    for c in (
        Chemistry(
            "lithium_polymer",
            "lithium polymer",
            (0.0, 0.05, 0.1, 0.2, 0.5, 0.8, 1.0),
            (3.27, 3.5, 3.61, 3.7, 3.85, 4.02, 4.2),
            3.3,
            OHM_AMPERE_HOURS,
        ),
        Chemistry("lithium_iron", "lithium iron phosphate", (0.0, 0.1, 0.2, 0.9, 1.0), (2.8, 3.2, 3.25, 3.33, 3.5), 2.8, 0.02),
        Chemistry("nickel_metal", "nickel-metal hydride", (0.0, 0.1, 0.2, 0.9, 1.0), (1.0, 1.15, 1.2, 1.28, 1.38), 1.0, 0.03),
        Chemistry("lead_acid", "lead-acid", (0.0, 0.2, 0.5, 0.8, 1.0), (1.93, 1.98, 2.04, 2.09, 2.12), 1.75, 0.06, 1.2),
    )
}

LITHIUM = CHEMISTRIES["lithium_polymer"]
"""What a pack is taken for: the battery does not say its chemistry."""


@formula("E(q), by straight lines", COMMON_PRACTICE, "generic cells at rest, 20 °C")
def open_voltage(chemistry: Chemistry, left: Ratio, cells: int) -> Volts:
    """Open voltage of ``cells`` in a row with a share ``left`` of their charge."""
    return cells * float(np.interp(left, chemistry.left, chemistry.volts))


@formula("R = cells k / Q · 2^((20 - t) / 20)", COMMON_PRACTICE, "lithium cells, -20 to 40 °C; a first guess until measured")
def estimated_resistance(chemistry: Chemistry, capacity: AmpereHours, cells: int, temperature: Celsius = 20.0) -> Ohms:
    """Inner resistance of a pack that nobody has measured."""
    return cells * chemistry.resistance_ah / capacity * float(2 ** ((20 - min(temperature, 40.0)) / COLD_DOUBLES))


@formula("R = (U_1 - U_2) / (I_2 - I_1)", OHM, "two loads, one soon after the other")
def measured_resistance(first: tuple[Amperes, Volts], second: tuple[Amperes, Volts]) -> Ohms:
    """Inner resistance from two loads, each (current, voltage); the currents must differ."""
    return (first[1] - second[1]) / (second[0] - first[0])


@formula("I_max = C Q / 2", COMMON_PRACTICE, "label C halved; tested C as it is")
def honest_limit(capacity: AmpereHours, c_rating: Ratio, *, tested: bool = False) -> Amperes:
    """The current that a pack gives without fading."""
    return capacity * c_rating * (1.0 if tested else HONEST_LABEL)


@formula("t = 0.8 Q / I", COMMON_PRACTICE, "lithium packs; lead by Peukert: t = 0.8 · 20 h (Q / (20 h I))^k")
def run_time(chemistry: Chemistry, capacity: AmpereHours, current: Amperes) -> Seconds:
    """How long a pack lasts at a steady current with a fifth kept; endless for no current."""
    if current <= 0:
        return math.inf
    rated = 20.0  # hours at which lead is rated
    usable = USABLE_CAPACITY * capacity
    hours = usable / current if chemistry.peukert == 1 else rated * USABLE_CAPACITY * (capacity / (rated * current)) ** chemistry.peukert
    return hours * 3600


@formula("I = sum(share I)", OHM, "shares that sum to one")
def mixed_current(parts: tuple[tuple[Ratio, Amperes], ...]) -> Amperes:
    """Mean current of a run in which each current flows for a share of the time."""
    return math.fsum(share * current for share, current in parts)


@formula("A = pi d² / 4, d = 0.127 mm · 92^((36 - n) / 39)", IEC_60028, "American wire gauge 0 to 40")
def gauge_area(gauge: Ratio) -> SquareMetres:
    """Copper's cross-section of an American wire gauge."""
    diameter: Metres = 0.127e-3 * float(92 ** ((36 - gauge) / 39))
    return math.pi / 4 * diameter**2


COPPER_DENSITY = 8890.0
"""kg/m3 at 20 °C (IEC 60028)."""
COVER: Ratio = 0.45
"""Of the copper's mass that a silicone cover adds (from memory)."""


@formula("m = rho A L (1 + 0.45)", IEC_60028, "copper in a silicone cover; the cover's share from memory")
def wire_mass(gauge: Ratio, length: Metres) -> Kilograms:
    """Mass of so much wire, all told."""
    return COPPER_DENSITY * gauge_area(gauge) * length * (1 + COVER)


@formula("R = rho L / A · (1 + 0.00393 (t - 20))", IEC_60028, "copper; there and back is twice the length")
def wire_resistance(length: Metres, area: SquareMetres, temperature: Celsius = 20.0) -> Ohms:
    """Resistance of a copper wire."""
    return COPPER_RESISTIVITY * length / area * (1 + COPPER_WARMTH * (temperature - 20))
