"""What holds a boat back at masses and places of G near its own, on a day with wind and over a depth, quickly: the whole curve is worked
out for one boat in the middle, and those around it at a few speeds each, as a share of it."""

import dataclasses
import math

import numpy as np

from yarekeel.core.errors import NoRest, YareKeelError
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Floats, Kilograms, Metres, MetresPerSecond, Point, Ratio
from yarekeel.core.running.balance import Balanced, balanced
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.running.boat import underway_of
from yarekeel.stages.running.resistance import Resistance, fastest_of, resistance_of
from yarekeel.stages.trials.weather import CALM, Weather

MASS_STEP, PLACE_STEP = 0.06, 0.02
"""Between the masses (as a share) and the places of G along the boat (of its length) that resistance is worked out at."""
MOST_NODES = 4
"""Steps either way."""
SPEEDS = 240
BESIDE, LEAST_BESIDE = 30, 3
"""Speeds at which a boat beside the middle one is balanced, and of how many there must be a balance."""
FEW, AROUND, NEAR = 10, 5, 0.25
"""The same where it is known at which speeds it ran: so many over the whole curve, and so many within a share of each of these."""
MANY, MANY_AROUND, MOSTLY = 24, 9, 0.8
"""The same of the boat in the middle, and the share of them that must have a balance."""
MOST_ABOUT = 3
"""Of these speeds: more are the whole curve."""
SAME: Ratio = 1e-9
"""Of mass and depth: nearer to the list it is the boat as it is."""
Place = tuple[Kilograms, Point]
"""A mass and where its centre is."""


class Holding:
    """Resistance of a boat and of those near it. ``around`` is mass over the listed one and shifts of the centre (in lengths, breadths,
    depths) that it is worked out near."""

    def __init__(self, craft: Craft, weather: Weather = CALM, about: tuple[MetresPerSecond, ...] = ()) -> None:
        self.craft, self.weather = craft, weather
        self.about = about if len(about) <= MOST_ABOUT else ()
        low, high = craft.hull.mesh.bounds
        self.size = high - low
        self.around: tuple[float, ...] = (1.0, 0.0, 0.0, 0.0)

    def near(self, mass: Kilograms, centre: Floats) -> None:
        """Work resistance out near these, rounded so that fits of much the same boat share their curves."""
        total = self.craft.total
        shifts = (centre - np.array(total.centre)) / self.size
        self.around = (round(mass / total.mass, 2), *(round(float(v), 2) for v in shifts))

    def at(self, mass: Kilograms, x: Metres) -> tuple[Floats, Floats]:
        """Speeds and the resistance there of so heavy a boat with G at ``x``, straight between those some way apart. Raises NoRest for a
        boat that does not run level enough."""
        total = self.craft.total
        heavier = float(np.clip((mass / total.mass - self.around[0]) / MASS_STEP, -MOST_NODES, MOST_NODES))
        ahead = float(np.clip(((x - total.centre[0]) / self.size[0] - self.around[1]) / PLACE_STEP, -MOST_NODES, MOST_NODES))
        low_m, low_p = math.floor(heavier), math.floor(ahead)
        drag, shares = np.zeros(SPEEDS), 0.0
        for i, share_m in ((low_m, low_m + 1 - heavier), (low_m + 1, heavier - low_m)):
            for j, share_p in ((low_p, low_p + 1 - ahead), (low_p + 1, ahead - low_p)):
                node = held(self.craft, self._place(0, 0), self._place(i, j), self.weather, self.about) if share_m * share_p > 0 else None
                if node is not None:
                    drag, shares = drag + share_m * share_p * node, shares + share_m * share_p
        if shares <= 0:
            raise NoRest("It does not run level enough.")
        return speeds_of(self.craft), drag / shares

    def _place(self, i: int, j: int) -> Place:
        total = self.craft.total
        off = (self.around[1] + j * PLACE_STEP, *self.around[2:])
        x, y, z = (float(total.centre[k] + off[k] * self.size[k]) for k in range(3))
        return float(total.mass) * (self.around[0] + i * MASS_STEP), (x, y, z)


@kept
def speeds_of(craft: Craft) -> Floats:
    """Speeds (240,) from 0 to as far as the listed boat's curve goes. Raises NoRest for one that does not run level enough."""
    still = underway_of(craft)
    if still is None:
        raise NoRest("It does not run level enough.")
    return np.linspace(0.0, fastest_of(still), SPEEDS)


def moved_list(design: Design, listed: Place, mass: Kilograms, centre: Point) -> Design:
    """The boat with every weight heavier by one factor and moved alike, so that together they weigh ``mass`` at ``centre``."""
    factor = mass / listed[0]
    by = [centre[k] - listed[1][k] for k in range(3)]
    lines = tuple(
        dataclasses.replace(
            w, mass_kg=w.mass_kg * factor, at_m=(w.at_m[0] + by[0], w.at_m[1] + by[1], w.at_m[2] + by[2]), recipe=None, pair=False
        )
        for w in design.weights
    )
    return dataclasses.replace(design, weights=lines)


