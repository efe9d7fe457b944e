"""The attitude at which the boat rests: a minimum of potential energy in sinkage, heel and trim together.

Divided by rho g, the energy of boat and water is U = V0 zG - (integral of z over the wet part), with V0 the volume
whose water weighs as much as the boat. In (raise, turn about the world's x, turn about y), turning about the plane's
origin, its gradient is [V0 - V, V0 yG - My, Mx - V0 xG] and its Hessian, exact everywhere, is
[[A, Sy, -Sx], [Sy, Syy + e, -Sxy], [-Sx, -Sxy, Sxx + e]] with e = Mz - V0 zG. Newton's method on that finds stationary
points of any kind, so the safeguards below make it end in minima: absolute eigenvalues where the Hessian is not
positive, Armijo's rule on U, a limit on each step, and a push off any saddle or top.
"""

import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import BoatSinks, Unsolved
from yarekeel.core.formulas import formula
from yarekeel.core.geometry.attitude import Attitude, Rows, angles_of_up, rotation
from yarekeel.core.geometry.flotation import Evaluator, Immersed, centre_below
from yarekeel.core.quantities import CubicMetres, Kilograms, KilogramsPerCubicMetre, Metres, Point, Radians, Ratio
from yarekeel.core.sources import MECHANICS

TOLERANCE = 1e-8
"""Unbalanced force and moment, relative to the weight and to weight times size; one more Newton step follows."""
LEAST_SHARE: Ratio = 1e-9
"""Of the hull's volume that the weight displaces: below it the submerged corner is lost in the rounding of the whole."""
MOST_EVALUATIONS = 200
"""Far above what any of thousands of random and extreme cases needed."""
LARGEST_TURN = 0.5
"""rad a step: beyond it the quadratic model of a hull's energy says little."""
LAST_STEP = 5e-3
"""rad, and of the size: a last Newton step longer than that is no last one, however small the unbalance (next to no stiffness)."""
LARGEST_RISE = 0.35
"""of the half extent a step."""
PUSH = 0.05
"""rad, off a saddle or a top."""
SADDLE = 1e-9
"""Falling curvature over weight times size from which a resting point counts as no minimum; below it lies rounding."""
NEUTRAL = 1e-3
"""Stiffness over weight times size below which a boat is called neutral: a ball or a log, whose facets leave about so much."""

Six = tuple[float, float, float, float, float, float]
Three = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Equilibrium:
    """Where a boat rests, and the stiffness there.

    ``immersed`` and ``stiffness`` are in world axes about the plane's origin under the kernel's centre; ``stiffness`` is
    the Hessian's upper triangle (zz, zx, zy, xx, xy, yy) in m2, m3, m4. ``stable`` is False only for a forced attitude.
    """

    attitude: Attitude
    immersed: Immersed
    stiffness: Six
    displaced: CubicMetres
    centre: Point
    gravity: Point
    evaluations: int
    stable: bool
    neutral: bool

    @property
    def turning_stiffness(self) -> tuple[float, float, float]:
        """(xx, xy, yy) in m4 with sinkage free: about the waterplane's own centroid, in world axes."""
        zz, zx, zy, xx, xy, yy = self.stiffness
        if zz <= 0:
            return xx, xy, yy
        return xx - zx * zx / zz, xy - zx * zy / zz, yy - zy * zy / zz

    @property
    def buoyancy(self) -> Point:
        """Centre of buoyancy, boat axes, metres."""
        return centre_below(self.immersed, self.centre, self.attitude.rows, -self.attitude.height_of(self.centre))


def hessian_of(m: Immersed, v0: CubicMetres, g_height: Metres) -> Six:
    """Upper triangle of the energy's Hessian (module docstring)."""
    e = m.mz - v0 * g_height
    return (m.area, m.sy, -m.sx, m.syy + e, -m.sxy, m.sxx + e)


def _dot(a: Point, b: Point) -> float:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def _cholesky_step(h: Six, g: Three) -> Three | None:
    """-H^-1 g for a positive definite H, else None; plain floats, since numpy's call costs more than the sum."""
    zz, zx, zy, xx, xy, yy = h
    if zz <= 0:
        return None
    l11 = math.sqrt(zz)
    l21, l31 = zx / l11, zy / l11
    p = xx - l21 * l21
    if p <= 1e-13 * abs(xx) or p <= 0:
        return None
    l22 = math.sqrt(p)
    l32 = (xy - l21 * l31) / l22
    q = yy - l31 * l31 - l32 * l32
    if q <= 1e-13 * abs(yy) or q <= 0:
        return None
    l33 = math.sqrt(q)
    a = -g[0] / l11
    b = (-g[1] - l21 * a) / l22
    c = (-g[2] - l31 * a - l32 * b) / l33
    z = c / l33
    y = (b - l32 * z) / l22
    return (a - l21 * y - l31 * z) / l11, y, z


