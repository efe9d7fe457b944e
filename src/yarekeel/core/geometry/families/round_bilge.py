"""Round-bilge displacement hull: flat or slightly rising bottom, a round bilge, upright sides."""

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.geometry.families.loft import Run, lofted, run_of
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.parameters import SHORTEST, check_parameters, length, ratio
from yarekeel.core.quantities import Metres, Ratio

ARC_STEPS = 8
"""Facets around the bilge at detail 1."""


def bilge_sections(run: Run, radius: Metres, detail: Ratio) -> tuple[Floats, Floats]:
    """Half sections (stations, points): across the bottom, round the bilge, up the side; the radius shrinks at fine ends."""
    half, keel, height = run.half_beam, run.keel, run.sheer - run.keel
    r = np.minimum(radius, np.minimum(half, 0.95 * height))
    t = np.linspace(0, np.pi / 2, round(ARC_STEPS * detail) + 1)
    bottom = np.linspace(0, 1, 3, endpoint=False)
    side = np.linspace(0, 1, 4)[1:]
    flat = (half - r)[:, None]
    y = np.hstack([flat * bottom, flat + r[:, None] * np.sin(t), np.repeat(half[:, None], 3, axis=1)])
    over = r[:, None] * (1 - np.cos(t))
    z = keel[:, None] + np.hstack([np.zeros((len(half), 3)), over, r[:, None] + (height - r)[:, None] * side])
    return y, z


@dataclass(frozen=True, slots=True)
class RoundBilge:
    """A monohull with rounded bilges."""

    kind: ClassVar[Literal["round_bilge"]] = "round_bilge"
    title: ClassVar[str] = "Round bilge"
    group: ClassVar[str] = "Hulls"
    rank: ClassVar[int] = 1
    role: ClassVar[str] = "hull"
    opens: ClassVar[str] = "people"
    beam: ClassVar[str] = "beam_m"
    length_m: Metres = length(1.0, "Length", "over all, at the sheer", SHORTEST)
    beam_m: Metres = length(0.28, "Beam", "widest, at the sheer", SHORTEST)
    depth_m: Metres = length(0.14, "Depth", "keel to sheer amidships", 0.005)
    bilge_radius_m: Metres = length(0.08, "Bilge radius", "0 is square")
    rocker_bow_m: Metres = length(0.04, "Rocker, bow", "keel's rise to the stem")
    rocker_stern_m: Metres = length(0.02, "Rocker, stern", "keel's rise to the transom")
    sheer_m: Metres = length(0.03, "Sheer", "rise at the bow", 0.0, 2.0)
    stern_width: Ratio = ratio(0.75, "Stern width", "of the beam; 0 pointed")
    bow_fineness: Ratio = ratio(0.6, "Bow fineness", "0 full, 1 fine")
    stem_rake_m: Metres = length(0.05, "Stem rake", "foot aft of the head")

    def __post_init__(self) -> None:
        check_parameters(self)
        run_of(self, 1)

    def build(self, detail: Ratio = 1) -> Mesh:
        """The closed mesh, about 2 000 triangles at detail 1, four times as many at detail 2."""
        run = run_of(self, detail)
        return lofted(run, *bilge_sections(run, self.bilge_radius_m, detail))
