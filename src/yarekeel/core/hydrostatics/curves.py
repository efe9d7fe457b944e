"""Hydrostatic curves: what the level boat displaces, and its form, at every draft."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.geometry.sections import sections
from yarekeel.core.hydrostatics.attitude import rotation
from yarekeel.core.hydrostatics.flotation import centre_below
from yarekeel.core.hydrostatics.form import STATIONS, wet_areas
from yarekeel.core.quantities import Metres

_UPRIGHT = rotation(0.0, 0.0)


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
    """The curves at ``drafts`` (n,), rising, each above the hull's lowest point."""
    kernel = hull.kernel
    rows = []
    for draft in drafts.tolist():
        d = draft - kernel.centre[2]
        m = kernel.evaluate(_UPRIGHT, d)
        x, _, z = centre_below(m, kernel.centre, _UPRIGHT, d)
        if m.area > 0:
            cx, cy = m.sx / m.area, m.sy / m.area
            rows.append((m.volume, x, z, m.area, kernel.centre[0] + cx, (m.syy - m.sy * cy) / m.volume, (m.sxx - m.sx * cx) / m.volume))
        else:
            rows.append((m.volume, x, z, 0.0, x, 0.0, 0.0))
    volume, lcb, kb, area, lcf, bm, bm_long = np.array(rows).T
    wetted, length, breadth = _outline(hull.mesh, drafts)
    low = float(hull.mesh.bounds[0][2])
    return Curves(drafts, volume, lcb, kb, area, lcf, bm, bm_long, wetted, length, breadth, _largest(hull.mesh, drafts), drafts - low)


def _outline(mesh: Mesh, drafts: Floats) -> tuple[Floats, Floats, Floats]:
    """Wetted surface, length of the waterline, greatest breadth at or below it, at each draft."""
    lows, highs = mesh.spans
    low, high = lows[:, 2], highs[:, 2]
    area = np.linalg.norm(mesh.area_vectors, axis=1)
    tops = np.argsort(high)
    whole = np.concatenate([[0.0], np.cumsum(area[tops])])[np.searchsorted(high[tops], drafts, "right")]
    z = mesh.vertices[:, 2]
    up = np.argsort(z)
    reach = np.searchsorted(z[up], drafts, "right") - 1
    y = mesh.vertices[up, 1]
    port, starboard = np.maximum.accumulate(y)[reach], np.minimum.accumulate(y)[reach]
    wetted, length, breadth = whole, np.zeros(len(drafts)), port - starboard
    for n, draft in enumerate(drafts.tolist()):
        cut = np.flatnonzero((low < draft) & (high > draft))
        if not len(cut):
            continue
        corners = mesh.vertices[mesh.faces[cut]]
        corners = np.take_along_axis(corners, np.argsort(corners[:, :, 2], axis=1)[:, :, None], axis=1)
        a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
        long = (draft - a[:, 2]) / (c[:, 2] - a[:, 2])
        under = b[:, 2] < draft
        base, other = np.where(under[:, None], b, a), np.where(under[:, None], c, b)
        span = other[:, 2] - base[:, 2]
        short = np.divide(draft - base[:, 2], span, out=np.zeros_like(span), where=span > 0)
        # The share of a triangle below the cut: its lower tip, or all but its upper one.
        wetted[n] += area[cut] @ np.where(under, 1 - (1 - long) * (1 - short), long * short)
        points = np.concatenate([a + long[:, None] * (c - a), base + short[:, None] * (other - base)])
        length[n] = np.ptp(points[:, 0])
        breadth[n] = max(port[n], points[:, 1].max()) - min(starboard[n], points[:, 1].min())
    return wetted, length, breadth


def _largest(mesh: Mesh, drafts: Floats) -> Floats:
    """Area of the largest section below each draft, of ``STATIONS`` along the hull."""
    low, high = mesh.bounds
    inset = 1e-6 * (high[0] - low[0])
    x = np.linspace(low[0] + inset, high[0] - inset, STATIONS)
    pieces, _, place = sections(mesh, 0, x)
    up = (0.0, 0.0, 1.0)
    return np.array([wet_areas(pieces, place, STATIONS, up, -draft).max() for draft in drafts.tolist()])


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
