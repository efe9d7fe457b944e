"""One record of what pushes a boat under way, and of the boat that is pushed."""

import math
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
    Radians,
    Ratio,
    SquareMetres,
    SquareMetresPerSecond,
)
from yarekeel.core.sources import Source


@dataclass(frozen=True, slots=True)
class PlaningBottom:
    """A planing surface as a prism: its keel where it ends astern (boat axes), slope of the keel there (degrees, up ahead),
    beam between the chines, deadrise, and how long it is; a hull's whole bottom, or one of the pads that it runs on."""

    keel: Point
    slope: Degrees
    beam: Metres
    deadrise: Degrees
    length: Metres = math.inf
    name: str = ""


@dataclass(frozen=True, slots=True)
class Blade:
    """A fin, strut or rudder that stands: its foot and its head (boat axes), its surface when it is all under, its mean chord."""

    foot: Point
    head: Point
    area: SquareMetres
    chord: Metres


@dataclass(frozen=True, slots=True)
class Foil:
    """A wing across the boat: the quarter chord in the middle of its span (boat axes), span, mean chord and area, the angle of its chord to
    the boat's x axis (nose up) with what its control surface adds, dihedral (tips up), thickness and camber over the chord, and the share
    of the chord that moves."""

    name: str
    at: Point
    span: Metres
    chord: Metres
    area: SquareMetres
    angle: Radians
    dihedral: Radians = 0.0
    thickness: Ratio = 0.1
    camber: Ratio = 0.0
    flap: Ratio = 0.0


@dataclass(frozen=True, slots=True, eq=False)
class Underway:
    """What of a boat the laws need: how it floats at rest, its sizes there, its waves over speed, its planing bottom if it has one, what
    stands in the wind, and the line of thrust (a point of it and its direction in boat axes). ``wave`` gives the wave resistance at a
    speed. ``pads`` are the planing surfaces, one for a whole bottom; none for a hull that floats at every speed. ``skin`` gives the share
    of the hull's wetted surface that is left when it floats on a share of its volume, for a boat that foils lift."""

    kernel: Evaluator
    mass: Kilograms
    gravity: Point
    density: KilogramsPerCubicMetre
    viscosity: SquareMetresPerSecond
    rest: Attitude
    waterline: Metres
    wetted: SquareMetres
    blades: tuple[Blade, ...]
    volume: CubicMetres
    wave: Callable[[MetresPerSecond], Newtons]
    pads: tuple[PlaningBottom, ...]
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
    foils: tuple[Foil, ...] = ()
    skin: Callable[[Ratio], Ratio] | None = None
    ground: str = "wieselsberger"
    """One of ``lifting.wing.GROUND_LAWS``."""
    depth: Metres = math.inf
    """Of the water."""
    midship: SquareMetres = 0.0
    """Largest section under water at rest."""
    drag_factor: Ratio = 1.0
    """Of what water and air hold back by the laws, as a trial found it."""
    transom: SquareMetres = 0.0
    """Of the wetted surface, what faces astern across the flow at rest, its mean draft and its middle."""
    transom_draft: Metres = 0.0
    transom_at: Point = (0.0, 0.0, 0.0)
    bodies: tuple[tuple[CubicMetres, Metres], ...] = ()
    """Volume and waterline length of each body that floats by itself (both hulls of a catamaran), the largest first; one for none."""

    @property
    def bottom(self) -> PlaningBottom | None:
        """The whole bottom as one planing surface; None for a hull that has none, or several."""
        return self.pads[0] if len(self.pads) == 1 else None


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
    name: str = ""
    """Which of several alike."""


@dataclass(frozen=True, slots=True)
class Law:
    """A row: its order, what it gives at a state, and what it says where the boat lies outside its range."""

    rank: int
    forces: Callable[[Underway, State], tuple[Force, ...]]
    findings: Callable[[Underway, Floats], tuple[Finding, ...]]
