"""Hydrostatic curves: what the level boat displaces, and its form, at every draft."""

from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.geometry.sections import cuts, sections
from yarekeel.core.hydrostatics.form import STATIONS
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import Metres


@dataclass(frozen=True, eq=False)
class Curves:
    """Arrays (n,) over rising ``drafts`` (metres over the baseline), the boat level and upright (E. V. Lewis, ed., Principles of
    Naval Architecture, 2nd rev., vol. I, ch. I, sec. 8).

    ``volume`` m3, ``lcb`` and ``kb`` its centre from the boat's origin; ``area`` m2, ``lcf``, ``bm`` and ``bm_long`` of the
    waterplane (0 where nothing is cut); ``wetted`` m2; ``length`` of the waterline, ``breadth`` the greatest at or below it over
    all hulls, ``largest_section`` m2, ``depth_below`` from the lowest point.
    """

    drafts: Floats
    volume: Floats
    lcb: Floats
    kb: Floats
    area: Floats
    lcf: Floats
    bm: Floats
    bm_long: Floats
    wetted: Floats
    length: Floats
    breadth: Floats
    largest_section: Floats
    depth_below: Floats

    @cached_property
    def km(self) -> Floats:
        """Height of the transverse metacentre over the baseline."""
        return self.kb + self.bm

    @cached_property
    def block(self) -> Floats:
        """Cb; 0 where there is no box to fill."""
        return _over(self.volume, self.length * self.breadth * self.depth_below)

    @cached_property
    def midship(self) -> Floats:
        """Cm."""
        return _over(self.largest_section, self.breadth * self.depth_below)

    @cached_property
    def prismatic(self) -> Floats:
        """Cp."""
        return _over(self.volume, self.length * self.largest_section)

    @cached_property
    def waterplane(self) -> Floats:
        """Cwp."""
        return _over(self.area, self.length * self.breadth)


def _over(a: Floats, b: Floats) -> Floats:
    return np.divide(a, b, out=np.zeros_like(a), where=b > 1e-15)


def levels(hull: Hull, count: int) -> Floats:
    """``count`` drafts (count,) evenly spaced from just above the lowest point up to where an open boat's rim is lowest, else to
    the highest point."""
    low, high = float(hull.mesh.bounds[0][2]), float(hull.mesh.bounds[1][2])
    if hull.open:
        high = float(hull.rim[:, 2].min())
    return low + (high - low) * np.arange(1, count + 1) / count


