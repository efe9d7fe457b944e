"""Sheer and marks: freeboard along both sides, openings, the water it needs, the waterline to paint."""

import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.drawing.plots import Axis, Dot, Mark, Trace, plot
from yarekeel.stages.afloat import sheer
from yarekeel.units import unit_of
from yarekeel.web.shared.fields import Field
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Question, Tab, question

TITLE, RANK = "Sheer and marks", 1


@dataclass(frozen=True)
class SheerMore:
    depth: Question
    openings: tuple[tuple[str, str, str, str], ...]
    marks: tuple[tuple[str, str, str], ...]
    mark_fields: tuple[Field, ...]
    paint: tuple[tuple[str, str, str, str], ...]


def view(asked: PageRequest) -> Tab:
    """The chart, the tables and the verdicts."""
    say, system, craft = asked.reader.say, asked.reader.system, asked.craft
    ask, depth = question(
        asked=asked, name="depth", label="Depth of the water", kind="length", placeholder="120 mm", hint="empty for deep water"
    )
    try:
        result = sheer.assess(craft, depth)
    except InvalidInput as error:
        ask = Question(name=ask.name, label=ask.label, text=ask.text, placeholder=ask.placeholder, error=error.sentence, hint=ask.hint)
        result = sheer.assess(craft)
    marks = craft.marks
    fields = tuple(asked.field(f"marks.{n}", value=v) for n, v in (("stern_x_m", marks.stern_x_m), ("bow_x_m", marks.bow_x_m)))
    more = SheerMore(
        depth=ask,
        openings=tuple(
            (s.name, say(s.at[0], "length"), say(s.height, "length"), "holds" if s.height > 0 else "fails") for s in result.openings
        ),
        marks=tuple((name, say(x, "length"), say(d, "draft")) for x, name, d in result.marks),
        mark_fields=fields,
        paint=tuple((say(p.x, "length"), say(p.up, "length"), say(p.down, "length"), say(p.out, "length")) for p in result.paint),
    )
    picture = ""
    if result.afloat is not None and (len(result.port) or len(result.starboard)):
        unit = unit_of("length", system)
        asked_free = craft.design.brief.least_freeboard_m
        lines = []
        for points, name, look in ((result.port, "port", ""), (result.starboard, "starboard", "warm")):
            words = [f"{say(float(h), 'length')} at {say(float(x), 'length')}" for x, h in points]
            lines.append(Trace(x=points[:, 0].tolist(), y=points[:, 1].tolist(), label=name, look=look, words=words))
        if len(result.port) == len(result.starboard) and float(abs(result.port - result.starboard).max()) < 1e-4:
            lines = [Trace(x=lines[0].x, y=lines[0].y, label="both sides", look="", words=lines[0].words)]
        picture = plot(
            lines,
            Axis(f"from aft, {unit.label}", unit.si),
            Axis(f"freeboard, {unit.label}", unit.si, least=0.0),
            "Freeboard along the sheer",
            height=286.0,
            across=(Mark(asked_free, f"you asked for {say(asked_free, 'length')}"),) if asked_free > 0 else (),
            dots=tuple(Dot(s.at[0], s.height, s.name) for s in result.openings if math.isfinite(s.height)),
        )
    return Tab(picture=Markup(picture), readouts=(), findings=asked.reader.findings(result.findings), title="Along the sheer", more=more)
