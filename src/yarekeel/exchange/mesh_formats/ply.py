"""PLY, text and binary."""

import re

from yarekeel.exchange.mesh_formats.mesh_format import File, Format, Looked, by_library

_FACES = re.compile(rb"^element face (\d+)\s*$", re.MULTILINE)
_POINTS = re.compile(rb"^element vertex (\d+)\s*$", re.MULTILINE)


def look(file: File) -> Looked:
    """Triangles, by the header. Raises InvalidMesh."""
    head = file.data[:20_000]
    if not head.startswith(b"ply") or b"end_header" not in head:
        raise file.refused("is not a PLY file.")
    points, faces = _POINTS.search(head.replace(b"\r", b"")), _FACES.search(head.replace(b"\r", b""))
    if not points or not faces:
        raise file.refused("holds no faces; a closed hull surface is needed.")
    return Looked(max(int(faces[1]), int(points[1]) // 3))


FORMAT = Format("ply", 2, "application/octet-stream", look, lambda file: by_library(file, "ply"))
