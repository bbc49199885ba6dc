"""Recordings, read at any speed by cubic interpolation."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import soxr
from numpy.typing import NDArray

from ..interpolation import cubic
from ..jit import RATE, kernel

LEVELS = 6
"""Versions of a recording, each low-passed one octave lower, for faster playback without aliasing."""
FADE = round(0.002 * RATE)

_Real = NDArray[np.float64]


@dataclass(frozen=True)
class Region:
    """A prepared stretch of a recording: versions, each an octave duller and half as long, (2, n + 3)."""

    versions: tuple[_Real, ...]
    length: int
    looped: bool


def region_of(x: _Real, start: int, end: int, looped: bool) -> Region:
    """Cut x, (channels, n), from start to end and prepare it.

    A stretch that is played once fades out over its last 2 ms. A loop whose ends do not match is crossfaded: its last 5
    ms into what precedes its start or, if there is nothing, its first 5 ms from what follows its end.
    """
    x = np.repeat(x, 2, axis=0) if x.shape[0] == 1 else x
    start = min(max(start, 0), max(x.shape[1] - 2, 0))
    end = min(max(end, start + 2), x.shape[1])
    cut = np.array(x[:, start:end])
    if looped:
        cut = _joined(x, cut, start, end)
    else:
        n = min(FADE, cut.shape[1])
        cut[:, cut.shape[1] - n :] *= np.linspace(1.0, 0.0, n)
        if start > 0:
            cut[:, : min(48, n)] *= np.linspace(0.0, 1.0, min(48, n))
    versions = [_ends(cut, looped)]
    step = cut
    for _ in range(1, LEVELS):
        if step.shape[1] < 64:
            break
        if looped:
            # extend the loop on both sides, so that its ends still meet after the low-pass
            wide = np.concatenate([step[:, -32:], step, step[:, :32]], axis=1)
            halved = soxr.resample(wide.T, 2.0, 1.0, "HQ").T
            step = np.ascontiguousarray(halved[:, 16 : 16 + step.shape[1] // 2])
        else:
            step = np.ascontiguousarray(soxr.resample(step.T, 2.0, 1.0, "HQ").T)
        versions.append(_ends(step, looped))
    return Region(tuple(versions), cut.shape[1], looped)


def _joined(x: _Real, cut: _Real, start: int, end: int) -> _Real:
    own = np.abs(np.diff(cut, axis=1)).max(initial=0.0)
    if np.abs(cut[:, 0] - cut[:, -1]).max() <= 2.0 * own:
        return cut
    n = min(round(0.005 * RATE), cut.shape[1] // 4)
    t = np.linspace(0.0, 1.0, n)
    if start >= n:
        cut[:, -n:] = (1.0 - t) * cut[:, -n:] + t * x[:, start - n : start]
    elif x.shape[1] >= end + n:
        cut[:, :n] = t * cut[:, :n] + (1.0 - t) * x[:, end : end + n]
    else:
        cut[:, -n:] *= 1.0 - t
        cut[:, :n] *= t
    return cut


def _ends(x: _Real, looped: bool) -> _Real:
    if looped:
        return np.ascontiguousarray(np.concatenate([x[:, -1:], x, x[:, :2]], axis=1))
    return np.ascontiguousarray(np.pad(x, ((0, 0), (1, 2))))


def stretch_of(region: Region, octave: int, places: _Real, reach: float, width: float) -> tuple[_Real, _Real, float]:
    """The part of a recording that is read at ``places`` (original samples, (n,)), with ``reach`` samples around it.

    Returns the stretch of the version ``octave`` octaves duller, (2, m), the positions in it, and the spacing of its
    samples in original samples. Outside the recording there is silence, or the loop continues.
    """
    data = region.versions[octave]
    size = data.shape[1] - 3
    scale = region.length / size
    q = places / scale
    low = int(np.floor(q.min() - reach / scale)) - 1
    index = np.arange(low, int(np.floor(q.max() + reach / scale)) + 4)
    if region.looped:
        cut = data[:, 1 + index % size]
    else:
        cut = np.where((index >= 0) & (index < size), data[:, 1 + np.clip(index, 0, size - 1)], 0.0)
    if width < 1.0:
        cut = 0.5 * (1.0 + width) * cut + 0.5 * (1.0 - width) * cut[::-1]
    return cut, q - low, scale


@kernel("void(f8[:,::1], i8, i8, f8[:,::1], f8, f8[::1], f8[::1], i8, f8)")
def play(out: Any, a: int, b: int, data: Any, scale: float, at: Any, rate: Any, looped: int, width: float) -> None:
    """Write a recording to out[:, a:b], (2, n).

    data: (2, n + 3) a version whose samples are ``scale`` original samples apart. at: (1,) position in original
    samples, advanced by rate (n,). width: 0 folds it to mono.
    """
    size = data.shape[1] - 3
    near, far = 0.5 * (1.0 + width), 0.5 * (1.0 - width)
    p = at[0]
    whole = size * scale
    for i in range(a, b):
        if looped == 1:
            while p >= whole:
                p -= whole
            while p < 0.0:
                p += whole
        if p >= whole or p < 0.0:
            out[0, i] = 0.0
            out[1, i] = 0.0
            p += rate[i]
            continue
        q = p / scale
        k = int(q)
        d = q - k
        left = cubic(d, data[0, k], data[0, k + 1], data[0, k + 2], data[0, k + 3])
        right = cubic(d, data[1, k], data[1, k + 1], data[1, k + 2], data[1, k + 3])
        out[0, i] = near * left + far * right
        out[1, i] = near * right + far * left
        p += rate[i]
    at[0] = p
