"""The same questions put to a general mesh library: what the kernel is measured against."""

import numpy as np
import trimesh

from yarekeel.core.geometry.attitude import Rows
from yarekeel.core.geometry.flotation import Flotation, Immersed
from yarekeel.core.geometry.mesh import Mesh


class GeneralEvaluator:
    """Capped slice, volume and centroid by trimesh, as an evaluator that the solver can ask.

    For the solver it also needs the waterplane; that is taken from the kernel, free of charge, so that the comparison
    counts only the slice, the volume and the centroid against it.
    """

    def __init__(self, mesh: Mesh) -> None:
        self.kernel = Flotation(mesh)
        self.centre = self.kernel.centre
        self.total_volume = self.kernel.total_volume
        self.half_extent = self.kernel.half_extent
        self.solid = trimesh.Trimesh(mesh.vertices - np.array(self.centre), mesh.faces, process=False)

    def first_guess(self, volume: float) -> float:
        return self.kernel.first_guess(volume)

    def slice(self, rows: Rows, d: float) -> tuple[float, np.ndarray]:
        """Volume below the plane and its centroid."""
        up = np.array(rows[2])
        cut = self.solid.slice_plane(d * up, -up, cap=True)
        return float(cut.volume), np.asarray(cut.center_mass)

    def evaluate(self, rows: Rows, d: float) -> Immersed:
        volume, centre = self.slice(rows, d)
        world = np.array(rows) @ centre - [0, 0, d]
        plane = self.kernel.evaluate(rows, d)
        return Immersed(volume, *(volume * world).tolist(), *plane[4:])
