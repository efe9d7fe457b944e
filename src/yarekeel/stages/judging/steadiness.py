"""How steady a boat must be: every limit of the brief that is about tipping, and by how much a boat keeps or misses each."""

import math
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Metres, Radians, Ratio
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import limit_always, limit_of
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.stability.plain_tests import Tested
from yarekeel.stages.stability.stability import HEELS, StabilityAssessment

QUICK: tuple[Radians, ...] = tuple(math.radians(a) for a in (0, 2, 4, 7, *range(10, 91, 5)))
"""As far as a boat that carries on is heeled; on to 180° only where it must right itself."""
BEYOND: tuple[Radians, ...] = tuple(math.radians(a) for a in range(100, 181, 10))
LOST: Ratio = -2.0
"""Margin of a test that nothing holds, and of everything of a boat that sinks."""
FLOATING = "floating"
"""What a boat misses that comes to no rest."""


@dataclass(frozen=True, eq=False)
class Steadiness:
    """By how much each limit is kept (0 or more) or missed, as a share of it, by its code; with what was found."""

    margins: dict[str, Ratio]
    result: StabilityAssessment | None
    tests: tuple[Tested, ...]

    @property
    def least(self) -> tuple[Ratio, str]:
        return min(((m, name) for name, m in self.margins.items()), default=(0.0, ""))


def steadiness(craft: Craft, *, whole: bool = True) -> Steadiness:
    """The boat against the limits; with ``whole`` off it stops at a GM that is missed, and sweeps no further than it must."""
    brief = craft.design.brief
    quick = (*QUICK, *BEYOND) if (brief.least_range_deg or 0.0) > 90 else QUICK
    figures = Figures(craft, heels=HEELS if whole else quick)
    try:
        gm = figures["gm"]
    except InvalidInput:
        gm = None
    if gm is None:
        return Steadiness({FLOATING: LOST - 1}, None, ())
    margins = {"gm": limit_always(brief, "gm").margin(gm)}
    if not whole and margins["gm"] < 0:
        return Steadiness(margins, None, ())
    if figures.curves.worse is None:
        return Steadiness({FLOATING: LOST - 1}, figures.curves, ())
    for code in ("peak", "range"):
        limit = limit_of(brief, code)
        value = figures[limit.figure] if limit else None
        if limit is not None and value is not None:
            margins[code] = limit.margin(value)
    for test in figures.tests:
        limit = limit_of(brief, test.code)
        if test.lean is None:
            margins[test.code] = LOST
        elif limit is not None:
            margins[test.code] = limit.margin(test.lean)
        if test.lean is not None and test.left <= 0 and (craft.hull.open or craft.openings):
            margins[test.code] = min(margins.get(test.code, 0.0), _wet(test.left, brief.least_freeboard_m))
    return Steadiness(margins, figures.curves, figures.tests)


def _wet(left: Metres, asked: Metres) -> Ratio:
    """Less than nothing, however little water comes in."""
    return left / max(asked, 0.01) - 1e-6
