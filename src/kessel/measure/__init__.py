"""Audio to numbers. It knows no patch: arrays in, figures out, None where a figure has no value."""

from .alignment import Alignment, PairSums, align, coherence_over, lag_of_cross, pair_sums
from .levels import crest_db, dc_offset, decibels, fitted_to, peaks_over, true_peak
from .loudness import Loudness, loudness, loudness_over
from .partials import fit_tones, partials, tones_of, whole_periods
from .pitch import detect_pitch
from .report import Band, Measures, measure
from .spectrogram import moment, spectrogram
from .spectrum import BANDS, Spectrum, third_octaves
from .stereo import correlation, correlation_frames, mono_loss, scope_density

__all__ = [
    "BANDS",
    "Alignment",
    "Band",
    "Loudness",
    "Measures",
    "PairSums",
    "Spectrum",
    "align",
    "coherence_over",
    "correlation",
    "correlation_frames",
    "crest_db",
    "dc_offset",
    "decibels",
    "detect_pitch",
    "fit_tones",
    "fitted_to",
    "lag_of_cross",
    "loudness",
    "loudness_over",
    "measure",
    "moment",
    "mono_loss",
    "pair_sums",
    "partials",
    "peaks_over",
    "scope_density",
    "spectrogram",
    "third_octaves",
    "tones_of",
    "true_peak",
    "whole_periods",
]
