"""How two sounds add: sum loss, phase angle, lag, polarity, coherence."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray

from .levels import RATE, SILENCE
from .partials import fit_tones

_Real = NDArray[np.floating[Any]]
_Complex = NDArray[np.complex128]

MOST_TONES = 24
_COMMON = 10.0 ** (-50.0 / 20.0)
_TIE = 0.95


@dataclass(frozen=True)
class PairSums:
    """Common partials of two sounds, and what is lost of their sum."""

    sum_loss: float | None
    overlap_loss: float | None
    phase: float | None


@dataclass(frozen=True)
class Alignment:
    """B against A. lag in ms, positive if B is late; phase in degrees; losses in dB; None if it has no value."""

    lag_ms: float | None
    ambiguous: bool
    polarity: int | None
    phase_deg: float | None
    sum_loss_db: float | None
    sum_loss_overlap_db: float | None
    coherence: float | None
    partials_hz: tuple[float, ...]


def _loss(together: float, apart: float) -> float:
    return 10.0 * math.log10(max(together, 1e-12 * apart) / apart)


def pair_sums(a: _Complex, b: _Complex) -> PairSums:
    """Sum loss of amplitudes a and b, (partials,), at the lowest common partial and over all common ones.

    A partial is common if neither side is more than 50 dB below its own strongest partial.
    """
    own_a, own_b = np.abs(a), np.abs(b)
    if own_a.max(initial=0.0) <= SILENCE or own_b.max(initial=0.0) <= SILENCE:
        return PairSums(None, None, None)
    common = np.flatnonzero((own_a > _COMMON * own_a.max()) & (own_b > _COMMON * own_b.max()))
    if common.size == 0:
        return PairSums(None, None, None)
    k = int(common[0])
    apart = (own_a + own_b)[common]
    return PairSums(
        sum_loss=_loss(abs(a[k] + b[k]) ** 2, (own_a[k] + own_b[k]) ** 2),
        overlap_loss=_loss(float(np.square(np.abs(a + b)[common]).sum()), float(np.square(apart).sum())),
        phase=math.degrees(float(np.angle(b[k] * np.conj(a[k])))),
    )


def _band(x: _Real, low: float, high: float) -> _Real:
    """x, (2, n), band-limited between two frequencies by a zero-padded transform."""
    size = 1 << (2 * x.shape[1] - 1).bit_length()
    f = np.fft.rfft(x, size, axis=1)
    hz = np.fft.rfftfreq(size, 1.0 / RATE)
    f[:, (hz < low) | (hz > high)] = 0.0
    return np.asarray(np.fft.irfft(f, size, axis=1)[:, : x.shape[1]])


def _tones(x: _Real, low: float, high: float) -> _Real:
    """Frequencies of tones that both signals of x, (2, n), have between low and high."""
    n = x.shape[1]
    size = 1 << (8 * n - 1).bit_length()
    # side lobes below -100 dB, so that none is mistaken for a tone
    taper = np.kaiser(n, 14.0)
    f = np.abs(np.fft.rfft(x * taper, size, axis=1)) / (0.5 * taper.sum())
    hz = np.fft.rfftfreq(size, 1.0 / RATE)
    both = np.sqrt(f[0] * f[1])
    lobe = max(1, int(5.0 * size / n))
    inside = np.flatnonzero((hz >= low) & (hz <= high))
    if inside.size < 3:
        return np.zeros(0)
    first, last = max(0, inside[0] - lobe), inside[-1] + lobe + 1
    part = both[first:last]
    floor = part.max() * 10.0 ** (-50.0 / 20.0)
    at, _ = scipy.signal.find_peaks(part, height=max(floor, SILENCE), distance=lobe)
    at = at + first
    at = at[(hz[at] >= low) & (hz[at] <= high)]
    at = at[np.argsort(-both[at])][:MOST_TONES]
    y = np.log(np.maximum(np.stack([both[at - 1], both[at], both[at + 1]]), 1e-30))
    bend = y[0] - 2.0 * y[1] + y[2]
    shift = np.where(np.abs(bend) > 1e-12, 0.5 * (y[0] - y[2]) / np.where(bend == 0, 1.0, bend), 0.0)
    return np.sort((at + np.clip(shift, -0.5, 0.5)) * RATE / size)


def _frame_coherence(x: _Real, hz: _Real) -> float | None:
    """Coherence of the tones of both signals, 0..1, over frames of at least four periods."""
    n = x.shape[1]
    size = max(int(4.0 * RATE / hz[0]), n // 16)
    starts = range(0, n - size + 1, max(1, size // 2))
    if len(starts) < 3:
        return None
    rows = [fit_tones(x[:, s : s + size], hz)[0] for s in starts]
    a, b = (np.stack([r[c] for r in rows]) for c in (0, 1))
    both = np.abs((a * np.conj(b)).sum(axis=0)).sum()
    alone = np.sqrt(np.square(np.abs(a)).sum(axis=0) * np.square(np.abs(b)).sum(axis=0)).sum()
    return float(both / alone) if alone > 0 else None


def _pick(lags: _Real, r: _Real) -> tuple[float, bool, int]:
    """Lag in seconds of the strongest correlation, whether another is within 5 %, and its sign."""
    size = np.abs(r)
    inner = np.flatnonzero((size[1:-1] >= size[:-2]) & (size[1:-1] > size[2:])) + 1
    ends = [i for i, j in ((0, 1), (size.size - 1, size.size - 2)) if size[i] > size[j]]
    at = np.concatenate([inner, np.array(ends, dtype=np.int64)]).astype(np.int64)
    if at.size == 0:
        at = np.array([int(size.argmax())])
    best = size[at].max()
    near = at[size[at] >= _TIE * best]
    tied = at[size[at] >= 0.999 * best]
    i = int(tied[np.argmin(np.abs(lags[tied]))])
    lag = float(lags[i])
    if 0 < i < size.size - 1:
        y0, y1, y2 = size[i - 1], size[i], size[i + 1]
        bend = y0 - 2.0 * y1 + y2
        if bend < 0:
            lag += float(0.5 * (y0 - y2) / bend) * float(lags[1] - lags[0])
    return lag, near.size > 1, 1 if r[i] >= 0 else -1


def lag_of_cross(cross: _Complex, hz: _Real) -> tuple[float, bool, int]:
    """Lag in seconds of B against A, whether another answer is within 5 %, and the polarity.

    cross: conj(a) b of the common partials, (partials,), at hz, lowest first; whitened from three partials on (Knapp
    and Carter 1976).
    """
    if cross.size >= 3:
        cross = cross / np.maximum(np.abs(cross), 1e-30)
    reach = 0.5 / float(hz[0])
    lags = np.linspace(-reach, reach, 4001)
    r = np.real(cross @ np.exp(2j * np.pi * hz[:, None] * lags)) / max(float(np.abs(cross).sum()), 1e-30)
    return _pick(lags, r)


_UNRELATED = 0.3
_KEEPS_STEP = 0.5
"""Coherence below which two sounds have nothing in common, and below which they do not keep step."""


def _lag_of_tones(a: _Complex, b: _Complex, hz: _Real) -> tuple[float, bool, int]:
    """Lag of tones from their amplitudes."""
    common = np.flatnonzero((np.abs(a) > _COMMON * np.abs(a).max()) & (np.abs(b) > _COMMON * np.abs(b).max()))
    return lag_of_cross(np.conj(a[common]) * b[common], hz[common])


def coherence_over(a: _Real, b: _Real, hz: _Real, width: float = 1.0 / 6.0) -> _Real:
    """Coherence of two loops a and b, (n,), in bands of ``width`` octaves around each of hz, (bands,), 0..1.

    From averaged spectra (Carter, Knapp and Nuttall 1973). NaN where either is silent.
    """
    size = min(a.size // 4, RATE // 2)
    powers = [scipy.signal.csd(x, y, RATE, nperseg=size) for x, y in ((a, a), (b, b), (a, b))]
    bins = powers[0][0]
    pa, pb, pab = np.abs(powers[0][1]), np.abs(powers[1][1]), powers[2][1]
    found = np.full(hz.size, np.nan)
    floor = 1e-7 * max(float(pa.max(initial=0.0)), 1e-20), 1e-7 * max(float(pb.max(initial=0.0)), 1e-20)
    half = 2.0 ** (width / 2.0)
    for i, f in enumerate(hz):
        low, high = np.searchsorted(bins, [f / half, f * half])
        inside = slice(low, max(high, low + 1))
        weight = np.sqrt(pa[inside] * pb[inside])
        loud = (pa[inside].max(initial=0.0) > floor[0]) and (pb[inside].max(initial=0.0) > floor[1])
        if loud and weight.sum() > 0:
            found[i] = min(1.0, float(np.abs(pab[inside]).sum() / weight.sum()))
    return found


def _lag_of_noise(x: _Real, low: float) -> tuple[float, bool, int]:
    """Lag of the band-limited signals of x, (2, n), by their cross-correlation."""
    n = x.shape[1]
    size = 1 << (2 * n - 1).bit_length()
    f = np.fft.rfft(x, size, axis=1)
    r = np.fft.irfft(np.conj(f[0]) * f[1], size)
    reach = min(int(0.5 * RATE / low) + 1, n - 1)
    steps = np.arange(-reach, reach + 1)
    fair = r[steps] * (n / (n - np.abs(steps)))
    return _pick(steps / RATE, fair)


def _noise_sums(x: _Real, low: float, high: float) -> tuple[float | None, float | None]:
    """Coherence and overlap loss of signals without common tones, from averaged spectra."""
    size = min(x.shape[1] // 4, RATE // 2)
    if size < RATE / low:
        return None, None
    hz, matched = scipy.signal.coherence(x[0], x[1], RATE, nperseg=size)
    inside = (hz >= low) & (hz <= high)
    pa, pb, pab = (scipy.signal.csd(x[i], x[j], RATE, nperseg=size)[1][inside] for i, j in ((0, 0), (1, 1), (0, 1)))
    pa, pb = np.abs(pa), np.abs(pb)
    weight = np.sqrt(pa * pb)
    if weight.sum() <= 0:
        return None, None
    together = float((pa + pb + 2.0 * np.real(pab)).sum())
    apart = float(np.square(np.sqrt(pa) + np.sqrt(pb)).sum())
    return float((np.sqrt(matched[inside]) * weight).sum() / weight.sum()), _loss(together, apart)


def align(a: _Real, b: _Real, low: float, high: float, pitch: float | None = None) -> Alignment:
    """Compare two sounds, (n,) each at 48 kHz, between two frequencies in Hz.

    pitch: fundamental in Hz; without it, common tones are searched for. Raises ValueError if the frequencies are no
    band.
    """
    if not 0 < low < high <= RATE / 2:
        raise ValueError("the low edge has to stay below the high edge")
    n = min(a.size, b.size)
    none = Alignment(None, False, None, None, None, None, None, ())
    if n < 3 * RATE / low:
        return none
    x = np.stack([a[:n], b[:n]])
    centred = x - x.mean(axis=1, keepdims=True)
    inside = _band(centred, low, high)
    power = np.sqrt(np.square(inside).mean(axis=1))
    if power.min() <= 1e-7 * max(1.0, float(np.abs(x).max())):
        return none
    if pitch is not None:
        every = pitch * np.arange(1, max(2, int(0.45 * RATE / pitch) + 1))
        hz = every[(every >= low) & (every <= high)]
        fitted = every[every <= max(high * 2, pitch * 24)][:48]
    else:
        hz = fitted = _tones(centred, low, high)
    tonal = False
    if hz.size:
        own = pitch is not None
        found, explained = fit_tones(x if own else inside, fitted if own else hz)
        amplitudes = found[:, (fitted >= low) & (fitted <= high)] if own else found
        sums = pair_sums(amplitudes[0], amplitudes[1])
        tonal = sums.sum_loss is not None and (own or float(explained.min()) > 0.5)
    if not tonal:
        together, over = _noise_sums(x, low, high)
        if pitch is not None or together is None or together < _UNRELATED:
            # without a common partial, or anything else in common, every lag would be chance
            return Alignment(None, False, None, None, None, over, together, ())
        lag, ambiguous, polarity = _lag_of_noise(inside, low)
        return Alignment(1000.0 * lag, ambiguous, polarity, None, None, over, together, ())
    lag, ambiguous, polarity = _lag_of_tones(amplitudes[0], amplitudes[1], hz)
    coherence = _frame_coherence(x if own else inside, hz)
    return Alignment(
        lag_ms=1000.0 * lag,
        # of two that do not keep step, a lag holds for a moment only
        ambiguous=ambiguous or (coherence is not None and coherence < _KEEPS_STEP),
        polarity=polarity,
        phase_deg=sums.phase,
        sum_loss_db=sums.sum_loss,
        sum_loss_overlap_db=sums.overlap_loss,
        coherence=coherence,
        partials_hz=tuple(float(f) for f in hz),
    )
