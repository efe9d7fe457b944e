"""STL, text and binary."""

import struct
from typing import Any

import numpy as np

from yarekeel.core.geometry.mesh import Ints
from yarekeel.exchange.mesh_formats.mesh_format import File, Format, Looked, by_library

HEADER = 84
RECORD = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])


def counted(head: bytes, size: int) -> int | None:
    """Triangles of a binary STL by its header, if the file's size agrees; None for a text or cut-off file."""
    if len(head) < HEADER:
        return None
    count = int(struct.unpack("<I", head[80:84])[0])
    return count if size == HEADER + RECORD.itemsize * count else None


def look(file: File) -> Looked:
    """Triangles. Raises InvalidMesh."""
    data = file.data
    binary = counted(data, len(data))
    if binary is not None:
        return Looked(binary)
    if not data.lstrip()[:5].lower() == b"solid":
        raise file.refused("is not an STL file, or is cut short.")
    if b"endsolid" not in data[-400:]:
        raise file.refused("is not a whole STL file; it is cut short.")
    return Looked(data.count(b"endfacet"))


def corners(file: File) -> tuple[Any, Ints]:
    """Three corners a triangle, float32 in a binary file. Raises InvalidMesh."""
    if counted(file.data, len(file.data)) is None:
        return by_library(file, "stl")
    found = np.frombuffer(file.data, dtype=RECORD, offset=HEADER)["corners"].reshape(-1, 3)
    return found, np.arange(len(found)).reshape(-1, 3)


FORMAT = Format("stl", 0, "model/stl", look, corners, counted)