def curves(hull: Hull, drafts: Floats) -> Curves:
    """The curves at ``drafts`` (n,), rising, each above the hull's lowest point.

    All drafts in one pass: what each triangle adds while it is wholly under runs up in sums; triangles that a draft cuts add
    their part below it. Volume and moments by columns over the wet surface (divergence theorem), the waterplane by Green's.
    """
    mesh, count = hull.mesh, len(drafts)
    middle = hull.kernel.centre[0]  # moments about the middle keep their figures
    x, y, z = mesh.vertices.T
    x = x - middle
    high, low = mesh.spans[1][:, 2], float(mesh.bounds[0][2])
    flat, area = mesh.area_vectors[:, 2], mesh.areas
    under = np.searchsorted(drafts, high, "left")
    under[high <= low] = 0

    def running(weights: Floats) -> Floats:
        return np.asarray(np.bincount(under, weights=weights, minlength=count + 1)[:count].cumsum(), dtype=np.float64)

    cut = cuts(mesh, 2, drafts)
    order = np.argsort(cut.place, kind="stable")
    at, face, (a, b, c), (ha, hb, hc) = cut.place[order], cut.faces[order], cut.ends[:, order], cut.heights[:, order]
    below = cut.below[order]
    counts = np.where(under[face] > at, 1.0, 0.0)  # what only touches a draft is under it whole already
    first, second = ha / (ha - hb), ha / (ha - hc)
    px, qx = x[a] + first * (x[b] - x[a]), x[a] + second * (x[c] - x[a])
    py, qy = y[a] + first * (y[b] - y[a]), y[a] + second * (y[c] - y[a])

    def cut_sum(weights: Floats) -> Floats:
        return np.asarray(np.bincount(at, weights=weights, minlength=count), dtype=np.float64)

    def wet(whole: Floats, tips: Floats) -> Floats:
        """Over the wet surface: of whole triangles (m,), and of the tips (k,) of those cut, added or taken off."""
        return running(whole) + cut_sum(counts * np.where(below, tips, whole[face] - tips))

    tip, h = first * second, drafts[at]
    corners = mesh.faces.T
    sx, sz, sxz, szz = x[corners].sum(axis=0), z[corners].sum(axis=0), (x * z)[corners].sum(axis=0), (z * z)[corners].sum(axis=0)
    tx, tz = x[a] + px + qx, z[a] + 2 * h
    txz, tzz = x[a] * z[a] + (px + qx) * h, z[a] ** 2 + 2 * h * h
    part = flat[face] * tip
    total = wet(flat, part)
    up = wet(flat * sz, part * tz) / 3
    volume = up - drafts * total
    moment_x = wet(flat * (sx * sz + sxz), part * (tx * tz + txz)) / 12 - drafts * wet(flat * sx, part * tx) / 3
    moment_z = (wet(flat * (sz * sz + szz), part * (tz * tz + tzz)) / 12 - drafts**2 * total) / 2
    cross = np.where(below, 1.0, -1.0) * (px * qy - qx * py)
    way = np.sign(cut_sum(cross))
    plane, plane_x, plane_y = (way * cut_sum(cross * f) / d for f, d in ((1.0, 2), (px + qx, 6), (py + qy, 6)))
    xx = way * cut_sum(cross * (px * px + px * qx + qx * qx)) / 12
    yy = way * cut_sum(cross * (py * py + py * qy + qy * qy)) / 12
    lcf, middle_y = _over(plane_x, plane), _over(plane_y, plane)
    lcb = moment_x / volume
    length, breadth = _extents(mesh=mesh, drafts=drafts, at=at, p=np.stack([px, py]), q=np.stack([qx, qy]))
    return Curves(
        drafts=drafts,
        volume=volume,
        lcb=lcb + middle,
        kb=moment_z / volume,
        area=plane,
        lcf=np.where(plane > 0, lcf, lcb) + middle,
        bm=(yy - plane_y * middle_y) / volume,
        bm_long=(xx - plane_x * lcf) / volume,
        wetted=wet(area, area[face] * tip),
        length=length,
        breadth=breadth,
        largest_section=_largest(mesh, drafts),
        depth_below=drafts - low,
    )


def _extents(mesh: Mesh, drafts: Floats, at: Ints, p: Floats, q: Floats) -> tuple[Floats, Floats]:
    """Length of the waterline, and greatest breadth at or below it, at each draft; ``p``, ``q`` (2, k) are the ends of the
    waterline's pieces in x and y, in the order of their drafts ``at`` (k,)."""
    z = mesh.vertices[:, 2]
    up = np.argsort(z)
    reach = np.searchsorted(z[up], drafts, "right") - 1
    y = mesh.vertices[up, 1]
    port, starboard = np.maximum.accumulate(y)[reach], np.minimum.accumulate(y)[reach]
    length, breadth = np.zeros(len(drafts)), port - starboard
    if len(at):
        met, start = np.unique(at, return_index=True)
        least, most = np.minimum.reduceat(np.minimum(p, q), start, axis=1), np.maximum.reduceat(np.maximum(p, q), start, axis=1)
        length[met] = most[0] - least[0]
        breadth[met] = np.maximum(port[met], most[1]) - np.minimum(starboard[met], least[1])
    return length, breadth


