"""STL in: a closed triangle mesh, ASCII or binary, in a unit that the boat file names (STL itself has none)."""

import struct
from pathlib import Path

import numpy as np

from yarekeel.core.errors import InvalidInput, InvalidMesh
from yarekeel.core.geometry.checks import MOST_TRIANGLES, check_closed
from yarekeel.core.geometry.families.mesh_file import METRES_PER_UNIT
from yarekeel.core.geometry.mesh import Mesh, welded

HEADER = 84
RECORD = 50
LARGEST_ASCII = 400 * MOST_TRIANGLES
"""Bytes: an ASCII facet takes some 250, so anything longer holds too many."""


def load(path: Path, unit: str, field: str) -> Mesh:
    """The mesh in metres, closed and right side out. Raises InvalidInput for ``field`` with what would be accepted."""
    try:
        size = path.stat().st_size
        with path.open("rb") as stream:
            head = stream.read(HEADER)
    except OSError as error:
        raise InvalidInput(field, f"{path.name} cannot be read: {error.strerror or error}.") from None
    count = _binary_count(head, size)
    too_many = f"up to {MOST_TRIANGLES} triangles are accepted. Export it coarser."
    if count is not None and count > MOST_TRIANGLES:
        raise InvalidMesh(field, f"{path.name} has {count} triangles; {too_many}")
    if count is None and not head.lstrip().startswith(b"solid"):
        raise InvalidMesh(field, f"{path.name} is not an STL file, or is cut short.")
    if count is None and size > LARGEST_ASCII:
        raise InvalidMesh(field, f"{path.name} is {size // 1_000_000} MB of text; {too_many}")
    if count == 0:
        raise InvalidMesh(field, f"{path.name} holds no triangles; a closed hull surface is needed.")
    import trimesh  # half a second to load, so only for a mesh

    try:
        loaded = trimesh.load(str(path), file_type="stl", process=False, force="mesh")
        vertices = np.asarray(loaded.vertices, dtype=np.float64)
        faces = np.asarray(loaded.faces, dtype=np.intp)
    except Exception:  # the reader raises many kinds on broken files; to the builder they are one
        raise InvalidMesh(field, f"{path.name} is not a readable STL file; export it again.") from None
    if len(faces) == 0:
        raise InvalidMesh(field, f"{path.name} holds no triangles; a closed hull surface is needed.")
    if not np.isfinite(vertices).all():
        raise InvalidMesh(field, f"{path.name} holds a coordinate that is not a number; export it again.")
    # Equal corners are equal float32 numbers, so they weld exactly in the file's own unit.
    mesh = welded(vertices, faces, decimals=12)
    return check_closed(mesh.scaled(METRES_PER_UNIT[unit]), field)


def _binary_count(head: bytes, size: int) -> int | None:
    """Triangles of a binary file, by its header, if its size agrees; None for a text or cut-off file."""
    if len(head) < HEADER:
        return None
    count = int(struct.unpack("<I", head[80:84])[0])
    return count if size == HEADER + RECORD * count else None
