"""Under sail: the lean at each wind, the wind that capsizes it, the wind that drives its bow under, and the lead."""

import contextlib
import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import Unsolved
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.geometry.wetted import waterline_length
from yarekeel.core.hydrostatics.forces import wind_force
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.sail import effort, lead
from yarekeel.core.quantities import Metres, MetresPerSecond, Newtons, Point, Radians, Ratio, SquareMetres
from yarekeel.core.search import edge
from yarekeel.core.sources import COMMON_PRACTICE, MECHANICS
from yarekeel.core.stability.heeling import Lever
from yarekeel.core.stability.pitching import PitchPoint, pitch_curve, push_that_holds
from yarekeel.core.stability.righting import Righted, righting_curve
from yarekeel.stages.afloat.forced import lateral_area
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.stability import plain_tests
from yarekeel.stages.stability.stability import StabilityAssessment, end_of

MOST_WIND: MetresPerSecond = 25.0
"""A storm: a small sail comes down long before."""
WINDS = 51
CLOSE: MetresPerSecond = MOST_WIND / 2**14
FINE: Radians = math.radians(1.0)
"""Between steps of the sweep that winds are read off."""
STEEPEST: Radians = math.radians(40)
PITCHES = 32
"""How far the bow is pressed down, and in how many steps, small ones first."""
KNOCKED_DOWN: Radians = math.radians(60)
"""Past that the sail lies on the water: held or not, it counts as over (common practice)."""
USUAL_LEAD: tuple[Ratio, Ratio] = (0.02, 0.15)
"""Of the waterline: where small craft have their lead (common practice); too little carries weather helm, too much lee helm."""


@dataclass(frozen=True, slots=True)
class NoseDive:
    """Running before the wind with all its push at the centre of effort: the ``drive`` and trim at the wind of the plain tests, what
    is left of the bow there, and the ``wind`` that puts the bow under (None: none up to a storm)."""

    drive: Newtons
    trim: Radians | None
    bow: Metres
    wind: MetresPerSecond | None


@dataclass(frozen=True, eq=False)
class SailAssessment:
    """``leans`` are (wind, lean or None where it goes over) on the worse side; ``capsize`` the steady wind that nothing holds,
    ``gusted`` the steady wind at which a gust throws it over; None where a storm does not. ``aft`` are (metres aft, nose dive) for the
    heaviest of those aboard moved aft. ``nose`` is None where no balance was found with the bow pressed down."""

    area: SquareMetres
    centre: Point
    lateral_area: SquareMetres
    lateral: Point
    waterline: Metres
    lead: Ratio
    leans: tuple[tuple[MetresPerSecond, Radians | None], ...]
    capsize: MetresPerSecond | None
    gusted: MetresPerSecond | None
    nose: NoseDive | None
    aft: tuple[tuple[Metres, NoseDive], ...]
    moved: str
    findings: tuple[Finding, ...]


@kept
def assess(craft: Craft, r: StabilityAssessment) -> SailAssessment | None:
    """The sails on this boat; None where it has none, or has no attitude."""
    area, centre, _ = effort(craft.design.sails)
    if not area or r.afloat is None or r.boat is None or r.worse is None or r.starboard is None or r.port is None:
        return None
    a = r.afloat
    under, lateral = lateral_area(craft.hull.sketch.mesh, a.attitude)
    line = waterline_length(craft.hull.mesh, a.attitude)
    ahead = lead(centre[0], lateral[0], line) if line > 0 else 0.0
    fine, tipping = _fine(craft, r), plain_tests.tipping_of(craft)
    gust = tipping.gust or 1.0
    winds = [MOST_WIND * k / (WINDS - 1) for k in range(WINDS)]
    leans = tuple((v, fine.lean(v) if fine else None) for v in winds)
    capsize = _least_wind(lambda v: fine is None or fine.lean(v) is None)
    gusted = _least_wind(lambda v: fine is None or fine.lean(v, gust) is None)
    wind = tipping.wind_ms or 5.0
    nose: NoseDive | None = None
    aft: tuple[tuple[Metres, NoseDive], ...] = ()
    moved = ""
    with contextlib.suppress(Unsolved):  # what cannot be pitched still heels, and says so
        nose = nose_dive(craft, r.boat, wind)
        aft, moved = _weight_aft(craft, r.boat, wind)
    result = SailAssessment(
        area=area,
        centre=centre,
        lateral_area=under,
        lateral=lateral,
        waterline=line,
        lead=ahead,
        leans=leans,
        capsize=capsize,
        gusted=gusted,
        nose=nose,
        aft=aft,
        moved=moved,
        findings=(),
    )
    return dataclasses.replace(result, findings=tuple(_findings(craft, result, wind, gust)))


