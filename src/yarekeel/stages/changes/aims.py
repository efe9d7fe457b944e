"""What a change is to mend: a margin that a boat keeps (0 or more) or misses, and what is said where it keeps it already."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, YareKeelError
from yarekeel.core.quantities import Ratio
from yarekeel.stages.afloat import flooding
from yarekeel.stages.afloat.margins import margin as height_left
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import limit_always, limit_of
from yarekeel.stages.drive import drive, line, pack_verdicts
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.steadiness import steadiness
from yarekeel.stages.underway import foils, pads, steering, turning

MISSED: Ratio = -10.0
"""Margin of a boat that floats or runs no more."""
TOWED = math.radians(5.0)
"""Lean under a tow that a boat is to keep below where its brief asks nothing (common practice)."""
SPARE: Ratio = 1.0
"""Margin of what is kept or missed and has no measure: a search then still goes on to where it turns."""


@dataclass(frozen=True, slots=True)
class Aim:
    """A row: its code, its margin, what is said of a boat that keeps it, and in how few words it is called."""

    code: str
    word: str
    margin: Callable[[Craft], Ratio]
    kept: str


def _guarded(of: Callable[[Craft], Ratio]) -> Callable[[Craft], Ratio]:
    """A boat that cannot be worked out misses its aim."""

    def margin(craft: Craft) -> Ratio:
        try:
            return of(craft)
        except (InvalidInput, YareKeelError):
            return MISSED

    return margin


def failing(craft: Craft) -> tuple[str, ...]:
    """Codes of the drive's verdicts that fail."""
    found = (*drive.judged(craft), *pack_verdicts.wired(craft.design))
    return tuple(dict.fromkeys(f.code for f in found if f.severity == "fails"))


def _drive(craft: Craft) -> Ratio:
    return -float(len(failing(craft))) or SPARE


def _freeboard(craft: Craft) -> Ratio:
    freeboard = Figures(craft)["freeboard_min"]
    return MISSED if freeboard is None else limit_always(craft.design.brief, "freeboard").margin(freeboard)


def _level(craft: Craft) -> Ratio:
    figures = Figures(craft)
    asked = {name: (figures[name], limit_of(craft.design.brief, name)) for name in ("trim", "heel")}
    return min((limit.margin(value) for value, limit in asked.values() if value is not None and limit is not None), default=MISSED)


def _pull_trim(craft: Craft) -> Ratio:
    return line.trim_margin(craft)


def _straight_pull(craft: Craft) -> Ratio:
    found = line.assess(craft)
    if found is None:
        return MISSED
    allowed = line.LEAST_YAW * found.rows[-1].pull * craft.hull.beam
    return 1 - abs(found.yaw) / allowed if allowed > 0 else SPARE


def _air(craft: Craft) -> Ratio:
    """Least depth of the tips of its propellers at full throttle over half a diameter, less one."""
    found = line.assess(craft)
    if found is None:
        return MISSED
    sizes = {m.name: float(getattr(m.propulsor, "diameter_m", 0.0)) for m in craft.design.drive.motors}
    tips = found.rows[-1].tips or found.rows[0].tips
    return min((depth / (line.WELL_UNDER * sizes[name]) - 1 for name, depth in tips if sizes.get(name)), default=SPARE)


def _course(craft: Craft) -> Ratio:
    found = steering.assess(craft)
    return MISSED if found is None else found.rows[-1].margin - steering.WANTED


def _steers(craft: Craft) -> Ratio:
    return turning.rudder_margin(craft)


def _foils(craft: Craft) -> Ratio:
    ratio = foils.lift_ratio(craft)
    low, high = foils.TOGETHER
    return MISSED if ratio is None or not math.isfinite(ratio) else min(ratio - low, high - ratio)


def _pads(craft: Craft) -> Ratio:
    found = pads.assess(craft)
    if found is None or not found.rows:
        return MISSED
    return max(r.carried for r in found.rows) - pads.CARRIES


def _openings(craft: Craft) -> Ratio:
    rest = Figures(craft).rest
    asked = craft.design.brief.least_freeboard_m
    return MISSED if rest is None else (height_left(craft, rest.attitude)[0] - asked) / max(asked, 0.01)


def _mass(craft: Craft) -> Ratio:
    return 1 - craft.mass / craft.design.brief.target_mass_kg


def _flooded(craft: Craft) -> Ratio:
    """The worst of its dry spaces open to the sea; of a boat that is not divided, the whole hull."""
    numbers = [n for n, s in enumerate(craft.spaces) if s.kernel and s.compartment.use == "dry"]
    if not numbers:
        return MISSED
    worst = math.inf
    depth = craft.hull.depth
    for n in numbers:
        after = flooding.assess(craft, frozenset({n})).after
        if after is None or after.is_capsized:
            return MISSED
        worst = min(worst, height_left(craft, after.attitude)[0] / depth)
    return worst


def _tow(craft: Craft) -> Ratio:
    """How much less the tow leans it than the brief allows, or than ``TOWED`` where it says nothing, as a share of that."""
    figures = Figures(craft)
    test = figures.test("test.tow")
    if test is None:
        return SPARE
    limit = limit_of(craft.design.brief, "test.tow")
    if test.lean is None:
        return MISSED
    return limit.margin(test.lean) if limit is not None else 1 - test.lean / TOWED


def _pulls(craft: Craft) -> Ratio:
    limit = limit_of(craft.design.brief, "thrust")
    asked = limit.margin(Figures(craft).drive.thrust_to_weight) if limit is not None else SPARE
    return min(asked, _drive(craft))


STEADY = Aim(
    "steady",
    "tipping",
    lambda craft: steadiness(craft, whole=False).least[0],
    "Nothing that tips it misses its limit, so there is nothing for it to mend.",
)
FREEBOARD = Aim("freeboard", "freeboard", _guarded(_freeboard), "Freeboard is already met; a larger hull would only weigh more.")
LEVEL = Aim("level", "trim and heel", _guarded(_level), "It floats level already.")
TOW = Aim("tow", "the tow", _guarded(_tow), "The tow leans it no further than it may.")
DRIVE = Aim("drive", "the drive", _guarded(_drive), "Nothing of the drive misses its limit, so there is nothing for it to mend.")
PULLS = Aim("pulls", "thrust to weight", _guarded(_pulls), "It pulls as hard as it is asked to, and nothing of the drive fails.")
PULL_TRIM = Aim(
    "pull_trim", "trim at full throttle", _guarded(_pull_trim), "Tied up at full throttle it sits within the trim that the brief allows."
)
STRAIGHT = Aim("straight", "pulling straight", _guarded(_straight_pull), "Its thrust turns it by next to nothing.")
DEEP = Aim("deep", "air at the propeller", _guarded(_air), "Its propellers' tips are deep enough to draw no air.")
COURSE = Aim("course", "holding a course", _guarded(_course), "Its side area lies far enough aft of its centre of gravity at speed.")
STEERS = Aim("steers", "its rudder", _guarded(_steers), "Its rudder is in the water at speed, and large enough.")
FOILS = Aim("foils", "its foils' shares", _guarded(_foils), "Front and rear foil lift together already.")
PADS = Aim("pads", "running on its pads", _guarded(_pads), "Its pads carry it already.")
OPENINGS = Aim("openings", "its openings", _guarded(_openings), "The lowest opening is as far over the water as the brief asks.")
MASS = Aim("mass", "its mass", _guarded(_mass), "It weighs no more than the brief asks.")
FLOODED = Aim("flooded", "a flooded space", _guarded(_flooded), "With any one space full of water it still floats with its edge out.")
