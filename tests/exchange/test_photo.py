"""Photos come in small, upright and without what a phone writes beside them."""

import io

import pytest
from PIL import Image

from yarekeel.core.errors import InvalidInput
from yarekeel.exchange import photo


def picture(width: int, height: int, kind: str = "JPEG", turn: int = 1) -> bytes:
    """Red on the left, blue on the right, with a turn and a place written in its EXIF."""
    image = Image.new("RGB", (width, height), (20, 20, 200))
    image.paste((200, 20, 20), (0, 0, width // 2, height))
    exif = Image.Exif()
    exif[0x0112] = turn
    exif[0x010F] = "a phone"
    exif.get_ifd(0x8825)[1] = "N"
    out = io.BytesIO()
    image.save(out, kind, exif=exif)
    return out.getvalue()


def test_it_is_made_small_and_forgets_where_it_was():
    small = Image.open(io.BytesIO(photo.small(picture(3000, 2000))))
    assert small.format == "JPEG"
    assert small.size == (1200, 800)
    assert len(small.getexif()) == 0


def test_nothing_but_the_points_comes_along():
    image = Image.new("RGB", (300, 200), (20, 20, 200))
    out = io.BytesIO()
    image.save(out, "JPEG", comment=b"from the bench of A. Builder", icc_profile=b"x" * 300)
    small = photo.small(out.getvalue())
    assert b"Builder" not in small
    assert b"ICC_PROFILE" not in small
    assert "comment" not in Image.open(io.BytesIO(small)).info


def test_a_picture_taken_sideways_stands_upright():
    """Turn 6 of EXIF: the camera was held on its right side, so the left half comes to the top."""
    small = Image.open(io.BytesIO(photo.small(picture(800, 400, turn=6))))
    assert small.size == (400, 800)
    red, _, blue = small.getpixel((200, 100))
    assert red > 150 > blue


def test_small_ones_and_other_kinds_pass():
    assert Image.open(io.BytesIO(photo.small(picture(60, 40, "PNG")))).size == (60, 40)


@pytest.mark.parametrize("data", [b"", b"not a picture", picture(200, 100)[:300], b"\x89PNG\r\n\x1a\n" + bytes(64), b"<svg/>"])
def test_what_is_no_picture_is_refused_in_a_sentence(data):
    with pytest.raises(InvalidInput, match="picture") as caught:
        photo.small(data)
    assert caught.value.field == "photo"


def test_a_picture_that_would_fill_the_memory_is_refused():
    image = Image.new("1", (20_000, 20_000))
    out = io.BytesIO()
    image.save(out, "PNG")
    assert len(out.getvalue()) < 200_000
    with pytest.raises(InvalidInput, match="picture"):
        photo.small(out.getvalue())
