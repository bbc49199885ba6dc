"""Benchmark of rendering, in units of one filter pass in the same run."""

from __future__ import annotations

import argparse
import json
import math
import os
import time
from collections.abc import Callable
from functools import partial
from importlib import resources

import numpy as np
from scipy.signal import butter, sosfilt

from .. import demo
from ..checks import Evidence, Limits, check, with_harms
from ..checks.playback import AT_ONCE, FIRST, LAST, keys_patch, strike_keys
from ..engine import QUANTUM, RATE, CancelToken, Engine, RenderCache, render_loop, render_sum
from ..formats import load_patch
from ..patch import Edit, Patch, apply
from .command import Problem

REFERENCE = "bench-reference.json"
"""The benchmark's patch; it ships with the demo set."""


def _seconds(work: Callable[[], object], rounds: int) -> float:
    taken = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        taken.append(time.perf_counter() - start)
    return min(taken)


def _peak_kib() -> float:
    """Peak memory of this process in KiB. NaN if the system does not report it."""
    try:
        import resource
    except ImportError:
        return math.nan
    return float(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss)


def _unit(samples: int) -> float:
    """Seconds of one biquad pass over so many mono samples."""
    x = np.random.default_rng(1).standard_normal(samples)
    sos = butter(2, 0.1, output="sos")
    return _seconds(lambda: sosfilt(sos, x), 7)


def _edit(patch: Patch, takes: RenderCache, edits: list[Edit]) -> float:
    edited = apply(patch, edits)
    start = time.perf_counter()
    render_sum(edited, takes)
    return time.perf_counter() - start


def _sweep(patch: Patch, pitches: list[int]) -> None:
    takes = RenderCache()
    for i in range(0, len(pitches), AT_ONCE):
        strike_keys(patch, pitches[i : i + AT_ONCE], Limits(), takes)


def _live(patch: Patch, seconds: float) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    """Cost of every quantum in per cent of its duration, while a cutoff is dragged."""
    engine = Engine(patch)
    count = max(50, int(seconds * RATE / QUANTUM))
    taken = np.empty(count)
    for i in range(count):
        if i % 2 == 0:
            cutoff = 300.0 + 900.0 * (0.5 + 0.5 * np.sin(i / 20.0))
            engine.update(apply(patch, [Edit("layers.body.stages.tone.cutoff", cutoff)]))
        start = time.perf_counter()
        engine.quantum()
        taken[i] = time.perf_counter() - start
    return taken[20:] * (100.0 * RATE / QUANTUM)


def _with_both_cores(patch: Patch, rounds: int, cores: set[int]) -> dict[str, float]:
    """Time with a copy of this process over that without, for a whole patch, two patches, keys and fixes."""
    if len(cores) < 2:
        return {}
    os.sched_setaffinity(0, cores)
    pitches = list(range(FIRST, FIRST + 2 * AT_ONCE))
    evidence = Evidence(patch, RenderCache())
    found = check(evidence)

    def judged(shares: bool) -> None:
        evidence.takes.shares = shares
        evidence.takes.store.forget(lambda key: True)
        with_harms(found, evidence)

    works: dict[str, Callable[[bool], object]] = {
        "whole_patch": lambda shares: render_sum(patch, RenderCache(shares=shares)),
        "two_patches": lambda shares: RenderCache(shares=shares).each(
            [patch, apply(patch, [Edit("tempo", 131.0)])], lambda p: render_sum(p, RenderCache())[1], CancelToken()
        ),
        "keys": lambda shares: strike_keys(patch, pitches, Limits(), RenderCache(shares=shares)),
        "fixes": judged,
    }
    # in turn, as the machine may change meanwhile
    taken: dict[str, tuple[list[float], list[float]]] = {name: ([], []) for name in works}
    for _ in range(rounds):
        for name, work in works.items():
            for shares in (False, True):
                taken[name][shares].append(_seconds(partial(work, shares), 1))
    return {f"two_cores_{name}": min(two) / min(one) for name, (one, two) in taken.items()}


def bench(given: argparse.Namespace) -> int:
    """Measure and print. Disturbances only add time, so the quickest of several rounds counts."""
    if not 1.0 <= given.seconds <= 600.0:
        raise Problem("--seconds goes from 1 to 600")
    if not 1 <= given.rounds <= 100:
        raise Problem("--rounds goes from 1 to 100")
    patch = load_patch(resources.files(demo).joinpath(REFERENCE).read_bytes())
    everywhere: set[int] = set()
    if hasattr(os, "sched_setaffinity"):
        everywhere = os.sched_getaffinity(0)
        os.sched_setaffinity(0, {min(os.sched_getaffinity(0))})
    render_sum(patch, RenderCache())
    idle = _peak_kib()
    samples = render_sum(patch, RenderCache())[0].shape[1]
    unit = _unit(samples)
    cold = _seconds(lambda: render_sum(patch, RenderCache()), given.rounds)
    clean, worked, output = [], [], []
    takes = RenderCache()
    render_sum(patch, takes)
    for i in range(given.rounds):
        clean.append(_edit(patch, takes, [Edit("layers.sub.sources.sine.phase", 11.0 + 3.0 * i)]))
        worked.append(_edit(patch, takes, [Edit("layers.body.stages.tone.cutoff", 611.0 + 7.0 * i)]))
        output.append(_edit(patch, takes, [Edit("output.gain", -3.0 - i)]))
    live = _live(patch, given.seconds)
    memory = (_peak_kib() - idle) / 1024.0
    takes = RenderCache()
    render_loop(patch, takes)
    analysis, keys, key_renders = [], [], []
    pitches = list(range(FIRST, LAST + 1))
    for _ in range((given.rounds + 2) // 3):
        rendered = Evidence(patch, takes, seeks=False)
        analysis.append(_seconds(partial(check, rendered), 1))
        key_renders.append(_seconds(lambda: [render_loop(keys_patch(patch, [k]), RenderCache()) for k in pitches], 1))
        keys.append(_seconds(lambda: _sweep(patch, pitches), 1))
    # the last, as what makes a copy of this process touches its memory
    together = _with_both_cores(patch, given.rounds, everywhere)
    found = {
        "unit_ms": 1000.0 * unit,
        "rendered_seconds": samples / RATE,
        "cold_units": cold / unit,
        "cold_realtime": samples / RATE / cold,
        "clean_edit_units": min(clean) / unit,
        "worked_edit_units": min(worked) / unit,
        "output_edit_units": min(output) / unit,
        "analysis_units": min(analysis) / unit,
        "analysis_over_cold": min(analysis) / cold,
        "sweep_units": min(keys) / unit,
        "sweep_over_key_renders": min(keys) / min(key_renders),
        "live_p50_percent": float(np.percentile(live, 50)),
        "live_p99_percent": float(np.percentile(live, 99)),
        "memory_over_first_render_mib": memory,
        **together,
    }
    if given.json:
        print(json.dumps(found, indent=1))
    else:
        for name, value in found.items():
            print(f"{name:<30} {value:10.2f}")
    return 0
