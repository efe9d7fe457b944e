"""Vee bottom with deadrise and one hard chine."""

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.geometry.families.loft import Run, lofted, run_of
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.parameters import SHORTEST, angle, check_parameters, length, ratio
from yarekeel.core.quantities import Degrees, Metres, Ratio

STEEPEST = 75.0
"""Degrees: beyond it the chine runs away sideways."""
HIGHEST_CHINE: Ratio = 0.85
"""Of the height of the side: the chine stays below the sheer, however steep the bottom."""


FLAT_TO_STEEP = ("flat: carries most, slams most", "steeper is a side, not a bottom")


def deadrise_along(run: Run, middle_deg: Degrees, bow_gain_deg: Degrees, stern_loss_deg: Degrees) -> Floats:
    """Deadrise in degrees at each station: the middle's, gained forward and lost aft in a straight twist from amidships."""
    half = 2 * run.x / run.x[-1] - 1
    along = middle_deg + bow_gain_deg * np.maximum(half, 0) - stern_loss_deg * np.maximum(-half, 0)
    return np.asarray(np.clip(along, 0.0, STEEPEST))


@dataclass(frozen=True, slots=True)
class Vee:
    """A monohull with a straight rising bottom from keel to chine."""

    kind: ClassVar[Literal["vee"]] = "vee"
    title: ClassVar[str] = "Vee with deadrise"
    group: ClassVar[str] = "Hulls"
    rank: ClassVar[int] = 2
    role: ClassVar[str] = "hull"
    opens: ClassVar[str] = "people"
    beam: ClassVar[str] = "beam_m"
    length_m: Metres = length(1.0, "Length", "over all, at the sheer", SHORTEST)
    beam_m: Metres = length(0.30, "Beam", "widest, at the sheer", SHORTEST)
    depth_m: Metres = length(0.15, "Depth", "keel to sheer amidships", 0.005)
    deadrise_deg: float = angle(14.0, "Deadrise", "bottom to level", 0.0, 60.0, FLAT_TO_STEEP)
    deadrise_bow_gain_deg: float = angle(
        0.0, "Deadrise, bow", "more, by the stem", 0.0, 45.0, ("the same all along", "steeper still is a side")
    )
    deadrise_stern_loss_deg: float = angle(
        0.0, "Deadrise, stern", "less, by the transom", 0.0, 45.0, ("the same all along", "the bottom is flat well before")
    )
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

    def build(self, detail: Ratio = 1) -> Mesh:
        """The closed mesh, about 1 000 triangles at detail 1."""
        run = run_of(self, detail)
        deadrise = deadrise_along(run, self.deadrise_deg, self.deadrise_bow_gain_deg, self.deadrise_stern_loss_deg)
        chine = run.half_beam * self.chine_width
        height = run.sheer - run.keel
        rise = np.minimum(chine * np.tan(np.radians(deadrise)), HIGHEST_CHINE * height)
        across = np.linspace(0, 1, 5)
        up = np.linspace(0, 1, 4)[1:]
        y = np.hstack([chine[:, None] * across, chine[:, None] + (run.half_beam - chine)[:, None] * up])
        z = run.keel[:, None] + np.hstack([rise[:, None] * across, rise[:, None] + (height - rise)[:, None] * up])
        return lofted(run, y, z)
