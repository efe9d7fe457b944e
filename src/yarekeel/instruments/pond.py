"""The virtual pond: a stand-in boat that differs from the list in hidden ways, and gives the readings of a day at the water.

For practice and for tests; what it gives is a stand-in's and never counts as measured.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from yarekeel.core.errors import NoRest
from yarekeel.core.quantities import Floats, Ratio
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.trials.holding import moved_list
from yarekeel.stages.trials.model import (
    DRAW,
    GYRATION,
    MASS,
    OPEN,
    PACK,
    SCALE_OFF,
    SPEED_OFF,
    SPONGE_OFF,
    THRUST_OFF,
    VOLTS_OFF,
    WATER,
    Model,
)
from yarekeel.stages.trials.readings import Inclining, Pull, Readings, ReadTo, Rolls, Run, Tilt
from yarekeel.stages.underway import speed

HEAVIER, PLACE, HEIGHT, ASIDE = 0.15, 0.08, 0.10, 0.02
"""How far the hidden boat may be off: of its mass, length, depth and breadth."""
THRUST, DRAG = (0.7, 1.1), (0.8, 1.5)
THROTTLES = (1.0, 0.7, 0.5)
AGED, CHARGED, WET = (0.8, 2.5), (0.95, 1.08), (0.01, 0.06)
"""Of a pack's listed resistance and open voltage; water inside, of the mass."""
TRIES = 40


@dataclass(frozen=True, slots=True, eq=False)
class Day:
    """What the hidden boat is (in the order of the fit's unknowns), and what was read of it."""

    hidden: Floats
    readings: Readings


def hidden_boat(craft: Craft, seed: int, leaks: bool = False) -> Floats:
    """Mass, centre and factors of a boat that floats, the same for the same seed; with water inside if it ``leaks``. Raises NoRest where
    none of many does."""
    rng, aged = np.random.default_rng([18, seed]), np.random.default_rng([22, seed])
    model = Model(craft, Readings())
    for _ in range(TRIES):
        u = model.listed.copy()
        u[0] *= 1 + rng.uniform(-HEAVIER, HEAVIER)
        for k, share in ((1, PLACE), (2, ASIDE), (3, HEIGHT)):
            u[k] += rng.uniform(-share, share) * model.size[k]
        u[4], u[5] = rng.uniform(*THRUST), rng.uniform(*DRAG)
        u[DRAW], u[GYRATION] = rng.uniform(0.85, 1.15), rng.uniform(0.95, 1.05)
        u[PACK] *= aged.uniform(*AGED)
        u[OPEN] *= aged.uniform(*CHARGED)
        u[WATER] = aged.uniform(*WET) * u[MASS] if leaks else 0.0
        try:
            a = model.afloat(u)
            if abs(a.attitude.heel) < math.radians(12) and abs(a.attitude.trim) < math.radians(8) and a.judged_gm > 0 and a.freeboard > 0:
                return u
        except NoRest:
            continue
    raise NoRest("No boat like this one floats upright.")


def day(craft: Craft, seed: int, leave_out: tuple[str, ...] = (), leaks: bool = False) -> Day:
    """A day's readings of a hidden boat, each somewhere within its half width. ``leave_out`` names parts that are not measured; what came
    into one that ``leaks`` is sponged out and weighed."""
    rng, apart = np.random.default_rng([19, seed]), np.random.default_rng([23, seed])
    u = hidden_boat(craft, seed, leaks)
    model, to = Model(craft, Readings()), ReadTo()

    def read(true: float, half: float) -> float:
        return float(true + rng.uniform(-half, half))

    mass = float(u[0]) + craft.liquid_mass
    weight, moved = 0.03 * float(u[0]), 0.2 * float(model.size[2])
    ways = (moved, moved / 2, -moved / 2, -moved)
    shifts = [Tilt(at, read(model.heel(u, weight, at), to.angle_deg)) for at in ways]
    period = model.period(u)
    readings = Readings(
        mass_kg=read(mass, SCALE_OFF * mass),
        bow_m=read(model.draft(u, True), to.draft_m),
        stern_m=read(model.draft(u, False), to.draft_m),
        heel_deg=read(model.heel(u), to.heel_deg),
        rolls=Rolls(10, read(10 * period, to.time_s)),
        inclining=Inclining(weight, tuple(shifts)),
    )
    if leaks:
        readings = replace(readings, water_inside_kg=float(u[WATER] * (1 + apart.uniform(-SPONGE_OFF, SPONGE_OFF))))
    if craft.design.drive.motors:
        pulls = _pulls(model, u, read)
        if craft.design.drive.battery is not None:
            pulls = tuple(_with_volts(p, model, u, apart) for p in pulls)
        readings = replace(readings, pulls=pulls, runs=_runs(craft, u, read))
    left: dict[str, Any] = {name: () if name in ("pulls", "runs") else None for name in leave_out}
    return Day(u, replace(readings, **left))


def _pulls(model: Model, u: Floats, read: Callable[[float, float], float]) -> tuple[Pull, ...]:
    made = []
    for throttle in THROTTLES:
        thrust, current = model.pull(u, throttle), model.current(u, throttle, False)
        made.append(Pull(throttle, max(read(thrust, THRUST_OFF * thrust), 0.0), max(read(current, 0.03 * current), 0.0)))
    return tuple(made)


def _with_volts(p: Pull, model: Model, u: Floats, rng: np.random.Generator) -> Pull:
    volts = model.volts(u, p.throttle, running=False, read=None)
    return replace(p, voltage_v=max(volts * (1 + rng.uniform(-VOLTS_OFF, VOLTS_OFF)), 0.0))


def _runs(craft: Craft, u: Floats, read: Callable[[float, float], float]) -> tuple[Run, ...]:
    """At the true boat's own resistance, worked out anew and not between the fit's curves."""
    total = craft.total
    there = replace(craft.design, weights=craft.acting, cases=(), case="")
    boat = Craft(moved_list(there, (total.mass, total.centre), float(u[0]), (float(u[1]), float(u[2]), float(u[3]))))
    made = []
    for throttle in THROTTLES:
        v = steady_speed(boat, u, throttle)
        if v is not None:
            made.append(Run(throttle, max(read(v, SPEED_OFF * v), 0.0)))
    return tuple(made)


def steady_speed(boat: Craft, u: Floats, throttle: Ratio) -> float | None:
    """Where thrust and drag of a boat meet, with the factors of the unknowns; None where they do not."""
    found = speed.assess(boat)
    if found is None:
        return None
    holds = found.resistance
    at = np.linspace(0.0, float(holds.speeds[-1]), 2000)
    thrust = speed.thrust_over(boat, throttle, at)
    if thrust is None:
        return None
    over = u[4] * thrust - u[5] * holds.at(at)
    stop = np.flatnonzero(over[1:] <= 0)
    return float(at[1:][stop[0]]) if len(stop) else None
