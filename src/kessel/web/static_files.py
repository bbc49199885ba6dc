"""The files of the page. Their address changes with their content, so that a browser may keep them for ever."""

from __future__ import annotations

import hashlib
from pathlib import Path

from fastapi.staticfiles import StaticFiles
from starlette.middleware.gzip import GZipMiddleware

FOLDER = Path(__file__).parent / "static"
FOR_EVER = "public, max-age=31536000, immutable"


def _fingerprint(folder: Path) -> str:
    found = hashlib.sha256()
    for path in sorted(p for p in folder.rglob("*") if p.is_file()):
        found.update(path.relative_to(folder).as_posix().encode() + b"\0" + path.read_bytes())
    return found.hexdigest()[:12]


ADDRESS = f"/static/{_fingerprint(FOLDER)}"
"""Where the files are served. One fingerprint for all: scripts and styles name each other by relative addresses."""


def static_files() -> GZipMiddleware:
    """Serves the files, compressed."""
    return GZipMiddleware(StaticFiles(directory=FOLDER), minimum_size=500)
