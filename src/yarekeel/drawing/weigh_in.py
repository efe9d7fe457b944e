"""How each way of weighing is set up, drawn with this boat: what carries it, and what is measured from where to where."""

import math
from collections.abc import Callable

import numpy as np

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.quantities import Metres, Point
from yarekeel.core.weights.weigh_in import WeighIn
from yarekeel.drawing import svg
from yarekeel.drawing.view import ASTERN, STARBOARD, View, hull_drawing

WIDTH, HEIGHT = 470.0, 236.0
BENCH_AT = 192.0
SHOWN_ANGLE = 25.0
"""Degrees drawn before an angle was read."""
Say = Callable[[float, str], str]


def draw(method: str, hull: Hull, readings: WeighIn, centre: Point, say: Say) -> str:
    """The drawing of ``method``: scale, two, edge, side, tip, raise or hang. Where nothing was read a likely place is drawn."""
    how, parts = _METHODS[method]
    return svg.svg(WIDTH, HEIGHT, parts(hull, readings, centre, say), how, "rig")


def words(method: str) -> str:
    """How it is done, in a sentence."""
    return _METHODS[method][0]


def _bench(low: float = 20.0, high: float = WIDTH - 20.0) -> str:
    return svg.line(low, BENCH_AT, high, BENCH_AT, "rig-bench")


def _view(hull: Hull, side: str, heel: float = 0.0, trim: float = 0.0, room: float = 100.0) -> View:
    """The boat at an attitude in ``room`` px of height, its lowest point at 0 of the page's."""
    attitude = Attitude(heel, trim, 0.0)
    size = View(side=side, attitude=attitude, scale=1.0, left=0.0, top=0.0).page(hull.sketch.mesh.vertices)
    scale = min(330.0 / float(np.ptp(size[:, 0])), room / float(np.ptp(size[:, 1])))
    page = size * scale
    middle = float(page[:, 0].min() + page[:, 0].max()) / 2
    return View(side=side, attitude=attitude, scale=scale, left=WIDTH / 2 - middle, top=-float(page[:, 1].max()))


def _down(view: View, by: float) -> View:
    return View(side=view.side, attitude=view.attitude, scale=view.scale, left=view.left, top=view.top + by)


def _keel(hull: Hull, axis: int, at: Metres) -> Metres:
    """Height of the hull's underside, level, near a place along an axis."""
    v = hull.sketch.mesh.vertices
    low, high = (float(b[axis]) for b in hull.mesh.bounds)
    near = v[abs(v[:, axis] - at) <= 0.06 * (high - low)]
    return float((near if len(near) else v)[:, 2].min())


def _support(x: float, y: float, words: str, on_scale: bool) -> list[str]:
    """A wedge from the bench, or from a scale on it, up to a point of the hull."""
    top = BENCH_AT - 13.0 if on_scale else BENCH_AT
    out = [svg.path(f"M{x:.1f} {y:.1f}L{x - 8:.1f} {top:.1f}h16z", "rig-wedge")]
    if on_scale:
        out.append(svg.path(f"M{x - 26:.1f} {top:.1f}h52v13h-52z", "rig-scale"))
    return [*out, svg.text(x, BENCH_AT + 15, words, "rig-words", "middle")]


def _measure(x1: float, x2: float, y: float, words: str) -> list[str]:
    """A dimension across the page."""
    d = f"M{x1:.1f} {y - 5:.1f}v10M{x2:.1f} {y - 5:.1f}v10M{x1:.1f} {y:.1f}H{x2:.1f}"
    if abs(x2 - x1) < 7.5 * len(words):  # beside it where it does not fit
        return [svg.path(d, "dim"), svg.text(max(x1, x2) + 7, y + 4, words, "dim-text")]
    return [svg.path(d, "dim"), svg.text((x1 + x2) / 2, y - 4, words, "dim-text", "middle")]


def _or(value: float | None, other: float) -> float:
    return other if value is None else value


