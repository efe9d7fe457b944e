"""Along the sheer: freeboard on both sides, openings, the water it needs under it, and the waterline to paint."""

from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput, NoRest, Unsolved
from yarekeel.core.findings import Finding
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.hydrostatics.afloat import Afloat, draft_at
from yarekeel.core.hydrostatics.aground import lie_aground
from yarekeel.core.hydrostatics.curves import waterline_at
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Kilograms, Metres, Point
from yarekeel.core.sources import BRIEF, MECHANICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import limit_always

PLACES = 41
PAINTED = 7
"""Places along the hull at which the waterline is given."""


@dataclass(frozen=True, slots=True)
class Standing:
    """An opening and how far it stands above the water."""

    name: str
    at: Point
    height: Metres


@dataclass(frozen=True, slots=True)
class Paint:
    """Where the waterline meets the side at ``x`` from aft: up from the baseline, down from the rim, out from the centreline."""

    x: Metres
    up: Metres
    down: Metres
    out: Metres


@dataclass(frozen=True, slots=True)
class Bottom:
    """The deepest point and the part it is on: so much water it needs to float free."""

    needs: Metres
    at: Point
    part: str


@dataclass(frozen=True, eq=False)
class SheerAssessment:
    """``port`` and ``starboard`` are freeboard (k, 2) as distance from aft and height. ``marks`` are (x, name, draft) of the painted
    marks. ``pressing`` is what the bottom carries where the water asked about is too shallow for it, ``aground`` how it lies there."""

    afloat: Afloat | None
    port: Floats
    starboard: Floats
    openings: tuple[Standing, ...]
    marks: tuple[tuple[Metres, str, Metres], ...]
    paint: tuple[Paint, ...]
    bottom: Bottom | None
    pressing: Kilograms
    aground: Attitude | None
    findings: tuple[Finding, ...]


def assess(craft: Craft, depth: Metres | None = None) -> SheerAssessment:
    """The boat in its load; ``depth`` is that of the water it lies in, None for deep. Raises InvalidInput for no depth at all."""
    if depth is not None and not depth > 0:
        raise InvalidInput("depth", "Water has a depth of more than nothing, for example 120 mm.")
    none = np.zeros((0, 2))
    try:
        afloat = craft.rest()
    except NoRest:
        where = "to the bottom" if depth is None else "and rests on the bottom"
        sunk = Finding("sheer.sinks", "fails", f"It goes down {where}", "It is heavier than the water it can push aside.", source=MECHANICS)
        return SheerAssessment(
            afloat=None,
            port=none,
            starboard=none,
            openings=(),
            marks=(),
            paint=(),
            bottom=None,
            pressing=0.0,
            aground=None,
            findings=(sunk,),
        )
    a = afloat.attitude
    rim = craft.hull.rim
    heights = rim @ np.array(a.up) + a.origin_height
    openings = tuple(sorted((Standing(n, p, a.height_of(p)) for n, p in craft.openings), key=lambda s: s.height))
    marks = craft.marks
    read = [(x, name, draft_at(a, x)) for x, name in ((marks.stern_x_m, "stern mark"), (marks.bow_x_m, "bow mark"))]
    bottom = _bottom(craft, afloat)
    aground, pressing = _aground(craft, afloat, depth) if depth is not None and depth < bottom.needs else (None, 0.0)
    return SheerAssessment(
        afloat=afloat,
        port=_along(rim, heights, 1.0),
        starboard=_along(rim, heights, -1.0),
        openings=openings,
        marks=tuple((x, name, d) for x, name, d in read if d is not None),
        paint=_paint(craft, afloat),
        bottom=bottom,
        pressing=pressing,
        aground=aground,
        findings=_findings(craft, afloat, openings, bottom, depth, aground, pressing),
    )


def _along(rim: Floats, heights: Floats, side: float) -> Floats:
    """Freeboard (k, 2) from aft forward on one side: the lowest of the rim's points in each stretch of the length."""
    mine = side * rim[:, 1] >= -1e-9
    x, h = rim[mine, 0], heights[mine]
    if not len(x):
        return np.zeros((0, 2))
    cell = np.floor((x - x.min()) / max(float(np.ptp(x)), 1e-9) * (PLACES - 1) + 0.5).astype(int)
    out = [(float(x[cell == k].mean()), float(h[cell == k].min())) for k in np.unique(cell)]
    return np.array(out)


