"""Compilation of the loops, with progress. Later starts load them."""

from __future__ import annotations

import argparse
import importlib
import multiprocessing
import os
import pkgutil
import sys
from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor

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


def _is_first_use() -> bool:
    folder = compiled_folder()
    return not folder.exists() or not any(folder.glob("**/*.nbi"))


def compile_on_first_use() -> None:
    """Compile all loops if none is compiled yet."""
    if _is_first_use():
        compile_loops()


def compile_loops(given: argparse.Namespace | None = None) -> int:
    """Compile the loops of every module; in parallel and with progress if none is compiled yet."""
    names = _modules()
    if _is_first_use():
        workers = min(4, os.cpu_count() or 1)
        with ProcessPoolExecutor(workers, mp_context=multiprocessing.get_context("spawn")) as pool:
            done = 0
            for batch in (names[: len(_FIRST)], names[len(_FIRST) :]):
                done = _told(pool.map(_compile, batch), done, len(names))
    for name in names:
        _compile(name)
    return 0


def _told(compiled: Iterable[str], done: int, of: int) -> int:
    for name in compiled:
        done += 1
        print(f"kessel: compiled the loops, {done} of {of}: {name}", file=sys.stderr, flush=True)
    return done
