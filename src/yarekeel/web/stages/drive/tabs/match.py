"""Match: thrust against drag over speed, the top speed, how far at which throttle, and thrust to weight of every load."""

import dataclasses
import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.core.propulsion.parts import KINDS
from yarekeel.core.propulsion.propulsors import PROPULSORS
from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.plain_text import whole
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive import match, packs
from yarekeel.stages.drive.what_if import LEAST, MOST, WhatIf, altered, other_match, side_by_side, verdicts
from yarekeel.units import said
from yarekeel.web.shared.page import Readout
from yarekeel.web.shared.top_speed import top_speed
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Question, Tab, question

TITLE, RANK = "Match", 3
OFFERED = (*PROPULSORS, "motor", "pack")
"""Kinds of the bin that can stand in for what is fitted."""
LEAST_LISTED = 0.4
"""Of the throttle: rows of the table begin here."""


@dataclass(frozen=True)
class Slider:
    """A slider in per cent of what is fitted."""

    name: str
    label: str
    percent: int


@dataclass(frozen=True)
class MatchMore:
    wanted: tuple[Question, ...]
    answer: str
    steady: tuple[tuple[str, ...], ...]
    loads: tuple[tuple[str, str, str, str], ...]
    why: str
    asked: tuple[Slider, ...] = ()
    cells: tuple[tuple[str, str], ...] = ()
    cells_asked: str = ""
    changes: tuple[tuple[str, str, str, str], ...] = ()
    args: Mapping[str, Any] = field(default_factory=dict)
    lighter: Question | None = None
    parts: tuple[tuple[str, str], ...] = ()
    parts_asked: str = ""
    verdicts: tuple[tuple[str, str, str], ...] = ()
    what: str = ""
    usual: tuple[tuple[str, str, str], ...] = ()


def view(asked: PageRequest) -> Tab:
    """The chart, the figures, a wanted speed, the table of throttles and of loads."""
    say, reader = asked.reader.say, asked.reader
    beside_ask, beside = question(
        asked, "beside", "Drawn besides", "current", say(match.BESIDE, "current"), match.BESIDE, "receiver, servos, lights"
    )
    if beside is None or not 0 <= beside <= 100:
        beside_ask = Question(
            beside_ask.name, beside_ask.label, beside_ask.text, beside_ask.placeholder, "From 0 to 100 A.", beside_ask.hint
        )
        beside = match.BESIDE
    found = match.assess(asked.craft, beside)
    loads = _loads(asked)
    if found is None:
        why = "Say on Drive what each motor turns, and give the boat a battery: then thrust stands against drag here."
        return Tab(title="How they match", more=MatchMore((), "", (), loads, why, usual=_usual(asked)))
    speed_ask, wanted = question(asked, "wanted", "Wanted speed", "speed", say(found.economical.speed, "speed"), None, "still water")
    wind_ask, wind = question(asked, "wind", "Head wind homeward", "speed", "4 m/s", None, "the way out is still")
    answer = _wanted(asked, found, wanted) if wanted is not None else ""
    if wind is not None:
        try:
            answer = f"{answer} {_home(asked, found, wind)}".strip()
        except InvalidInput as error:
            wind_ask = dataclasses.replace(wind_ask, error=error.sentence)
    readouts: tuple[Readout, ...] = (
        top_speed(reader, found),
        reader.figure("At the hump", found.reserve, "ratio", "thrust over drag there"),
        reader.figure("Goes farthest at", found.economical.speed, "speed", f"{say(found.economical.throttle, 'percent')} throttle"),
        _out(asked, found),
    )
    what, sliders, lighter = _what_if(asked)
    steady = tuple(
        (
            say(s.throttle, "percent"),
            say(s.speed, "speed"),
            say(s.current, "current"),
            _lasts(asked, s.time),
            say(s.distance / 2, "distance") if math.isfinite(s.distance) else "",
        )
        for s in found.steady
        if s.throttle >= LEAST_LISTED - 1e-9
    )
    return Tab(
        picture=_chart(asked, found, None if what.is_nothing else other_match(asked.craft, Craft(altered(asked.design, what)), beside)),
        readouts=readouts,
        findings=reader.findings(found.findings),
        title="How they match",
        more=MatchMore(
            wanted=(speed_ask, beside_ask, wind_ask),
            answer=answer,
            steady=steady,
            loads=loads,
            why="",
            asked=sliders,
            cells=(("", "as fitted"), *((str(n), f"{n} cells") for n in packs.CELLS)),
            cells_asked="" if what.cells is None else str(what.cells),
            changes=() if what.is_nothing else _changes(asked, what, beside),
            args=_args(what),
            lighter=lighter,
            parts=_offers(asked),
            parts_asked=asked.ask.get("what_part", ""),
            verdicts=() if what.is_nothing else _verdicts(asked, what),
            what=_words(asked, what),
            usual=_usual(asked),
        ),
    )


