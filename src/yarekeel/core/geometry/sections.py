"""Where a plane across an axis cuts the surface, for drawing and for the curve of section areas."""

import numpy as np

from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.quantities import Metres


def section(mesh: Mesh, axis: int, at: Metres) -> tuple[Floats, Ints]:
    """Segments (k, 2, 3) where the plane ``axis`` = ``at`` cuts the surface, and the face (k,) each lies on."""
    h = mesh.vertices[:, axis] - at
    low = h[mesh.faces] < 0
    count = low.sum(axis=1)
    cut = np.flatnonzero((count == 1) | (count == 2))
    lone = np.where(count[cut] == 1, np.argmax(low[cut], axis=1), np.argmin(low[cut], axis=1))
    f = mesh.faces[cut]
    row = np.arange(len(cut))
    a, b, c = f[row, lone], f[row, (lone + 1) % 3], f[row, (lone + 2) % 3]
    v = mesh.vertices

    def between(p: Ints, q: Ints) -> Floats:
        part = (h[p] / (h[p] - h[q]))[:, None]
        return np.asarray(v[p] + part * (v[q] - v[p]))

    return np.stack([between(a, b), between(a, c)], axis=1), cut
