"""OBJ. Materials and textures lie in other files, which are not asked for."""

import re
from dataclasses import replace

from yarekeel.core.geometry.mesh import Floats, Ints
from yarekeel.exchange.mesh_formats.mesh_format import File, Format, Looked, by_library


def look(file: File) -> Looked:
    """Triangles."""
    return Looked(file.data.count(b"\nf ") + file.data.startswith(b"f "))


def corners(file: File) -> tuple[Floats, Ints]:
    """Vertices and faces. Raises InvalidMesh."""
    data = re.sub(rb"(?m)^(mtllib|usemtl|vt|vn)\b.*$", b"", file.data)
    data = re.sub(rb"(?m)(?<=\d)/[\d/]*", b"", data)
    return by_library(replace(file, data=data), "obj")


FORMAT = Format("obj", 1, "model/obj", look, corners, digits=9)
