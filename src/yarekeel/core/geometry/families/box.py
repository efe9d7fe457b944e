"""A plain box: a punt, a tray, and the body that every sum can be checked on by hand."""

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.geometry.families.parameters import SHORTEST, check_parameters, length
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.quantities import Metres


@dataclass(frozen=True, slots=True)
class Box:
    """Aft bottom edge at x = 0, centred on y = 0, z from 0 up."""

    kind: ClassVar[Literal["box"]] = "box"
    title: ClassVar[str] = "Box"
    length_m: Metres = length(1.0, "Length", "over all", SHORTEST, 1000.0)
    beam_m: Metres = length(0.4, "Beam", "over all", SHORTEST, 1000.0)
    depth_m: Metres = length(0.2, "Depth", "bottom to deck", 0.005, 1000.0)

    def __post_init__(self) -> None:
        check_parameters(self)

    def build(self, detail: int = 1) -> Mesh:
        """Twelve triangles, whatever the detail."""
        x, y, z = self.length_m, self.beam_m / 2, self.depth_m
        v = np.array([[i, j, k] for i in (0, x) for j in (-y, y) for k in (0, z)], dtype=np.float64)
        quads = ((0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3))
        return Mesh(v, np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))]))
