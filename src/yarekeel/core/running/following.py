"""A run followed in time: speed from thrust and resistance, place from speed, charge from current."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Amperes, Floats, Joules, Kilograms, Metres, MetresPerSecond, Newtons, Ratio, Seconds
from yarekeel.core.sources import MECHANICS

ADDED: Ratio = 0.05
"""Of the mass: water that is carried along ahead (from memory: 3 to 8 %)."""
STEP: Seconds = 0.02


@dataclass(frozen=True, slots=True)
class Leg:
    """A stretch of a run: throttle (0 to 1) for so long, in a head wind (less than 0: from astern), away from the start or ``back``."""

    seconds: Seconds
    throttle: Ratio
    wind: MetresPerSecond = 0.0
    back: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Followed:
    """A run, sampled (n,): time, speed, distance run, throttle, current, charge used (Ah), how far from the start it is along its line,
    thrust; the work of thrust and of resistance and the change of kinetic energy (J)."""

    time: Floats
    speed: Floats
    distance: Floats
    throttle: Floats
    current: Floats
    used: Floats
    place: Floats
    thrust: Floats
    thrust_work: Joules
    drag_work: Joules
    kinetic: Joules


@formula(
    "(1 + 0.05) m dV/dt = T(V, d) - R(V, W), dx/dt = V, dq/dt = I(V, d)", MECHANICS, "steps of 20 ms by the fourth-order Runge-Kutta rule"
)
def follow(
    mass: Kilograms,
    legs: tuple[Leg, ...],
    thrust: Callable[[MetresPerSecond, Ratio], Newtons],
    resistance: Callable[[MetresPerSecond, MetresPerSecond], Newtons],
    current: Callable[[MetresPerSecond, Ratio], Amperes],
    start: MetresPerSecond = 0.0,
    step: Seconds = STEP,
) -> Followed:
    """Follow legs one after another from a speed; a boat that is held back does not run astern."""
    inertia = mass * (1 + ADDED)
    first = legs[0].throttle if legs else 0.0
    rows: list[tuple[float, ...]] = [(0.0, start, 0.0, first, 0.0, 0.0, 0.0, thrust(start, first))]
    t = x = q = p = pulled = held = 0.0
    v = start
    for leg in legs:
        count = max(1, math.ceil(leg.seconds / step - 1e-9))
        h = leg.seconds / count
        for _ in range(count):

            def rate(speed: float, leg: Leg = leg) -> float:
                return (thrust(max(speed, 0.0), leg.throttle) - resistance(max(speed, 0.0), leg.wind)) / inertia

            k1 = rate(v)
            k2 = rate(v + h / 2 * k1)
            k3 = rate(v + h / 2 * k2)
            k4 = rate(v + h * k3)
            after = max(v + h / 6 * (k1 + 2 * k2 + 2 * k3 + k4), 0.0)
            middle = (v + after) / 2
            moved = h * middle
            amps = current(middle, leg.throttle)
            # works by Simpson's rule over the step, each force at its own speed
            pulled += moved * (thrust(v, leg.throttle) + 4 * thrust(middle, leg.throttle) + thrust(after, leg.throttle)) / 6
            held += moved * (resistance(v, leg.wind) + 4 * resistance(middle, leg.wind) + resistance(after, leg.wind)) / 6
            t, x, q, v, p = t + h, x + moved, q + amps * h / 3600, after, p + (-moved if leg.back else moved)
            rows.append((t, v, x, leg.throttle, amps, q, p, thrust(after, leg.throttle)))
    table = np.array(rows)
    return Followed(
        time=table[:, 0],
        speed=table[:, 1],
        distance=table[:, 2],
        throttle=table[:, 3],
        current=table[:, 4],
        used=table[:, 5],
        place=table[:, 6],
        thrust=table[:, 7],
        thrust_work=pulled,
        drag_work=held,
        kinetic=inertia / 2 * (v**2 - start**2),
    )


@formula("x = (m / k) ln(1 + k V t / m) for R = k V²", MECHANICS, "quadratic drag, no thrust")
def coasted(mass: Kilograms, drag: Ratio, speed: MetresPerSecond, seconds: Seconds) -> Metres:
    """Distance coasted in a time by a boat whose resistance is ``drag`` (N s²/m²) times the square of its speed."""
    inertia = mass * (1 + ADDED)
    return inertia / drag * math.log1p(drag * speed * seconds / inertia)
