"""Righting arms: GZ against heel, with sinkage and trim free at each angle."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.attitude import Attitude
from yarekeel.core.hydrostatics.equilibrium import solve_held
from yarekeel.core.hydrostatics.flotation import Flotation
from yarekeel.core.hydrostatics.inside import Laden
from yarekeel.core.quantities import CubicMetres, MetreRadians, Metres, Point, Radians

NO_ARM = 1e-7
"""Of the boat's size: an arm below it is rounding."""
SWEEP_TOLERANCE = 1e-5
"""Unbalance at which a heel is left: the last Newton step corrects the arm, so its error is of the order of its square."""


@dataclass(frozen=True, slots=True)
class RightingPoint:
    """At one heel: the arm, and the trim and height taken up. ``freeboard`` is that of the deck rim's lowest point."""

    heel: Radians
    arm: Metres
    trim: Radians
    origin_height: Metres
    freeboard: Metres

    @property
    def attitude(self) -> Attitude:
        return Attitude(self.heel, self.trim, self.origin_height)


@dataclass(frozen=True, slots=True)
class RightingCurve:
    """The curve and what is read off it. Angles in rad; None where the curve does not get there.

    ``rights`` says whether the arm is positive anywhere.

    ``vanishing`` is the heel past its peak at which the arm falls through zero; ``rim_under`` where the deck rim first
    goes under; ``area`` the area under the arm from the first point to the vanishing angle or the last point.
    """

    points: tuple[RightingPoint, ...]
    peak: RightingPoint
    vanishing: Radians | None
    rim_under: Radians | None
    area: MetreRadians
    rights: bool
    evaluations: int


def righting_curve(
    hull: Hull, displaced: CubicMetres, gravity: Point, heels: Sequence[Radians], kernel: Flotation | Laden | None = None
) -> RightingCurve:
    """GZ at each of ``heels`` (rising, rad). Each is started from its neighbours, extrapolated by a parabola.

    ``displaced`` is the volume of water as heavy as the listed weights; with liquids aboard (``kernel``) the arm is that of
    weights and liquids together.
    """
    kernel = kernel or hull.kernel
    share = displaced / (displaced + kernel.liquid) if isinstance(kernel, Laden) else 1.0
    found: list[tuple[Radians, Radians, Metres, Metres]] = []  # heel, trim, plane height over the kernel's centre, arm
    points: list[RightingPoint] = []
    evaluations = 0
    for heel in heels:
        trim, d = _guess(found, heel)
        held = solve_held(kernel, displaced, gravity, heel, trim, d, tolerance=SWEEP_TOLERANCE)
        evaluations += held.evaluations
        a = held.attitude
        arm = held.righting_arm * share
        found.append((heel, a.trim, -a.height_of(kernel.centre), arm))
        points.append(RightingPoint(heel, arm, a.trim, a.origin_height, hull.least_freeboard(a)[0]))
    arms = [p.arm if abs(p.arm) > NO_ARM * kernel.half_extent else 0.0 for p in points]
    top = max(range(len(points)), key=lambda k: arms[k])
    vanishing = next(
        (_crossing(points[k], points[k + 1], arms[k], arms[k + 1]) for k in range(top, len(points) - 1) if arms[k] > 0 >= arms[k + 1]), None
    )
    rim = [p.freeboard for p in points]
    under = next(
        (_crossing(points[k], points[k + 1], rim[k], rim[k + 1]) for k in range(len(points) - 1) if rim[k] > 0 >= rim[k + 1]), None
    )
    return RightingCurve(tuple(points), points[top], vanishing, under, _area(points, vanishing), arms[top] > 0, evaluations)


def _guess(found: list[tuple[Radians, Radians, Metres, Metres]], heel: Radians) -> tuple[Radians, Metres | None]:
    if not found:
        return 0.0, None
    near = found[-3:]
    x = [f[0] for f in near]
    trim = depth = 0.0
    for i in range(len(near)):  # Lagrange's polynomial through the last one, two or three
        weight = math.prod((heel - x[j]) / (x[i] - x[j]) for j in range(len(near)) if j != i)
        trim += weight * near[i][1]
        depth += weight * near[i][2]
    return trim, depth


def _crossing(a: RightingPoint, b: RightingPoint, ya: float, yb: float) -> Radians:
    return a.heel + (b.heel - a.heel) * ya / (ya - yb) if ya != yb else a.heel


def _area(points: Sequence[RightingPoint], vanishing: Radians | None) -> MetreRadians:
    x = [p.heel for p in points if vanishing is None or p.heel < vanishing]
    y = [p.arm for p in points[: len(x)]]
    if vanishing is not None:
        x.append(vanishing)
        y.append(0.0)
    return float(np.trapezoid(y, x))


def wall_sided_arm(gm: Metres, bm: Metres, heel: Radians) -> Metres:
    """GZ = sin(heel) (GM + BM tan2(heel) / 2), true until the deck edge or the bilge moves through the surface."""
    return math.sin(heel) * (gm + 0.5 * bm * math.tan(heel) ** 2)
