"""Bodies whose sums are known in closed form, as meshes for the tests."""

import numpy as np

from yarekeel.core.geometry.mesh import Mesh, welded


def box(length: float, beam: float, depth: float) -> Mesh:
    """Aft bottom edge at x = 0, centred on y = 0, z from 0 up."""
    v = np.array([[x, y, z] for x in (0, length) for y in (-beam / 2, beam / 2) for z in (0, depth)], dtype=float)
    quads = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
    return Mesh(v, np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))]))


def tube(length: float, radius: float, sides: int = 96, rings: int = 1) -> Mesh:
    """A round log along x, axis at z = 0, from x = 0."""
    angle = np.linspace(0, 2 * np.pi, sides, endpoint=False)
    x = np.linspace(0, length, rings + 1)
    v = np.array([[xi, radius * np.cos(a), radius * np.sin(a)] for xi in x for a in angle])
    faces = []
    for i in range(rings):
        for j in range(sides):
            a, b = i * sides + j, i * sides + (j + 1) % sides
            c, d = a + sides, b + sides
            faces += [(a, c, b), (b, c, d)]
    v = np.vstack([v, [[0, 0, 0], [length, 0, 0]]])
    for j in range(sides):
        faces.append((len(v) - 2, j, (j + 1) % sides))
        faces.append((len(v) - 1, rings * sides + (j + 1) % sides, rings * sides + j))
    mesh = Mesh(v, np.array(faces))
    return mesh if mesh.volume > 0 else Mesh(v, np.array(faces)[:, ::-1])


def spheroid(rx: float, ry: float, rz: float, around: int = 64, along: int = 32) -> Mesh:
    """An ellipsoid about the origin."""
    theta = np.linspace(0, np.pi, along + 1)
    phi = np.linspace(0, 2 * np.pi, around, endpoint=False)
    v = np.array([[rx * np.cos(t), ry * np.sin(t) * np.cos(p), rz * np.sin(t) * np.sin(p)] for t in theta for p in phi])
    faces = []
    for i in range(along):
        for j in range(around):
            a, b = i * around + j, i * around + (j + 1) % around
            faces += [(a, a + around, b), (b, a + around, b + around)]
    mesh = welded(v, np.array(faces))
    return mesh if mesh.volume > 0 else Mesh(mesh.vertices, mesh.faces[:, ::-1])


def wigley(length: float, beam: float, draft: float, along: int = 80, down: int = 24) -> Mesh:
    """The parabolic hull y = B/2 (1 - (2x/L)^2)(1 - (z/T)^2) up to its waterline z = draft, x from 0, keel at z = 0."""
    x = np.linspace(-1, 1, along + 1)
    z = np.linspace(-1, 0, down + 1)
    half = np.outer(1 - x**2, 1 - z**2) * beam / 2
    xs, zs = np.meshgrid((x + 1) * length / 2, (z + 1) * draft, indexing="ij")
    port = np.stack([xs, half, zs], axis=-1).reshape(-1, 3)
    star = port * [1, -1, 1]
    faces = []
    n = down + 1
    for i in range(along):
        for j in range(down):
            a, b, c, d = i * n + j, (i + 1) * n + j, i * n + j + 1, (i + 1) * n + j + 1
            faces += [(a, c, b), (b, c, d)]
    faces = np.array(faces)
    lid = np.array([[i * n + down, (i + 1) * n + down] for i in range(along)])
    off = len(port)
    top = np.vstack([[(a, a + off, b), (b, a + off, b + off)] for a, b in lid])
    mesh = welded(np.vstack([port, star]), np.vstack([faces, faces[:, ::-1] + off, top]))
    return mesh if mesh.volume > 0 else Mesh(mesh.vertices, mesh.faces[:, ::-1])
