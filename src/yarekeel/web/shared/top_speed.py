"""How fast, as every page tells it: a speed with its band, or what there is instead of one."""

from yarekeel.stages.drive.match import Match
from yarekeel.web.shared.page import Reader, Readout

INSTEAD = {"beyond_law": ("Faster than", "no law here holds beyond"), "no_attitude": ("Balances up to", "no attitude balances it beyond")}


def top_speed(reader: Reader, found: Match) -> Readout:
    """The top speed at full throttle, still water and air."""
    if found.top_is in INSTEAD:
        label, words = INSTEAD[found.top_is]
        return reader.figure(label, found.top.speed, "speed", words)
    between = f"{reader.say(found.top_low, 'speed')} to {reader.say(found.top_high, 'speed')}"
    return reader.figure("Top speed", found.top.speed, "speed", between, half=(found.top_high - found.top_low) / 2)
