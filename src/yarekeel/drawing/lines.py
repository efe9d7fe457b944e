"""The lines of a hull: profile, plan, body plan and the curve of section areas, upright on its baseline."""

import json
import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats, Ints
from yarekeel.core.geometry.sections import sections
from yarekeel.core.hydrostatics.form import Form, StationFigures, station_figures
from yarekeel.core.quantities import Metres, Point
from yarekeel.drawing import svg
from yarekeel.drawing.view import ABOVE, STARBOARD, View, far_to_near, outline_of_part

WIDTH = 784.0
LEFT, TOP = 30.0, 30.0
PLAN_GAP, AREA_GAP, AREA_HEIGHT = 46.0, 26.0, 52.0
LEVEL = Attitude(0.0, 0.0, 0.0)
Say = Callable[[float, str], str]


@dataclass(frozen=True)
class Grid:
    """Where the hull is cut: metres along each axis, and which station is looked at."""

    stations: tuple[Metres, ...]
    waterlines: tuple[Metres, ...]
    buttocks: tuple[Metres, ...]
    chosen: int


def grid_of(hull: Hull, stations: int, waterline: Metres, buttock: Metres, chosen: int | None) -> Grid:
    """Even stations, the ends drawn in a little; waterlines and buttocks at their spacing from baseline and centreline."""
    low, high = hull.mesh.bounds
    inset = 0.01 * float(high[0] - low[0])
    x = np.linspace(float(low[0]) + inset, float(high[0]) - inset, stations)
    z = np.arange(float(low[2]) + waterline, float(high[2]) - 1e-9, waterline)[:MOST_LINES]
    widest = max(abs(float(low[1])), abs(float(high[1])))
    y = np.arange(buttock, widest - 1e-9, buttock)[:MOST_LINES]
    return Grid(tuple(x.tolist()), tuple(z.tolist()), tuple(y.tolist()), min(stations - 1, stations // 2 if chosen is None else chosen))


def usual_grid(hull: Hull) -> Grid:
    """Nine stations, waterlines and buttocks at round spacings of the hull's own height and half breadth."""
    low, high = hull.mesh.bounds
    _, beam, height = (float(v) for v in high - low)
    return grid_of(hull, 9, nice_spacing(height), nice_spacing(beam / 2), None)


RIM_GAP = 0.1
"""Of the length: points of a rim further apart are not joined."""
MOST_LINES = 40
"""Waterlines or buttocks drawn; a finer spacing is cut off there."""


@dataclass(frozen=True)
class _Sheet:
    """Scales and places of the views on the page."""

    scale: float
    left: float
    base: float
    plan: float
    areas: float
    height: float
    centre: float
    body_scale: float
    body_base: float
    low: tuple[float, float, float]
    high: tuple[float, float, float]


def _sheet(hull: Hull) -> _Sheet:
    low, high = ((float(v[0]), float(v[1]), float(v[2])) for v in hull.mesh.bounds)
    length, beam, depth = (high[k] - low[k] for k in range(3))
    room = 304.0 - TOP - PLAN_GAP - AREA_GAP - AREA_HEIGHT
    scale = min(480.0 / length, room / (depth + beam), 232.0 / beam)
    left = LEFT - low[0] * scale
    base = TOP + 12 + depth * scale
    plan = base + PLAN_GAP - 12 + high[1] * scale
    areas = plan - low[1] * scale + AREA_GAP + AREA_HEIGHT
    x_end = left + high[0] * scale
    wide = WIDTH - x_end - 60.0
    height = max(areas + 22.0, 270.0)
    body_scale = min(wide / beam, (height - 130.0) / depth)
    return _Sheet(
        scale=scale,
        left=left,
        base=base,
        plan=plan,
        areas=areas,
        height=height,
        centre=x_end + 42.0 + wide / 2,
        body_scale=body_scale,
        body_base=TOP + 22 + depth * body_scale,
        low=low,
        high=high,
    )


def draw(
    hull: Hull,
    grid: Grid,
    say: Say,
    *,
    form: Form | None,
    floating: Attitude | None,
    ghost: Hull | None,
    unit: tuple[float, str, int],
    openings: tuple[tuple[str, Point], ...] = (),
) -> str:
    """The sheet. ``ghost`` is the hull as a parameter would change it, drawn over it; ``unit`` is metres a shown unit, its
    label and its decimals, for reading under the pointer; ``openings`` are names and places in the boat's axes."""
    figures = station_figures(hull, grid.stations[grid.chosen], floating)
    rim, drawn = hull.found_rim, hull
    hull = hull.sketch
    s = _sheet(hull)
    pieces, _, place = sections(hull.mesh, 0, np.array(grid.stations))
    x_end = s.left + s.high[0] * s.scale
    size = f"{say(s.high[0] - s.low[0], 'length')} long, {say(s.high[1] - s.low[1], 'length')} wide"
    parts = [
        svg.text(14.0, 22.0, "Profile", "tank-title"),
        svg.text(14.0, s.base + 25, "Plan", "tank-title"),
        svg.text(s.centre - 110, 22.0, "Sections", "tank-title"),
        *_lattice(s, grid, x_end),
        _outline(drawn, View(side=STARBOARD, attitude=LEVEL, scale=s.scale, left=s.left, top=s.base + s.low[2] * s.scale), "lines-hull"),
        *_cuts(hull, grid.buttocks, 1, lambda p: _profile(s, p), "lines-buttock"),
        _outline(drawn, View(side=ABOVE, attitude=LEVEL, scale=s.scale, left=s.left, top=s.plan), "lines-hull"),
        *_cuts(hull, grid.waterlines, 2, lambda p: _plan(s, p), "lines-water"),
        *_body_plan(pieces, place, grid, s),
        *(_rim(rim.points, s) if rim else []),
        *_surface(s, floating, x_end),
        *_areas(s, form, x_end, say),
        *([] if ghost is None else _ghost(ghost, hull, grid, s)),
        *_chosen(pieces=pieces[place == grid.chosen], grid=grid, s=s, say=say, figures=figures),
        *_openings(openings, s),
        svg.text(x_end - 4, s.base + 25, size, "tank-note", "end"),
        svg.text(s.centre - 110, s.body_base + 22, "left: amidships to stern", "tank-note"),
        svg.text(s.centre - 110, s.body_base + 38, "right: amidships to bow", "tank-note"),
    ]
    label = "Lines: profile, plan, sections and curve of section areas. Arrow keys step through the sections."
    asks = {"data_views": json.dumps(_views(s, x_end, unit)), "data_section": grid.chosen, "data_sections": len(grid.stations)}
    return svg.svg(WIDTH, s.height, parts, label, "lines", tabindex=0, **asks)


def _profile(s: _Sheet, p: Floats) -> Floats:
    return np.stack([s.left + s.scale * p[..., 0], s.base - s.scale * (p[..., 2] - s.low[2])], axis=-1)


def _plan(s: _Sheet, p: Floats) -> Floats:
    return np.stack([s.left + s.scale * p[..., 0], s.plan - s.scale * p[..., 1]], axis=-1)


def _body(s: _Sheet, p: Floats) -> Floats:
    return np.stack([s.centre - s.body_scale * p[..., 1], s.body_base - s.body_scale * (p[..., 2] - s.low[2])], axis=-1)


def _lattice(s: _Sheet, grid: Grid, x_end: float) -> list[str]:
    """The straight lines that each view shows of the cuts seen edge on."""
    top, x0 = s.base - s.scale * (s.high[2] - s.low[2]), s.left + s.scale * s.low[0]
    low, high = s.plan - s.scale * s.low[1], s.plan - s.scale * s.high[1]
    d = [f"M{s.left + s.scale * x:.1f} {top - 4:.1f}V{s.base:.1f}M{s.left + s.scale * x:.1f} {high:.1f}V{low:.1f}" for x in grid.stations]
    d += [f"M{x0:.1f} {s.base - s.scale * (z - s.low[2]):.1f}H{x_end:.1f}" for z in grid.waterlines]
    d += [f"M{x0:.1f} {s.plan - side * s.scale * y:.1f}H{x_end:.1f}" for y in grid.buttocks for side in (1, -1)]
    half = s.body_scale * max(s.high[1], -s.low[1])
    d += [f"M{s.centre - half:.1f} {s.body_base - s.body_scale * (z - s.low[2]):.1f}H{s.centre + half:.1f}" for z in grid.waterlines]
    return [
        svg.path("".join(d), "lines-grid"),
        svg.line(14.0, s.base, x_end + 14, s.base, "baseline"),
        svg.line(14.0, s.plan, x_end + 14, s.plan, "baseline"),
        svg.line(s.centre, s.body_base + 6, s.centre, TOP + 8, "baseline"),
    ]


def _outline(hull: Hull, view: View, class_: str) -> str:
    """Every piece's outline and creases, far ones first."""
    out = ""
    for part in far_to_near(hull.drawn, view):
        rounds, seen = outline_of_part(part, view)
        outline = "".join(svg.path_of(one, closed=True) for one in rounds)
        edges, page = part.edges, view.page(part.mesh.vertices)
        crease = edges.is_crease & seen[edges.left] & seen[edges.right]
        out += svg.path(outline, class_) + svg.path(svg.segments_of(page[edges.points[crease]]), "lines-crease")
    return out


def _rim(points: Floats, s: _Sheet) -> list[str]:
    """A rim that was found, in profile and plan: lines between neighbours along it."""
    runs = np.split(points, np.flatnonzero(np.linalg.norm(np.diff(points, axis=0), axis=1) > RIM_GAP * (s.high[0] - s.low[0])) + 1)
    d = "".join(svg.path_of(page(s, run), closed=False) for run in runs if len(run) > 1 for page in (_profile, _plan))
    return [svg.path(d, "lines-rim")]


def _cuts(hull: Hull, places: tuple[Metres, ...], axis: int, page: Callable[[Floats], Floats], class_: str) -> list[str]:
    pieces, _, _ = sections(hull.mesh, axis, np.array(places))
    return [svg.path(svg.segments_of(page(pieces)), class_)]


def _half(pieces: Floats, numbers: Ints, middle: float) -> Floats:
    """Pieces of the stations ``numbers``: after stations show their port half, to the left seen from astern; fore stations
    their starboard half. A piece that crosses the centreline is cut there; the station amidships stays whole."""
    side = np.sign(middle - numbers)
    y = pieces[..., 1] * side[:, None]
    keep = y.max(axis=1) >= -1e-12
    pieces, y = pieces[keep], y[keep]
    across = np.flatnonzero((y < 0).any(axis=1))
    part = (y[across] / (y[across] - y[across, ::-1]))[..., None]
    cut = pieces[across] + part * (pieces[across, ::-1] - pieces[across])
    pieces[across] = np.where((y[across] < 0)[..., None], cut, pieces[across])
    return pieces


def _body_plan(pieces: Floats, place: Ints, grid: Grid, s: _Sheet) -> list[str]:
    middle = (len(grid.stations) - 1) / 2
    apart = place == middle
    return [
        svg.line(s.centre - 60, s.body_base, s.centre + 60, s.body_base, "baseline"),
        svg.path(svg.segments_of(_body(s, _half(pieces[~apart], place[~apart], middle))), "section"),
        svg.path(svg.segments_of(_body(s, pieces[apart])), "section-mid"),
    ]


def _surface(s: _Sheet, floating: Attitude | None, x_end: float) -> list[str]:
    """Where the water's surface lies on the hull, in profile and on the sections amidships."""
    if floating is None or abs(floating.up[2]) < 0.1:
        return []
    ux, uy, uz = floating.up

    def height(x: float, y: float) -> float:
        return -(floating.origin_height + ux * x + uy * y) / uz

    x0, x1 = s.low[0], s.high[0]
    a, b = (s.base - s.scale * (height(x, 0.0) - s.low[2]) for x in (x0, x1))
    middle, half = (x0 + x1) / 2, max(s.high[1], -s.low[1])
    c, d = (s.body_base - s.body_scale * (height(middle, y) - s.low[2]) for y in (half, -half))
    return [
        svg.line(s.left + s.scale * x0 - 12, a, x_end + 12, b, "lines-afloat"),
        svg.line(s.centre - s.body_scale * half - 8, c, s.centre + s.body_scale * half + 8, d, "lines-afloat"),
    ]


def _areas(s: _Sheet, form: Form | None, x_end: float, say: Say) -> list[str]:
    if form is None or form.midship_area <= 0:
        return []
    x = s.left + s.scale * (form.after_end + form.stations)
    y = s.areas - AREA_HEIGHT * form.areas / form.midship_area
    points = np.concatenate([[[x[0], s.areas]], np.stack([x, y], axis=1), [[x[-1], s.areas]]])
    peak = int(form.areas.argmax())
    return [
        svg.line(14.0, s.areas, x_end + 14, s.areas, "baseline"),
        svg.path(svg.path_of(points, closed=True), "areas-fill"),
        svg.path(svg.path_of(points), "areas-line"),
        svg.text(14.0, s.areas + 16, f"Section areas under water; largest {say(form.midship_area, 'section')}", "tank-note"),
        svg.line(float(x[peak]), float(y[peak]), float(x[peak]), s.areas, "areas-peak"),
    ]


def _ghost(ghost: Hull, hull: Hull, grid: Grid, s: _Sheet) -> list[str]:
    """The changed hull over the sheet, where it differs: of the same mesh only what moved, of another mesh all of it."""
    other = ghost.sketch
    same = np.array_equal(other.mesh.faces, hull.mesh.faces)
    shift = np.abs(other.mesh.vertices - hull.mesh.vertices).max(axis=1) if same else np.ones(len(other.mesh.vertices))
    moved = shift > 1e-7
    middle = (len(grid.stations) - 1) / 2
    edges = other.edges
    out = []
    for view in (
        View(side=STARBOARD, attitude=LEVEL, scale=s.scale, left=s.left, top=s.base + s.low[2] * s.scale),
        View(side=ABOVE, attitude=LEVEL, scale=s.scale, left=s.left, top=s.plan),
    ):
        seen = other.mesh.normals @ np.asarray(view.towards) > 1e-9
        drawn = edges.is_crease | (seen[edges.left] != seen[edges.right])
        drawn &= moved[edges.points].any(axis=1) & (seen[edges.left] | seen[edges.right])
        out.append(svg.path(svg.segments_of(view.page(other.mesh.vertices)[edges.points[drawn]]), "ghost"))
    low, high = other.mesh.bounds
    at = np.clip(grid.stations, float(low[0]) + 1e-6, float(high[0]) - 1e-6)
    pieces, faces, place = sections(other.mesh, 0, at)
    changed = moved[other.mesh.faces[faces]].any(axis=1)
    out.append(svg.path(svg.segments_of(_body(s, _half(pieces[changed], place[changed], middle))), "ghost"))
    return [svg.element("g", *out, class_="ghosts")]


def _chosen(pieces: Floats, grid: Grid, s: _Sheet, say: Say, figures: StationFigures) -> list[str]:
    """The station looked at, in all views, and its figures."""
    x = grid.stations[grid.chosen]
    at = s.left + s.scale * x
    top, low, high = s.base - s.scale * (s.high[2] - s.low[2]), s.plan - s.scale * s.low[1], s.plan - s.scale * s.high[1]
    words = f"Station {grid.chosen}, {say(figures.from_aft, 'length')} from aft"
    words += f": {say(figures.width, 'length')} wide, {say(figures.depth, 'length')} deep"
    if figures.under_water is not None:
        words += f", {say(figures.under_water, 'section')} under water"
    upright = (f"M{at:.1f} {a - 5:.1f}V{b + 5:.1f}" for a, b in ((top, s.base), (high, low), (s.areas - AREA_HEIGHT, s.areas)))
    return [
        svg.path("".join(upright), "lines-chosen"),
        svg.path(svg.segments_of(_body(s, pieces)), "lines-chosen lines-chosen-body"),
        svg.text(WIDTH - 10, s.height - 8, words, "lines-words", "end"),
    ]


def _openings(openings: tuple[tuple[str, Point], ...], s: _Sheet) -> list[str]:
    """Each opening as a ring in the three views, its name on it."""
    out = []
    for name, place in openings:
        at = np.array(place)
        spots = (_profile(s, at), _plan(s, at), _body(s, at))
        rings = (svg.element("circle", cx=float(x), cy=float(y), r=4.0, class_="opening") for x, y in spots)
        out.append(svg.element("g", svg.element("title", name), *rings))
    return out


def _views(s: _Sheet, x_end: float, unit: tuple[float, str, int]) -> dict[str, object]:
    """For reading under the pointer: each view's box on the page, and page to metres across and up."""
    per, label, decimals = unit
    beam = max(s.high[1], -s.low[1])
    keel, foot = s.base + s.low[2] * s.scale, s.body_base + s.low[2] * s.body_scale
    side, under = x_end + 16, s.plan - s.low[1] * s.scale + 8
    rooms: list[tuple[str | float, ...]] = [
        ("profile", 0.0, TOP - 6, side, s.base + 8, s.left, keel, s.scale, "from aft", "up", 1),
        ("plan", 0.0, s.base + 8, side, under, s.left, s.plan, s.scale, "from aft", "to port", 1),
        ("body", s.centre - s.body_scale * beam - 14, TOP, WIDTH, s.body_base + 8, s.centre, foot, s.body_scale, "to port", "up", -1),
    ]
    names = ("name", "x0", "y0", "x1", "y1", "ox", "oy", "scale", "across", "up", "sign")
    rounded = [{k: round(v, 2) if isinstance(v, float) else v for k, v in zip(names, room, strict=True)} for room in rooms]
    return {"views": rounded, "per": per, "unit": label, "decimals": decimals}


def nice_spacing(extent: Metres, most: int = 6) -> Metres:
    """The smallest round spacing (1, 2, 2.5 or 5 times a power of ten, metres) that gives at most ``most`` spaces."""
    least = extent / most
    power = 10.0 ** math.floor(math.log10(least))
    return next(m * power for m in (1, 2, 2.5, 5, 10) if m * power >= least * (1 - 1e-9))
