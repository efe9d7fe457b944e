"""What keeps a boat on its course, and how tightly it turns.

Side force and yaw moment of the hull by its length, breadth, draft and fullness, with the drag of the flow across it, of fins and rudder as
short wings against it. Everything is over half the density, the square of the speed and the square (moments: the cube) of the waterline.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.lifting.wing import lift_slope
from yarekeel.core.quantities import Floats, KilogramsPerCubicMetre, Metres, MetresPerSecond, Newtons, Radians, Ratio, SquareMetres
from yarekeel.core.sources import CLARKE_1983, HOERNER_1965, PRANDTL_1921, RANKINE_FROUDE, SHIP_RUDDER, STATICS


@formula("a = A (m_w - m) / (l - m_w)", STATICS, "lateral areas alone, each at its own centre; lift slopes taken alike")
def fin_for(area: SquareMetres, margin: Metres, wanted: Metres, arm: Metres) -> SquareMetres | None:
    """Area of a fin ``arm`` aft of G that moves the centre of an area from ``margin`` to ``wanted`` aft of G; None where it cannot."""
    return area * (wanted - margin) / (arm - wanted) if arm > wanted else None


@dataclass(frozen=True, slots=True)
class Derivatives:
    """Side force and yaw moment by drift (v) and by yaw (r), about the middle of the waterline; to port, and bow to port, positive."""

    y_v: Ratio
    n_v: Ratio
    y_r: Ratio
    n_r: Ratio


@dataclass(frozen=True, slots=True)
class Fin:
    """A fin or rudder in the water: side area, depth, how far ahead of the middle of the waterline it stands (less than 0: aft), whether it
    is turned to steer, and how many times the square of the boat's speed it meets (1 outside a thruster's stream)."""

    area: SquareMetres
    height: Metres
    ahead: Metres
    steers: bool = False
    stream: Ratio = 1.0


@formula(
    "Y_v = -p (1 + 0.40 C_B B/T), N_v = -p (1/2 + 2.4 T/L), Y_r = -p (-1/2 + 2.2 B/L - 0.08 B/T), N_r = -p (1/4 + 0.039 B/T - 0.56 B/L)",
    CLARKE_1983,
    "p = pi (T/L)²; ships afloat, from memory; models and planing hulls lie outside",
)
def hull_derivatives(length: Metres, beam: Metres, draft: Metres, fullness: Ratio) -> Derivatives:
    """Of a bare hull, deadwood and all, from its waterline, draft and block coefficient."""
    p = math.pi * (draft / length) ** 2
    b, slim = beam / draft, beam / length
    return Derivatives(
        y_v=-p * (1 + 0.40 * fullness * b),
        n_v=-p * (0.5 + 2.4 * draft / length),
        y_r=-p * (-0.5 + 2.2 * slim - 0.08 * b),
        n_r=-p * (0.25 + 0.039 * b - 0.56 * slim),
    )


@formula("a = 2 pi / (1 + 2 / AR), AR = 2 h² / A", PRANDTL_1921, "a fin under a hull, which mirrors it")
def fin_slope(fin: Fin) -> Ratio:
    """Side force coefficient per radian, on its area."""
    return lift_slope(math.sqrt(2.0) * fin.height, fin.area)


def with_fins(bare: Derivatives, fins: Sequence[Fin], length: Metres) -> Derivatives:
    """The hull's derivatives with those of its fins and rudder."""
    y_v, n_v, y_r, n_r = bare.y_v, bare.n_v, bare.y_r, bare.n_r
    for fin in fins:
        force, x = fin_slope(fin) * fin.stream * fin.area / length**2, fin.ahead / length
        y_v, n_v, y_r, n_r = y_v - force, n_v - force * x, y_r - force * x, n_r - force * x * x
    return Derivatives(y_v, n_v, y_r, n_r)


@formula("C = Y_v (N_r - m x_G) - N_v (Y_r - m)", CLARKE_1983, "above 0: it comes back to a straight course, though not to the old one")
def steadiness(d: Derivatives, mass: Ratio, gravity: Ratio) -> Ratio:
    """Whether it holds a straight course by itself: mass over half the density and the cube of the waterline, G ahead of its middle over
    the waterline."""
    return d.y_v * (d.n_r - mass * gravity) - d.n_v * (d.y_r - mass)


