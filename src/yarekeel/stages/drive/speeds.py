"""What the motors give over speed, at full throttle, for those whose pull is worked out from their parts."""

from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.drive import direction
from yarekeel.core.propulsion.electric import Running
from yarekeel.core.propulsion.propulsors import is_turned
from yarekeel.core.propulsion.propulsors.measured import BenchPull
from yarekeel.core.propulsion.pulls import pushes_at, pushes_at_rest
from yarekeel.core.propulsion.push import Push
from yarekeel.core.quantities import Floats, MetresPerSecond, Newtons, Ratio
from yarekeel.stages.design.design import Design

STEPS = 60


@dataclass(frozen=True, slots=True, eq=False)
class OverSpeed:
    """A motor at full throttle over ``speeds`` (n,), from rest to where it no longer pushes; ``band`` is half the width of its pull's
    95 % band, the same at all speeds: a propulsor's law errs about as much where it pushes little."""

    speeds: Floats
    push: Push
    band: Newtons


@kept
def over_speed(design: Design) -> tuple[OverSpeed | None, ...]:
    """Each motor over speed; None for one that is known by its rated pull alone."""
    water = design.water
    rest = pushes_at_rest(design.drive, water.density, water.viscosity)
    if all(p is None for p in rest):
        return (None,) * len(rest)
    speeds = np.linspace(0, max(0.1, *(1.3 * end for end in pushing_ends(design))), STEPS)
    out: list[OverSpeed | None] = []
    for push in pushes_at(design.drive, np.array(1.0), speeds, water.density, water.viscosity):
        if push is None:
            out.append(None)
            continue
        pushes = push.thrust > 0
        last = (max(int(np.argmin(pushes)) + 1 if not pushes.all() else speeds.size, 2)) if push.at_speed else 2
        cut = slice(0, last)
        state = push.running
        running = None if state is None else Running(**{name: getattr(state, name)[cut] for name in Running.__dataclass_fields__})
        shown = Push(push.thrust[cut], push.current[cut], push.spread, running, push.at_speed)
        out.append(OverSpeed(speeds[cut], shown, push.spread * abs(float(push.thrust[0]))))
    return tuple(out)


def pushing_ends(design: Design) -> tuple[MetresPerSecond, ...]:
    """About the speed at which each motor stops pushing; 0 where none is known."""
    water = design.water
    ends = []
    for motor, push in zip(design.drive.motors, pushes_at_rest(design.drive, water.density, water.viscosity), strict=True):
        part = motor.propulsor
        if push is not None and push.running is not None and is_turned(part):
            curve = part.curve(float(push.running.turns), water.viscosity)
            ends.append(float(push.running.turns) * curve.diameter * float(curve.advance[-1]))
        elif isinstance(part, BenchPull):
            test = part.found(design.drive.tests)
            ends.append(part.ends_ms or (test.ends_ms if test else 0.0))
        else:
            ends.append(5.0 if part is not None else 0.0)  # hand power and plain forces never quite end
    return tuple(ends)


@dataclass(frozen=True, slots=True)
class SpeedPoint:
    """All motors together at a speed; what is None is not known there."""

    speed: MetresPerSecond
    thrust: float
    rpm: float | None
    current: float
    volts: float | None
    power: float | None


def points(design: Design, throttle: Ratio, speeds: Floats) -> tuple[SpeedPoint, ...]:
    """All motors together at a throttle and speeds (n,): the sum of the pulls and the pack's currents, the first motor's turns.

    Raises InvalidInput where a motor is known by its pull from rest alone and a speed is asked.
    """
    drive, water = design.drive, design.water
    if not drive.motors:
        raise InvalidInput("motors", "This boat has no motor.")
    states = pushes_at(drive, np.array(throttle), speeds, water.density, water.viscosity)
    for motor, state in zip(drive.motors, states, strict=True):
        if (state is None or not state.at_speed) and np.any(speeds > 0):
            raise InvalidInput(
                "speeds",
                f"“{motor.name}” is known by its pull from rest alone; say what it turns and give the boat a battery, "
                "or ask for --speeds 0:0:1.",
            )
    ahead = [direction(m)[0] for m in drive.motors]
    turned = [p.running for p in states if p is not None and p.running is not None]
    out = []
    for k, speed in enumerate(speeds.tolist()):
        pairs = list(zip(drive.motors, states, strict=True))
        current = sum(m.current_a * throttle if s is None else float(s.current[k]) for m, s in pairs)
        thrust = sum(x * (m.thrust_n * throttle if s is None else float(s.thrust[k])) for x, (m, s) in zip(ahead, pairs, strict=True))
        volts = float(turned[0].pack_voltage[k]) if turned else None
        out.append(
            SpeedPoint(
                speed=speed,
                thrust=thrust,
                rpm=float(turned[0].turns[k]) * 60 if turned else None,
                current=current,
                volts=volts,
                power=volts * current if volts is not None else None,
            )
        )
    return tuple(out)
