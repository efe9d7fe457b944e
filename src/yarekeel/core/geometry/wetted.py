"""Wetted surface, waterline length, and what looks to one side over and under the water, at an attitude."""

import numpy as np

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.spaces import below
from yarekeel.core.quantities import Metres, Point, SquareMetres


def wetted_surface(mesh: Mesh, attitude: Attitude) -> SquareMetres:
    """Area of the surface below the water (the waterplane is not part of it): whole triangles, then the cut ones' shares."""
    h = (mesh.vertices @ np.array(attitude.up) + attitude.origin_height)[mesh.faces]
    area = np.linalg.norm(mesh.area_vectors, axis=1)
    wet = (h < 0).sum(axis=1)
    h = np.sort(h, axis=1)
    # One wet corner: the tip's share is h0/(h0-h1) h0/(h0-h2); two: one less the dry tip's share.
    with np.errstate(divide="ignore", invalid="ignore"):
        low = h[:, 0] / (h[:, 0] - h[:, 1]) * h[:, 0] / (h[:, 0] - h[:, 2])
        high = h[:, 2] / (h[:, 2] - h[:, 0]) * h[:, 2] / (h[:, 2] - h[:, 1])
    share = np.select([wet == 3, wet == 2, wet == 1], [1.0, 1 - high, low], 0.0)
    return float(area @ share)


def waterline_length(mesh: Mesh, attitude: Attitude) -> Metres:
    """Extent along the boat's x of what lies at or below the surface; 0 when nothing does."""
    below = mesh.vertices[mesh.vertices @ np.array(attitude.up) + attitude.origin_height <= 0]
    return float(np.ptp(below[:, 0])) if len(below) else 0.0


def side_area(mesh: Mesh, attitude: Attitude, *, wet: bool) -> tuple[SquareMetres, Point]:
    """Area that looks to one side under the water (``wet``) or over it, and its centre (boat axes): every body for itself, those behind
    others too, which for wind is on the safe side. 0 where there is none."""
    (x, y, z), height = attitude.up, attitude.origin_height
    part = below(mesh, (x, y, z), -height) if wet else below(mesh, (-x, -y, -z), height)
    if part is None:
        return 0.0, (0.0, 0.0, 0.0)
    across = np.maximum(part.area_vectors @ np.array(attitude.rows[1]), 0.0)
    area = float(across.sum())
    if area <= 0:
        return 0.0, (0.0, 0.0, 0.0)
    x, y, z = (across @ part.centres / area).tolist()
    return area, (x, y, z)
