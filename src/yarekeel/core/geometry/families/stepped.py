"""Stepped planing hull: a vee bottom with one step across it, so that the after part runs higher and drier."""

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.loft import lofted, run_of
from yarekeel.core.geometry.families.vee import FLAT_TO_STEEP, deadrise_along
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.parameters import SHORTEST, angle, check_parameters, length, ratio
from yarekeel.core.quantities import Metres, Ratio

CHINE_BELOW: Ratio = 0.8
"""Of the height left above the step: the chine stays below the sheer."""


@dataclass(frozen=True, slots=True)
class Stepped:
    """The bottom abaft the step lies ``step_m`` higher than the one ahead of it; the sides run through."""

    kind: ClassVar[Literal["stepped"]] = "stepped"
    title: ClassVar[str] = "Stepped planing hull"
    group: ClassVar[str] = "Hulls"
    rank: ClassVar[int] = 4
    role: ClassVar[str] = "hull"
    beam: ClassVar[str] = "beam_m"
    length_m: Metres = length(0.90, "Length", "over all, at the sheer", SHORTEST)
    beam_m: Metres = length(0.28, "Beam", "widest, at the sheer", SHORTEST)
    depth_m: Metres = length(0.13, "Depth", "keel to sheer amidships", 0.005)
    deadrise_deg: float = angle(16.0, "Deadrise", "bottom to level", 0.0, 60.0, FLAT_TO_STEEP)
    deadrise_bow_gain_deg: float = angle(14.0, "Deadrise, bow", "more, by the stem", 0.0, 45.0, ("the same all along", "steeper is a side"))
    step_m: Metres = length(0.010, "Step", "height of the step", 0.0, 1.0, ("no step", "beyond hobby building"))
    step_at: Ratio = ratio(0.42, "Step at", "of the length from aft", 0.1, 0.8, ("no bottom is left abaft it", "the bow rises there"))
    rocker_bow_m: Metres = length(0.045, "Rocker, bow", "keel's rise to the stem")
    sheer_m: Metres = length(0.02, "Sheer", "rise at the bow", 0.0, 2.0)
    stern_width: Ratio = ratio(0.9, "Stern width", "of the beam; 0 pointed")
    bow_fineness: Ratio = ratio(0.5, "Bow fineness", "0 full, 1 fine")
    stem_rake_m: Metres = length(0.08, "Stem rake", "foot aft of the head")

    @property
    def rocker_stern_m(self) -> Metres:
        """None: a planing bottom runs straight to the transom."""
        return 0.0

    def __post_init__(self) -> None:
        check_parameters(self)
        run_of(self, 1)
        if self.step_m > 0.4 * (self.depth_m - self.rocker_bow_m):
            raise InvalidInput(
                "step_m", "The step must stay below {most:length}, four tenths of the side.", most=0.4 * (self.depth_m - self.rocker_bow_m)
            )

    def build(self, detail: Ratio = 1) -> Mesh:
        """The closed mesh, about 1 100 triangles at detail 1; the step is an upright face across the bottom."""
        run = run_of(self, detail)
        after = int(np.clip(np.searchsorted(run.x, self.step_at * self.length_m), 2, len(run.x) - 2))
        # Two stations share the step's place: the last of the raised bottom and the first of the low one.
        row = np.concatenate([np.arange(after + 1), np.arange(after, len(run.x))])
        raised = np.arange(len(row)) <= after
        run = type(run)(*(getattr(run, name)[row] for name in ("x", "half_beam", "keel", "sheer", "rake")))
        chine = run.half_beam
        height = run.sheer - run.keel
        step = np.minimum(self.step_m, 0.4 * height)
        twist = np.radians(deadrise_along(run, self.deadrise_deg, self.deadrise_bow_gain_deg, 0.0))
        rise = np.minimum(chine * np.tan(twist), CHINE_BELOW * (height - step))
        up = np.where(raised, step, 0.0)
        across, side = np.linspace(0, 1, 5), np.linspace(0, 1, 4)[1:]
        top = rise + step  # where the raised chine lies; on the low part a point of the side
        y = np.hstack([chine[:, None] * across, chine[:, None], np.repeat(chine[:, None], len(side), axis=1)])
        z = run.keel[:, None] + np.hstack(
            [up[:, None] + rise[:, None] * across, top[:, None], top[:, None] + (height - top)[:, None] * side]
        )
        return lofted(run, y, z)
