"""More cells in series: more volts, so more turns, more pull and more current."""

from yarekeel.core.propulsion.drive import cells_in
from yarekeel.stages.changes.aims import DRIVE
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive.what_if import WhatIf, altered

MOST_CELLS = 4
"""More than are fitted."""


def _way(craft: Craft) -> Way:
    battery = craft.design.drive.battery
    if battery is None:
        raise NoWay("It has no pack.")
    now = cells_in(battery)

    def title(by: float, _: Craft) -> Words:
        return "{by:count} more cells in series" if by > 1 else "One more cell in series", {"by": by}

    def work(by: float, _: Craft) -> Words:
        return "a pack that motor and control bear; mind their limits of voltage", {}

    return Way(0.0, MOST_CELLS, lambda by: altered(craft.design, WhatIf(cells=now + round(by))), title, work, 1.0)


CHANGE = Change("cells", "More cells in series", 220, _way, aim=DRIVE)
