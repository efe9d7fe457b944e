"""Several bodies as one surface, so that water pushed aside is counted once."""

import numpy as np

from yarekeel.core.errors import InvalidMesh
from yarekeel.core.geometry.checks import check_closed
from yarekeel.core.geometry.mesh import Mesh, welded


def united(meshes: list[Mesh]) -> Mesh:
    """The exact Boolean union (manifold3d) of closed meshes; a single mesh is handed back untouched."""
    if len(meshes) == 1:
        return meshes[0]
    import manifold3d  # costs 0.1 s to load and most boats have one body

    solids = [manifold3d.Manifold(manifold3d.Mesh64(np.array(m.vertices), np.array(m.faces, dtype=np.uint64))) for m in meshes]
    result = manifold3d.Manifold.batch_boolean(solids, manifold3d.OpType.Add).to_mesh64()
    if len(result.tri_verts) == 0:
        raise InvalidMesh("bodies", "The bodies could not be united into one closed surface; check that each is watertight.")
    return check_closed(welded(np.array(result.vert_properties)[:, :3], np.array(result.tri_verts, dtype=np.intp)), "bodies")
