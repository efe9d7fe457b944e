"""Size it: one unknown solved for what the brief asks, and the boat at three scales."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.drawing import tank
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import Limit
from yarekeel.stages.judging.figures import draft_of
from yarekeel.stages.judging.judge import Judged
from yarekeel.stages.sizing import size_map, sizing, stock
from yarekeel.stages.sizing.sizing import ScaleColumn, Tried
from yarekeel.units import WordedFinding, parse
from yarekeel.web.stages.page_request import PageRequest

USUAL = (0.9, 1.0, 1.2)


@dataclass(frozen=True)
class SizeRow:
    """A figure now and with the answer, and how it stands."""

    title: str
    asked: str
    now: str
    then: str
    word: str
    tone: str


@dataclass(frozen=True)
class SizeView:
    """``path`` is what may change; ``args`` are what makes it so, empty for none."""

    choices: tuple[tuple[str, str, bool], ...]
    path: str
    before: Markup
    after: Markup
    rows: tuple[SizeRow, ...]
    findings: tuple[WordedFinding, ...]
    args: Mapping[str, Any]
    button: str


@dataclass(frozen=True)
class ScaleView:
    factor: str
    picture: Markup
    cells: tuple[str, ...]
    outside: str
    args: Mapping[str, Any]


@dataclass(frozen=True)
class ScalesView:
    typed: tuple[str, ...]
    error: str
    heads: tuple[str, ...]
    columns: tuple[ScaleView, ...]


def size_of(asked: PageRequest) -> SizeView | None:
    """The answer for the unknown chosen; None while nothing is aboard."""
    craft = asked.craft
    if not any(i.mass_kg > 0 for i in craft.items):
        return None
    known = sizing.unknowns_of(craft)
    path = asked.ask.get("unknown", "")
    path = path if path in {u.path for u in known} else sizing.SCALE
    result = sizing.solve(craft, path)
    answer = result.answer
    changes = answer is not None and abs(answer.value - result.unknown.now) > 1e-5 * max(abs(result.unknown.now), 1e-9)
    return SizeView(
        choices=tuple((u.path, u.title, u.path == path) for u in known),
        path=path,
        before=_picture(asked, result.now, "as it is"),
        after=_picture(asked, answer, "with the answer") if answer else Markup(""),
        rows=_rows(asked, result.limits, result.now, answer),
        findings=asked.reader.findings(result.findings),
        args={"unknown": path, "value": answer.value} if answer and changes else {},
        button="Make it so",
    )


def _picture(asked: PageRequest, tried: Tried | None, label: str) -> Markup:
    if tried is None:
        return Markup("")
    attitude = tried.judged.afloat.attitude if tried.judged.afloat else None
    return Markup(tank.small(Craft(tried.design).hull, attitude, 372.0, 190.0, label))


def _rows(asked: PageRequest, limits: tuple[Limit, ...], now: Tried | None, answer: Tried | None) -> tuple[SizeRow, ...]:
    say = asked.reader.say
    rows = []
    for w in limits:
        margin = answer.judged.margins[w.code] if answer else now.judged.margins[w.code] if now else -1.0
        asks = f"{'at least' if w.at_least else 'at most'} {say(w.asked, w.kind)}"
        word, tone = ("kept", "holds") if margin >= 0 else ("missed", "fails")
        rows.append(SizeRow(title=w.title, asked=asks, now=_value(asked, now, w), then=_value(asked, answer, w), word=word, tone=tone))
    for title, kind, of in (
        ("Surface, and its skin", "area", lambda t: Craft(t.design).hull.mesh.area),
        ("Volume of the hull", "volume", lambda t: t.judged.volume),
        ("Length over all", "length", lambda t: float(Craft(t.design).hull.mesh.length)),
    ):
        a, b = (of(t) if t else None for t in (now, answer))
        ratio = f"times {b / a:.3f}" if a and b else ""
        rows.append(SizeRow(title=title, asked="", now=say(a, kind) if a else "–", then=say(b, kind) if b else "–", word=ratio, tone=""))
    return tuple(rows)


def _value(asked: PageRequest, tried: Tried | None, w: Limit) -> str:
    if tried is None:
        return "–"
    return asked.reader.say(tried.judged.values[w.code], w.kind) if w.code in tried.judged.values else "it sinks"


def scales_of(asked: PageRequest) -> ScalesView | None:
    """Three scales side by side; None while nothing is aboard."""
    craft = asked.craft
    if not any(i.mass_kg > 0 for i in craft.items):
        return None
    typed = tuple(asked.ask.get(f"s{k}", "") for k in range(3))
    error = ""
    factors = list(USUAL)
    for k, text in enumerate(typed):
        if text.strip():
            try:
                factors[k] = parse(text, "ratio", asked.reader.system, "scales")
            except InvalidInput as refused:
                error = refused.sentence
    try:
        columns = sizing.side_by_side(craft, tuple(factors))
    except InvalidInput as refused:
        error, columns = refused.sentence, sizing.side_by_side(craft, USUAL)
    heads = ("Lengths", "Surface", "Volume", "All up", "of it bought", "of it built", *("Draft", "Freeboard", "GM", "Reserve", "The brief"))
    return ScalesView(typed, error, heads, tuple(_column(asked, c) for c in columns))


def _column(asked: PageRequest, c: ScaleColumn) -> ScaleView:
    say = asked.reader.say
    name = f"{c.factor:.3g}"
    if c.tried is None:
        return ScaleView(factor=name, picture=Markup(""), cells=("cannot be built",) + ("–",) * 10, outside="", args={})
    j = c.tried.judged
    a = j.afloat
    misses = [w.word for w in sizing.size_limits(asked.craft) if not w.keeps(j.values.get(w.code))]
    floats = (
        (
            say(draft_of(Craft(c.tried.design), a.attitude), "length"),
            say(a.freeboard, "length"),
            say(a.judged_gm, "length"),
            say(a.reserve, "percent"),
        )
        if a
        else ("it sinks", "–", "–", "–")
    )
    cells = (
        f"times {c.factor:.3g}",
        f"{say(c.area, 'area')}, times {c.factor**2:.3g}",
        f"{say(c.volume, 'volume')}, times {c.factor**3:.3g}",
        say(j.mass, "mass"),
        say(c.bought_mass, "mass"),
        say(c.built_mass, "mass"),
        *floats,
        f"misses {', '.join(misses)}" if misses else "keeps it",
    )
    args = {} if abs(c.factor - 1) < 1e-9 else {"unknown": sizing.SCALE, "value": c.factor}
    return ScaleView(factor=name, picture=_picture(asked, c.tried, f"at {name}"), cells=cells, outside=", ".join(c.outside), args=args)


@dataclass(frozen=True)
class ShelfRow:
    """A size as sold: whether it does it, what it leaves, the change that takes it."""

    title: str
    tone: str
    word: str
    left: str
    now: bool
    pick: bool
    args: Mapping[str, Any]


@dataclass(frozen=True)
class ShelfView:
    title: str
    answer: str
    rows: tuple[ShelfRow, ...]


def shelves_of(asked: PageRequest) -> tuple[ShelfView, ...] | None:
    """Everything that is sold in steps; None while nothing is aboard."""
    if not any(i.mass_kg > 0 for i in asked.craft.items):
        return None
    return tuple(_shelf(asked, s) for s in stock.shelves(asked.craft))


def _shelf(asked: PageRequest, shelf: stock.Shelf) -> ShelfView:
    rows = []
    by_code = {w.code: w for w in shelf.limits}
    for k, step in enumerate(shelf.steps):
        if step.judged is None:  # a size that cannot be built is no choice
            continue
        margin, code = step.judged.least
        limit = by_code[code]
        word, tone = ("keeps the brief", "holds") if margin >= 0 else (f"misses the {limit.word}", "fails")
        args = {} if step.now else {"path": shelf.path, "size": str(step.value)}
        rows.append(
            ShelfRow(
                title=step.title, tone=tone, word=word, left=_left(asked, step.judged, limit), now=step.now, pick=k == shelf.pick, args=args
            )
        )
    none = "None of these sizes keeps the brief; see “Size it” for what else could change."
    if shelf.pick is None:
        return ShelfView(shelf.title, none, tuple(rows))
    least = "the smallest that keeps" if shelf.smallest else "the thickest that keeps"
    return ShelfView(shelf.title, f"{shelf.steps[shelf.pick].title} is {least} the brief.", tuple(rows))


def _left(asked: PageRequest, judged: Judged, limit: Limit) -> str:
    if limit.code not in judged.values:
        return "it sinks"
    say = asked.reader.say
    return f"{limit.title} {say(judged.values[limit.code], limit.kind)}, asked {say(limit.asked, limit.kind)}"


@dataclass(frozen=True)
class MapView:
    """The two sizes chosen, the point looked at and how the boat stands there."""

    across: tuple[tuple[str, str, bool], ...]
    up: tuple[tuple[str, str, bool], ...]
    across_path: str
    up_path: str
    x: str
    y: str
    error: str
    picture: Markup
    said: str
    rows: tuple[SizeRow, ...]
    args: Mapping[str, Any]


def map_of(asked: PageRequest) -> MapView | None:
    """The map's questions and the point in hand; the map itself is drawn on demand. None while nothing is aboard."""
    craft = asked.craft
    if not any(i.mass_kg > 0 for i in craft.items):
        return None
    known = [u for u in sizing.unknowns_of(craft) if u.path != sizing.SCALE]
    across, up, error = asked.ask.get("ux", ""), asked.ask.get("uy", ""), ""
    try:
        axes = size_map.axes_of(craft, across, up, 2)
    except InvalidInput as refused:
        error = refused.sentence
        try:
            axes = size_map.axes_of(craft, points=2)
        except InvalidInput:
            return MapView(
                across=(), up=(), across_path="", up_path="", x="", y="", error=error, picture=Markup(""), said="", rows=(), args={}
            )
    x, y = (_number(asked.ask.get(name, ""), u.now) for name, u in (("mx", axes.across), ("my", axes.up)))
    moved = (x, y) != (axes.across.now, axes.up.now)
    tried = size_map.point(craft, axes, x, y)
    say = asked.reader.say
    kinds = {"length": "length", "degrees": "degrees", "ratio": "ratio"}
    words = f"{axes.across.title} {say(x, kinds[axes.across.kind])}, {axes.up.title} {say(y, kinds[axes.up.kind])}"
    return MapView(
        across=tuple((u.path, u.title, u.path == axes.across.path) for u in known),
        up=tuple((u.path, u.title, u.path == axes.up.path) for u in known),
        across_path=axes.across.path,
        up_path=axes.up.path,
        x=repr(x) if moved else "",
        y=repr(y) if moved else "",
        error=error,
        picture=_picture(asked, tried, words),
        said=words if tried else f"{words}: cannot be built",
        rows=_rows(asked, axes.limits, sizing.try_value(craft, axes.across, axes.across.now, axes.limits), tried) if tried else (),
        args={"across": axes.across.path, "x": x, "up": axes.up.path, "y": y} if tried and moved else {},
    )


def _number(text: str, default: float) -> float:
    try:
        value = float(text)
    except ValueError:
        return default
    return value if math.isfinite(value) else default
