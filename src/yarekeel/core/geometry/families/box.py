"""A plain box: a punt, a tray, and the body that every sum can be checked on by hand."""

from dataclasses import dataclass
from typing import ClassVar, Literal

from yarekeel.core.geometry.mesh import Mesh, block
from yarekeel.core.parameters import SHORTEST, check_parameters, length
from yarekeel.core.quantities import Metres, Ratio


@dataclass(frozen=True, slots=True)
class Box:
    """Aft bottom edge at x = 0, centred on y = 0, z from 0 up."""

    kind: ClassVar[Literal["box"]] = "box"
    title: ClassVar[str] = "Box"
    group: ClassVar[str] = "Hulls"
    rank: ClassVar[int] = 9
    role: ClassVar[str] = "hull"
    beam: ClassVar[str] = "beam_m"
    length_m: Metres = length(1.0, "Length", "over all", SHORTEST, 1000.0)
    beam_m: Metres = length(0.4, "Beam", "over all", SHORTEST, 1000.0)
    depth_m: Metres = length(0.2, "Depth", "bottom to deck", 0.005, 1000.0)

    def __post_init__(self) -> None:
        check_parameters(self)

    def build(self, detail: Ratio = 1) -> Mesh:
        """Twelve triangles, whatever the detail."""
        return block(self.length_m, self.beam_m, self.depth_m)
