"""Meshes out, of any format there is, written by trimesh, in millimetres unless told."""

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.exchange.mesh_formats import FORMATS, named

MILLIMETRES = 1000.0


def write(mesh: Mesh, suffix: str, per_metre: float = MILLIMETRES) -> bytes:
    """The bytes of a mesh file; 3MF says its unit, the others have none. Raises InvalidInput for an unknown format.

    STL and PLY hold float32 numbers: seven figures, a tenth of a micrometre in a metre.
    """
    form = FORMATS.get(suffix)
    if form is None:
        raise InvalidInput("kind", f"A mesh can be written as {named()}.")
    import trimesh  # half a second to load, so only when a file is asked for

    solid = trimesh.Trimesh(mesh.vertices * per_metre, mesh.faces, process=False)
    if form.unit:
        solid.units = form.unit
    data = solid.export(file_type=suffix, **({"digits": form.digits} if form.digits else {}))
    return data.encode() if isinstance(data, str) else bytes(data)