def _likely(beside: float, over: float) -> float:
    """Degrees at which the listed centre comes plumb with the edge or the point."""
    return math.degrees(math.atan2(abs(beside), over)) if over > 0 else SHOWN_ANGLE


def _place(value: float | None, say: Say) -> str:
    return "measure" if value is None else say(abs(value), "length")


def _said(name: str, value: float | None, kind: str, say: Say) -> str:
    return name if value is None else f"{name} {say(value, kind)}"


def _scale(hull: Hull, r: WeighIn, centre: Point, say: Say) -> list[str]:
    view = _down(_view(hull, STARBOARD), BENCH_AT - 30)
    x, _ = view.point((centre[0], 0.0, 0.0))
    box = svg.path(f"M{x - 60:.1f} {BENCH_AT - 30:.1f}h120v30h-120z", "rig-scale")
    words = svg.text(x, BENCH_AT - 9, _said("all up", r.mass_kg, "mass", say), "rig-words", "middle")
    return [hull_drawing(hull, view, False), box, words, _bench()]


def _two(hull: Hull, r: WeighIn, centre: Point, say: Say) -> list[str]:
    low, high = (float(b[0]) for b in hull.mesh.bounds)
    aft, fore = _or(r.aft_x_m, low + 0.15 * (high - low)), _or(r.fore_x_m, low + 0.8 * (high - low))
    lift = 46.0
    view = _down(_view(hull, STARBOARD), BENCH_AT - lift)
    parts = [hull_drawing(hull, view, False)]
    for at, name, kg in ((aft, "aft", r.aft_kg), (fore, "fore", r.fore_kg)):
        x, y = view.point((at, 0.0, _keel(hull, 0, at)))
        parts += _support(x, y, _said(f"{name} scale", kg, "mass", say), True)
    x0, _ = view.point((0.0, 0.0, 0.0))
    (xa, _), (xf, _) = view.point((aft, 0.0, 0.0)), view.point((fore, 0.0, 0.0))
    parts += _measure(x0, xa, 36, _place(r.aft_x_m, say)) + _measure(x0, xf, 16, f"from aft: {_place(r.fore_x_m, say)}")
    return [*parts, _bench()]


def _edge(hull: Hull, r: WeighIn, centre: Point, say: Say) -> list[str]:
    at = _or(r.edge_x_m, centre[0])
    view = _down(_view(hull, STARBOARD), BENCH_AT - 36)
    x, y = view.point((at, 0.0, _keel(hull, 0, at)))
    x0, _ = view.point((0.0, 0.0, 0.0))
    parts = [hull_drawing(hull, view, False), *_support(x, y, "edge across the boat", False), _bench()]
    return [*parts, *_measure(x0, x, 20, f"from aft: {_place(r.edge_x_m, say)}")]


def _side(hull: Hull, r: WeighIn, centre: Point, say: Say) -> list[str]:
    low, high = (float(b[1]) for b in hull.mesh.bounds)
    port, starboard = _or(r.port_y_m, 0.6 * high), _or(r.starboard_y_m, 0.6 * low)
    view = _down(_view(hull, ASTERN), BENCH_AT - 46)
    parts = [hull_drawing(hull, view, False)]
    for at, name, kg in ((port, "port", r.port_kg), (starboard, "starboard", r.starboard_kg)):
        x, y = view.point((0.0, at, _keel(hull, 1, at)))
        parts += _support(x, y, _said(f"{name} scale", kg, "mass", say), True)
    x0, _ = view.point((0.0, 0.0, 0.0))
    for at, read in ((port, r.port_y_m), (starboard, r.starboard_y_m)):
        x, _ = view.point((0.0, at, 0.0))
        parts += _measure(x0, x, 34.0, _place(read, say))
    parts.append(svg.path(f"M{x0:.1f} 20V{BENCH_AT:.1f}", "rig-plumb"))
    return [*parts, _bench()]