def _crossed(low: Floats, high: Floats, drafts: Floats) -> tuple[Ints, Ints]:
    """Numbers (k,) of the things from ``low`` to ``high`` (m,) that a draft crosses, and of that draft; a thing comes as often
    as it is crossed."""
    first, last = np.searchsorted(drafts, low, "right"), np.searchsorted(drafts, high, "left")
    times = np.maximum(last - first, 0)
    thing = np.repeat(np.arange(len(low)), times)
    start = np.cumsum(times) - times
    return thing, np.repeat(first, times) + np.arange(len(thing)) - np.repeat(start, times)


def _largest(mesh: Mesh, drafts: Floats) -> Floats:
    """Area of the largest section below each draft, of ``STATIONS`` along the hull.

    Below a draft h a piece of outline from z0 to z1 over a run dy takes ((z0 + z1) / 2 - h) dy; one that crosses it, the part
    of that below (Green's theorem). So the whole pieces of each station are two running sums.
    """
    low, high = mesh.bounds
    inset = 1e-6 * (high[0] - low[0])
    x = np.linspace(low[0] + inset, high[0] - inset, STATIONS)
    pieces, _, place = sections(mesh, 0, x)
    (z0, z1), run = pieces[..., 2].T, pieces[:, 1, 1] - pieces[:, 0, 1]
    lower, upper = np.minimum(z0, z1), np.maximum(z0, z1)
    size = len(drafts) * STATIONS
    sunk = np.searchsorted(drafts, upper, "left")
    kept = sunk < len(drafts)
    cell = sunk[kept] * STATIONS + place[kept]

    def running(weights: Floats) -> Floats:
        return np.bincount(cell, weights=weights, minlength=size).reshape(-1, STATIONS).cumsum(axis=0)

    whole = running((run * (z0 + z1) / 2)[kept]) - drafts[:, None] * running(run[kept])
    which, at = _crossed(lower, upper, drafts)
    depth = drafts[at] - lower[which]
    part = -run[which] * depth**2 / (2 * (upper - lower)[which])
    whole += np.bincount(at * STATIONS + place[which], weights=part, minlength=size).reshape(-1, STATIONS)
    return np.asarray(np.abs(whole).max(axis=1))


def waterline_at(mesh: Mesh, x: Metres, height: Metres) -> tuple[Metres, Metres] | None:
    """Half-breadth of the hull at station ``x`` where a level waterline at ``height`` meets its port side, and the height there
    of the side's top; None where it does not meet it. For marking a waterline from the rim down."""
    port = _port_side(mesh, x)
    z0, z1 = port[:, 0, 2], port[:, 1, 2]
    hits = np.flatnonzero((z0 < height) != (z1 < height))
    if not len(hits):
        return None
    share = (height - z0[hits]) / (z1[hits] - z0[hits])
    y = port[hits, 0, 1] + share * (port[hits, 1, 1] - port[hits, 0, 1])
    return float(y.max()), side_top(mesh, x)


def side_top(mesh: Mesh, x: Metres) -> Metres:
    """Height over the baseline of the top of the side at station ``x``: the highest point of the outer half of the section."""
    return rail_at(mesh, x)[1]


def rail_at(mesh: Mesh, x: Metres) -> tuple[Metres, Metres]:
    """Half-breadth and height of the top of the port side at station ``x``; of the whole mesh where no section is."""
    points = _port_side(mesh, x).reshape(-1, 3)
    if not len(points):
        return float(mesh.bounds[1][1]), float(mesh.bounds[1][2])
    outer = points[points[:, 1] >= 0.5 * points[:, 1].max()]
    top = float(outer[:, 2].max())
    return float(outer[outer[:, 2] >= top - 1e-9 - 1e-6 * abs(top), 1].max()), top


def _port_side(mesh: Mesh, x: Metres) -> Floats:
    pieces, _, _ = sections(mesh, 0, np.array([x]))
    return np.asarray(pieces[pieces[..., 1].max(axis=1) >= 0])
