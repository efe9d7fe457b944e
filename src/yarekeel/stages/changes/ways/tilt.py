"""The line of thrust tilted: it lifts the bow, or presses it down."""

from yarekeel.core.quantities import Degrees
from yarekeel.stages.changes.aims import PULL_TRIM
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.fitted import pulls_of
from yarekeel.stages.drive.line import TILT_MOST, Aim, aimed

STEP: Degrees = 0.5
"""Finer than a wedge is cut."""


def pulling(craft: Craft) -> None:
    """Raises NoWay for a boat that nothing pulls."""
    if not any(pulls_of(craft.design)):
        raise NoWay("Nothing drives it, so there is no line of thrust.")


def _way(craft: Craft) -> Way:
    pulling(craft)

    def title(by: float, _: Craft) -> Words:
        return ("Thrust tilted up by {by:degrees}" if by > 0 else "Thrust tilted down by {by:degrees}"), {"by": abs(by)}

    def work(by: float, _: Craft) -> Words:
        return "a wedge under the mount, or the shaft bent to it", {}

    return Way(0.0, TILT_MOST, lambda by: aimed(craft.design, Aim(tilt=by)), title, work, STEP, either_way=True)


CHANGE = Change("tilt", "Another tilt of the thrust", 240, _way, aim=PULL_TRIM)
