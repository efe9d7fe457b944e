"""Sail: the lean over wind, the wind that capsizes it and that dives its bow, the lead."""

import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.drawing import sailplan
from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.stages.stability import plain_tests, sailing
from yarekeel.stages.stability.sailing import NoseDive, SailAssessment
from yarekeel.units import unit_of
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.stability.heeled import heeled
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Sail", 3


@dataclass(frozen=True)
class SailRow:
    index: int
    name: str
    fields: tuple[Field, ...]


@dataclass(frozen=True)
class SailMore:
    plan: Markup
    chart: Markup
    rows: tuple[SailRow, ...]
    dives: tuple[tuple[str, ...], ...]
    moved: str


def view(asked: PageRequest) -> Tab:
    """The sails of this boat, and what wind does with them."""
    h, say = heeled(asked), asked.reader.say
    rows = tuple(
        SailRow(k, s.name, tuple(asked.field(f"sails.{k}.{n}") for n in ("name", "area_m2", "at_m.0", "at_m.2", "coefficient")))
        for k, s in enumerate(asked.design.sails)
    )
    result = sailing.assess(h.craft, h.result)
    if result is None or h.result.afloat is None:
        return Tab(
            findings=asked.reader.findings(h.result.findings),
            title="Sail",
            more=SailMore(plan=Markup(""), chart=Markup(""), rows=rows, dives=(), moved=""),
        )
    words = f"{say(result.area, 'area')}; lead {say(result.lead, 'percent1')} of the waterline"
    plan = sailplan.draw(h.craft.hull, h.result.afloat.attitude, asked.design.sails, result.centre, result.lateral, words, result.lead)
    dives = (
        *((_dive(asked, "as it is", result.nose),) if result.nose else ()),
        *(_dive(asked, f"{say(by, 'length')} aft", nose) for by, nose in result.aft),
    )
    more = SailMore(plan=Markup(plan), chart=Markup(_chart(asked, result)), rows=rows, dives=dives, moved=result.moved)
    return Tab(
        picture=more.plan, readouts=_figures(asked, result), findings=asked.reader.findings(result.findings), title="Under sail", more=more
    )


def _dive(asked: PageRequest, words: str, nose: NoseDive) -> tuple[str, ...]:
    say = asked.reader.say
    trim = say(nose.trim, "trim") if nose.trim is not None else "goes over"
    return words, trim, say(nose.bow, "length"), say(nose.wind, "speed") if nose.wind is not None else "none up to a storm"


def _figures(asked: PageRequest, r: SailAssessment) -> tuple[Readout, ...]:
    reader, say = asked.reader, asked.reader.say
    speed = unit_of("speed", reader.system)

    def wind(label: str, value: float | None, note: str) -> Readout:
        return reader.figure(label, value, "speed", note) if value is not None else Readout(label, "–", speed.label, "none up to a storm")

    return (
        reader.figure("Sail area", r.area, "area", f"centre of effort {say(r.centre[2], 'length')} up"),
        wind("Capsize wind", r.capsize, "steady, abeam, all sail"),
        wind("Over in a gust from", r.gusted, "the steady wind before the gust"),
        wind("Bow under at", r.nose.wind, "running, all sail")
        if r.nose
        else Readout("Bow under at", "–", speed.label, "not known: no balance was found"),
        reader.figure("Lead", r.lead, "percent", "of the waterline, ahead of lateral area", extra=1),
    )


def _chart(asked: PageRequest, r: SailAssessment) -> str:
    say, speed = asked.reader.say, unit_of("speed", asked.reader.system)
    held = [(v, a) for v, a in r.leans if a is not None]
    x = [v for v, _ in held]
    limit = asked.design.brief.most_lean_deg
    across = (Mark(math.radians(limit), "lean you allow"),) if limit else ()
    upright = [Mark(r.capsize, f"goes over {say(r.capsize, 'speed')}", "rim-line warn")] if r.capsize else []
    wind = plain_tests.tipping_of(asked.craft).wind_ms
    if wind:
        upright.append(Mark(wind, "plain test", "peak-line"))
    lean = [a for _, a in held]
    words = [f"{say(v, 'speed')}: leans {say(a, 'angle')}" for v, a in held]
    last = min(sailing.MOST_WIND, 1.25 * (r.capsize or sailing.MOST_WIND))
    return plot(
        [Trace(x=x, y=lean, label="", look="", words=words)],
        Axis(f"steady wind abeam, {speed.label}", speed.si, 0.0, last),
        Axis("lean, °", math.radians(1), least=0.0),
        "Lean over wind",
        width=384.0,
        height=330.0,
        across=across,
        upright=upright,
    )
