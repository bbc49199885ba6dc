"""Pictures of a patch as PNG files. Their address names the content, so that a browser may keep them for ever."""

from __future__ import annotations

import hashlib
from typing import Annotated, Any

import numpy as np
from fastapi import Query
from fastapi.responses import Response
from numpy.typing import NDArray

from ..formats import png_bytes
from ..patch import Patch
from .static_files import FOR_EVER

Content = Annotated[str, Query(max_length=64)]
"""The content that a picture is asked for."""


def content_of(patch: Patch) -> str:
    """A name for the content of a patch: the same for the same sound, whichever version it is."""
    return hashlib.sha256(patch.model_dump_json().encode()).hexdigest()[:16]


def drawn(darkness: NDArray[np.floating[Any]], patch: Patch, content: str) -> Response:
    """A picture of shares 0..1, (rows, columns), of a patch. It may be kept if it shows what it was asked for."""
    data = png_bytes((255.0 * (1.0 - darkness)).astype(np.uint8))
    kept = FOR_EVER if content == content_of(patch) else "no-store"
    return Response(data, media_type="image/png", headers={"Cache-Control": kept})
