"""Measuring in the background: the newest patch wins, a stale result never overtakes it."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..checks import Evidence, Finding, Limits, check
from ..engine import Stop, Stopped, Takes
from ..measure import Measures
from ..patch import Patch

_Real = NDArray[np.floating[Any]]

POINTS = 480
LOW_HZ, HIGH_HZ = 20.0, 20000.0


def axis() -> _Real:
    """Frequencies of the points of a picture, evenly spaced on the shared axis."""
    return np.asarray(LOW_HZ * (HIGH_HZ / LOW_HZ) ** (np.arange(POINTS) / (POINTS - 1)))


@dataclass(frozen=True)
class Picture:
    """What a workspace draws: levels along the shared axis in dB for the sum and every layer, and the travel."""

    version: int
    patch: Patch
    measures: Measures
    sum: _Real
    sum_hold: _Real
    layers: dict[str, _Real]
    peaks: dict[str, float]
    travel: dict[str, tuple[float, float]]
    paths: Mapping[str, _Real]
    loop: _Real = field(repr=False)


@dataclass(frozen=True)
class Measured:
    """Findings of one version of a patch, with the picture they belong to."""

    version: int
    picture: Picture
    findings: tuple[Finding, ...]


def picture_of(version: int, e: Evidence) -> Picture:
    """The picture of measured evidence."""
    hz = axis()
    travel: dict[str, tuple[float, float]] = {}
    for path, values in e.loop.travel.items():
        heard = values[np.isfinite(values)]
        if heard.size:
            travel[path] = float(heard.min()), float(heard.max())
    return Picture(
        version=version,
        patch=e.patch,
        measures=e.sum,
        sum=e.sum.spectrum.curve(hz),
        sum_hold=e.sum.spectrum.curve(hz, hold=True),
        layers={layer.id: e.spectrum(layer.id).curve(hz) for layer in e.patch.layers},
        peaks={layer.id: float(np.abs(e.loop.layers[layer.id]).max(initial=0.0)) for layer in e.patch.layers},
        travel=travel,
        paths=e.loop.travel,
        loop=e.loop.sum,
    )


def _step_back() -> None:
    """Let the threads that measure give way to those that play."""
    if hasattr(os, "setpriority"):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), 12)


BACKGROUND = ThreadPoolExecutor(max_workers=1, thread_name_prefix="measure", initializer=_step_back)


class Measuring:
    """Measures one patch whenever it changes."""

    def __init__(self, takes: Takes) -> None:
        self._takes = takes
        self._news = threading.Condition()
        self._wanted = -1
        self._stop = Stop()
        self.picture: Picture | None = None
        self.measured: Measured | None = None
        self.problem: str | None = None

    def want(self, version: int, patch: Patch, limits: Limits) -> None:
        """Measure this version; one that is under way for an older version is given up."""
        with self._news:
            if version <= self._wanted:
                return
            self._wanted = version
            self._stop.asked = True
            self._stop = stop = Stop()
        BACKGROUND.submit(self._run, version, patch, limits, stop)

    def _run(self, version: int, patch: Patch, limits: Limits, stop: Stop) -> None:
        if stop.asked:
            return
        try:
            e = Evidence(patch, self._takes, stop)
            picture = picture_of(version, e)
            self._publish(version, lambda: setattr(self, "picture", picture))
            findings = tuple(check(e, limits, stop=stop))
            measured = Measured(version, picture, findings)
            self._publish(version, lambda: setattr(self, "measured", measured))
        except Stopped:
            return
        except Exception as problem:
            words = f"measuring failed: {type(problem).__name__}"
            self._publish(version, lambda: setattr(self, "problem", words))
            raise

    def _publish(self, version: int, put: Callable[[], None]) -> None:
        with self._news:
            if version == self._wanted:
                self.problem = None
                put()
                self._news.notify_all()

    def wait_picture(self, version: int, seconds: float) -> Picture | None:
        """The picture of this version or a newer one, or the newest there is when the time is up."""
        with self._news:
            self._news.wait_for(lambda: self.picture is not None and self.picture.version >= version, seconds)
            return self.picture

    def wait_findings(self, version: int, seconds: float) -> Measured | None:
        """Findings of this version or a newer one, or the newest there are when the time is up."""
        with self._news:
            self._news.wait_for(lambda: self.measured is not None and self.measured.version >= version, seconds)
            return self.measured