@dataclass(frozen=True, eq=False)
class _Swept:
    """The worse side in fine steps from its rest to where it counts as over: leans (n,) rad counted to that side, pushes (n,) m and the
    energy gained (n,) m; and the lever of a wind of 1 m/s."""

    leans: Floats
    pushes: Floats
    gained: Floats
    lever: Lever

    def lean(self, wind: MetresPerSecond, gust: Ratio = 1.0) -> Radians | None:
        """The lean in a steady wind abeam, then in a gust so many times as fast; None where it goes over. Read off between steps."""
        levers = np.array([self.lever.at(float(h)) for h in self.leans]) * wind**2
        k = _first_above(self.pushes - levers)
        if k is None:
            return None
        at = _zero(self.leans, self.pushes - levers, k)
        if gust <= 1 or wind <= 0:
            return at
        start = float(np.interp(at, self.leans, self.gained))
        work = np.array([self.lever.work(at, float(h)) for h in self.leans]) * (wind * gust) ** 2
        left = np.where(self.leans > at + 1e-9, self.gained - start - work, -1.0)
        k = _first_above(left)
        return None if k is None else _zero(self.leans, left, k) if left[k - 1] > -1.0 else at


def _first_above(values: Floats) -> int | None:
    above = np.flatnonzero(values >= 0)
    return int(above[0]) if len(above) else None


def _zero(x: Floats, y: Floats, k: int) -> float:
    """Where a line through the points k - 1 and k is 0."""
    if k == 0 or y[k] == y[k - 1]:
        return float(x[k])
    return float(x[k - 1] - y[k - 1] * (x[k] - x[k - 1]) / (y[k] - y[k - 1]))


def _fine(craft: Craft, r: StabilityAssessment) -> _Swept | None:
    """The worse side swept anew in fine steps; None where it is held nowhere."""
    assert r.boat is not None
    assert r.afloat is not None
    curve = r.worse
    if curve is None or not curve.rights:
        return None
    rest = curve.side * r.afloat.attitude.heel
    last = min(abs(end_of(curve)), KNOCKED_DOWN)
    if last <= rest:
        return None
    try:
        leans, pushes, gained = _fine_sweep(r.boat, curve.side, rest, last)
    except Unsolved:
        return None
    return _Swept(leans, pushes, gained, plain_tests.lever_of_wind(craft, r.afloat, 1.0))


@kept
def _fine_sweep(boat: Righted, side: int, rest: Radians, last: Radians) -> tuple[Floats, Floats, Floats]:
    """Leans, pushes and energies gained (n,) from the rest outward."""
    count = max(8, math.ceil((last - rest) / FINE))
    heels = [side * float(h) for h in np.linspace(rest, last, count + 1)]
    points = righting_curve(hull=boat.hull, displaced=boat.displaced, gravity=boat.gravity, heels=heels, kernel=boat.kernel).points
    gained = np.array([p.energy for p in points]) * boat.share
    return np.array([side * p.heel for p in points]), np.array([side * p.arm for p in points]), gained - gained[0]


@kept
def _pitched(boat: Righted, aft: Metres) -> tuple[Righted, tuple[PitchPoint, ...]]:
    """The boat with its G so far aft of where it is, and its pitch curve, bow down from its rest. Raises Unsolved."""
    x, y, z = boat.gravity
    moved = dataclasses.replace(boat, gravity=(x - aft, y, z))
    start = moved.held(0.0).attitude.trim
    return moved, pitch_curve(moved, [start - STEEPEST * (k / PITCHES) ** 1.5 for k in range(PITCHES + 1)])


def _least_wind(over: Callable[[MetresPerSecond], bool], most: MetresPerSecond = MOST_WIND) -> MetresPerSecond | None:
    """The least wind for which ``over`` holds; None where it does not at the most."""
    return edge(lambda wind: 1.0 if over(wind) else -1.0, 0.0, most, CLOSE) if over(most) else None


def bow_of(craft: Craft) -> Point:
    """The foremost point of the rim."""
    rim = craft.hull.rim
    x, y, z = rim[int(np.argmax(rim[:, 0] + 1e-6 * rim[:, 2]))].tolist()
    return x, y, z


def nose_dive(craft: Craft, listed: Righted, wind: MetresPerSecond, aft: Metres = 0.0) -> NoseDive:
    """Before a wind with all sail, upright, with G so far aft of where it is listed: its trim at that wind, and the wind at which the
    bow goes under, or past which nothing holds it up. Raises Unsolved."""
    area, centre, coefficient = effort(craft.design.sails)
    bow, drive = bow_of(craft), wind_force(wind, area, coefficient)
    boat, points = _pitched(listed, aft)
    pushes = np.array([push_that_holds(p, boat, centre, craft.density) for p in points])
    heights = np.array([p.attitude.height_of(bow) for p in points])
    trims = np.array([p.trim for p in points])
    under = _first_above(-heights)
    last = len(points) - 1 if under is None else under
    if under:  # the step at which it goes under is cut off where the bow meets the water
        share = heights[under - 1] / (heights[under - 1] - heights[under])
        pushes[under] = pushes[under - 1] + share * (pushes[under] - pushes[under - 1])
        trims[under] = trims[under - 1] + share * (trims[under] - trims[under - 1])
        heights[under] = 0.0
    most = int(np.argmax(pushes[: last + 1]))
    one = wind_force(1.0, area, coefficient)
    limit = math.sqrt(max(float(pushes[most]), 0.0) / one)
    if drive >= pushes[most]:
        return NoseDive(drive, None, 0.0, limit)
    trim, height = (float(np.interp(drive, pushes[: most + 1], v[: most + 1])) for v in (trims, heights))
    return NoseDive(drive, trim, height, None if limit >= MOST_WIND else limit)


