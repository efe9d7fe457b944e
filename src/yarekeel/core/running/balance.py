"""The balance of a boat that runs straight ahead at a steady speed: sinkage and trim at which all forces and moments cancel.

The drive pulls along its line by as much as everything else holds back, so that a speed is balanced whether the drive reaches it or not.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.quantities import Floats, Metres, MetresPerSecond, NewtonMetres, Newtons, Point, Radians, Ratio
from yarekeel.core.running.forces import Force, State, Underway
from yarekeel.core.running.laws import LAWS
from yarekeel.core.running.laws.planing import LEAST_TRIM
from yarekeel.core.running.regime import planing_share
from yarekeel.core.sources import STATICS

CLOSE, ENOUGH = 1e-7, 5e-7
"""Of the weight, and of the weight times the waterline: what a balance is sought to, and what it is off by at most."""
MOST_STEPS = 24
HOPEFUL, FAR_OFF = 6, 0.01
"""Steps after which one that is still off by so much of the weight leads nowhere."""
MOST_TURN: Radians = math.radians(4.0)
"""In one step."""
TRIED: tuple[Radians, ...] = tuple(math.radians(a) for a in (2.0, 4.0, 6.5, 9.0))
"""Bows lifted by so much are begun from where the attitude before leads nowhere."""
LOST = 2
"""Speeds in a row without a balance, from which fewer attitudes are begun from."""
HALF: Ratio = 0.5
INERTIA: Ratio = 0.25
"""Radius of inertia in pitch over the waterline (common practice: 0.22 to 0.28)."""
FAR: Radians = math.radians(35.0)


@dataclass(frozen=True, slots=True, eq=False)
class Balanced:
    """A balance: its attitude, every force (thrust among them), resistance and half its 95 % band, and what is left over (of the weight,
    and of the weight times the waterline)."""

    speed: MetresPerSecond
    attitude: Attitude
    forces: tuple[Force, ...]
    resistance: Newtons
    band: Newtons
    residual: Ratio
    slopes: Floats | None = None
    """How what is left over grows there (2, 2), as ``slopes_at`` gives it, about: the search for the next balance begins with them."""
    steady: bool = True
    """Whether it comes back here when lifted or pitched a little; told for boats on planing surfaces or wings."""

    def part(self, name: str) -> Newtons:
        """What a part holds back."""
        return 0.0 - math.fsum(f.newtons[0] for f in self.forces if f.part == name)


def forces_at(boat: Underway, state: State) -> tuple[Force, ...]:
    """Every force but the thrust; what holds back by as much more or less as a trial found."""
    found = tuple(f for law in LAWS for f in law.forces(boat, state))
    if boat.drag_factor == 1.0:
        return found
    k = boat.drag_factor
    return tuple(f if f.part == "tow" else replace(f, newtons=(k * f.newtons[0], f.newtons[1], f.newtons[2])) for f in found)


def thrust_for(boat: Underway, state: State, resistance: Newtons) -> Force:
    """The thrust along its line that makes up for what holds back."""
    rows = state.attitude.rows
    ahead, up = (sum(r * v for r, v in zip(rows[k], boat.thrust_along, strict=True)) for k in (0, 2))
    pull = resistance / ahead if abs(ahead) > 1e-6 else 0.0
    return Force("thrust", (pull * ahead, 0.0, pull * up), boat.thrust_at, 0.0, STATICS)


def moment_of(boat: Underway, attitude: Attitude, force: Force) -> NewtonMetres:
    """About the centre of gravity, bow up positive, in the world's upright plane."""
    return next(_moments(boat, attitude, (force,)))


def _moments(boat: Underway, attitude: Attitude, forces: tuple[Force, ...]) -> Iterator[NewtonMetres]:
    (ax, ay, az), _, (ux, uy, uz) = attitude.rows
    gx, gy, gz = boat.gravity
    for f in forces:
        px, py, pz = f.at
        x = ax * (px - gx) + ay * (py - gy) + az * (pz - gz)
        z = ux * (px - gx) + uy * (py - gy) + uz * (pz - gz)
        yield x * f.newtons[2] - z * f.newtons[0]


