"""Twin hulls: two round-bilge hulls side by side and a bridge that stands on their decks."""

from dataclasses import dataclass
from typing import ClassVar, Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.round_bilge import RoundBilge
from yarekeel.core.geometry.mesh import Mesh, block, joined
from yarekeel.core.parameters import SHORTEST, check_parameters, length, ratio
from yarekeel.core.quantities import Metres, Ratio


@dataclass(frozen=True, slots=True)
class TwinHull:
    """Two equal hulls, ``hull_spacing_m`` apart between their centrelines, and a box bridge on deck amidships."""

    kind: ClassVar[Literal["twin_hull"]] = "twin_hull"
    title: ClassVar[str] = "Twin hulls"
    group: ClassVar[str] = "Hulls"
    rank: ClassVar[int] = 6
    role: ClassVar[str] = "hull"
    beam: ClassVar[str] = "hull_beam_m"
    spacing: ClassVar[str] = "hull_spacing_m"
    multihull: ClassVar[bool] = True
    length_m: Metres = length(0.80, "Length", "of each hull, at the deck", SHORTEST)
    hull_beam_m: Metres = length(0.11, "Hull beam", "of one hull", SHORTEST)
    depth_m: Metres = length(0.13, "Depth", "keel to deck", 0.005)
    hull_spacing_m: Metres = length(0.34, "Hull spacing", "between centrelines", SHORTEST)
    bilge_radius_m: Metres = length(0.04, "Bilge radius", "0 is square")
    rocker_bow_m: Metres = length(0.03, "Rocker, bow", "keel's rise to the stem")
    rocker_stern_m: Metres = length(0.015, "Rocker, stern", "keel's rise to the transom")
    stern_width: Ratio = ratio(0.8, "Stern width", "of the hull beam")
    bow_fineness: Ratio = ratio(0.6, "Bow fineness", "0 full, 1 fine")
    stem_rake_m: Metres = length(0.05, "Stem rake", "foot aft of the head")
    bridge_length_m: Metres = length(0.42, "Bridge length", "centred on the hulls", 0.005)
    bridge_thickness_m: Metres = length(0.018, "Bridge thickness", "stands on the decks", 0.001, 1.0)

    def __post_init__(self) -> None:
        check_parameters(self)
        if self.hull_spacing_m <= self.hull_beam_m:
            raise InvalidInput("hull_spacing_m", "Hull spacing must be more than one hull's beam ({least:length}).", least=self.hull_beam_m)
        if self.bridge_length_m > self.length_m:
            raise InvalidInput("bridge_length_m", "The bridge cannot be longer than the hulls ({most:length}).", most=self.length_m)
        self._hull()

    def _hull(self) -> RoundBilge:
        return RoundBilge(
            length_m=self.length_m,
            beam_m=self.hull_beam_m,
            depth_m=self.depth_m,
            bilge_radius_m=self.bilge_radius_m,
            rocker_bow_m=self.rocker_bow_m,
            rocker_stern_m=self.rocker_stern_m,
            sheer_m=0.0,
            stern_width=self.stern_width,
            bow_fineness=self.bow_fineness,
            stem_rake_m=self.stem_rake_m,
        )

    def build(self, detail: Ratio = 1) -> Mesh:
        """Two hulls and a bridge that touch but do not overlap: their sums add exactly, so nothing needs uniting."""
        hull = self._hull().build(detail)
        bridge = block(self.bridge_length_m, self.hull_spacing_m, self.bridge_thickness_m)
        return joined(
            [
                hull.moved((0, self.hull_spacing_m / 2, 0)),
                hull.moved((0, -self.hull_spacing_m / 2, 0)),
                bridge.moved(((self.length_m - self.bridge_length_m) / 2, 0, self.depth_m)),
            ]
        )
