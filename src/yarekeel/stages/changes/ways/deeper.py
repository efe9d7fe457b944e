"""Propellers deeper in the water, until they draw no air."""

from yarekeel.core.propulsion.propulsors.water_propeller import WaterPropeller
from yarekeel.core.quantities import Metres
from yarekeel.stages.changes.aims import DEEP
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive.line import Aim, aimed

STEP: Metres = 0.001


def _way(craft: Craft) -> Way:
    if not any(isinstance(m.propulsor, WaterPropeller) for m in craft.design.drive.motors):
        raise NoWay("No propeller of it turns in the water.")

    def title(by: float, _: Craft) -> Words:
        return "Propellers {by:length} deeper", {"by": by}

    def work(by: float, _: Craft) -> Words:
        return "a longer or steeper shaft, a new stern tube", {}

    return Way(0.0, craft.hull.depth, lambda by: aimed(craft.design, Aim(raised=-by)), title, work, STEP)


CHANGE = Change("deeper", "Propellers deeper", 260, _way, aim=DEEP)