def _tip(hull: Hull, r: WeighIn, centre: Point, say: Say) -> list[str]:
    low, _ = hull.mesh.bounds
    edge_y, edge_z = _or(r.tip_y_m, 0.8 * float(low[1])), _or(r.tip_z_m, float(low[2]))
    likely = _likely(centre[1] - edge_y, centre[2] - edge_z)
    angle = math.radians(_or(r.tip_deg, likely)) * (1 if edge_y < centre[1] else -1)
    view = _view(hull, ASTERN, heel=angle, room=140.0)
    _, y = view.point((0.0, edge_y, edge_z))
    view = _down(view, BENCH_AT - 16 - y)
    x, y = view.point((0.0, edge_y, edge_z))
    gx, gy = view.point((0.0, centre[1], centre[2]))
    words = f"tipped {r.tip_deg:g}°" if r.tip_deg is not None else "tipped until it balances"
    parts = [hull_drawing(hull, view, False), svg.path(f"M{x:.1f} {y:.1f}V20", "rig-plumb"), *_support(x, y, "edge along the boat", False)]
    parts += [svg.quartered(gx, gy, 7.0), svg.text(14, 24, words, "dim-text"), _bench()]
    return parts


def _raise(hull: Hull, r: WeighIn, centre: Point, say: Say) -> list[str]:
    low, high = (float(b[0]) for b in hull.mesh.bounds)
    aft, fore = _or(r.aft_x_m, low + 0.15 * (high - low)), _or(r.fore_x_m, low + 0.8 * (high - low))
    rise = _or(r.rise_m, 0.3 * (fore - aft))
    angle = math.asin(max(-0.7, min(0.7, rise / (fore - aft)))) if fore > aft else 0.3
    base = float(hull.mesh.bounds[0][2])
    z = _or(r.support_z_m, base)
    view = _view(hull, STARBOARD, trim=angle, room=120.0)
    _, y = view.point((aft, 0.0, z))
    view = _down(view, BENCH_AT - 20 - y)
    parts = [hull_drawing(hull, view, False)]
    for at, name in ((aft, "aft support"), (fore, _said("fore scale", r.raised_kg, "mass", say))):
        x, y = view.point((at, 0.0, z))
        parts += _support(x, y, name, at == fore)
    words = f"raised by: {_place(r.rise_m, say)}"
    return [*parts, svg.text(14, 24, words, "dim-text"), _bench()]


def _hang(hull: Hull, r: WeighIn, centre: Point, say: Say) -> list[str]:
    high = float(hull.mesh.bounds[1][2])
    at, z = _or(r.hang_x_m, centre[0] - 0.1 * hull.mesh.length), _or(r.hang_z_m, high)
    angle = math.radians(_or(r.hang_deg, _likely(centre[0] - at, z - centre[2]))) * (1 if centre[0] > at else -1)
    view = _down(_view(hull, STARBOARD, trim=-angle, room=185.0), 214.0)
    x, y = view.point((at, 0.0, z))
    gx, gy = view.point((centre[0], 0.0, centre[2]))
    words = f"hangs at {r.hang_deg:g}°" if r.hang_deg is not None else "hung from one point"
    parts = [hull_drawing(hull, view, False), svg.path(f"M{x:.1f} 6V{y:.1f}", "rig-string"), svg.path(f"M{x:.1f} {y:.1f}V224", "rig-plumb")]
    return [*parts, svg.quartered(gx, gy, 7.0), svg.text(14, 24, words, "dim-text")]


_METHODS: dict[str, tuple[str, Callable[[Hull, WeighIn, Point, Say], list[str]]]] = {
    "scale": ("The whole boat on one scale, tared before; read it when it has settled.", _scale),
    "two": ("Level on two narrow supports, each on its scale: read both, and measure where the supports stand.", _two),
    "edge": ("Slide the boat on one edge until it just balances.", _edge),
    "side": ("From astern, level on two supports either side of the centreline.", _side),
    "tip": ("From astern: tip it over a lengthwise edge until it balances, and read the angle. Two hold it; keep fingers clear.", _tip),
    "raise": ("The fore support raised by a measured height: read its scale again.", _raise),
    "hang": ("Hung from one point: the centre comes plumb under it.", _hang),
}
