"""A person aboard: where the centre of mass is, from the place of seat or feet."""

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from yarekeel.core.facts import Fact
from yarekeel.core.parameters import check_parameters, choice, length, mass
from yarekeel.core.quantities import Metres, Ratio
from yarekeel.core.sources import Source
from yarekeel.core.weights.recipes.made import Basis, Made, tensor

WINTER = Source(
    "D. A. Winter, Biomechanics and Motor Control of Human Movement, table 4.1 (segment masses and lengths); from memory", "from memory"
)
HEAD_ARMS_TRUNK, THIGHS, SHANKS, FEET = 0.678, 0.200, 0.093, 0.029
"""Shares of the body's mass, both sides together (Winter, table 4.1)."""
TRUNK_CENTRE: Ratio = 0.626 * (0.818 - 0.530)
"""Above the hip joint, as a share of stature: head, arms and trunk (Winter, table 4.1 and fig. 4.1)."""
HIP, KNEE, ANKLE = 0.530, 0.285, 0.039
"""Heights of the joints of a standing person, as shares of stature (Winter, fig. 4.1)."""
NEAR_END: Ratio = 0.433
"""Centre of thigh and of shank from their upper end, as a share of the segment (Winter, table 4.1)."""
SEAT_TO_HIP, HEEL_TO_HIP = 0.05, 0.11
"""Height of the hip joint over the seat, and over the floor when kneeling back on the heels, shares of stature (common practice)."""

SITS_OFF: Ratio = 0.03
"""Of stature: how far the centre of a body lies from where the segments put it, leaning and slouching (from memory)."""

_POSTURES = (("seated", "seated"), ("standing", "standing"), ("kneeling", "kneeling on the heels"))


@dataclass(frozen=True, slots=True)
class Person:
    """The place is that of the seat's top, of the feet, or of the floor under the hips; the centre follows the posture."""

    kind: ClassVar[str] = "person"
    title: ClassVar[str] = "Person"
    group: ClassVar[str] = "crew"
    rank: ClassVar[int] = 9
    follows_hull: ClassVar[bool] = False

    mass_kg: float = mass(75.0, "Body mass", "dressed, with what is in the pockets", 0.1, 250.0, ("a doll's", "past a person's"))
    stature_m: float = length(1.75, "Height", "of the person, standing", 0.1, 2.5, ("a doll's", "past a person's"))
    posture: str = choice("seated", "Posture", "how the person is aboard", _POSTURES)
    facing: str = choice("aft", "Facing", "as rowers face aft, paddlers forward", (("forward", "forward"), ("aft", "aft")))

    def __post_init__(self) -> None:
        check_parameters(self)

    def made(self, basis: Basis) -> Made:
        """Four segments, each a point at its own centre. Arms hang or rest at the trunk; leaning and reaching are not in it."""
        share = np.array([HEAD_ARMS_TRUNK, THIGHS, SHANKS, FEET])
        ahead, up = self._segments()
        x, z = float(share @ ahead) * self.stature_m, float(share @ up) * self.stature_m
        side = -1.0 if self.facing == "aft" else 1.0
        away = np.stack([side * (np.array(ahead) * self.stature_m - x), np.zeros(4), np.array(up) * self.stature_m - z], axis=1)
        facts = (
            Fact("Centre above the place", z, "length", "above seat, feet or floor, from the segments of a body"),
            Fact("Centre ahead of it", x, "length", "the way the person faces"),
        )
        second = self.mass_kg * np.einsum("n,ni,nj->ij", share, away, away)
        return Made(self.mass_kg, (side * x + 0.0, 0.0, z), tensor(second), facts=facts, place_width=SITS_OFF * self.stature_m)

    @property
    def centre_height(self) -> Metres:
        """Of the centre over seat, feet or floor."""
        _, up = self._segments()
        return float(np.array([HEAD_ARMS_TRUNK, THIGHS, SHANKS, FEET]) @ up) * self.stature_m

    @property
    def seat_height(self) -> Metres:
        """Of a seat that the legs hang down from to the soles of the feet."""
        return (KNEE - SEAT_TO_HIP) * self.stature_m

    def _segments(self) -> tuple[list[float], list[float]]:
        """Where trunk, thighs, shanks and feet have their centres: ahead and up, shares of stature."""
        thigh, shank = HIP - KNEE, KNEE - ANKLE
        if self.posture == "standing":
            return [0.0, 0.0, 0.0, 0.0], [HIP + TRUNK_CENTRE, HIP - NEAR_END * thigh, KNEE - NEAR_END * shank, ANKLE / 2]
        if self.posture == "kneeling":
            hip = HEEL_TO_HIP
            return [0.0, NEAR_END * thigh, thigh - NEAR_END * shank, 0.0], [hip + TRUNK_CENTRE, 0.7 * hip, 0.3 * hip, 0.3 * hip]
        hip = SEAT_TO_HIP
        return [0.0, NEAR_END * thigh, thigh, thigh], [hip + TRUNK_CENTRE, hip, hip - NEAR_END * shank, hip - shank - ANKLE / 2]
