"""Shape: the bodies, their parameters, the lines they give or the solid, and the form in the water."""

import json
import re
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES, GROUPS, MeshFile, Offsets
from yarekeel.core.geometry.families.offsets import say as say_change
from yarekeel.core.parameters import parameters_of
from yarekeel.drawing import lines
from yarekeel.drawing.solid import solid
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import RIM
from yarekeel.stages.shape import bodies, shape
from yarekeel.units import WordedFinding, field_text, parse
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import float_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.shape.stretching import Stretching, stretching_of

PARTS = ("live", "side", "parts", "form")
DEPENDS_ON_DESIGN_ALONE = True
TABS = (("size", "Size"), ("place", "Place"), ("openings", "Openings"), ("table", "Table"), ("changes", "Changes"), ("stretch", "Stretch"))
MOST_STATIONS_DRAWN = 41


_CHANGE_FIELDS = {"higher": ("part", "station", "fade_to", "above"), "wider": ("part", "station", "fade_to"), "longer": ("part",)}


@dataclass(frozen=True)
class Row:
    """A body in the parts list."""

    number: int
    name: str
    family: str
    role: str
    volume: str
    hide: Field
    chosen: bool


@dataclass(frozen=True)
class Lit:
    """The parameter in hand: what it is, and why its range ends where it does."""

    label: str
    meaning: str
    low: str
    high: str


@dataclass(frozen=True)
class CutQuestion:
    """A text field that asks without changing the boat, with the sentence that refuses it."""

    name: str
    label: str
    text: str
    error: str


@dataclass(frozen=True)
class Change:
    """A change of a table, in words and in fields."""

    number: int
    words: str
    fields: tuple[Field, ...]
    on: Field


@dataclass(frozen=True)
class Grid:
    """A table of offsets as fields: the lines' names, and a row a station."""

    lines: tuple[str, ...]
    rows: tuple[tuple[Field, ...], ...]


@dataclass(frozen=True)
class ShapeView:
    picture: Markup
    solid: str
    mode: str
    lit: Lit | None
    ghost: bool
    questions: tuple[CutQuestion, ...]
    rows: tuple[Row, ...]
    chosen: int
    tab: str
    tabs: tuple[tuple[str, str], ...]
    heads: tuple[Field, ...]
    fields: tuple[Field, ...]
    grid: Grid | None
    changes: tuple[Change, ...]
    against: tuple[tuple[str, str, str], ...]
    stretch: Stretching | None
    openings: tuple[tuple[Field, ...], ...]
    is_table: bool
    families: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]
    arrangements: tuple[tuple[str, str], ...]
    facts: tuple[tuple[str, str, str], ...]
    form: tuple[tuple[str, str, str], ...]
    form_note: str
    findings: tuple[WordedFinding, ...]
    now: AfloatNow
    sealed: bool


def view(asked: PageRequest) -> ShapeView:
    """Everything on the page."""
    craft, design, reader = asked.craft, asked.design, asked.reader
    known = float_of(design)
    afloat = known.afloat if known else None
    result = shape.assess(craft, afloat.attitude if afloat else None)
    chosen = asked.index("body", len(design.bodies)) or 0
    body = design.bodies[chosen]
    mode = "solid" if asked.ask.get("view") == "solid" else "lines"
    table = body.shape if isinstance(body.shape, Offsets) else None
    tabs = tuple(t for t in TABS if table or t[0] not in ("table", "changes"))
    tab = asked.ask.get("tab", "")
    tab = tab if tab in dict(tabs) else "size"
    grid, questions = _cuts(asked, result)
    original = bodies.as_drawn(craft, chosen) if tab == "changes" else None
    stretch = stretching_of(asked) if tab == "stretch" else None
    return ShapeView(
        picture=_lines(asked, result, grid, original, stretch.tried if stretch else None) if mode == "lines" else Markup(""),
        stretch=stretch,
        solid=json.dumps(solid(craft.shown, result.attitude), separators=(",", ":")) if mode == "solid" else "",
        mode=mode,
        lit=_lit(asked),
        ghost=mode == "lines" and bool(asked.ask.get("ghost")),
        questions=questions,
        rows=tuple(
            Row(
                p.number,
                p.body.name,
                p.body.shape.title,
                p.body.role,
                reader.say(p.volume, "volume"),
                asked.field(f"bodies.{p.number}.hidden"),
                p.number == chosen,
            )
            for p in result.parts
        ),
        chosen=chosen,
        tab=tab,
        tabs=tabs,
        heads=(
            asked.field(f"bodies.{chosen}.name"),
            asked.field(f"bodies.{chosen}.shape.kind", value=body.shape.kind),
            asked.field(f"bodies.{chosen}.role"),
            *([asked.field(f"bodies.{chosen}.deck")] if body.role == "hull" else []),
        ),
        fields=_fields(asked, chosen, tab),
        grid=_grid(asked, table, chosen) if table and tab == "table" else None,
        changes=_changes(asked, table, chosen) if table and tab == "changes" else (),
        openings=_openings(asked, chosen) if tab == "openings" else (),
        is_table=table is not None,
        against=_against(asked, original, chosen) if original else (),
        families=tuple(
            (group, tuple((k, f.title) for k, f in FAMILIES.items() if f.group == group and f is not MeshFile)) for group in GROUPS
        ),
        arrangements=tuple(bodies.ARRANGEMENTS.items()),
        facts=tuple((f.label, reader.say(f.value, f.units_kind), f.note) for f in result.parts[chosen].facts),
        form=_form(asked, result),
        form_note="where it floats now" if result.afloat else "at half its depth: nothing floats it yet",
        findings=reader.findings(result.findings),
        now=afloat_now(design, reader),
        sealed=asked.sealed,
    )


