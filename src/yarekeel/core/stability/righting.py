"""Righting arms: GZ against heel, with sinkage and trim free at each angle, to one side as far as upside down."""

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from yarekeel.core.errors import Unsolved
from yarekeel.core.formulas import formula
from yarekeel.core.geometry.attitude import Attitude, rotation
from yarekeel.core.geometry.flotation import Flotation, centre_below
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.afloat import with_liquids
from yarekeel.core.hydrostatics.equilibrium import Held, solve_held
from yarekeel.core.hydrostatics.inside import Laden
from yarekeel.core.quantities import CubicMetres, MetreRadians, Metres, Point, Radians, Ratio
from yarekeel.core.search import root
from yarekeel.core.sources import MECHANICS, WALL_SIDED

NO_ARM = 1e-7
"""Of the boat's size: an arm below it is rounding."""
SWEEP_TOLERANCE = 3e-4
"""Unbalance at which a heel is left: the last Newton step corrects arm and energy, so that an arm is good to about 1e-8 of the
boat's size (measured on box, spheroid and the demo boats)."""
OTHER_HEELS: tuple[Radians, ...] = tuple(math.radians(a) for a in (45, 75, 90, 105, 135, 180))
OTHER_TRIMS: tuple[Radians, ...] = (-0.45, 0.0, 0.45)
"""From where other trims are looked for: a trimaran on its side can lie bow or stern down."""
LOWER = 1e-7
"""Of the boat's size: energy over displacement by which another trim must lie lower to count."""
CLOSE: Radians = math.radians(0.005)
"""To which a crossing is found."""


@dataclass(frozen=True, slots=True)
class RightingPoint:
    """At one heel: the arm, and the trim and height taken up. ``freeboard`` is that of the deck rim's lowest point, ``energy``
    the potential energy of boat and water over the boat's weight."""

    heel: Radians
    arm: Metres
    trim: Radians
    origin_height: Metres
    freeboard: Metres
    energy: Metres = 0.0

    @property
    def attitude(self) -> Attitude:
        return Attitude(self.heel, self.trim, self.origin_height)


@dataclass(frozen=True, slots=True)
class RightingCurve:
    """The curve to one side and what is read off it. Angles in rad, signed as heel is; None where the curve does not get there.

    ``points`` go outward; ``side`` is 1 for starboard, -1 for port. ``push`` is the arm as it acts on that side: positive where
    it brings the boat back. ``rights`` says whether it does anywhere.

    ``vanishing`` is the heel past its peak at which the arm falls through zero; ``rim_under`` where the deck rim first
    goes under; ``area`` the area under the push from the first point to the vanishing angle or the last point. ``branches`` are
    the stretches of heel (from, to) at which another trim than the neighbours' was found to lie lower. ``stopped`` is the first
    heel at which no trim short of standing on end balances it: there the curve ends, None where it goes all the way.
    """

    points: tuple[RightingPoint, ...]
    side: int
    peak: RightingPoint
    vanishing: Radians | None
    rim_under: Radians | None
    area: MetreRadians
    rights: bool
    evaluations: int
    branches: tuple[tuple[Radians, Radians], ...] = ()
    stopped: Radians | None = None

    def righting_arm(self, point: RightingPoint) -> Metres:
        """The arm at a point, positive where it brings the boat back from that side."""
        return self.side * point.arm


