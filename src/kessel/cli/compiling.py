"""Compilation of the loops, with progress. Later starts load them."""

from __future__ import annotations

import argparse
import contextlib
import hashlib
import importlib
import multiprocessing
import os
import pkgutil
import sys
from collections.abc import Callable
from multiprocessing.pool import Pool
from pathlib import Path

from .. import dsp
from ..dsp.jit import compiled_folder

_FIRST = ("nonlinear.waveshaping", "filters.svf", "sources.oscillators", "dynamics.limiter")
"""Modules that others depend on, or that take longest to compile."""


def _compile(name: str) -> str:
    importlib.import_module(f"{dsp.__name__}.{name}")
    return name


def _modules() -> list[str]:
    prefix = f"{dsp.__name__}."
    found = [m.name.removeprefix(prefix) for m in pkgutil.walk_packages(dsp.__path__, prefix) if not m.ispkg]
    return [*_FIRST, *(m for m in found if m not in _FIRST)]


def is_first_use() -> bool:
    """Whether the loops of this version, in this place, were never all compiled."""
    return not _marker().exists()


def _marker() -> Path:
    """The file that says that all loops are compiled: its name changes with them."""
    found = hashlib.sha256(__file__.encode())
    for path in sorted(Path(dsp.__file__).parent.rglob("*.py")):
        found.update(path.name.encode() + b"\0" + path.read_bytes())
    return compiled_folder() / f"ready-{found.hexdigest()[:16]}"


def compile_on_first_use() -> None:
    """Compile all loops if none is compiled yet."""
    if is_first_use():
        compile_loops()


def compile_loops(given: argparse.Namespace | None = None) -> int:
    """Compile the loops of every module; in parallel and with progress if none is compiled yet."""
    if is_first_use():
        with compilers() as pool:
            compile_in(pool, lambda done, of: None)
    for name in _modules():
        _compile(name)
    return 0


def _note() -> None:
    """Note that all loops are compiled. Without a place for it, the next start asks again."""
    with contextlib.suppress(OSError):
        _marker().parent.mkdir(parents=True, exist_ok=True)
        _marker().touch()


def compilers() -> Pool:
    """Processes that compile, one for each core."""
    return multiprocessing.get_context("spawn").Pool(os.cpu_count() or 1)


def compile_in(pool: Pool, tell: Callable[[int, int], None]) -> None:
    """Compile every module in processes. ``tell`` is called with how many are done, and how many there are."""
    names, done = _modules(), 0
    tell(0, len(names))
    for batch in (names[: len(_FIRST)], names[len(_FIRST) :]):
        for name in pool.imap_unordered(_compile, batch):
            done += 1
            tell(done, len(names))
            print(f"kessel: compiled the loops, {done} of {len(names)}: {name}", file=sys.stderr, flush=True)
    _note()
