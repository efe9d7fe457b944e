"""Foils and wings: the wings as fields, where they lift, what holds the boat up there."""

import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.core.lifting.wing import GROUND_LAWS
from yarekeel.drawing.floating import Arrow, Scene, draw
from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.stages.running.foils import wings_of
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.underway import foils
from yarekeel.web.shared.fields import Field
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Answer, Tab

TITLE, RANK = "Foils and wings", 7
FIELDS = (
    ("span_m", ""),
    ("chord_m", ""),
    ("incidence_deg", "nose up, to the boat's x axis"),
    ("dihedral_deg", "tips up"),
    ("camber", "0: symmetrical; 0.04 usual"),
    ("flap", "share of the chord; 0: none"),
)
PLACE = ("at_m.0", "at_m.2")
NONE = (
    "It has no foil and no wing. Add a pair under the hull and see from what speed they lift it, whether front and rear lift together, and "
    "how high it flies; or one over it, as a fairing on Shape, for a craft that rides on the air near the water."
)
SINKS = "Its foils are entered; it needs a boat that floats level enough to run."
NEAR: float = math.radians(0.05)


@dataclass(frozen=True)
class WingFields:
    """A wing's fields, its name and what it does in words."""

    name: str
    fields: tuple[Field, ...]
    words: str
    body: int


@dataclass(frozen=True)
class FoilsMore:
    wings: tuple[WingFields, ...]
    rows: tuple[tuple[str, ...], ...]
    heads: tuple[str, ...]
    control: tuple[tuple[str, ...], ...]
    controlled: str
    over: tuple[tuple[str, ...], ...]
    over_heads: tuple[str, ...]
    laws: tuple[tuple[str, str], ...]
    law: str
    chart: Markup
    why: str


