"""Floats and hulls: clear or touching, the wobble, what flies, what the beams carry, and what lowering the floats does."""

import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.drawing import tank
from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.stages.design.outers import outers_of
from yarekeel.stages.stability import floats
from yarekeel.stages.stability.floats import FloatsAssessment, Lowered
from yarekeel.units import unit_of
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.stability.heeled import heeled
from yarekeel.web.stages.tab import Answer, Tab

TITLE, RANK = "Floats and hulls", 2


@dataclass(frozen=True)
class FloatsMore:
    picture: Markup
    charts: tuple[Markup, ...]
    rows: tuple[tuple[str, ...], ...]


def offered(asked: PageRequest) -> bool:
    """A boat of several hulls, or with floats."""
    return bool(outers_of(asked.craft))


def view(asked: PageRequest) -> Tab:
    """The outer bodies of this boat."""
    h = heeled(asked)
    result = floats.assess(h.craft, h.result)
    if result is None or h.result.afloat is None:
        return Tab(findings=asked.reader.findings(h.result.findings[:1]), title="Floats and hulls")
    say = asked.reader.say
    over = floats.lowered(h.craft)
    charts = _charts(asked, over) if len(over) > 2 else ()
    rows = tuple(
        (
            s.outer.name,
            _clear(asked, s.at_rest),
            _clear(asked, s.clearance),
            say(s.contact, "angle") if s.contact is not None else "–",
            say(s.under, "angle0") if s.under is not None else "–",
            say(s.flies, "angle") if s.flies is not None else "–",
        )
        for s in result.sides
    )
    a = h.result.afloat.upright.attitude
    picture = tank.across(h.craft.hull, a, tuple((s.outer.points, s.clearance) for s in result.sides if s.outer.is_float), say)
    more = FloatsMore(Markup(picture), charts, rows)
    tone = next((f.severity for f in h.result.findings if f.code == "stability.gm"), "fails")
    return Tab(
        picture=Markup(picture),
        readouts=_figures(asked, result, tone),
        findings=asked.reader.findings(result.findings),
        title="Floats and hulls",
        more=more,
        answers=_answers(asked, result, over),
    )


def _clear(asked: PageRequest, height: float) -> str:
    return f"{asked.reader.say(abs(height), 'length')} {'clear' if height > 0 else 'in the water'}"


def _figures(asked: PageRequest, r: FloatsAssessment, tone: str) -> tuple[Readout, ...]:
    reader, say = asked.reader, asked.reader.say
    asks = f"upright, floats as they are; asked {say(asked.design.brief.least_gm_m, 'length')}"
    out = [reader.figure(label="GM free", value=r.stiff, kind="length", note=asks, tone=tone)]
    if r.stiff_after is not None:
        out.append(reader.figure("GM on a float", r.stiff_after, "length", "just after it touches"))
    if r.wobble is not None:
        word = next((f.severity for f in r.findings if f.code == "floats.clear"), "")
        out.append(Readout(label="Wobble", number=say(r.wobble, "angle"), unit="", note="from one contact to the other", tone=word))
    flies = [s for s in r.sides if s.flies is not None]
    if flies:
        one = min(flies, key=lambda s: s.flies or 0.0)
        out.append(Readout("First to fly", say(one.flies or 0.0, "angle"), "", f"{one.outer.name} leaves the water"))
    if r.beam is not None:
        out.append(reader.figure("Beams bent by", r.beam.bending, "moment", f"at {say(r.beam.lean, 'angle0')}, at the middle"))
    return tuple(out)


def _charts(asked: PageRequest, over: tuple[Lowered, ...]) -> tuple[Markup, ...]:
    say, length = asked.reader.say, unit_of("length", asked.reader.system)
    x = [p.by for p in over]
    across = Axis(f"floats lower by, {length.label}", length.si)

    def line(values: list[float | None], kind: str, label: str, look: str = "") -> Trace:
        known = [math.nan if v is None else v for v in values]
        return Trace(x=x, y=known, label=label, look=look, words=["–" if math.isnan(v) else say(v, kind) for v in known])

    gm, moment = Mark(asked.design.brief.least_gm_m, "GM asked"), unit_of("moment", asked.reader.system)
    charts = (
        (
            "Clearance, held upright",
            [line([p.clearance for p in over], "length", "", "soft")],
            Axis(length.label, length.si),
            (Mark(0.0, "touches the water"),),
        ),
        (
            "Lean at which one touches, or flies",
            [line([p.contact for p in over], "angle", "touches"), line([p.flies for p in over], "angle", "flies", "soft")],
            Axis("lean, °", math.radians(1), least=0.0),
            (),
        ),
        (
            "Stiffness (GM)",
            [line([p.gm for p in over], "length", "upright"), line([p.after for p in over], "length", "on a float", "soft")],
            Axis(length.label, length.si),
            (gm,),
        ),
        (
            "Bending of the beams at most push",
            [line([p.bending for p in over], "moment", "", "warm")],
            Axis(moment.label, moment.si, least=0.0),
            (),
        ),
    )
    here = (Mark(0.0, "as it is", "peak-line"),)
    return tuple(
        Markup(plot(lines, across, up, title, width=384.0, height=220.0, across=marks, upright=here)) for title, lines, up, marks in charts
    )


def _answers(asked: PageRequest, r: FloatsAssessment, over: tuple[Lowered, ...]) -> tuple[Answer, ...]:
    by = floats.lowering_to_touch(r)
    if by is None or not over:
        return ()
    say = asked.reader.say
    words = f"Lower the floats by {say(by, 'length')}: both touch when it stands upright, and the free play is gone."
    return (Answer(title="Take the wobble out", words=words, do="answer.floats", args={"by": by}, button="Lower them"),)
