"""Criteria as yardsticks: the 2008 IS Code's numbers, made for large ships, and the limits of the brief."""

import math
from dataclasses import dataclass

from yarekeel.core.errors import Unsolved
from yarekeel.core.findings import Finding
from yarekeel.core.quantities import MetreRadians, Radians
from yarekeel.core.rules.is_2008 import IS_2008, Criterion, Measured, clauses
from yarekeel.core.sources import SMALL_CRAFT
from yarekeel.core.stability.righting import Righted, RightingCurve, RightingPoint
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import Limit, asked_of
from yarekeel.stages.judging.figures import Figures

THIRTY, FORTY = math.radians(30), math.radians(40)


@dataclass(frozen=True, slots=True)
class Own:
    """A limit of the brief on tipping: ``has`` None where nothing holds the boat."""

    limit: Limit
    has: float | None

    @property
    def holds(self) -> bool:
        return self.limit.keeps(self.has)


@dataclass(frozen=True, slots=True)
class CriteriaAssessment:
    """``flooding`` is the lean up to which areas are taken, 40° at most."""

    clauses: tuple[Criterion, ...]
    own: tuple[Own, ...]
    flooding: Radians
    findings: tuple[Finding, ...]


def area_to(boat: Righted, curve: RightingCurve, lean: Radians) -> MetreRadians:
    """Area under the push from upright to a lean, by the energy it takes (trim free): exact, not by trapezoids. Raises Unsolved."""
    start, end = curve.points[0], point_at(boat, curve, lean)
    return (end.energy - start.energy) * boat.share


def point_at(boat: Righted, curve: RightingCurve, lean: Radians) -> RightingPoint:
    """The curve at a lean, solved for. Raises Unsolved."""
    near = min(curve.points, key=lambda p: abs(abs(p.heel) - lean))
    return boat.near(near, curve.side * lean, tolerance=1e-8)


def assess(figures: Figures) -> CriteriaAssessment | None:
    """The worse side against both; None for a boat that has no attitude."""
    craft, r = figures.craft, figures.stability
    curve = r.worse
    if curve is None or r.boat is None or r.afloat is None:
        return None
    wet = r.water_in(curve.side)
    last = min(FORTY, abs(wet.heel) if wet else math.inf)
    try:
        to_last, to_30 = area_to(r.boat, curve, last), area_to(r.boat, curve, min(THIRTY, last))
        arm = max([curve.righting_arm(p) for p in curve.points if abs(p.heel) >= THIRTY], default=0.0)
        arm = max(arm, curve.righting_arm(point_at(r.boat, curve, THIRTY)))
    except Unsolved:
        return None
    measured = Measured(
        to_30=to_30, to_40=to_last, arm_past_30=arm, peak_at=abs(curve.peak.heel) if curve.rights else 0.0, gm=r.afloat.judged_gm
    )
    return CriteriaAssessment(clauses(measured), _own(figures), last, _findings(craft))


def _own(figures: Figures) -> tuple[Own, ...]:
    """Every limit on tipping that is asked for; of the tests, those that are done."""
    done = {t.code for t in figures.tests}
    rows = [row for row in asked_of(figures.craft.design.brief) if row.tipping and row.code != "rail"]
    return tuple(Own(row, figures[row.figure]) for row in rows if row.code in done or not row.code.startswith("test."))


def _findings(craft: Craft) -> tuple[Finding, ...]:
    text = (
        "The code's numbers are for ships of 24 m and more; arms and areas shrink with size, so a small boat that misses them can be good, "
        "and one that meets them is not thereby safe. They are a yardstick to compare revisions by."
    )
    out = [Finding("criterion.large_ships", "note", "Made for large ships", text, source=IS_2008)]
    if craft.design.brief.kind == "people":
        text = "Boats of that size that carry people are judged by other rules; this does not stand in for them."
        out.append(Finding("criterion.small_craft", "note", "What governs small craft", text, source=SMALL_CRAFT))
    return tuple(out)
