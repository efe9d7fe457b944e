"""Constants of nature and of the trade, each with where it comes from."""

from yarekeel.core.quantities import KilogramsPerCubicMetre, Ratio, SquareMetresPerSecond

STANDARD_GRAVITY = 9.80665
"""m/s2. 3rd General Conference on Weights and Measures (1901), a definition."""

HULL_SPEED_FROUDE: Ratio = 0.40
"""Froude number on waterline length at which a displacement hull meets its own wave (common practice)."""

USABLE_CAPACITY: Ratio = 0.80
"""Share of a lithium pack's rated capacity that is planned with (common practice)."""

AIR_DENSITY: KilogramsPerCubicMetre = 1.225
"""The standard atmosphere at sea level (ISO 2533:1975)."""

AIR_VISCOSITY: SquareMetresPerSecond = 1.46e-5
"""Kinematic, of the same air at 15 °C (ISO 2533:1975)."""

FRESH_DENSITY: KilogramsPerCubicMetre = 999.1
"""Fresh water at 15 °C (ITTC 7.5-02-01-03), where a rating does not say in which water it was taken."""
