"""Sizing: how big it must be, solved backwards from what the brief asks, for one chosen unknown."""

import itertools
import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.kept import kept
from yarekeel.core.parameters import parameters_of
from yarekeel.core.quantities import Ratio
from yarekeel.core.search import edge
from yarekeel.core.sources import BRIEF, MECHANICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.limits import Limit
from yarekeel.stages.design.resizing import refitted, scaled
from yarekeel.stages.judging.judge import Judged, at_rest, try_judge

SCALE = "scale"
SCANNED = 9
"""Values looked at over the range before the edges are solved for."""
PEAK_STEPS = 24
PEAK_CLOSE: Ratio = 1e-4
GOLDEN = (3 - 5**0.5) / 2
CLOSE: Ratio = 1e-7
"""Of the range: an edge is known to that."""
SMALLEST, LARGEST = 0.4, 2.5
"""Times what it is now: beyond that it is another boat (common practice)."""


@dataclass(frozen=True, slots=True)
class Unknown:
    """Something that can be solved for: a path of the boat file, or ``scale`` for the whole boat. Degrees stay degrees."""

    path: str
    title: str
    kind: str
    now: float
    low: float
    high: float


@dataclass(frozen=True, eq=False)
class Tried:
    """The boat with the unknown at a value: its design, and how it stands."""

    value: float
    design: Design
    judged: Judged


@dataclass(frozen=True, eq=False)
class Sized:
    """The answer: the boat with the least hull that keeps every limit, None where there is none; ``now`` the boat as it is.
    ``binding`` is the limit that would be missed first if it were smaller."""

    unknown: Unknown
    limits: tuple[Limit, ...]
    now: Tried | None
    answer: Tried | None
    binding: str
    findings: tuple[Finding, ...]


def unknowns_of(craft: Craft) -> tuple[Unknown, ...]:
    """The whole boat, then each body's own sizes and, where it stands off the middle, its place."""
    out = [Unknown(path=SCALE, title="Whole-boat scale", kind="ratio", now=1.0, low=SMALLEST, high=LARGEST)]
    for n, body in enumerate(craft.design.bodies):
        at = f"bodies.{n}"
        own = [p for p in parameters_of(body.shape) if p.kind in ("length", "degrees")]
        for p in own:
            now = float(getattr(body.shape, p.name))
            if p.kind == "length":
                low, high = max(p.low, SMALLEST * now), min(p.high, LARGEST * now)
            else:
                low, high = p.low, p.high
            if high > low > -math.inf and now > 0:
                out.append(
                    Unknown(path=f"{at}.shape.{p.name}", title=f"{body.name}: {p.label.lower()}", kind=p.kind, now=now, low=low, high=high)
                )
        if not own:
            for k, word in enumerate(("longer", "wider", "deeper")):
                out.append(
                    Unknown(
                        path=f"{at}.scale.{k}",
                        title=f"{body.name}: {word}, times",
                        kind="ratio",
                        now=body.scale[k],
                        low=SMALLEST,
                        high=LARGEST,
                    )
                )
        y = body.at_m[1]
        if y > 0 and (body.mirrored or body.role == "float"):
            out.append(
                Unknown(
                    path=f"{at}.at_m.1", title=f"{body.name}: out from the middle", kind="length", now=y, low=SMALLEST * y, high=LARGEST * y
                )
            )
    return tuple(out)


def unknown(craft: Craft, path: str) -> Unknown:
    """One of them by its path. Raises InvalidInput if there is none."""
    found = next((u for u in unknowns_of(craft) if u.path == path), None)
    if found is None:
        raise InvalidInput("unknown", "Choose what may change: the whole boat, or one of its sizes.")
    return found


@kept
def with_unknown(craft: Craft, path: str, value: float) -> Design:
    """The boat with the unknown at a value; what is in it keeps its place in proportion and its built parts grow with the
    surface. Raises InvalidInput where it cannot be built."""
    return scaled(craft.design, value) if path == SCALE else refitted(craft, path, value)


