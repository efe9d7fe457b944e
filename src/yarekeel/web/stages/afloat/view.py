"""Float: the tank, the readouts, the verdicts, and what levels it."""

import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.hydrostatics.afloat import level_waterline
from yarekeel.drawing import tank
from yarekeel.stages import afloat
from yarekeel.stages.afloat import FloatAssessment
from yarekeel.units import Said, number_in
from yarekeel.web.shared.page import Readout, float_of
from yarekeel.web.stages.asked import Asked

PARTS = ("live", "side", "level")


@dataclass(frozen=True)
class OnBoard:
    index: int
    name: str
    mass: str
    guessed: bool


@dataclass(frozen=True)
class Level:
    """The two questions of "Level it" and their answers; ``place`` is where the weight would go, empty for no answer."""

    choices: tuple[tuple[int, str, bool], ...]
    item: int | None
    answer: str
    place: str
    ballast_at: str
    ballast_answer: str
    ballast_error: str


@dataclass(frozen=True)
class FloatView:
    empty: bool
    picture: Markup
    readouts: tuple[Readout, ...]
    findings: tuple[Said, ...]
    on_board: tuple[OnBoard, ...]
    level: Level | None
    sealed: bool


def view(asked: Asked) -> FloatView:
    """The boat at its attitude, and everything read off it."""
    result = float_of(asked.design)
    if result is None:
        return FloatView(True, Markup(""), (), (), (), None, asked.sealed)
    say = asked.reader.say
    order = sorted(enumerate(asked.design.weights), key=lambda p: -p[1].mass_kg)
    return FloatView(
        empty=False,
        picture=_tank(asked, result),
        readouts=_readouts(asked, result),
        findings=asked.reader.findings(result.findings),
        on_board=tuple(OnBoard(k, w.name, say(w.mass_kg, "mass"), w.known == "guessed") for k, w in order),
        level=_level(asked, result),
        sealed=asked.sealed,
    )


def _tank(asked: Asked, result: FloatAssessment) -> Markup:
    craft, brief = asked.craft, asked.design.brief
    marks = craft.marks
    wanted = None
    target = brief.target_mass_kg / craft.density
    if target < 0.999 * craft.hull.kernel.total_volume:
        wanted = level_waterline(craft.hull, target)
    return Markup(
        tank.draw(
            tank.Tank(
                craft.hull,
                asked.design.weights,
                result.afloat,
                marks.bow_x_m,
                marks.stern_x_m,
                wanted,
                asked.reader.say,
                asked.index("item", len(asked.design.weights)),
            )
        )
    )


def _readouts(asked: Asked, result: FloatAssessment) -> tuple[Readout, ...]:
    a, o, s = result.afloat, result.outputs, result.spread
    system, say, brief = asked.reader.system, asked.reader.say, asked.design.brief
    mass, length = system.mass.label, system.length.label
    total = asked.craft.total
    first = Readout("Displacement", number_in(total.mass, "mass", system), mass, f"±{say(total.half_width, 'mass')} from the unweighed parts")
    if a is None or o is None:
        return (first, Readout("All the hull displaces", number_in(asked.craft.hull.kernel.total_volume * asked.craft.density, "mass", system), mass, "less than it weighs: it sinks", "fails"))
    give = f"±{say(s.trim, 'angle')}" if s else "spread not known"
    allowed = math.radians(brief.allowed_trim_deg)
    tone = _tones(result)
    drafts = f"{number_in(o.draft_bow, 'length', system, 1)} / {number_in(o.draft_stern, 'length', system, 1)}"
    kb = a.buoyancy[2]
    return (
        first,
        Readout("Draft, bow / stern", drafts, length, f"at the marks; ±{number_in(s.draft_bow, 'length', system, 1)} / {number_in(s.draft_stern, 'length', system, 1)}" if s else "at the marks"),
        Readout("Trim", f"{abs(math.degrees(o.trim)):.1f}°", "level" if abs(math.degrees(o.trim)) < 0.05 else ("bow up" if o.trim > 0 else "bow down"), f"allowed ±{say(allowed, 'angle')}; {give}", tone["trim"]),
        Readout("Heel", f"{abs(math.degrees(o.heel)):.1f}°", "upright" if abs(math.degrees(o.heel)) < 0.05 else ("to starboard" if o.heel > 0 else "to port"), f"allowed ±{say(allowed, 'angle')}" + (f"; ±{say(s.heel, 'angle')}" if s else ""), tone["heel"]),
        Readout("Least freeboard", number_in(a.freeboard, "length", system), length, f"asked {say(brief.least_freeboard_m, 'length')}" + (f"; ±{say(s.freeboard, 'length')}" if s else ""), tone["freeboard"]),
        Readout("GM", number_in(a.gm_transverse, "length", system), length, f"KB {say(kb, 'length')} + BM {say(a.bm_transverse, 'length')} − KG {say(a.gravity[2], 'length')}", tone["gm"], "gm"),
        Readout("Reserve buoyancy", f"{100 * a.reserve:.0f}", "%", f"carries {say(a.reserve * a.mass, 'mass')} more until the rim is level with the water"),
        Readout(*_per_load(asked, a.sinks_per_kilogram, a.trims_per_kilogram_metre)),
    )  # fmt: skip


