"""Motors turned to one side, until their pull goes straight."""

import dataclasses

from yarekeel.core.quantities import Degrees
from yarekeel.stages.changes.aims import STRAIGHT
from yarekeel.stages.changes.change import Change, Way, Words
from yarekeel.stages.changes.ways.tilt import pulling
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

STEP: Degrees = 0.25
MOST: Degrees = 20.0


def _way(craft: Craft) -> Way:
    pulling(craft)
    drive = craft.design.drive

    def make(by: Degrees) -> Design:
        motors = tuple(dataclasses.replace(m, toe_deg=min(max(m.toe_deg + by, -60.0), 60.0)) for m in drive.motors)
        return dataclasses.replace(craft.design, drive=dataclasses.replace(drive, motors=motors))

    def title(by: float, _: Craft) -> Words:
        return "Thrust turned to {side} by {by:degrees}", {"by": abs(by), "side": "port" if by > 0 else "starboard"}

    def work(by: float, _: Craft) -> Words:
        return "shims under the mounts", {}

    return Way(0.0, MOST, make, title, work, STEP, either_way=True)


CHANGE = Change("toe", "Another toe of the thrust", 270, _way, aim=STRAIGHT)
