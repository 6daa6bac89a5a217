"""Pictures: only true ones, turned right, without hidden data, never unfolded beyond measure."""

from __future__ import annotations

import resource
from io import BytesIO

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from elumbra.documents.picture import LARGEST_PICTURE, PictureError, clean_picture
from tests.catalogue.pictures import bomb, picture_bytes, text_bomb
from tests.effort import examples

GPS, ORIENTATION = 0x8825, 0x0112


def opened(content: bytes) -> Image.Image:
    return Image.open(BytesIO(content))


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP"])
def test_a_true_picture_is_kept_as_jpeg_with_a_small_copy(kind: str) -> None:
    made = clean_picture(picture_bytes((3000, 1500), kind))
    assert (made.width, made.height) == (2000, 1000)
    assert opened(made.content).format == "JPEG"
    assert opened(made.content).size == (2000, 1000)
    assert max(opened(made.thumb).size) == 320
    assert clean_picture(picture_bytes((7, 3), kind)).width == 7


@pytest.mark.parametrize(("turn", "corner"), [(1, (0, 0)), (3, (39, 19)), (6, (19, 0)), (8, (0, 39))])
def test_it_is_turned_as_it_was_held(turn: int, corner: tuple[int, int]) -> None:
    held = Image.new("RGB", (40, 20), "black")
    held.paste("white", (0, 0, 8, 8))
    exif = Image.Exif()
    exif[ORIENTATION] = turn
    buffer = BytesIO()
    held.save(buffer, "JPEG", exif=exif, quality=95)
    shown = opened(clean_picture(buffer.getvalue()).content)
    assert shown.size == ((40, 20) if turn in (1, 3) else (20, 40))
    assert shown.convert("L").getpixel(corner) > 180
    assert dict(shown.getexif()) == {}


def test_where_it_was_taken_is_stripped() -> None:
    exif = Image.Exif()
    exif[GPS] = {1: "N", 2: (29.0, 45.0, 1.0)}
    exif[0x010F] = "Some maker"
    content = picture_bytes((40, 20), "JPEG", exif=exif)
    assert b"Some maker" in content
    kept = clean_picture(content).content
    assert b"Some maker" not in kept
    assert b"Exif" not in kept


def test_see_through_parts_become_white() -> None:
    buffer = BytesIO()
    Image.new("RGBA", (9, 9), (0, 0, 0, 0)).save(buffer, "PNG")
    assert opened(clean_picture(buffer.getvalue()).content).convert("L").getpixel((4, 4)) > 250


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "Only JPEG, PNG and WebP"),
        (b"<svg xmlns='http://www.w3.org/2000/svg' onload='x()'/>", "Only JPEG, PNG and WebP"),
        (b"\xff\xd8\xff" + b"MZ this is a program" * 50, "Only JPEG, PNG and WebP"),
        (b"GIF89a" + b"\0" * 40, "Only JPEG, PNG and WebP"),
        (picture_bytes()[:-30], "did not arrive whole"),
        (picture_bytes((400, 400), "JPEG")[:900], "did not arrive whole"),
        (b"\0" * (LARGEST_PICTURE + 1), "has 12 MB; at most 12 MB"),
        (b"\xff" * 80_000_000, "has 80 MB; at most 12 MB"),
        (bomb(), "would unfold to more points"),
        (bomb(8_500), "would unfold to 8500 by 8500 points"),
        (text_bomb(), "did not arrive whole, or is none"),
    ],
    ids=[
        "nothing",
        "svg",
        "program",
        "gif",
        "cut off",
        "jpeg cut off",
        "12 MB",
        "80 MB",
        "bomb",
        "small bomb",
        "text bomb",
    ],
)
def test_what_is_no_true_picture_is_refused_with_the_mend(content: bytes, says: str) -> None:
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    with pytest.raises(PictureError) as refusal:
        clean_picture(content)
    assert says in refusal.value.message
    assert "content" in refusal.value.fields
    grown_mb = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    assert grown_mb < 400, "a bomb was unfolded"


@examples(150, deadline=None)
@given(at=st.integers(8, 3000), byte=st.integers(0, 255), kind=st.sampled_from(["PNG", "JPEG", "WEBP"]))
def test_a_damaged_picture_is_kept_or_refused_and_nothing_else(at: int, byte: int, kind: str) -> None:
    content = bytearray(picture_bytes((64, 48), kind))
    content[at % len(content)] = byte
    try:
        made = clean_picture(bytes(content))
    except PictureError:
        return
    assert opened(made.content).size == (made.width, made.height)
