"""Sail: speed over the angle to the wind, with lean and leeway."""

import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.drawing.plots import Axis, Trace, plot
from yarekeel.stages.underway import sailing
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.stability.heeled import assessed
from yarekeel.web.stages.tab import Question, Tab, question, refused

TITLE, RANK = "Sail", 9
WIND = 4.0
NEEDS = "It needs a sail: give it one on Stability, Sail, with its area and where its centre lies."
STANDS = "Its sail is known; it needs a boat that floats upright and comes back from a lean."


@dataclass(frozen=True)
class SailMore:
    asks: tuple[Question, ...]
    rows: tuple[tuple[str, ...], ...]
    why: str


def view(asked: PageRequest) -> Tab:
    """The chart over the angle, the best course and a table."""
    if not any(s.area_m2 > 0 for s in asked.design.sails):
        return Tab(title="Under sail", more=SailMore((), (), NEEDS))
    reader, say, system = asked.reader, asked.reader.say, asked.reader.system
    ask, wind = question(asked, "sail_wind", "Wind", "speed", say(WIND, "speed"), WIND, "true, over the water")
    stands = assessed(asked.design)
    try:
        found = sailing.assess(asked.craft, stands, WIND if wind is None else wind)
    except InvalidInput as error:
        ask, found = refused(ask, error.sentence), sailing.assess(asked.craft, stands, WIND)
    if found is None:
        return Tab(title="Under sail", more=SailMore((ask,), (), STANDS))
    readouts = []
    if found.best is not None:
        note = f"{say(found.best.angle, 'angle')} off the wind at {say(found.best.speed, 'speed')}"
        half = sailing.DOUBT * found.best.made_good
        readouts.append(reader.figure("Made good to windward", found.best.made_good, "speed", note, half=half))
    if found.fastest is not None:
        half = sailing.DOUBT * found.fastest.speed
        note = f"{say(found.fastest.angle, 'angle')} off the wind; ±{say(sailing.DOUBT, 'percent')}"
        readouts.append(reader.figure("Fastest", found.fastest.speed, "speed", note, half=half))
    degrees = [math.degrees(c.angle) for c in found.courses]
    words = [f"{say(c.speed, 'speed')} at {say(c.angle, 'angle')}" for c in found.courses]
    speeds = [c.speed for c in found.courses]
    lines = [Trace(degrees, speeds, "speed", "soft", words)]
    lines += [Trace(degrees, [k * v for v in speeds], "", "faint") for k in (1 - sailing.DOUBT, 1 + sailing.DOUBT)]
    lines.append(Trace(degrees, [max(c.made_good, 0.0) if c.made_good > 0 else math.nan for c in found.courses], "to windward", "warm"))
    picture = plot(
        lines,
        Axis("true wind from ahead, degrees", 1.0, 0.0, 180.0),
        Axis(system.speed.label, system.speed.si, 0.0),
        f"Speed over the angle to a wind of {say(found.wind, 'speed')}",
        height=320.0,
    )
    rows = tuple(
        (say(c.angle, "angle"), say(c.speed, "speed"), say(c.lean, "angle"), say(c.leeway, "angle"), say(c.set, "percent"))
        for c in found.courses
    )
    return Tab(
        picture=Markup(picture),
        readouts=tuple(readouts),
        findings=reader.findings(found.findings),
        title="Under sail",
        more=SailMore((ask,), rows, ""),
    )
