"""Inclining: a known weight moved across, the angle read, and the height of G from it; and from the time of some rolls.

GM = w d / (W tan(heel)) holds near upright (E. V. Lewis, ed., Principles of Naval Architecture, 2nd rev., vol. I, ch. II,
inclining experiment). On a hull that is known as a mesh nothing need be near: the arm of the boat with G taken at any height,
less what G's true height takes off, balances the weight moved across at any angle.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.formulas import formula
from yarekeel.core.found import Found
from yarekeel.core.parameters import check_parameters, described, flag
from yarekeel.core.quantities import Degrees, Kilograms, Metres, Radians, Ratio, Seconds
from yarekeel.core.sources import PNA_MOTIONS, STATICS
from yarekeel.core.stability.righting import Righted
from yarekeel.core.weights.weigh_in import as_normal

ADDED: tuple[Ratio, Ratio] = (0.10, 0.20)
"""Share by which water that swings along adds to the inertia in roll (from memory; tank tests of ships give 10 to 20 %)."""
CROOKED: Radians = math.radians(0.5)
"""How far off level a sensor is set down by hand, at most (from memory)."""
LEAST_ANGLE: Radians = math.radians(0.1)
MOST_READINGS = 12


@dataclass(frozen=True, slots=True)
class Shift:
    """One step of an inclining test: the weight moved so far to starboard (less than 0: to port) of where it lay at zero, and the
    heel read there, starboard down."""

    moved_m: Metres = described(0.0, "Moved to starboard", "length", -1000, 1000, moves="stays")
    heel_deg: Degrees = described(0.0, "Heel read, starboard down", "degrees", -60, 60)
    practice: bool = flag(False, "Practice: read off a stand-in")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class Incline:
    """What was read at an inclining test and while rolling; None where it was not.

    ``weight_kg`` is aboard and counts in the boat's list; ``angle_deg`` and ``place_m`` are the limits within which angle and
    ruler are read; ``rolls`` full rolls (there and back) took ``time_s``, stopped to within ``time_limit_s``. What is ``practice`` is
    from a stand-in for a sensor and says nothing of the boat.
    """

    weight_kg: Kilograms | None = described(None, "Weight moved", "mass", 1e-6, 1e6)
    shifts: tuple[Shift, ...] = ()
    angle_deg: Degrees = described(0.1, "Angle read to within", "degrees", 0.001, 10)
    place_m: Metres = described(0.001, "Ruler read to within", "length", 1e-5, 1, moves="stays")
    rolls: int = described(10, "Full rolls counted", "count", 1, 1000)
    time_s: Seconds | None = described(None, "Time they took", "seconds", 0.05, 1e5)
    time_limit_s: Seconds = described(0.3, "Watch stopped to within", "seconds", 0.001, 100)
    time_practice: bool = flag(False, "Practice: the time of a stand-in")

    @property
    def is_practice(self) -> bool:
        """Whether any of it is from a stand-in."""
        return (self.time_s is not None and self.time_practice) or any(s.practice for s in self.shifts)

    def __post_init__(self) -> None:
        if len(self.shifts) > MOST_READINGS:
            raise InvalidInput("shifts", f"An inclining test has at most {MOST_READINGS} readings.")
        check_parameters(self)


@formula("T = 2 pi k / sqrt(g GM)", PNA_MOTIONS, "small angles, GM positive")
def roll_period(gyration: Metres, gm: Metres) -> Seconds:
    """T = 2 pi k / sqrt(g GM), k with the water that swings along (Principles of Naval Architecture, 2nd rev., vol. III, ch. VIII).
    Infinite without a positive GM."""
    return 2 * math.pi * gyration / math.sqrt(STANDARD_GRAVITY * gm) if gm > 0 else math.inf


@formula("k' = k sqrt(1 + a)", PNA_MOTIONS, "a small boat: a of 0.1 to 0.2, common practice")
def with_added(gyration: Metres, share: Ratio) -> Metres:
    """Radius of gyration with the inertia grown by a share."""
    return gyration * math.sqrt(1 + share)


def predicted_period(gyration: Metres, gm: Metres, listed: Ratio) -> Found:
    """Period and half width of its band, from the listed inertia with 10 to 20 % of water swinging along; ``listed`` is what the
    list's own doubt makes of it, a share."""
    short, long = (roll_period(with_added(gyration, share), gm) for share in ADDED)
    middle = (short + long) / 2
    return Found(middle, math.hypot((long - short) / 2, middle * listed))