@formula("Y_c = -C_D (T/L) int w |w| dx, N_c = -C_D (T/L) int x w |w| dx, w = v + x r over the waterline", HOERNER_1965, "C_D 0.8")
def cross_flow(sway: Ratio, yaw: Ratio, draft: Ratio) -> tuple[Ratio, Ratio]:
    """Side force and yaw moment of the water that flows across the hull, strip by strip; ``draft`` over the waterline."""
    w = sway + _STRIPS * yaw
    push = -CROSS_DRAG * draft * w * np.abs(w) / len(_STRIPS)
    return float(push.sum()), float((push * _STRIPS).sum())


@formula("Y_v v + (Y_r - m) r + Y_c + Y = 0, N_v v + (N_r - m x_G) r + N_c + N = 0; L/R = |r|", CLARKE_1983, "steady turn")
def turn_of(d: Derivatives, mass: Ratio, gravity: Ratio, side: Ratio, moment: Ratio, draft: Ratio) -> tuple[Ratio, Radians]:
    """Yaw rate over speed times the waterline (L/R, to port positive) and sway over speed of a steady turn under a side force and a yaw
    moment, found from many begins so that a hull that does not hold its course has its circle too; none under no moment."""
    from scipy import optimize  # long to load

    if not side and not moment:
        return 0.0, 0.0
    matrix = np.array([[d.y_v, d.y_r - mass], [d.n_v, d.n_r - mass * gravity]])

    def miss(x: Floats) -> Floats:
        across = cross_flow(float(x[0]), float(x[1]), draft)
        return np.asarray(matrix @ x + np.array([side + across[0], moment + across[1]]))

    best: Floats | None = None
    for begin in (0.0, 0.1, 0.3, 0.6, 1.0):
        found = optimize.root(miss, np.array([-0.3 * begin, begin]) * math.copysign(1.0, moment or side), method="hybr")
        # the circle that the rudder asks for, the widest of them
        if found.success and found.x[1] * (moment or side) > 0 and (best is None or abs(found.x[1]) < abs(best[1])):
            best = found.x
    return (float(best[1]), float(best[0])) if best is not None else (math.inf, 0.0)


def rudder_force(fins: Sequence[Fin], length: Metres, angle: Radians) -> tuple[Ratio, Ratio]:
    """Side force and yaw moment of all rudders turned by an angle, those beyond the stall no more than at it."""
    turned = max(min(angle, STALL), -STALL)
    side = moment = 0.0
    for fin in fins:
        if fin.steers:
            force = fin_slope(fin) * fin.stream * fin.area / length**2 * turned
            side, moment = side + force, moment + force * fin.ahead / length
    return side, moment


CROSS_DRAG: Ratio = 0.8
"""Of a hull across the flow, on waterline times draft (from memory: 0.6 to 1.1)."""
_STRIPS = (np.arange(20) + 0.5) / 20 - 0.5
STALL: Radians = math.radians(30.0)
"""From which a low rudder gives no more (common practice: 25 to 35°)."""


@formula("k = 1 + s T / (rho A V² / 2)", RANKINE_FROUDE, "rudder right behind a thruster; s the share of it in the stream")
def stream_over(thrust: Newtons, disk: SquareMetres, density: KilogramsPerCubicMetre, speed: MetresPerSecond, share: Ratio) -> Ratio:
    """Square of the speed that a rudder meets over the square of the boat's, behind a thruster of a disk."""
    return 1 + share * max(thrust, 0.0) / (density / 2 * disk * speed**2) if disk > 0 and speed > 0 else 1.0


@formula("l = V² (z_G - z_L) / (g R), against GZ / cos phi", STATICS, "leans outward; hulls afloat")
def turn_lever(speed: MetresPerSecond, radius: Metres, over: Metres) -> Metres:
    """Heeling lever outward in a turn with G ``over`` the centre of lateral area; less than 0 where G lies under it: it leans inward."""
    return speed**2 * over / (STANDARD_GRAVITY * radius)


@formula("A = T L / 100 (1 + 25 (B / L)^2)", SHIP_RUDDER, "least rudder area of ships; T draft, L and B at the waterline")
def least_rudder(length: Metres, beam: Metres, draft: Metres) -> SquareMetres:
    """The rudder that a ship of that size would have at least: a yardstick for small boats."""
    return draft * length / 100 * (1 + 25 * (beam / length) ** 2)