@dataclass(frozen=True, eq=False)
class Righted:
    """The boat that is heeled: its hull, the volume of water as heavy as its listed weights, their G, and what floats."""

    hull: Hull
    displaced: CubicMetres
    gravity: Point
    kernel: Flotation | Laden

    @property
    def share(self) -> Ratio:
        """Of the whole weight that the listed weights are, by which arms of weights and liquids together are smaller."""
        return self.displaced / (self.displaced + self.kernel.liquid) if isinstance(self.kernel, Laden) else 1.0

    def held(self, heel: Radians, trim: Radians = 0.0, d: Metres | None = None, tolerance: Ratio = SWEEP_TOLERANCE) -> Held:
        """Held at a heel, from a trim and a plane's height over the kernel's centre. Raises Unsolved."""
        return solve_held(
            kernel=self.kernel,
            displaced=self.displaced,
            gravity=self.gravity,
            heel=heel,
            trim=trim,
            d=d,
            tolerance=tolerance,
            short_of_end=True,
        )

    def centres(self, held: Held) -> tuple[Point, Point]:
        """Of gravity, of weights and liquids that have run together, and of buoyancy, boat axes."""
        if not isinstance(self.kernel, Laden):
            return self.gravity, held.buoyancy
        a, centre = held.attitude, self.kernel.centre
        _, gravity = with_liquids(self.displaced, self.gravity, self.kernel.levels(a), 1.0)
        d = -a.height_of(centre)
        return gravity, centre_below(self.kernel.displaced(a.rows, d), centre, a.rows, d)

    def point(self, held: Held, heel: Radians) -> RightingPoint:
        """What it is like there."""
        return self.points([(held, heel)])[0]

    def points(self, found: Sequence[tuple[Held, Radians]]) -> list[RightingPoint]:
        """The same of several heels; the rim's heights for all of them at once."""
        lying = np.array([[*h.attitude.up, h.attitude.origin_height] for h, _ in found])
        rims = (lying[:, :3] @ self.hull.rim.T).min(axis=1) + lying[:, 3]
        share, weight = self.share, self.displaced
        return [
            RightingPoint(
                heel=heel,
                arm=h.righting_arm * share,
                trim=h.attitude.trim,
                origin_height=h.attitude.origin_height,
                freeboard=free,
                energy=h.energy / weight,
            )
            for (h, heel), free in zip(found, rims.tolist(), strict=True)
        ]

    def near(self, point: RightingPoint, heel: Radians, tolerance: Ratio = SWEEP_TOLERANCE) -> RightingPoint:
        """At another heel, started from a point of the curve. Raises Unsolved."""
        return self.point(self.held(heel, point.trim, -point.attitude.height_of(self.kernel.centre), tolerance), heel)


def righting_curve(
    hull: Hull, displaced: CubicMetres, gravity: Point, heels: Sequence[Radians], kernel: Flotation | Laden | None = None
) -> RightingCurve:
    """GZ at each of ``heels`` (rad, going one way). Each is started from its neighbours, extrapolated by a cubic.

    ``displaced`` is the volume of water as heavy as the listed weights; with liquids aboard (``kernel``) the arm is that of
    weights and liquids together. Raises Unsolved, with the heel, where no balance of sinkage and trim was found at the first.
    """
    boat = Righted(hull, displaced, gravity, kernel or hull.kernel)
    points, stopped, evaluations = _sweep(boat, heels)
    return replace(_read(boat, points, evaluations), stopped=stopped)


def with_other_trims(boat: Righted, curve: RightingCurve) -> RightingCurve:
    """The curve with every other trim looked for: at some heels the balance is sought from bow up and bow down too, followed
    from there both ways, and the trim of least energy is taken."""
    points, least = list(curve.points), LOWER * boat.kernel.half_extent
    evaluations, changed = curve.evaluations, [False] * len(curve.points)
    for heel in OTHER_HEELS:
        at = min(range(len(points)), key=lambda k: abs(abs(points[k].heel) - heel))
        if abs(abs(points[at].heel) - heel) > math.radians(8):
            continue
        for trim in OTHER_TRIMS:
            try:
                held = boat.held(points[at].heel, trim)
            except Unsolved:
                continue
            evaluations += held.evaluations
            found = boat.point(held, points[at].heel)
            for way in (1, -1):
                near, k = found, at if way > 0 else at - 1
                while 0 <= k < len(points):
                    try:
                        near = boat.near(near, points[k].heel) if k != at else found
                    except Unsolved:
                        break
                    evaluations += 2
                    if near.energy >= points[k].energy - least:
                        break
                    points[k], changed[k] = near, True
                    k += way
    if not any(changed):
        return replace(curve, evaluations=evaluations)
    stretches: list[tuple[Radians, Radians]] = []
    for k, one in enumerate(changed):
        if one and k and changed[k - 1]:
            stretches[-1] = (stretches[-1][0], points[k].heel)
        elif one:
            stretches.append((points[k].heel, points[k].heel))
    return replace(_read(boat, points, evaluations), branches=tuple(stretches), stopped=curve.stopped)


