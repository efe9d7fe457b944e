"""Closed surfaces through rings of points: pipes, domes, trays, foils."""

import math

import numpy as np

from yarekeel.core.geometry.mesh import Floats, Mesh, welded
from yarekeel.core.quantities import Metres


def through(rings: Floats) -> Mesh:
    """The closed mesh through ``rings`` (k, n, 3), each running round its outline the same way, metres.

    The first and last are closed by fans from their means, so they must be star-shaped about those. A ring whose points
    are all one closes in a tip.
    """
    k, n, _ = rings.shape
    points = np.vstack([rings.reshape(-1, 3), rings[0].mean(axis=0), rings[-1].mean(axis=0)])
    i, j = np.meshgrid(np.arange(k - 1), np.arange(n), indexing="ij")
    a, b = (i * n + j).reshape(-1), (i * n + (j + 1) % n).reshape(-1)
    around = np.arange(n)
    onward = (around + 1) % n
    last = (k - 1) * n
    faces = np.vstack(
        [
            np.stack([a, b, b + n], axis=1),
            np.stack([a, b + n, a + n], axis=1),
            np.stack([np.full(n, k * n), onward, around], axis=1),
            np.stack([np.full(n, k * n + 1), last + around, last + onward], axis=1),
        ]
    )
    mesh = welded(points, faces)
    return mesh if mesh.volume > 0 else Mesh(mesh.vertices, mesh.faces[:, ::-1])


def circle(sides: int) -> Floats:
    """A unit circle as a polygon (sides, 2) of exactly the circle's area: volumes of round things then hold exactly."""
    true = math.sqrt(2 * math.pi / (sides * math.sin(2 * math.pi / sides)))
    angle = 2 * np.pi * (np.arange(sides) + 0.5) / sides
    return true * np.stack([np.cos(angle), np.sin(angle)], axis=1)


def log(length: Metres, radius: Metres, dome: Metres, sides: int, steps: int) -> Mesh:
    """A round log along x from 0 to ``length``, its axis at z = ``radius``; ``dome`` is the length of each elliptical end, 0 flat."""
    if dome > 0:
        t = np.linspace(0, np.pi / 2, steps + 1)
        nose, size = dome * (1 - np.cos(t)), np.sin(t)
        x, share = np.concatenate([nose, length - nose[::-1]]), np.concatenate([size, size[::-1]])
    else:
        x, share = np.array([0.0, length]), np.ones(2)
    around = circle(sides) * radius
    rings = np.empty((len(x), sides, 3))
    rings[..., 0] = x[:, None]
    rings[..., 1] = share[:, None] * around[:, 0]
    rings[..., 2] = radius + share[:, None] * around[:, 1]
    return through(rings)


def foil(points: int) -> Floats:
    """Outline (2 n, 2) of a symmetrical section of unit chord and unit thickness ratio: x from the nose aft, y to a side.

    The four-digit thickness form, I. H. Abbott and A. E. von Doenhoff, Theory of Wing Sections (1959), eq. 6.2; its blunt
    tail is kept.
    """
    x = 0.5 - 0.5 * np.cos(np.linspace(0, np.pi, points))
    half = 5 * (0.2969 * np.sqrt(x) - 0.1260 * x - 0.3516 * x**2 + 0.2843 * x**3 - 0.1015 * x**4)
    upper, lower = np.stack([x, half], axis=1), np.stack([x, -half], axis=1)
    return np.vstack([upper[::-1], lower[1:]])
