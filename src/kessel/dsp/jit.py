"""How the loops are compiled: eagerly, once, kept on disk, without the interpreter's lock."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

RATE = 48000
QUANTUM = 1024

F = TypeVar("F", bound=Callable[..., Any])


def compiled_folder() -> Path:
    """Folder of the compiled loops: beside the user's cache unless KESSEL_COMPILED names another."""
    named = os.environ.get("KESSEL_COMPILED")
    if named:
        return Path(named)
    base = os.environ.get("XDG_CACHE_HOME")
    return (Path(base) if base else Path.home() / ".cache") / "kessel" / "compiled-lanes"


os.environ.setdefault("NUMBA_CACHE_DIR", str(compiled_folder()))
# independent sums written side by side become one instruction: the half-bands and the limiter live from it
os.environ.setdefault("NUMBA_SLP_VECTORIZE", "1")

import numba  # noqa: E402


def kernel(signature: str) -> Callable[[F], F]:
    """Compile a loop for one signature, with IEEE semantics and no checks for division by zero."""
    made: Any = numba.njit(signature, cache=True, nogil=True, error_model="numpy", fastmath=False)
    return made  # type: ignore[no-any-return]


def portion(function: F) -> F:
    """A loop over at most a quantum, for kernels that may be given several.

    States are cleared of what is next to nothing once a quantum, so that several at once are bit by bit as one by one.
    """
    made: F = numba.njit(function, error_model="numpy", fastmath=False)
    return made


def inline(function: F) -> F:
    """A small function for use inside kernels."""
    made: F = numba.njit(function, inline="always", error_model="numpy")
    return made
