"""Meshes in, of any format there is, as triangles in the file's own unit.

Sizes and counts are looked at before anything is read, so that a file that lies about itself costs little memory.
"""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.errors import InvalidInput, InvalidMesh
from yarekeel.core.geometry.checks import MOST_TRIANGLES, check_closed
from yarekeel.core.geometry.families import MeshFile
from yarekeel.core.geometry.families.mesh_file import METRES_PER_UNIT
from yarekeel.core.geometry.mesh import Ints, Mesh, merged, without_copies
from yarekeel.core.geometry.placing import righted
from yarekeel.exchange.mesh_formats import FORMATS, named
from yarekeel.exchange.mesh_formats.mesh_format import File

LARGEST_FILE = 64_000_000
"""Bytes of a mesh file."""
MOST_READ = 1_000_000
"""Triangles of a mesh that is still read, to be simplified."""
HEAD = 4096
"""Bytes that are read of a file before all of it is."""


@dataclass(frozen=True, eq=False)
class RawMesh:
    """Triangles as the file has them, in its own unit and precision; ``unit`` where the file names one."""

    vertices: NDArray[np.floating[Any]]
    faces: Ints
    unit: str | None = None


def read(data: bytes, name: str, field: str = "file") -> RawMesh:
    """The triangles of a mesh file. Raises InvalidMesh with one sentence on what would be accepted."""
    if len(data) > LARGEST_FILE:
        raise InvalidMesh(field, f"{name} is larger than {LARGEST_FILE // 1_000_000} MB; export it coarser.")
    suffix = name.rsplit(".", 1)[-1].lower()
    if suffix not in FORMATS:
        raise InvalidMesh(field, f"{name} is none of the mesh files that are read: {named()}.")
    if not data:
        raise InvalidMesh(field, f"{name} is empty.")
    file = File(data, name, field)
    looked = FORMATS[suffix].look(file)
    _count_checked(looked.triangles, name, field)
    vertices, faces = FORMATS[suffix].corners(file)
    if len(faces) == 0:
        raise InvalidMesh(field, f"{name} holds no triangles; a closed hull surface is needed.")
    _count_checked(len(faces), name, field)
    if not np.isfinite(vertices).all():
        raise InvalidMesh(field, f"{name} holds a coordinate that is not a number; export it again.")
    if np.abs(vertices).max() > 1e9:
        raise InvalidMesh(field, f"{name} holds a coordinate beyond anything built; export it again.")
    if faces.min() < 0 or faces.max() >= len(vertices):
        raise InvalidMesh(field, f"{name} speaks of a corner that it does not hold; export it again.")
    return RawMesh(vertices, faces, looked.unit)


def _count_checked(count: int, name: str, field: str) -> None:
    if count > MOST_READ:
        raise InvalidMesh(field, f"{name} has {count} triangles; up to {MOST_READ} are accepted. Export it coarser.")


def load(path: Path, shape: MeshFile, field: str) -> Mesh:
    """The mesh a boat file names, as ``closed`` gives it. Raises InvalidInput for ``field``."""
    try:
        size = path.stat().st_size
        with path.open("rb") as stream:
            head = stream.read(HEAD)
            if size > LARGEST_FILE:
                form = FORMATS.get(path.suffix[1:].lower())
                _count_checked(form.counted(head, size) or 0 if form else 0, path.name, field)
                raise InvalidMesh(field, f"{path.name} is larger than {LARGEST_FILE // 1_000_000} MB; export it coarser.")
            data = head + stream.read()
    except OSError as error:
        raise InvalidInput(field, f"{path.name} cannot be read: {error.strerror or error}.") from None
    return closed(data, shape, field)


def closed(data: bytes, shape: MeshFile, field: str) -> Mesh:
    """The mesh in a file's bytes, in metres, forward along x and up along z, closed. Raises InvalidInput for ``field``."""
    raw = read(data, shape.file, field)
    if len(raw.faces) > MOST_TRIANGLES:
        raise InvalidMesh(field, f"{shape.file} has {len(raw.faces)} triangles; up to {MOST_TRIANGLES} are accepted. Export it coarser.")
    mesh = welded_exactly(raw)
    if len(without_copies(mesh).faces) < len(mesh.faces):
        raise InvalidMesh(field, f"{shape.file} holds the same surface twice in one place; export it once.")
    return righted(check_closed(mesh.scaled(METRES_PER_UNIT[shape.unit]), field), shape.forward, shape.up)


def welded_exactly(raw: RawMesh) -> Mesh:
    """Corners at the very same place made one; in a file of float32 numbers equal corners are equal numbers."""
    return merged(raw.vertices + raw.vertices.dtype.type(0), raw.faces)  # no negative zeros, whose bytes differ
