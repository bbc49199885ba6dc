"""Memory that is given back to the system when it is not used, where the C library has a way."""

from __future__ import annotations

import ctypes
from contextlib import suppress

_M_ARENA_MAX = -8
_ARENAS = 2


def lean_memory() -> None:
    """Let threads share a few arenas, so that what one frees another takes."""
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).mallopt(_M_ARENA_MAX, _ARENAS)


def give_back() -> None:
    """Give unused memory back to the system."""
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)
