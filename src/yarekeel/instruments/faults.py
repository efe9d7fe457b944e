"""Days at the virtual pond of a boat with one thing wrong: for practice, and to try the diagnosis. What they give is a stand-in's."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from yarekeel.core.errors import NoRest
from yarekeel.core.quantities import Floats, Ratio
from yarekeel.instruments.pond import steady_speed
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.fixes.evidence import Evidence
from yarekeel.stages.trials.holding import moved_list
from yarekeel.stages.trials.model import CURRENT_OFF, SCALE_OFF, SPEED_OFF, THRUST_OFF, WATER, Model
from yarekeel.stages.trials.readings import Inclining, Pull, Readings, ReadTo, Rolls, Run, Tilt

THROTTLES: tuple[Ratio, ...] = (1.0, 0.7, 0.5)
TRIES = 60
FLOATS = ("heavy", "light", "cg_forward", "cg_aft", "cg_starboard", "cg_port", "cg_high", "water_inside", "scale_wrong", "misread")
DRIVES = ("propeller_hurt", "propeller_small", "propeller_large", "rubs", "drag", "sag", "air", "slips")
FAULTS = (*FLOATS, *DRIVES)
"""What can be wrong."""


@dataclass(frozen=True, slots=True, eq=False)
class FaultyDay:
    """What is wrong ("" for nothing), what was read, and what was seen."""

    fault: str
    readings: Readings
    seen: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _Drive:
    """Shares left of pull and current at a throttle."""

    pull: Callable[[float], float] = lambda t: 1.0
    current: Callable[[float], float] = lambda t: 1.0


def faulty_day(craft: Craft, seed: int, fault: str) -> FaultyDay:
    """A day of a boat that is off its list as lists are, and has this one fault besides. The same for the same seed. Raises NoRest where
    no such boat floats upright."""
    rng = np.random.default_rng([20, seed, FAULTS.index(fault) if fault else 99])
    usual = Evidence(craft, Readings()).usual
    for _ in range(TRIES):
        model = Model(craft, Readings())
        u = model.listed + usual * np.clip(rng.normal(size=len(usual)), -2, 2)
        u = _afloat_fault(model, u, fault, rng)
        try:
            a = model.afloat(u)
            if a.judged_gm > 0 and a.freeboard > 0 and abs(a.attitude.heel) < math.radians(15) and abs(a.attitude.trim) < math.radians(9):
                return _read(craft, model, u, fault, rng)
        except NoRest:
            continue
    raise NoRest("No boat like this one floats upright.")


def _afloat_fault(model: Model, u: Floats, fault: str, rng: np.random.Generator) -> Floats:
    """The unknowns with the fault."""
    u, size = u.copy(), model.size
    shifts = {
        "heavy": (0, 1, 0.08, 0.2),
        "light": (0, -1, 0.08, 0.2),
        "cg_forward": (1, 1, 0.025, 0.06),
        "cg_aft": (1, -1, 0.025, 0.06),
        "cg_starboard": (2, -1, 0.012, 0.03),
        "cg_port": (2, 1, 0.012, 0.03),
        "cg_high": (3, 1, 0.12, 0.25),
        "drag": (5, 1, 0.6, 1.1),
    }
    if fault in shifts:
        k, sign, low, high = shifts[fault]
        u[k] += sign * rng.uniform(low, high) * size[k]
    u[WATER] = rng.uniform(0.06, 0.15) * float(u[0]) if fault == "water_inside" else 0.0
    return u


def _drive_fault(fault: str, rng: np.random.Generator) -> _Drive:
    a, knee, steep = rng.uniform(0.3, 0.45), rng.uniform(0.75, 0.95), rng.uniform(2.0, 3.0)

    def beyond(share: float) -> Callable[[float], float]:
        return lambda t: 1 - (share * a if t >= knee else 0.0)

    kinds = {
        "propeller_hurt": _Drive(lambda t: 1 - a),
        "propeller_small": _Drive(lambda t: 1 - a, lambda t: (1 - a) ** 1.2),
        "propeller_large": _Drive(lambda t: 1 + a, lambda t: 1 + 1.3 * a),
        "rubs": _Drive(lambda t: 1 - 0.08 * a, lambda t: 1 + 1.1 * a),
        "sag": _Drive(lambda t: 1 - 0.7 * a * t**steep, lambda t: 1 - 0.65 * a * t**steep),
        "air": _Drive(beyond(1.3), beyond(0.5)),
        "slips": _Drive(beyond(1.3), beyond(1.4)),
    }
    return kinds.get(fault, _Drive())


def _read(craft: Craft, boat: Model, u: Floats, fault: str, rng: np.random.Generator) -> FaultyDay:
    to = ReadTo()

    def read(true: float, half: float) -> float:
        return float(true + rng.uniform(-half, half))

    listed = Model(craft, Readings())
    mass = (float(u[0]) + craft.liquid_mass) * (1 + rng.choice([-1, 1]) * rng.uniform(0.07, 0.18) if fault == "scale_wrong" else 1.0)
    weight, moved = 0.03 * float(u[0]), 0.2 * float(boat.size[2])
    shifts = tuple(Tilt(at, read(boat.heel(u, weight, at), to.angle_deg)) for at in (moved, moved / 2, -moved / 2, -moved))
    rolls = Rolls(10, read(10 * boat.period(u), to.time_s)) if craft.aboard.gyration(0) is not None else None
    readings = Readings(
        mass_kg=read(mass, SCALE_OFF * mass),
        bow_m=read(boat.draft(u, True), to.draft_m),
        stern_m=read(boat.draft(u, False), to.draft_m),
        heel_deg=read(boat.heel(u), to.heel_deg),
        rolls=rolls,
        inclining=Inclining(weight, shifts),
    )
    drive = _drive_fault(fault, rng)
    if craft.design.drive.motors:
        readings = replace(readings, pulls=_pulls(boat, u, drive, read), runs=_runs(craft, u, drive, read))
    if fault == "misread":
        readings = _misread(readings, rng)
    return FaultyDay(fault, readings, _seen(boat, listed, u, readings, fault, rng))


def _pulls(model: Model, u: Floats, drive: _Drive, read: Callable[[float, float], float]) -> tuple[Pull, ...]:
    made = []
    for t in THROTTLES:
        pull, current = model.pull(u, t) * drive.pull(t), model.current(u, t, False) * drive.current(t)
        made.append(Pull(t, max(read(pull, THRUST_OFF * pull), 0.0), max(read(current, CURRENT_OFF * current), 0.0)))
    return tuple(made)


def _runs(craft: Craft, u: Floats, drive: _Drive, read: Callable[[float, float], float]) -> tuple[Run, ...]:
    total = craft.total
    there = replace(craft.design, weights=craft.acting, cases=(), case="")
    laden = float(u[0] + u[WATER])  # it runs with its water aboard
    boat = Craft(moved_list(there, (total.mass, total.centre), laden, (float(u[1]), float(u[2]), float(u[3]))))
    made = []
    for t in THROTTLES:
        w = u.copy()
        w[4] *= drive.pull(t)
        v = steady_speed(boat, w, t)
        if v is not None:
            made.append(Run(t, max(read(v, SPEED_OFF * v), 0.0)))
    return tuple(made)


def _misread(readings: Readings, rng: np.random.Generator) -> Readings:
    """One figure written down wrongly: a slip of the ruler, or of the pen."""
    which = rng.choice(["bow", "stern", "rolls", "run"] if readings.runs else ["bow", "stern", "rolls"])
    off = float(rng.choice([-1, 1])) * rng.uniform(0.015, 0.03)
    if which == "bow" and readings.bow_m is not None:
        return replace(readings, bow_m=readings.bow_m + off)
    if which == "stern" and readings.stern_m is not None:
        return replace(readings, stern_m=readings.stern_m + off)
    if which == "rolls" and readings.rolls is not None:
        return replace(readings, rolls=Rolls(readings.rolls.count, readings.rolls.time_s * 1.5))
    first = readings.runs[1]
    return replace(readings, runs=(readings.runs[0], replace(first, speed_ms=(first.speed_ms or 0.0) * 1.6), *readings.runs[2:]))


def _seen(boat: Model, listed: Model, u: Floats, readings: Readings, fault: str, rng: np.random.Generator) -> tuple[str, ...]:
    """What a builder would tick: what the eye sees, and of the rest as often as it is noticed."""
    now, meant = boat.afloat(u).attitude, listed.afloat(listed.listed).attitude
    seen = []
    trim = math.degrees(now.trim - meant.trim)
    if abs(trim) > 1:
        seen.append("stern_down" if trim > 0 else "bow_down")
    if abs(math.degrees(now.heel - meant.heel)) > 2:
        seen.append("leans")
    noticed = {"water_inside": "water_inside", "air": "pull_collapses", "slips": "pull_collapses", "sag": "fades", "rubs": "hot"}
    if fault in noticed and rng.uniform() < 0.6:
        seen.append(noticed[fault])
    if fault == "cg_high" and rng.uniform() < 0.5:
        seen.append("tippy")
    return tuple(seen)
