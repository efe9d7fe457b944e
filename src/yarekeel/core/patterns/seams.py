"""Where panels meet: how long their seams are, at what angle a sheet is folded there, and where holes for stitches go; and how the ends
lean."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.formulas import formula
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.geometry.sections import flat_area
from yarekeel.core.patterns.panels import Panel
from yarekeel.core.quantities import Degrees, Metres, Ratio
from yarekeel.core.sources import COMMON_PRACTICE

ON_MIDDLE: Metres = 1e-4
HIGH: Ratio = 0.4
"""Of the hull's height: a free edge over that, along an open hull, is its sheer."""
NEUTRAL: Ratio = 0.4
"""Of the thickness, from the inner side: the fibre that a bend leaves as long as it was (common practice: 0.33 sharp to 0.5 wide)."""
UPRIGHT: Degrees = 0.5
"""An end that leans less is upright."""
MOST_STITCHES = 2000


@dataclass(frozen=True, slots=True)
class Seam:
    """A seam: what it is ("chine", "keel", "sheer" or "end"), between which panels, how long, and by how much the sheet turns there."""

    kind: str
    panels: tuple[str, ...]
    length: Metres
    turn: Degrees
    pair: bool
    """Whether it is on both sides."""


def _points(corners: Floats) -> list[tuple[float, ...]]:
    return [tuple((np.round(c, 6) + 0.0).tolist()) for c in corners]


def _edges(panels: Sequence[Panel], *, both_sides: bool = False) -> dict[frozenset[tuple[float, ...]], list[Panel]]:
    """Which panels have an edge, by its ends; with ``both_sides`` the other one of a pair too."""
    owners: dict[frozenset[tuple[float, ...]], list[Panel]] = {}
    for p in panels:
        for corners in (p.corners, p.corners * [1.0, -1.0, 1.0]) if both_sides and p.pair else (p.corners,):
            points = _points(corners)
            for a, b in zip(points, points[1:] + points[:1], strict=True):
                owners.setdefault(frozenset((a, b)), []).append(p)
    return owners


def seams_of(mesh: Mesh, panels: Sequence[Panel], *, open_top: bool) -> tuple[Seam, ...]:
    """The seams of a hull's panels, the longest first."""
    low, high = float(mesh.bounds[0][2]), float(mesh.bounds[1][2])
    normals = {id(p): _normal_at(mesh, p) for p in panels}
    found: dict[tuple[str, tuple[str, ...], bool], list[tuple[Metres, Degrees]]] = {}
    for edge, own in _edges(panels).items():
        if len(edge) != 2:
            continue
        first, second = (np.asarray(v, dtype=np.float64) for v in edge)
        kind = _kind(own, first, second, open_top=open_top, sheer=low + HIGH * (high - low))
        if not kind:
            continue
        middle = (first + second) / 2
        turn = 0.0
        if len(own) == 2:
            one, other = (normals[id(p)](middle) for p in own)
            turn = math.degrees(math.acos(float(np.clip(one @ other, -1.0, 1.0))))
        key = (kind, tuple(sorted({p.name for p in own})), any(p.pair for p in own) and kind != "keel")
        found.setdefault(key, []).append((float(np.linalg.norm(first - second)), turn))
    out = []
    for (kind, names, pair), each in found.items():
        total = sum(v for v, _ in each)
        out.append(Seam(kind, names, total, sum(v * t for v, t in each) / total, pair))
    return tuple(sorted(out, key=lambda s: -s.length))


def _normal_at(mesh: Mesh, panel: Panel) -> Callable[[Floats], Floats]:
    faces = np.array(panel.faces)
    centres, normals = mesh.centres[faces], mesh.normals[faces]

    def of(at: Floats) -> Floats:
        return np.asarray(normals[int(np.argmin(((centres - at) ** 2).sum(axis=1)))])

    return of


def _kind(own: list[Panel], a: Floats, b: Floats, *, open_top: bool, sheer: Metres) -> str:
    ends = any(p.name.startswith("end") for p in own)
    if len(own) == 2 and own[0] is not own[1]:
        return "end" if ends else "chine"
    if ends:
        return ""
    if abs(float(a[1])) < ON_MIDDLE and abs(float(b[1])) < ON_MIDDLE:
        return "keel"
    along = abs(float(a[0] - b[0])) > abs(float(a[1] - b[1]))
    high = max(float(a[2]), float(b[2])) > sheer
    return "sheer" if open_top and along and high and own[0].name.startswith("side") else ""


