"""Air, on what stands over the water."""

from yarekeel.core.constants import AIR_DENSITY
from yarekeel.core.quantities import Ratio
from yarekeel.core.running.forces import Force, Law, State, Underway
from yarekeel.core.sources import COMMON_PRACTICE

DRAG: Ratio = 0.9
"""Of the area that looks ahead (common practice: 0.6 for a smooth deck, 1.2 for a cabin)."""


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Back, at the middle of that area; a following wind pushes."""
    through = state.speed + boat.wind
    drag = AIR_DENSITY / 2 * DRAG * boat.air_area * through * abs(through)
    return (Force("air", (-drag, 0.0, 0.0), boat.air_at, 0.35, COMMON_PRACTICE),)


LAW = Law(6, forces, lambda boat, speeds: ())
