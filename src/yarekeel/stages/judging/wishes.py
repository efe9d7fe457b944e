"""What the brief asks, as numbers that can be solved for: each wish, what the boat has of it, and by how much it is kept."""

import math
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.hydrostatics.afloat import LOLL_FROM, Afloat, float_boat
from yarekeel.core.hydrostatics.equilibrium import Equilibrium, solve_held
from yarekeel.core.quantities import CubicMetres, Kilograms, Radians, Ratio
from yarekeel.stages.afloat.forced import rail_at
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft

LOLLS: Radians = math.radians(5.0)
"""Heel from which a boat is taken to loll where only its rest is known."""
SUNK: Ratio = -10.0
"""Margin of every wish of a boat that sinks, less what it is too heavy by: a solver then still sees which way is up."""


@dataclass(frozen=True, slots=True)
class Wish:
    """One limit of the brief. ``kind`` is the units' word for its number, ``scale`` what its margin is counted in."""

    code: str
    title: str
    kind: str
    asked: float
    at_least: bool
    scale: float

    @property
    def word(self) -> str:
        """The title as it stands within a sentence."""
        return self.title if self.title.isupper() else self.title[:1].lower() + self.title[1:]

    def margin(self, value: float) -> Ratio:
        """By how much a value keeps it (0 or more) or misses it, as a share of ``scale``."""
        return (value - self.asked if self.at_least else self.asked - value) / self.scale


@dataclass(frozen=True, slots=True)
class Judged:
    """A boat against the wishes: its figures and margins by code; ``afloat`` None where it sinks."""

    values: dict[str, float]
    margins: dict[str, Ratio]
    afloat: Afloat | None
    mass: Kilograms
    volume: CubicMetres

    @property
    def least(self) -> tuple[Ratio, str]:
        """The wish that is kept by least or missed by most."""
        return min((m, code) for code, m in self.margins.items())


def wishes_of(brief: Brief) -> tuple[Wish, ...]:
    """The wishes a brief states, the usual first; those left open are not among them."""
    angle, rail = math.radians(brief.allowed_trim_deg), (brief.rail_mass_kg, brief.rail_heel_deg)
    rows: tuple[tuple[str, str, str, float | None, bool], ...] = (
        ("freeboard", "Least freeboard", "length", brief.least_freeboard_m, True),
        ("trim", "Trim", "angle", angle, False),
        ("heel", "Heel", "angle", angle, False),
        ("gm", "GM", "length", brief.least_gm_m, True),
        ("mass", "All-up mass", "mass", brief.target_mass_kg, False),
        ("draft", "Draft", "length", brief.most_draft_m, False),
        ("reserve", "Reserve buoyancy", "percent", brief.least_reserve, True),
        ("length", "Length to carry", "length", brief.most_length_m, False),
        ("beam", "Beam to carry", "length", brief.most_beam_m, False),
        ("bed_length", "Longest printed part", "length", brief.bed_length_m, False),
        ("bed_width", "Widest printed part", "length", brief.bed_width_m, False),
        ("bed_height", "Tallest printed part", "length", brief.bed_height_m, False),
        ("sheet", "Length in one sheet", "length", brief.sheet_length_m, False),
        ("rail", "Lean with the weight on its rail", "angle", None if None in rail else math.radians(brief.rail_heel_deg or 0.0), False),
    )
    scales = {"length": 0.01, "angle": math.radians(1.0), "mass": 0.1, "percent": 0.1}
    return tuple(
        Wish(code, title, kind, asked, at_least, max(abs(asked), scales[kind]))
        for code, title, kind, asked, at_least in rows
        if asked is not None
    )


def _deepest(craft: Craft, a: Afloat) -> float:
    return -(float((craft.hull.mesh.vertices @ a.attitude.up).min()) + a.attitude.origin_height)


def _leaning(craft: Craft) -> float:
    """The heel with the brief's weight on its rail amidships; upside down where it goes over."""
    mass, total, at = craft.design.brief.rail_mass_kg or 0.0, craft.total, rail_at(craft, -1.0)
    whole = total.mass + mass
    x, y, z = ((total.mass * total.centre[k] + mass * at[k]) / whole for k in range(3))
    try:
        leaning = float_boat(craft.hull, whole, (x, y, z), craft.density, None, craft.kernel)
    except NoRest:
        return math.pi
    return abs(leaning.attitude.heel)


