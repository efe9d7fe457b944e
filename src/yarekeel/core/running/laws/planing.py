"""Lift, friction and pressure drag of a planing bottom, by Savitsky's equations at the attitude that it has."""

import math

import numpy as np

from yarekeel.core.findings import Finding
from yarekeel.core.quantities import Floats, Metres, Ratio
from yarekeel.core.resistance.friction import friction_coefficient
from yarekeel.core.resistance.planing import bottom_speed, flat_lift, pressure_centre, speed_coefficient, vee_lift
from yarekeel.core.running.forces import Force, Law, State, Underway
from yarekeel.core.running.regime import planing_share
from yarekeel.core.sources import COMMON_PRACTICE, SAVITSKY_1964

LEAST_TRIM = 0.5
"""Degrees; a flatter bottom has no length that the equations know."""
LONGEST: Ratio = 6.0
"""Beams of wetted length beyond which the bottom is not a prism any more."""
BAND, BLEND = 0.15, 0.4


def wetted_of(boat: Underway, state: State) -> tuple[float, Ratio] | None:
    """Trim of the bottom in degrees and its mean wetted length over the beam; None where nothing of it is wet."""
    bottom = boat.bottom
    assert bottom is not None
    trim = max(math.degrees(state.attitude.trim) + bottom.slope, LEAST_TRIM)
    depth: Metres = -state.attitude.height_of(bottom.keel)
    tan = math.tan(math.radians(trim))
    keel = depth / math.sin(math.radians(trim))
    wetted = keel / bottom.beam - math.tan(math.radians(bottom.deadrise)) / (2 * math.pi * tan)
    return (trim, min(wetted, LONGEST)) if wetted > 1e-3 else None


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Lift at right angles to the bottom's trim, friction along it; nothing for a boat that does not plane or is too slow."""
    share = planing_share(state.speed, boat.volume)
    if boat.bottom is None or share <= 0:
        return ()
    found = wetted_of(boat, state)
    if found is None:
        return ()
    trim, wetted = found
    b = boat.bottom
    cv = speed_coefficient(state.speed, b.beam)
    pressure = boat.density / 2 * state.speed**2
    lift = share * vee_lift(flat_lift(trim, wetted, cv), b.deadrise) * pressure * b.beam**2
    along = bottom_speed(state.speed, trim, wetted, b.deadrise)
    area = wetted * b.beam**2 / math.cos(math.radians(b.deadrise))
    skin = share * boat.density / 2 * along**2 * area * friction_coefficient(max(along * wetted * b.beam / boat.viscosity, 1e4))
    ahead = pressure_centre(wetted, cv) * wetted * b.beam
    x, y, z = b.keel
    slope = math.radians(b.slope)
    at = (x + ahead * math.cos(slope), y, z + ahead * math.sin(-slope))
    tan = math.tan(math.radians(trim))
    wide = BAND if share >= 1 else BLEND
    middle = (at[0], y, z + b.beam / 4 * math.tan(math.radians(b.deadrise)))
    return (
        Force("planing", (-lift * tan, 0.0, lift), at, wide, SAVITSKY_1964),
        Force("friction", (-skin, 0.0, 0.0), middle, wide, SAVITSKY_1964),
    )


def findings(boat: Underway, speeds: Floats) -> tuple[Finding, ...]:
    """That the regime between is a blend."""
    if boat.bottom is None or planing_share(float(np.max(speeds)), boat.volume) <= 0:
        return ()
    text = "Between floating and planing no simple law is right: a blend by the volumetric Froude number, ±40 %."
    return (Finding("underway.blend", "note", "A blend between floating and planing", text, COMMON_PRACTICE),)


LAW = Law(4, forces, findings)