def view(asked: PageRequest) -> Tab:
    """The boat in flight, its figures, and the tables."""
    law = asked.ask.get("ground", "")
    law = law if law in GROUND_LAWS else next(iter(GROUND_LAWS))
    laws = tuple((code, name) for code, (name, _) in GROUND_LAWS.items())
    try:
        found = foils.assess(asked.craft, law)
    except InvalidInput:
        found = None
    fields = _fields(asked, found)
    if found is None:
        more = FoilsMore(fields, (), (), (), "", (), (), laws, law, Markup(""), SINKS if fields else NONE)
        return Tab(title="On its foils", more=more)
    reader, say = asked.reader, asked.reader.say
    readouts = []
    if found.lift_off is not None:
        readouts.append(reader.figure("Lifts off at", found.lift_off, "speed", "its hull clear of the water"))
        readouts.append(reader.figure("Takes until there", found.needs or 0.0, "force", "the most resistance on the way"))
    cruise = foils.cruise_of(found)
    if cruise is not None:
        readouts.append(
            reader.figure("Flies", cruise.clear, "length", f"clear at {say(cruise.speed, 'speed')}, {say(cruise.trim, 'trim')}")
        )
    heads = ("Speed", "Hull clear", "Trim", *(f"{w.foil.name.capitalize()}, deep" for w in found.wings), "Holds itself")
    rows = []
    for row in found.flown[:: max(1, len(found.flown) // foils.ROWS)]:
        clear = say(row.clear, "length") if row.clear > 0 else "in the water"
        wings = [
            f"{say(lift, 'force')}, {say(depth, 'length') if depth > 0 else 'out'}"
            for lift, depth in zip(row.lifts, row.depths, strict=True)
        ]
        rows.append((say(row.speed, "speed"), clear, say(row.trim, "trim"), *wings, "yes" if row.steady else "no"))
    control = tuple(
        (say(c.speed, "speed"), say(c.per_degree, "moment"), say(c.needed, "degrees"), say(c.gain, "percent")) for c in found.control
    )
    over_heads = ("Wing", "Height", "Over span", *(f"Induced drag, {name}" for _, name in laws), "Lifts")
    over = tuple(
        (o.name, say(o.height, "length"), say(o.ratio, "ratio"), *(say(f, "percent") for _, f in o.factors), say(o.lift, "force"))
        for o in found.over
    )
    more = FoilsMore(fields, tuple(rows), heads, control, found.controlled, over, over_heads, laws, law, _chart(asked, found), "")
    return Tab(
        picture=_picture(asked, found, cruise, law),
        readouts=tuple(readouts),
        findings=reader.findings(found.findings),
        title="On its foils",
        more=more,
        answers=_answers(asked, found),
    )


def _fields(asked: PageRequest, found: foils.FoilsAssessment | None) -> tuple[WingFields, ...]:
    say, known = asked.reader.say, {w.body: w for w in found.wings} if found is not None else {}
    out = []
    for n, body in wings_of(asked.craft):
        words = ""
        if (w := known.get(n)) is not None:
            words = "in the water" if w.wet else "in the air"
            if w.share > 0:
                from_there = (
                    f", lifts it from {say(w.lifts_from, 'speed')}" if math.isfinite(w.lifts_from) else ", lifts nothing as it lies"
                )
                words += f"; {say(w.share, 'percent')} of the weight lies on it{from_there}"
        out.append(WingFields(body.name, _of(asked, n), words, n))
    return tuple(out)


def _of(asked: PageRequest, number: int) -> tuple[Field, ...]:
    """A wing's own sizes and its place."""
    shape = tuple(asked.field(f"bodies.{number}.shape.{name}", hint) for name, hint in FIELDS)
    return (*shape, *(asked.field(f"bodies.{number}.{name}") for name in PLACE))


def _answers(asked: PageRequest, found: foils.FoilsAssessment) -> tuple[Answer, ...]:
    say, out = asked.reader.say, []
    front = next((w for w in found.wings if w.wet and w.foil.at[0] > asked.craft.gravity[0]), None)
    rear = next((w for w in found.wings if w.wet and w.foil.at[0] <= asked.craft.gravity[0]), None)
    if front is None or rear is None:
        return ()
    for w, degrees, other in ((rear, found.rear_angle, "front"), (front, found.front_angle, "rear")):
        if degrees is not None and abs(math.radians(degrees) - w.foil.angle) > NEAR:
            words = f"At {say(degrees, 'degrees')} (now {say(math.degrees(w.foil.angle), 'degrees')}) it lifts with the {other} one."
            args = {"body": w.body, "degrees": degrees}
            out.append(Answer(f"Angle of “{w.foil.name}”", words, "foils.angle", args, "Set it"))
    return tuple(out)


def _picture(asked: PageRequest, found: foils.FoilsAssessment, cruise: foils.Flown | None, law: str) -> Markup:
    """In flight where it flies, else at rest."""
    craft, say = asked.craft, asked.reader.say
    holds = resistance_of(craft, 0.0, law)
    b = None
    if holds is not None and cruise is not None:
        b = next((b for b in holds.balances if b is not None and b.speed == cruise.speed), None)
    attitude = b.attitude if b is not None else found.rest
    arrows = []
    if b is not None:
        for w, lift in zip(found.wings, cruise.lifts if cruise is not None else (), strict=True):
            if abs(lift) > 1e-6:
                arrows.append(Arrow(w.foil.at, (0.0, 0.0, lift), f"{w.foil.name} {say(lift, 'force')}"))
        arrows.append(Arrow(craft.gravity, (0.0, 0.0, -craft.mass * 9.80665), f"weight {say(craft.mass * 9.80665, 'force')}"))
    title = f"At {say(cruise.speed, 'speed')}: {say(attitude.trim, 'trim')}" if cruise is not None else "At rest: it does not lift off"
    return Markup(draw(Scene(hull=craft.shown, attitude=attitude, title=title, arrows=arrows, gravity=craft.gravity, surface=0.7)))


def _chart(asked: PageRequest, found: foils.FoilsAssessment) -> Markup:
    """How high it is over speed."""
    system, say = asked.reader.system, asked.reader.say
    v = [r.speed for r in found.flown]
    words = [f"{say(r.clear, 'length')} clear at {say(r.speed, 'speed')}" for r in found.flown]
    lines = [Trace(v, [r.clear for r in found.flown], "lowest point of the hull", "soft", words)]
    for k, (w, look) in enumerate(zip(found.wings, ("warm", "over", "faint", "faint"), strict=False)):
        lines.append(Trace(v, [-r.depths[k] for r in found.flown], w.foil.name, look))
    marks = [Mark(0.0, "the water")]
    speeds = Axis(f"speed, {system.speed.label}", system.speed.si, 0.0)
    heights = Axis(f"over the water, {system.length.label}", system.length.si)
    return Markup(plot(lines, speeds, heights, "Height over speed", height=280.0, across=marks))
