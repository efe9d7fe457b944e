"""The hull as a turnable solid: triangles above and below the water, and its lines, as numbers for a canvas."""

from typing import Any

import numpy as np

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.edges import DECK_UP, edges_of
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Mesh

STEPS = 1000.0
"""Coordinates are sent as whole thousandths of the hull's half size: finer than a pixel, and short."""


def solid(hull: Hull, attitude: Attitude) -> dict[str, Any]:
    """World coordinates about the middle of the boat, x forward, y to port, z up; ``water`` is the surface's height.

    ``points`` are whole thousandths of the half size. ``faces`` are four numbers each: three points and a sum of 1 where it
    lies below the surface, 2, 4, 8 where its first, second, third side is a crease to be drawn, and 16 where there is no face at all, since
    the boat is open there.
    """
    mesh = hull.facets
    world = mesh.vertices @ np.array(attitude.rows).T + [0.0, 0.0, attitude.origin_height]
    world, faces, signs = _split(world, mesh.faces, np.column_stack([_creases(mesh), _open(hull, mesh)]))
    creased, is_open = signs[:, :3], signs[:, 3]
    low, high = world.min(axis=0), world.max(axis=0)
    middle, half = (low + high) / 2, float((high - low).max()) / 2
    below = world[faces].mean(axis=1)[:, 2] < 0
    marks = below + creased @ [2, 4, 8] + 16 * is_open
    return {
        "points": np.round((world - middle) / half * STEPS).astype(int).ravel().tolist(),
        "faces": np.column_stack([faces, marks]).astype(int).ravel().tolist(),
        "water": round(float(-middle[2] / half * STEPS)),
        "span": [round(float(v / half * STEPS)) for v in (high - low) / 2],
    }


def _open(hull: Hull, mesh: Mesh) -> np.ndarray:
    """Which faces (m,) only close an open hull at its sheer: those that look up. One that has floats or foam beside it is drawn closed."""
    if not hull.open or hull.sheer_of is not None:
        return np.zeros(len(mesh.faces), dtype=bool)
    return np.asarray(mesh.normals[:, 2] > DECK_UP)


def _creases(mesh: Mesh) -> np.ndarray:
    """Which sides of each face (m, 3) are creases, by the two points each joins."""
    edges = edges_of(mesh)
    span = len(mesh.vertices)
    sharp = np.sort(edges.points[edges.is_crease], axis=1)
    sides = np.sort(np.stack([mesh.faces, np.roll(mesh.faces, -1, axis=1)], axis=-1), axis=-1)
    return np.asarray(np.isin(sides[..., 0] * span + sides[..., 1], sharp[:, 0] * span + sharp[:, 1]))


def _split(points: np.ndarray, faces: np.ndarray, signs: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """The triangles cut along z = 0, and their signs (m, 4): which of their sides are creases, and whether they are open."""
    h = points[faces][..., 2]
    wet = (h < 0).sum(axis=1)
    cut = np.flatnonzero((wet == 1) | (wet == 2))
    if not len(cut):
        return points, faces, signs
    low = h[cut] < 0
    lone = np.where(wet[cut] == 1, low.argmax(axis=1), low.argmin(axis=1))
    row = np.arange(len(cut))
    turn = (lone[:, None] + np.arange(3)) % 3
    a, b, c = faces[cut][row[:, None], turn].T
    from_a, opposite, to_a = signs[cut][row[:, None], turn].T
    is_open = signs[cut, 3]

    def between(p: np.ndarray, q: np.ndarray) -> np.ndarray:
        hp, hq = points[p, 2], points[q, 2]
        return np.asarray(points[p] + (hp / (hp - hq))[:, None] * (points[q] - points[p]))

    n, none = len(points), np.zeros(len(cut), dtype=bool)
    ab, ac = n + row, n + len(cut) + row
    pieces = np.vstack([np.stack(piece, axis=1) for piece in ((a, ab, ac), (ab, b, c), (ab, c, ac))])
    sides = np.vstack(
        [np.stack(side, axis=1) for side in ((from_a, none, to_a, is_open), (from_a, opposite, none, is_open), (none, to_a, none, is_open))]
    )
    whole = np.vstack([np.delete(faces, cut, axis=0), pieces])
    return np.vstack([points, between(a, b), between(a, c)]), whole, np.vstack([np.delete(signs, cut, axis=0), sides])
