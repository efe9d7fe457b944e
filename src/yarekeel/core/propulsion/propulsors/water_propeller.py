"""A propeller in water, by the tested series."""

from dataclasses import dataclass
from typing import ClassVar

from yarekeel.core.findings import Finding
from yarekeel.core.parameters import check_parameters, count, length, ratio
from yarekeel.core.propulsion.b_series import range_findings
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.core.propulsion.open_water import OpenWater, blade_reynolds, water_screw
from yarekeel.core.quantities import Hertz, Metres, Ratio, SquareMetresPerSecond
from yarekeel.core.sources import B_SERIES, Source


@dataclass(frozen=True, slots=True)
class WaterPropeller:
    """Diameter, pitch, blades, and the blades' area over the disk's."""

    kind: ClassVar[str] = "water_propeller"
    title: ClassVar[str] = "Water propeller"
    rank: ClassVar[int] = 1
    in_air: ClassVar[bool] = False
    electric: ClassVar[bool] = True
    law: ClassVar[Source] = B_SERIES
    diameter_m: Metres = length(0.040, "Diameter", "across the tips", 0.008, 1.0, moves="stays")
    pitch_m: Metres = length(0.040, "Pitch", "ahead in a turn", 0.004, 2.0, moves="stays")
    blades: int = count(3, "Blades", "", 1, 8, ("it needs a blade", "beyond hobby building"))
    area_ratio: Ratio = ratio(0.5, "Blade area over disk", "0.3 slim, 0.7 broad", 0.1, 1.5, ("hardly a blade", "too much"))

    def __post_init__(self) -> None:
        check_parameters(self)

    def curve(self, turns: Hertz, viscosity: SquareMetresPerSecond) -> OpenWater:
        """Its curves at about so many turns a second, which tell its Reynolds number."""
        reynolds = blade_reynolds(self.diameter_m, self.area_ratio, self.blades, turns, viscosity)
        return water_screw(self.diameter_m, self.pitch_m, self.area_ratio, self.blades, float(f"{reynolds:.1e}"))

    def findings(self, tests: tuple[BenchTest, ...] = ()) -> tuple[Finding, ...]:
        """What of it lies outside the series."""
        return range_findings(self.pitch_m / self.diameter_m, self.area_ratio, self.blades)
