"""Water inside: compartments, flooding, a leak, and the swamped boat."""

from dataclasses import dataclass
from typing import cast

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.spaces import below
from yarekeel.core.hydrostatics.inside import Level, Liquid
from yarekeel.drawing.floating import Inside, Scene, Spot, draw
from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.plain_text import whole
from yarekeel.stages.afloat import flooding, swamped
from yarekeel.stages.changes.ways import foam
from yarekeel.stages.design.craft import Craft, Space
from yarekeel.units import unit_of
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Answer, Question, Tab, question

TITLE, RANK = "Water inside", 5

IN_ROW = ("name", "body", "aft_m", "fore_m", "use")
IN_HAND = ("starboard_m", "port_m", "low_m", "high_m", "room", "filled", "liquid", "sealed", "vented")
WHERE = (("none", "let go"), ("about", "all about"), ("side", "on one side"), ("stern", "over the stern"))


@dataclass(frozen=True)
class SpaceRow:
    index: int
    name: str
    fields: tuple[Field, ...]
    holds: str
    flooded: bool
    toggled: str
    fault: str


@dataclass(frozen=True)
class WaterMore:
    mode: str
    rows: tuple[SpaceRow, ...]
    flood: str
    places: tuple[tuple[str, str, bool], ...]
    questions: tuple[Question, ...]
    bodies: tuple[str, ...]
    inside: str
    can_swamp: bool
    people: int
    where: tuple[tuple[str, str, bool], ...]
    carriers: tuple[tuple[str, str, str, str], ...]
    leak: Markup
    space: int | None = None
    chosen: tuple[Field, ...] = ()


def view(asked: PageRequest) -> Tab:
    """Flooded as asked, or swamped."""
    return _swamped(asked) if asked.ask.get("mode") == "swamped" and _open(asked.craft) else _flooded(asked)


def _open(craft: Craft) -> bool:
    return any(b.role == "hull" and b.deck == "open" for b in craft.design.bodies)


def _flooded(asked: PageRequest) -> Tab:
    craft, say = asked.craft, asked.reader.say
    flooded = frozenset(n for t in asked.ask.get("flood", "").split(",") if (n := whole(t)) is not None and n < len(craft.spaces))
    places = flooding.places(craft)
    into = asked.index("into", len(places)) or 0
    litres, volume = question(asked=asked, name="litres", label="Water in it", kind="volume", placeholder="2 l", default=0.0)
    leak, rate = question(asked=asked, name="leak", label="Leak", kind="flow", placeholder="50 ml/min", default=0.0)
    space = asked.index("space", len(craft.spaces))
    hollow, inside_of = tuple(b.name for b in asked.design.bodies if b.role in ("hull", "float")), asked.ask.get("inside", "")
    place = places[into] if places else None
    try:
        result = flooding.assess(craft, flooded, max(volume or 0.0, 0.0), place, max(rate or 0.0, 0.0))
    except InvalidInput as refused:
        litres = Question(name=litres.name, label=litres.label, text=litres.text, placeholder=litres.placeholder, error=refused.sentence)
        result = flooding.assess(craft, flooded)
    after = result.after
    inside = [Inside(s.mesh, "inside-space", s.compartment.name) for s in craft.spaces if s.mesh is not None]
    attitude = after.attitude if after else _down(craft)
    inside += _sea_in(craft, flooded, attitude)
    if after is not None and result.kernel is not None:
        inside += loose(result.kernel.liquids, after.liquids, after.attitude)
    picture = draw(
        Scene(
            craft.hull,
            attitude,
            "With the water in it" if flooded or volume else "Dry, as loaded",
            inside,
            gravity=after.gravity if after else None,
            buoyancy=after.buoyancy if after else None,
            note="" if after else "It lies on the bottom.",
            surface=0.55,
        )
    )
    chart = ""
    if result.leak is not None and len(result.leak.steps) > 1:
        unit, size = unit_of("volume", asked.reader.system), unit_of("length", asked.reader.system)
        steps = [s for s in result.leak.steps if s.margin is not None]
        words = [f"{say(s.volume, 'volume')}: {say(s.margin or 0.0, 'length')} left" for s in steps]
        chart = plot(
            [Trace(x=[s.volume for s in steps], y=[s.margin or 0.0 for s in steps], label="", look="", words=words)],
            Axis(f"water in it, {unit.label}", unit.si, least=0.0),
            Axis(f"lowest rim or opening, {size.label}", size.si),
            "As the leak fills it",
            height=210.0,
            across=(Mark(0.0, "water comes in by itself"),),
        )
    more = WaterMore(
        mode="flood",
        rows=tuple(_row(asked, k, s, flooded) for k, s in enumerate(craft.spaces)),
        flood=",".join(str(k) for k in sorted(flooded)),
        places=tuple((str(k), p.title, k == into) for k, p in enumerate(places)),
        questions=(litres, leak),
        bodies=hollow,
        inside=inside_of if inside_of in hollow else hollow[0] if hollow else "",
        can_swamp=_open(craft),
        people=0,
        where=(),
        carriers=(),
        leak=Markup(chart),
        space=space,
        chosen=() if space is None else tuple(asked.field(f"compartments.{space}.{n}") for n in IN_HAND),
    )
    return Tab(
        picture=Markup(picture),
        readouts=_figures(asked, result),
        findings=asked.reader.findings(result.findings),
        title="With this water in it",
        more=more,
    )


