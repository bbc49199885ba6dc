"""Atomic writes."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path


def write_whole(path: Path, data: bytes) -> None:
    """Write ``data`` beside ``path`` and rename it into place. Raises OSError; nothing half-written is left."""
    handle, beside = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name[:40]}.")
    try:
        with os.fdopen(handle, "wb") as f:
            f.write(data)
        mask = os.umask(0)
        os.umask(mask)
        Path(beside).chmod(0o666 & ~mask)
        Path(beside).replace(path)
    except BaseException:
        Path(beside).unlink(missing_ok=True)
        raise
