"""Raft of round pipes side by side, in the sizes pipes are sold in."""

import math
from dataclasses import dataclass
from typing import ClassVar, Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.facts import Fact
from yarekeel.core.geometry.mesh import Mesh, joined
from yarekeel.core.geometry.rings import log
from yarekeel.core.parameters import SHORTEST, check_parameters, choice, count, length
from yarekeel.core.quantities import Metres, Ratio

INCH = 0.0254
# Outside diameters by nominal size: inch sizes as in ASME B36.10M and ASTM D1785, metric ones as in ISO 161-1.
_INCH_SIZES = {
    "1/2": 0.840,
    "3/4": 1.050,
    "1": 1.315,
    "1-1/4": 1.660,
    "1-1/2": 1.900,
    "2": 2.375,
    "3": 3.500,
    "4": 4.500,
    "6": 6.625,
    "8": 8.625,
}
_METRIC_SIZES = (20, 25, 32, 40, 50, 63, 75, 90, 110, 125, 160, 200, 250, 315)
OUTSIDE: dict[str, Metres] = {f"in-{n}": od * INCH for n, od in _INCH_SIZES.items()} | {f"mm-{d}": d / 1000 for d in _METRIC_SIZES}
CHOICES = tuple((f"in-{n}", f"{n.replace('-', ' ')} in nominal, {od * 25.4:.1f} mm") for n, od in _INCH_SIZES.items()) + tuple(
    (f"mm-{d}", f"{d} mm") for d in _METRIC_SIZES
)
DOME = 0.5
"""Length of a domed cap over the pipe's radius (common practice of moulded caps)."""


@dataclass(frozen=True, slots=True)
class PipeRaft:
    """``pipes`` equal pipes, capped at both ends, their axes ``spacing_m`` apart; undersides at z = 0."""

    kind: ClassVar[Literal["pipe_raft"]] = "pipe_raft"
    title: ClassVar[str] = "Raft of pipes"
    group: ClassVar[str] = "Floats and foam"
    rank: ClassVar[int] = 2
    role: ClassVar[str] = "float"
    multihull: ClassVar[bool] = True
    pipe: str = choice("mm-110", "Pipe", "nominal size and outside diameter", CHOICES)
    pipes: int = count(4, "Pipes", "side by side", 1, 24, ("at least one", "a raft, not a quay"))
    length_m: Metres = length(1.2, "Length", "over the caps", SHORTEST)
    spacing_m: Metres = length(0.16, "Spacing", "between axes", 0.02)
    ends: str = choice("flat", "End caps", "how the ends close", (("flat", "flat"), ("domed", "domed")))

    def __post_init__(self) -> None:
        check_parameters(self)
        if self.pipes > 1 and self.spacing_m < self.outside:
            raise InvalidInput(
                "spacing_m", "Pipes of {pipe:length} must lie at least that far apart between their axes.", pipe=self.outside
            )
        if self.ends == "domed" and self.length_m < 2 * DOME * self.outside / 2:
            raise InvalidInput("length_m", "With two domed caps the pipe must be at least {least:length} long.", least=DOME * self.outside)

    @property
    def outside(self) -> Metres:
        """Outside diameter."""
        return OUTSIDE[self.pipe]

    def facts(self) -> tuple[Fact, ...]:
        """What one pipe carries fully under."""
        radius = self.outside / 2
        dome = DOME * radius if self.ends == "domed" else 0.0
        one = math.pi * radius**2 * (self.length_m - 2 * dome) + 4 / 3 * math.pi * radius**2 * dome
        return (
            Fact("One pipe holds", one, "volume", "outside, capped"),
            Fact("Outside diameter", self.outside, "length", "by its nominal size"),
        )

    def build(self, detail: Ratio = 1) -> Mesh:
        """Separate logs of exactly the pipes' section area; 192 triangles a flat-ended pipe at detail 1."""
        radius = self.outside / 2
        one = log(
            length=self.length_m,
            radius=radius,
            dome=DOME * radius if self.ends == "domed" else 0.0,
            sides=round(48 * detail),
            steps=round(8 * detail),
        )
        first = -(self.pipes - 1) / 2 * self.spacing_m
        # Pipes that touch share a line at most, so their sums add and nothing needs uniting.
        return joined([one.moved((0, first + k * self.spacing_m, 0)) for k in range(int(self.pipes))])
