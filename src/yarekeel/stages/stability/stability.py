"""Stability: GM and the righting arm as far as upside down, both ways, with what it meets on the way, in a builder's words."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from yarekeel.core.errors import BoatSinks, Unsolved
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat, spread_of
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import CubicMetres, Metres, Radians, Ratio
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE, MECHANICS
from yarekeel.core.stability.righting import (
    Righted,
    RightingCurve,
    crossing,
    dived_arm,
    is_symmetric,
    mirrored,
    rests_of,
    righting_curve,
    with_other_trims,
)
from yarekeel.stages.afloat import flooding
from yarekeel.stages.afloat.flooding import BilgePlace
from yarekeel.stages.brief.brief import caution
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import limit_always, limit_of
from yarekeel.stages.stability.events import Event, events_along
from yarekeel.stages.stability.lowering import lowering_of

HEELS: tuple[Radians, ...] = tuple(math.radians(a) for a in [*range(0, 20, 2), *range(20, 181, 5)])
"""Closer together where a small boat is used."""
SHORT_RANGE: Radians = math.radians(40)
"""A range below this is called short (common practice)."""
EARLY: Radians = math.radians(20)
"""Water that comes in before that comes in early (common practice)."""
ALIKE: Ratio = 1e-3
"""Of the boat's length: openings so near each other's mirror image are a pair."""


@dataclass(frozen=True, eq=False)
class StabilityAssessment:
    """``afloat`` and the curves are None when it sinks or no attitude was found. ``events`` of a boat with two like sides are those
    of starboard. ``rests`` are the heels at which it would rest,
    with whether it stays there."""

    afloat: Afloat | None
    boat: Righted | None
    starboard: RightingCurve | None
    port: RightingCurve | None
    symmetric: bool
    events: tuple[Event, ...]
    rests: tuple[tuple[Radians, bool], ...]
    findings: tuple[Finding, ...]

    @cached_property
    def lowering(self) -> Metres | None:
        """How far all weights together must come down for it to right itself; None where nothing of that kind does it."""
        if self.boat is None or self.starboard is None or self.port is None:
            return None
        try:
            return lowering_of(self.boat, (self.starboard,) if self.symmetric else (self.starboard, self.port))
        except Unsolved:
            return None

    @property
    def worse(self) -> RightingCurve | None:
        """The side from which it comes back less far, or less hard."""
        if self.starboard is None or self.port is None:
            return None
        # Past 90° a range says little: there the side to which G lies comes back from further, and less hard.
        return min((self.starboard, self.port), key=lambda c: (c.rights, min(round(self._safe_to(c), 4), math.pi / 2), c.area))

    def _safe_to(self, curve: RightingCurve) -> Radians:
        """How far it may lean to a side and come back, no water having come in."""
        wet = self.water_in(curve.side)
        return min(abs(end_of(curve)), abs(wet.heel) if wet else math.inf)

    @property
    def safe_range(self) -> Radians:
        """From how far over it comes back on the worse side, or to where water comes in, if that is sooner; 0 where it comes back from
        nowhere."""
        worse = self.worse
        if worse is None or not worse.rights:
            return 0.0
        return self._safe_to(worse)

    def events_of(self, side: int) -> tuple[Event, ...]:
        """What meets the surface on a side."""
        return tuple(e for e in self.events if self.symmetric or e.heel * side > 0)

    def water_in(self, side: int) -> Event | None:
        """What lets water in first on a side."""
        wet = [e for e in self.events_of(side) if e.code in ("rim", "opening")]
        return min(wet, key=lambda e: abs(e.heel), default=None)


def end_of(curve: RightingCurve) -> Radians:
    """Where it stops coming back on that side: the vanishing angle, or the end of the curve."""
    return curve.points[-1].heel if curve.vanishing is None else curve.vanishing


def _boat(craft: Craft, litres: CubicMetres, into: BilgePlace | None) -> tuple[Afloat, Righted]:
    kernel = flooding.with_water(craft, litres, into) if into is not None and litres > 0 else craft.kernel
    total = craft.total
    afloat = float_boat(hull=craft.hull, mass=total.mass, gravity=total.centre, density=craft.density, start=None, kernel=kernel)
    return afloat, Righted(craft.hull, afloat.listed_volume, afloat.listed_gravity, kernel)


def assess(
    craft: Craft, heels: Sequence[Radians] = HEELS, litres: CubicMetres = 0.0, into: BilgePlace | None = None
) -> StabilityAssessment:
    """GM where it rests and the righting arms over ``heels`` (from 0 outward) to both sides, with ``litres`` (m3) of water loose in
    a place. Raises InvalidInput for more water than the place holds."""
    return judged(craft, swept(craft, heels, litres, into))


def judged(craft: Craft, found: StabilityAssessment) -> StabilityAssessment:
    """What was found by ``swept``, against this boat's brief."""
    return found if found.worse is None else replace(found, findings=tuple(_findings(craft, found)))


