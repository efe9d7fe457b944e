"""Another size of propeller, of the same make of blade."""

from yarekeel.core.quantities import Ratio
from yarekeel.stages.changes.aims import DRIVE
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive.what_if import WhatIf, altered

STEP: Ratio = 0.05
"""Between two shares of pitch or size that are tried: propellers are not sold closer."""
MOST: Ratio = 0.5


def blades_of(craft: Craft) -> None:
    """Raises NoWay where every motor is known by its pull alone, which no other propeller changes."""
    if not craft.design.drive.motors:
        raise NoWay("It has no motor.")
    if altered(craft.design, WhatIf(size=0.9)).drive.motors == craft.design.drive.motors:
        raise NoWay("Its pull is known by a test alone; say on Drive which propeller turns, then another can be tried.")


def _way(craft: Craft) -> Way:
    blades_of(craft)

    def title(by: float, _: Craft) -> Words:
        return ("A propeller {by:percent} larger" if by > 0 else "A propeller {by:percent} smaller"), {"by": abs(by)}

    def work(by: float, _: Craft) -> Words:
        room = "one propeller, room for it; test its current on the bench"
        return (room if by > 0 else "one propeller; test its current on the bench"), {}

    return Way(0.0, MOST, lambda by: altered(craft.design, WhatIf(size=1 + by)), title, work, STEP, either_way=True)


CHANGE = Change("propeller", "Another size of propeller", 210, _way, aim=DRIVE)
