"""Meshes in: STL (text and binary), OBJ, PLY and 3MF, as triangles in the file's own unit.

Sizes and counts are looked at before anything is read, so that a file that lies about itself costs little memory.
"""

import io
import re
import struct
import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.errors import InvalidInput, InvalidMesh
from yarekeel.core.geometry.checks import MOST_TRIANGLES, check_closed
from yarekeel.core.geometry.families import MeshFile
from yarekeel.core.geometry.families.mesh_file import METRES_PER_UNIT
from yarekeel.core.geometry.mesh import Floats, Ints, Mesh, merged
from yarekeel.core.geometry.placing import righted

KINDS = ("stl", "obj", "ply", "3mf")
LARGEST_FILE = 64_000_000
"""Bytes of a mesh file."""
MOST_READ = 1_000_000
"""Triangles of a mesh that is still read, to be simplified."""
MOST_UNPACKED = 160_000_000
"""Bytes that a 3MF file may unpack to."""
MOST_ENTRIES = 100
STL_HEADER = 84
_STL_RECORD = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])
_MODEL_UNITS = {"micron": "mm", "millimeter": "mm", "centimeter": "cm", "inch": "in", "foot": "ft", "meter": "m"}
_PLY_FACES = re.compile(rb"^element face (\d+)\s*$", re.MULTILINE)
_PLY_POINTS = re.compile(rb"^element vertex (\d+)\s*$", re.MULTILINE)
_UNIT = re.compile(rb'<model[^>]{0,2000}?\bunit="(\w+)"')


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
    kind = name.rsplit(".", 1)[-1].lower()
    if kind not in KINDS:
        raise InvalidMesh(field, f"{name} is none of the mesh files that are read: STL, OBJ, PLY or 3MF.")
    if not data:
        raise InvalidMesh(field, f"{name} is empty.")
    unit = None
    if kind == "3mf":
        unit = _unit_of_3mf(data, name, field)
    else:
        _count_checked(_count_of(data, kind, name, field), name, field)
    if kind == "stl" and _binary_count(data) is not None:
        vertices, faces = _binary_stl(data)
    else:
        vertices, faces = _by_library(data, kind, name, field)
    if len(faces) == 0:
        raise InvalidMesh(field, f"{name} holds no triangles; a closed hull surface is needed.")
    _count_checked(len(faces), name, field)
    if not np.isfinite(vertices).all():
        raise InvalidMesh(field, f"{name} holds a coordinate that is not a number; export it again.")
    if np.abs(vertices).max() > 1e9:
        raise InvalidMesh(field, f"{name} holds a coordinate beyond anything built; export it again.")
    if faces.min() < 0 or faces.max() >= len(vertices):
        raise InvalidMesh(field, f"{name} speaks of a corner that it does not hold; export it again.")
    return RawMesh(vertices, faces, unit)


def _count_checked(count: int, name: str, field: str) -> None:
    if count > MOST_READ:
        raise InvalidMesh(field, f"{name} has {count} triangles; up to {MOST_READ} are accepted. Export it coarser.")


def _binary_count(data: bytes) -> int | None:
    """Triangles of a binary STL; None for a text or cut-off file."""
    return _counted(data, len(data))


def _counted(head: bytes, size: int) -> int | None:
    """Triangles of a binary STL by its header, if the file's size agrees."""
    if len(head) < STL_HEADER:
        return None
    count = int(struct.unpack("<I", head[80:84])[0])
    return count if size == STL_HEADER + _STL_RECORD.itemsize * count else None


def _binary_stl(data: bytes) -> tuple[Any, Ints]:
    corners = np.frombuffer(data, dtype=_STL_RECORD, offset=STL_HEADER)["corners"].reshape(-1, 3)
    return corners, np.arange(len(corners)).reshape(-1, 3)


