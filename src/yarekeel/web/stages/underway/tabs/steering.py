"""Steering: the side area under water at the running attitude against the centre of gravity, and the circle with the rudder over."""

import math
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.stages.underway import steering, turning
from yarekeel.units import NBSP
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Question, Tab, question, refused

TITLE, RANK = "Steering", 6
USUAL = 30.0


@dataclass(frozen=True)
class SteeringMore:
    asks: tuple[Question, ...] = ()
    rows: tuple[tuple[str, ...], ...] = ()
    turns: tuple[tuple[str, ...], ...] = ()
    changes: tuple[tuple[str, ...], ...] = ()


def view(asked: PageRequest) -> Tab:
    """The tables by speed and what they say."""
    found = steering.assess(asked.craft)
    if found is None:
        return Tab(title="On its course", more=SteeringMore())
    reader, say = asked.reader, asked.reader.say
    ask, degrees = question(asked, "rudder_angle", "Rudder over by", "degrees", "30°", USUAL, "of what stands aftmost in the water")
    try:
        circle = turning.assess(asked.craft, math.radians(USUAL if degrees is None else degrees))
    except InvalidInput as error:
        ask, circle = refused(ask, error.sentence), turning.assess(asked.craft)
    last = found.rows[-1]
    readouts = [
        reader.figure("Its centre", abs(last.margin), "percent", f"of the waterline, {'aft' if last.margin >= 0 else 'ahead'} of G"),
        reader.figure("Side area", last.area, "area", f"under water at {say(last.speed, 'speed')}"),
    ]
    findings = found.findings
    turns: tuple[tuple[str, ...], ...] = ()
    changes: tuple[tuple[str, ...], ...] = ()
    if circle is not None:
        findings = (*findings, *circle.findings)
        if circle.rudder > 0:
            turns = tuple(_row(asked, t) for t in circle.turns)
            changes = tuple((name, say(radius, "room")) for name, radius in circle.changes if math.isfinite(radius))
            fastest = circle.turns[-1]
            if math.isfinite(fastest.radius):
                note = f"at {say(fastest.speed, 'speed')}; ±{say(turning.DOUBT, 'percent')}"
                far, unit = say(fastest.radius, "room").rsplit(NBSP, 1)
                readouts.insert(0, Readout("Turning radius", far, unit, note))
    if found.fin is not None:
        readouts.append(reader.figure("A fin that would do", found.fin, "area", "at the stern"))
    rows = tuple(
        (
            say(r.speed, "speed"),
            say(r.area, "area"),
            f"{say(abs(r.margin), 'percent')} {'aft' if r.margin >= 0 else 'ahead'}",
            say(r.fins, "percent"),
            say(r.fins_out, "percent"),
        )
        for r in found.rows
    )
    more = SteeringMore((ask,), rows, turns, changes)
    return Tab(readouts=tuple(readouts), findings=reader.findings(findings), title="On its course", more=more)


def _row(asked: PageRequest, t: turning.Turn) -> tuple[str, ...]:
    say = asked.reader.say
    radius = say(t.radius, "room") if math.isfinite(t.radius) else "none"
    way = "" if t.lean is None else "outward" if t.lean > 0 else "inward"
    lean = "not told" if t.lean is None else f"goes over {way}" if math.isinf(t.lean) else f"{say(abs(t.lean), 'angle')} {way}"
    return say(t.speed, "speed"), radius, lean, say(abs(t.drift), "angle"), say(t.stream, "ratio"), "yes" if t.steady else "no"
