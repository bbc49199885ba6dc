"""Compile the loops once, saying so; later starts load them."""

from __future__ import annotations

import argparse
import importlib
import sys

from ..dsp.jit import compiled_folder

_MODULES = (
    "oscillators",
    "modulation",
    "noise",
    "playback",
    "envelopes",
    "filters",
    "halfband",
    "distortion",
    "mixing",
    "limiter",
)


def compile_loops(given: argparse.Namespace | None = None) -> int:
    """Import every room of loops, with a line for each when they are not compiled yet."""
    fresh = not any(compiled_folder().glob("**/*.nbi")) if compiled_folder().exists() else True
    for i, name in enumerate(_MODULES, 1):
        if fresh:
            print(f"kessel: compiling the loops, {i} of {len(_MODULES)}: {name}", file=sys.stderr, flush=True)
        importlib.import_module(f"kessel.dsp.{name}")
    return 0
