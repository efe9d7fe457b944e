"""Three-point hull: a narrow centre hull that runs on its stern and on two sponsons forward."""

from dataclasses import dataclass
from typing import ClassVar, Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.pontoon import Pontoon
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.union import united
from yarekeel.core.parameters import SHORTEST, angle, check_parameters, length, ratio
from yarekeel.core.quantities import Metres, Ratio


@dataclass(frozen=True, slots=True)
class ThreePoint:
    """A centre hull whose bottom lies ``sponson_drop_m`` above those of the two sponsons at its sides."""

    kind: ClassVar[Literal["three_point"]] = "three_point"
    title: ClassVar[str] = "Three-point with sponsons"
    group: ClassVar[str] = "Hulls"
    rank: ClassVar[int] = 5
    role: ClassVar[str] = "hull"
    beam: ClassVar[str] = "hull_beam_m"
    length_m: Metres = length(0.80, "Length", "over all", SHORTEST)
    beam_m: Metres = length(0.36, "Beam", "over the sponsons", SHORTEST)
    depth_m: Metres = length(0.09, "Depth", "centre hull, bottom to deck", 0.005)
    hull_beam_m: Metres = length(0.16, "Hull beam", "of the centre hull", SHORTEST)
    bow_length_m: Metres = length(0.25, "Bow length", "over which bottoms rise")
    sponson_length_m: Metres = length(0.36, "Sponson length", "over all", SHORTEST)
    sponson_beam_m: Metres = length(0.11, "Sponson beam", "of one", SHORTEST)
    sponson_depth_m: Metres = length(0.07, "Sponson depth", "keel to deck", 0.005)
    sponson_drop_m: Metres = length(0.02, "Sponson drop", "below the centre hull")
    sponson_at: Ratio = ratio(0.85, "Sponsons at", "0 flush aft, 1 flush forward")
    deadrise_deg: float = angle(8.0, "Sponson deadrise", "bottom to level", 0.0, 45.0, ("flat: planes soonest", "runs too deep to plane"))

    def __post_init__(self) -> None:
        check_parameters(self)
        if self.sponson_length_m > self.length_m:
            raise InvalidInput("sponson_length_m", "The sponsons cannot be longer than the hull ({most:length}).", most=self.length_m)
        if self.bow_length_m > self.length_m:
            raise InvalidInput("bow_length_m", "The bow cannot be longer than the hull ({most:length}).", most=self.length_m)
        if self.beam_m < self.hull_beam_m:
            raise InvalidInput("beam_m", "Beam is over the sponsons, so at least the hull's ({least:length}).", least=self.hull_beam_m)
        if self.beam_m < 2 * self.sponson_beam_m:
            raise InvalidInput("sponson_beam_m", "Two sponsons must fit in the beam; each up to {most:length}.", most=self.beam_m / 2)

    def build(self, detail: Ratio = 1) -> Mesh:
        """Three floats united; about 2 500 triangles at detail 1."""
        centre = Pontoon(
            length_m=self.length_m,
            beam_m=self.hull_beam_m,
            depth_m=self.depth_m,
            bow_length_m=self.bow_length_m,
            bow_rise=0.7,
            stern_rise=0.0,
            deadrise_deg=0.0,
        ).build(detail)
        bow = min(self.bow_length_m, 0.6 * self.sponson_length_m)
        side = Pontoon(
            length_m=self.sponson_length_m,
            beam_m=self.sponson_beam_m,
            depth_m=self.sponson_depth_m,
            bow_length_m=bow,
            bow_rise=0.8,
            stern_rise=0.0,
            deadrise_deg=self.deadrise_deg,
        ).build(detail)
        x = (self.length_m - self.sponson_length_m) * self.sponson_at
        y = (self.beam_m - self.sponson_beam_m) / 2
        return united([centre.moved((0, 0, self.sponson_drop_m)), side.moved((x, y, 0)), side.moved((x, -y, 0))])
