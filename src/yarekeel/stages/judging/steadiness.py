"""How steady a boat must be: every limit of the brief that is about tipping, and by how much a boat keeps or misses each."""

import math
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.quantities import Metres, Radians, Ratio
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.stability import plain_tests, stability
from yarekeel.stages.stability.plain_tests import Tested
from yarekeel.stages.stability.stability import StabilityAssessment

QUICK: tuple[Radians, ...] = tuple(math.radians(a) for a in (0, 2, 4, 7, *range(10, 91, 5)))
"""As far as a boat that carries on is heeled; on to 180° only where it must right itself."""
BEYOND: tuple[Radians, ...] = tuple(math.radians(a) for a in range(100, 181, 10))
LOST: Ratio = -2.0
"""Margin of a test that nothing holds, and of everything of a boat that sinks."""


@dataclass(frozen=True, eq=False)
class Steadiness:
    """By how much each limit is kept (0 or more) or missed, as a share of it, by a word for it; with what was found."""

    margins: dict[str, Ratio]
    result: StabilityAssessment | None
    tests: tuple[Tested, ...]

    @property
    def least(self) -> tuple[Ratio, str]:
        return min(((m, name) for name, m in self.margins.items()), default=(0.0, ""))


def steadiness(craft: Craft, *, whole: bool = True) -> Steadiness:
    """The boat against the limits; with ``whole`` off it stops at a GM that is missed, and sweeps no further than it must."""
    brief = craft.design.brief
    try:
        rest = craft.rest()
    except (NoRest, InvalidInput):
        return Steadiness({"floating": LOST - 1}, None, ())
    gm = rest.judged_gm
    margins = {"GM": (gm - brief.least_gm_m) / max(brief.least_gm_m, 0.01)}
    if not whole and margins["GM"] < 0:
        return Steadiness(margins, None, ())
    heels = (*QUICK, *BEYOND) if (brief.least_range_deg or 0.0) > 90 else QUICK
    result = stability.assess(craft, stability.HEELS if whole else heels)
    worse = result.worse
    if worse is None:
        return Steadiness({"floating": LOST - 1}, result, ())
    if brief.least_peak_m:
        margins["greatest arm"] = (worse.push(worse.peak) - brief.least_peak_m) / brief.least_peak_m
    if brief.least_range_deg:
        asked = math.radians(brief.least_range_deg)
        margins["range"] = (result.safe_range - asked) / asked
    tests = plain_tests.assess(craft, result)
    for t in tests:
        if t.lean is None:
            margins[t.code] = LOST
        elif t.limit is not None:
            margins[t.code] = (t.limit - t.lean) / t.limit
        if t.lean is not None and t.left <= 0 and (craft.hull.open or craft.openings):
            margins[t.code] = min(margins.get(t.code, 0.0), _wet(t.left, brief.least_freeboard_m))
    return Steadiness(margins, result, tests)


def _wet(left: Metres, asked: Metres) -> Ratio:
    return left / max(asked, 0.01) - 1e-6


def word_of(code: str) -> str:
    """What a limit is called in a sentence."""
    return {
        "test.rail": "weight on the rail",
        "test.lean": "leaning out",
        "test.stand": "standing up",
        "test.move": "moving to one side",
        "test.catch": "catch over the side",
        "test.wind": "wind",
        "test.gust": "gust",
        "test.turn": "turn",
        "test.tow": "tow",
        "test.wake": "wake",
    }.get(code, code)
