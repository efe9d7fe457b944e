"""Thrust line: both schools on the same axes, trim over speed."""

import numpy as np
from markupsafe import Markup

from yarekeel.drawing.plots import Axis, Trace, plot
from yarekeel.stages.underway import schools
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Thrust line", 4
LOOKS = ("over", "warm", "soft")


def view(asked: PageRequest) -> Tab:
    """The chart of three lines of thrust."""
    found = schools.assess(asked.craft)
    if found is None:
        return Tab(title="High or low", note="It needs a boat that floats level enough to run.")
    reader, system = asked.reader, asked.reader.system
    v = found.speeds.tolist()
    lines = []
    for school, look in zip(found.schools, LOOKS, strict=True):
        degrees = np.degrees(school.trim)
        words = [
            f"{reader.say(t, 'trim')} at {reader.say(s, 'speed')}" if np.isfinite(t) else "" for t, s in zip(school.trim, v, strict=True)
        ]
        lines.append(Trace(v, degrees.tolist(), school.name, look, words))
    readouts = tuple(reader.figure(s.name[:1].upper() + s.name[1:], s.height, "length", "up from the baseline") for s in found.schools)
    picture = Markup(
        plot(
            lines,
            Axis(f"speed, {system.speed.label}", system.speed.si, 0.0),
            Axis("degrees, bow up", 1.0),
            "Trim over speed with the line of thrust high or low",
            height=330.0,
        )
    )
    return Tab(picture=picture, readouts=readouts, findings=reader.findings(found.findings), title="High or low")
