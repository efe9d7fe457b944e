"""Every angle that a finding tells is one that its kind can be: a value in degrees told as radians is 57 times as much."""

import math
import re

import pytest

from yarekeel.demo import boats, fast_boats
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive import drive, line, match
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.stability import stability
from yarekeel.stages.underway import coasting, flip, foils, pads, planing, speed, steering, turning

DEMO = (boats.reedwarden, boats.wagtail, boats.dabchick, boats.moorhen, boats.turnstone, fast_boats.sandpiper, fast_boats.whimbrel)
TOLD = (afloat, stability, drive, line, match, speed, flip, foils, pads, planing, steering, turning, coasting)
MOST = {"angle": math.pi, "trim": math.pi / 2, "heel": math.pi}
WASH = math.radians(20)
"""A wing that lifts at its most (C_L 1.5, aspect 3) turns the flow by 2 C_L / (pi AR) = 18°."""


def findings(craft):
    for stage in TOLD:
        found = stage.assess(craft)
        yield from getattr(found, "findings", ())
    yield from resistance_of(craft).findings


@pytest.mark.parametrize("make", DEMO)
def test_every_angle_is_within_what_it_can_be(make):
    seen = 0
    for f in findings(Craft(make())):
        for name, kind in re.findall(r"\{(\w+):(\w+)\}", f.title + f.sentence + "".join(r.sentence for r in f.remedies)):
            if kind in MOST and isinstance(f.values[name], float):
                seen += 1
                assert abs(f.values[name]) <= (WASH if name == "wash" else MOST[kind]), (f.code, name)
    assert seen
