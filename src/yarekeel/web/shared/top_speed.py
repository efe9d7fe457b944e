"""How fast, as every page tells it: a speed with its band, or what there is instead of one."""

import math

from yarekeel.stages.drive.match import Match
from yarekeel.units import System, say
from yarekeel.web.shared.page import Reader, Readout

INSTEAD = {"beyond_law": ("Faster than", "no law here holds beyond"), "no_attitude": ("Balances up to", "no attitude balances it beyond")}


def top_speed(reader: Reader, found: Match) -> Readout:
    """The top speed at full throttle, still water and air."""
    if found.top_is in INSTEAD:
        label, words = INSTEAD[found.top_is]
        return reader.figure(label, found.top.speed, "speed", words)
    return reader.figure("Top speed", found.top.speed, "speed", _band(found, reader.system), half=found.top_doubt * found.top.speed)


def _band(found: Match, system: System) -> str:
    """The band of a top speed in words; at least so much where the laws end within it."""
    low = say(found.top_low, "speed", system)
    return f"{low} to {say(found.top_high, 'speed', system)}" if math.isfinite(found.top_high) else f"at least {low}"
