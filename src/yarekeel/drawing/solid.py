"""The hull as a turnable solid: triangles above and below the water, and its lines, as numbers for a canvas."""

from typing import Any

import numpy as np

from yarekeel.core.geometry.edges import edges_of
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.attitude import Attitude

STEPS = 1000.0
"""Coordinates are sent as whole thousandths of the hull's half size: finer than a pixel, and short."""


def solid(hull: Hull, attitude: Attitude) -> dict[str, Any]:
    """World coordinates about the middle of the boat, x forward, y to port, z up; ``water`` is the surface's height.

    ``points`` are whole thousandths of the half size; ``faces`` index them, each with 1 where it lies below the surface;
    ``lines`` are the creases.
    """
    mesh = hull.sketch.mesh
    world = mesh.vertices @ np.array(attitude.rows).T + [0.0, 0.0, attitude.origin_height]
    world, faces = _split(world, mesh.faces)
    low, high = world.min(axis=0), world.max(axis=0)
    middle, half = (low + high) / 2, float((high - low).max()) / 2
    edges = edges_of(mesh)
    crease = edges.points[edges.is_crease]
    below = world[faces].mean(axis=1)[:, 2] < 0
    return {
        "points": np.round((world - middle) / half * STEPS).astype(int).ravel().tolist(),
        "faces": np.column_stack([faces, below]).astype(int).ravel().tolist(),
        "lines": crease.astype(int).ravel().tolist(),
        "water": round(float(-middle[2] / half * STEPS)),
        "span": [round(float(v / half * STEPS)) for v in (high - low) / 2],
    }


def _split(points: np.ndarray, faces: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The triangles cut along z = 0; the points of the mesh keep their numbers and new ones follow them."""
    h = points[faces][..., 2]
    wet = (h < 0).sum(axis=1)
    cut = np.flatnonzero((wet == 1) | (wet == 2))
    if not len(cut):
        return points, faces
    low = h[cut] < 0
    lone = np.where(wet[cut] == 1, low.argmax(axis=1), low.argmin(axis=1))
    row = np.arange(len(cut))
    f = faces[cut]
    a, b, c = f[row, lone], f[row, (lone + 1) % 3], f[row, (lone + 2) % 3]

    def between(p: np.ndarray, q: np.ndarray) -> np.ndarray:
        hp, hq = points[p, 2], points[q, 2]
        return np.asarray(points[p] + (hp / (hp - hq))[:, None] * (points[q] - points[p]))

    n = len(points)
    ab, ac = n + row, n + len(cut) + row
    new = np.vstack([points, between(a, b), between(a, c)])
    pieces = np.vstack([np.stack([a, ab, ac], 1), np.stack([ab, b, c], 1), np.stack([ab, c, ac], 1)])
    return new, np.vstack([np.delete(faces, cut, axis=0), pieces])
