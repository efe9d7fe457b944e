"""Meshes out: STL, OBJ, PLY and 3MF, written by trimesh, in millimetres unless told."""

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.exchange.mesh_in import KINDS

TYPES = {"stl": "model/stl", "obj": "model/obj", "ply": "application/octet-stream", "3mf": "model/3mf"}
MILLIMETRES = 1000.0


def write(mesh: Mesh, kind: str, per_metre: float = MILLIMETRES) -> bytes:
    """The bytes of a mesh file; 3MF says its unit, the others have none. Raises InvalidInput for an unknown kind.

    STL and PLY hold float32 numbers: seven figures, a tenth of a micrometre in a metre.
    """
    if kind not in KINDS:
        raise InvalidInput("kind", "A mesh can be written as STL, OBJ, PLY or 3MF.")
    import trimesh  # half a second to load, so only when a file is asked for

    solid = trimesh.Trimesh(mesh.vertices * per_metre, mesh.faces, process=False)
    if kind == "3mf":
        solid.units = "millimeter"
    data = solid.export(file_type=kind, **({"digits": 9} if kind == "obj" else {}))
    return data.encode() if isinstance(data, str) else bytes(data)
