"""Photos of parts: made small, upright, and rid of everything but the picture (a phone writes where it was taken)."""

import io

from PIL import Image, ImageOps, UnidentifiedImageError

from yarekeel.core.errors import InvalidInput

LARGEST_FILE = 25_000_000
"""Bytes."""
MOST_PIXELS = 80_000_000
LONGEST_SIDE = 1200
QUALITY = 82


def small(data: bytes) -> bytes:
    """JPEG bytes of the picture, its longer side at most 1200 px. Raises InvalidInput for what is no picture."""
    if len(data) > LARGEST_FILE:
        raise InvalidInput("photo", f"That file is larger than {LARGEST_FILE // 1_000_000} MB; take a smaller picture.")
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP", "GIF", "BMP")) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise InvalidInput("photo", f"That picture has more than {MOST_PIXELS // 1_000_000} million points; take a smaller one.")
            picture.draft("RGB", (2 * LONGEST_SIDE, 2 * LONGEST_SIDE))
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except InvalidInput:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, EOFError, Image.DecompressionBombError):
        raise InvalidInput("photo", "That is not a picture this program reads; choose a JPEG or PNG file.") from None
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue()
