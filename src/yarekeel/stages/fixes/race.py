"""Boats or variants raced over one course: each from rest at full throttle, in calm water, straight ahead."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Floats, Metres, MetresPerSecond, Ratio, Seconds
from yarekeel.core.running.following import Leg
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.underway import run

MOST = 6
"""Boats in one race."""
FIRST: Seconds = 30.0
LONGEST_COURSE: Metres = 5000.0


@dataclass(frozen=True, slots=True, eq=False)
class Racer:
    """A boat's race: time (n,) and how far it is (n,); when it is there and how fast then, None where it never is; what is left of its
    pack then, None without one. ``doubt`` is half the width of its speed's band, as a share."""

    time: Floats
    place: Floats
    there: Seconds | None
    speed: MetresPerSecond
    left: Ratio | None
    doubt: Ratio


@kept
def raced(craft: Craft, course: Metres) -> Racer | None:
    """A boat over a course in metres; None for one that nothing drives. Raises InvalidInput for a course of no length or of more than
    5 km."""
    if not 0 < course <= LONGEST_COURSE:
        raise InvalidInput("over", "A course from more than nothing to {most:length}.", most=LONGEST_COURSE)
    if not craft.design.drive.motors:
        return None
    span = FIRST
    while True:
        found = run.assess(craft, (Leg(span, 1.0),))
        if found is None:
            return None
        m = found.motion
        reached = np.flatnonzero(m.distance >= course)
        if reached.size or span >= run.LONGEST:
            break
        span = min(2 * span, run.LONGEST)
    if not reached.size:
        left = float(found.left[-1]) if found.left is not None else None
        return Racer(m.time, m.distance, None, float(m.speed[-1]), left, found.doubt)
    last = int(reached[0])
    there = float(np.interp(course, m.distance[: last + 1], m.time[: last + 1]))
    left = float(np.interp(there, m.time, found.left)) if found.left is not None else None
    time, place = np.append(m.time[:last], there), np.append(m.distance[:last], course)
    return Racer(time, place, there, float(np.interp(there, m.time, m.speed)), left, found.doubt)


def order(racers: Sequence[Racer | None]) -> list[int]:
    """Numbers of the boats in the order in which they are there; those that never are, by how far they came."""

    def key(k: int) -> tuple[int, float]:
        r = racers[k]
        return (2, 0.0) if r is None else (0, r.there) if r.there is not None else (1, -float(r.place[-1]))

    return sorted(range(len(racers)), key=key)