def _cuts(asked: PageRequest, result: shape.ShapeAssessment) -> tuple[lines.Grid, tuple[CutQuestion, ...]]:
    """Where the hull is cut, as asked, and the fields that ask."""
    waterline, first = _spacing(asked=asked, name="waterlines", label="Waterlines every", extent=result.size.depth, part=1.0)
    buttock, second = _spacing(asked=asked, name="buttocks", label="Buttocks every", extent=result.size.beam, part=0.5)
    stations, third = _count(asked, "stations", "Stations", 9)
    grid = lines.grid_of(
        hull=asked.craft.shown, stations=stations, waterline=waterline, buttock=buttock, chosen=asked.index("section", stations)
    )
    return grid, (third, first, second)


def _lines(
    asked: PageRequest, result: shape.ShapeAssessment, grid: lines.Grid, original: Craft | None, tried: Craft | None = None
) -> Markup:
    if tried is not None:  # stretched, the boat as it is behind it
        return _stretched(asked, tried)
    length = asked.reader.system.length
    ghost = bodies.nudged(asked.craft, asked.ask["lit"]) if asked.ask.get("ghost") and asked.ask.get("lit") else original
    picture = lines.draw(
        asked.craft.shown,
        grid,
        asked.reader.say,
        form=result.form,
        floating=result.attitude if result.afloat else None,
        ghost=ghost.shown if ghost else None,
        unit=(length.si, length.label, length.decimals),
        openings=asked.craft.openings,
    )
    return Markup(picture)


def _stretched(asked: PageRequest, tried: Craft) -> Markup:
    length, grid = asked.reader.system.length, lines.usual_grid(tried.shown)
    result = shape.assess(tried)
    picture = lines.draw(
        tried.shown,
        grid,
        asked.reader.say,
        form=result.form,
        floating=result.attitude if result.afloat else None,
        ghost=asked.craft.shown,
        unit=(length.si, length.label, length.decimals),
        openings=tried.openings,
    )
    return Markup(picture)


def _spacing(asked: PageRequest, name: str, label: str, extent: float, part: float) -> tuple[float, CutQuestion]:
    """A spacing asked for, at least a fortieth of the extent; a round one where nothing usable was typed."""
    usual = lines.nice_spacing(extent * part)
    value, error = asked.length(name)
    if value is not None and not extent / lines.MOST_LINES <= value <= extent * 10:
        least = asked.reader.say(extent / lines.MOST_LINES, "length")
        value, error = None, f"Between {least} and ten times the hull."
    text = asked.ask.get(name, "").strip() or field_text(usual, "length", asked.reader.system)
    return value or usual, CutQuestion(name, label, text, error)


def _count(asked: PageRequest, name: str, label: str, usual: int) -> tuple[int, CutQuestion]:
    text = asked.ask.get(name, "").strip()
    try:
        value = parse(text, "count", asked.reader.system, name) if text else usual
    except InvalidInput:
        value = 0.0
    if value != int(value) or not 3 <= value <= MOST_STATIONS_DRAWN:
        return usual, CutQuestion(name, label, text, f"A whole number from 3 to {MOST_STATIONS_DRAWN}.")
    return int(value), CutQuestion(name, label, text or str(usual), "")


def _lit(asked: PageRequest) -> Lit | None:
    found = re.fullmatch(r"bodies\.(\d{1,3})\.shape\.(\w+)", asked.ask.get("lit", ""))
    if not found or int(found[1]) >= len(asked.design.bodies):
        return None
    for p in parameters_of(asked.design.bodies[int(found[1])].shape):
        if p.name == found[2]:
            if p.kind == "choice":
                return Lit(p.label, p.meaning, "", "")
            ends = (field_text(v, p.kind, asked.reader.system) or "0" for v in (p.low, p.high))
            low, high = (f"{end}: {why}" for end, why in zip(ends, (p.why_low, p.why_high), strict=True))
            return Lit(p.label, p.meaning, low, high)
    return None