def try_value(craft: Craft, u: Unknown, value: float, limits: tuple[Limit, ...]) -> Tried | None:
    """The boat with the unknown at a value, judged; None where it cannot be built."""
    try:
        design = with_unknown(craft, u.path, value)
    except InvalidInput:
        return None
    judged = try_judge(Craft(design), limits)
    return None if judged is None else Tried(value, design, judged)


def size_limits(craft: Craft) -> tuple[Limit, ...]:
    """What the brief asks of size. Trim and heel are not among it: where weights sit mends them, at any size."""
    return tuple(w for w in at_rest(craft) if w.sized)


@kept
def solve(craft: Craft, path: str) -> Sized:
    """The least hull that keeps every limit, with one unknown free. Raises InvalidInput with nothing aboard.

    The range is looked over, each edge between keeping and missing is solved for by the secant within its bracket, and of all
    values that keep the brief the one with the least hull is taken.
    """
    u, limits = unknown(craft, path), size_limits(craft)
    if craft.total.mass <= 0:
        raise InvalidInput("weights", "Nothing aboard weighs anything yet.")
    now = try_value(craft, u, u.now, limits)
    values = sorted({*_spread(u), u.now})
    tried = [t for t in (try_value(craft, u, v, limits) for v in values) if t is not None]
    if len(tried) < 2:
        return Sized(unknown=u, limits=limits, now=now, answer=None, binding="", findings=(_cannot(u),))
    kept = [t for t in tried if t.judged.least[0] >= 0]
    for a, b in itertools.pairwise(tried):
        if (a.judged.least[0] >= 0) != (b.judged.least[0] >= 0):
            kept.append(_edge(craft, u, limits, a, b))
    if not kept:
        peak, beside = _peak(craft, u, limits, tried)
        if peak.judged.least[0] < 0:
            return Sized(
                unknown=u,
                limits=limits,
                now=now,
                answer=None,
                binding="",
                findings=(*_conflict(u, limits, [*tried, peak], peak), *_idle(craft)),
            )
        kept += [peak, *(_edge(craft, u, limits, peak, b) for b in beside)]
    answer = min(kept, key=lambda t: (t.judged.volume, abs(t.value - u.now)))
    binding = answer.judged.least[1]
    findings = (*_found(u, limits, now, answer, binding, tried), *_idle(craft))
    return Sized(unknown=u, limits=limits, now=now, answer=answer, binding=binding, findings=findings)


def _spread(u: Unknown) -> list[float]:
    if u.kind == "degrees" or u.low <= 0:
        return [float(v) for v in np.linspace(u.low, u.high, SCANNED)]
    return [float(v) for v in np.geomspace(u.low, u.high, SCANNED)]


def _edge(craft: Craft, u: Unknown, limits: tuple[Limit, ...], a: Tried, b: Tried) -> Tried:
    """The value on the keeping side, next to where the least margin is nothing; what cannot be built misses."""
    kept, missed = (a, b) if a.judged.least[0] >= 0 else (b, a)
    known: dict[float, Tried | None] = {kept.value: kept, missed.value: missed}

    def margin(value: float) -> Ratio:
        if value not in known:
            known[value] = try_value(craft, u, value, limits)
        found = known[value]
        return -math.inf if found is None else found.judged.least[0]

    found = known[edge(margin=margin, missed=missed.value, kept=kept.value, close=CLOSE * (u.high - u.low), enough=1e-6)]
    assert found is not None  # the edge keeps it
    return found


