"""Momentum theory: the least power that a pull costs, for an open disk and for a duct or jet, standing still and under way.

``merit`` is the share of the shaft's power that goes into the stream (the figure of merit, before the exponent).
"""

import math

from yarekeel.core.formulas import formula
from yarekeel.core.quantities import KilogramsPerCubicMetre, Metres, MetresPerSecond, Newtons, Ratio, SquareMetres, Watts
from yarekeel.core.search import root
from yarekeel.core.sources import RANKINE_FROUDE

CLOSE = 1e-12


@formula("A = pi D² / 4", RANKINE_FROUDE, "any disk")
def disk_area(diameter: Metres) -> SquareMetres:
    """Area that a propeller sweeps."""
    return math.pi / 4 * diameter**2


@formula("T = (2 rho A (eta P)²)^(1/3)", RANKINE_FROUDE, "open disk standing still")
def static_pull(power: Watts, area: SquareMetres, density: KilogramsPerCubicMetre, merit: Ratio = 1.0) -> Newtons:
    """Pull of an open disk from rest."""
    return float((2 * density * area * (merit * power) ** 2) ** (1 / 3))


@formula("T = (4 rho A_e (eta P)²)^(1/3)", RANKINE_FROUDE, "duct or jet standing still, its stream leaving straight at the exit's area")
def static_duct_pull(power: Watts, exit_area: SquareMetres, density: KilogramsPerCubicMetre, merit: Ratio = 1.0) -> Newtons:
    """Pull of a duct or jet from rest."""
    return float((4 * density * exit_area * (merit * power) ** 2) ** (1 / 3))


@formula("eta P = T (V + w), T = 2 rho A (V + w) w", RANKINE_FROUDE, "open disk moving along its axis")
def pull(power: Watts, area: SquareMetres, density: KilogramsPerCubicMetre, speed: MetresPerSecond, merit: Ratio = 1.0) -> Newtons:
    """Pull of an open disk at a speed through still water or air; ``speed`` 0 or more."""
    most = static_pull(power, area, density, merit) / math.sqrt(2 * density * area * static_pull(power, area, density, merit) or 1.0)
    wash = root(lambda w: 2 * density * area * (speed + w) ** 2 * w - merit * power, 0.0, max(most, 0.0), CLOSE) if power > 0 else 0.0
    wash = most if wash is None else wash
    return 2 * density * area * (speed + wash) * wash


@formula("eta P = rho A_e V_j (V_j² - V²) / 2, T = rho A_e V_j (V_j - V)", RANKINE_FROUDE, "duct or jet moving along its axis")
def duct_pull(
    power: Watts, exit_area: SquareMetres, density: KilogramsPerCubicMetre, speed: MetresPerSecond, merit: Ratio = 1.0
) -> Newtons:
    """Pull of a duct or jet at a speed; ``speed`` 0 or more."""
    if power <= 0:
        return 0.0
    least = (2 * merit * power / (density * exit_area)) ** (1 / 3)
    jet = root(lambda v: density * exit_area * v * (v * v - speed * speed) / 2 - merit * power, speed, speed + least, CLOSE)
    jet = least if jet is None else jet
    return density * exit_area * jet * (jet - speed)


@formula("eta_i = 2 / (1 + sqrt(1 + C_T)), C_T = T / (rho A V² / 2)", RANKINE_FROUDE, "open disk; the best that any propeller can reach")
def ideal_efficiency(pulled: Newtons, area: SquareMetres, density: KilogramsPerCubicMetre, speed: MetresPerSecond) -> Ratio:
    """Useful power over power for a pull at a speed; 0 standing still."""
    pressure = density * area * speed**2 / 2
    return 2 / (1 + math.sqrt(1 + pulled / pressure)) if pressure > 0 else 0.0


@formula("M = T^(3/2) / (sqrt(2 rho A) P)", RANKINE_FROUDE, "open disk standing still")
def figure_of_merit(pulled: Newtons, power: Watts, area: SquareMetres, density: KilogramsPerCubicMetre) -> Ratio:
    """The least power that a pull from rest costs over what it did cost; 1 is the best there is."""
    return float(pulled**1.5 / (math.sqrt(2 * density * area) * power))


@formula("V_p = p n", RANKINE_FROUDE, "a screw that does not slip")
def pitch_speed(pitch: Metres, turns: Ratio) -> MetresPerSecond:
    """Speed at which a propeller of that pitch, at ``turns`` a second, would no longer push."""
    return pitch * turns


@formula("V_j = sqrt(T / (rho A_e))", RANKINE_FROUDE, "duct or jet standing still")
def jet_speed(pulled: Newtons, exit_area: SquareMetres, density: KilogramsPerCubicMetre) -> MetresPerSecond:
    """Speed of the stream that leaves a duct or jet at rest."""
    return math.sqrt(pulled / (density * exit_area))
