"""Speed: resistance over speed, part by part, against the thrust."""

import math
from dataclasses import dataclass

import numpy as np
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.drawing.floating import Scene, draw
from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.plain_text import whole
from yarekeel.stages.running.resistance import PARTS
from yarekeel.stages.underway import speed, underway
from yarekeel.web.shared.page import Readout
from yarekeel.web.shared.top_speed import top_speed
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Question, Tab, question, refused
from yarekeel.web.stages.underway.arrows import pushing

TITLE, RANK = "Speed", 1
NAMES = {
    "friction": "skin friction",
    "appendage": "fins",
    "wave": "waves",
    "transom": "transom",
    "planing": "planing lift",
    "foil": "wings",
    "air": "air",
    "tow": "tow",
}
ROWS = 9


@dataclass(frozen=True)
class SpeedMore:
    asks: tuple[Question, ...]
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    at: str
    picture: Markup
    forces: tuple[tuple[str, ...], ...]


def view(asked: PageRequest) -> Tab:
    """The chart, the figures and a table of some speeds."""
    throttle_ask, throttle = question(asked, "throttle", "Throttle", "percent", "100 %", 1.0, "of every motor")
    wind_ask, wind = question(asked, "wind", "Head wind", "speed", "0 m/s", 0.0, "less than 0: from astern")
    depth_ask, depth = question(asked, "depth", "Depth of the water", "length", "deep", math.inf, "shallow water slows a hull")
    throttle, wind, depth = 1.0 if throttle is None else throttle, wind or 0.0, math.inf if depth is None else depth
    asks = {"throttle": throttle_ask, "wind": wind_ask, "depth": depth_ask}
    try:
        speed.checked(throttle, wind, depth)
    except InvalidInput as error:
        asks[error.field] = refused(asks[error.field], error.sentence)
        throttle, wind, depth = 1.0, 0.0, math.inf
    found = speed.assess(asked.craft, throttle, wind, depth)
    told = asked.reader.findings(underway.assess(asked.craft).findings)
    if found is None:
        return Tab(title="What to expect", findings=told, more=None)
    return Tab(
        picture=_chart(asked, found),
        readouts=_readouts(asked, found),
        findings=(*asked.reader.findings(found.findings), *told),
        title="What to expect",
        more=_more(asked, found, tuple(asks.values())),
    )


def _chart(asked: PageRequest, found: speed.SpeedAssessment) -> Markup:
    reader, system = asked.reader, asked.reader.system
    holds = found.resistance
    v = holds.speeds.tolist()
    each = zip(v, holds.newtons.tolist(), holds.band.tolist(), strict=True)
    words = [f"{reader.say(r, 'force')}, ±{reader.say(b, 'force')} at {reader.say(s, 'speed')}" for s, r, b in each]
    lines = [Trace(v, holds.newtons.tolist(), "resistance", "warm", words)]
    lines += [Trace(v, np.maximum(holds.newtons + side * holds.band, 0.0).tolist(), "", "faint") for side in (-1, 1)]
    for name in PARTS:
        part = holds.part(name)
        if np.nanmax(np.abs(part)) > 0.04 * float(holds.newtons.max()):
            lines.append(Trace(v, part.tolist(), NAMES[name], "over"))
    most = 1.25 * float(holds.newtons.max())
    if found.thrust is not None:
        lines.append(Trace(v, np.where(found.thrust >= 0, found.thrust, np.nan).tolist(), "thrust", "soft"))
        most = max(most, min(1.1 * float(found.thrust.max()), 3 * most))
    marks = [Mark(found.match.top.speed, "")] if found.match is not None else []
    return Markup(
        plot(
            lines,
            Axis(f"speed, {system.speed.label}", system.speed.si, 0.0),
            Axis(system.force.label, system.force.si, 0.0, most),
            "Resistance and thrust over speed",
            height=340.0,
            upright=marks,
        )
    )


def _readouts(asked: PageRequest, found: speed.SpeedAssessment) -> tuple[Readout, ...]:
    reader, say = asked.reader, asked.reader.say
    holds, m = found.resistance, found.match
    out = []
    if m is not None:
        out.append(top_speed(reader, m))
        out.append(reader.figure("Goes farthest at", m.economical.speed, "speed", f"{say(m.economical.throttle, 'percent')} throttle"))
    out.append(reader.figure("Waterline", holds.boat.waterline, "length", "at rest"))
    out.append(reader.figure("Wetted surface", holds.boat.wetted, "area", "of the hull, at rest"))
    return tuple(out)


def _more(asked: PageRequest, found: speed.SpeedAssessment, asks: tuple[Question, ...]) -> SpeedMore:
    say = asked.reader.say
    holds = found.resistance
    used = [n for n in PARTS if np.nanmax(np.abs(holds.part(n))) > 0]
    rows = []
    for k in np.linspace(1, holds.speeds.size - 1, ROWS).astype(int).tolist():
        b = holds.balances[k]
        cells = [say(float(holds.speeds[k]), "speed"), f"{say(float(holds.newtons[k]), 'force')} ±{say(float(holds.band[k]), 'force')}"]
        cells += [say(max(b.part(n), 0.0), "force") if b is not None else "" for n in used]
        cells.append(say(b.attitude.trim, "trim") if b is not None else "no balance")
        cells.append(say(float(found.thrust[k]), "force") if found.thrust is not None else "")
        rows.append(tuple(cells))
    heads = ("Speed", "Resistance", *(NAMES[n].capitalize() for n in used), "Trim", "Thrust")
    percent, picture, forces = _who_pushes(asked, found)
    return SpeedMore(asks, heads, tuple(rows), str(percent), picture, forces)


def _who_pushes(asked: PageRequest, found: speed.SpeedAssessment) -> tuple[int, Markup, tuple[tuple[str, ...], ...]]:
    """The share of the fastest speed that is shown (per cent), the boat there with every force an arrow, and the forces in words."""
    say, holds = asked.reader.say, found.resistance
    text = asked.ask.get("at_speed", "")
    percent = 60 if (number := whole(text)) is None else min(number, 100)
    k = round(percent / 100 * (holds.speeds.size - 1))
    b = holds.balances[k]
    if b is None:
        return percent, Markup(""), ()
    rows = []
    for f in b.forces:
        x, _, z = f.newtons
        if abs(x) + abs(z) > 1e-9:
            along = f"{say(abs(x), 'force')} {'ahead' if x > 0 else 'back'}" if abs(x) > 1e-9 else ""
            upright = f"{say(abs(z), 'force')} {'up' if z > 0 else 'down'}" if abs(z) > 1e-9 else ""
            rows.append(
                (
                    f"{f.part.capitalize()}{', ' + f.name if f.name else ''}",
                    along,
                    upright,
                    say(f.band, "percent") if f.band else "",
                    f.law.citation,
                )
            )
    arrows = pushing(b, say)
    title = f"At {say(float(holds.speeds[k]), 'speed')}: {say(b.attitude.trim, 'trim')}"
    craft = asked.craft
    scene = Scene(hull=craft.hull, attitude=b.attitude, title=title, arrows=arrows, gravity=craft.gravity, surface=0.55)
    return percent, Markup(draw(scene)), tuple(rows)
