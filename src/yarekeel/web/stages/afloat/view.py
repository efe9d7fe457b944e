"""Float: the tank, the readouts, the verdicts, and what levels it."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from markupsafe import Markup

from yarekeel.core.hydrostatics.afloat import level_waterline
from yarekeel.drawing import tank
from yarekeel.stages.afloat import afloat
from yarekeel.stages.afloat.afloat import FloatAssessment
from yarekeel.stages.changes.ways.ballast_at import mass_that_levels
from yarekeel.units import WordedFinding, number_within
from yarekeel.web.shared.page import Readout, float_of
from yarekeel.web.stages.afloat import tabs
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab, tabs_of, titles

PARTS = ("live", "side", "level", "more", "form")
TABS = tabs_of(tabs)


@dataclass(frozen=True)
class OnBoard:
    index: int
    name: str
    mass: str
    guessed: bool


@dataclass(frozen=True)
class Level:
    """The two questions of "Level it" and their answers; ``place`` is what puts the weight there, empty for no answer."""

    choices: tuple[tuple[int, str, bool], ...]
    item: int | None
    answer: str
    place: Mapping[str, Any]
    ballast_at: str
    ballast_answer: str
    ballast_error: str


@dataclass(frozen=True)
class FloatView:
    empty: bool
    picture: Markup
    readouts: tuple[Readout, ...]
    findings: tuple[WordedFinding, ...]
    on_board: tuple[OnBoard, ...]
    level: Level | None
    sealed: bool
    floats: bool
    tab: str = "afloat"
    tabs: tuple[tuple[str, str], ...] = ()
    part: Tab | None = None
    cautions: tuple[WordedFinding, ...] = ()
    sunk: bool = False
    """It sinks, and the tab is for boats that float."""


MOST_LISTED = 60
"""Weights listed beside the tank, the heaviest."""


def view(asked: PageRequest) -> FloatView:
    """The boat at its attitude, and everything read off it."""
    result = float_of(asked.design)
    if result is None:
        return FloatView(
            empty=True, picture=Markup(""), readouts=(), findings=(), on_board=(), level=None, sealed=asked.sealed, floats=False
        )
    shown = (("afloat", "Afloat"), *titles(TABS, asked))
    tab = asked.ask.get("tab", "")
    tab = tab if tab in dict(shown) else "afloat"
    findings = asked.reader.findings(result.findings)
    if tab != "afloat":
        sunk = not result.floats and getattr(TABS[tab], "ONLY_AFLOAT", False)
        part = Tab() if sunk else TABS[tab].view(asked)
        cautions = tuple(f for f in findings if f.code.startswith("caution."))
        return FloatView(
            empty=False,
            picture=Markup(""),
            readouts=(),
            findings=(),
            on_board=(),
            level=None,
            sealed=asked.sealed,
            floats=result.floats,
            tab=tab,
            tabs=shown,
            part=part,
            cautions=cautions,
            sunk=sunk,
        )
    say = asked.reader.say
    order = sorted(((k, w) for k, w in enumerate(asked.craft.items) if w.mass_kg > 0), key=lambda p: -p[1].mass_kg)[:MOST_LISTED]
    return FloatView(
        empty=False,
        picture=_tank(asked, result),
        readouts=_readouts(asked, result),
        findings=findings,
        on_board=tuple(OnBoard(k, w.name, say(w.mass_kg, "mass"), w.known == "guessed") for k, w in order),
        level=_level(asked, result),
        sealed=asked.sealed,
        floats=result.floats,
        tab=tab,
        tabs=shown,
        cautions=tuple(f for f in findings if f.code.startswith("caution.")),
    )


def _tank(asked: PageRequest, result: FloatAssessment) -> Markup:
    craft, brief = asked.craft, asked.design.brief
    marks = craft.marks
    wanted = None
    target = brief.target_mass_kg / craft.density
    if result.afloat is not None and target < 0.999 * craft.hull.kernel.total_volume:
        wanted = level_waterline(craft.hull.kernel, target)
    return Markup(
        tank.draw(
            tank.Tank(
                craft.hull,
                asked.craft.items,
                result.afloat,
                marks.bow_x_m,
                marks.stern_x_m,
                wanted,
                asked.reader.say,
                asked.index("item", len(asked.design.weights)),
                "" if asked.sealed else "Drag a brass weight, or choose it and use the arrow keys: the boat settles as you move it.",
            )
        )
    )


def _readouts(asked: PageRequest, result: FloatAssessment) -> tuple[Readout, ...]:
    a, o, s = result.afloat, result.outputs, result.spread
    reader, say, brief = asked.reader, asked.reader.say, asked.design.brief
    total = asked.craft.total
    water = asked.craft.liquid_mass
    sure_of = f"{reader.band(total.mass + water, total.half_width, 'mass')} from the unweighed parts"
    in_tanks = f"; {say(water, 'mass')} in tanks" if water else ""
    first = reader.figure("Displacement", total.mass + water, "mass", sure_of + in_tanks, half=total.half_width)
    if a is None or o is None:
        capacity = asked.craft.hull.kernel.total_volume * asked.craft.density
        return (
            first,
            reader.figure(label="All the hull displaces", value=capacity, kind="mass", note="less than it weighs: it sinks", tone="fails"),
        )
    system, tone = reader.system, _tones(result)
    allowed = f"allowed ±{say(math.radians(brief.allowed_trim_deg), 'angle')}"

    def both(bow: float, stern: float) -> str:
        halves = (s.draft_bow, s.draft_stern) if s else (0.0, 0.0)
        return " / ".join(number_within(v, half, "length", system, 1) for v, half in zip((bow, stern), halves, strict=True))

    def sure(half: float | None, kind: str, value: float = 0.0) -> str:
        return f"; {reader.band(value, half, kind)}"

    made_of = f"KB {say(a.buoyancy[2], 'length')} + BM {say(a.bm_transverse, 'length')} − KG {say(a.gravity[2], 'length')}"
    asked_free = f"asked {say(brief.least_freeboard_m, 'length')}"
    return (
        first,
        Readout("Draft, bow / stern", "–", "", "no mark can be read on its side")
        if a.is_capsized
        else Readout(
            "Draft, bow / stern",
            both(o.draft_bow, o.draft_stern),
            system.length.label,
            "at the marks" + (f"; ±{both(s.draft_bow, s.draft_stern)}" if s else ""),
        ),
        reader.turn("Trim", o.trim, "trim", allowed + sure(s.trim if s else None, "angle"), tone["trim"]),
        reader.turn("Heel", o.heel, "heel", allowed + sure(s.heel if s else None, "angle"), tone["heel"]),
        reader.figure(
            label="Least freeboard",
            value=a.freeboard,
            kind="length",
            note=asked_free + sure(s.freeboard if s else None, "length", a.freeboard),
            tone=tone["freeboard"],
            half=s.freeboard if s else None,
        ),
        reader.figure(
            label="GM, upright", value=a.upright_gm, kind="length", note="unstable: it does not stay upright", tone="fails", touch="gm"
        )
        if a.is_unsteady
        else reader.figure(
            label="GM",
            value=a.gm_transverse,
            kind="length",
            note=made_of + sure(s.gm if s else None, "length", a.gm_transverse),
            tone=tone["gm"],
            touch="gm",
            half=s.gm if s else None,
        ),
        reader.figure("Reserve buoyancy", a.reserve, "percent", f"{say(a.to_rim, 'mass')} more puts the rim at the water"),
        _per_load(asked, a.sinks_per_kilogram, a.trims_per_kilogram_metre),
    )


HANDY = {
    (False, False): (0.1, 0.1),
    (False, True): (10.0, 1.0),
    (True, False): (4 * 0.45359237 / 16, 4 * 0.0254),
    (True, True): (20 * 0.45359237, 0.9144),
}
"""kg and m by whether lengths are in inches and people aboard: 4 oz moved 4 in, 20 lb moved a yard."""


def _per_load(asked: PageRequest, sinks: float, trims: float) -> Readout:
    """What a handy load does, round in the reader's units: 100 g or 4 oz for models, 10 kg or 20 lb for boats that carry people."""
    people = asked.design.brief.kind == "people"
    load, far = HANDY[asked.reader.system.length.label == "in", people]
    one = asked.reader.say(load, "mass").replace(".0", "")
    note = f"{one} moved {asked.reader.say(far, 'length').replace('.00', '')} trims it {math.degrees(load * far * trims):.2f}°"
    return asked.reader.figure(f"Sinks per {one}", load * sinks, "length", note, extra=2)


