"""What lets water in next: the rim of an open boat, its openings; the deck's edge where it has neither."""

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.quantities import Metres
from yarekeel.stages.design.craft import Craft


def margin(craft: Craft, attitude: Attitude) -> tuple[Metres, str]:
    """Height over the water of what lets it in next, less than 0 where it is under, and its name."""
    heights = [(attitude.height_of(at), f"the {name}") for name, at in craft.openings]
    if craft.hull.open or not heights:
        heights.append((craft.hull.least_freeboard(attitude)[0], "the rim" if craft.hull.open else "the deck's edge"))
    return min(heights)
