"""Photos of parts: made small, upright, and rid of everything but the picture (a phone writes where it was taken)."""

import io

from PIL import Image, ImageOps, UnidentifiedImageError

from yarekeel.core.errors import InvalidInput

LARGEST_FILE = 25_000_000
"""Bytes."""
MOST_PIXELS, MOST_UNSCALED = 240_000_000, 26_000_000
"""Points of a JPEG, which is read at the size it is wanted in, and of any other picture, which is read whole."""
LONGEST_SIDE = 1200
QUALITY = 82


PLAIN = {"jfif", "jfif_version", "jfif_unit", "jfif_density"}
"""What a kept picture says of itself."""


def is_clean(data: bytes) -> bool:
    """Whether a picture is one that ``small`` made: a small JPEG without anything but its points."""
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG",)) as picture:
            return max(picture.size) <= LONGEST_SIDE and set(picture.info) <= PLAIN and not picture.getexif()
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, EOFError, Image.DecompressionBombError):
        return False


def small(data: bytes) -> bytes:
    """JPEG bytes of the picture, its longer side at most 1200 px. Raises InvalidInput for what is no picture."""
    if len(data) > LARGEST_FILE:
        raise InvalidInput("photo", f"That file is larger than {LARGEST_FILE // 1_000_000} MB; take a smaller picture.")
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP", "GIF", "BMP")) as picture:
            most = MOST_PIXELS if picture.format == "JPEG" else MOST_UNSCALED
            if picture.width * picture.height > most:
                raise InvalidInput("photo", f"That picture has more than {most // 1_000_000} million points; take a smaller one.")
            picture.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
            if picture.width * picture.height > MOST_UNSCALED:  # a JPEG of a kind that is not read smaller
                raise InvalidInput("photo", f"That picture has more than {MOST_UNSCALED // 1_000_000} million points; take a smaller one.")
            picture.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
            turned = ImageOps.exif_transpose(picture)
            upright = Image.new("RGB", turned.size)
            upright.paste(turned.convert("RGB"))  # the points alone: no comment, no place, no profile comes along
    except InvalidInput:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, EOFError, Image.DecompressionBombError):
        raise InvalidInput("photo", "That is not a picture this program reads; choose a JPEG or PNG file.") from None
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue()