def _peak(craft: Craft, u: Unknown, limits: tuple[Limit, ...], tried: list[Tried]) -> tuple[Tried, list[Tried]]:
    """Where the least margin is greatest, between the neighbours of the best value looked at, and those neighbours: all limits may
    be kept on a narrow stretch there, or two pull against each other. By the golden section."""
    best = max(range(len(tried)), key=lambda k: tried[k].judged.least[0])
    beside = [tried[k] for k in (best - 1, best + 1) if 0 <= k < len(tried)]
    low, high = min(t.value for t in (*beside, tried[best])), max(t.value for t in (*beside, tried[best]))
    peak = tried[best]
    for _ in range(PEAK_STEPS):
        if peak.judged.least[0] >= 0 or high - low < PEAK_CLOSE * (u.high - u.low):
            break
        # Into the larger of the two parts beside the best.
        value = (
            peak.value - GOLDEN * (peak.value - low) if peak.value - low > high - peak.value else peak.value + GOLDEN * (high - peak.value)
        )
        t = try_value(craft, u, value, limits)
        if t is not None and t.judged.least[0] > peak.judged.least[0]:
            low, high = (low, peak.value) if value < peak.value else (peak.value, high)
            peak = t
        elif value < peak.value:
            low = value
        else:
            high = value
    return peak, [b for b in beside if b.judged.least[0] < 0]


def _idle(craft: Craft) -> tuple[Finding, ...]:
    """A greatest draft that the hull's own depth keeps by itself."""
    asked, (low, high) = craft.design.brief.most_draft_m, craft.hull.mesh.bounds
    depth = float(high[2] - low[2])
    if asked is None or asked < depth:
        return ()
    text = "The hull is {depth:length} deep. Ask for less than that if it is to count."
    return (
        Finding("size.idle", "note", "A draft of {asked:length} asks nothing", text, source=BRIEF, values={"asked": asked, "depth": depth}),
    )


def _cannot(u: Unknown) -> Finding:
    return Finding(
        "size.cannot", "fails", "Such a boat cannot be built", "{what} has no room to change.", source=MECHANICS, values={"what": u.title}
    )


def _conflict(u: Unknown, limits: tuple[Limit, ...], tried: list[Tried], peak: Tried) -> list[Finding]:
    """Which two limits want {unknown} on either side of each other, and by how much; or the one that no value keeps."""
    by_code = {w.code: w for w in limits}
    effect = max(abs(t.judged.margins[c] - tried[0].judged.margins[c]) for t in tried for c in by_code)
    if effect < 1e-9:
        return [
            Finding(
                "size.no_effect",
                "fails",
                "{what} changes nothing that is missed",
                "Choose another.",
                source=MECHANICS,
                values={"what": u.title},
            )
        ]
    never = [c for c in by_code if all(t.judged.margins[c] < 0 for t in tried)]
    if never:
        code = max(never, key=lambda c: -max(t.judged.margins[c] for t in tried))
        near = max(tried, key=lambda t: t.judged.margins[code])
        limit = by_code[code]
        values: dict[str, float | str] = {"what": u.title, "limit": limit.word, "asked": limit.asked, "best": _value(near, code)}
        text = f"The nearest it comes is {{best:{limit.kind}}}; you asked for {{asked:{limit.kind}}}."
        if near.judged.afloat is None and code not in ("mass", "length", "beam"):
            text = "It sinks at every size in reach."
        way = (Remedy("Ask for less, or change something else too", "brief"),)
        return [Finding("size.never", "fails", "No value of {what} keeps the {limit}", text, source=BRIEF, values=values, remedies=way)]
    a, b = (by_code[c] for c in sorted(by_code, key=lambda c: peak.judged.margins[c])[:2])
    values = {
        "what": u.title,
        "at": peak.value,
        "a": a.word,
        "a_asked": a.asked,
        "a_has": _value(peak, a.code),
        "b": b.word,
        "b_asked": b.asked,
        "b_has": _value(peak, b.code),
    }
    text = (
        f"At its best, {{at:{_unit(u)}}}, the {{a}} is {{a_has:{a.kind}}} (asked {{a_asked:{a.kind}}}) and the {{b}} "
        f"{{b_has:{b.kind}}} (asked {{b_asked:{b.kind}}}): one of the two must give way by that much."
    )
    way = (Remedy("Change the brief", "brief"),)
    return [Finding("size.conflict", "fails", "The {a} and the {b} want it both ways", text, source=BRIEF, values=values, remedies=way)]


