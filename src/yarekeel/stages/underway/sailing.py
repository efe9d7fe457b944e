"""Under sail: the speed at each angle to the wind, with the lean and the leeway that go with it. Rough."""

import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.sail import apparent, effort, sail_push
from yarekeel.core.quantities import Floats, Metres, MetresPerSecond, Newtons, Point, Radians, Ratio, SquareMetres
from yarekeel.core.running.course import fin_slope
from yarekeel.core.search import root
from yarekeel.core.sources import COMMON_PRACTICE, HAZEN_1980, MECHANICS
from yarekeel.stages.afloat.forced import lateral_area
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.running.boat import bare_hull
from yarekeel.stages.running.resistance import Resistance, resistance_of
from yarekeel.stages.stability.stability import StabilityAssessment
from yarekeel.stages.underway.turning import fins_of

ANGLES: tuple[Radians, ...] = tuple(math.radians(a) for a in range(30, 181, 10))
"""Of the true wind from ahead."""
MOST_WIND: MetresPerSecond = 20.0
REEFED: Radians = math.radians(20.0)
"""Lean at which sail is taken in (common practice: 15 to 25°)."""
MOST_LEEWAY: Radians = math.radians(12.0)
"""Beyond, a board stalls and the boat goes sideways (common practice)."""
DOUBT: Ratio = 0.3
"""Half the width of the band of a speed, as a share: sails and crews differ (from memory)."""
CLOSE: MetresPerSecond = 1e-4
SLOWEST: MetresPerSecond = 0.05


@dataclass(frozen=True, slots=True)
class Course:
    """An angle to the true wind: speed, lean, leeway, the share of the sail that is set (reefed to a lean of 20°), and the speed made good
    to windward (less than 0: to leeward)."""

    angle: Radians
    speed: MetresPerSecond
    lean: Radians
    leeway: Radians
    set: Ratio
    made_good: MetresPerSecond


@dataclass(frozen=True, slots=True)
class SailingAssessment:
    """Courses over the angles that can be sailed; the best to windward, None where it makes none; the fastest."""

    wind: MetresPerSecond
    courses: tuple[Course, ...]
    best: Course | None
    fastest: Course | None
    findings: tuple[Finding, ...]


@kept
def assess(craft: Craft, r: StabilityAssessment, wind: MetresPerSecond = 4.0) -> SailingAssessment | None:
    """In a true wind; None for a boat without a sail, or one that does not run or stand. Raises InvalidInput."""
    if not 0 < wind <= MOST_WIND:
        raise InvalidInput("sail_wind", "A wind above nothing, up to {most:speed}: in more no sail is set.", most=MOST_WIND)
    area, centre, coefficient = effort(craft.design.sails)
    holds = resistance_of(craft)
    curve = r.worse
    if not area or holds is None or curve is None or not curve.rights:
        return None
    righting = curve.side * np.array([[p.heel, p.arm] for p in curve.points])
    boat = _Rig(craft, holds, area, centre, coefficient, righting)
    courses = tuple(c for a in ANGLES if (c := boat.course(wind, a)) is not None)
    best = max((c for c in courses if c.made_good > 0), key=lambda c: c.made_good, default=None)
    fastest = max(courses, key=lambda c: c.speed, default=None)
    return SailingAssessment(wind, courses, best, fastest, tuple(_findings(wind, courses, best, fastest)))


