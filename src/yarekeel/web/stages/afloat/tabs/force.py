"""Under a force: throttle, tow, a hand on the rail, wind."""

import dataclasses
import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.drawing.floating import Arrow, Scene, draw
from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.plain_text import whole
from yarekeel.stages.afloat import forced
from yarekeel.stages.afloat.forced import Forces
from yarekeel.stages.changes.ways import added_float
from yarekeel.stages.design.fitted import pulls_of
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Answer, Question, Tab, question

TITLE, RANK = "Under a force", 7

SIZES = (("", "none"), ("stern", "behind the transom, against trim"), ("sides", "on each side, against heel"))


@dataclass(frozen=True)
class ForceMore:
    throttle: int
    has_motor: bool
    questions: tuple[Question, ...]
    sizes: tuple[tuple[str, str, bool], ...]
    chart: Markup


def view(asked: PageRequest) -> Tab:
    """The boat under the forces asked for."""
    forces, percent, questions = _asked(asked)
    craft, say = asked.craft, asked.reader.say
    result = forced.assess(craft, forces)
    shown = result.pushed.afloat if result.pushed else result.free
    picture = ""
    if shown is not None:
        arrows = [Arrow(p.at, p.newtons, f"{p.name} {say(sum(v * v for v in p.newtons) ** 0.5, 'force')}") for p in result.pushes]
        title = "Under the forces" if result.pushed else "Before it goes over" if result.pushes else "At rest"
        picture = draw(
            Scene(
                hull=craft.hull,
                attitude=shown.attitude,
                title=title,
                inside=(),
                arrows=arrows,
                spots=(),
                gravity=shown.gravity,
                buoyancy=shown.buoyancy,
                surface=0.55,
            )
        )
    size = asked.ask.get("size", "")
    size = size if size in dict(SIZES) else ""
    chart = ""
    allowed = math.radians(craft.design.brief.allowed_trim_deg)
    if result.over_throttle:
        share = [s for s, _ in result.over_throttle]
        trims = [t if t is not None else float("nan") for _, t in result.over_throttle]
        words = [f"{say(s, 'percent')}: {say(t, 'trim') if t is not None else 'goes over'}" for s, t in result.over_throttle]
        marks = (Mark(allowed, "bow up, as much as you allow"), Mark(-allowed, "bow down, as much as you allow"))
        chart = plot(
            [Trace(x=share, y=trims, label="", look="", words=words)],
            Axis("throttle, %", 0.01, 0.0, 1.0),
            Axis("trim, ° (bow up is more)", math.radians(1)),
            "Trim over throttle",
            height=206.0,
            across=marks,
            upright=(Mark(percent / 100, f"{percent} %", "peak-line"),),
        )
    more = ForceMore(
        throttle=percent,
        has_motor=any(pulls_of(craft.design)),
        questions=questions,
        sizes=tuple((code, title, code == size) for code, title in SIZES),
        chart=Markup(chart),
    )
    answers = (_sized(asked, forces, size),) if size else ()
    return Tab(
        picture=Markup(picture),
        readouts=_figures(asked, result),
        findings=asked.reader.findings(result.findings),
        title="Under these forces",
        more=more,
        answers=answers,
    )


def _asked(asked: PageRequest) -> tuple[Forces, int, tuple[Question, ...]]:
    craft, say = asked.craft, asked.reader.say
    low, high = craft.hull.mesh.bounds
    text = asked.ask.get("throttle", "100")
    percent = 100 if (number := whole(text)) is None else min(100, number)
    depth = float(high[2] - low[2])
    tow, pull = question(asked=asked, name="tow", label="Tow line pulls back", kind="force", placeholder=say(0.0, "force"), default=0.0)
    tow_x, x = question(
        asked=asked, name="tow_x", label="from, from aft", kind="length", placeholder=say(float(low[0]), "length"), default=float(low[0])
    )
    tow_z, z = question(
        asked=asked,
        name="tow_z",
        label="and up",
        kind="length",
        placeholder=say(float(low[2]) + 0.8 * depth, "length"),
        default=float(low[2]) + 0.8 * depth,
    )
    hand, press = question(
        asked=asked,
        name="hand",
        label="Hand on the rail",
        kind="force",
        placeholder=say(0.0, "force"),
        default=0.0,
        hint="starboard; less than 0 for port",
    )
    wind, speed = question(
        asked=asked,
        name="wind",
        label="Wind",
        kind="speed",
        placeholder=say(0.0, "speed"),
        default=0.0,
        hint="from port; less than 0 from starboard",
    )
    forces = Forces(
        throttle=percent / 100, tow=max(pull or 0.0, 0.0), tow_at=(x or 0.0, 0.0, z or 0.0), hand=press or 0.0, wind=speed or 0.0
    )
    try:
        forced.checked(forces)
    except InvalidInput as error:
        questions = tuple(
            Question(
                name=q.name,
                label=q.label,
                text=q.text,
                placeholder=q.placeholder,
                error=error.sentence if q.name == error.field else q.error,
                hint=q.hint,
            )
            for q in (tow, tow_x, tow_z, hand, wind)
        )
        return Forces(percent / 100), percent, questions
    return forces, percent, (tow, tow_x, tow_z, hand, wind)


def _figures(asked: PageRequest, result: forced.ForcedAssessment) -> tuple[Readout, ...]:
    reader, say, free = asked.reader, asked.reader.say, result.free
    if result.pushed is None or free is None or result.ends is None:
        return ()
    a, ends = result.pushed.afloat, result.ends
    mx, my = result.pushed.moments
    return (
        reader.turn("Trim", a.attitude.trim, "trim", f"{say(free.attitude.trim, 'trim')} at rest"),
        reader.turn("Heel", a.attitude.heel, "heel", f"{say(free.attitude.heel, 'heel')} at rest"),
        reader.figure("Stern lower" if ends.stern >= 0 else "Stern higher", abs(ends.stern), "length", "at the stern mark: squat"),
        reader.figure("Bow lower" if ends.bow >= 0 else "Bow higher", abs(ends.bow), "length", "at the bow mark"),
        reader.figure("Least freeboard", a.freeboard, "length", f"{say(free.freeboard, 'length')} at rest"),
        reader.figure("GM", a.gm_transverse, "length", f"{say(free.gm_transverse, 'length')} at rest"),
        reader.figure("Pitching moment", abs(my), "moment", "bow down" if my > 0 else "bow up", extra=1),
        reader.figure("Heeling moment", abs(mx), "moment", "to starboard" if mx > 0 else "to port" if mx < 0 else "none", extra=1),
    )


def _sized(asked: PageRequest, forces: Forces, what: str) -> Answer:
    say = asked.reader.say
    try:
        s = added_float.sized(asked.craft, forces, "stern" if what == "stern" else "sides")
    except (NoAnswer, InvalidInput) as error:
        return Answer("A float against it", str(error))
    long, _, deep = (say(float(v), "length") for v in (s.body.shape.build().bounds[1] - s.body.shape.build().bounds[0]))
    words = f"{s.body.name.capitalize()} {say(s.size, 'length')} wide, {long} long, {deep} deep; its own weight is not in this."
    args = {"what": "stern" if what == "stern" else "sides", **dataclasses.asdict(forces)}
    return Answer(title="A float against it", words=words, do="answer.size", args=args, button="Add it")
