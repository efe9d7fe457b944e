"""Planing on a prismatic vee bottom: Savitsky's equations, and the trim at which such a hull balances.

D. Savitsky, Marine Technology 1 (1964) 71-95. Angles are in degrees where the paper has them so; lift coefficients are on the beam squared.
"""

import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import (
    Degrees,
    Kilograms,
    KilogramsPerCubicMetre,
    Metres,
    MetresPerSecond,
    Newtons,
    Ratio,
    SquareMetresPerSecond,
)
from yarekeel.core.resistance.friction import friction_coefficient
from yarekeel.core.search import root
from yarekeel.core.sources import SAVITSKY_1964

LEAST_TRIM, MOST_TRIM = 0.4, 15.0
"""Degrees between which a balance is looked for; the paper's range begins at 2."""
MOST_WETTED: Ratio = 12.0
CLOSE = 1e-9


@formula("C_v = V / sqrt(g b)", SAVITSKY_1964, "0.60 to 13")
def speed_coefficient(speed: MetresPerSecond, beam: Metres) -> Ratio:
    """Speed over that of a wave as long as the beam makes it."""
    return speed / math.sqrt(STANDARD_GRAVITY * beam)


@formula("C_L0 = tau^1.1 (0.0120 lambda^0.5 + 0.0055 lambda^2.5 / C_v²)", SAVITSKY_1964, "tau 2 to 15°, lambda to 4, C_v 0.60 to 13")
def flat_lift(trim: Degrees, wetted: Ratio, speed: Ratio) -> Ratio:
    """Lift coefficient of a flat bottom: trim, wetted length over beam, speed coefficient."""
    return math.pow(trim, 1.1) * (0.0120 * math.sqrt(wetted) + 0.0055 * math.pow(wetted, 2.5) / speed**2)


@formula("C_Lb = C_L0 - 0.0065 beta C_L0^0.60", SAVITSKY_1964, "deadrise 0 to 30°")
def vee_lift(flat: Ratio, deadrise: Degrees) -> Ratio:
    """Lift coefficient of a vee bottom from a flat one's; nothing where the vee takes all of it."""
    return max(flat - 0.0065 * deadrise * flat**0.60, 0.0) if flat > 0 else 0.0


@formula("C_p = 0.75 - 1 / (5.21 C_v² / lambda² + 2.39)", SAVITSKY_1964, "share of the mean wetted length, ahead of the transom")
def pressure_centre(wetted: Ratio, speed: Ratio) -> Ratio:
    """Where the lift acts."""
    return 0.75 - 1 / (5.21 * speed**2 / wetted**2 + 2.39)


@formula("V_1 = V sqrt(1 - C_Ldb / (lambda cos tau))", SAVITSKY_1964, "mean over the wetted bottom; C_Ldb of its dynamic lift alone")
def bottom_speed(speed: MetresPerSecond, trim: Degrees, wetted: Ratio, deadrise: Degrees) -> MetresPerSecond:
    """Mean speed of the water along the bottom."""
    lift = vee_lift(0.0120 * math.sqrt(wetted) * trim**1.1, deadrise)
    return speed * math.sqrt(max(1 - lift / (wetted * math.cos(math.radians(trim))), 0.0))


@formula("L_k - L_c = b tan beta / (pi tan tau)", SAVITSKY_1964, "a vee bottom whose chine is wet; negative L_c: it is dry")
def wetted_lengths(beam: Metres, deadrise: Degrees, trim: Degrees, wetted: Ratio) -> tuple[Metres, Metres]:
    """Wetted length of the keel and of the chine, from their mean over the beam."""
    apart = beam / math.pi * math.tan(math.radians(deadrise)) / math.tan(math.radians(trim))
    return wetted * beam + apart / 2, wetted * beam - apart / 2


@formula("tau_p = 1.2 + 0.07 beta + (28 + 0.2 beta) sqrt(C_L / 2)", SAVITSKY_1964, "lines through his curves from memory, ±1.5°")
def porpoising_trim(lift: Ratio, deadrise: Degrees) -> Degrees:
    """Trim above which a prismatic hull begins to hop, roughly."""
    return (1.2 + 0.07 * deadrise) + (28.0 + 0.2 * deadrise) * math.sqrt(max(lift, 0.0) / 2)


