"""Layers that the rest buries: most of what they play lies far below what all others have at that time and pitch.

Hann frames of 40 ms, one every 20 ms, and third octaves. A cell of a layer is buried where the others are more than
20 dB above it (a masker hides what lies some 20 dB below it in its own critical band: Zwicker and Fastl,
Psychoacoustics).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray
from scipy.fft import rfft

from ...engine import RATE
from ...patch import Edit, Layer, number, write
from ..evidence import Evidence
from ..finding import Candidate, Finding, Limits, Where

_Real = NDArray[np.float64]
_SIZE, _HOP = round(0.04 * RATE), round(0.02 * RATE)
_UNDER_DB = 20.0
_MOST_DB = 24.0
"""A layer that needs more is not raised."""
_EDGES = 1000.0 * 2.0 ** ((np.arange(-17, 15) - 0.5) / 3.0)
"""Edges in Hz of the third octaves from 20 Hz to 20 kHz."""


def _bands() -> NDArray[np.float32]:
    """Which numbers of a spectrum, real and imaginary parts in turn, each third octave sums up, (numbers, bands)."""
    at = np.searchsorted(np.fft.rfftfreq(_SIZE, 1.0 / RATE), _EDGES)
    hz = np.repeat(np.arange(_SIZE // 2 + 1), 2)[:, None]
    return ((hz >= at[:-1]) & (hz < at[1:])).astype(np.float32)


_BANDS = _bands()


@dataclass(frozen=True)
class Buried:
    """How much of a layer's power is buried, 0..1; by which layer and where most of it; how many dB it needs."""

    layer: Layer
    share: float
    by: Layer
    hz: float
    needs: float


def _cells(x: NDArray[np.floating]) -> _Real:
    """Power of a loop x, (2, n), in third octaves, (frames, bands)."""
    # power is wanted to a tenth of a dB: single precision is enough, and twice as fast
    sides = (x[:1] if np.array_equal(x[0], x[1]) else x).astype(np.float32)
    around = np.concatenate([sides, sides[:, np.arange(_SIZE) % x.shape[1]]], axis=1)
    rows = sliding_window_view(around, _SIZE, axis=1)[:, : x.shape[1] : _HOP] * np.hanning(_SIZE).astype(np.float32)
    spectra = rfft(rows, axis=-1).view(np.float32)
    np.square(spectra, out=spectra)
    return np.asarray((spectra @ _BANDS).sum(axis=0, dtype=np.float64) / sides.shape[0])


def buried(e: Evidence) -> list[Buried]:
    """How far every layer that is heard is buried by all others, in the order of the patch."""
    return e.once("buried", lambda: _buried(e))


def _buried(e: Evidence) -> list[Buried]:
    heard = [x for x in e.patch.layers if any(e.sounds(x.id, n) for n in e.notes)]
    if len(heard) < 2:
        return []
    cells = {x.id: e.once(f"cells {x.id}", partial(_cells, e.loop.layers[x.id])) for x in heard}
    found = []
    for layer in heard:
        own = cells[layer.id]
        others = {x.id: cells[x.id] for x in heard if x is not layer}
        over = 10.0 * np.log10(np.maximum(np.sum(list(others.values()), axis=0), 1e-14) / np.maximum(own, 1e-14))
        whole = float(own.sum())
        hidden = own * (over > _UNDER_DB)
        # how much it has to be raised until a tenth of its power is heard
        order = np.argsort(over, axis=None)
        reached = np.cumsum(own.reshape(-1)[order]) / max(whole, 1e-20)
        first = over.reshape(-1)[order][int(np.searchsorted(reached, 0.1))]
        by = max(others, key=lambda i: float((hidden > 0).astype(float).ravel() @ (others[i] * (own > 0)).ravel()))
        band = int(hidden.sum(axis=0).argmax())
        hz = float(np.sqrt(_EDGES[band] * _EDGES[band + 1]))
        found.append(
            Buried(
                layer,
                float(hidden.sum()) / max(whole, 1e-20),
                e.patch.layer(by),
                hz,
                max(0.0, float(first) - _UNDER_DB),
            )
        )
    return found


def _raised(e: Evidence, it: Buried) -> list[Candidate]:
    path = f"layers.{it.layer.id}.level"
    level = number(e.patch, path).tidy(np.ceil(2.0 * (it.layer.level + it.needs + 0.5)) / 2.0)
    if it.needs > _MOST_DB or level <= it.layer.level:
        return []
    return [(f"Raise {it.layer.name} to {write(level, 'dB')}", (Edit(path, level),))]


def _text(b: Buried, is_bad: bool) -> str:
    share = f"{write(100.0 * b.share, '%')} of {b.layer.name} lies more than {write(_UNDER_DB, 'dB')} under the others"
    if not is_bad:
        return share
    return f"{share}, most by {b.by.name} around {write(float(f'{b.hz:.2g}'), 'Hz')}; it needs {write(b.needs, 'dB')}"


def masked(e: Evidence, limits: Limits) -> list[Finding]:
    """One finding for each layer that is buried, or one that says that none is."""
    found = buried(e)
    if not found:
        return []
    bad = [b for b in found if 100.0 * b.share >= limits.masked_percent]
    worst = max(found, key=lambda b: b.share)

    def share_of(layer: str, x: Evidence) -> float | None:
        return next((100.0 * b.share for b in buried(x) if b.layer.id == layer), None)

    return [
        Finding(
            check="masked",
            verdict="look" if bad else "holds",
            title=f"{b.layer.name} is masked" if bad else "No layer is masked",
            text=_text(b, bool(bad)),
            value=100.0 * b.share,
            unit="%",
            limit=limits.masked_percent,
            limit_text=write(limits.masked_percent, "%"),
            limit_name="masked_percent",
            where=Where((b.layer.id,), low_hz=b.hz / 1.12, high_hz=b.hz * 1.12) if bad else Where(),
            fixes=e.sought(
                partial(e.full_cure, _raised(e, b), partial(share_of, b.layer.id), lambda v: v < limits.masked_percent)
            )
            if bad
            else (),
        )
        for b in (bad or [worst])
    ]
