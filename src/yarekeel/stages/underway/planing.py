"""Planing: the bottom as it was read off the hull, its balance over speed, and where its law ends."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Degrees, Metres, MetresPerSecond, Newtons, Ratio
from yarekeel.core.resistance.planing import Planing, PlaningHull, planing_at, porpoising_trim, speed_coefficient
from yarekeel.core.running.forces import PlaningBottom, Underway
from yarekeel.core.running.laws.planing import IN_RANGE_CV, IN_RANGE_TRIM, IN_RANGE_WETTED
from yarekeel.core.running.regime import PLANES_FROM, volumetric_froude
from yarekeel.core.sources import SAVITSKY_1964
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.running.resistance import Resistance, resistance_of

STEPS = 28


@dataclass(frozen=True, slots=True)
class PlaningPoint:
    """A speed at which the bottom alone carries the boat: its trim (of the keel, degrees), wetted keel and chine, drag, the trim at which
    it would begin to hop, and whether it lies in the law's range."""

    speed: MetresPerSecond
    planing: Planing
    hops_at: Degrees
    in_range: bool


@dataclass(frozen=True, slots=True, eq=False)
class PlaningAssessment:
    """The bottom, where the boat planes by its speed, the balances by Savitsky alone, the hump of the whole curve and what is said."""

    bottom: PlaningBottom
    points: tuple[PlaningPoint, ...]
    from_speed: MetresPerSecond
    hump: tuple[MetresPerSecond, Newtons] | None
    findings: tuple[Finding, ...]


def planing_hull(boat: Underway) -> PlaningHull:
    """The boat as Savitsky's prism: lengths from the transom along the keel, heights over it, the line of thrust from G."""
    bottom = boat.bottom
    assert bottom is not None
    slope = math.radians(bottom.slope)
    x, z = boat.gravity[0] - bottom.keel[0], boat.gravity[2] - bottom.keel[2]
    along, over = x * math.cos(slope) + z * math.sin(slope), z * math.cos(slope) - x * math.sin(slope)
    ux, uz = boat.thrust_along[0], boat.thrust_along[2]
    gx, gz = boat.gravity[0] - boat.thrust_at[0], boat.gravity[2] - boat.thrust_at[2]
    below = (gz * ux - gx * uz) / math.hypot(ux, uz)
    tilt = math.degrees(math.atan2(uz, ux)) - bottom.slope
    return PlaningHull(bottom.beam, bottom.deadrise, boat.mass, along, over, below, tilt)


@kept
def assess(craft: Craft) -> PlaningAssessment | None:
    """None for a boat that has no planing bottom, or does not run."""
    holds = resistance_of(craft)
    if holds is None or holds.boat.bottom is None:
        return None
    boat, bottom = holds.boat, holds.boat.bottom
    hull = planing_hull(boat)
    begins = PLANES_FROM * float(holds.speeds[-1]) / volumetric_froude(float(holds.speeds[-1]), boat.volume)
    low = 0.7 * begins
    found = []
    for k in range(STEPS):
        speed = low + (float(holds.speeds[-1]) - low) * k / (STEPS - 1)
        one = planing_at(hull, speed, boat.density, boat.viscosity)
        if one is not None:
            cv = speed_coefficient(speed, bottom.beam)
            inside = one.trim >= IN_RANGE_TRIM and one.wetted <= IN_RANGE_WETTED and cv >= IN_RANGE_CV and one.chine > 0
            found.append(PlaningPoint(speed, one, porpoising_trim(one.lift_coefficient, bottom.deadrise), inside))
    hump = _hump(holds)
    return PlaningAssessment(bottom, tuple(found), begins, hump, tuple(_findings(tuple(found), bottom, begins, hump)))


def _hump(holds: Resistance) -> tuple[MetresPerSecond, Newtons] | None:
    """Where resistance first stops rising; None where it rises all the way."""
    r = holds.newtons
    for k in range(2, len(r) - 1):
        if r[k] > r[k + 1] and r[k] >= r[k - 1]:
            return float(holds.speeds[k]), float(r[k])
    return None


def _findings(
    points: tuple[PlaningPoint, ...], bottom: PlaningBottom, begins: MetresPerSecond, hump: tuple[MetresPerSecond, Newtons] | None
) -> list[Finding]:
    read: dict[str, float | str] = {"beam": bottom.beam, "vee": math.radians(bottom.deadrise), "speed": begins}
    text = "Beam {beam:length} between the chines and a deadrise of {vee:angle}, read off its own sections near the stern."
    out = [Finding("underway.planes", "note", "Planes from about {speed:speed}", text, SAVITSKY_1964, read)]
    if hump is not None:
        values: dict[str, float | str] = {"speed": hump[0], "drag": hump[1]}
        out.append(
            Finding(
                "underway.hump",
                "note",
                "A hump of {drag:force} at {speed:speed}",
                "So much thrust it takes to get over.",
                SAVITSKY_1964,
                values,
            )
        )
    if not points:
        text = "At none of these speeds does a trim between 0.4 and 15° balance it: its weight or its line of thrust holds the bow down."
        return [*out, Finding("underway.no_trim", "near", "No trim balances the bottom alone", text, SAVITSKY_1964)]
    for why, first in _outside(points, bottom):
        values = {"speed": first.speed, "why": why}
        text = "There {why}, outside what was measured; the band is wide."
        out.append(Finding("underway.planing_range", "near", "Outside the law's range at {speed:speed}", text, SAVITSKY_1964, values))
    hopping = [p for p in points if p.planing.trim > p.hops_at]
    if hopping:
        values = {"speed": hopping[0].speed, "trim": math.radians(hopping[0].planing.trim), "most": math.radians(hopping[0].hops_at)}
        text = "Its bottom trims {trim:angle}; such hulls begin to hop near {most:angle}, ±1.5°: of low confidence."
        remedies = (Remedy("Weight forward, or a wedge at the stern", "weights"),)
        out.append(Finding("underway.porpoising", "near", "It may hop from {speed:speed}", text, SAVITSKY_1964, values, remedies))
    return out


def _outside(points: tuple[PlaningPoint, ...], bottom: PlaningBottom) -> list[tuple[str, PlaningPoint]]:
    """Each of the law's limits that is crossed, in words, with the first point beyond it."""
    limits: tuple[tuple[str, Callable[[PlaningPoint], bool]], ...] = (
        ("its trim is under 2°", lambda p: p.planing.trim < IN_RANGE_TRIM),
        ("its chine is dry", lambda p: p.planing.chine <= 0),
        ("its wetted length is over four beams", lambda p: p.planing.wetted > IN_RANGE_WETTED),
        ("it is slow for its beam", lambda p: speed_coefficient(p.speed, bottom.beam) < IN_RANGE_CV),
    )
    return [(why, crossed[0]) for why, beyond in limits if (crossed := [p for p in points if beyond(p)])]


def in_band(point: PlaningPoint) -> Ratio:
    """Half the width of the 95 % band of a point's drag: wider outside the range."""
    return 0.15 if point.in_range else 0.4


def wetted(point: PlaningPoint) -> tuple[Metres, Metres]:
    """Wetted keel and chine; a dry chine is none."""
    return point.planing.keel, max(point.planing.chine, 0.0)
