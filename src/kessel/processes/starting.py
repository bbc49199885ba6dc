"""How processes are started."""

from __future__ import annotations

import multiprocessing
from multiprocessing import forkserver
from multiprocessing.context import BaseContext


def context(*loaded: str) -> BaseContext:
    """The way that all processes are started in. loaded: modules that they shall find loaded.

    Where the system has it, one process loads the modules once, and all others are copies of it: they start in
    milliseconds and share its memory. What is asked after the first process was started has no effect.
    """
    if "forkserver" not in multiprocessing.get_all_start_methods():
        return multiprocessing.get_context("spawn")
    found = multiprocessing.get_context("forkserver")
    if loaded:
        found.set_forkserver_preload(list(loaded))
    return found


def prepare(*loaded: str) -> None:
    """Begin to load modules for all processes now, beside what this process does."""
    if isinstance(context(*loaded), multiprocessing.context.ForkServerContext):
        forkserver.ensure_running()