def _per_load(asked: Asked, sinks: float, trims: float) -> tuple[str, str, str, str]:
    """What a handy load does: 100 g for models, 10 kg for boats that carry people."""
    system = asked.reader.system
    if asked.design.brief.kind == "people":
        load, far, words = 10.0, 1.0, ("10 kg", "10 kg moved 1 m")
    else:
        load, far, words = 0.1, 0.1, ("100 g", "100 g moved 100 mm")
    number = number_in(load * sinks, "length", system, 2)
    return f"Sinks per {words[0]}", number, system.length.label, f"{words[1]} trims it {math.degrees(load * far * trims):.2f}°"


def _tones(result: FloatAssessment) -> dict[str, str]:
    tones = {"trim": "", "heel": "", "freeboard": "", "gm": ""}
    for finding in result.findings:
        word = finding.code.removeprefix("float.").split("_")[0]
        key = {"rim": "freeboard", "loll": "heel", "capsizes": "heel"}.get(word, word)
        if key in tones and not tones[key]:
            tones[key] = finding.severity
    return tones


def _level(asked: Asked, result: FloatAssessment) -> Level | None:
    if result.afloat is None:
        return None
    say, items = asked.reader.say, asked.design.weights
    best = afloat.best_move(asked.craft, result.afloat)
    item = asked.index("item", len(items))
    if item is None or items[item].mass_kg <= 0:
        item = best.index if best else next((k for k, w in enumerate(items) if w.mass_kg > 0), None)
    answer, place = "", ""
    if item is not None:
        move = afloat.level_move(asked.craft, item)
        x, y, z = items[item].at_m
        low, high = asked.craft.hull.mesh.bounds
        inside = low[0] <= x + move.forward <= high[0] and low[1] <= y + move.to_port <= high[1]
        steps = [say(v, k) for v, k, least in ((move.forward, "fore_aft", 5e-4), (move.to_port, "athwart", 5e-5)) if abs(v) >= least]
        if not steps:
            answer = "It is level as it is."
        elif inside:
            answer = f"{' and '.join(steps)} levels it."
            place = f"{x + move.forward!r},{y + move.to_port!r},{z!r}"
        else:
            answer = f"It would have to go {' and '.join(steps)}: outside the boat. Choose another, or add ballast."
    at, error = asked.length("ballast")
    ballast = ""
    if at is not None:
        mass = afloat.ballast_to_level(asked.craft, at)
        ballast = f"{say(mass, 'mass')} there levels the trim." if mass is not None else "No mass there levels it; try the end that rides high."
    choices = tuple((k, w.name, k == item) for k, w in enumerate(items) if w.mass_kg > 0)
    return Level(choices, item, answer, place, asked.ask.get("ballast", ""), ballast, error)