def swept(craft: Craft, heels: Sequence[Radians] = HEELS, litres: CubicMetres = 0.0, into: BilgePlace | None = None) -> StabilityAssessment:
    """As ``assess`` without the verdicts, which alone hang on the brief (a boat that has no curve has its reason as a finding)."""
    try:
        afloat, boat = _boat(craft, litres, into)
    except BoatSinks as sinks:
        return _none(_sinks(craft, sinks))
    except Unsolved as error:
        return _none((_unsolved(error),))
    try:
        starboard, port, symmetric = curves_of(boat, heels)
        symmetric = symmetric and _alike_openings(craft)
        events = tuple(e for curve in ((starboard,) if symmetric else (starboard, port)) for e in events_along(craft, boat, curve))
        around = (*reversed(port.points[1:]), *starboard.points)
        rests = rests_of(boat, around)
        starboard, port = (_refined(boat, c) for c in (starboard, port))
    except Unsolved as error:
        return replace(_none((_unsolved(error),)), afloat=afloat)
    return StabilityAssessment(
        afloat=afloat,
        boat=boat,
        starboard=starboard,
        port=port,
        symmetric=symmetric,
        events=events,
        rests=rests,
        findings=(),
    )


def _alike_openings(craft: Craft) -> bool:
    """Whether every opening has its like on the other side, or lies in the middle."""
    places = np.array([at for _, at in craft.openings]).reshape(-1, 3)
    close = ALIKE * float(np.ptp(craft.hull.mesh.bounds, axis=0)[0])
    return all(np.abs(places - [x, -y, z]).max(axis=1).min() <= close for x, y, z in places.tolist())


def curves_of(boat: Righted, heels: Sequence[Radians] = HEELS) -> tuple[RightingCurve, RightingCurve, bool]:
    """The curve to starboard, to port, and whether they are alike. Raises Unsolved."""
    starboard = with_other_trims(
        boat, righting_curve(hull=boat.hull, displaced=boat.displaced, gravity=boat.gravity, heels=heels, kernel=boat.kernel)
    )
    if is_symmetric(boat):
        return starboard, mirrored(starboard), True
    port = with_other_trims(
        boat, righting_curve(hull=boat.hull, displaced=boat.displaced, gravity=boat.gravity, heels=[-h for h in heels], kernel=boat.kernel)
    )
    return starboard, port, False


def comes_back(starboard: RightingCurve, port: RightingCurve) -> bool:
    """Whether it rights itself from upside down, whichever way it lies."""
    return all(c.rights and c.vanishing is None and abs(c.points[-1].heel) > math.radians(179) for c in (starboard, port))


def _none(findings: tuple[Finding, ...]) -> StabilityAssessment:
    return StabilityAssessment(afloat=None, boat=None, starboard=None, port=None, symmetric=True, events=(), rests=(), findings=findings)


def _refined(boat: Righted, curve: RightingCurve) -> RightingCurve:
    """The curve with its vanishing angle solved for; the grid only tells between which points it lies."""
    if curve.vanishing is None:
        return curve
    pairs = zip(curve.points, curve.points[1:], strict=False)
    between = next(((a, b) for a, b in pairs if abs(a.heel) <= abs(curve.vanishing or 0.0) <= abs(b.heel)), None)
    if between is None or between[0].arm * between[1].arm >= 0:
        return curve
    return replace(curve, vanishing=crossing(boat, *between, lambda p: p.arm).heel)