def mirrored(curve: RightingCurve) -> RightingCurve:
    """The same curve to the other side, for a boat whose two sides are alike."""

    def turned(p: RightingPoint) -> RightingPoint:
        return replace(p, heel=-p.heel, arm=-p.arm)

    def minus(angle: Radians | None) -> Radians | None:
        return None if angle is None else -angle

    return replace(
        curve,
        points=tuple(turned(p) for p in curve.points),
        side=-curve.side,
        peak=turned(curve.peak),
        vanishing=minus(curve.vanishing),
        rim_under=minus(curve.rim_under),
        branches=tuple((-a, -b) for a, b in curve.branches),
        stopped=minus(curve.stopped),
    )


def is_symmetric(boat: Righted) -> bool:
    """Whether the two sides are alike: G on the middle, and the same below the surface at a few heels either way."""
    size, volume = boat.kernel.half_extent, boat.kernel.total_volume
    if abs(boat.gravity[1]) > 1e-9 * size:
        return False
    offset = boat.kernel.centre[1]
    if abs(offset) > 1e-7 * size:
        return False
    for heel, trim, d in ((0.3, 0.1, -0.2), (0.8, 0.0, 0.1), (2.2, -0.1, 0.0)):
        one, other = (boat.kernel.evaluate(rotation(sign * heel, trim), d * size) for sign in (1.0, -1.0))
        apart = (one.volume - other.volume, (one.my + other.my) / size, (one.mx - other.mx) / size, (one.mz - other.mz) / size)
        if max(abs(v) for v in apart) > 1e-7 * volume:
            return False
    return True


def crossing(
    boat: Righted, a: RightingPoint, b: RightingPoint, height: Callable[[RightingPoint], Metres], tolerance: Radians = CLOSE
) -> RightingPoint:
    """The point between ``a`` and ``b`` at which ``height`` goes through zero, each heel on the way solved from the nearest known.
    Raises Unsolved."""
    known = {a.heel: a, b.heel: b}

    def at(heel: Radians) -> Metres:
        if heel not in known:
            known[heel] = boat.near(known[min(known, key=lambda h: abs(h - heel))], heel)
        return height(known[heel])

    met = root(at, a.heel, b.heel, tolerance, enough=1e-9 * boat.kernel.half_extent)
    if met is None:  # both ends on one side, by less than the solver's own doubt
        return a if abs(height(a)) < abs(height(b)) else b
    return known[min(known, key=lambda h: abs(h - met))]


def rests_of(boat: Righted, points: Sequence[RightingPoint]) -> tuple[tuple[Radians, bool], ...]:
    """Heels at which it would rest by itself, rising, with whether it stays there (the arm rises through zero) or goes on. ``points``
    go up in heel; where they go round, upside down counts once. Raises Unsolved."""
    no_arm = NO_ARM * boat.kernel.half_extent
    out = []
    for a, b in itertools.pairwise(points):
        if a.arm * b.arm < 0 and min(abs(a.arm), abs(b.arm)) > no_arm:
            out.append((crossing(boat, a, b, lambda p: p.arm).heel, a.arm < b.arm))
    for k, p in enumerate(points):  # a rest on a point is told from its neighbours; past upside down lies the other side
        if abs(p.arm) > no_arm or len(points) < 2 or p.heel <= -math.pi + 1e-9:
            continue
        before = points[k - 1].arm if k else -points[1].arm
        after = points[k + 1].arm if k + 1 < len(points) else -points[k - 1].arm
        out.append((p.heel, after > 0 > before))
    return tuple(sorted(out))


@formula("GZ = BG sin(phi)", MECHANICS, "wholly under water")
def dived_arm(gravity: Point, buoyancy: Point, heel: Radians) -> Metres:
    """GZ of a boat wholly under water: BG sin(heel) for B straight over G, in general the distance of their verticals, boat
    level fore and aft (metres)."""
    across = rotation(heel, 0.0)[1]
    return sum(across[k] * (gravity[k] - buoyancy[k]) for k in range(3))


def _sweep(boat: Righted, heels: Sequence[Radians]) -> tuple[list[RightingPoint], Radians | None, int]:
    found: list[tuple[Radians, Radians, Metres]] = []  # heel, trim, plane height over the kernel's centre
    solved: list[tuple[Held, Radians]] = []
    evaluations = 0
    for heel in heels:
        trim, d = _guess(found, heel)
        try:
            held = _from_anywhere(boat, heel, trim, d)
        except Unsolved:
            if not solved:
                raise
            return boat.points(solved), heel, evaluations
        evaluations += held.evaluations
        found.append((heel, held.attitude.trim, -held.attitude.height_of(boat.kernel.centre)))
        solved.append((held, heel))
    return boat.points(solved), None, evaluations