def newton_step(h: Six, g: Three, size: Metres) -> Three | None:
    """-H^-1 g for (raise, turn x, turn y), scaled by ``size`` for the sum; None where H is not positive definite."""
    zz, zx, zy, xx, xy, yy = h
    step = _cholesky_step((zz * size * size, zx * size, zy * size, xx, xy, yy), (g[0] * size, g[1], g[2]))
    return (step[0] * size, step[1], step[2]) if step else None


def _spectrum(h: Six) -> tuple[list[float], list[Three]]:
    zz, zx, zy, xx, xy, yy = h
    values, vectors = np.linalg.eigh(np.array([[zz, zx, zy], [zx, xx, xy], [zy, xy, yy]]))
    return values.tolist(), [(float(v[0]), float(v[1]), float(v[2])) for v in vectors.T]


def turned(rows: Rows, d: Metres, rise: Metres, wx: Radians, wy: Radians) -> tuple[Radians, Radians, Metres]:
    """(heel, trim, d) after turning about the plane's origin by the vector (wx, wy, 0) and raising."""
    angle = math.hypot(wx, wy)
    if angle == 0.0:
        heel, trim = angles_of_up(rows[2])
        return heel, trim, d - rise
    s, c = math.sin(angle) / angle, math.cos(angle)
    a, b = -wy * s, wx * s
    up = (
        a * rows[0][0] + b * rows[1][0] + c * rows[2][0],
        a * rows[0][1] + b * rows[1][1] + c * rows[2][1],
        a * rows[0][2] + b * rows[1][2] + c * rows[2][2],
    )
    heel, trim = angles_of_up(up)
    return heel, trim, d * c - rise


class _Search:
    """State of one minimisation; scaled so that the three unknowns weigh alike."""

    def __init__(self, kernel: Evaluator, v0: CubicMetres, gravity: Point) -> None:
        self.kernel = kernel
        self.v0 = v0
        self.g = (gravity[0] - kernel.centre[0], gravity[1] - kernel.centre[1], gravity[2] - kernel.centre[2])
        self.size = kernel.half_extent
        self.evaluations = 0

    def at(self, heel: Radians, trim: Radians, d: Metres) -> None:
        self.heel, self.trim = heel, trim
        self.rows = rotation(heel, trim)
        # The plane never needs to leave the box; clamped without margin.
        reach = self.size
        self.d = max(-reach, min(reach, d))
        self.m = self.kernel.evaluate(self.rows, self.d)
        self.evaluations += 1
        v0 = self.v0
        xg, yg, zg = _dot(self.rows[0], self.g), _dot(self.rows[1], self.g), _dot(self.rows[2], self.g) - self.d
        m = self.m
        self.energy = v0 * zg - m.mz
        self.gradient: Three = (v0 - m.volume, v0 * yg - m.my, m.mx - v0 * xg)
        self.hessian = hessian_of(m, v0, zg)

    @property
    def residual(self) -> float:
        g = self.gradient
        return max(abs(g[0]), abs(g[1]) / self.size, abs(g[2]) / self.size) / self.v0

    def scaled(self) -> tuple[Six, Three]:
        s = self.size
        zz, zx, zy, xx, xy, yy = self.hessian
        return (zz * s * s, zx * s, zy * s, xx, xy, yy), (self.gradient[0] * s, self.gradient[1], self.gradient[2])

    def step(self) -> tuple[Three, bool]:
        """Newton's step in scaled unknowns, and whether the Hessian was positive definite."""
        h, g = self.scaled()
        newton = _cholesky_step(h, g)
        if newton is not None:
            return newton, True
        values, vectors = _spectrum(h)
        floor = 1e-6 * self.v0 * self.size
        out = [0.0, 0.0, 0.0]
        for value, vector in zip(values, vectors, strict=True):
            along = -(g[0] * vector[0] + g[1] * vector[1] + g[2] * vector[2]) / max(abs(value), floor)
            for k in range(3):
                out[k] += along * vector[k]
        return (out[0], out[1], out[2]), values[0] > 0

    def limited(self, step: Three) -> Three:
        turn = math.hypot(step[1], step[2])
        factor = min(1.0, LARGEST_TURN / turn if turn > 0 else 1.0, LARGEST_RISE / abs(step[0]) if step[0] else 1.0)
        return step[0] * factor, step[1] * factor, step[2] * factor

    def moved(self, step: Three, share: float) -> tuple[Radians, Radians, Metres]:
        return turned(self.rows, self.d, share * step[0] * self.size, share * step[1], share * step[2])

    def descend(self, step: Three) -> bool:
        """Take the step, shortened until the energy falls enough (Armijo); False if it does not fall at all."""
        _, g = self.scaled()
        slope = g[0] * step[0] + g[1] * step[1] + g[2] * step[2]
        start, energy = (self.heel, self.trim, self.d), self.energy
        slack = 1e-13 * self.v0 * self.size
        rows, d = self.rows, self.d
        share = 1.0
        for _ in range(30):
            self.at(*turned(rows, d, share * step[0] * self.size, share * step[1], share * step[2]))
            if self.energy <= energy + 1e-4 * share * slope + slack:
                return True
            share *= 0.5 if share > 0.1 else 0.25
        self.at(*start)
        return False