def _down(craft: Craft) -> Attitude:
    low, high = craft.hull.mesh.bounds
    return Attitude(0.0, 0.0, -float(high[2]) - 0.1 * float(high[2] - low[2]))


def _sea_in(craft: Craft, flooded: frozenset[int], attitude: Attitude) -> list[Inside]:
    """The part of each flooded space that lies below the sea's surface."""
    out = []
    for k in sorted(flooded):
        mesh = craft.spaces[k].mesh
        wet = below(mesh, attitude.up, -attitude.origin_height) if mesh is not None else None
        if wet is not None:
            out.append(Inside(wet, "inside-sea"))
    return out


def loose(liquids: tuple[Liquid, ...], levels: tuple[Level, ...], attitude: Attitude) -> list[Inside]:
    """Each liquid as it lies, below its own level, for drawings."""
    out = []
    for liquid, level in zip(liquids, levels, strict=True):
        mesh = liquid.kernel.mesh
        if level.plane is None:
            out.append(Inside(mesh, "inside-water"))
            continue
        up, centre = attitude.up, liquid.kernel.centre
        wet = below(mesh, up, level.plane + sum(u * c for u, c in zip(up, centre, strict=True)))
        if wet is not None:
            out.append(Inside(wet, "inside-water"))
    return out


def _row(asked: PageRequest, k: int, space: Space, flooded: frozenset[int]) -> SpaceRow:
    others = flooded - {k} if k in flooded else flooded | {k}
    return SpaceRow(
        index=k,
        name=space.compartment.name,
        fields=tuple(asked.field(f"compartments.{k}.{n}") for n in IN_ROW),
        holds=asked.reader.say(space.capacity, "volume") if space.kernel else "–",
        flooded=k in flooded,
        toggled=",".join(str(n) for n in sorted(others)),
        fault=space.fault,
    )


def _figures(asked: PageRequest, result: flooding.FloodAssessment) -> tuple[Readout, ...]:
    say, reader, a, b = asked.reader.say, asked.reader, result.after, result.before
    water = reader.figure("Water in it", result.loose, "mass", f"loose; and {say(result.lost, 'volume')} open to the sea")
    if a is None:
        return (water,)

    def was(value: float, kind: str) -> str:
        return f"{say(value, kind)} dry"

    if b is None:
        return (water, reader.turn("Trim", a.attitude.trim, "trim", ""), reader.turn("Heel", a.attitude.heel, "heel", ""))
    sunk = b.attitude.origin_height - a.attitude.origin_height
    return (
        water,
        reader.turn("Trim", a.attitude.trim, "trim", was(b.attitude.trim, "trim")),
        reader.turn("Heel", a.attitude.heel, "heel", was(b.attitude.heel, "heel")),
        reader.figure("Least freeboard", a.freeboard, "length", was(b.freeboard, "length")),
        reader.figure("GM", a.gm_transverse, "length", was(b.gm_transverse, "length")),
        reader.figure("Sinkage aft", sunk, "length", "at the boat's origin"),
        reader.figure("Displacement", a.mass, "mass", was(b.mass, "mass")),
        reader.figure("Reserve buoyancy", a.reserve, "percent", was(b.reserve, "percent")),
    )


