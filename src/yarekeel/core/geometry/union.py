"""Several bodies as one surface, so that water pushed aside is counted once; and pieces cut out of a body."""

from functools import lru_cache
from typing import Any

import numpy as np

from yarekeel.core.errors import InvalidMesh
from yarekeel.core.geometry.checks import check_closed
from yarekeel.core.geometry.mesh import Floats, Mesh, welded
from yarekeel.core.quantities import Metres, Ratio

LARGE = 50_000
"""Triangles from which a solid takes a tenth of a second to make: a change that is searched unites the same hull again and again."""


def solid_of(mesh: Mesh) -> Any:
    """The mesh as manifold3d's solid."""
    return _last(mesh) if len(mesh.faces) > LARGE else _solid(mesh)


@lru_cache(maxsize=1)
def _last(mesh: Mesh) -> Any:
    return _solid(mesh)


def _solid(mesh: Mesh) -> Any:
    import manifold3d  # costs 0.1 s to load and most boats have one body

    return manifold3d.Manifold(manifold3d.Mesh64(np.array(mesh.vertices), np.array(mesh.faces, dtype=np.uint64)))


def _boolean(meshes: list[Mesh], kind: str) -> Mesh:
    import manifold3d

    solids = []
    for mesh in meshes:
        solid = solid_of(mesh)
        if solid.status() != manifold3d.Error.NoError:
            raise InvalidMesh("bodies", "A body's surface is not a proper solid, so it cannot be united with the others.")
        solids.append(solid)
    return surface_of(manifold3d.Manifold.batch_boolean(solids, getattr(manifold3d.OpType, kind)))


def surface_of(solid: Any) -> Mesh:
    """A manifold3d solid as a checked mesh. Raises InvalidMesh when nothing is left."""
    result = solid.to_mesh64()
    if len(result.tri_verts) == 0:
        raise InvalidMesh("bodies", "The bodies could not be united into one closed surface; check that each is watertight.")
    return check_closed(welded(np.array(result.vert_properties)[:, :3], np.array(result.tri_verts, dtype=np.intp)), "bodies")


def outline_of(mesh: Mesh) -> list[Floats]:
    """The outline of what a closed mesh covers seen along its own z, as loops of points (k, 2): outer ones run round to the left, holes
    to the right (manifold3d's projection)."""
    return [np.asarray(loop) for loop in solid_of(mesh).project().to_polygons()]


def covered(loops: list[Floats]) -> list[Floats]:
    """What closed loops of points (k, 2) cover by the non-zero rule, as loops that do not run over each other (manifold3d)."""
    import manifold3d

    return [
        np.asarray(loop) for loop in manifold3d.CrossSection([loop.tolist() for loop in loops], manifold3d.FillRule.NonZero).to_polygons()
    ]


AT_ONCE = 12
"""Bodies united in one go; of more the size is looked at in between."""
MOST_UNITED = 250_000
"""Triangles of a surface united of several bodies: thin ones laid crosswise make more of them than they have."""
MOST_SUMMED = 600_000
"""Triangles of the bodies before they are united."""


def united(meshes: list[Mesh]) -> Mesh:
    """The exact Boolean union (manifold3d) of closed meshes; a single mesh is handed back untouched. Raises InvalidMesh for bodies that
    together make more than ``MOST_UNITED`` triangles."""
    if len(meshes) > 1 and sum(len(m.faces) for m in meshes) > MOST_SUMMED:
        raise _too_many()
    while len(meshes) > AT_ONCE:
        meshes = [united(meshes[k : k + AT_ONCE]) for k in range(0, len(meshes), AT_ONCE)]
    if len(meshes) == 1:
        return meshes[0]
    whole = _boolean(meshes, "Add")
    if len(whole.faces) > MOST_UNITED:
        raise _too_many()
    return whole


def _too_many() -> InvalidMesh:
    return InvalidMesh("bodies", f"The bodies together make more than {MOST_UNITED} triangles; take fewer, or simpler ones.")


def without(mesh: Mesh, cutters: list[Mesh]) -> Mesh:
    """``mesh`` with what lies inside the ``cutters`` taken out (exact Boolean difference)."""
    return _boolean([mesh, *cutters], "Subtract") if cutters else mesh


def refined(mesh: Mesh, longest: Metres) -> Mesh:
    """The same surface with no edge longer than ``longest`` (metres); for drawing, where small faces sort better."""
    return surface_of(solid_of(mesh).refine_to_length(longest))


def simplified(mesh: Mesh, tolerance: Metres) -> Mesh:
    """The mesh with detail finer than ``tolerance`` (metres) removed; still closed (manifold3d)."""
    return surface_of(solid_of(mesh).simplify(tolerance))


def simplified_to(mesh: Mesh, most: int, first: Ratio, last: Ratio) -> Mesh:
    """The mesh with as little detail lost as leaves at most ``most`` triangles.

    The tolerance is doubled from ``first`` to ``last``, both shares of the mesh's diagonal; what is reached there is given,
    and a mesh that manifold3d takes for no solid is handed back as it is.
    """
    size = float(np.linalg.norm(np.ptp(mesh.vertices, axis=0)))
    if len(mesh.faces) <= most:
        return mesh
    whole = simpler = solid_of(mesh)
    share = first
    while simpler.num_tri() > most and share <= last:
        coarser = whole.simplify(share * size)
        if coarser.is_empty():
            break
        simpler, share = coarser, 2 * share
    try:
        return surface_of(simpler)
    except InvalidMesh:
        return mesh
