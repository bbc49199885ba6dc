"""Compilation of the loops, with progress. Later starts load them."""

from __future__ import annotations

import argparse
import importlib
import multiprocessing
import os
import pkgutil
import sys
from collections.abc import Callable
from multiprocessing.pool import Pool

from .. import dsp
from ..dsp.compiled import all_compiled, note_all_compiled

_FIRST = ("nonlinear.waveshaping", "filters.svf", "sources.oscillators", "dynamics.limiter")
"""Modules that others depend on."""
_LONG = ("sources.modulation", "filters.crossover", "delays.delay_lines", "mixing", "dynamics.compression", "lfo")
"""Those of the others that take longest: what comes last is short, so that no core waits for another one."""


def _compile(name: str) -> str:
    importlib.import_module(f"{dsp.__name__}.{name}")
    return name


def _modules() -> list[str]:
    prefix = f"{dsp.__name__}."
    found = [m.name.removeprefix(prefix) for m in pkgutil.walk_packages(dsp.__path__, prefix) if not m.ispkg]
    first = (*_FIRST, *_LONG)
    return [*first, *(m for m in found if m not in first)]


def is_first_use() -> bool:
    """Whether the loops of this version were never all compiled."""
    return not all_compiled()


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
    note_all_compiled()
