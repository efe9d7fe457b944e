"""Lift, friction and pressure drag of a planing bottom, by Savitsky's equations at the attitude that it has."""

import math

import numpy as np

from yarekeel.core.findings import Finding
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Degrees, Floats, Metres, Ratio
from yarekeel.core.resistance.friction import friction_coefficient
from yarekeel.core.resistance.planing import bottom_speed, flat_lift, pressure_centre, speed_coefficient, vee_lift
from yarekeel.core.running.forces import Force, Law, PlaningBottom, State, Underway
from yarekeel.core.running.regime import planing_share
from yarekeel.core.sources import COMMON_PRACTICE, SAVITSKY_1964

LEAST_TRIM = 0.5
"""Degrees; a flatter bottom has no length that the equations know."""
LONGEST: Ratio = 6.0
"""Beams of wetted length beyond which the bottom is not a prism any more."""
BAND, BLEND = 0.15, 0.4
TOUCHING: Ratio = 0.01
"""Beams of wetted length under which a surface hardly touches."""
IN_RANGE_TRIM, IN_RANGE_WETTED, IN_RANGE_CV = 2.0, 4.0, 0.60
"""Where the equations' own range begins and ends: trim in degrees, wetted length over beam, speed coefficient."""


def wetted_of(pad: PlaningBottom, state: State) -> tuple[float, Ratio] | None:
    """Trim of a planing surface in degrees and its mean wetted length over its beam; None where nothing of it is wet."""
    trim = max(math.degrees(state.attitude.trim) + pad.slope, LEAST_TRIM)
    depth: Metres = -state.attitude.height_of(pad.keel)
    tan = math.tan(math.radians(trim))
    keel = depth / math.sin(math.radians(trim))
    wetted = keel / pad.beam - math.tan(math.radians(pad.deadrise)) / (2 * math.pi * tan)
    return (trim, min(wetted, LONGEST, pad.length / pad.beam)) if wetted > 0 else None


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Lift at right angles to each planing surface, friction along it; nothing for a boat that does not plane or is too slow."""
    share = planing_share(state.speed, boat.volume)
    if share <= 0:
        return ()
    return tuple(f for pad in boat.pads for f in pad_forces(boat, pad, state, share))


def pad_forces(boat: Underway, b: PlaningBottom, state: State, share: Ratio) -> tuple[Force, ...]:
    """Of one planing surface, of the ``share`` that planing has of the boat."""
    found = wetted_of(b, state)
    if found is None:
        return ()
    trim, wetted = found
    cv = speed_coefficient(state.speed, b.beam)
    pressure = boat.density / 2 * state.speed**2
    lift = eased(wetted) * share * vee_lift(flat_lift(trim, wetted, cv), b.deadrise) * pressure * b.beam**2
    along = bottom_speed(state.speed, trim, wetted, b.deadrise)
    area = wetted * b.beam**2 / math.cos(math.radians(b.deadrise))
    skin = share * boat.density / 2 * along**2 * area * friction_coefficient(max(along * wetted * b.beam / boat.viscosity, 1e4))
    ahead = pressure_centre(wetted, cv) * wetted * b.beam
    x, y, z = b.keel
    slope = math.radians(b.slope)
    at = (x + ahead * math.cos(slope), y, z + ahead * math.sin(slope))
    tan = math.tan(math.radians(trim))
    wide = band_of(boat, b, trim, wetted, cv, share)
    middle = (at[0], y, z + b.beam / 4 * math.tan(math.radians(b.deadrise)))
    return (
        Force("planing", (-lift * tan, 0.0, lift), at, wide, SAVITSKY_1964, b.name),
        Force("friction", (-skin, 0.0, 0.0), middle, wide, SAVITSKY_1964, b.name),
    )


@formula("e = sqrt(lambda / 0.01) up to 1", COMMON_PRACTICE, "below the law's range, so that lift ends without an edge")
def eased(wetted: Ratio) -> Ratio:
    """What counts of the law's lift where a surface hardly touches: the root of its wetted length goes over into a straight line, so that
    it comes out of the water without an edge."""
    return math.sqrt(min(wetted / TOUCHING, 1.0))


@formula("L_C/b = lambda - tan(beta) / (2 pi tan(tau))", SAVITSKY_1964, "beta deadrise, tau trim; negative where the chine is dry")
def wet_chine(trim: Degrees, wetted: Ratio, deadrise: Degrees) -> Ratio:
    """Wetted length of the chine over the beam, from the mean one."""
    return wetted - math.tan(math.radians(deadrise)) / (2 * math.pi * math.tan(math.radians(trim)))


def band_of(boat: Underway, pad: PlaningBottom, trim: Degrees, wetted: Ratio, cv: Ratio, share: Ratio) -> Ratio:
    """Half the width of the band of a planing surface's forces: wider in the blend, outside the law's range, and where one runs in the
    wake of another."""
    inside = trim >= IN_RANGE_TRIM and wetted <= IN_RANGE_WETTED and cv >= IN_RANGE_CV and wet_chine(trim, wetted, pad.deadrise) > 0
    return BAND if share >= 1 and inside and len(boat.pads) == 1 else BLEND


def findings(boat: Underway, speeds: Floats) -> tuple[Finding, ...]:
    """That the regime between is a blend, and that several pads run in one another's water."""
    if not boat.pads or planing_share(float(np.max(speeds)), boat.volume) <= 0:
        return ()
    text = "Between floating and planing no simple law is right: a blend by the volumetric Froude number, ±40 %."
    out = [Finding("underway.blend", "note", "A blend between floating and planing", text, COMMON_PRACTICE)]
    if len(boat.pads) > 1:
        text = "Each is taken to meet flat water; the after ones run in the trough of those ahead: ±40 % on each pad."
        out.append(Finding("underway.pads", "note", "Pads by a law for single bottoms", text, SAVITSKY_1964))
    return tuple(out)


LAW = Law(4, forces, findings)
