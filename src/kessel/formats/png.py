"""Greyscale images as PNG (ISO/IEC 15948)."""

from __future__ import annotations

import struct
import zlib
from typing import Any

import numpy as np
from numpy.typing import NDArray


def png_bytes(grey: NDArray[Any]) -> bytes:
    """An image, (rows, columns) uint8, top row first, 0 black and 255 white."""
    rows, columns = grey.shape
    lines = np.concatenate([np.zeros((rows, 1), dtype=np.uint8), grey.astype(np.uint8)], axis=1)

    def piece(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", columns, rows, 8, 0, 0, 0, 0)
    body = zlib.compress(lines.tobytes(), 6)
    return b"\x89PNG\r\n\x1a\n" + piece(b"IHDR", head) + piece(b"IDAT", body) + piece(b"IEND", b"")