def _summed(boat: Underway, state: State) -> tuple[tuple[Force, ...], Newtons, Floats]:
    forces = forces_at(boat, state)
    held = 0.0 - math.fsum(f.newtons[0] for f in forces)
    everything = (*forces, thrust_for(boat, state, held))
    weight = boat.mass * STANDARD_GRAVITY
    lift = math.fsum(f.newtons[2] for f in everything) / weight
    turn = math.fsum(_moments(boat, state.attitude, everything)) / (weight * boat.waterline)
    return everything, held, np.array([lift, turn])


def balanced(boat: Underway, speed: MetresPerSecond, start: Attitude | None = None, slopes: Floats | None = None) -> Balanced | None:
    """The balance at a speed from an attitude to begin with, the rest's where none is given, and from ``slopes`` (2, 2) if some are known
    from nearby (``slopes_at``); None where none is found within 35°."""
    begin = start or boat.rest
    size = boat.waterline

    def at(x: Floats) -> tuple[tuple[Force, ...], Newtons, Floats]:
        return _summed(boat, State(speed, Attitude(begin.heel, float(x[1]), float(x[0]) * size)))

    x = np.array([_height(boat, begin) / size, begin.trim])

    def placed(v: Floats) -> Floats:
        # the unknowns are the height of G and the trim: those hardly couple
        attitude = Attitude(begin.heel, float(v[1]), 0.0)
        return np.array([v[0] - attitude.height_of(boat.gravity) / size, v[1]])

    forces, held, miss = at(placed(x))
    known = slopes
    for tried in range(MOST_STEPS):
        off = float(np.abs(miss).max())
        if off <= CLOSE:
            break
        if tried >= HOPEFUL and off > FAR_OFF:
            return None
        if slopes is None:
            columns = []
            for k, step in enumerate((1e-6, 1e-6)):
                moved = x.copy()
                moved[k] += step
                columns.append((at(placed(moved))[2] - miss) / step)
            known = slopes = np.column_stack(columns)
        try:
            by = -np.linalg.solve(slopes, miss)
        except np.linalg.LinAlgError:
            return None
        by *= min(1.0, MOST_TURN / max(abs(by[1]), 1e-12), 0.05 / max(abs(by[0]), 1e-12))
        now = x + by
        new_forces, new_held, new_miss = at(placed(now))
        halvings = 0
        while float(np.abs(new_miss).max()) > 1.5 * off and halvings < 6:
            by, halvings = by / 2, halvings + 1
            now = x + by
            new_forces, new_held, new_miss = at(placed(now))
        change = new_miss - miss
        # Broyden's update; the slopes are made anew where it hardly helped
        slopes = slopes + np.outer(change - slopes @ by, by) / float(by @ by) if float(np.abs(new_miss).max()) < 0.3 * off else None
        x, forces, held, miss = now, new_forces, new_held, new_miss
        if abs(x[1]) > FAR:
            return None
    v = placed(x)
    attitude = Attitude(begin.heel, float(v[1]), float(v[0]) * size)
    if float(np.abs(miss).max()) > ENOUGH or is_dug_in(boat, State(speed, attitude)):
        return None
    band = math.sqrt(math.fsum((f.band * f.newtons[0]) ** 2 for f in forces))
    return Balanced(
        speed=speed,
        attitude=attitude,
        forces=forces,
        resistance=held,
        band=band,
        residual=float(np.abs(miss).max()),
        slopes=known if slopes is None else slopes,
    )


def is_dug_in(boat: Underway, state: State) -> bool:
    """Whether every planing surface that is in the water lies flatter than its law knows: a bow that is held down so digs in, and no
    balance there counts."""
    if planing_share(state.speed, boat.volume) < HALF:
        return False
    wet = [p.slope for p in boat.pads if state.attitude.height_of(p.keel) < 0]
    return bool(wet) and math.degrees(state.attitude.trim) + max(wet) < LEAST_TRIM


