"""3MF: a ZIP of XML that names its unit."""

import io
import re
import zipfile

from yarekeel.core.errors import InvalidMesh
from yarekeel.exchange.mesh_formats.mesh_format import MOST_UNPACKED, File, Format, Looked, by_library

MOST_ENTRIES = 100
MOST_ITEMS = 300
"""Things on the plate and parts of things: each is a copy of a mesh."""
FEW_ITEMS = 20
_UNITS = {"micron": "mm", "millimeter": "mm", "centimeter": "cm", "inch": "in", "foot": "ft", "meter": "m"}
_UNIT = re.compile(rb'<model[^>]{0,2000}?\bunit="(\w+)"')


def look(file: File) -> Looked:
    """Triangles and unit, after a look at what it unpacks to: no bombs, no entities. Raises InvalidMesh."""
    unit, triangles, items = None, 0, 0
    try:
        with zipfile.ZipFile(io.BytesIO(file.data)) as box:
            entries = box.infolist()
            if len(entries) > MOST_ENTRIES or sum(e.file_size for e in entries) > MOST_UNPACKED:
                raise file.refused(f"unpacks to more than {MOST_UNPACKED // 1_000_000} MB; export it coarser.")
            for entry in entries:
                if not entry.filename.endswith((".model", ".rels", ".xml")):
                    continue
                with box.open(entry) as stream:
                    text = stream.read(MOST_UNPACKED + 1)
                if b"<!DOCTYPE" in text or b"<!ENTITY" in text or b"\0" in text[:2000]:
                    raise file.refused("holds XML that a mesh has no use for; export it again.")
                triangles += text.count(b"<triangle ")
                items += text.count(b"<item ") + text.count(b"<component ")
                found = _UNIT.search(text[:20_000])
                unit = _UNITS.get(found[1].decode()) if found else unit
    except InvalidMesh:
        raise
    except Exception:  # zipfile raises many kinds on broken files; to the builder they are one
        raise file.refused("is not a readable 3MF file; export it again.") from None
    if items > MOST_ITEMS:
        raise file.refused(f"places {items} copies of meshes; up to {MOST_ITEMS} are read. Export the hull alone.")
    # each copy may be of all the triangles there are
    return Looked(triangles * max(items, 1) if items > FEW_ITEMS else triangles, unit)


FORMAT = Format("3mf", 3, "model/3mf", look, lambda file: by_library(file, "3mf"), unit="millimeter")
