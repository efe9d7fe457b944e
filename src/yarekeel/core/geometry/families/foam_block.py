"""Block of foam with cut-outs: buoyancy packed into a bow, a seat or a side, with pockets for what must pass."""

from dataclasses import dataclass
from typing import ClassVar, Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.facts import Fact
from yarekeel.core.geometry.mesh import Mesh, block
from yarekeel.core.geometry.union import without
from yarekeel.core.parameters import SHORTEST, check_parameters, count, length
from yarekeel.core.quantities import Metres, Ratio

FOAM_LIFT = 970.0
"""kg of lift a cubic metre of closed-cell foam gives under fresh water: 1 000 less some 30 of its own (common practice)."""


@dataclass(frozen=True, slots=True)
class FoamBlock:
    """A block with ``pockets`` equal rectangular pockets let in from its top, spread evenly along its length."""

    kind: ClassVar[Literal["foam_block"]] = "foam_block"
    title: ClassVar[str] = "Foam block with cut-outs"
    group: ClassVar[str] = "Floats and foam"
    rank: ClassVar[int] = 3
    role: ClassVar[str] = "foam"
    beam: ClassVar[str] = "beam_m"
    length_m: Metres = length(0.40, "Length", "over all", SHORTEST)
    beam_m: Metres = length(0.20, "Beam", "over all", SHORTEST)
    depth_m: Metres = length(0.10, "Depth", "bottom to top", 0.002)
    pockets: int = count(1, "Cut-outs", "equal, along the length", 0, 12, ("a plain block", "more and little foam is left"))
    pocket_length_m: Metres = length(0.12, "Cut-out length", "fore and aft", 0.002)
    pocket_beam_m: Metres = length(0.10, "Cut-out width", "athwart", 0.002)
    pocket_depth_m: Metres = length(0.05, "Cut-out depth", "from the top; the depth goes through", 0.001)

    def __post_init__(self) -> None:
        check_parameters(self)
        if self.pockets and self.pocket_length_m * self.pockets > 0.95 * self.length_m:
            raise InvalidInput(
                "pocket_length_m",
                f"{self.pockets:g} cut-outs must fit the length; each up to {{most:length}}.",
                most=0.95 * self.length_m / self.pockets,
            )
        if self.pockets and self.pocket_beam_m > 0.95 * self.beam_m:
            raise InvalidInput("pocket_beam_m", "A cut-out must leave a rim; up to {most:length} wide.", most=0.95 * self.beam_m)
        if self.pockets and self.pocket_depth_m > self.depth_m:
            raise InvalidInput("pocket_depth_m", "A cut-out cannot be deeper than the block ({most:length}).", most=self.depth_m)

    def facts(self) -> tuple[Fact, ...]:
        """Foam left, and its lift."""
        left = self.length_m * self.beam_m * self.depth_m - self.pockets * self.pocket_length_m * self.pocket_beam_m * self.pocket_depth_m
        return (
            Fact("Foam left", left, "volume", "after the cut-outs"),
            Fact("Lift held under", left * FOAM_LIFT, "mass", "in fresh water, foam of 30 kg/m³"),
        )

    def build(self, detail: Ratio = 1) -> Mesh:
        """The block less its pockets; few triangles, whatever the detail."""
        room = self.length_m / max(self.pockets, 1)
        below = self.depth_m - self.pocket_depth_m if self.pocket_depth_m < self.depth_m else -0.5 * self.depth_m
        pocket = block(self.pocket_length_m, self.pocket_beam_m, 1.5 * self.depth_m - below)
        at = [(k + 0.5) * room - self.pocket_length_m / 2 for k in range(int(self.pockets))]
        return without(block(self.length_m, self.beam_m, self.depth_m), [pocket.moved((x, 0.0, below)) for x in at])