def _swamped(asked: PageRequest) -> Tab:
    craft, say, reader = asked.craft, asked.reader.say, asked.reader
    crew = sum(1 for i in craft.items if i.group == "crew" and i.mass_kg > 0)
    text = asked.ask.get("people", "")
    people = crew if (number := whole(text)) is None else min(number, 30)
    where = asked.ask.get("where", "about")
    where = where if where in dict(WHERE) else "about"
    holding = 0 if where == "none" else people
    result = swamped.assess(craft, holding, cast(swamped.Where, where))
    a = result.afloat
    inside = [Inside(s.mesh, "inside-air", s.compartment.name) for s in craft.spaces if s.mesh is not None and s.compartment.sealed]
    inside += [Inside(craft.piece(n), "inside-foam", b.name) for n, b in enumerate(asked.design.bodies) if b.role == "foam"]
    spots = [Spot(at, "", "person") for at in swamped.pulls(craft, holding, cast(swamped.Where, where))]
    picture = draw(
        Scene(
            hull=craft.hull,
            attitude=a.attitude if a else _down(craft),
            title="Swamped, the water as high inside as out",
            inside=inside,
            arrows=(),
            spots=spots,
            gravity=a.gravity if a else None,
            buoyancy=a.buoyancy if a else None,
            note="" if a else "It lies on the bottom.",
            surface=0.42,
        )
    )
    spare = question(
        asked=asked, name="spare", label="To carry, swamped", kind="mass", placeholder=say(_spare(asked), "mass"), default=_spare(asked)
    )
    answer = _foam(asked, spare[1] if spare[1] is not None else _spare(asked))
    readouts: tuple[Readout, ...] = (reader.figure("Still carries", max(result.carries, 0.0), "mass", "more, before it goes under"),)
    if a is not None:
        readouts += (
            reader.turn("Trim", a.attitude.trim, "trim", "swamped"),
            reader.turn("Heel", a.attitude.heel, "heel", "swamped"),
            reader.figure("Rim at its lowest", a.freeboard, "length", "above the water; below it where less than nothing"),
        )
    more = WaterMore(
        mode="swamped",
        rows=(),
        flood="",
        places=(),
        questions=(spare[0],),
        bodies=(),
        inside="",
        can_swamp=True,
        people=people,
        where=tuple((code, title, code == where) for code, title in WHERE),
        carriers=tuple(_carrier(asked, c) for c in result.carriers),
        leak=Markup(""),
    )
    return Tab(
        picture=Markup(picture), readouts=readouts, findings=reader.findings(result.findings), title="Swamped", more=more, answers=(answer,)
    )


def _carrier(asked: PageRequest, c: swamped.Carrier) -> tuple[str, str, str, str]:
    """A thing aboard: its name, what it weighs dry and under water, and whether its material is known."""
    say = asked.reader.say
    wet = f"lifts {say(-c.under_water, 'mass')}" if c.under_water < 0 else say(c.under_water, "mass")
    return c.name, say(c.mass, "mass"), wet, "" if c.known else "material not said"


def _spare(asked: PageRequest) -> float:
    """Half of the crew's weight, as a start."""
    return 0.5 * sum(i.mass_kg for i in asked.craft.items if i.group == "crew") or 0.1 * asked.craft.total.mass


def _foam(asked: PageRequest, spare: float) -> Answer:
    say = asked.reader.say
    try:
        f = foam.foam_for(asked.craft, spare)
    except (NoAnswer, InvalidInput) as error:
        return Answer("Foam", str(error))
    long, wide, deep = (say(v, "length") for v in f.size)
    level = "level" if abs(f.trim) < 2e-3 else say(f.trim, "trim")
    words = (
        f"{say(f.volume, 'volume')} of extruded polystyrene, {say(f.mass, 'mass')}: a block {long} by {wide} by {deep} under each rim, "
        f"its middle {say(f.at[0], 'length')} from aft. Swamped it then lies {level}."
    )
    return Answer("Foam", words, "answer.foam", {"spare": spare, "material": "xps"})