@formula("GM = (2 pi k / T)² / g", PNA_MOTIONS, "small angles")
def gm_from_period(gyration: Found, period: Found) -> Found:
    """GM and half width of its band from a measured period: (2 pi k / T)^2 / g. Slopes by the radius of gyration, by added inertia
    (taken evenly likely between its ends) and by the period (JCGM 100:2008, eq. 10)."""
    middle = sum(ADDED) / 2
    k = with_added(gyration.value, middle)
    gm = (2 * math.pi * k / period.value) ** 2 / STANDARD_GRAVITY
    by_size = 2 * gm * gyration.half_width / gyration.value
    by_added = gm * as_normal((ADDED[1] - ADDED[0]) / 2) / (1 + middle)
    by_time = 2 * gm * period.half_width / period.value
    return Found(gm, math.hypot(by_size, by_added, by_time))


@formula("GM = w d / (W tan(phi))", STATICS, "small angles")
def gm_by_slope(weight: Kilograms, shifts: Sequence[Shift], mass: Kilograms, angle_deg: Degrees, place: Metres) -> Found | None:
    """GM from the slope of moment against tan(heel), by least squares through all readings, so that a sensor set down crooked or a
    boat that leant at the start does no harm; None without two different angles."""
    tans = [math.tan(math.radians(s.heel_deg)) for s in shifts]
    moved = [s.moved_m for s in shifts]
    n = len(shifts)
    if n < 2:
        return None
    mean_t, mean_d = math.fsum(tans) / n, math.fsum(moved) / n
    xx = math.fsum((t - mean_t) ** 2 for t in tans)
    if xx < n * math.tan(LEAST_ANGLE) ** 2 / 4:
        return None
    slope = math.fsum((t - mean_t) * (d - mean_d) for t, d in zip(tans, moved, strict=True)) / xx
    gm = weight * slope / mass
    by_angle = abs(gm) * as_normal(math.radians(angle_deg)) / math.sqrt(xx)
    by_place = weight / mass * as_normal(place) / math.sqrt(xx)
    return Found(gm, math.hypot(by_angle, by_place))


@formula("GZ - dz sin(phi) + dy cos(phi) = w d cos(phi) / W", STATICS, "any angle")
def height_from(boat: Righted, mass: Kilograms, incline: Incline, listed_tcg: Metres) -> tuple[Found, Metres] | None:
    """Height of G over the baseline from all readings of a test, with its band, and how far G lies to port of where the list has
    it; None where there are too few.

    At each reading the hull's arm with the listed G, less what G's true place takes off, is the weight's:
    GZ - dz sin(heel) + dy cos(heel) = w d cos(heel) / W, at any angle and whatever the trim. Least squares in (dz, dy); a sensor
    set down crooked comes out as dy. With readings at one angle alone dy is taken as nothing, and the band holds what the list
    (``listed_tcg``, half width) and a sensor set down by hand leave open of it. ``boat`` is the boat as listed with the weight
    at its place of no shift; liquids aboard are heavier than nothing, so that dz counts for the listed weights alone.
    Raises Unsolved.
    """
    weight = incline.weight_kg
    if weight is None:
        return None
    rows, right = [], []
    for shift in incline.shifts:
        heel = math.radians(shift.heel_deg)
        arm = boat.held(heel, tolerance=1e-9).righting_arm * boat.share
        rows.append((math.sin(heel), -math.cos(heel)))
        right.append(arm - weight * shift.moved_m * math.cos(heel) / mass)
    a, b = np.array(rows).reshape(-1, 2), np.array(right)
    alone = len(a) > 0 and float(np.ptp(a[:, 0])) < math.sin(LEAST_ANGLE)
    if alone:
        a = a[:, :1]
    if not len(a) or float(np.abs(a[:, 0]).max()) < math.sin(LEAST_ANGLE):
        return None
    inverse = np.linalg.pinv(a)
    found = inverse @ b
    dz = float(found[0])
    gm = max(boat.held(0.0).heel_stiffness * boat.share - dz, 0.0)
    each = math.hypot(gm * as_normal(math.radians(incline.angle_deg)), weight / mass * as_normal(incline.place_m))
    band = each * float(np.linalg.norm(inverse[0]))
    if alone:
        unknown = math.hypot(listed_tcg * boat.share, gm * as_normal(CROOKED))
        band = math.hypot(band, unknown * abs(float(inverse[0].sum())))
    off = 0.0 if alone else float(found[1]) / boat.share
    return Found(boat.gravity[2] + dz / boat.share, band / boat.share), off


def with_shift(incline: Incline, shift: Shift) -> Incline:
    """The test with one more reading. Raises InvalidInput where there are too many."""
    return replace(incline, shifts=(*incline.shifts, shift))
