"""Pictures as they are kept: true ones only, turned right, made smaller, without where they were taken."""

from __future__ import annotations

import warnings
from dataclasses import dataclass
from io import BytesIO

from PIL import Image, ImageOps, UnidentifiedImageError

from elumbra.core.errors import CoreError

LARGEST_PICTURE = 12_000_000  # bytes that are taken in
MOST_PIXELS = 60_000_000
_KEPT_EDGE, _THUMB_EDGE = 2000, 320
_QUALITY, _THUMB_QUALITY = 85, 75
_FORMATS = ("JPEG", "PNG", "WEBP")


class PictureError(CoreError):
    """What was sent is no picture that can be kept; the message says why and what mends it."""


@dataclass(frozen=True)
class Picture:
    """A picture as it is kept: JPEG, its longer side at most 2000 pixels, with a small one beside it."""

    content: bytes
    thumb: bytes
    width: int
    height: int


def clean_picture(content: bytes) -> Picture:
    """A picture turned as it was held, without its hidden data, made smaller.

    The content decides, never a file's name: what does not decode from its first to its last line is refused,
    and so is a small file that would unfold to a huge picture, before it is unfolded.

    Raises
    ------
    PictureError
        Too large, no JPEG, PNG or WebP, broken, or unfolding without end.
    """
    if len(content) > LARGEST_PICTURE:
        mb = len(content) / 1e6
        raise PictureError(
            f"This picture has {mb:.0f} MB; at most {LARGEST_PICTURE / 1e6:.0f} MB are kept. Take it again, smaller.",
            fields={"content": "Too large."},
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            return _cleaned(content)
    except PictureError:
        raise
    except (Image.DecompressionBombError, Image.DecompressionBombWarning) as error:
        raise PictureError(
            "This picture would unfold to more points than any camera takes. Take it again, smaller.",
            fields={"content": "Too many points."},
        ) from error
    except UnidentifiedImageError as error:
        raise PictureError(
            "Only JPEG, PNG and WebP pictures can be kept. Take a photo, or save it as one of these.",
            fields={"content": "JPEG, PNG or WebP."},
        ) from error
    # Whatever a decoder trips over in a broken or malicious file: it is refused, whatever its name.
    except (OSError, ValueError, SyntaxError, EOFError, MemoryError, Warning) as error:
        raise PictureError(
            "The picture did not arrive whole, or is none. Take it again.", fields={"content": "Broken."}
        ) from error


def _cleaned(content: bytes) -> Picture:
    with Image.open(BytesIO(content), formats=_FORMATS) as opened:
        width, height = opened.size
        if width * height > MOST_PIXELS:
            raise PictureError(
                f"This picture would unfold to {width} by {height} points. Take it again, smaller.",
                fields={"content": "Too many points."},
            )
        opened.draft("RGB", (_KEPT_EDGE, _KEPT_EDGE))
        opened.load()
        upright = ImageOps.exif_transpose(opened)
        plain = Image.new("RGB", upright.size, "white")
        plain.paste(upright, mask=upright.getchannel("A") if upright.mode in ("RGBA", "LA") else None)
    plain.thumbnail((_KEPT_EDGE, _KEPT_EDGE))
    small = plain.copy()
    small.thumbnail((_THUMB_EDGE, _THUMB_EDGE))
    return Picture(_jpeg(plain, _QUALITY), _jpeg(small, _THUMB_QUALITY), *plain.size)


def _jpeg(picture: Image.Image, quality: int) -> bytes:
    buffer = BytesIO()
    picture.save(buffer, "JPEG", quality=quality, optimize=True)
    return buffer.getvalue()