_OF_FLOAT: dict[str, Callable[[Craft, Afloat], float]] = {
    "freeboard": lambda c, a: a.freeboard,
    "trim": lambda c, a: abs(a.attitude.trim),
    "heel": lambda c, a: abs(a.attitude.heel),
    "gm": lambda c, a: a.judged_gm,
    "reserve": lambda c, a: a.reserve,
    "draft": _deepest,
    "rail": lambda c, a: _leaning(c),
}
_OF_SHAPE: dict[str, Callable[[Craft], float]] = {
    "length": lambda c: _extent(c, 0),
    "beam": lambda c: _extent(c, 1),
    "bed_length": lambda c: _part(c, 0),
    "bed_width": lambda c: _part(c, 1),
    "bed_height": lambda c: _part(c, 2),
    "sheet": lambda c: _extent(c, 0),
}


def _extent(craft: Craft, axis: int) -> float:
    low, high = craft.hull.mesh.bounds
    return float(high[axis] - low[axis])


def _part(craft: Craft, axis: int) -> float:
    """The largest body's extent along an axis; of a mirrored pair, one."""
    sizes = []
    for n, body in enumerate(craft.design.bodies):
        low, high = craft.piece(n).bounds
        size = float(high[axis] - low[axis])
        if body.mirrored and axis == 1:
            size = size / 2 - max(0.0, abs(body.at_m[1]) - size / 4) if abs(body.at_m[1]) > 0 else size
        sizes.append(size)
    return max(sizes)


def figures_at_rest(craft: Craft, wishes: tuple[Wish, ...], rest: Equilibrium) -> dict[str, float]:
    """The wishes' figures from the rest alone, quicker than ``judge``; of a boat that lolls GM is that of the boat held upright;
    one that leans far goes over under the weight on its rail."""
    xx, _, _ = rest.turning_stiffness
    attitude, mass = rest.attitude, craft.total.mass + craft.liquid_mass
    lolls = abs(attitude.heel) > LOLLS
    out = {w.code: _OF_SHAPE[w.code](craft) for w in wishes if w.code in _OF_SHAPE}
    out |= {"trim": abs(attitude.trim), "heel": abs(attitude.heel), "mass": mass}
    gm = xx / rest.displaced
    if abs(attitude.heel) > LOLL_FROM:  # does it lean because upright is unstable?
        gm = min(gm, solve_held(craft.kernel, rest.displaced, rest.gravity, 0.0).heel_stiffness)
    out["gm"] = gm * rest.displaced * craft.density / mass
    out["freeboard"] = craft.hull.least_freeboard(attitude)[0]
    out["reserve"] = craft.hull.kernel.total_volume * craft.density / mass - 1
    codes = {w.code for w in wishes}
    if "draft" in codes:
        out["draft"] = -(float((craft.hull.mesh.vertices @ attitude.up).min()) + attitude.origin_height)
    if "rail" in codes:
        out["rail"] = math.pi if lolls else _leaning(craft)
    return out


def judge(craft: Craft, wishes: tuple[Wish, ...]) -> Judged:
    """The boat against the wishes. Raises InvalidInput where nothing is aboard or the hull cannot be built."""
    total = craft.total
    mass = total.mass + craft.liquid_mass
    volume = craft.hull.kernel.total_volume
    values = {w.code: _OF_SHAPE[w.code](craft) for w in wishes if w.code in _OF_SHAPE}
    values["mass"] = mass
    afloat = None
    with suppress(NoRest):
        afloat = craft.rest()
    margins = {w.code: w.margin(values[w.code]) for w in wishes if w.code in values}
    over = SUNK - mass / (volume * craft.density)
    for w in wishes:
        if w.code in values:
            continue
        if afloat is None:
            margins[w.code] = over
        else:
            values[w.code] = _OF_FLOAT[w.code](craft, afloat)
            margins[w.code] = w.margin(values[w.code])
    return Judged(values, margins, afloat, mass, volume)


def try_judge(craft: Craft, wishes: tuple[Wish, ...]) -> Judged | None:
    """As ``judge``; None where the boat cannot be built."""
    try:
        return judge(craft, wishes)
    except InvalidInput:
        return None
