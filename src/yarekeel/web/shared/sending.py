"""Files for the builder to keep."""

from fastapi.responses import Response

from yarekeel.store.records import Revision


def sent(revision: Revision, data: bytes, kind: str, media: str) -> Response:
    """A file named after the boat and its revision."""
    name = "".join(c if c.isascii() and c.isalnum() else "-" for c in revision.design.name).strip("-") or "boat"
    return Response(data, media_type=media, headers={"content-disposition": f'attachment; filename="{name}-{revision.letter}.{kind}"'})