def _weight_aft(craft: Craft, boat: Righted, wind: MetresPerSecond) -> tuple[tuple[tuple[Metres, NoseDive], ...], str]:
    """The nose dive with the heaviest of the crew, or of what is loose, moved aft in two steps."""
    items = craft.acting
    loose = [k for k, i in enumerate(items) if i.mass_kg > 0 and not i.fixed and not i.structure]
    crew = [k for k in loose if items[k].group == "crew"]
    if not loose:
        return (), ""
    item = items[max(crew or loose, key=lambda k: items[k].mass_kg)]
    room = item.at_m[0] - float(craft.hull.mesh.bounds[0][0])
    out = []
    for share in (0.15, 0.30):
        by = min(share * craft.hull.mesh.length, 0.9 * room)
        if by <= 0:
            continue
        with contextlib.suppress(Unsolved):
            out.append((by, nose_dive(craft, boat, wind, by * item.mass_kg / craft.total.mass)))
    return tuple(out), item.name


def _findings(craft: Craft, r: SailAssessment, wind: MetresPerSecond, gust: Ratio) -> list[Finding]:
    values: dict[str, float | str] = {
        "wind": wind,
        "capsize": r.capsize or MOST_WIND,
        "gusted": r.gusted or MOST_WIND,
        "gust": gust,
        "lead": r.lead,
        "by": abs(r.centre[0] - r.lateral[0]),
    }
    reef = (Remedy("Reef, or less sail, or lower", None), Remedy("See what each cure costs", "stability?tab=cures"))
    if r.capsize is None:
        first = Finding(
            "sail.capsize", "holds", "No wind up to a storm capsizes it", "Steady, abeam, all sail set.", source=MECHANICS, values=values
        )
    else:
        word: Severity = "holds" if (r.gusted or MOST_WIND) > 1.5 * wind else "near" if (r.gusted or MOST_WIND) > wind else "fails"
        text = "Steady and abeam with all sail. A gust {gust:ratio} times as fast throws it over already from {gusted:speed}."
        first = Finding(
            "sail.capsize",
            word,
            "Capsized or laid flat by {capsize:speed}",
            text,
            source=MECHANICS,
            values=values,
            remedies=() if word == "holds" else reef,
        )
    low, high = USUAL_LEAD
    good = low <= r.lead <= high
    title = "Lead {lead:percent} of the waterline" if r.lead >= 0 else "The sail pulls behind the lateral area"
    text = "The centre of effort is {by:length} ahead of the centre of lateral area; 2 to 15 % is usual."
    if r.lead < 0:
        text = "The centre of effort is {by:length} behind the centre of lateral area: strong weather helm."
    move = () if good else (Remedy("Move the mast or the board", None),)
    balance = Finding("sail.lead", "holds" if good else "near", title, text, source=COMMON_PRACTICE, values=values, remedies=move)
    text = "Sails are taken as they are set, sheeted in; waves, a turn and people who hike out are not in this."
    return [first, _dive(r.nose, r.capsize, wind), balance, Finding("sail.still", "note", "In still water", text, source=COMMON_PRACTICE)]


def _dive(nose: NoseDive | None, capsize: MetresPerSecond | None, wind: MetresPerSecond) -> Finding:
    if nose is None:
        text = "Pressed down by the bow no balance was found; what it does before the wind is not known."
        return Finding("sail.nose_unsolved", "near", "Not known how its bow bears", text, source=MECHANICS)
    values: dict[str, float | str] = {
        "wind": wind,
        "drive": nose.drive,
        "trim": 0.0 if nose.trim is None else nose.trim,
        "bow": nose.bow,
        "dives": nose.wind or MOST_WIND,
    }
    if nose.trim is None:
        text = "Before {wind:speed} the sail drives with {drive:force}, more than the bow holds."
        way = (Remedy("Weight aft, a fuller bow, or less or lower sail", None),)
        return Finding(
            "sail.nose_dive", "fails", "The bow goes under before {dives:speed}", text, source=MECHANICS, values=values, remedies=way
        )
    elif nose.wind is None:
        text = "Before {wind:speed} the sail drives with {drive:force}: {trim:trim}, {bow:length} of bow left."
        return Finding("sail.nose_dive", "holds", "The bow stays up before the wind", text, source=MECHANICS, values=values)
    else:
        sooner = capsize is not None and nose.wind < capsize
        text = "Before {wind:speed} the sail drives with {drive:force}: {trim:trim}, {bow:length} of bow left."
        text += " It dives before it would capsize." if sooner else " It would capsize on a reach before that."
        way = (Remedy("Weight aft, a fuller bow, or a lower sail", None),)
        return Finding(
            "sail.nose_dive",
            "near" if sooner else "note",
            "The bow goes under before {dives:speed}",
            text,
            source=MECHANICS,
            values=values,
            remedies=way,
        )
