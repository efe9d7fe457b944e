"""Vee bottom with deadrise and one hard chine."""

import math
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.geometry.families.loft import lofted, run_of
from yarekeel.core.geometry.families.parameters import SHORTEST, angle, check_parameters, length, ratio
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.quantities import Metres, Ratio

HIGHEST_CHINE: Ratio = 0.85
"""Of the height of the side: the chine stays below the sheer, however steep the bottom."""


@dataclass(frozen=True, slots=True)
class Vee:
    """A monohull with a straight rising bottom from keel to chine."""

    kind: ClassVar[Literal["vee"]] = "vee"
    title: ClassVar[str] = "Vee with deadrise"
    length_m: Metres = length(1.0, "Length", "over all, at the sheer", SHORTEST)
    beam_m: Metres = length(0.30, "Beam", "widest, at the sheer", SHORTEST)
    depth_m: Metres = length(0.15, "Depth", "keel to sheer amidships", 0.005)
    deadrise_deg: float = angle(14.0, "Deadrise", "bottom to level", 0.0, 60.0)
    chine_width: Ratio = ratio(0.85, "Chine width", "of the beam at the sheer", 0.2, 1.0)
    rocker_bow_m: Metres = length(0.05, "Rocker, bow", "keel's rise to the stem")
    rocker_stern_m: Metres = length(0.0, "Rocker, stern", "keel's rise to the transom")
    sheer_m: Metres = length(0.03, "Sheer", "rise at the bow", 0.0, 2.0)
    stern_width: Ratio = ratio(0.9, "Stern width", "of the beam; 0 pointed")
    bow_fineness: Ratio = ratio(0.5, "Bow fineness", "0 full, 1 fine")
    stem_rake_m: Metres = length(0.10, "Stem rake", "foot aft of the head")

    def __post_init__(self) -> None:
        check_parameters(self)
        run_of(self, 1)

    def build(self, detail: int = 1) -> Mesh:
        """The closed mesh, about 1 000 triangles at detail 1."""
        run = run_of(self, detail)
        chine = run.half_beam * self.chine_width
        height = run.sheer - run.keel
        rise = np.minimum(chine * math.tan(math.radians(self.deadrise_deg)), HIGHEST_CHINE * height)
        across = np.linspace(0, 1, 5)
        up = np.linspace(0, 1, 4)[1:]
        y = np.hstack([chine[:, None] * across, chine[:, None] + (run.half_beam - chine)[:, None] * up])
        z = run.keel[:, None] + np.hstack([rise[:, None] * across, rise[:, None] + (height - rise)[:, None] * up])
        return lofted(run, y, z)
