"""Dive: from surfaced to under by the share of the tanks that is full."""

import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.hydrostatics.inside import Laden, Part
from yarekeel.drawing.floating import Inside, Scene, Spot, draw
from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.plain_text import whole
from yarekeel.stages.afloat import dive
from yarekeel.stages.changes.ways import tank
from yarekeel.units import unit_of
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.afloat.tabs.water import loose
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Answer, Question, Tab, question

TITLE, RANK = "Dive", 6


@dataclass(frozen=True)
class DiveMore:
    share: int
    way: Markup
    inlet: Question
    trim: tuple[Question, ...]
    waters: tuple[tuple[str, str], ...]
    places: tuple[tuple[str, str], ...]
    has_tank: bool


def offered(asked: PageRequest) -> bool:
    """A hull with a deck may dive."""
    return any(b.role == "hull" and b.deck == "decked" for b in asked.design.bodies)


def view(asked: PageRequest) -> Tab:
    """The boat at the share asked for, the way down, and what trims it."""
    craft, say = asked.craft, asked.reader.say
    text = asked.ask.get("share", "100")
    percent = 100 if (number := whole(text)) is None else min(100, number)
    usual = dive.INLET_OUT if any(t.compartment.vented for t in dive.tanks_of(craft)) or not dive.tanks_of(craft) else 0.0
    inlet, out = question(
        asked=asked, name="inlet", label="Air inlet to stay out by", kind="length", placeholder=say(usual, "length"), default=usual
    )
    result = dive.assess(craft, percent / 100, max(out or 0.0, 0.0))
    s = result.state
    spots = [Spot(at, name, "opening") for name, at in craft.openings]
    picture = draw(
        Scene(
            hull=craft.hull,
            attitude=s.attitude,
            title=f"Tanks {percent} % full" if result.tanks else "No tanks yet",
            inside=_inside(asked, percent / 100, s),
            arrows=(),
            spots=spots,
            gravity=s.gravity,
            buoyancy=s.buoyancy,
            note="" if s.afloat else f"Under water, {_heavy(asked, s.net)}.",
            surface=0.4,
        )
    )
    lead, lead_x = question(
        asked=asked, name="lead_x", label="Lead, from aft", kind="length", placeholder="where it fits", hint="empty: lead or foam alone"
    )
    foam, foam_x = question(asked=asked, name="foam_x", label="Foam, from aft", kind="length", placeholder="where it fits")
    waters = tuple((name, f"{say(abs(d), 'mass')} {'lighter' if d > 0 else 'heavier'}") for name, d in result.waters)
    more = DiveMore(
        share=percent,
        way=Markup(_way(asked, result, percent)),
        inlet=inlet,
        trim=(lead, foam),
        waters=waters,
        places=_places(asked, result),
        has_tank=bool(result.tanks),
    )
    answers = (_tank(asked, out or 0.0),) if not result.tanks else (_trim(asked, lead_x, foam_x),)
    return Tab(
        picture=Markup(picture),
        readouts=_figures(asked, s),
        findings=asked.reader.findings(result.findings),
        title="On the way down",
        more=more,
        answers=answers,
    )


def _heavy(asked: PageRequest, net: float) -> str:
    if abs(net) < 5e-7:
        return "neither rises nor sinks"
    return f"{asked.reader.say(abs(net), 'mass')} too {'heavy: it goes on down' if net > 0 else 'light'}"


def _inside(asked: PageRequest, share: float, s: dive.DiveState) -> list[Inside]:
    craft = asked.craft
    tanks = dive.tanks_of(craft)
    out = [Inside(t.mesh, "inside-space", t.compartment.name) for t in tanks if t.mesh is not None]
    if share > 0 and tanks:
        laden = Laden(craft.hull.kernel, (Part(craft.hull.kernel),), [t.liquid(t.capacity * share) for t in tanks])
        out += loose(laden.liquids, laden.levels(s.attitude), s.attitude)
    foam = [Inside(craft.piece(n), "inside-foam", b.name) for n, b in enumerate(asked.design.bodies) if b.role == "foam"]
    return [*out, *foam]


def _places(asked: PageRequest, result: dive.DiveAssessment) -> tuple[tuple[str, str], ...]:
    """Where the tanks' middle lies, where it would lie level dived, and what moving them does."""
    say = asked.reader.say
    if result.tank_x is None:
        return ()
    out = [("Tanks' middle, from aft", say(result.tank_x, "length"))]
    if result.level_x is not None:
        out.append(("Level dived with it at", say(result.level_x, "length")))
    step = 0.0127 if asked.reader.system.length.label == "in" else 0.01  # half an inch
    return (*out, (f"For every {say(step, 'length')} forward", say(-step * result.trim_per_metre, "trim")))