class _Rig:
    """What every course is worked out from: resistance, sails, righting arms, and what works against leeway."""

    def __init__(self, craft: Craft, holds: Resistance, area: SquareMetres, centre: Point, coefficient: Ratio, righting: Floats) -> None:
        self.holds, self.area, self.coefficient = holds, area, coefficient
        boat = holds.boat
        rest = boat.rest
        order = np.argsort(righting[:, 0])
        self.heels, self.arms = righting[order, 0], righting[order, 1]
        _, lateral = lateral_area(craft.hull.sketch.mesh, rest)
        self.lever: Metres = max(centre[2] - lateral[2], 1e-3)
        self.weight: Newtons = boat.mass * STANDARD_GRAVITY
        up = np.array(rest.up)
        bare = bare_hull(craft)
        draft = max(-(float((bare.vertices @ up).min()) + rest.origin_height), 1e-4)
        fins = fins_of(craft, boat, rest)
        self.lateral = math.pi * draft**2 + math.fsum(fin_slope(f) * f.area for f in fins)
        """Side force over dynamic pressure and leeway, m2: the hull as a slender body, boards and rudder as short wings."""

    def lean_of(self, side: Newtons) -> Radians:
        """Under a side force, up to where sail is taken in."""
        arms = side * self.lever * np.cos(self.heels) / self.weight
        over = np.flatnonzero((self.arms - arms >= 0) & (self.heels >= 0))
        if not over.size:
            return math.inf
        k, spare = int(over[0]), self.arms - arms
        if k == 0 or spare[k] == spare[k - 1]:
            return float(self.heels[k])
        return float(self.heels[k] - spare[k] * (self.heels[k] - self.heels[k - 1]) / (spare[k] - spare[k - 1]))

    def most_side(self) -> Newtons:
        """The side force at the lean at which sail is taken in, or at the greatest arm where that comes first."""
        within = (self.heels >= 0) & (self.heels <= REEFED)
        best = float(np.max(np.append(self.arms[within], np.interp(REEFED, self.heels, self.arms))))
        return max(best, 0.0) * self.weight / (self.lever * math.cos(REEFED))

    def course(self, wind: MetresPerSecond, angle: Radians) -> Course | None:
        """The speed at which the drive beats what holds back; None where it makes no way, or slides sideways."""
        most_side, density = self.most_side(), self.holds.boat.density

        def forces(v: MetresPerSecond) -> tuple[Newtons, Newtons, Ratio, Radians]:
            through, off = apparent(wind, angle, v)
            drive, side = sail_push(through, off, self.area, self.coefficient)
            share = min(1.0, most_side / side) if side > 0 else 1.0
            leeway = share * side / (density / 2 * v**2 * self.lateral) if v > 0 else math.inf
            return share * drive, share * side, share, leeway

        def spare(v: float) -> float:
            drive, side, _, leeway = forces(v)
            return drive - side * math.sin(min(leeway, 1.0)) - float(self.holds.at(np.array([v]))[0])

        speeds = np.linspace(SLOWEST, 1.3 * float(self.holds.speeds[-1]), 80).tolist()
        going = [v for v in speeds if spare(v) > 0]
        if not going:
            return None
        low = going[-1]
        high = next((v for v in speeds if v > low), low)
        speed = root(spare, low, high, CLOSE) if high > low else low
        if speed is None:
            return None
        _, side, share, leeway = forces(speed)
        if leeway > MOST_LEEWAY:
            return None
        lean = min(self.lean_of(side), REEFED)
        return Course(angle, speed, lean, leeway, share, speed * math.cos(angle + leeway))


def _findings(wind: MetresPerSecond, courses: tuple[Course, ...], best: Course | None, fastest: Course | None) -> list[Finding]:
    out = []
    values: dict[str, float | str] = {"wind": wind, "doubt": DOUBT}
    if best is None:
        text = "On no course does it gain to windward: it slides off or makes no way. A deeper board, a larger or better cut sail."
        ways = (Remedy("A deeper or longer board", "shape"),)
        out.append(Finding("underway.no_windward", "near", "It does not sail to windward in {wind:speed}", text, HAZEN_1980, values, ways))
    else:
        values |= {"angle": best.angle, "speed": best.speed, "good": best.made_good, "leeway": best.leeway}
        text = "There it makes {speed:speed} with {leeway:angle} of leeway: {good:speed} straight to windward."
        out.append(Finding("underway.windward", "note", "Best to windward {angle:angle} off the wind", text, HAZEN_1980, values))
    if fastest is not None:
        values |= {"fast": fastest.speed, "fast_at": fastest.angle}
        title = "Fastest {fast:speed}, {fast_at:angle} off the wind"
        text = "Rough, ±{doubt:percent}: one sail well trimmed, flat water, people who sit still."
        out.append(Finding("underway.sails", "note", title, text, HAZEN_1980, values))
    reefed = [c for c in courses if c.set < 0.99]
    if reefed:
        least = min(reefed, key=lambda c: c.set)
        values |= {"set": least.set, "at": least.angle, "lean": REEFED}
        text = "At {at:angle} it carries {set:percent} of its sail at a lean of {lean:angle}; people who hike out carry more."
        out.append(Finding("underway.reefed", "note", "In {wind:speed} it is reefed", text, COMMON_PRACTICE, values))
    if not courses:
        text = "In that wind nothing drives it, or it slides sideways on every course."
        out.append(Finding("underway.no_course", "near", "It sails on no course", text, MECHANICS, values))
    return out