# Verdicts


def _sinks(craft: Craft, sinks: BoatSinks) -> tuple[Finding, ...]:
    values: dict[str, float | str] = {"mass": sinks.mass_kg, "capacity": sinks.capacity_kg}
    sunk = Finding(
        "stability.sinks",
        "fails",
        "It sinks",
        "It weighs {mass:mass}; the whole hull displaces {capacity:mass}.",
        source=MECHANICS,
        values=values,
        remedies=(Remedy("Lighten it first", "weights"),),
    )
    if craft.hull.open:
        return (sunk,)
    bg = dived_arm(craft.total.centre, craft.hull.kernel.centroid, math.pi / 2)
    stands = bg > 0
    dived = Finding(
        "stability.dived",
        "holds" if stands else "fails",
        "Under water it {way}",
        "Wholly under, BG alone holds it: {bg:draft}, so the righting arm is {bg:draft} times sin(heel), most at 90°."
        if stands
        else "Wholly under, G lies {over:draft} over B and there is no waterplane to hold it: it turns over.",
        source=MECHANICS,
        values={"bg": bg, "over": -bg, "way": "stays upright" if stands else "turns over"},
        remedies=() if stands else (Remedy("Ballast lower, foam higher", "weights"),),
    )
    return sunk, dived


def _unsolved(error: Unsolved) -> Finding:
    way = (Remedy("Check the mesh for slivers and the weights for their places", "shape"),)
    return Finding("stability.unsolved", "fails", "No balance was found", str(error), source=MECHANICS, values={}, remedies=way)


def _findings(craft: Craft, r: StabilityAssessment) -> list[Finding]:
    worse = r.worse
    assert r.afloat is not None
    assert worse is not None
    out = [_initial(craft, r.afloat), _peak(craft, worse)]
    if worse.rights:
        out.append(_range(craft, r, worse))
    out += _water_in(craft, r, worse)
    if not craft.hull.open:
        out.append(_rights_itself(craft, r, worse))
    out += _deck(r, worse) + _propellers(r, worse) + _sides(r) + _branches(worse) + _stopped(r) + _loose(craft, r)
    return [*out, *caution(craft.design.brief)]


def _initial(craft: Craft, afloat: Afloat) -> Finding:
    limit, gm = limit_always(craft.design.brief, "gm"), afloat.judged_gm
    values = {
        "gm": gm,
        "asked": limit.asked,
        "upright": afloat.upright_gm,
        "heel": afloat.attitude.heel,
        "lower": -afloat.upright_gm,
    }
    way = (Remedy("Lower the weights by {lower:length} together, or see what each cure costs", "stability?tab=cures"),)
    if afloat.is_capsized:
        text = "Left alone it {heel:heel} and rests there."
        return Finding("stability.capsizes", "fails", "It rolls over by itself", text, source=MECHANICS, values=values, remedies=way)
    if afloat.is_unsteady:
        text = "Upright, GM is {upright:length}; left alone it {heel:heel} (angle of loll)."
        return Finding("stability.loll", "fails", "It will not stand upright", text, source=MECHANICS, values=values, remedies=way)
    marks = craft.marks
    spread = spread_of(
        hull=craft.hull, items=craft.acting, afloat=afloat, bow_x=marks.bow_x_m, stern_x=marks.stern_x_m, kernel=craft.kernel
    )
    word = limit.severity(gm, spread.gm if spread else 0.0)
    return Finding(
        "stability.gm",
        word,
        "GM {gm:length} at rest",
        "You asked for {asked:length} at least: the stiffness you feel first.",
        source=BRIEF,
        values=values,
        remedies=(Remedy("See what each cure costs", "stability?tab=cures"),) if word == "fails" else (),
    )


