"""Criteria as yardsticks: the 2008 IS Code's numbers, made for large ships, and the limits of the brief."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.errors import Unsolved
from yarekeel.core.findings import Finding
from yarekeel.core.quantities import MetreRadians, Radians
from yarekeel.core.rules.is_2008 import IS_2008, Clause, Measured, clauses
from yarekeel.core.sources import SMALL_CRAFT
from yarekeel.core.stability.righting import Righted, RightingCurve, RightingPoint
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.stability.plain_tests import Tested
from yarekeel.stages.stability.stability import StabilityAssessment

THIRTY, FORTY = math.radians(30), math.radians(40)


@dataclass(frozen=True, slots=True)
class Own:
    """A limit of the brief on tipping: ``has`` None where nothing holds the boat."""

    title: str
    kind: str
    asked: float
    has: float | None
    at_least: bool

    @property
    def holds(self) -> bool:
        return self.has is not None and (self.has >= self.asked - 1e-9 if self.at_least else self.has <= self.asked + 1e-9)


@dataclass(frozen=True, slots=True)
class CriteriaAssessment:
    """``flooding`` is the lean up to which areas are taken, 40° at most."""

    clauses: tuple[Clause, ...]
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


def assess(craft: Craft, r: StabilityAssessment, tests: Sequence[Tested]) -> CriteriaAssessment | None:
    """The worse side against both; None for a boat that has no attitude."""
    curve = r.worse
    if curve is None or r.boat is None or r.afloat is None:
        return None
    wet = r.water_in(curve.side)
    last = min(FORTY, abs(wet.heel) if wet else math.inf)
    try:
        to_last, to_30 = area_to(r.boat, curve, last), area_to(r.boat, curve, min(THIRTY, last))
        arm = max([curve.push(p) for p in curve.points if abs(p.heel) >= THIRTY], default=0.0)
        arm = max(arm, curve.push(point_at(r.boat, curve, THIRTY)))
    except Unsolved:
        return None
    a = r.afloat
    gm = a.judged_gm
    measured = Measured(to_30, to_last, arm, abs(curve.peak.heel) if curve.rights else 0.0, gm)
    return CriteriaAssessment(clauses(measured), _own(craft, r, curve, gm, tests), last, _findings(craft))


def _own(craft: Craft, r: StabilityAssessment, curve: RightingCurve, gm: float, tests: Sequence[Tested]) -> tuple[Own, ...]:
    brief = craft.design.brief
    rows = [Own("GM", "length", brief.least_gm_m, gm, True)]
    if brief.least_peak_m is not None:
        rows.append(Own("Greatest righting arm", "length", brief.least_peak_m, curve.push(curve.peak) if curve.rights else 0.0, True))
    if brief.least_range_deg is not None:
        rows.append(Own("Comes back from, no water in", "angle", math.radians(brief.least_range_deg), r.safe_range, True))
    for t in tests:
        if t.limit is not None:
            rows.append(Own(t.code, "angle", t.limit, t.lean, False))
    return tuple(rows)


def _findings(craft: Craft) -> tuple[Finding, ...]:
    text = (
        "The code's numbers are for ships of 24 m and more; arms and areas shrink with size, so a small boat that misses them can be good, "
        "and one that meets them is not thereby safe. They are a yardstick to compare revisions by."
    )
    out = [Finding("criterion.large_ships", "note", "Made for large ships", text, IS_2008)]
    if craft.design.brief.kind == "people":
        text = "Boats of that size that carry people are judged by other rules; this does not stand in for them."
        out.append(Finding("criterion.small_craft", "note", "What governs small craft", text, SMALL_CRAFT))
    return tuple(out)
