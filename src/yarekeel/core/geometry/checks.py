"""Is this mesh one closed outside, wound outwards? Said in sentences a builder can act on."""

import numpy as np

from yarekeel.core.errors import InvalidMesh
from yarekeel.core.geometry.by_faces import ByFaces
from yarekeel.core.geometry.mesh import Ints, Mesh

MOST_TRIANGLES = 400_000
"""Above this a drag no longer answers at once; 200 000 are meant to be comfortable."""

_OPEN = ByFaces()


def open_edges(faces: Ints) -> Ints:
    """Directed edges (k, 2) that no neighbour runs the other way; empty for a closed, consistently wound mesh."""
    edges = np.vstack([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    span = int(faces.max()) + 1 if len(faces) else 1
    forward = edges[:, 0] * span + edges[:, 1]
    backward = edges[:, 1] * span + edges[:, 0]
    if np.array_equal(np.sort(forward), np.sort(backward)):
        return edges[:0]
    keys, counts = np.unique(np.concatenate([forward, backward]), return_counts=True)
    own, own_counts = np.unique(forward, return_counts=True)
    # In a closed mesh every edge is run equally often both ways, so forward and backward lists are the same multiset.
    mine = np.zeros(len(keys), dtype=np.intp)
    mine[np.searchsorted(keys, own)] = own_counts
    uneven = keys[2 * mine != counts]
    return edges[np.isin(forward, uneven)]


def check_closed(mesh: Mesh, field: str) -> Mesh:
    """The mesh itself if it is closed, finite and encloses a volume; turned right side out if it was inside out.

    Raises InvalidMesh naming ``field`` and what would be accepted.
    """
    if len(mesh.faces) == 0:
        raise InvalidMesh(field, "The mesh holds no triangles; a closed hull surface is needed.")
    if len(mesh.faces) > MOST_TRIANGLES:
        raise InvalidMesh(field, f"The mesh has {len(mesh.faces)} triangles; up to {MOST_TRIANGLES} are accepted. Export it coarser.")
    if not np.isfinite(mesh.vertices).all():
        raise InvalidMesh(field, "The mesh holds a coordinate that is not a number; export it again.")
    edges = _OPEN.of(mesh.faces, lambda: open_edges(mesh.faces))
    if len(edges):
        x, y, z = mesh.vertices[edges[0]].mean(axis=0)
        raise InvalidMesh(
            field,
            f"The mesh is not closed: {len(edges)} edges have no matching neighbour, the first near "
            f"x {x:.4g}, y {y:.4g}, z {z:.4g} m. A watertight surface is needed.",
        )
    low, high = mesh.bounds
    if abs(mesh.volume) < 1e-9 * float(np.prod(np.maximum(high - low, 1e-12))):
        raise InvalidMesh(field, "The mesh encloses no volume; a closed hull with an inside is needed.")
    return mesh if mesh.volume > 0 else Mesh(mesh.vertices, mesh.faces[:, ::-1])
