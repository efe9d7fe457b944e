"""What the motors give over speed, at full throttle, for those whose pull is worked out from their parts."""

from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.drive import running_at, thrust_spreads
from yarekeel.core.propulsion.electric import Running
from yarekeel.core.quantities import Floats, MetresPerSecond, Newtons, Ratio
from yarekeel.stages.design.design import Design

STEPS = 60


@dataclass(frozen=True, slots=True, eq=False)
class OverSpeed:
    """A motor at full throttle over ``speeds`` (n,), from rest to where it no longer pushes; ``band`` is half the width of its pull's
    95 % band, the same at all speeds: a propulsor's law errs about as much where it pushes little."""

    speeds: Floats
    running: Running
    band: Newtons


@kept
def over_speed(design: Design) -> tuple[OverSpeed | None, ...]:
    """Each motor over speed; None for one that is known by its pull alone."""
    water = design.water
    rest = running_at(design.drive, np.array(1.0), np.array(0.0), water.density, water.viscosity)
    spreads = thrust_spreads(design.drive, water.density, water.viscosity)
    ends = [
        1.3 * float(state.turns) * curve.diameter * float(curve.advance[-1])
        for motor, state in zip(design.drive.motors, rest, strict=True)
        if state is not None and motor.propulsor is not None
        for curve in (motor.propulsor.curve(float(state.turns), water.viscosity),)
    ]
    if not ends:
        return (None,) * len(rest)
    speeds = np.linspace(0, max(*ends, 0.1), STEPS)
    out: list[OverSpeed | None] = []
    for spread, running in zip(spreads, running_at(design.drive, np.array(1.0), speeds, water.density, water.viscosity), strict=True):
        if running is None:
            out.append(None)
            continue
        pushes = running.thrust > 0
        cut = slice(0, max(int(np.argmin(pushes)) + 1 if not pushes.all() else speeds.size, 2))
        fields = {name: getattr(running, name)[cut] for name in Running.__dataclass_fields__}
        out.append(OverSpeed(speeds[cut], Running(**fields), spread * float(running.thrust[0])))
    return tuple(out)


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
    states = running_at(drive, np.array(throttle), speeds, water.density, water.viscosity)
    for motor, state in zip(drive.motors, states, strict=True):
        if state is None and np.any(speeds > 0):
            raise InvalidInput(
                "speeds",
                f"“{motor.name}” is known by its pull from rest alone; say what it turns and give the boat a battery, "
                "or ask for --speeds 0:0:1.",
            )
    out = []
    for k, speed in enumerate(speeds.tolist()):
        solved = [s for s in states if s is not None]
        current = sum(m.current_a * throttle if s is None else float(s.pack_current[k]) for m, s in zip(drive.motors, states, strict=True))
        thrust = sum(m.thrust_n * throttle if s is None else float(s.thrust[k]) for m, s in zip(drive.motors, states, strict=True))
        volts = float(solved[0].pack_voltage[k]) if solved else None
        out.append(
            SpeedPoint(
                speed=speed,
                thrust=thrust,
                rpm=float(solved[0].turns[k]) * 60 if solved else None,
                current=current,
                volts=volts,
                power=volts * current if volts is not None else None,
            )
        )
    return tuple(out)
