"""Speed: resistance part by part over speed, against what the drive gives."""

import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.drive import direction
from yarekeel.core.propulsion.pulls import pushes_at
from yarekeel.core.quantities import Floats, Metres, MetresPerSecond, Newtons, Point, Radians, Ratio
from yarekeel.core.running.balance import Balanced, over_speeds
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive import match
from yarekeel.stages.running.boat import in_wind, underway_of
from yarekeel.stages.running.resistance import PARTS, Resistance, of_balances, resistance_of, speeds_of

MOST_WIND: MetresPerSecond = 40.0
LEAST_DEPTH: Metres = 0.02
MOST_SPEED: MetresPerSecond = 60.0


@dataclass(frozen=True, slots=True, eq=False)
class SpeedAssessment:
    """Resistance over speed; the thrust of the drive at the same speeds and a throttle (None where it is not known at speed), and what
    comes of both."""

    resistance: Resistance
    thrust: Floats | None
    match: match.Match | None
    findings: tuple[Finding, ...]


def checked(throttle: Ratio, wind: MetresPerSecond, depth: Metres = math.inf) -> None:
    """Raise InvalidInput for a throttle, a wind or a depth that is none."""
    if not depth >= LEAST_DEPTH:
        raise InvalidInput("depth", "A depth of the water of at least 20 mm; nothing for deep water.")
    if not 0 <= throttle <= 1:
        raise InvalidInput("throttle", "Throttle runs from 0 to 100 %.")
    if not -MOST_WIND <= wind <= MOST_WIND:
        raise InvalidInput("wind", "A head wind of at most {most:speed}; less than 0 blows from astern.", most=MOST_WIND)


@kept
def assess(craft: Craft, throttle: Ratio = 1.0, wind: MetresPerSecond = 0.0, depth: Metres = math.inf) -> SpeedAssessment | None:
    """At a throttle, in a head wind and water of a depth; None where the boat does not float level enough to run. Raises InvalidInput."""
    checked(throttle, wind, depth)
    holds = resistance_of(craft, wind, depth=depth)
    if holds is None:
        return None
    found = match.assess(craft)
    told = found.findings if found is not None else holds.findings
    told = (*(f for f in holds.findings if f.code == "underway.shallow"), *told)
    return SpeedAssessment(holds, thrust_over(craft, throttle, holds.speeds), found, told)


def thrust_over(craft: Craft, throttle: Ratio, speeds: Floats) -> Floats | None:
    """The drive's thrust ahead (n,) at speeds (n,); None where a motor is known at rest alone, or there is none."""
    drive, water = craft.design.drive, craft.design.water
    if not drive.motors:
        return None
    states = pushes_at(drive, np.array(throttle), speeds, water.density, water.viscosity)
    total = np.zeros(speeds.shape)
    for motor, push in zip(drive.motors, states, strict=True):
        if push is None or not push.at_speed:
            return None
        total = total + direction(motor)[0] * push.thrust
    return total


@dataclass(frozen=True, slots=True)
class SpeedPoint:
    """One speed: resistance with half its band and its parts (N), trim, how far the centre of gravity rose since rest (less than 0: sank),
    the drive's thrust if known, and what is said there. Without a balance all but the speed and the thrust is None."""

    speed: MetresPerSecond
    resistance: Newtons | None
    band: Newtons | None
    parts: dict[str, Newtons]
    trim: Radians | None
    rise: Metres | None
    thrust: Newtons | None
    findings: tuple[Finding, ...]


def points(craft: Craft, speeds: Floats, wind: MetresPerSecond = 0.0) -> tuple[SpeedPoint, ...]:
    """Every asked speed by itself, whether the drive reaches it or not. Raises InvalidInput for a boat that does not float."""
    checked(1.0, wind)
    boat = underway_of(craft)
    if boat is None:
        raise InvalidInput("boat", "This boat does not float level enough to run.")
    boat = in_wind(boat, wind) if wind else boat
    on_the_way = speeds_of(boat)  # a planing attitude is found from the one before it
    every = np.union1d(speeds, on_the_way[on_the_way < float(np.max(speeds))])
    balances = tuple(np.array(over_speeds(boat, every), dtype=object)[np.searchsorted(every, speeds)])
    whole = of_balances(boat, speeds, balances)
    told = whole.findings if whole is not None else ()
    thrust = thrust_over(craft, 1.0, speeds)
    rest = boat.rest.height_of(boat.gravity)
    pushed = thrust.tolist() if thrust is not None else [None] * len(balances)
    rows = zip(speeds.tolist(), balances, pushed, strict=True)
    return tuple(_point(b, v, t, boat.gravity, rest, told) for v, b, t in rows)


def _point(
    b: Balanced | None, speed: MetresPerSecond, thrust: Newtons | None, gravity: Point, rest: Metres, told: tuple[Finding, ...]
) -> SpeedPoint:
    if b is None:
        return SpeedPoint(speed, None, None, dict.fromkeys(PARTS, 0.0), None, None, thrust, told)
    parts = {name: b.part(name) for name in PARTS}
    return SpeedPoint(speed, b.resistance, b.band, parts, b.attitude.trim, b.attitude.height_of(gravity) - rest, thrust, told)
