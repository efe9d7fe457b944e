"""A boat with its meshes and photos in one ZIP: the boat file as boat.json, and beside it every file it names."""

import io
import zipfile
from collections.abc import Callable, Iterable
from pathlib import Path

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import MeshFile
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.exchange import boat_file, mesh_in
from yarekeel.exchange.mesh_formats.mesh_format import MOST_UNPACKED
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

BOAT = "boat.json"
MOST_ENTRIES = 600
ZIP = b"PK"
STAMP = (1980, 1, 1, 0, 0, 0)
"""The same boat always gives the same bytes."""


def meshes_of(design: Design) -> list[str]:
    """Names of the mesh files a design speaks of, each once."""
    return list(dict.fromkeys(b.shape.file for b in design.bodies if isinstance(b.shape, MeshFile)))


def photos_of(design: Design) -> list[str]:
    """Names of the photos a design speaks of, each once."""
    return list(dict.fromkeys(w.photo for w in design.weights if w.photo))


def pack(design: Design, data_of: Callable[[str], bytes], photo_of: Callable[[str], bytes]) -> bytes:
    """The ZIP; ``data_of`` gives a mesh file's bytes by its name, ``photo_of`` a photo's."""
    meshes = [(n, data_of(n)) for n in meshes_of(design)]
    photos = [(n, photo_of(n)) for n in photos_of(design)]
    return zipped([(BOAT, boat_file.dumps(design).encode()), *meshes, *photos])


def zipped(files: Iterable[tuple[str, bytes]]) -> bytes:
    """A ZIP of files by name, in their order; the same bytes for the same files."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as box:
        for name, data in files:
            box.writestr(zipfile.ZipInfo(name, STAMP), data, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def unpack(data: bytes) -> tuple[Design, dict[str, bytes]]:
    """The design in a ZIP with its meshes at hand, and its photos by name. Raises InvalidInput in one sentence."""
    files = files_of(data)
    if BOAT not in files:
        raise InvalidInput("file", f"This ZIP holds no {BOAT}; it is not a boat with its meshes.")
    try:
        design = boat_file.loads(files[BOAT].decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise InvalidInput("file", f"{BOAT} in this ZIP is not UTF-8 text.") from None

    def fetch(shape: MeshFile, field: str) -> Mesh:
        if shape.file not in files:
            raise InvalidInput(field, f"The mesh {shape.file} is not in this ZIP.")
        return mesh_in.closed(files[shape.file], shape, field)

    return boat_file.with_outer_skins(boat_file.with_meshes(design, fetch)), {n: files[n] for n in photos_of(design) if n in files}


def load(path: Path) -> Craft:
    """A craft from a boat file with its meshes beside it, or from a ZIP that holds both. Raises InvalidInput."""
    try:
        with path.open("rb") as file:
            data = file.read(len(ZIP))
            if data != ZIP:
                return boat_file.load(path)
            data += file.read(MOST_UNPACKED)
    except OSError as error:
        raise InvalidInput("file", f"{path} cannot be read: {error.strerror or error}.") from None
    return Craft(unpack(data)[0])


def files_of(data: bytes) -> dict[str, bytes]:
    """What is in a ZIP by name, within limits; nothing is written anywhere. Raises InvalidInput."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as box:
            entries = box.infolist()
            if len(entries) > MOST_ENTRIES or sum(e.file_size for e in entries) > MOST_UNPACKED:
                raise InvalidInput("file", f"This ZIP unpacks to more than {MOST_UNPACKED // 1_000_000} MB.")
            if len({e.filename for e in entries}) < len(entries):
                raise InvalidInput("file", "This ZIP holds two files of one name; save the boat again.")
            for entry in entries:
                most = boat_file.LARGEST_FILE if entry.filename == BOAT else mesh_in.LARGEST_FILE
                if entry.file_size > most:
                    raise InvalidInput("file", f"{entry.filename[:60]} in this ZIP unpacks to more than {most // 1_000_000} MB.")
            return {e.filename: box.read(e) for e in entries}
    except InvalidInput:
        raise
    except Exception:  # zipfile raises many kinds on broken files; to the builder they are one
        raise InvalidInput("file", "This ZIP cannot be read; save the boat again.") from None
