"""Run: a course followed in time; the boat at a moment, speed, trim, current and what is left of the pack, and the pond from above."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Floats
from yarekeel.drawing import pond
from yarekeel.drawing.floating import Scene, draw
from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.stages.underway import planing, run
from yarekeel.units import NBSP
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Question, Tab, question, refused
from yarekeel.web.stages.underway.arrows import pushing

TITLE, RANK = "Run", 2
USUAL = "4 0%; 30 100%; turn; 30 60%; 12 0%"
DRAWN = 240
"""Points that a curve is drawn through."""
FIRST, WHOLE = 200, 1000
"""Parts of the time: what is shown to begin with, and all of it."""
NEEDS = "It needs a boat that floats and a drive whose pull is known at speed: say on Drive what each motor turns."
HINT = "seconds and throttle, a head wind where there is one; turn to head back"


@dataclass(frozen=True)
class RunMore:
    course: Question
    depth: Question
    text: str
    charts: tuple[Markup, ...]
    why: str
    at: int = FIRST
    last: str = ""
    strip: Markup = Markup("")
    pond: Markup = Markup("")


def asked_for(asked: PageRequest) -> tuple[Question, Question, str, run.RunAssessment | None]:
    """The questions as typed, the course that is run, and the run."""
    typed = asked.ask.get("course", "")
    course = Question("course", "Course", typed, USUAL, "", HINT)
    depth_ask, depth = question(asked, "run_depth", "Depth of the water", "length", "deep", float("inf"), "nothing: deep")
    text = typed.strip() or USUAL
    try:
        legs = run.legs_of(text)
    except InvalidInput as error:
        course, text, legs = refused(course, error.sentence), USUAL, run.legs_of(USUAL)
    try:
        found = run.assess(asked.craft, legs, float("inf") if depth is None else depth)
    except InvalidInput as error:
        depth_ask, found = refused(depth_ask, error.sentence), run.assess(asked.craft, legs)
    return course, depth_ask, text, found


def view(asked: PageRequest) -> Tab:
    """The boat at a moment of the run, and the four curves."""
    course, depth, text, found = asked_for(asked)
    if found is None:
        return Tab(title="The run", more=RunMore(course, depth, text, (), NEEDS))
    reader, say, motion = asked.reader, asked.reader.say, found.motion
    typed = asked.ask.get("run_at", "")
    at = round(min(max(_number(typed), 0.0), WHOLE)) if typed else FIRST
    k = found.at(at / WHOLE * float(motion.time[-1]))
    far, unit = say(float(motion.place.max()), "room").rsplit(NBSP, 1)
    fastest = float(motion.speed.max())
    readouts = [
        reader.figure("Fastest", fastest, "speed", f"±{say(found.doubt, 'percent')}, flat water", half=found.doubt * fastest),
        Readout("Gets out to", far, unit, f"{say(float(motion.distance[-1]), 'room')} in {say(float(motion.time[-1]), 'span')}"),
        reader.figure("Draws at most", float(motion.current.max()), "current", "with what is drawn besides"),
    ]
    if found.left is not None:
        readouts.append(reader.figure("Left in the pack", max(float(found.left[-1]), 0.0), "percent", "at the end"))
    last = say(float(motion.time[-1]), "span")
    more = RunMore(course, depth, text, _charts(asked, found, k), "", at, last, _strip(found, k), _pond(asked, found, k))
    return Tab(
        picture=_picture(asked, found, k),
        readouts=tuple(readouts),
        findings=reader.findings(found.findings),
        title="What this run says",
        more=more,
    )


def _number(text: str) -> float:
    """What a slider sends; the first moment for anything else."""
    try:
        value = float(text[:20])
    except ValueError:
        return float(FIRST)
    return value if np.isfinite(value) else float(FIRST)


def kept_as(found: run.RunAssessment, text: str) -> dict[str, Any]:
    """What of a run is kept as a prediction, SI units; what is not known is null."""
    motion = found.motion
    fastest = float(motion.speed.max())
    return {
        "course": text,
        "fastest_ms": fastest,
        "fastest_band_ms": found.doubt * fastest,
        "distance_m": float(motion.distance[-1]),
        "farthest_m": float(motion.place.max()),
        "time_s": float(motion.time[-1]),
        "most_current_a": float(motion.current.max()),
        "trim_deg": float(np.degrees(found.trim[int(np.argmax(motion.speed))])),
        "planes_after_s": found.planes_after,
        "coasts_m": found.coasts,
        "left": None if found.left is None else float(found.left[-1]),
        "back_by_m": None if found.back_by is None else found.back_by[1],
    }


def _picture(asked: PageRequest, found: run.RunAssessment, k: int) -> Markup:
    """The boat in its tank at a moment, every force an arrow."""
    craft, say, motion = asked.craft, asked.reader.say, found.motion
    b = found.balance_at(k)
    attitude = b.attitude if b is not None else found.holds.boat.rest
    throttle, v = float(motion.throttle[k]), float(motion.speed[k])
    arrows = pushing(b, say, float(motion.thrust[k])) if b is not None and v > 0 else []
    title = f"{say(float(motion.time[k]), 'span')}: {say(v, 'speed')}, {say(attitude.trim, 'trim')}, throttle {say(throttle, 'percent')}"
    return Markup(draw(Scene(hull=craft.shown, attitude=attitude, title=title, arrows=arrows, gravity=craft.gravity, surface=0.6)))


def _strip(found: run.RunAssessment, k: int) -> Markup:
    """The throttle over the run, with the moment that is shown."""
    motion = found.motion
    at = np.linspace(0, motion.time.size - 1, min(DRAWN, motion.time.size)).astype(int)
    lines = [Trace(motion.time[at].tolist(), (100 * motion.throttle[at]).tolist(), "", "soft")]
    mark = [Mark(float(motion.time[k]), "", "now")]
    return Markup(plot(lines, Axis("s", 1.0, 0.0), Axis("%", 1.0, 0.0, 100.0), "Throttle", height=150.0, upright=mark))


def _pond(asked: PageRequest, found: run.RunAssessment, k: int) -> Markup:
    say, motion = asked.reader.say, found.motion
    where = found.back_by[1] if found.back_by is not None else None
    words = (say(float(motion.place.max()), "room"), f"turn by {say(where, 'room')}" if where is not None else "")
    return Markup(pond.draw(motion.place, k, where, found.wind_out, words))


def _charts(asked: PageRequest, found: run.RunAssessment, k: int) -> tuple[Markup, ...]:
    system, motion, say = asked.reader.system, found.motion, asked.reader.say
    at = np.linspace(0, motion.time.size - 1, min(DRAWN, motion.time.size)).astype(int)
    now = [Mark(float(motion.time[k]), "", "now")]

    def chart(values: Floats, axis: Axis, title: str, shown: str, half: Floats | None = None, limits: tuple[Mark, ...] = ()) -> Markup:
        lines = [Trace(motion.time[at].tolist(), values[at].tolist(), "", "soft")]
        if half is not None:
            lines += [Trace(motion.time[at].tolist(), (values + side * half)[at].tolist(), "", "faint") for side in (-1, 1)]
        words = f"{title}, {shown}"
        return Markup(plot(lines, Axis("s", 1.0, 0.0), axis, words, width=388.0, height=210.0, across=limits, upright=now))

    trims = np.degrees(found.trim)
    out = [
        chart(
            motion.speed,
            Axis(system.speed.label, system.speed.si, 0.0),
            "Speed",
            say(float(motion.speed[k]), "speed"),
            found.doubt * motion.speed,
        ),
        chart(trims, Axis("degrees, bow up", 1.0, None), "Trim", say(float(found.trim[k]), "trim"), None, _hops(asked, float(trims.max()))),
        chart(motion.current, Axis("A", 1.0, 0.0), "Current", say(float(motion.current[k]), "current"), None, _allowed(found)),
    ]
    if found.left is not None:
        left = np.maximum(found.left, 0.0)
        keep = (Mark(run.RESERVE, f"keep {say(run.RESERVE, 'percent')}"),)
        out.append(chart(left, Axis("%", 0.01, 0.0), "Left in the pack", say(float(left[k]), "percent"), None, keep))
    return tuple(out)


def _hops(asked: PageRequest, highest: float) -> tuple[Mark, ...]:
    """The trim at which it may begin to hop, where a planing bottom has one that is near what it reaches."""
    found = planing.assess(asked.craft)
    if found is None or not found.points:
        return ()
    least = min(p.hops_at for p in found.points) - found.bottom.slope
    return (Mark(least, "may hop above, low confidence"),) if least < 1.6 * max(highest, 1.0) else ()


def _allowed(found: run.RunAssessment) -> tuple[Mark, ...]:
    """What the weakest of pack, control and motor allows, where that is near what is drawn."""
    if found.allowed is None or found.allowed > 2.5 * float(found.motion.current.max()):
        return ()
    return (Mark(found.allowed, "the weakest part allows"),)