def _moved(craft: Craft, to: Place) -> Craft:
    total = craft.total
    if math.isclose(to[0], total.mass, rel_tol=SAME) and math.dist(to[1], total.centre) <= SAME * craft.hull.depth:
        return craft
    there = dataclasses.replace(craft.design, weights=craft.acting, cases=(), case="")
    return Craft(moved_list(there, (total.mass, total.centre), *to))


@kept
def _curves(craft: Craft, to: Place, weather: Weather, about: tuple[MetresPerSecond, ...]) -> tuple[Resistance, ...]:
    """Of the boat at another mass and centre, one for each way of the wind: as the listed boat's, in the shares at some speeds, where it
    is known ``about`` which it ran; none where it does not run level enough."""
    try:
        moved = _moved(craft, to)
        if about and moved is not craft:
            listed = [resistance_of(craft, wind, depth=weather.depth) for wind in weather.winds]
            near = [_as_beside(moved, curve, about) for curve in listed if curve is not None]
            if len(near) == len(listed) and None not in near:
                return tuple(n for n in near if n is not None)
        found = [resistance_of(moved, wind, depth=weather.depth) for wind in weather.winds]
    except YareKeelError:
        return ()
    return () if None in found else tuple(f for f in found if f is not None)


@kept
def held(craft: Craft, middle: Place, to: Place, weather: Weather, about: tuple[MetresPerSecond, ...] = ()) -> Floats | None:
    """Resistance of the boat at another mass and centre at the speeds of ``speeds_of``, by that of one in the middle, most surely
    ``about`` some speeds; None where it does not run level enough."""
    speeds, curves = speeds_of(craft), _curves(craft, middle, weather, about)
    if not curves:
        curves, middle = _curves(craft, to, weather, about), to
    if not curves:
        return None
    shares = [np.ones(speeds.shape)] * len(curves) if to == middle else _shares(craft, curves, to, speeds, about)
    if shares is None:
        return None
    return np.asarray(sum(curve.at(speeds) * share for curve, share in zip(curves, shares, strict=True)) / len(curves))


def _shares(
    craft: Craft, curves: tuple[Resistance, ...], to: Place, speeds: Floats, about: tuple[MetresPerSecond, ...]
) -> list[Floats] | None:
    """For each curve, what the boat at another mass and centre holds back as a share of it, straight between a few speeds."""
    out = []
    try:
        moved = _moved(craft, to)
        for curve in curves:
            beside = _beside(moved, curve, _picked(curve, about, FEW if about else BESIDE, AROUND))
            if len(beside) < LEAST_BESIDE:
                return None
            out.append(np.interp(speeds, [b.speed for b, _ in beside], [one.resistance / b.resistance for b, one in beside]))
    except YareKeelError:
        return None
    return out


def _as_beside(moved: Craft, curve: Resistance, about: tuple[MetresPerSecond, ...]) -> Resistance | None:
    """The curve of a boat like that of another curve; None where it has too few balances beside that one's."""
    picked = _picked(curve, about, MANY, MANY_AROUND)
    beside = _beside(moved, curve, picked)
    if len(beside) < MOSTLY * len(picked):
        return None
    share = np.interp(curve.speeds, [b.speed for b, _ in beside], [one.resistance / b.resistance for b, one in beside])
    known = {b.speed: one for b, one in beside}
    balances = tuple(known.get(float(v)) for v in curve.speeds)
    return dataclasses.replace(curve, newtons=curve.newtons * share, band=curve.band * share, balances=balances, findings=())


def _beside(moved: Craft, curve: Resistance, picked: list[Balanced]) -> list[tuple[Balanced, Balanced]]:
    """Balances of a curve, each with that of another boat at its speed, sought from where it lies."""
    deep = math.isinf(curve.boat.depth)
    still = underway_of(moved, tuple(b.speed for b in picked) if deep else ())
    if still is None:
        return []
    boat = dataclasses.replace(still, wind=curve.boat.wind, depth=curve.boat.depth)
    return [(b, one) for b in picked if b.resistance > 0 and (one := balanced(boat, b.speed, b.attitude, b.slopes)) is not None]


def _picked(curve: Resistance, about: tuple[MetresPerSecond, ...], count: int, around: int) -> list[Balanced]:
    """Of the balances along a curve some that tell it: half of them evenly apart, half by how much it bends between (at a hump, or where
    wings lift it); and more about the speeds that are asked of."""
    known = [b for b in curve.balances if b is not None and b.speed > 0]
    if len(known) <= count:
        return known
    bends = np.abs(np.diff(np.log([max(b.resistance, 1e-12) for b in known]), 2))
    so_far = np.concatenate([[0.0], np.cumsum(bends), [bends.sum()]]) / max(float(bends.sum()), 1e-12)
    reached = (so_far + np.linspace(0.0, 1.0, len(known))) / 2
    picked = {int(k) for k in np.searchsorted(reached, np.linspace(0.0, reached[-1], count))}
    at = np.array([b.speed for b in known])
    for speed in about:
        beside = np.linspace((1 - NEAR) * speed, (1 + NEAR) * speed, around)
        picked |= {int(np.abs(at - v).argmin()) for v in beside if v < at[-1]}
    return [known[k] for k in sorted(picked)]