def _peak(craft: Craft, curve: RightingCurve) -> Finding:
    arm, limit = curve.righting_arm(curve.peak), limit_of(craft.design.brief, "peak")
    asked = limit.asked if limit else 0.0
    values: dict[str, float | str] = {"arm": arm, "heel": abs(curve.peak.heel), "asked": asked, "last": abs(curve.points[-1].heel)}
    if not curve.rights:
        text = "The arm is never positive from upright to {last:angle0}."
        return Finding("stability.no_arm", "fails", "Nothing rights it", text, source=MECHANICS, values=values)
    text = "There the righting arm is {arm:length}; lean it further and it weakens."
    if limit is None:
        return Finding("stability.peak", "note", "Pushes back hardest at {heel:angle0}", text, source=MECHANICS, values=values)
    word = limit.severity(arm)
    text = "There the righting arm is {arm:length}; you asked for {asked:length}."
    way = () if word != "fails" else (Remedy("See what each cure costs", "stability?tab=cures"),)
    return Finding("stability.peak_asked", word, "Pushes back hardest at {heel:angle0}", text, source=BRIEF, values=values, remedies=way)


def _range(craft: Craft, r: StabilityAssessment, curve: RightingCurve) -> Finding:
    last, vanishing = abs(curve.points[-1].heel), curve.vanishing
    end = abs(vanishing) if vanishing is not None else last
    wet = r.water_in(curve.side)
    safe = r.safe_range
    limit = limit_of(craft.design.brief, "range")
    asked = limit.asked if limit else 0.0
    values: dict[str, float | str] = {"end": end, "last": last, "safe": safe, "asked": asked, "what": wet.name if wet else ""}
    if limit is not None:
        good = limit.keeps(safe)
        title = "Comes back from {safe:angle0}" if good or safe > 0 else "Has no range"
        text = "You asked that it come back from {asked:angle0}."
        if wet and safe < end:
            text += " Water comes in at the {what} before it would go over."
        way = () if good else (Remedy("See what each cure costs", "stability?tab=cures"),)
        return Finding("stability.range_asked", "holds" if good else "fails", title, text, source=BRIEF, values=values, remedies=way)
    if wet and safe < end:
        short = safe < SHORT_RANGE
        text = "Water comes in at the {what} there; kept out, it would come back from {end:angle0}."
        way = (Remedy("Close the {what}, or move it inboard and up", "shape"),) if short and wet.code == "opening" else ()
        word: Severity = "near" if short else "holds"
        return Finding("stability.range_wet", word, "Comes back from {safe:angle0}", text, source=MECHANICS, values=values, remedies=way)
    if vanishing is None:
        text = "The arm is still positive at the end of the curve."
        return Finding("stability.range_full", "holds", "Comes back from {last:angle0}", text, source=MECHANICS, values=values)
    return Finding(
        "stability.range",
        "near" if end < SHORT_RANGE else "holds",
        "Goes over past {end:angle0}",
        "Up to there it comes back by itself, if no water gets in.",
        source=MECHANICS,
        values=values,
        remedies=(Remedy("Lower weights lengthen the range", "weights"),) if end < SHORT_RANGE else (),
    )


def _water_in(craft: Craft, r: StabilityAssessment, curve: RightingCurve) -> list[Finding]:
    wet = r.water_in(curve.side)
    if wet is None:
        return []
    short = abs(wet.heel) < EARLY
    values: dict[str, float | str] = {"heel": abs(wet.heel), "name": wet.name, "end": abs(end_of(curve))}
    text = "There the {name} goes under (downflooding angle): that ends the safe range."
    if curve.vanishing is not None and abs(wet.heel) < abs(curve.vanishing):
        text += " It is the weak point: by itself it would come back from {end:angle0}."
    way = (Remedy("More freeboard there, more beam, or close it", "shape"),) if short else ()
    return [
        Finding(
            "stability.downflooding",
            "near" if short else "holds",
            "Water comes in at {heel:angle0}",
            text,
            source=MECHANICS,
            values=values,
            remedies=way,
        )
    ]


