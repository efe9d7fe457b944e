"""The point that a tow line is made fast to, lower: the side pull of the line then has less of a lever."""

from yarekeel.core.quantities import Metres
from yarekeel.stages.afloat.forced import lateral_area
from yarekeel.stages.changes.aims import TOW
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.stability.plain_tests import tipping_of

LEAST: Metres = 0.002
"""By which lowering it is worth the work."""


def _way(craft: Craft) -> Way:
    now, rest = tipping_of(craft), Figures(craft).rest
    if not now.tow_n or now.tow_up_m is None or rest is None:
        raise NoWay("Nothing is towed in its plain tests; give the tow its pull there first.")
    up: Metres = now.tow_up_m
    answers = lateral_area(craft.hull.sketch.mesh, rest.attitude)[1][2]
    if up - answers < LEAST:
        raise NoWay("The line is made fast as low as the water answers already.")

    def title(by: float, _: Craft) -> Words:
        return "Tow point {by:length} lower", {"by": by}

    def work(by: float, _: Craft) -> Words:
        return "the eye moved to {up:length} up; a line that slips at one pull, and a knife at hand", {"up": up - by}

    return Way(0.0, up - answers, lambda by: with_value(craft.design, "tipping.tow_up_m", up - by), title, work)


CHANGE = Change("tow_point", "A lower tow point", 255, _way, aim=TOW)
