"""What a mesh format says of itself."""

import io
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from yarekeel.core.errors import InvalidMesh
from yarekeel.core.geometry.mesh import Floats, Ints

MOST_UNPACKED = 160_000_000
"""Bytes that a packed file may unpack to."""


@dataclass(frozen=True, eq=False, slots=True)
class File:
    """A file to be read: its bytes, and its name and field for the sentence that refuses it."""

    data: bytes
    name: str
    field: str

    def refused(self, words: str) -> InvalidMesh:
        """The error that says what is wrong; ``words`` go on from the file's name."""
        return InvalidMesh(self.field, f"{self.name} {words}")


@dataclass(frozen=True, slots=True)
class Looked:
    """What a look at a file told before it was read: triangles at most, and the unit where the file names one."""

    triangles: int
    unit: str | None = None


@dataclass(frozen=True, slots=True)
class Format:
    """A row. ``look`` counts without reading, so that a file that lies about itself costs little memory; ``corners`` gives vertices
    (n, 3) and faces (m, 3) in the file's own unit and precision. Both raise InvalidMesh. ``counted`` counts by the first bytes and
    the size, where a format can. ``unit`` is the word for millimetres where a file says its unit; ``digits`` are asked for where
    it is text."""

    suffix: str
    rank: int
    media: str
    look: Callable[[File], Looked]
    corners: Callable[[File], tuple[Any, Ints]]
    counted: Callable[[bytes, int], int | None] = lambda head, size: None
    unit: str = ""
    digits: int | None = None


def by_library(file: File, suffix: str) -> tuple[Floats, Ints]:
    """Vertices and faces as trimesh reads them. Raises InvalidMesh."""
    import trimesh  # half a second to load, so only for a mesh

    try:
        loaded = trimesh.load(io.BytesIO(file.data), file_type=suffix, process=False, force="mesh")
        vertices = np.asarray(loaded.vertices, dtype=np.float64).reshape(-1, 3)
        return vertices, np.asarray(loaded.faces, dtype=np.intp).reshape(-1, 3)
    except (Exception, MemoryError):  # the reader raises many kinds on broken files; to the builder they are one
        raise file.refused(f"is not a readable {suffix.upper()} file; export it again.") from None