def is_steady(boat: Underway, slopes: Floats) -> bool:
    """Whether a boat at a balance of these slopes (``slopes_at``) comes back to it when it is lifted or pitched a little: both roots of its
    heave and pitch, with an inertia of a quarter of its waterline about G, on the side that dies away (no damping counted)."""
    # accelerations: lift over mass in waterlines, turning over the inertia
    rates = slopes * np.array([[1.0], [1 / INERTIA**2]]) * (STANDARD_GRAVITY / boat.waterline)
    roots = np.linalg.eigvals(rates)
    return bool((roots.real < 0).all())


def slopes_at(boat: Underway, b: Balanced) -> Floats:
    """How lift over weight and moment over weight times waterline (rows) grow with the height of G in waterlines and with the trim in
    radians (columns), at a balance."""
    size = boat.waterline
    height, trim = b.attitude.height_of(boat.gravity), b.attitude.trim
    step = 1e-4

    def miss(up: Metres, turn: Radians) -> Floats:
        tilted = Attitude(b.attitude.heel, trim + turn, 0.0)
        there = Attitude(b.attitude.heel, trim + turn, height + up - tilted.height_of(boat.gravity))
        return _summed(boat, State(b.speed, there))[2]

    # at a balance nothing is left over, so that one step each way is enough
    return np.column_stack([miss(step * size, 0.0) / step, miss(0.0, step) / step])


def _height(boat: Underway, attitude: Attitude) -> Metres:
    return attitude.height_of(boat.gravity)


def over_speeds(boat: Underway, speeds: Floats) -> tuple[Balanced | None, ...]:
    """The balance at rising speeds (n,), each begun from the one before; None where none is found. Where planing surfaces or wings carry
    it there can be several: one that it comes back to goes before one that it does not."""
    out: list[Balanced | None] = []
    start: Attitude | None = None
    last: list[Attitude] = []
    slopes: Floats | None = None
    doubtful, lost = bool(boat.pads or boat.foils), 0
    for speed in speeds.tolist():
        found = None
        tried = TRIED if lost < LOST else TRIED[1:2]  # where several speeds had none the next has hardly one
        for begin in (_onward(last), start, boat.rest, *(_lifted(boat, t) for t in tried)):
            one = balanced(boat, speed, begin, slopes) if begin is not None else None
            slopes = one.slopes if one is not None else None
            if one is not None and doubtful and speed > 0:
                one = replace(one, steady=is_steady(boat, slopes_at(boat, one)))
            if one is not None and (found is None or one.steady):
                found = one
            if found is not None and found.steady:
                break
        out.append(found)
        lost = 0 if found is not None else lost + 1
        start = found.attitude if found is not None else None
        last = [*last[-2:], start] if start is not None else []
    return tuple(out)


def _onward(last: list[Attitude]) -> Attitude | None:
    """Where the next of evenly rising speeds is begun from: on the line through the last two attitudes, or the parabola through three."""
    if len(last) < 2:
        return None
    weights = (1.0, -3.0, 3.0) if len(last) > 2 else (-1.0, 2.0)
    trim = math.fsum(w * a.trim for w, a in zip(weights, last, strict=True))
    height = math.fsum(w * a.origin_height for w, a in zip(weights, last, strict=True))
    return Attitude(last[-1].heel, trim, height)


def _lifted(boat: Underway, by: Radians) -> Attitude:
    """The attitude at rest with the bow lifted about the centre of gravity."""
    height = boat.rest.height_of(boat.gravity)
    turned = Attitude(boat.rest.heel, boat.rest.trim + by, 0.0)
    return Attitude(boat.rest.heel, boat.rest.trim + by, height - turned.height_of(boat.gravity))


def point_in_world(attitude: Attitude, point: Point) -> tuple[Metres, Metres]:
    """How far ahead of the boat's origin and how high over the surface a point of the boat lies."""
    rows = attitude.rows
    return sum(r * v for r, v in zip(rows[0], point, strict=True)), attitude.height_of(point)
