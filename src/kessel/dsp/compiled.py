"""Where the compiled loops are kept: by what their code says, so that all checkouts of one version share them."""

from __future__ import annotations

import contextlib
import hashlib
import os
import shutil
import sys
import time
from collections.abc import Callable
from functools import cache
from importlib import metadata
from pathlib import Path
from typing import Any

_CODE = Path(__file__).parent
_READY = "ready"
_KEPT_DAYS = 60
"""Days after which the loops of a version that is not used any more are removed."""


def compiled_folder() -> Path:
    """Folder of the compiled loops of all versions: in the user's cache, or where KESSEL_COMPILED says."""
    named = os.environ.get("KESSEL_COMPILED")
    if named:
        return Path(named)
    base = os.environ.get("XDG_CACHE_HOME")
    return (Path(base) if base else Path.home() / ".cache") / "kessel" / "loops"


@cache
def version() -> str:
    """A digest of the code of all loops, and of what compiles it.

    A loop contains what it calls, so that one changes all of them.
    """
    found = hashlib.sha256(f"{sys.version_info[:2]} {metadata.version('numba')}".encode())
    for path in sorted(_CODE.rglob("*.py")):
        found.update(path.relative_to(_CODE).as_posix().encode() + b"\0" + path.read_bytes() + b"\0")
    return found.hexdigest()[:16]


def all_compiled() -> bool:
    """Whether all loops of this version were compiled."""
    ready = compiled_folder() / version() / _READY
    with contextlib.suppress(OSError):
        if ready.exists():
            # it is in use
            os.utime(ready)
    return ready.exists()


def note_all_compiled() -> None:
    """Note that all loops are compiled, and remove those of old versions. Without a place for it, nothing is noted."""
    folder = compiled_folder()
    with contextlib.suppress(OSError):
        (folder / version()).mkdir(parents=True, exist_ok=True)
        (folder / version() / _READY).touch()
        oldest = time.time() - 86400.0 * _KEPT_DAYS
        for ready in folder.glob(f"*/{_READY}"):
            if ready.stat().st_mtime < oldest:
                shutil.rmtree(ready.parent)


class ByVersion:
    """Tells numba where the loops of a module are kept (a locator of its cache, see NUMBA_CACHE_LOCATOR_CLASSES)."""

    def __init__(self, function: Callable[..., Any], file: str) -> None:
        self._line = function.__code__.co_firstlineno
        self._part = Path(file).parent.relative_to(_CODE)

    @classmethod
    def from_function(cls, function: Callable[..., Any], file: str) -> ByVersion:
        """The place of one loop, which ``file`` contains."""
        return cls(function, file)

    def ensure_cache_path(self) -> None:
        """Make the folder. Raises OSError."""
        Path(self.get_cache_path()).mkdir(parents=True, exist_ok=True)

    def get_cache_path(self) -> str:
        """The folder."""
        return str(compiled_folder() / version() / self._part)

    def get_source_stamp(self) -> str:
        """What the compiled loop is made from."""
        return version()

    def get_disambiguator(self) -> str:
        """What tells loops of one name in one file apart."""
        return str(self._line)
