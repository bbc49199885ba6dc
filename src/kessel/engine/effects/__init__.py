"""Effects: filters, distortion, dynamics, delays, reverb, stereo; chains of them; the registry of their kinds."""

from .base import Buffer, VoiceContext, at_once, full
from .chain import Chain, Record
from .distortion import curve_of
from .dynamics import Clips, clipped
from .registry import Meters, latency_of, run_of
from .responses import complex_response, eq_band_response, response_of
from .stereo import kick_down

__all__ = [
    "Buffer",
    "Chain",
    "Clips",
    "Meters",
    "Record",
    "VoiceContext",
    "at_once",
    "clipped",
    "complex_response",
    "curve_of",
    "eq_band_response",
    "full",
    "kick_down",
    "latency_of",
    "response_of",
    "run_of",
]