def _from_anywhere(boat: Righted, heel: Radians, trim: Radians, d: Metres | None) -> Held:
    """Held at a heel from its neighbours; where that leads nowhere, from level, from bow up and from bow down. Raises Unsolved."""
    try:
        return boat.held(heel, trim, d)
    except Unsolved as error:
        for start in sorted(OTHER_TRIMS, key=abs):
            try:
                return boat.held(heel, start)
            except Unsolved:
                continue
        raise error from None


def _read(boat: Righted, points: Sequence[RightingPoint], evaluations: int) -> RightingCurve:
    side = -1 if points[-1].heel < points[0].heel else 1
    arms = [side * p.arm if abs(p.arm) > NO_ARM * boat.kernel.half_extent else 0.0 for p in points]
    first, ends = _righting_run(points, arms)
    top = max(range(first, ends), key=lambda k: arms[k])
    vanishing = next(
        (_between(points[k], points[k + 1], arms[k], arms[k + 1]) for k in range(top, len(points) - 1) if arms[k] > 0 >= arms[k + 1]), None
    )
    if vanishing is not None and abs(abs(vanishing) - math.pi) < 1e-9:
        vanishing = None  # upside down the arm is nothing for every boat
    rim = [p.freeboard for p in points]
    under = next((_between(points[k], points[k + 1], rim[k], rim[k + 1]) for k in range(len(points) - 1) if rim[k] > 0 >= rim[k + 1]), None)
    return RightingCurve(
        points=tuple(points),
        side=side,
        peak=points[top],
        vanishing=vanishing,
        rim_under=under,
        area=_area(points, vanishing, side),
        rights=arms[top] > 0,
        evaluations=evaluations,
    )


def _righting_run(points: Sequence[RightingPoint], arms: Sequence[Metres]) -> tuple[int, int]:
    """The points (from, to) between which it is brought back: of the stretches that begin before 90° the one that pushes hardest.
    One that begins later only pushes a boat that lies over to where it lies; one before it may end at a float's contact. All
    points where nothing brings it back."""
    best = (0, len(arms))
    hardest, k = 0.0, 0
    while k < len(arms):
        end = k
        while end < len(arms) and arms[end] > 0:
            end += 1
        if end > k and abs(points[k].heel) < math.pi / 2 and max(arms[k:end]) > hardest:
            hardest, best = max(arms[k:end]), (k, end)
        k = end + 1
    return best


def _guess(found: Sequence[tuple[Radians, Radians, Metres]], heel: Radians) -> tuple[Radians, Metres | None]:
    if not found:
        return 0.0, None
    x, trim, depth = (list(v) for v in zip(*found[-4:], strict=True))
    for n in range(1, len(x)):  # Neville's scheme for the polynomial through the last one to four
        for i in range(len(x) - n):
            a, b, run = heel - x[i + n], x[i] - heel, x[i] - x[i + n]
            trim[i] = (a * trim[i] + b * trim[i + 1]) / run
            depth[i] = (a * depth[i] + b * depth[i + 1]) / run
    return trim[0], depth[0]


def _between(a: RightingPoint, b: RightingPoint, ya: float, yb: float) -> Radians:
    return a.heel + (b.heel - a.heel) * ya / (ya - yb) if ya != yb else a.heel


def _area(points: Sequence[RightingPoint], vanishing: Radians | None, side: int) -> MetreRadians:
    x = [abs(p.heel - points[0].heel) for p in points if vanishing is None or side * p.heel < side * vanishing]
    y = [side * p.arm for p in points[: len(x)]]
    if vanishing is not None:
        x.append(abs(vanishing - points[0].heel))
        y.append(0.0)
    return float(np.trapezoid(y, x))


@formula("GZ = sin(phi) (GM + BM tan²(phi) / 2)", WALL_SIDED, "until the deck edge or the bilge moves through the surface")
def wall_sided_arm(gm: Metres, bm: Metres, heel: Radians) -> Metres:
    """GZ = sin(heel) (GM + BM tan2(heel) / 2), true until the deck edge or the bilge moves through the surface."""
    return math.sin(heel) * (gm + 0.5 * bm * math.tan(heel) ** 2)
