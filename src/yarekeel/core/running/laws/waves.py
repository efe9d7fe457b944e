"""Waves, by Michell's integral on the hull as it floats at rest."""

import math
from functools import lru_cache

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import CubicMetres, Floats, KilogramsPerCubicMetre, Metres, MetresPerSecond, Newtons, Ratio, SquareMetres
from yarekeel.core.resistance.rough import rough_hump, slenderness
from yarekeel.core.resistance.shallow import CRITICAL, deep_speed, depth_froude, speed_lost
from yarekeel.core.running.floating import floating_share, volume_share
from yarekeel.core.running.forces import Force, Law, State, Underway
from yarekeel.core.sources import COMMON_PRACTICE, LACKENBY_1963, MICHELL_1898

Bodies = tuple[tuple[CubicMetres, Metres], ...]
SLENDER: Ratio = 6.0
"""Length over the cube root of the volume from which the integral is made for; its band widens below."""
BAND, WIDE = 0.35, 0.7
SLOW_COEFFICIENT: Ratio = 1e-4
"""Wave resistance coefficient on the wetted surface at Fn 0.1."""
FELT: Ratio = 0.6
"""Depth Froude number from which the bottom is felt (common practice: 0.5 to 0.7)."""


@formula("s = (6 - L / nabla^(1/3)) / 2, between 0 and 1", COMMON_PRACTICE, "0: Michell alone; 1: the rough hump alone")
def stoutness(waterline: Metres, volume: CubicMetres) -> Ratio:
    """How far a hull is from the slender one that Michell's integral is for: that share of its waves is a rough hump's."""
    return min(max((SLENDER - slenderness(waterline, volume)) / 2.0, 0.0), 1.0)


def stoutness_of(bodies: Bodies) -> Ratio:
    """The same of several hulls: each by itself, by its share of the volume."""
    return sum(v * stoutness(length, v) for v, length in bodies) / sum(v for v, _ in bodies)


@formula("R_w <= ½ rho U² S 1e-4 (Fn / 0.1)^5", COMMON_PRACTICE, "Fn to 0.25: at 0.1 waves are a few hundredths of friction")
def most_when_slow(speeds: Floats, waterline: Metres, wetted: SquareMetres, density: KilogramsPerCubicMetre) -> Floats:
    """The most wave resistance (n,) in N that a hull has at low speeds (n,) in m/s, by its wetted surface. Blunt ends send Michell's
    integral far more, for which it is not made; by Fn 0.25 it is more than any hull has."""
    froude = speeds / math.sqrt(STANDARD_GRAVITY * waterline)
    return np.asarray(0.5 * density * speeds**2 * wetted * SLOW_COEFFICIENT * (froude / 0.1) ** 5)


def waves_of(michell: Floats, bodies: Bodies, wetted: SquareMetres, speeds: Floats, density: KilogramsPerCubicMetre) -> Floats:
    """Wave resistance (n,) in N at speeds (n,) in m/s: Michell's of all hulls with their interference, and the rough hump of each that is
    stout, by itself; at low speed no more than a hull has there."""
    hump = sum((stoutness(length, v) * rough_hump(speeds, length, v, density) for v, length in bodies), np.zeros(speeds.shape))
    return np.minimum((1 - stoutness_of(bodies)) * michell + hump, most_when_slow(speeds, bodies[0][1], wetted, density))


def _bodies(boat: Underway) -> Bodies:
    return boat.bodies or ((boat.volume, boat.waterline),)


def band_of(boat: Underway) -> Ratio:
    """Half the width of the 95 % band as a share: wider for stout hulls."""
    return BAND + stoutness_of(_bodies(boat)) * (WIDE - BAND)


def band_at(boat: Underway, speed: MetresPerSecond) -> Ratio:
    """The same at a speed: widest near the speed of the fastest wave that the depth carries."""
    return WIDE if depth_froude(speed, boat.depth) > CRITICAL else band_of(boat)


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Back, at the middle of the wetted surface."""
    if state.speed <= 0:
        return ()
    whole, band = _afloat(boat, state.speed)
    share = floating_share(boat, state) * volume_share(boat, state) ** 2  # waves go by the square of what makes them
    return (Force("wave", (-share * whole, 0.0, 0.0), boat.wet_at, band, MICHELL_1898),)


@lru_cache(maxsize=4)
def _afloat(boat: Underway, speed: MetresPerSecond) -> tuple[Newtons, Ratio]:
    """Of the hull as it floats at rest, and the band: a balance asks for one speed at many attitudes."""
    return boat.wave(deep_speed(speed, boat.midship, boat.depth)), band_at(boat, speed)


def findings(boat: Underway, speeds: Floats) -> tuple[Finding, ...]:
    """Where the hull is not slender, and where the water is shallow for its speed."""
    return (*_stout(boat), *_shallow(boat, speeds))


def _shallow(boat: Underway, speeds: Floats) -> tuple[Finding, ...]:
    fastest = float(speeds[-1])
    if not math.isfinite(boat.depth) or depth_froude(fastest, boat.depth) < FELT:
        return ()
    critical = CRITICAL * fastest / depth_froude(fastest, boat.depth)
    values: dict[str, float | str] = {"depth": boat.depth, "speed": critical, "lost": speed_lost(critical, boat.midship, boat.depth)}
    text = "In water {depth:length} deep it loses {lost:percent} of its speed there; faster it drives its own wave: a wide band."
    ways = (Remedy("Test in deeper water"),)
    return (Finding("underway.shallow", "near", "Shallow for more than {speed:speed}", text, LACKENBY_1963, values, ways),)


def _stout(boat: Underway) -> tuple[Finding, ...]:
    volume, length = _bodies(boat)[0]
    slender = slenderness(length, volume)
    if slender >= SLENDER:
        return ()
    values: dict[str, float | str] = {"slender": slender, "least": SLENDER, "band": band_of(boat)}
    text = "Its length is {slender:ratio} cube roots of its volume; from {least:ratio} down a rough hump is mixed in: ±{band:percent}."
    return (Finding("underway.stout", "near", "A stout hull for the law of its waves", text, MICHELL_1898, values),)


LAW = Law(3, forces, findings)
