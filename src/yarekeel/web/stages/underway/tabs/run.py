"""Run: a throttle profile followed in time; speed, trim, current and what is left of the pack."""

from dataclasses import dataclass

import numpy as np
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Floats
from yarekeel.drawing.plots import Axis, Trace, plot
from yarekeel.stages.underway import run
from yarekeel.units import NBSP
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Question, Tab, refused

TITLE, RANK = "Run", 2
USUAL = "5 0%; 30 100%; 60 60%; 15 0%"
DRAWN = 240
"""Points that a curve is drawn through."""


@dataclass(frozen=True)
class RunMore:
    course: Question
    charts: tuple[Markup, ...]
    why: str


def view(asked: PageRequest) -> Tab:
    """The four curves of a course."""
    text = asked.ask.get("course", "").strip()
    course = Question(
        "course", "Course", asked.ask.get("course", ""), USUAL, "", "seconds and throttle, with a head wind where there is one"
    )
    try:
        legs = run.legs_of(text or USUAL)
    except InvalidInput as error:
        course, legs = refused(course, error.sentence), run.legs_of(USUAL)
    found = run.assess(asked.craft, legs)
    if found is None:
        why = "It needs a boat that floats and a drive whose pull is known at speed: say on Drive what each motor turns."
        return Tab(title="The run", more=RunMore(course, (), why))
    reader, motion = asked.reader, found.motion
    far, unit = reader.say(float(motion.distance[-1]), "room").rsplit(NBSP, 1)
    readouts = [
        reader.figure("Fastest", float(motion.speed.max()), "speed", "straight ahead, flat water"),
        Readout("Goes", far, unit, f"in {reader.say(float(motion.time[-1]), 'seconds')}"),
        reader.figure("Draws at most", float(motion.current.max()), "current", "with what is drawn besides"),
    ]
    if found.left is not None:
        readouts.append(reader.figure("Left in the pack", max(float(found.left[-1]), 0.0), "percent", "at the end"))
    more = RunMore(course, _charts(asked, found), "")
    return Tab(readouts=tuple(readouts), findings=reader.findings(found.findings), title="The run", more=more)


def _charts(asked: PageRequest, found: run.RunAssessment) -> tuple[Markup, ...]:
    system, motion = asked.reader.system, found.motion
    at = np.linspace(0, motion.time.size - 1, min(DRAWN, motion.time.size)).astype(int)

    def chart(values: Floats, name: str, si: float, title: str, least: float | None = 0.0) -> Markup:
        lines = [Trace(motion.time[at].tolist(), values[at].tolist(), "", "soft")]
        return Markup(plot(lines, Axis("s", 1.0, 0.0), Axis(name, si, least), title, width=388.0, height=210.0))

    out = [
        chart(motion.speed, system.speed.label, system.speed.si, "Speed"),
        chart(np.degrees(found.trim), "degrees, bow up", 1.0, "Trim", None),
        chart(motion.current, "A", 1.0, "Current"),
    ]
    if found.left is not None:
        out.append(chart(np.maximum(found.left, 0.0), "%", 0.01, "Left in the pack"))
    return tuple(out)
