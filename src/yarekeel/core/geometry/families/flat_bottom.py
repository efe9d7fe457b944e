"""Flat bottom with flared sides and rocker: skiffs with a sharp bow, prams with a bow transom."""

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.loft import lofted, run_of
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.parameters import SHORTEST, check_parameters, length, ratio
from yarekeel.core.quantities import Metres, Ratio


@dataclass(frozen=True, slots=True)
class FlatBottom:
    """A plywood hull: a flat bottom panel and two flared sides."""

    kind: ClassVar[Literal["flat_bottom"]] = "flat_bottom"
    title: ClassVar[str] = "Flat bottom with flare"
    group: ClassVar[str] = "Hulls"
    rank: ClassVar[int] = 3
    role: ClassVar[str] = "hull"
    opens: ClassVar[str] = "people"
    beam: ClassVar[str] = "beam_m"
    length_m: Metres = length(2.4, "Length", "over all, at the sheer", SHORTEST)
    beam_m: Metres = length(1.2, "Beam", "widest, at the sheer", SHORTEST)
    depth_m: Metres = length(0.42, "Depth", "bottom to sheer amidships", 0.005)
    flare_m: Metres = length(0.12, "Flare", "each side, bottom to sheer")
    rocker_bow_m: Metres = length(0.16, "Rocker, bow", "rise of the bottom")
    rocker_stern_m: Metres = length(0.06, "Rocker, stern", "rise of the bottom")
    sheer_m: Metres = length(0.06, "Sheer", "rise at the bow", 0.0, 2.0)
    stern_width: Ratio = ratio(0.8, "Stern width", "of the beam")
    bow_width: Ratio = ratio(0.0, "Bow width", "of the beam; 0 sharp")
    bow_fineness: Ratio = ratio(0.5, "Bow fineness", "0 full, 1 fine")
    stem_rake_m: Metres = length(0.12, "Stem rake", "foot aft of the head")

    def __post_init__(self) -> None:
        check_parameters(self)
        run_of(self, 1, self.bow_width)
        if self.flare_m >= self.beam_m / 2:
            raise InvalidInput(
                "flare_m", "Flare must stay below half the beam ({most:length}), or no bottom is left.", most=self.beam_m / 2
            )

    def build(self, detail: Ratio = 1) -> Mesh:
        """The closed mesh, about 900 triangles at detail 1."""
        run = run_of(self, detail, self.bow_width)
        # The flare narrows with the beam towards the ends, so that the bottom never turns inside out.
        bottom = run.half_beam * (1 - self.flare_m / (self.beam_m / 2))
        across, up = np.linspace(0, 1, 4), np.linspace(0, 1, 4)[1:]
        y = np.hstack([bottom[:, None] * across, bottom[:, None] + (run.half_beam - bottom)[:, None] * up])
        z = run.keel[:, None] + np.hstack([np.zeros((len(bottom), 4)), (run.sheer - run.keel)[:, None] * up])
        return lofted(run, y, z)