@formula("nabla = m / rho", MECHANICS, "what floats")
def required_volume(kernel: Evaluator, mass_kg: Kilograms, density: KilogramsPerCubicMetre) -> CubicMetres:
    """Volume of water that weighs as much as the boat; raises BoatSinks if the hull has not that much, Unsolved for one that is
    too small for the arithmetic (``LEAST_SHARE``)."""
    v0 = mass_kg / density
    if v0 <= LEAST_SHARE * kernel.total_volume:
        raise Unsolved("So small a mass cannot be floated on this hull; check the weights and their units.")
    if v0 >= kernel.total_volume * (1 - 1e-9):
        raise BoatSinks(mass_kg, kernel.total_volume * density)
    return v0


def solve_equilibrium(
    kernel: Evaluator,
    displaced: CubicMetres,
    gravity: Point,
    start: Attitude | None = None,
) -> Equilibrium:
    """The attitude of least energy reached from ``start`` (level, if none is given).

    ``displaced`` is V0 in m3, more than 0 and less than the whole volume; ``gravity`` the centre of gravity in boat axes.
    Raises Unsolved if it does not settle. A boat that is unstable upright ends at its angle of loll, or capsized.
    """
    search = _Search(kernel, displaced, gravity)
    if start is None:
        search.at(0.0, 0.0, kernel.first_guess(displaced))
    else:
        search.at(start.heel, start.trim, -start.height_of(kernel.centre))
    pushes = 0
    while search.evaluations < MOST_EVALUATIONS:
        step, positive = search.step()
        if search.residual < TOLERANCE:
            h, _ = search.scaled()
            values, vectors = (None, None) if positive else _spectrum(h)
            least = values[0] if values else 1.0
            if values is None or least > -SADDLE * search.v0 * search.size:
                break
            assert vectors is not None
            way = vectors[0]
            turn = math.hypot(way[1], way[2]) or 1.0
            # Alternate the side, and push harder if the first push fell back.
            factor = PUSH * (1 + pushes) * (-1 if pushes % 2 else 1) / turn
            pushes += 1
            search.at(*search.moved(way, factor))
            continue
        if not search.descend(search.limited(step)):
            _, g = search.scaled()
            size = math.sqrt(g[0] ** 2 + g[1] ** 2 + g[2] ** 2)
            down = (-g[0] / size * 0.1, -g[1] / size * 0.1, -g[2] / size * 0.1)
            if not search.descend(down):
                if search.residual < 1e-6:
                    break
                raise Unsolved("The attitude did not settle; check the mesh for slivers and the weights for their places.")
    else:
        raise Unsolved("The attitude did not settle; check the mesh for slivers and the weights for their places.")
    step, _ = search.step()
    last = search.limited(step) if search.residual < TOLERANCE and _cholesky_step(*search.scaled()) else (0.0, 0.0, 0.0)
    heel, trim, d = search.moved(last, 1.0)
    return _settled(search, heel, trim, d, stable=True)


def _settled(search: _Search, heel: Radians, trim: Radians, d: Metres, *, stable: bool) -> Equilibrium:
    kernel = search.kernel
    rows = rotation(heel, trim)
    origin_height = -d - _dot(rows[2], kernel.centre)
    gravity = (search.g[0] + kernel.centre[0], search.g[1] + kernel.centre[1], search.g[2] + kernel.centre[2])
    h, _ = search.scaled()
    limit = NEUTRAL * search.v0 * search.size
    neutral = stable and _spectrum(h)[0][0] < limit
    return Equilibrium(
        attitude=Attitude(heel, trim, origin_height),
        immersed=search.m,
        stiffness=search.hessian,
        displaced=search.v0,
        centre=kernel.centre,
        gravity=gravity,
        evaluations=search.evaluations,
        stable=stable,
        neutral=neutral,
    )