def _bottom(craft: Craft, afloat: Afloat) -> Bottom:
    """The lowest point of all, by the bodies one after another."""
    up, above = np.array(afloat.attitude.up), afloat.attitude.origin_height
    best = None
    for n, body in enumerate(craft.design.bodies):
        points = craft.piece(n).vertices
        heights = points @ up + above
        k = int(heights.argmin())
        if best is None or heights[k] < -best.needs - 1e-9:
            x, y, z = points[k].tolist()
            best = Bottom(-float(heights[k]), (x, y, z), body.name)
    assert best is not None  # a boat has at least one body
    return best


@kept
def _aground(craft: Craft, afloat: Afloat, depth: Metres) -> tuple[Attitude | None, Kilograms]:
    """How it lies in water of ``depth``, and what the bottom carries; no attitude where none was found."""
    points = np.vstack([craft.piece(n).vertices for n in range(len(craft.design.bodies))])
    try:
        return lie_aground(
            kernel=craft.kernel,
            points=points,
            mass=afloat.listed,
            gravity=afloat.listed_gravity,
            density=craft.density,
            depth=depth,
            start=afloat.attitude,
        )
    except Unsolved:
        return None, 0.0


def _paint(craft: Craft, afloat: Afloat) -> tuple[Paint, ...]:
    """The waterline at rest, at the marks and between: on an upright boat the two sides are alike."""
    a, mesh = afloat.attitude, craft.hull.mesh
    low, high = mesh.bounds
    inset = 0.03 * float(high[0] - low[0])
    out = []
    for x in np.linspace(low[0] + inset, high[0] - inset, PAINTED).tolist():
        up = draft_at(a, x)
        met = waterline_at(mesh, x, up) if up is not None else None
        if up is not None and met is not None:
            out.append(Paint(x, up, craft.rail_at(x)[1] - up, met[0]))
    return tuple(out)


def _findings(
    craft: Craft,
    afloat: Afloat,
    openings: tuple[Standing, ...],
    bottom: Bottom,
    depth: Metres | None,
    aground: Attitude | None,
    pressing: Kilograms,
) -> tuple[Finding, ...]:
    limit = limit_always(craft.design.brief, "freeboard")
    asked = limit.asked
    x, y, _ = afloat.freeboard_at
    side = "on the centreline" if abs(y) < 1e-6 else "to port" if y > 0 else "to starboard"
    values: dict[str, float | str] = {"free": afloat.freeboard, "asked": asked, "x": x, "side": side, "under": -afloat.freeboard}
    word = limit.severity(afloat.freeboard)
    title = "The rim is {under:length} under" if afloat.freeboard < 0 else "Least freeboard {free:length}"
    out = [
        Finding("sheer.least", word, title, "At {x:length} from aft, {side}; you asked for {asked:length}.", source=BRIEF, values=values)
    ]
    if openings:
        low = openings[0]
        values = {"name": low.name, "height": low.height, "under": -low.height, "asked": asked}
        if low.height <= 0:
            title = "{name} is {under:length} under"
            out.append(Finding("sheer.opening", "fails", title, "The boat fills through it.", source=MECHANICS, values=values))
        else:
            word = limit.severity(low.height)
            out.append(
                Finding(
                    "sheer.opening",
                    word,
                    "{name} is lowest, {height:length} out",
                    "You asked for {asked:length}.",
                    source=BRIEF,
                    values=values,
                )
            )
    values = {"needs": bottom.needs, "part": bottom.part, "x": bottom.at[0], "pressing": pressing, "depth": depth or 0.0}
    if depth is None:
        out.append(
            Finding(
                "sheer.bottom",
                "note",
                "It needs {needs:length} of water",
                "{part} is deepest, {x:length} from aft.",
                source=MECHANICS,
                values=values,
            )
        )
    elif depth < bottom.needs:
        text = "It touches with {part} first, {x:length} from aft."
        if aground is not None:
            values |= {"trim": aground.trim, "heel": aground.heel}
            text += " The bottom carries {pressing:mass} of it, and it lies {trim:trim}, {heel:heel}."
        out.append(Finding("sheer.aground", "fails", "Aground in {depth:length} of water", text, source=MECHANICS, values=values))
    else:
        text = "{part} is deepest and needs {needs:length}."
        out.append(Finding("sheer.bottom", "holds", "It floats free in {depth:length}", text, source=MECHANICS, values=values))
    return tuple(out)