def _value(t: Tried, code: str) -> float:
    return t.judged.values.get(code, math.nan)


def _unit(u: Unknown) -> str:
    return {"length": "length", "degrees": "degrees", "ratio": "ratio"}[u.kind]


def _found(u: Unknown, limits: tuple[Limit, ...], now: Tried | None, answer: Tried, binding: str, tried: list[Tried]) -> list[Finding]:
    limit = next(w for w in limits if w.code == binding)
    values: dict[str, float | str] = {
        "what": u.title,
        "value": answer.value,
        "now": u.now,
        "limit": limit.word,
        "volume": answer.judged.volume,
        "grown": answer.judged.volume / now.judged.volume - 1 if now else 0.0,
    }
    same = abs(answer.value - u.now) < 1e-4 * max(abs(u.now), 1e-9)
    title = "{what} is as small as it can be" if same else "{what}: {value:" + _unit(u) + "}"
    text = f"It is {{now:{_unit(u)}}} now. Any less hull would miss the {{limit}}."
    if answer.judged.least[0] > 1e-3:
        text = f"It is {{now:{_unit(u)}}} now. That is the end of its range; the brief would allow less hull still."
    return [Finding("size.answer", "holds", title, text, source=BRIEF, values=values)]


@dataclass(frozen=True, eq=False)
class ScaleColumn:
    """The boat at a scale, side by side with others: what s, s2 and s3 do, and what does not fit any more."""

    factor: Ratio
    tried: Tried | None
    area: float
    volume: float
    bought_mass: float
    built_mass: float
    outside: tuple[str, ...]


def side_by_side(craft: Craft, factors: tuple[Ratio, ...]) -> tuple[ScaleColumn, ...]:
    """The boat at several scales. Bought parts keep their mass and their size; what is built goes by its recipe or its skin."""
    limits = at_rest(craft)
    out = []
    for factor in factors:
        if not (math.isfinite(factor) and 0.05 <= factor <= 20):
            raise InvalidInput("scales", "A scale lies between 0.05 and 20.")
        u = Unknown(path=SCALE, title="Whole-boat scale", kind="ratio", now=1.0, low=SMALLEST, high=LARGEST)
        tried = try_value(craft, u, factor, limits)
        if tried is None:
            out.append(ScaleColumn(factor=factor, tried=None, area=0.0, volume=0.0, bought_mass=0.0, built_mass=0.0, outside=()))
            continue
        other = Craft(tried.design)
        built = sum(i.mass_kg for i in other.items if i.structure or i.fixed)
        mesh, bought = other.hull.mesh, tried.judged.mass - built
        out.append(
            ScaleColumn(
                factor=factor,
                tried=tried,
                area=mesh.area,
                volume=mesh.volume,
                bought_mass=bought,
                built_mass=built,
                outside=_outside(craft, other),
            )
        )
    return tuple(out)


def _outside(before: Craft, after: Craft) -> tuple[str, ...]:
    """Bought parts that had room for themselves and have none now: a cube of their mass at the density of water, twice as dense for
    electrics, against the hull's depth and beam at their station."""
    low, high = after.hull.mesh.bounds
    room = min(float(high[1] - low[1]), float(high[2] - low[2]))
    was_low, was_high = before.hull.mesh.bounds
    had = min(float(was_high[1] - was_low[1]), float(was_high[2] - was_low[2]))
    out = []
    for item in after.items:
        if item.mass_kg <= 0 or item.structure or item.fixed or item.group == "crew":
            continue
        side = (item.mass_kg / (2000.0 if item.group in ("electrics", "drive") else 1000.0)) ** (1 / 3)
        if side > room and side <= had:
            out.append(item.name)
    return tuple(out)
