"""Compilation of the loops: ahead of time, cached on disk, without the interpreter's lock."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

RATE = 48000
QUANTUM = 1024

F = TypeVar("F", bound=Callable[..., Any])


def compiled_folder() -> Path:
    """Folder of the compiled loops: in the user's cache, or where KESSEL_COMPILED says."""
    named = os.environ.get("KESSEL_COMPILED")
    if named:
        return Path(named)
    base = os.environ.get("XDG_CACHE_HOME")
    return (Path(base) if base else Path.home() / ".cache") / "kessel" / "compiled-lanes"


os.environ.setdefault("NUMBA_CACHE_DIR", str(compiled_folder()))
# lets the compiler join independent sums into one instruction: half-bands and limiter depend on it
os.environ.setdefault("NUMBA_SLP_VECTORIZE", "1")

import numba  # noqa: E402


def kernel(signature: str) -> Callable[[F], F]:
    """Compile a loop for one signature, with IEEE semantics and without checks for division by zero."""
    made: Any = numba.njit(signature, cache=True, nogil=True, error_model="numpy", fastmath=False)
    return made  # type: ignore[no-any-return]


def portion(function: F) -> F:
    """A loop over at most one quantum, for kernels that process several.

    States are flushed of denormals once per quantum, so that several at once give the same bits as one by one.
    """
    made: F = numba.njit(function, error_model="numpy", fastmath=False)
    return made


def inline(function: F) -> F:
    """A small function that is inlined into kernels."""
    made: F = numba.njit(function, inline="always", error_model="numpy")
    return made
