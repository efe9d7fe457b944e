"""What is read in a process of its own: files that somebody brings, whose cost is not known before."""

from datetime import datetime

from yarekeel.core.errors import InvalidInput
from yarekeel.core.trials.track import Track, TrackRead
from yarekeel.core.trials.track import read as read_track
from yarekeel.exchange import archive, boat_file, bundle, mesh_in, photo, tracks
from yarekeel.exchange.mending import Inspection, inspect
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design


def mesh(data: bytes, name: str) -> Inspection:
    """A mesh file, looked over. Raises InvalidInput."""
    return inspect(mesh_in.read(data, name))


def boat(data: bytes) -> tuple[Design, dict[str, bytes]]:
    """A boat from a boat file, or from a ZIP of one with its meshes and photos, these small and by name; its hull is built once, so that
    one that cannot be is refused at the door. Raises InvalidInput."""
    design, photos = _boat(data)
    small = {name: photo.small(picture) for name, picture in photos.items()}
    Craft(design).hull  # noqa: B018
    return design, small


def _boat(data: bytes) -> tuple[Design, dict[str, bytes]]:
    if data[:4] == b"PK\x03\x04":
        return bundle.unpack(data)
    if len(data) > boat_file.LARGEST_FILE:
        raise InvalidInput("file", f"A boat file is at most {boat_file.LARGEST_FILE // 1_000_000} MB.")
    try:
        design = boat_file.loads(data.decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise InvalidInput("file", "This is not a boat file: it is not UTF-8 text.") from None
    if names := bundle.meshes_of(design):
        raise InvalidInput("file", f"This boat names the mesh {names[0]}; put boat.json and its meshes in one ZIP and bring that in.")
    return design, {}


def track(data: bytes, name: str) -> tuple[TrackRead, Track, datetime | None]:
    """What a track tells, the track, and when it begins. Raises InvalidInput."""
    laid, begins = tracks.read(data, name)
    return read_track(laid), laid, begins


def everything(data: bytes) -> archive.Archive:
    """A boat's archive; every hull in it is built once. Raises InvalidInput."""
    found = archive.read(data)
    for design in found.designs.values():
        Craft(design).hull  # noqa: B018
    return found


def picture(data: bytes) -> bytes:
    """A photo, small. Raises InvalidInput."""
    return photo.small(data)
