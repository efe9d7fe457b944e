"""A float with a planing bottom and a bow that rises like a sledge's: pontoons, sponsons, seaplane-like floats."""

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.loft import STATIONS, Run, lofted
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.parameters import SHORTEST, angle, check_parameters, length, ratio
from yarekeel.core.quantities import Metres, Ratio

CHINE_BELOW: Ratio = 0.85
"""Of the height of the side: the chine stays below the deck, however steep the bottom."""


@dataclass(frozen=True, slots=True)
class Pontoon:
    """Straight sides, a flat or vee bottom, a square stern."""

    kind: ClassVar[Literal["pontoon"]] = "pontoon"
    title: ClassVar[str] = "Pontoon or sponson"
    group: ClassVar[str] = "Floats and foam"
    rank: ClassVar[int] = 1
    role: ClassVar[str] = "float"
    beam: ClassVar[str] = "beam_m"
    length_m: Metres = length(0.80, "Length", "over all", SHORTEST)
    beam_m: Metres = length(0.12, "Beam", "over all", SHORTEST)
    depth_m: Metres = length(0.10, "Depth", "keel to deck", 0.005)
    bow_length_m: Metres = length(0.22, "Bow length", "over which the bottom rises")
    bow_rise: Ratio = ratio(0.8, "Bow rise", "of the depth", 0.0, 0.95, ("a square bow", "the bow needs a little height to close"))
    stern_rise: Ratio = ratio(0.0, "Stern rise", "of the depth", 0.0, 0.9, ("flat to the stern", "no stern is left"))
    deadrise_deg: float = angle(0.0, "Deadrise", "bottom to level", 0.0, 60.0, ("flat: planes soonest", "steeper is a side, not a bottom"))

    def __post_init__(self) -> None:
        check_parameters(self)
        if self.bow_length_m > self.length_m:
            raise InvalidInput("bow_length_m", "The bow cannot be longer than the float ({most:length}).", most=self.length_m)

    def build(self, detail: Ratio = 1) -> Mesh:
        """The closed mesh, about 900 triangles at detail 1."""
        xi = 0.5 - 0.5 * np.cos(np.linspace(0, np.pi, round(STATIONS * detail) + 1))
        x = xi * self.length_m
        bow = np.clip((x - (self.length_m - self.bow_length_m)) / max(self.bow_length_m, 1e-9), 0, 1)
        stern = np.clip((0.3 * self.length_m - x) / (0.3 * self.length_m), 0, 1)
        keel = self.depth_m * (self.bow_rise * bow**2 + self.stern_rise * stern**2 * (1 - bow))
        half = np.full_like(x, self.beam_m / 2)
        run = Run(x=x, half_beam=half, keel=keel, sheer=np.full_like(x, self.depth_m), rake=np.zeros_like(x))
        height = run.sheer - keel
        rise = np.minimum(half * np.tan(np.radians(self.deadrise_deg)), CHINE_BELOW * height)
        across, up = np.linspace(0, 1, 4), np.linspace(0, 1, 3)[1:]
        y = np.hstack([half[:, None] * across, np.repeat(half[:, None], len(up), axis=1)])
        z = keel[:, None] + np.hstack([rise[:, None] * across, rise[:, None] + (height - rise)[:, None] * up])
        return lofted(run, y, z)
