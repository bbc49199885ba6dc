"""All measures of one sound."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from .levels import RATE, Audio, crest_db, dc_offset, true_peak
from .loudness import Loudness, loudness
from .spectrum import BANDS, Spectrum
from .stereo import correlation, correlation_frames, mono_loss


@dataclass(frozen=True)
class Band:
    """One band: level in dB against a full-scale sine, and its mono loss."""

    name: str
    low_hz: float
    high_hz: float
    level_db: float | None
    mono_loss_db: float | None
    correlation: float | None


@dataclass(frozen=True)
class Measures:
    """Figures of one sound. None if there is no value."""

    seconds: float
    channels: int
    loudness: Loudness
    true_peak_dbtp: float | None
    crest_db: float | None
    dc_offset: float
    correlation: float | None
    correlation_min: float | None
    share_negative: float | None
    mono_loss_db: float | None
    spectrum: Spectrum

    @cached_property
    def bands(self) -> list[Band]:
        """The seven bands."""
        s = self.spectrum
        return [Band(n, lo, hi, s.level(lo, hi), s.mono_loss(lo, hi), s.correlation(lo, hi)) for n, lo, hi in BANDS]

    def plain(self) -> dict[str, object]:
        """The figures as JSON data."""
        return {
            "seconds": self.seconds,
            "channels": self.channels,
            "loudness_lufs": self.loudness.integrated,
            "momentary_max_lufs": self.loudness.momentary,
            "short_term_max_lufs": self.loudness.short_term,
            "loudness_range_lu": self.loudness.range,
            "true_peak_dbtp": self.true_peak_dbtp,
            "crest_db": self.crest_db,
            "dc_offset": self.dc_offset,
            "correlation": self.correlation,
            "correlation_min": self.correlation_min,
            "correlation_share_negative": self.share_negative,
            "mono_loss_db": self.mono_loss_db,
            "bands": [vars(b) for b in self.bands],
        }


def measure(x: Audio, wrap: bool = False, rate: int = RATE) -> Measures:
    """Measure x, (1 or 2, n) at ``rate`` Hz, n at least 1. wrap: x is a loop."""
    two = x if x.shape[0] == 2 else x[[0, 0]]
    frames = correlation_frames(two, rate=rate)
    return Measures(
        seconds=x.shape[1] / rate,
        channels=x.shape[0],
        loudness=loudness(x, rate),
        true_peak_dbtp=true_peak(x),
        crest_db=crest_db(x),
        dc_offset=dc_offset(x),
        correlation=correlation(two),
        correlation_min=float(frames.min()) if frames.size else None,
        share_negative=float((frames < 0).mean()) if frames.size else None,
        mono_loss_db=mono_loss(two),
        spectrum=Spectrum.of(x, wrap, rate),
    )
