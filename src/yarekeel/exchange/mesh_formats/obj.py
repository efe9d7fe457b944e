"""OBJ. Materials and textures lie in other files, which are not asked for."""

import re
from dataclasses import replace

from yarekeel.core.geometry.mesh import Floats, Ints
from yarekeel.exchange.mesh_formats.mesh_format import File, Format, Looked, by_library

_FACE = re.compile(rb"(?m)^[ \t]*f[ \t][^\n]*")
LONGEST_FACE = 20_000
"""Bytes of a face's line."""
MOST_CORNERS = 500
"""Of one face."""


def look(file: File) -> Looked:
    """Triangles: a face of many corners is as many less two. Raises InvalidMesh."""
    triangles = 0
    for found in _FACE.finditer(file.data):
        if found.end() - found.start() > LONGEST_FACE or (corners := len(found[0].split()) - 1) > MOST_CORNERS:
            raise file.refused(f"has a face of more than {MOST_CORNERS} corners; export it as triangles.")
        triangles += max(corners - 2, 0)
    return Looked(triangles)


def corners(file: File) -> tuple[Floats, Ints]:
    """Vertices and faces. Raises InvalidMesh."""
    data = re.sub(rb"(?m)^(mtllib|usemtl|vt|vn)\b.*$", b"", file.data)
    data = re.sub(rb"(?m)(?<=\d)/[\d/]*", b"", data)
    return by_library(replace(file, data=data), "obj")


FORMAT = Format("obj", 1, "model/obj", look, corners, digits=9)