def _tones(result: FloatAssessment) -> dict[str, str]:
    tones = {"trim": "", "heel": "", "freeboard": "", "gm": ""}
    for finding in result.findings:
        word = finding.code.removeprefix("float.").split("_")[0]
        key = {"rim": "freeboard", "loll": "heel", "capsizes": "heel"}.get(word, word)
        if key in tones and not tones[key]:
            tones[key] = finding.severity
    return tones


def _level(asked: PageRequest, result: FloatAssessment) -> Level | None:
    if result.afloat is None or result.afloat.is_unsteady:
        return None
    say, items = asked.reader.say, asked.craft.items
    best = afloat.best_move(asked.craft, result.afloat)
    item = asked.index("item", len(items))
    if item is None or items[item].mass_kg <= 0 or items[item].fixed:
        item = best.index if best else next((k for k, w in enumerate(items) if w.mass_kg > 0 and not w.fixed and not w.structure), None)
    answer = ""
    place: dict[str, Any] = {}
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
            place = {"line": item, "place": (x + move.forward, y + move.to_port, z)}
        else:
            answer = f"It would have to go {' and '.join(steps)}: outside the boat. Choose another, or add ballast."
    at, error = asked.length("ballast")
    ballast = ""
    if at is not None:
        mass = mass_that_levels(asked.craft, at)
        ballast = (
            f"{say(mass, 'mass')} there levels the trim." if mass is not None else "No mass there levels it; try the end that rides high."
        )
    loose = (k for k, w in enumerate(items) if w.mass_kg > 0 and not w.fixed and not w.structure)
    heaviest = sorted(loose, key=lambda k: -items[k].mass_kg)[:MOST_LISTED]
    choices = tuple((k, items[k].name, k == item) for k in sorted({*heaviest, *([] if item is None else [item])}))
    return Level(choices, item, answer, place, asked.ask.get("ballast", ""), ballast, error)