def _count_of(data: bytes, kind: str, name: str, field: str) -> int:
    if kind == "stl":
        binary = _binary_count(data)
        if binary is not None:
            return binary
        if not data.lstrip()[:5].lower() == b"solid":
            raise InvalidMesh(field, f"{name} is not an STL file, or is cut short.")
        if b"endsolid" not in data[-400:]:
            raise InvalidMesh(field, f"{name} is not a whole STL file; it is cut short.")
        return data.count(b"endfacet")
    if kind == "ply":
        head = data[:20_000]
        if not head.startswith(b"ply") or b"end_header" not in head:
            raise InvalidMesh(field, f"{name} is not a PLY file.")
        points, faces = _PLY_POINTS.search(head.replace(b"\r", b"")), _PLY_FACES.search(head.replace(b"\r", b""))
        if not points or not faces:
            raise InvalidMesh(field, f"{name} holds no faces; a closed hull surface is needed.")
        return max(int(faces[1]), int(points[1]) // 3)
    return data.count(b"\nf ") + data.startswith(b"f ")


def _unit_of_3mf(data: bytes, name: str, field: str) -> str | None:
    """The unit a 3MF file names, after a look at what it unpacks to: no bombs, no entities, not too many triangles."""
    unit = None
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as box:
            entries = box.infolist()
            if len(entries) > MOST_ENTRIES or sum(e.file_size for e in entries) > MOST_UNPACKED:
                raise InvalidMesh(field, f"{name} unpacks to more than {MOST_UNPACKED // 1_000_000} MB; export it coarser.")
            triangles = 0
            for entry in entries:
                if not entry.filename.endswith((".model", ".rels", ".xml")):
                    continue
                with box.open(entry) as stream:
                    text = stream.read(MOST_UNPACKED + 1)
                if b"<!DOCTYPE" in text or b"<!ENTITY" in text or b"\0" in text[:2000]:
                    raise InvalidMesh(field, f"{name} holds XML that a mesh has no use for; export it again.")
                triangles += text.count(b"<triangle ")
                found = _UNIT.search(text[:20_000])
                unit = _MODEL_UNITS.get(found[1].decode()) if found else unit
    except InvalidMesh:
        raise
    except Exception:  # zipfile raises many kinds on broken files; to the builder they are one
        raise InvalidMesh(field, f"{name} is not a readable 3MF file; export it again.") from None
    _count_checked(triangles, name, field)
    return unit


def _by_library(data: bytes, kind: str, name: str, field: str) -> tuple[Floats, Ints]:
    import trimesh  # half a second to load, so only for a mesh

    try:
        if kind == "obj":
            # Materials and textures lie in other files, which are not asked for.
            data = re.sub(rb"(?m)^(mtllib|usemtl|vt|vn)\b.*$", b"", data)
            data = re.sub(rb"(?m)(?<=\d)/[\d/]*", b"", data)
        loaded = trimesh.load(io.BytesIO(data), file_type=kind, process=False, force="mesh")
        vertices = np.asarray(loaded.vertices, dtype=np.float64).reshape(-1, 3)
        return vertices, np.asarray(loaded.faces, dtype=np.intp).reshape(-1, 3)
    except (Exception, MemoryError):  # the reader raises many kinds on broken files; to the builder they are one
        raise InvalidMesh(field, f"{name} is not a readable {kind.upper()} file; export it again.") from None


def load(path: Path, shape: MeshFile, field: str) -> Mesh:
    """The mesh a boat file names, as ``closed`` gives it. Raises InvalidInput for ``field``."""
    try:
        size = path.stat().st_size
        with path.open("rb") as stream:
            head = stream.read(STL_HEADER)
            if size > LARGEST_FILE:
                _count_checked(_counted(head, size) or 0, path.name, field)
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
    return righted(check_closed(welded_exactly(raw).scaled(METRES_PER_UNIT[shape.unit]), field), shape.forward, shape.up)


def welded_exactly(raw: RawMesh) -> Mesh:
    """Corners at the very same place made one; in a file of float32 numbers equal corners are equal numbers."""
    return merged(raw.vertices + raw.vertices.dtype.type(0), raw.faces)  # no negative zeros, whose bytes differ
