"""Wetted surface, waterline length, and what looks to one side over and under the water, at an attitude."""

import numpy as np

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.joined import pieces
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.geometry.spaces import below
from yarekeel.core.geometry.union import outline_of
from yarekeel.core.quantities import CubicMetres, Metres, Point, Ratio, SquareMetres

HIDDEN: Ratio = 1e-6
"""Of the silhouette: less than that behind it is rounding."""


def under_water(mesh: Mesh, attitude: Attitude) -> Mesh | None:
    """What of a closed mesh is under water at an attitude, closed at the surface; None for nothing."""
    return below(mesh, attitude.up, -attitude.origin_height)


def bodies_of(part: Mesh) -> tuple[tuple[CubicMetres, Metres], ...]:
    """Volume of each connected body of a closed mesh, with its extent along x; the largest first."""
    count = len(part.vertices)
    of_vertex = pieces(count, *np.concatenate([part.faces[:, [0, 1]], part.faces[:, [1, 2]]]).T)
    _, of = np.unique(of_vertex[part.faces[:, 0]], return_inverse=True)
    a, b, c = (part.corners[:, k] for k in range(3))
    volumes = np.bincount(of, np.einsum("ij,ij->i", a, np.cross(b, c)) / 6)
    spans = [float(np.ptp(part.corners[of == k, :, 0])) for k in range(len(volumes))]
    return tuple(sorted(((float(v), x) for v, x in zip(volumes, spans, strict=True) if v > 0), reverse=True))


def wetted_surface(mesh: Mesh, attitude: Attitude) -> SquareMetres:
    """Area of the surface below the water (the waterplane is not part of it): whole triangles, then the cut ones' shares."""
    heights = mesh.vertices @ np.array(attitude.up) + attitude.origin_height
    under = (heights < 0).view(np.uint8)
    wet = under.take(mesh.faces[:, 0]) + under.take(mesh.faces[:, 1]) + under.take(mesh.faces[:, 2])
    cut = np.flatnonzero((wet == 1) | (wet == 2))
    h = np.sort(heights[mesh.faces[cut]], axis=1)
    # One wet corner: the tip's share is h0/(h0-h1) h0/(h0-h2); two: one less the dry tip's share.
    with np.errstate(divide="ignore", invalid="ignore"):
        low = h[:, 0] / (h[:, 0] - h[:, 1]) * h[:, 0] / (h[:, 0] - h[:, 2])
        high = h[:, 2] / (h[:, 2] - h[:, 0]) * h[:, 2] / (h[:, 2] - h[:, 1])
    share = np.where(wet[cut] == 2, 1 - high, low)
    return float(mesh.areas @ (wet == 3) + mesh.areas[cut] @ share)


def waterline_length(mesh: Mesh, attitude: Attitude) -> Metres:
    """Extent along the boat's x of what lies at or below the surface; 0 when nothing does."""
    below = mesh.vertices[mesh.vertices @ np.array(attitude.up) + attitude.origin_height <= 0]
    return float(np.ptp(below[:, 0])) if len(below) else 0.0


def side_area(mesh: Mesh, attitude: Attitude, *, wet: bool, behind: Ratio = 0.0) -> tuple[SquareMetres, Point]:
    """Area that looks to one side under the water (``wet``) or over it, and its centre (boat axes): of the silhouette, in the middle
    of the boat's breadth, since a push across acts along it wherever it takes hold. ``behind`` is the share that counts of what
    stands behind something else. 0 where there is none."""
    (x, y, z), height = attitude.up, attitude.origin_height
    part = below(mesh, (x, y, z), -height) if wet else below(mesh, (-x, -y, -z), height)
    if part is None:
        return 0.0, (0.0, 0.0, 0.0)
    rows = np.array(attitude.rows)
    area, along, up = silhouette_area(part, rows)
    across = np.maximum(part.area_vectors @ rows[1], 0.0)
    hidden = float(across.sum()) - area
    if area <= 0:
        return 0.0, (0.0, 0.0, 0.0)
    world = part.centres @ rows.T
    if behind > 0 and hidden > HIDDEN * area:
        whole = across @ world / across.sum()
        away = ((area + hidden) * whole[[0, 2]] - area * np.array([along, up])) / hidden
        along, up = (np.array([along, up]) * area + behind * hidden * away) / (area + behind * hidden)
        area += behind * hidden
    span = part.vertices @ rows[1]
    at = np.array([along, float(span.min() + span.max()) / 2, up]) @ rows
    return area, (float(at[0]), float(at[1]), float(at[2]))


def silhouette_area(mesh: Mesh, rows: Floats) -> tuple[SquareMetres, Metres, Metres]:
    """Area of what a closed mesh covers seen from the side, along the second of ``rows`` (3, 3), with its centroid along the first and
    the third; what lies behind something else is not seen."""
    seen = Mesh(mesh.vertices @ np.stack([rows[0], rows[2], -rows[1]]).T, mesh.faces)
    loops = outline_of(seen)
    area, first, second = 0.0, 0.0, 0.0
    for loop in loops:
        p, q = loop, np.roll(loop, -1, axis=0)
        cross = p[:, 0] * q[:, 1] - q[:, 0] * p[:, 1]
        area += float(cross.sum()) / 2
        first += float(((p[:, 0] + q[:, 0]) * cross).sum()) / 6
        second += float(((p[:, 1] + q[:, 1]) * cross).sum()) / 6
    return (area, first / area, second / area) if area > 0 else (0.0, 0.0, 0.0)
