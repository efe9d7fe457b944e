"""The line of thrust higher or lower."""

from yarekeel.core.quantities import Metres
from yarekeel.stages.changes.aims import PULL_TRIM
from yarekeel.stages.changes.change import Change, Way, Words
from yarekeel.stages.changes.ways.tilt import pulling
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive.line import Aim, aimed

STEP: Metres = 0.001


def _way(craft: Craft) -> Way:
    pulling(craft)

    def title(by: float, _: Craft) -> Words:
        return ("Thrust {by:length} higher" if by > 0 else "Thrust {by:length} lower"), {"by": abs(by)}

    def work(by: float, _: Craft) -> Words:
        return "a new mount; a shaft in the water must stay in it", {}

    return Way(0.0, craft.hull.depth, lambda by: aimed(craft.design, Aim(raised=by)), title, work, STEP, either_way=True)


CHANGE = Change("height", "Another height of the thrust", 250, _way, aim=PULL_TRIM)
