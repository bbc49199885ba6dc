"""Return unused memory to the system, where the C library supports it."""

from __future__ import annotations

import ctypes
import gc
from contextlib import suppress

_M_ARENA_MAX = -8
_ARENAS = 2


def lean_memory() -> None:
    """Let threads share a few memory arenas."""
    with suppress(OSError, AttributeError, TypeError):
        ctypes.CDLL(None).mallopt(_M_ARENA_MAX, _ARENAS)


def keep_loaded() -> None:
    """Exclude everything that is loaded now from garbage collection, so that a collection takes a few milliseconds."""
    gc.collect()
    gc.freeze()


def give_back(sweep: bool = False) -> None:
    """Return unused memory to the system. sweep: collect garbage before.

    An exception that is kept with its frames refers to itself: only a collection frees it.
    """
    if sweep:
        gc.collect()
    with suppress(OSError, AttributeError, TypeError):
        ctypes.CDLL(None).malloc_trim(0)