def _out(asked: PageRequest, found: match.Match) -> Readout:
    if not math.isfinite(found.top.distance):
        return Readout("Turn back by", "–", "", "no pack limits it: the crew does")
    number, unit = asked.reader.say(found.top.distance / 2, "distance").split("\N{NO-BREAK SPACE}")
    return Readout("Turn back by", number, unit, "flat out, still water, a fifth of the pack kept")


def _wanted(asked: PageRequest, found: match.Match, wanted: float) -> str:
    say, held = asked.reader.say, match.at_speed(found, wanted)
    if held is None:
        return f"It does not reach that: the top is about {say(found.top.speed, 'speed')}."
    return f"{say(held.throttle, 'percent')} throttle, {say(held.current, 'current')}, {_lasts(asked, held.time)}{_goes(asked, held)}"


def _lasts(asked: PageRequest, time: float) -> str:
    return asked.reader.say(time, "minutes") if math.isfinite(time) else "as long as the crew"


def _goes(asked: PageRequest, held: match.Steady) -> str:
    return f", {asked.reader.say(held.distance, 'distance')} in all." if math.isfinite(held.distance) else "."


def _home(asked: PageRequest, found: match.Match, wind: float) -> str:
    say = asked.reader.say
    best = match.home_against(asked.craft, found, wind)
    if best is None:
        return f"Against {say(wind, 'speed')} it makes no way home, or no pack limits it."
    return (
        f"Against {say(wind, 'speed')}: turn back by {say(best.distance, 'distance')}; home at {say(best.home.throttle, 'percent')} "
        f"throttle and {say(best.home.speed, 'speed')}, roughly."
    )


def _what_if(asked: PageRequest) -> tuple[WhatIf, tuple[Slider, ...], Question]:
    shares = [_percent(asked, name) for name in ("what_pitch", "what_size")]
    cells = asked.ask.get("what_cells", "")
    lighter_ask, lighter = question(asked, "what_lighter", "Lighter by", "mass", "200 g", 0.0, "less than 0: heavier")
    keyed = next((k for k in asked.parts() if k.key == asked.ask.get("what_part", "")), None)
    parts = (keyed,) if keyed is not None and keyed.part.kind in OFFERED else ()
    chosen = int(cells) if cells in {str(n) for n in packs.CELLS} else None
    what = WhatIf(shares[0] / 100, shares[1] / 100, chosen, lighter or 0.0, parts)
    try:
        altered(asked.design, what)
    except InvalidInput as error:
        lighter_ask = dataclasses.replace(lighter_ask, error=lighter_ask.error or error.sentence)
        what = dataclasses.replace(what, lighter=0.0, parts=())
    return what, (Slider("what_pitch", "Pitch", shares[0]), Slider("what_size", "Size", shares[1])), lighter_ask


def _args(what: WhatIf) -> dict[str, Any]:
    part = what.parts[0].key if what.parts else ""
    return {"pitch": what.pitch, "size": what.size, "cells": what.cells, "lighter": what.lighter, "part": part}


def _offers(asked: PageRequest) -> tuple[tuple[str, str], ...]:
    """Parts of the bin that can stand in for what is fitted."""
    rows = (k for k in asked.parts() if k.part.kind in OFFERED)
    return (("", "as fitted"), *((k.key, f"{KINDS[k.part.kind].title}: {k.part.name}") for k in rows))


