"""Heeling levers laid over the righting arm: where wind, a turn or a pull leave the boat, and how far a gust throws it.

A lever is a heeling moment over the boat's weight, metres. Where it is steady the boat rests where lever and push are equal;
what comes on at once throws it on until the work done on it is used up (area under the lever against area under the arm, the
severe wind and rolling criterion's own way of reckoning: IMO 2008 IS Code, part A, 2.3).
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Metres, MetresPerSecond, Radians, Ratio
from yarekeel.core.sources import IS_2008_WEATHER, STATICS
from yarekeel.core.stability.righting import Righted, RightingPoint, crossing


@dataclass(frozen=True, slots=True)
class Lever:
    """A heeling lever towards one side: ``firm`` metres at any angle, ``leaning`` metres times cos(heel), ``sail`` metres times
    cos²(heel), as the wind's hold on a sail that leans away goes (common practice)."""

    firm: Metres = 0.0
    leaning: Metres = 0.0
    sail: Metres = 0.0

    def at(self, heel: Radians) -> Metres:
        c = math.cos(heel)
        return self.firm + self.leaning * c + self.sail * c * abs(c)

    def work(self, start: Radians, end: Radians) -> Metres:
        """Work over the boat's weight from one lean to another (both counted towards the lever's side)."""

        def whole(a: Radians) -> Metres:
            # cos |cos| beyond 90 deg takes back what it gave before.
            over = abs(a) > math.pi / 2
            square = a / 2 + math.sin(2 * a) / 4
            if over:
                square = math.copysign(math.pi / 2, a) - square
            return self.firm * a + self.leaning * math.sin(a) + self.sail * square

        return whole(end) - whole(start)

    def times(self, factor: Ratio) -> "Lever":
        return Lever(self.firm * factor, self.leaning * factor, self.sail * factor)


def outward(points: Sequence[RightingPoint], other: Sequence[RightingPoint]) -> tuple[RightingPoint, ...]:
    """Points from the far end of the ``other`` side through upright to the far end of this one."""
    return (*reversed(other[1:]), *points)


def rest_index(points: Sequence[RightingPoint], side: int, rest: Radians) -> int:
    """The number of the first point beyond the rest, counted towards ``side``."""
    return next((k for k, p in enumerate(points) if side * p.heel > side * rest), len(points) - 1)


def steady(boat: Righted, points: Sequence[RightingPoint], side: int, rest: Radians, lever: Lever) -> RightingPoint | None:
    """Where it comes to rest against the lever, from its ``rest`` outward; None where nothing holds it. Raises Unsolved."""

    def left(p: RightingPoint) -> Metres:
        return side * p.arm - lever.at(p.heel)

    first = max(rest_index(points, side, rest) - 1, 0)
    for a, b in zip(points[first:], points[first + 1 :], strict=False):
        if left(a) < 0 <= left(b):
            return crossing(boat, a, b, left)
        if left(a) >= 0 and first and side * a.heel <= side * rest:
            # The rest lies just beyond a; with no lever to speak of it is where it stays.
            at = boat.near(a, rest)
            if left(at) >= -1e-9 * boat.kernel.half_extent:
                return at
    return None


@formula("integral of GZ = integral of lever", IS_2008_WEATHER, "a lever that comes on at once")
def thrown(boat: Righted, points: Sequence[RightingPoint], side: int, start: RightingPoint, lever: Lever) -> RightingPoint | None:
    """How far a lever that comes on at once throws it, from rest at ``start``; None where it goes on and over. Raises Unsolved."""

    def used(p: RightingPoint) -> Metres:
        return (p.energy - start.energy) * boat.share - lever.work(side * start.heel, side * p.heel)

    last = start
    for p in points:
        if side * p.heel <= side * start.heel:
            continue
        if used(p) >= 0:
            return crossing(boat, last, p, used) if used(last) < 0 else _beyond(boat, last, p, used)
        last = p
    return None


def _beyond(boat: Righted, a: RightingPoint, b: RightingPoint, used: Callable[[RightingPoint], Metres]) -> RightingPoint:
    """Where the work is used up, between a start where none has been done and a point at which it is; the start itself where the
    boat does not move."""
    for share in (0.5, 0.25, 0.1, 0.03, 0.01):
        middle = boat.near(a, a.heel + share * (b.heel - a.heel))
        if used(middle) < 0:
            return crossing(boat, middle, b, used)
    return a


@formula("l = v² h cos(phi) / (g r)", STATICS, "a steady turn")
def turning(speed: MetresPerSecond, radius: Metres, height: Metres) -> Lever:
    """Lever outward in a turn: v² / (g r) times the height of G over where the water answers, times cos(heel) (mechanics; the IMO
    2008 IS Code, part A, 3.1.2, has the same with half the draft)."""
    return Lever(leaning=speed**2 / (STANDARD_GRAVITY * radius) * height)
