"""Another pitch: flatter blades ease motor and pack, steeper ones run faster."""

from yarekeel.stages.changes.aims import DRIVE
from yarekeel.stages.changes.change import Change, Way, Words
from yarekeel.stages.changes.ways.propeller import MOST, STEP, blades_of
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive.what_if import WhatIf, altered


def _way(craft: Craft) -> Way:
    blades_of(craft)

    def title(by: float, _: Craft) -> Words:
        return ("A propeller {by:percent} flatter" if by > 0 else "A propeller {by:percent} steeper"), {"by": abs(by)}

    def work(by: float, _: Craft) -> Words:
        return "one propeller, an hour; test its current on the bench", {}

    return Way(0.0, MOST, lambda by: altered(craft.design, WhatIf(pitch=1 - by)), title, work, STEP, either_way=True)


CHANGE = Change("pitch", "Another pitch", 200, _way, aim=DRIVE)
