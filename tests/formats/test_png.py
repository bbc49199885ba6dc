"""Images, read back by the standard: signature, pieces with their checksums, lines behind a filter byte."""

import struct
import zlib

import numpy as np
import pytest

from kessel.formats.png import png_bytes


def pieces(data):
    """(kind, content) of every piece. Checksums are asked."""
    assert data[:8] == b"\x89PNG\r\n\x1a\n"
    at, found = 8, []
    while at < len(data):
        (size,) = struct.unpack(">I", data[at : at + 4])
        kind, content = data[at + 4 : at + 8], data[at + 8 : at + 8 + size]
        assert struct.unpack(">I", data[at + 8 + size : at + 12 + size])[0] == zlib.crc32(kind + content)
        found.append((kind, content))
        at += 12 + size
    return found


@pytest.mark.parametrize("rows, columns", [(1, 1), (3, 7), (40, 25)])
def test_an_image_is_read_back(rows, columns):
    grey = np.random.default_rng(rows).integers(0, 256, (rows, columns), dtype=np.uint8)
    head, body, end = pieces(png_bytes(grey))
    assert head == (b"IHDR", struct.pack(">IIBBBBB", columns, rows, 8, 0, 0, 0, 0))
    assert end == (b"IEND", b"")
    lines = np.frombuffer(zlib.decompress(body[1]), dtype=np.uint8).reshape(rows, columns + 1)
    assert body[0] == b"IDAT" and np.array_equal(lines[:, 1:], grey) and not lines[:, 0].any()