@formula("BA = pi / 180 · A (r + K t)", COMMON_PRACTICE, "sheet metal; K = 0.33 for sharp bends to 0.5 for wide ones")
def bend_allowance(turn: Degrees, radius: Metres, thickness: Metres, neutral: Ratio = NEUTRAL) -> Metres:
    """How much of a sheet a bend takes, along its neutral fibre: ``turn`` is by how much the sheet is bent, ``radius`` its inner side."""
    return math.radians(turn) * (radius + neutral * thickness)


@formula("BD = 2 (r + t) tan(A / 2) - BA", COMMON_PRACTICE, "sheet metal, bent by less than 180°")
def bend_deduction(turn: Degrees, radius: Metres, thickness: Metres, neutral: Ratio = NEUTRAL) -> Metres:
    """How much shorter the flat sheet is than both outer faces measured to where they would meet."""
    return 2 * (radius + thickness) * math.tan(math.radians(turn) / 2) - bend_allowance(turn, radius, thickness, neutral)


def lean_of_end(mesh: Mesh, panel: Panel) -> Degrees:
    """How far the end of a hull leans from upright: over 0 its top is further out than its foot."""
    x, _, z = mesh.area_vectors[np.array(panel.faces)].sum(axis=0).tolist()
    return math.degrees(math.atan2(-z, abs(x)))


@dataclass(frozen=True, slots=True)
class Fold:
    """A seam that is folded: how much of the sheet the bend takes, and by how much the flat sheet is shorter than both outer faces."""

    seam: Seam
    takes: Metres
    less: Metres


def folds_of(seams: Sequence[Seam], radius: Metres, thickness: Metres) -> tuple[Fold, ...]:
    """The chines and ends as folds of a sheet. Raises InvalidInput for a radius or a thickness that is none."""
    if radius < 0 or thickness <= 0:
        raise InvalidInput("bend", "A radius and a thickness are more than nothing.")
    folded = [s for s in seams if s.kind in ("chine", "end")]
    return tuple(Fold(s, bend_allowance(s.turn, radius, thickness), bend_deduction(s.turn, radius, thickness)) for s in folded)


def leaning_ends(mesh: Mesh, panels: Sequence[Panel]) -> tuple[tuple[str, Degrees], ...]:
    """The ends that lean by ``UPRIGHT`` or more, by name."""
    ends = ((p.name, lean_of_end(mesh, p)) for p in panels if p.name.startswith("end"))
    return tuple((name, lean) for name, lean in ends if abs(lean) >= UPRIGHT)


def sewn_edges(panel: Panel, panels: Sequence[Panel]) -> list[list[Panel]]:
    """For each edge of a flat panel's outline the panels that it is joined with, itself among them where it meets its like; none for one
    that is free."""
    owners = _edges(panels, both_sides=True)
    points = _points(panel.corners)
    out = []
    for a, b in zip(points, points[1:] + points[:1], strict=True):
        own = owners[frozenset((a, b))]
        out.append(own if len(own) == 2 or (abs(a[1]) < ON_MIDDLE and abs(b[1]) < ON_MIDDLE) else [])
    return out


def stitches(panel: Panel, panels: Sequence[Panel], every: Metres, off: Metres) -> Floats:
    """Places of holes (n, 2) on a flat panel, ``every`` so far along the edges that it shares with another panel or with its like, ``off``
    the edge. Raises InvalidInput for holes no further apart than they are off the edge, or for too many."""
    if every <= 0 or off <= 0 or off >= every:
        raise InvalidInput("stitch", "Holes for stitches lie further apart than they are off the edge.")
    sewn = [bool(own) for own in sewn_edges(panel, panels)]
    flat = panel.outline
    following = np.roll(flat, -1, axis=0)
    turn = 1.0 if flat_area(flat) > 0 else -1.0
    out = []
    so_far = every / 2
    for (p, q), is_sewn in zip(zip(flat, following, strict=True), sewn, strict=True):
        long = float(np.linalg.norm(q - p))
        if not is_sewn or long == 0:
            so_far = every / 2
            continue
        along = (q - p) / long
        inward = turn * np.array([-along[1], along[0]])
        while so_far <= long:
            out.append(p + along * so_far + inward * off)
            so_far += every
        so_far -= long
        if len(out) > MOST_STITCHES:
            raise InvalidInput("stitch", f"That would be more than {MOST_STITCHES} holes in {panel.name}; lay them further apart.")
    from shapely import LinearRing, Point

    ring = LinearRing(flat)  # at a corner a hole would come too near the next edge
    return np.array([spot for spot in out if ring.distance(Point(spot)) >= 0.9 * off]).reshape(-1, 2)
