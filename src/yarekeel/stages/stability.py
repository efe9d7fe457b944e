"""Stability: GM and the righting-arm curve, with trim free, read in a builder's words."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.errors import BoatSinks
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.hydrostatics.afloat import Afloat
from yarekeel.core.quantities import Radians
from yarekeel.core.sources import BRIEF, MECHANICS
from yarekeel.core.stability.righting import RightingCurve, righting_curve
from yarekeel.stages.brief import caution
from yarekeel.stages.craft import Craft

HEELS: tuple[Radians, ...] = tuple(math.radians(a) for a in [*range(0, 20, 2), *range(20, 91, 5)])
"""Closer together where a small boat is used."""
SHORT_RANGE: Radians = math.radians(40)
"""A range below this is called short (common practice)."""


@dataclass(frozen=True, slots=True)
class StabilityAssessment:
    """``afloat`` and ``curve`` are None when it sinks."""

    afloat: Afloat | None
    curve: RightingCurve | None
    findings: tuple[Finding, ...]


def assess(craft: Craft, heels: Sequence[Radians] = HEELS) -> StabilityAssessment:
    """GM where it rests and the righting arms over ``heels``."""
    try:
        afloat = craft.rest()
    except BoatSinks as sinks:
        values = {"mass": sinks.mass_kg, "capacity": sinks.capacity_kg}
        sunk = Finding(
            "float.sinks",
            "fails",
            "It sinks",
            "It weighs {mass:mass}; the whole hull displaces {capacity:mass}.",
            MECHANICS,
            values,
            (Remedy("Lighten it first", "weights"),),
        )
        return StabilityAssessment(None, None, (sunk,))
    curve = righting_curve(craft.hull, afloat.listed_volume, afloat.listed_gravity, heels, craft.kernel)
    ranged = [_range(craft, curve)] if curve.rights else []
    findings = [_initial(craft, afloat), _peak(curve), *ranged, *_rim(craft, curve), *caution(craft.design.brief)]
    return StabilityAssessment(afloat, curve, tuple(findings))


def _initial(craft: Craft, afloat: Afloat) -> Finding:
    asked, gm = craft.design.brief.least_gm_m, afloat.gm_transverse
    values = {
        "gm": gm,
        "asked": asked,
        "upright": afloat.upright_gm,
        "heel": afloat.attitude.heel,
        "lower": -afloat.upright_gm,
    }
    if afloat.is_unsteady:
        return Finding(
            "stability.loll",
            "fails",
            "It will not stand upright",
            "Upright, GM is {upright:length}; left alone it {heel:heel}.",
            MECHANICS,
            values,
            (Remedy("Lower the weights by {lower:length} together, or make it wider", "weights"),),
        )
    good = gm >= asked
    return Finding(
        "stability.gm",
        "holds" if good else "fails",
        "GM {gm:length} at rest",
        "You asked for {asked:length} at least: the stiffness you feel first.",
        BRIEF,
        values,
        () if good else (Remedy("Lower the weights or widen the hull", "shape"),),
    )


def _peak(curve: RightingCurve) -> Finding:
    values = {"arm": curve.peak.arm, "heel": curve.peak.heel}
    if not curve.rights:
        return Finding(
            "stability.no_arm", "fails", "Nothing rights it", "The arm is never positive from upright to 90°.", MECHANICS, values
        )
    return Finding(
        "stability.peak",
        "note",
        "Pushes back hardest at {heel:angle0}",
        "There the righting arm is {arm:length}; lean it further and it weakens.",
        MECHANICS,
        values,
    )


def _range(craft: Craft, curve: RightingCurve) -> Finding:
    last = curve.points[-1].heel
    end = curve.vanishing
    values = {"end": end if end is not None else last, "last": last}
    if end is None:
        holds = curve.points[-1].arm > 0
        return Finding(
            "stability.range_full" if holds else "stability.no_range",
            "holds" if holds else "fails",
            "Comes back from {last:angle0}" if holds else "Has no range",
            "The arm is still positive at the end of the curve." if holds else "It does not come back from any angle computed.",
            MECHANICS,
            values,
        )
    return Finding(
        "stability.range",
        "near" if end < SHORT_RANGE else "holds",
        "Goes over past {end:angle0}",
        "Up to there it comes back by itself, if no water gets in.",
        MECHANICS,
        values,
        (Remedy("Lower weights lengthen the range", "weights"),) if end < SHORT_RANGE else (),
    )


def _rim(craft: Craft, curve: RightingCurve) -> list[Finding]:
    if curve.rim_under is None:
        return []
    values = {"rim": curve.rim_under}
    if craft.hull.open:
        short = curve.rim_under < math.radians(20)
        return [
            Finding(
                "stability.downflooding",
                "near" if short else "holds",
                "Water comes in at {rim:angle0}",
                "The sheer goes under there (downflooding angle): that ends the safe range of an open boat.",
                MECHANICS,
                values,
                (Remedy("More freeboard or more beam", "shape"),) if short else (),
            )
        ]
    return [
        Finding(
            "stability.deck_edge",
            "note",
            "Deck edge under at {rim:angle0}",
            "From there the waterplane shrinks and the arm grows no faster.",
            MECHANICS,
            values,
        )
    ]
