"""Ducted fans and water jets, from the exit's size and one rated point, by momentum theory: one thing in two streams."""

from dataclasses import dataclass
from typing import ClassVar

from yarekeel.core.constants import AIR_DENSITY, FRESH_DENSITY
from yarekeel.core.findings import Finding
from yarekeel.core.parameters import check_parameters, described, length, ratio
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.core.propulsion.momentum import disk_area, jet_speed
from yarekeel.core.propulsion.open_water import OpenWater, jet
from yarekeel.core.quantities import Hertz, KilogramsPerCubicMetre, Metres, Newtons, Ratio, SquareMetresPerSecond
from yarekeel.core.sources import RANKINE_FROUDE, Source

MERIT_LIMITS = ("all of it lost", "none of it lost")


@dataclass(frozen=True, slots=True)
class _Jet:
    """A stream that leaves an exit of a diameter (of a round one of the same area), with a rated pull at rated turns a minute."""

    law: ClassVar[Source] = RANKINE_FROUDE
    electric: ClassVar[bool] = True
    rated_in: ClassVar[KilogramsPerCubicMetre]
    exit_m: Metres
    rated_n: Newtons
    rated_rpm: Ratio
    merit: Ratio

    def __post_init__(self) -> None:
        check_parameters(self)

    def curve(self, turns: Hertz, viscosity: SquareMetresPerSecond) -> OpenWater:
        """Its curves; the stream's speed goes with the turns."""
        area = disk_area(self.exit_m)
        return jet(area, jet_speed(self.rated_n, area, self.rated_in) / (self.rated_rpm / 60), self.merit)

    def findings(self, tests: tuple[BenchTest, ...] = ()) -> tuple[Finding, ...]:
        """Nothing: the rated point sets it."""
        return ()


@dataclass(frozen=True, slots=True)
class DuctedFan(_Jet):
    """A fan in a duct."""

    kind: ClassVar[str] = "ducted_fan"
    title: ClassVar[str] = "Ducted fan"
    rank: ClassVar[int] = 3
    in_air: ClassVar[bool] = True
    rated_in: ClassVar[KilogramsPerCubicMetre] = AIR_DENSITY
    exit_m: Metres = length(0.056, "Exit, across", "less the hub's cone", 0.01, 1.0, moves="stays")
    rated_n: Newtons = described(8.0, "Rated pull", "force", 0.01, 5000, "from rest")
    rated_rpm: Ratio = described(38000.0, "at turns a minute", "ratio", 100, 200_000, "as rated")
    merit: Ratio = ratio(0.6, "Power in the stream", "share of the shaft's; small fans 0.5 to 0.7", 0.05, 1.0, MERIT_LIMITS)


@dataclass(frozen=True, slots=True)
class WaterJet(_Jet):
    """A water jet by its nozzle."""

    kind: ClassVar[str] = "water_jet"
    title: ClassVar[str] = "Water jet"
    rank: ClassVar[int] = 4
    in_air: ClassVar[bool] = False
    rated_in: ClassVar[KilogramsPerCubicMetre] = FRESH_DENSITY
    exit_m: Metres = length(0.016, "Nozzle, across", "where the stream leaves", 0.002, 0.5, moves="stays")
    rated_n: Newtons = described(10.0, "Rated pull", "force", 0.01, 5000, "from rest")
    rated_rpm: Ratio = described(18000.0, "at turns a minute", "ratio", 100, 100_000, "as rated")
    merit: Ratio = ratio(0.45, "Power in the stream", "share of the shaft's; small pumps 0.3 to 0.6", 0.05, 1.0, MERIT_LIMITS)
