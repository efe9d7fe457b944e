"""Paddle wheels and tracks, by their slip."""

from dataclasses import dataclass
from typing import ClassVar

from yarekeel.core.findings import Finding
from yarekeel.core.parameters import check_parameters, described, length
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.core.propulsion.open_water import OpenWater, paddle_wheel
from yarekeel.core.quantities import Hertz, Metres, SquareMetres, SquareMetresPerSecond
from yarekeel.core.sources import COMMON_PRACTICE, Source


@dataclass(frozen=True, slots=True)
class PaddleWheel:
    """A paddle wheel, or a track by its sprocket: its diameter and the area of the paddles that are under at a time."""

    kind: ClassVar[str] = "paddle_wheel"
    title: ClassVar[str] = "Paddles or track"
    rank: ClassVar[int] = 5
    in_air: ClassVar[bool] = False
    electric: ClassVar[bool] = True
    law: ClassVar[Source] = COMMON_PRACTICE
    diameter_m: Metres = length(0.10, "Diameter", "at the middle of the paddles; of a track, of its sprocket", 0.01, 3.0, moves="stays")
    paddle_m2: SquareMetres = described(0.0008, "Paddles under at a time", "area", 1e-6, 2, "all of them", moves="stays")

    def __post_init__(self) -> None:
        check_parameters(self)

    def curve(self, turns: Hertz, viscosity: SquareMetresPerSecond) -> OpenWater:
        """Its curves, the same at any turns."""
        return paddle_wheel(self.diameter_m, self.paddle_m2)

    def findings(self, tests: tuple[BenchTest, ...] = ()) -> tuple[Finding, ...]:
        """Nothing: any wheel is worked out."""
        return ()
