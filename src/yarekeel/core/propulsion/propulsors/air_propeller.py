"""A propeller in air, from its blades."""

from dataclasses import dataclass
from typing import ClassVar

from yarekeel.core.findings import Finding
from yarekeel.core.parameters import check_parameters, count, length, ratio
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.core.propulsion.open_water import OpenWater, air_screw
from yarekeel.core.quantities import Hertz, Metres, Ratio, SquareMetresPerSecond
from yarekeel.core.sources import GLAUERT_1935, Source


@dataclass(frozen=True, slots=True)
class AirPropeller:
    """Diameter, pitch, blades, and the blades' area over the disk's."""

    kind: ClassVar[str] = "air_propeller"
    title: ClassVar[str] = "Air propeller"
    rank: ClassVar[int] = 2
    in_air: ClassVar[bool] = True
    electric: ClassVar[bool] = True
    law: ClassVar[Source] = GLAUERT_1935
    diameter_m: Metres = length(0.254, "Diameter", "across the tips", 0.03, 3.0, moves="stays")
    pitch_m: Metres = length(0.127, "Pitch", "ahead in a turn", 0.01, 3.0, moves="stays")
    blades: int = count(2, "Blades", "", 1, 8, ("it needs a blade", "beyond hobby building"))
    area_ratio: Ratio = ratio(0.09, "Blade area over disk", "about 0.05 a blade", 0.02, 0.6, ("hardly a blade", "more than they have"))

    def __post_init__(self) -> None:
        check_parameters(self)

    def curve(self, turns: Hertz, viscosity: SquareMetresPerSecond) -> OpenWater:
        """Its curves; they are taken as the same at any turns."""
        return air_screw(self.diameter_m, self.pitch_m, self.area_ratio, self.blades)

    def findings(self, tests: tuple[BenchTest, ...] = ()) -> tuple[Finding, ...]:
        """Nothing: any blade is worked out."""
        return ()
