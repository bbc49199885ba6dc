"""Memory that is given back to the system when it is not used, where the C library has a way."""

from __future__ import annotations

import ctypes
import gc
from contextlib import suppress

_M_ARENA_MAX = -8
_ARENAS = 2


def lean_memory() -> None:
    """Let threads share a few arenas, so that what one frees another takes."""
    with suppress(OSError, AttributeError, TypeError):
        ctypes.CDLL(None).mallopt(_M_ARENA_MAX, _ARENAS)


def keep_loaded() -> None:
    """Count what is loaded by now as kept, so that looking for what nobody has any more takes a few milliseconds."""
    gc.collect()
    gc.freeze()


def give_back(sweep: bool = False) -> None:
    """Give unused memory back to the system; ``sweep``: after looking for what nobody has any more.

    What was given up half-way, an exception with its frames, holds itself: only a sweep finds it.
    """
    if sweep:
        gc.collect()
    with suppress(OSError, AttributeError, TypeError):
        ctypes.CDLL(None).malloc_trim(0)
