"""Small patches and signals for the tests."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from kessel.patch import Edit, Patch, apply

RATE = 48000


def oscillator(shape: str = "sine", **words: Any) -> dict[str, Any]:
    return {"kind": "oscillator", "id": "a", "name": "A", "shape": shape, **words}


def layer(layer_id: str = "one", **words: Any) -> dict[str, Any]:
    """A layer that is as flat as can be: no range, instant envelope, no velocity."""
    plain = {
        "id": layer_id,
        "name": layer_id.title(),
        "path": "clean",
        "level": 0.0,
        "play": {"velocity": 0.0},
        "envelope": {"attack": 0.5, "sustain": 0.0, "release": 5.0},
        "sources": [oscillator()],
    }
    return plain | words


def note(pitch: int, start: float, length: float, velocity: int = 127, name: str | None = None) -> dict[str, Any]:
    return {
        "id": name or f"n{round(start * 100)}p{pitch}",
        "pitch": pitch,
        "start": start,
        "length": length,
        "velocity": velocity,
    }


def patch(*layers: dict[str, Any], notes: list[dict[str, Any]] | None = None, **words: Any) -> Patch:
    """A patch at 120 BPM with one long note unless told otherwise; output stage open."""
    found = {
        "name": "Test",
        "tempo": 120.0,
        "layers": list(layers) or [layer()],
        "phrase": {"bars": 1, "notes": notes if notes is not None else [note(33, 0, 4)]},
        "output": {"ceiling": {"on": False}},
    }
    return Patch.model_validate(found | words)


def edited(given: Patch, **values: Any) -> Patch:
    """The patch with values set; double underscores stand for dots."""
    return apply(given, [Edit(path.replace("__", "."), value) for path, value in values.items()])


def tone(hz: float, dbfs: float = 0.0, seconds: float = 1.0, degrees: float = 0.0) -> NDArray[np.float64]:
    t = np.arange(round(seconds * RATE)) / RATE
    return np.asarray(10 ** (dbfs / 20) * np.sin(2 * np.pi * hz * t + np.radians(degrees)))


def band_noise(rng: np.random.Generator, n: int, low: float, high: float) -> NDArray[np.float64]:
    """Periodic noise with nothing outside a band, RMS 0.2."""
    spectrum = np.fft.rfft(rng.standard_normal(n))
    hz = np.fft.rfftfreq(n, 1 / RATE)
    spectrum[(hz < low) | (hz > high)] = 0
    x = np.fft.irfft(spectrum, n)
    return np.asarray(0.2 * x / np.std(x))


def delayed(x: NDArray[np.float64], ms: float) -> NDArray[np.float64]:
    """A periodic signal held back by any time, exactly."""
    hz = np.fft.rfftfreq(x.size, 1 / RATE)
    return np.asarray(np.fft.irfft(np.fft.rfft(x) * np.exp(-2j * np.pi * hz * ms / 1000), x.size))


def spectrum_db(x: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Amplitude in dB against a full-scale sine by a window with side lobes under -140 dB; Hz and dB."""
    w = np.kaiser(x.size, 24.0)
    f = np.abs(np.fft.rfft(x * w)) / (0.5 * w.sum())
    return np.fft.rfftfreq(x.size, 1 / RATE), 20 * np.log10(np.maximum(f, 1e-12))


def alias_db(x: NDArray[np.float64], f0: float, top: float = 16000.0) -> float:
    """The strongest thing under ``top`` that is no partial of f0, in dB under partial 1."""
    hz, db = spectrum_db(x)
    return float(db[np.argmin(np.abs(hz - f0))] - _off_partials(x, f0, top))


def two_tone_alias_db(x: NDArray[np.float64], f0: float, top: float = 16000.0) -> float:
    """The strongest thing under ``top`` that is no multiple of f0, in dB under the strongest of all."""
    return float(spectrum_db(x)[1].max() - _off_partials(x, f0, top))


def _off_partials(x: NDArray[np.float64], f0: float, top: float) -> float:
    hz, db = spectrum_db(x)
    width = 16 * RATE / x.size
    off = np.abs(hz - f0 * np.round(hz / f0)) > width
    return float(db[(hz > width) & (hz < top) & off].max())