def _words(asked: PageRequest, what: WhatIf) -> str:
    """What is asked, in a line."""
    words = []
    if what.pitch != 1:
        words.append(f"pitch {100 * what.pitch:.0f} %")
    if what.size != 1:
        words.append(f"size {100 * what.size:.0f} %")
    if what.cells:
        words.append(f"{what.cells} cells")
    if what.lighter:
        words.append(f"{asked.reader.say(abs(what.lighter), 'mass')} {'lighter' if what.lighter > 0 else 'heavier'}")
    words += [k.part.name for k in what.parts]
    text = ", ".join(words)
    return text[:1].upper() + text[1:]


def _verdicts(asked: PageRequest, what: WhatIf) -> tuple[tuple[str, str, str], ...]:
    """Each verdict that changes: what it says, as it was, as it would be."""
    rows = verdicts(asked.craft, what)
    return tuple((said(r.finding, asked.reader.system).title, r.was, r.now) for r in rows)


def _usual(asked: PageRequest) -> tuple[tuple[str, str, str], ...]:
    """Bands of thrust to weight by kind, and whether this boat lies in them."""
    ratio = match.loads(asked.craft)[0].ratio if match.loads(asked.craft) else 0.0
    say = asked.reader.say
    out = []
    for row in match.USUAL:
        where = "below" if ratio < row.low else "above" if ratio > row.high else "within"
        out.append((row.kind, f"{say(row.low, 'ratio')} to {say(row.high, 'ratio')}", where))
    return tuple(out)


def _percent(asked: PageRequest, name: str) -> int:
    text = asked.ask.get(name, "")
    value = 100 if (number := whole(text)) is None else number
    return min(max(value, round(LEAST * 100)), round(MOST * 100))


def _changes(asked: PageRequest, what: WhatIf, beside: float) -> tuple[tuple[str, str, str, str], ...]:
    """A line a figure: its name, as it is, as it would be, and which way that is, in a word."""
    say = asked.reader.say
    out = []
    for row in side_by_side(asked.craft, what, beside):
        words = [say(v, row.kind) if v is not None else "not known" for v in (row.was, row.now)]
        word = {True: "better", False: "worse", None: ""}[row.is_better]
        out.append((row.name, *words, word))
    return tuple((a, b, c, d) for a, b, c, d in out)


def _chart(asked: PageRequest, found: match.Match, other: match.Match | None) -> Markup:
    system, say = asked.reader.system, asked.reader.say
    v = found.speeds.tolist()
    points = zip(v, found.thrust.tolist(), found.drag.tolist(), strict=True)
    words = [f"thrust {say(t, 'force')}, drag {say(d, 'force')} at {say(s, 'speed')}" for s, t, d in points]
    most = 1.4 * float(found.thrust.max())
    drags = (np.maximum(found.drag - found.drag_band, 0.0), found.drag, found.drag + found.drag_band)
    rough = [np.where(d <= most, d, np.nan) for d in drags]
    edges = [np.maximum(found.thrust + side * found.thrust_band, 0.0) for side in (-1, 1)]
    lines = [
        Trace(v, found.thrust.tolist(), "thrust", "soft", words),
        *(Trace(v, e.tolist(), "", "faint") for e in (*edges, rough[0], rough[2])),
        Trace(v, rough[1].tolist(), "drag", "warm"),
    ]
    if other is not None:
        lines.append(Trace(other.speeds.tolist(), other.thrust.tolist(), "thrust, what if", "over"))
        most = max(most, 1.1 * float(other.thrust.max()))
    top = Mark(found.top.speed, "")  # the figure stands under the chart
    return Markup(
        plot(
            lines,
            Axis(f"speed, {system.speed.label}", system.speed.si, 0.0),
            Axis(system.force.label, system.force.si, 0.0, most),
            "Thrust and drag, full throttle",
            height=330.0,
            upright=[top],
        )
    )


def _loads(asked: PageRequest) -> tuple[tuple[str, str, str, str], ...]:
    say = asked.reader.say
    return tuple((row.name or "As listed", say(row.mass, "mass"), say(row.ratio, "ratio"), row.verdict) for row in match.loads(asked.craft))