def _rights_itself(craft: Craft, r: StabilityAssessment, curve: RightingCurve) -> Finding:
    assert r.starboard is not None
    assert r.port is not None
    asked = craft.design.brief.least_range_deg == 180.0
    if comes_back(r.starboard, r.port):
        text = "From upside down too: the arm is positive all the way, as long as no water gets in."
        return Finding("stability.rights_itself", "holds", "It rights itself", text, source=MECHANICS)
    over = next((h for h, stays in reversed(r.rests) if stays and abs(h) > math.pi / 2), math.pi)
    values: dict[str, float | str] = {"rest": abs(over)}
    text = "Thrown over, it stays lying at {rest:angle0}."
    if r.lowering is not None:
        values["lower"] = r.lowering
        text += " All weights {lower:length} lower together, or as much more buoyancy high up, would bring it back."
    return Finding("stability.stays_over", "fails" if asked else "note", "It does not right itself", text, source=MECHANICS, values=values)


def _deck(r: StabilityAssessment, curve: RightingCurve) -> list[Finding]:
    deck = next((e for e in r.events_of(curve.side) if e.code == "deck"), None)
    if deck is None:
        return []
    text = "From there the waterplane shrinks and the arm grows no faster."
    return [
        Finding("stability.deck_edge", "note", "Deck edge under at {rim:angle0}", text, source=MECHANICS, values={"rim": abs(deck.heel)})
    ]


def _propellers(r: StabilityAssessment, curve: RightingCurve) -> list[Finding]:
    out = next((e for e in r.events_of(curve.side) if e.code == "propeller" and abs(e.heel) < math.pi / 2), None)
    if out is None:
        return []
    values: dict[str, float | str] = {"name": out.name, "heel": abs(out.heel)}
    text = "It draws air well before: keep half a diameter over the tips."
    return [Finding("stability.propeller", "note", "{name} comes out at {heel:angle0}", text, source=COMMON_PRACTICE, values=values)]


def _sides(r: StabilityAssessment) -> list[Finding]:
    if r.symmetric or r.starboard is None or r.port is None:
        return []
    values: dict[str, float | str] = {"s": abs(end_of(r.starboard)), "p": abs(end_of(r.port))}
    text = "To starboard it comes back from {s:angle0}, to port from {p:angle0}. The verdicts speak of the worse."
    return [Finding("stability.sides", "note", "The two sides differ", text, source=MECHANICS, values=values)]


def _branches(curve: RightingCurve) -> list[Finding]:
    if not curve.branches:
        return []
    a, b = (abs(v) for v in curve.branches[0])
    text = "It can lie bow down or stern down there; the curve takes the one it sinks to (least energy)."
    return [
        Finding("stability.branches", "note", "Two trims from {a:angle0} to {b:angle0}", text, source=MECHANICS, values={"a": a, "b": b})
    ]


def _stopped(r: StabilityAssessment) -> list[Finding]:
    stops = [abs(c.stopped) for c in (r.starboard, r.port) if c is not None and c.stopped is not None]
    if not stops:
        return []
    text = "From there no trim short of standing on end balances it: it would go over end first, so the curve stops."
    return [Finding("stability.stopped", "note", "It pitches over past {heel:angle0}", text, source=MECHANICS, values={"heel": min(stops)})]


def _loose(craft: Craft, r: StabilityAssessment) -> list[Finding]:
    """What liquids and swinging loads take off GM; they are in every figure already."""
    out = []
    a = r.afloat
    if a is not None and a.liquids:
        # Frozen where they lie, they would leave the inertia of their surfaces.
        lost = sum(q.ratio * q.surface[1] for q in a.liquids) / a.volume
        text = "Free surface of liquids aboard; it is in the curve as the liquid really runs."
        out.append(
            Finding(
                "stability.free_surface", "note", "Loose liquid takes {lost:length} off GM", text, source=MECHANICS, values={"lost": lost}
            )
        )
    swung = [i for i in craft.items if i.hung_m and i.mass_kg > 0]
    if swung and a is not None:
        lost = sum(i.mass_kg * i.hung_m for i in swung) / a.mass
        values: dict[str, float | str] = {"lost": lost, "names": ", ".join(i.name for i in swung[:3])}
        text = "{names}: it acts where it hangs from, however low it hangs."
        out.append(
            Finding("stability.swinging", "note", "A swinging load takes {lost:length} off GM", text, source=MECHANICS, values=values)
        )
    return out
