"""Tray folded from one sheet: the classroom boat of foil or card, and the metal punt."""

import math
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.facts import Fact
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.rings import through
from yarekeel.core.parameters import SHORTEST, angle, check_parameters, length
from yarekeel.core.quantities import CubicMetres, Metres, Ratio


@dataclass(frozen=True, slots=True)
class FoldedTray:
    """A sheet with ``fold_m`` turned up along all four sides, the sides leaning out by ``flare_deg``."""

    kind: ClassVar[Literal["folded_tray"]] = "folded_tray"
    title: ClassVar[str] = "Tray folded from a sheet"
    group: ClassVar[str] = "Hulls"
    rank: ClassVar[int] = 7
    role: ClassVar[str] = "hull"
    opens: ClassVar[str] = "always"
    sheet_length_m: Metres = length(0.30, "Sheet length", "before folding", SHORTEST)
    sheet_width_m: Metres = length(0.20, "Sheet width", "before folding", SHORTEST)
    fold_m: Metres = length(0.03, "Fold", "turned up on every side", 0.001, 2.0)
    flare_deg: float = angle(0.0, "Flare", "sides from upright", 0.0, 60.0, ("upright sides", "more and the sides lie down"))
    thickness_m: Metres = length(0.0002, "Sheet thickness", "outside to inside", 0.00001, 0.02)

    def __post_init__(self) -> None:
        check_parameters(self)
        narrow = min(self.sheet_length_m, self.sheet_width_m)
        if narrow - 2 * self.fold_m < 0.1 * narrow:
            raise InvalidInput("fold_m", "The fold must stay below {most:length}, or no bottom is left.", most=0.45 * narrow)
        if self.thickness_m > 0.2 * min(self.fold_m, narrow - 2 * self.fold_m):
            raise InvalidInput("thickness_m", "The sheet must be thinner than a fifth of the fold and of the bottom.")

    @property
    def height(self) -> Metres:
        """Of the folded sides."""
        return self.fold_m * math.cos(math.radians(self.flare_deg))

    def _volume(self, inset: Metres, bottom: Metres) -> CubicMetres:
        """Prismoid from height ``bottom`` to the rim, its sides drawn in by ``inset``: exact by Simpson's rule."""
        a, b = self.sheet_length_m - 2 * self.fold_m - 2 * inset, self.sheet_width_m - 2 * self.fold_m - 2 * inset
        slope = 2 * math.tan(math.radians(self.flare_deg))

        def area(z: Metres) -> float:
            return (a + slope * z) * (b + slope * z)

        top = self.height
        return (top - bottom) / 6 * (area(bottom) + 4 * area((bottom + top) / 2) + area(top))

    def facts(self) -> tuple[Fact, ...]:
        """Inner volume and the folded size."""
        inner = self._volume(self.thickness_m / math.cos(math.radians(self.flare_deg)), self.thickness_m)
        return (
            Fact("Inner volume", inner, "volume", "filled level with the rim"),
            Fact("Height", self.height, "length", "of the folded sides"),
        )

    def build(self, detail: Ratio = 1) -> Mesh:
        """The outside of the tray, closed over its rim; 12 triangles and the two fans."""
        a, b = self.sheet_length_m / 2 - self.fold_m, self.sheet_width_m / 2 - self.fold_m
        out = self.fold_m * math.sin(math.radians(self.flare_deg))
        corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]], dtype=np.float64)
        low = np.column_stack([corners * [a, b], np.zeros(4)])
        high = np.column_stack([corners * [a + out, b + out], np.full(4, self.height)])
        return through(np.stack([low, high])).moved((a + out, 0.0, 0.0))
