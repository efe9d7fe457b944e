"""Stretch: the whole boat longer, wider, deeper by percents, the original behind it, and what that does."""

from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.quantities import Point
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.resizing import stretched
from yarekeel.stages.judging.figures import draft_of
from yarekeel.units import parse
from yarekeel.web.shared.page import craft_of
from yarekeel.web.stages.page_request import PageRequest

WAYS = (("longer", "Longer by"), ("wider", "Wider by"), ("deeper", "Deeper by"))


@dataclass(frozen=True)
class StretchField:
    """What is asked: its name, label, what was typed, and why it was refused."""

    name: str
    label: str
    text: str
    error: str


@dataclass(frozen=True)
class Stretching:
    """The fields, the boat stretched (None while nothing or nothing usable is asked), rows of before and after, and what the button
    sends."""

    fields: tuple[StretchField, ...]
    tried: Craft | None
    rows: tuple[tuple[str, str, str], ...]
    args: dict[str, Point]
    trouble: str


def stretching_of(asked: PageRequest) -> Stretching:
    """The stretch as asked; nothing of it is kept until it is put in."""
    fields, factors, bad = [], [], False
    for name, label in WAYS:
        text, error, value = asked.ask.get(name, "").strip()[:60], "", 0.0
        try:
            value = parse(text, "percent", asked.reader.system, name) if text else 0.0
        except InvalidInput as refused:
            error, bad = refused.sentence, True
        fields.append(StretchField(name, label, text, error))
        factors.append(1.0 + value)
    given: Point = (factors[0], factors[1], factors[2])
    if bad or given == (1.0, 1.0, 1.0):
        return Stretching(tuple(fields), None, (), {}, "")
    try:
        tried = craft_of(stretched(asked.craft, given))
        rows = _rows(asked, asked.craft, tried)
    except InvalidInput as refused:
        return Stretching(tuple(fields), None, (), {}, refused.sentence)
    return Stretching(tuple(fields), tried, rows, {"factors": given}, "")


def _rows(asked: PageRequest, before: Craft, after: Craft) -> tuple[tuple[str, str, str], ...]:
    said = [_figures(asked, craft) for craft in (before, after)]
    return tuple((name, said[0].get(name, "–"), said[1].get(name, "–")) for name in dict.fromkeys([*said[0], *said[1]]))


def _figures(asked: PageRequest, craft: Craft) -> dict[str, str]:
    say, mesh = asked.reader.say, craft.hull.mesh
    low, high = mesh.bounds
    out = {name: say(float(high[k] - low[k]), "length") for k, name in enumerate(("Length", "Beam", "Depth"))}
    out |= {"Volume to the deck": say(mesh.volume, "volume"), "Surface": say(mesh.area, "area")}
    if not any(i.mass_kg > 0 for i in craft.items):
        return out
    out["All up"] = say(craft.mass, "mass")
    try:
        rest = craft.settled
    except NoRest:
        return out | {"Draft": "it sinks"}
    figures = (
        ("Draft", draft_of(craft, rest.attitude), "length"),
        ("Freeboard", rest.freeboard, "length"),
        ("GM", rest.judged_gm, "length"),
    )
    return out | {name: say(value, kind) for name, value, kind in figures} | {"Trim": say(rest.attitude.trim, "trim")}