@dataclass(frozen=True, slots=True)
class PlaningHull:
    """What planes: chine beam, deadrise, and what it carries: mass, centre of gravity ahead of the transom and over the keel, the line of
    thrust's distance below that centre at right angles (less than 0: above) and its tilt to the keel (degrees, pushing up ahead)."""

    beam: Metres
    deadrise: Degrees
    mass: Kilograms
    lcg: Metres
    vcg: Metres
    thrust_below: Metres = 0.0
    thrust_tilt: Degrees = 0.0


@dataclass(frozen=True, slots=True)
class Planing:
    """A balance: trim (degrees), mean wetted length over beam, lift and drag (N), wetted keel and chine, where the lift acts, and the
    moment that is left over (N m)."""

    trim: Degrees
    wetted: Ratio
    lift: Newtons
    drag: Newtons
    friction: Newtons
    pressure: Newtons
    keel: Metres
    chine: Metres
    centre: Metres
    lift_coefficient: Ratio
    residual: float


def planing_at(
    hull: PlaningHull, speed: MetresPerSecond, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond
) -> Planing | None:
    """The trim at which the hull balances on its bottom at a speed; None where no trim from 0.4 to 15° does, or the bottom cannot carry
    it. The balance is his equation 35, every force at its own line."""
    trims = np.linspace(LEAST_TRIM, MOST_TRIM, 30).tolist()
    before: tuple[float, float] | None = None
    for trim in trims:
        found = _carried(hull, trim, speed, density, viscosity)
        if found is None:
            before = None
            continue
        if before is not None and (before[1] > 0) != (found.residual > 0):

            def miss(t: float) -> float:
                one = _carried(hull, t, speed, density, viscosity)
                return one.residual if one is not None else math.nan

            at = root(miss, before[0], trim, CLOSE)
            return _carried(hull, at, speed, density, viscosity) if at is not None else None
        before = (trim, found.residual)
    return None


def _carried(
    hull: PlaningHull, trim: Degrees, speed: MetresPerSecond, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond
) -> Planing | None:
    """The wetted length that carries the weight at a trim, and what moment is left; None where none does."""
    weight = hull.mass * STANDARD_GRAVITY
    cv = speed_coefficient(speed, hull.beam)
    wanted = weight / (density / 2 * speed**2 * hull.beam**2)

    def spare(wetted: float) -> float:
        return vee_lift(flat_lift(trim, wetted, cv), hull.deadrise) - wanted

    if spare(MOST_WETTED) < 0:
        return None
    wetted = root(spare, 1e-4, MOST_WETTED, CLOSE)
    if wetted is None:
        return None
    tau = math.radians(trim)
    along = bottom_speed(speed, trim, wetted, hull.deadrise)
    area = wetted * hull.beam**2 / math.cos(math.radians(hull.deadrise))
    friction = density / 2 * along**2 * area * friction_coefficient(max(along * wetted * hull.beam / viscosity, 1e4))
    pressure = weight * math.tan(tau)
    drag = pressure + friction / math.cos(tau)
    centre = pressure_centre(wetted, cv) * wetted * hull.beam
    arm = hull.lcg - centre
    friction_arm = hull.vcg - hull.beam / 4 * math.tan(math.radians(hull.deadrise))
    lean = tau + math.radians(hull.thrust_tilt)
    left = weight * ((1 - math.sin(tau) * math.sin(lean)) * arm / math.cos(tau) - hull.thrust_below * math.sin(tau))
    left += friction * (friction_arm - hull.thrust_below)
    keel, chine = wetted_lengths(hull.beam, hull.deadrise, trim, wetted)
    return Planing(
        trim=trim,
        wetted=wetted,
        lift=weight,
        drag=drag,
        friction=friction / math.cos(tau),
        pressure=pressure,
        keel=keel,
        chine=chine,
        centre=centre,
        lift_coefficient=wanted,
        residual=left,
    )
