"""The water a boat floats in: density and viscosity by published formulas."""

from dataclasses import dataclass
from typing import Literal

from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, choice, described
from yarekeel.core.quantities import Celsius, GramsPerKilogram, KilogramsPerCubicMetre, SquareMetresPerSecond
from yarekeel.core.sources import EOS_80, KELL_1975, KESTIN_1978

SEA_SALINITY = 35.0
"""g of salt in a kg of open-sea water; the ITTC table is made for 35.16 g/kg absolute, 35 practical."""

ABSOLUTE_SALINITY = 0.03516
"""kg of salt in a kg, as the ITTC table has it."""


@formula("rho(t)", KELL_1975, "0 to 100 °C, air-free, at one atmosphere")
def fresh_water_density(temperature: Celsius) -> KilogramsPerCubicMetre:
    """Density of air-free pure water at one atmosphere, kg/m3, 0 to 100 degC (Kell 1975, eq. 16)."""
    t = temperature
    return (999.83952 + 16.945176 * t - 7.9870401e-3 * t**2 - 46.170461e-6 * t**3 + 105.56302e-9 * t**4 - 280.54253e-12 * t**5) / (
        1 + 16.879850e-3 * t
    )


@formula("rho(t, S)", EOS_80, "-2 to 40 °C, 0 to 42 g/kg, at one atmosphere")
def sea_water_density(temperature: Celsius, salinity: GramsPerKilogram = SEA_SALINITY) -> KilogramsPerCubicMetre:
    """Density of sea water at one atmosphere, kg/m3, -2 to 40 degC, 0 to 42 g/kg (UNESCO EOS-80, eqs. 13 to 15)."""
    t, s = temperature, salinity
    smow: float = 999.842594 + 6.793952e-2 * t - 9.095290e-3 * t**2 + 1.001685e-4 * t**3 - 1.120083e-6 * t**4 + 6.536332e-9 * t**5
    a = 8.24493e-1 - 4.0899e-3 * t + 7.6438e-5 * t**2 - 8.2467e-7 * t**3 + 5.3875e-9 * t**4
    b = -5.72466e-3 + 1.0227e-4 * t - 1.6546e-6 * t**2
    return float(smow + a * s + b * s**1.5 + 4.8314e-4 * s**2)


@formula("nu(t)", KESTIN_1978, "0 to 40 °C; fresh, or sea of 35.16 g/kg")
def kinematic_viscosity(temperature: Celsius, salt: bool) -> SquareMetresPerSecond:
    """Kinematic viscosity of water, m2/s, 0 to 40 degC.

    Fresh: Vogel's form as given by Kestin, Sokolov and Wakeham (1978), J. Phys. Chem. Ref. Data 7, eq. 15, over Kell's
    density. Sea: the same dynamic viscosity times that of M. H. Sharqawy, J. H. Lienhard and S. M. Zubair (2010), Desalination and
    Water Treatment 16, eq. 22, for 35.16 g/kg, over the density of sea water.
    """
    t = temperature
    exponent = (20 - t) / (t + 96) * (1.2364 - 1.37e-3 * (20 - t) + 5.7e-6 * (20 - t) ** 2)
    fresh = 1.002e-3 * 10**exponent
    if not salt:
        return fresh / fresh_water_density(t)
    s = ABSOLUTE_SALINITY
    a = 1.541 + 1.998e-2 * t - 9.52e-5 * t**2
    b = 7.974 - 7.561e-2 * t + 4.724e-4 * t**2
    return fresh * (1 + a * s + b * s**2) / sea_water_density(t)


@dataclass(frozen=True, slots=True)
class Water:
    """The water. A given ``density_kg_m3`` wins over the formula for ``kind`` and ``temperature_c``."""

    kind: Literal["fresh", "sea"] = choice("fresh", "Water", "", (("fresh", "Fresh"), ("sea", "Sea")))
    temperature_c: Celsius = described(15.0, "Temperature", "temperature", -2.0, 40.0)
    density_kg_m3: KilogramsPerCubicMetre | None = described(None, "Density", "density", 100, 5000)

    def __post_init__(self) -> None:
        check_parameters(self)

    @property
    def density(self) -> KilogramsPerCubicMetre:
        """kg/m3, as given or by formula."""
        if self.density_kg_m3 is not None:
            return self.density_kg_m3
        return sea_water_density(self.temperature_c) if self.kind == "sea" else fresh_water_density(self.temperature_c)

    @property
    def viscosity(self) -> SquareMetresPerSecond:
        """Kinematic viscosity, m2/s."""
        return kinematic_viscosity(self.temperature_c, self.kind == "sea")
