"""A hull ready for use: its mesh, the kernel over it, its edges and deck rim. Built once a shape, then shared."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.errors import InvalidMesh
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.edges import Edges, deck_edge, edges_of
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.joined import pieces
from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.geometry.rim import Rim
from yarekeel.core.geometry.sections import sections
from yarekeel.core.geometry.union import refined, simplified_to, united
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import Metres, Point

MOST_DRAWN = 8_000
"""Triangles of a drawing; more are not seen, and cost time at every drag."""
RAIL_POINTS = 5
"""Of a found rim, that tell where it is at a station."""
STATION_COUNT = 9
"""Sections drawn along the hull: stations 0 to 8 are enough to read a shape by."""


@dataclass(frozen=True, eq=False)
class Hull:
    """The united surface of a boat. ``open`` says that water comes in over the deck rim (no deck).

    ``sheer_of`` is the surface whose deck rim counts, where that is not the whole: floats and foam have no sheer. ``found_rim``
    is the rim of a hull known as a mesh alone, found by its shape or corrected by its builder. ``pieces`` are the bodies that it is
    united from, which are drawn each by itself; none where it is one.
    """

    mesh: Mesh
    open: bool = False
    sheer_of: Mesh | None = None
    found_rim: Rim | None = None
    pieces: tuple[Mesh, ...] = ()
    simple: tuple[Mesh, ...] = ()
    """The bodies with less detail, where they are known so already."""

    @property
    def beam(self) -> Metres:
        """Breadth over all."""
        return float(self.mesh.bounds[1][1] - self.mesh.bounds[0][1])

    @property
    def depth(self) -> Metres:
        """From the lowest point to the highest."""
        return float(self.mesh.bounds[1][2] - self.mesh.bounds[0][2])

    @property
    def footprint(self) -> int:
        """Bytes that its edges take beside its mesh and its kernel; measured, 60 a triangle."""
        return 60 * len(self.mesh.faces)

    @cached_property
    def kernel(self) -> Flotation:
        """The flotation kernel over the mesh."""
        return Flotation(self.mesh)

    @cached_property
    def sketch(self) -> "Hull":
        """The hull as drawn: itself, or a copy with as much less detail as keeps drawings quick."""
        mesh = simplified_to(united(list(self.simple)) if self.simple else self.mesh, MOST_DRAWN, 1e-4, 0.02)
        return self if mesh is self.mesh else Hull(mesh, self.open)

    @cached_property
    def drawn(self) -> "tuple[Hull, ...]":
        """What is drawn: every connected piece of every body by itself, with as much less detail as keeps drawings quick."""
        out = []
        for mesh in self.simple or self.pieces or (self.mesh,):
            whole = Hull(simplified_to(mesh, MOST_DRAWN, 1e-4, 0.02), self.open)
            count = int(whole.parts.max()) + 1
            out += [whole] if count == 1 else [Hull(_of_faces(whole.mesh, whole.parts == k), self.open) for k in range(count)]
        return tuple(out)

    @cached_property
    def facets(self) -> Mesh:
        """The sketch in faces small enough to be painted from far to near."""
        mesh = self.sketch.mesh
        try:
            finer = refined(mesh, float(np.ptp(mesh.vertices, axis=0).max()) / 14)
        except InvalidMesh:
            return mesh
        return finer if len(finer.faces) <= 2 * MOST_DRAWN else mesh

    @cached_property
    def edges(self) -> Edges:
        """All edges with their two faces."""
        return edges_of(self.mesh)

    @cached_property
    def rim(self) -> Floats:
        """Corner points of the deck rim, (k, 3)."""
        if self.found_rim is not None:
            return self.found_rim.points
        edges = self.edges if self.sheer_of is None else edges_of(self.sheer_of)
        return edges.mesh.vertices[np.unique(deck_edge(edges))]

    def rail_at(self, x: Metres) -> tuple[Metres, Metres] | None:
        """Half-breadth and height of a found rim at station ``x``, port side; None where the hull's own edges tell it."""
        if self.found_rim is None:
            return None
        points = self.found_rim.points
        port = points[points[:, 1] >= 0]
        port = port if len(port) else points
        near = port[np.argsort(np.abs(port[:, 0] - x))[:RAIL_POINTS]]
        return float(np.abs(near[:, 1]).max()), float(np.median(near[:, 2]))

    @cached_property
    def stations(self) -> list[tuple[Metres, Floats, Ints]]:
        """(x, segments (k, 2, 3), faces (k,)) of evenly spaced sections, the ends drawn in a little."""
        low, high = self.mesh.bounds
        inset = 0.01 * (high[0] - low[0])
        spots = np.linspace(low[0] + inset, high[0] - inset, STATION_COUNT)
        pieces, faces, place = sections(self.mesh, 0, spots)
        return [(float(x), pieces[place == n], faces[place == n]) for n, x in enumerate(spots)]

    @cached_property
    def inner_stations(self) -> tuple[Floats, Ints]:
        """All segments (k, 2, 3) of the stations but the two at the ends, and the face (k,) each lies on."""
        inner = self.stations[1:-1]
        return np.concatenate([s[1] for s in inner]), np.concatenate([s[2] for s in inner])

    @cached_property
    def parts(self) -> Ints:
        """Number of the connected piece each face belongs to, (m,)."""
        edges, count = self.edges, len(self.mesh.faces)
        return pieces(count, edges.left, edges.right)

    def least_freeboard(self, attitude: Attitude) -> tuple[Metres, Point]:
        """Height above the surface of the lowest point of the deck rim, and that point (boat axes)."""
        heights = self.rim @ np.array(attitude.up) + attitude.origin_height
        # Among points equally low (an upright box has many) take the foremost, port first, so that the answer is steady.
        low = np.flatnonzero(heights < heights.min() + 1e-7 * self.kernel.half_extent)
        pick = low[np.lexsort((-self.rim[low, 1], -self.rim[low, 0]))[0]]
        x, y, z = self.rim[pick].tolist()
        return float(heights.min()), (x, y, z)


def _of_faces(mesh: Mesh, which: NDArray[np.bool_]) -> Mesh:
    """The faces ``which`` (m,) with the corners that they use."""
    used, faces = np.unique(mesh.faces[which], return_inverse=True)
    return Mesh(mesh.vertices[used], faces.reshape(-1, 3))
