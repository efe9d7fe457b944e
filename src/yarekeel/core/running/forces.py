"""One record of what pushes a boat under way, and of the boat that is pushed."""

from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.core.findings import Finding
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.flotation import Evaluator
from yarekeel.core.quantities import (
    CubicMetres,
    Degrees,
    Floats,
    Kilograms,
    KilogramsPerCubicMetre,
    Metres,
    MetresPerSecond,
    Newtons,
    Point,
    Ratio,
    SquareMetres,
    SquareMetresPerSecond,
)
from yarekeel.core.sources import Source


@dataclass(frozen=True, slots=True)
class PlaningBottom:
    """The bottom near the stern as a prism: keel at the transom (boat axes), slope of the keel there (degrees, down aft is less than 0),
    beam between the chines, deadrise."""

    keel: Point
    slope: Degrees
    beam: Metres
    deadrise: Degrees


@dataclass(frozen=True, slots=True, eq=False)
class Underway:
    """What of a boat the laws need: how it floats at rest, its sizes there, its waves over speed, its planing bottom if it has one, what
    stands in the wind, and the line of thrust (a point of it and its direction in boat axes). ``wave`` gives the wave resistance at a
    speed; ``slender`` is length over the cube root of the volume."""

    kernel: Evaluator
    mass: Kilograms
    gravity: Point
    density: KilogramsPerCubicMetre
    viscosity: SquareMetresPerSecond
    rest: Attitude
    waterline: Metres
    wetted: SquareMetres
    appendages: SquareMetres
    chord: Metres
    volume: CubicMetres
    wave: Callable[[MetresPerSecond], Newtons]
    bottom: PlaningBottom | None
    air_area: SquareMetres
    air_at: Point
    wet_at: Point
    thrust_at: Point
    thrust_along: Point
    wind: MetresPerSecond = 0.0
    """Head wind."""
    tow: Ratio = 0.0
    """What is towed holds back by so many newtons at 1 m/s, by the square of the speed beyond; at ``tow_at``."""
    tow_at: Point = (0.0, 0.0, 0.0)


@dataclass(frozen=True, slots=True)
class State:
    """A speed ahead and an attitude."""

    speed: MetresPerSecond
    attitude: Attitude


@dataclass(frozen=True, slots=True)
class Force:
    """One force: its ``part`` of the sum (buoyancy, friction, wave ...), newtons in world axes (ahead, to port, up), the point of the boat
    it acts at, half the width of its 95 % band as a share, and its law."""

    part: str
    newtons: Point
    at: Point
    band: Ratio
    law: Source


@dataclass(frozen=True, slots=True)
class Law:
    """A row: its order, what it gives at a state, and what it says where the boat lies outside its range."""

    rank: int
    forces: Callable[[Underway, State], tuple[Force, ...]]
    findings: Callable[[Underway, Floats], tuple[Finding, ...]]
