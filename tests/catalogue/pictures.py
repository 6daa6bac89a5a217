"""Pictures for tests, true and false ones."""

from __future__ import annotations

import base64
import struct
import zlib
from io import BytesIO
from typing import Any

from PIL import Image


def picture_bytes(size: tuple[int, int] = (40, 20), kind: str = "PNG", **save: Any) -> bytes:
    """A true picture of one colour."""
    buffer = BytesIO()
    Image.new("RGB", size, "#335577").save(buffer, kind, **save)
    return buffer.getvalue()


def picture(size: tuple[int, int] = (40, 20), kind: str = "PNG", **save: Any) -> str:
    """The same as base64 text, as a screen sends it."""
    return base64.b64encode(picture_bytes(size, kind, **save)).decode()


def bomb(side: int = 30_000) -> bytes:
    """A small PNG that unfolds to a huge picture: rows of nothing, well packed."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0)
    pack = zlib.compressobj(9)
    packed = b"".join(pack.compress(b"\0" * (1 + 3 * side)) for _ in range(200)) + pack.flush()
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", packed) + chunk(b"IEND", b"")


def text_bomb() -> bytes:
    """A PNG whose hidden text unfolds without end."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    true = picture_bytes()
    at = true.index(b"IDAT") - 4
    text = b"note\0\0" + zlib.compress(b"A" * 80_000_000, 9)
    return true[:at] + chunk(b"zTXt", text) + true[at:]
