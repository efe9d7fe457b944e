"""A boat with everything as one open ZIP: every revision's boat file, meshes, photos and tracks, trials, predictions and pond sheets.

``archive.json`` says what belongs to what; all else lies beside it by name. The same boat always gives the same bytes.
"""

import io
import json
import re
import zipfile
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from pydantic import BaseModel, Field, ValidationError

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import MeshFile
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.exchange import boat_file, bundle, mesh_in, photo, tracks, trial_file
from yarekeel.stages.design.design import Design
from yarekeel.stages.trials.sheet import MOST_ENTRIES, usable

END_OF_ZIP, END_REACHES = b"PK\x05\x06", 65_557
"""The mark of a ZIP's last record, which says how many files there are, and within how many bytes of its end it lies."""
INDEX = "archive.json"
FORMAT, VERSION = "yare-keel-archive", 1
MOST_REVISIONS = 500
_NAME = re.compile(r"(photo|track)-[0-9a-f]{16}\.(jpg|gpx|csv)")


class EntryKept(BaseModel, extra="forbid"):
    """An entry of a pond sheet."""

    key: str = Field(max_length=80)
    code: str = Field(max_length=20)
    at: str = Field(max_length=40)
    typed: dict[str, str] = Field(max_length=20)
    photo: str | None = Field(default=None, max_length=80)


class SheetKept(BaseModel, extra="forbid"):
    """A pond sheet: where it was for, when it was opened, what it shows, and its entries."""

    place: str = Field(max_length=80)
    opened: str = Field(max_length=40)
    shows: dict[str, Any]
    entries: list[EntryKept] = Field(max_length=MOST_ENTRIES)


class DocumentKept(BaseModel, extra="forbid"):
    """A trial or a prediction: its kind, the version of its form, when it was kept, and its figures."""

    kind: str = Field(max_length=20)
    version: int = Field(default=1, ge=1, le=1000)
    kept: str = Field(max_length=40)
    figures: dict[str, Any]


class RevisionKept(BaseModel, extra="forbid"):
    """A revision: the number of its letter, which one it follows, why, its boat file, and what hangs on it."""

    number: int = Field(ge=0, le=MOST_REVISIONS)
    follows: int | None = Field(default=None, ge=0, le=MOST_REVISIONS)
    note: str = Field(default="", max_length=400)
    boat: str = Field(max_length=80)
    trials: list[DocumentKept] = Field(default_factory=list, max_length=1000)
    predictions: list[DocumentKept] = Field(default_factory=list, max_length=100)
    sheets: list[SheetKept] = Field(default_factory=list, max_length=100)


class Index(BaseModel, extra="forbid"):
    """What archive.json holds."""

    format: str = Field(pattern=f"^{FORMAT}$")
    version: int = Field(ge=VERSION, le=VERSION)
    units: str = Field(max_length=20)
    revisions: list[RevisionKept] = Field(min_length=1, max_length=MOST_REVISIONS)


@dataclass(frozen=True, eq=False)
class Archive:
    """An archive read: its index, each revision's design by number, and its photos and tracks by name."""

    index: Index
    designs: Mapping[int, Design]
    photos: Mapping[str, bytes] = field(default_factory=dict)
    tracks: Mapping[str, bytes] = field(default_factory=dict)


def write(index: Index, designs: Mapping[int, Design], data_of: Callable[[str], bytes]) -> bytes:
    """The ZIP; ``data_of`` gives the bytes of a mesh, a photo or a track by its name."""
    named = {INDEX: json.dumps(index.model_dump(), ensure_ascii=False, indent=1, sort_keys=True).encode()}
    for revision in index.revisions:
        named[revision.boat] = boat_file.dumps(designs[revision.number]).encode()
    for name in names_in(index, designs):
        named[name] = data_of(name)
    return bundle.zipped(sorted(named.items()))


def names_in(index: Index, designs: Mapping[int, Design]) -> tuple[str, ...]:
    """Names of all meshes, photos and tracks that an archive speaks of, each once."""
    names: list[str] = []
    for design in designs.values():
        names += [*bundle.meshes_of(design), *bundle.photos_of(design)]
    return tuple(sorted({*names, *_kept_names(index)}))


def _kept_names(index: Index) -> list[str]:
    """Names of the photos and tracks of trials and sheets, which the yard itself gave them."""
    names: list[str] = []
    for revision in index.revisions:
        for trial in revision.trials:
            names += [str(n) for n in trial.figures.get("photos", ())]
        for sheet in revision.sheets:
            names += [e.photo for e in sheet.entries if e.photo]
            names += [e.typed.get("file", "") for e in sheet.entries if e.code == "track"]
    return names


def is_archive(data: bytes) -> bool:
    """Whether a file is a ZIP with an index of this kind; no more of it is read. One of more files than any archive has is none: their
    names alone would take their time."""
    end = data.rfind(END_OF_ZIP, -END_REACHES)
    if end < 0 or len(data) < end + 12 or int.from_bytes(data[end + 10 : end + 12], "little") > bundle.MOST_ENTRIES:
        return False
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as box:
            return INDEX in box.namelist()
    except Exception:
        return False


def read(data: bytes) -> Archive:
    """An archive, everything in it checked. Raises InvalidInput in one sentence."""
    files = bundle.files_of(data)
    try:
        index = Index.model_validate_json(files[INDEX])
    except (KeyError, ValidationError) as error:
        said = error.errors()[0] if isinstance(error, ValidationError) else None
        where = ".".join(str(p) for p in said["loc"]) if said else INDEX
        raise InvalidInput("file", f"{INDEX} in this ZIP is not as it should be, at {where[:80]}; save the archive again.") from None
    numbers = [r.number for r in index.revisions]
    if len(set(numbers)) < len(numbers):
        raise InvalidInput("file", "Two revisions in this archive have one letter; save it again.")
    designs = {r.number: _design(files, r) for r in index.revisions}
    for name in _kept_names(index):
        if not _NAME.fullmatch(name):
            raise InvalidInput("file", f"{name[:60]} is no name of a photo or a track; save the archive again.")
    pictures, found = {}, {}
    for name in names_in(index, designs):
        if name not in files:
            raise InvalidInput("file", f"{name[:80]} is not in this archive; save it again.")
        if name.startswith("photo-"):
            pictures[name] = files[name] if photo.is_clean(files[name]) else photo.small(files[name])
        elif name.startswith("track-"):
            tracks.read(files[name], name)
            found[name] = files[name]
    for revision in index.revisions:
        for trial in revision.trials:
            trial_file.read(trial.kind, trial.version, json.dumps(trial.figures))
        for sheet in revision.sheets:
            for entry in sheet.entries:
                usable(entry.code, entry.typed)
    return Archive(index, designs, pictures, found)


def _design(files: Mapping[str, bytes], revision: RevisionKept) -> Design:
    try:
        design = boat_file.loads(files[revision.boat].decode("utf-8-sig"))
    except (KeyError, UnicodeDecodeError):
        raise InvalidInput("file", f"{revision.boat[:60]} is not in this archive, or is no text; save it again.") from None

    def fetch(shape: MeshFile, at: str) -> Mesh:
        if shape.file not in files:
            raise InvalidInput(at, f"The mesh {shape.file} is not in this archive.")
        return mesh_in.closed(files[shape.file], shape, at)

    return boat_file.with_outer_skins(boat_file.with_meshes(design, fetch))