def _figures(asked: PageRequest, s: dive.DiveState) -> tuple[Readout, ...]:
    reader, say = asked.reader, asked.reader.say
    net = "heavier than the water it pushes aside" if s.net > 0 else "still to take before it is under"
    stiff = (
        reader.figure(
            label="GM",
            value=s.stiffness,
            kind="length",
            note=f"BG {say(s.bg, 'length')}",
            tone="holds" if s.stiffness > 0 else "fails",
            touch="gm",
        )
        if s.afloat
        else reader.figure(
            label="BG", value=s.bg, kind="length", note="B over G: all that holds it upright", tone="holds" if s.bg > 0 else "fails"
        )
    )
    figures = (
        reader.figure("Under water it weighs" if s.net > 0 else "Light by", abs(s.net), "mass", net),
        stiff,
        reader.turn("Trim", s.attitude.trim, "trim", f"B is {say(s.buoyancy[0] - s.gravity[0], 'fore_aft')} of G in the boat"),
    )
    if s.inlet is None:
        return (*figures, reader.figure("Above water", s.above, "volume", "of the boat"))
    tone = "holds" if s.inlet > 0 else "fails"
    return (
        *figures,
        reader.figure(
            label="Air inlet", value=s.inlet, kind="length", note=f"above the water, with {say(s.above, 'volume')} of boat", tone=tone
        ),
    )


def _way(asked: PageRequest, result: dive.DiveAssessment, percent: int) -> str:
    say = asked.reader.say
    if not result.tanks:
        return ""
    share = [s.share for s in result.way]
    size = unit_of("length", asked.reader.system)
    words = [f"{say(s.share, 'percent')}: {say(s.attitude.trim, 'trim')}, GM or BG {say(s.stiffness, 'draft')}" for s in result.way]
    held = [s.stiffness if s.afloat else math.nan for s in result.way]
    lines = [Trace(x=share, y=held, label="GM", look="", words=words), Trace(share, [s.bg for s in result.way], "BG", "warm")]
    return plot(
        lines,
        Axis("of the tanks, %", 0.01, 0.0, 1.0),
        Axis(f"GM and BG, {size.label}", size.si, least=0.0),
        "What holds it upright on the way down",
        height=214.0,
        upright=(Mark(percent / 100, f"{percent} %", "peak-line"),),
    )


def _tank(asked: PageRequest, inlet_out: float) -> Answer:
    say = asked.reader.say
    try:
        found = tank.tank_for(asked.craft, inlet_out)
    except (NoAnswer, InvalidInput) as error:
        return Answer("A tank for it", str(error))
    words = (
        f"In {found.body}, from {say(found.aft_m or 0.0, 'length')} to {say(found.fore_m or 0.0, 'length')} from aft, up to "
        f"{say(found.high_m or 0.0, 'length')}: just what takes it under, and level."
    )
    return Answer(title="A tank for it", words=words, do="answer.tank", args={"inlet_out": inlet_out}, button="Add the tank")


def _trim(asked: PageRequest, lead_x: float | None, foam_x: float | None) -> Answer:
    say = asked.reader.say
    alone = lead_x is None or foam_x is None
    if alone and asked.craft.openings and any(t.compartment.vented for t in dive.tanks_of(asked.craft)):
        return Answer("Lead and foam", "It is to hang at its air inlet. Name a place for each to make it neutral all under instead.")
    try:
        t = tank.trim_alone(asked.craft) if lead_x is None or foam_x is None else tank.trim_out(asked.craft, lead_x, foam_x)
    except (NoAnswer, InvalidInput) as error:
        return Answer("Lead and foam", str(error))
    parts = []
    if t.lead > 0:
        parts.append(f"{say(t.lead, 'mass')} of lead low at {say(t.lead_at[0], 'length')} from aft")
    if t.foam > 0:
        parts.append(f"{say(t.foam, 'volume')} of foam ({say(t.foam_mass, 'mass')}) on the back at {say(t.foam_at[0], 'length')} from aft")
    words = f"{' and '.join(parts)}: with full tanks it neither rises nor sinks, and lies level."
    return Answer("Lead and foam", words, "answer.trim", {"lead_x": t.lead_at[0], "foam_x": t.foam_at[0]})
