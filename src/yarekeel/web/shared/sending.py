"""Files for the builder to keep."""

from fastapi.responses import Response

from yarekeel.store.records import Revision


def sent(revision: Revision, data: bytes, kind: str, media: str) -> Response:
    """A file named after the boat and its revision."""
    return attached(data, f"{revision.design.name}-{revision.letter}.{kind}", media)


def attached(data: bytes, name: str, media: str) -> Response:
    """A file of a name, which is made one that any disk takes."""
    stem, _, ending = name.rpartition(".")
    safe = "".join(c if c.isascii() and c.isalnum() else "-" for c in stem).strip("-") or "boat"
    return Response(data, media_type=media, headers={"content-disposition": f'attachment; filename="{safe}.{ending}"'})