@dataclass(frozen=True, slots=True)
class Held:
    """A boat held at a heel, free to sink and trim: its attitude, its righting arm and what it took to find."""

    attitude: Attitude
    righting_arm: Metres
    energy: float
    immersed: Immersed
    stiffness: Six
    displaced: CubicMetres
    centre: Point
    evaluations: int

    @property
    def buoyancy(self) -> Point:
        """Centre of buoyancy, boat axes, metres."""
        return centre_below(self.immersed, self.centre, self.attitude.rows, -self.attitude.height_of(self.centre))

    @property
    def heel_stiffness(self) -> Metres:
        """d(GZ)/d(heel) with sinkage free and trim held, metres: GM where the boat is level."""
        zz, zx, _, xx, _, _ = self.stiffness
        return (xx - zx * zx / zz if zz > 0 else xx) / self.displaced


def solve_held(
    kernel: Evaluator,
    displaced: CubicMetres,
    gravity: Point,
    heel: Radians,
    trim: Radians = 0.0,
    d: Metres | None = None,
    tolerance: Ratio = TOLERANCE,
    *,
    short_of_end: bool = False,
) -> Held:
    """Sinkage and trim of least energy at a fixed ``heel``, started from ``trim`` and plane height ``d`` over the centre. With
    ``short_of_end`` one past standing on end is no answer. Raises Unsolved.

    GZ = yG - yB in the world (positive where it rights a heel to starboard), corrected for the last Newton step.
    """
    search = _Search(kernel, displaced, gravity)
    search.at(heel, trim, kernel.first_guess(displaced) if d is None else d)
    size = search.size
    while True:
        g0, g2 = search.gradient[0] * size, search.gradient[2]
        zz, zy, yy = search.hessian[0] * size * size, search.hessian[2] * size, search.hessian[5]
        det = zz * yy - zy * zy
        definite = zz > 0 and det > 1e-13 * zz * abs(yy)
        if definite:
            rise, turn = (-g0 * yy + g2 * zy) / det, (-g2 * zz + g0 * zy) / det
        else:
            values, vectors = np.linalg.eigh(np.array([[zz, zy], [zy, yy]]))
            floor = 1e-6 * displaced * size
            pick = -(vectors.T @ np.array([g0, g2])) / np.maximum(np.abs(values), floor)
            rise, turn = (vectors @ pick).tolist()
        done = max(abs(g0), abs(g2)) / (displaced * size) < tolerance
        if done and definite and max(abs(rise), abs(turn)) < LAST_STEP:
            break
        if search.evaluations >= MOST_EVALUATIONS:
            raise Unsolved(f"No balance of sinkage and trim was found at {math.degrees(heel):.1f}° of heel.")
        if done and not definite:  # a top or a saddle of trim: push off it
            search.at(heel, search.trim + PUSH, search.d)
            continue
        if not _held_descent(search, heel, rise, turn):
            if max(abs(g0), abs(g2)) / (displaced * size) < 1e-6:
                rise = turn = 0.0
                break
            raise Unsolved(f"No balance of sinkage and trim was found at {math.degrees(heel):.1f}° of heel.")
    if short_of_end and abs(search.trim - turn) > math.pi / 2:  # end over end: that is the same boat at another heel
        raise Unsolved(f"No balance of sinkage and trim short of standing on end was found at {math.degrees(heel):.1f}° of heel.")
    arm = (search.gradient[1] + search.hessian[1] * rise * size + search.hessian[4] * turn) / displaced
    final_trim, final_d = search.trim - turn, search.d - rise * size
    rows = rotation(heel, final_trim)
    return Held(
        attitude=Attitude(heel, final_trim, -final_d - _dot(rows[2], kernel.centre)),
        righting_arm=arm,
        # What the last step takes off, to second order.
        energy=search.energy + (search.gradient[0] * rise * size + search.gradient[2] * turn) / 2,
        immersed=search.m,
        stiffness=search.hessian,
        displaced=displaced,
        centre=kernel.centre,
        evaluations=search.evaluations,
    )


def _held_descent(search: _Search, heel: Radians, rise: float, turn: float) -> bool:
    """As _Search.descend, with the heel kept; ``rise`` is scaled by the size, ``turn`` in rad."""
    factor = min(1.0, LARGEST_TURN / abs(turn) if turn else 1.0, LARGEST_RISE / abs(rise) if rise else 1.0)
    rise, turn = rise * factor, turn * factor
    slope = search.gradient[0] * search.size * rise + search.gradient[2] * turn
    trim, d, energy = search.trim, search.d, search.energy
    share = 1.0
    for _ in range(30):
        c = math.cos(share * turn)
        search.at(heel, trim - share * turn, d * c - share * rise * search.size)
        if search.energy <= energy + 1e-4 * share * slope + 1e-13 * search.v0 * search.size:
            return True
        share *= 0.5 if share > 0.1 else 0.25
    search.at(heel, trim, d)
    return False
