"""Ducted fans and water jets, from the exit's size and one rated point, by momentum theory."""

from dataclasses import dataclass
from typing import ClassVar

from yarekeel.core.constants import AIR_DENSITY, FRESH_DENSITY
from yarekeel.core.findings import Finding
from yarekeel.core.parameters import check_parameters, described, length, ratio
from yarekeel.core.propulsion.momentum import disk_area, jet_speed
from yarekeel.core.propulsion.open_water import OpenWater, jet
from yarekeel.core.quantities import Hertz, Metres, Newtons, Ratio, SquareMetresPerSecond
from yarekeel.core.sources import RANKINE_FROUDE, Source

MERIT_LIMITS = ("all of it lost", "none of it lost")


@dataclass(frozen=True, slots=True)
class DuctedFan:
    """A fan in a duct: the exit's diameter (of a round one of the same area), and its rated pull at its rated turns a minute."""

    kind: ClassVar[str] = "ducted_fan"
    title: ClassVar[str] = "Ducted fan"
    rank: ClassVar[int] = 3
    in_air: ClassVar[bool] = True
    law: ClassVar[Source] = RANKINE_FROUDE
    exit_m: Metres = length(0.056, "Exit, across", "less the hub's cone", 0.01, 1.0, moves="stays")
    rated_n: Newtons = described(8.0, "Rated pull", "force", 0.01, 5000, "from rest")
    rated_rpm: Ratio = described(38000.0, "at turns a minute", "ratio", 100, 200_000, "as rated")
    merit: Ratio = ratio(0.6, "Power in the stream", "share of the shaft's; small fans 0.5 to 0.7", 0.05, 1.0, MERIT_LIMITS)

    def __post_init__(self) -> None:
        check_parameters(self)

    def curve(self, turns: Hertz, viscosity: SquareMetresPerSecond) -> OpenWater:
        """Its curves; the stream's speed goes with the turns."""
        return _jet(self.exit_m, self.rated_n, self.rated_rpm / 60, self.merit, AIR_DENSITY)

    def findings(self) -> tuple[Finding, ...]:
        """Nothing: the rated point sets it."""
        return ()


@dataclass(frozen=True, slots=True)
class WaterJet:
    """A water jet: its nozzle's diameter, and its rated pull at its rated turns a minute."""

    kind: ClassVar[str] = "water_jet"
    title: ClassVar[str] = "Water jet"
    rank: ClassVar[int] = 4
    in_air: ClassVar[bool] = False
    law: ClassVar[Source] = RANKINE_FROUDE
    exit_m: Metres = length(0.016, "Nozzle, across", "where the stream leaves", 0.002, 0.5, moves="stays")
    rated_n: Newtons = described(10.0, "Rated pull", "force", 0.01, 5000, "from rest")
    rated_rpm: Ratio = described(18000.0, "at turns a minute", "ratio", 100, 100_000, "as rated")
    merit: Ratio = ratio(0.45, "Power in the stream", "share of the shaft's; small pumps 0.3 to 0.6", 0.05, 1.0, MERIT_LIMITS)

    def __post_init__(self) -> None:
        check_parameters(self)

    def curve(self, turns: Hertz, viscosity: SquareMetresPerSecond) -> OpenWater:
        """Its curves; the stream's speed goes with the turns."""
        return _jet(self.exit_m, self.rated_n, self.rated_rpm / 60, self.merit, FRESH_DENSITY)

    def findings(self) -> tuple[Finding, ...]:
        """Nothing: the rated point sets it."""
        return ()


def _jet(exit_diameter: Metres, rated: Newtons, turns: Hertz, merit: Ratio, density: float) -> OpenWater:
    area = disk_area(exit_diameter)
    return jet(area, jet_speed(rated, area, density) / turns, merit)