def _fields(asked: PageRequest, chosen: int, tab: str) -> tuple[Field, ...]:
    at = f"bodies.{chosen}"
    if tab == "size":
        body = asked.design.bodies[chosen]
        own = tuple(asked.field(f"{at}.shape.{p.name}") for p in parameters_of(body.shape))
        if isinstance(body.shape, MeshFile) and body.role == "hull":
            own = (*own, *(asked.field(f"{at}.{name}", "empty: as its shape has it") for name in RIM))
        return own if chosen else (*own, *_marks(asked))
    if tab == "place":
        places = [
            asked.field(f"{at}.at_m.{k}", hint) for k, hint in enumerate(("of its own origin", "of the centreline", "of the baseline"))
        ]
        turns = [asked.field(f"{at}.turn_deg.{k}") for k in range(3)]
        scales = [asked.field(f"{at}.scale.{k}") for k in range(3)]
        return (*places, *turns, *scales, asked.field(f"{at}.mirrored", "its image on the other side"))
    return ()


def _marks(asked: PageRequest) -> tuple[Field, ...]:
    marks = asked.craft.marks
    return (
        asked.field("marks.stern_x_m", value=marks.stern_x_m),
        asked.field("marks.bow_x_m", value=marks.bow_x_m),
    )


def _grid(asked: PageRequest, table: Offsets, chosen: int) -> Grid:
    at = f"bodies.{chosen}.shape.stations"
    rows = []
    for k in range(len(table.stations)):
        cells = [asked.field(f"{at}.{k}.x_m")]
        for j in range(len(table.lines)):
            cells += [asked.field(f"{at}.{k}.half_breadths_m.{j}"), asked.field(f"{at}.{k}.heights_m.{j}")]
        rows.append(tuple(cells))
    return Grid(table.lines, tuple(rows))


def _changes(asked: PageRequest, table: Offsets, chosen: int) -> tuple[Change, ...]:
    out = []
    for k, change in enumerate(table.changes):
        at = f"bodies.{chosen}.shape.changes.{k}"
        names = {"higher": ("part", "station", "fade_to", "above"), "wider": ("part", "station", "fade_to"), "longer": ("part",)}[
            change.what
        ]
        names = tuple(n for n in names if n != "fade_to" or change.station is not None)
        out.append(Change(k, say_change(change, table.lines), tuple(asked.field(f"{at}.{n}") for n in names), asked.field(f"{at}.on")))
    return tuple(out)


def _openings(asked: PageRequest, chosen: int) -> tuple[tuple[Field, ...], ...]:
    """Name and place of each opening, in the body's own axes."""
    at = f"bodies.{chosen}.openings"
    count = len(asked.design.bodies[chosen].openings)
    return tuple((asked.field(f"{at}.{k}.name"), *(asked.field(f"{at}.{k}.at_m.{axis}") for axis in range(3))) for k in range(count))


def _against(asked: PageRequest, original: Craft, chosen: int) -> tuple[tuple[str, str, str], ...]:
    """The changed body beside the table as drawn."""
    before, after = shape.measures(original.piece(chosen)), shape.measures(asked.craft.piece(chosen))
    kinds = {"length": "length", "beam": "length", "depth": "length", "volume": "volume", "surface": "area"}
    say = asked.reader.say
    return tuple((name.title(), say(getattr(before, name), kind), say(getattr(after, name), kind)) for name, kind in kinds.items())


def _form(asked: PageRequest, result: shape.ShapeAssessment) -> tuple[tuple[str, str, str], ...]:
    say, form = asked.reader.say, result.form
    whole = (
        ("Volume", say(result.size.volume, "volume"), "closed, to the deck"),
        ("Surface", say(result.size.surface, "area"), "skin and deck"),
    )
    if form is None:
        return whole
    return (
        *whole,
        ("Block Cb", say(form.block, "ratio"), "of its box of water"),
        ("Prism. Cp", say(form.prismatic, "ratio"), "fullness of the ends"),
        ("Midship Cm", say(form.midship, "ratio"), "largest section"),
        ("Plane Cwp", say(form.waterplane, "ratio"), "waterplane in its rectangle"),
        ("LCB", say(form.lcb, "length"), f"{say(form.lcb / form.length, 'percent')} of waterline, from aft"),
        ("Wetted", say(form.wetted, "area"), "surface water rubs on"),
        ("L/B", say(form.length / form.breadth, "ratio"), f"waterline {say(form.length, 'length')} long"),
        ("B/T", say(form.breadth / form.draft, "ratio"), f"deepest draft {say(form.draft, 'length')}"),
    )
