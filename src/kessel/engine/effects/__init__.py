"""Effects as processors: filters, distortion, dynamics, delays, reverb, stereo, and chains of them."""

from .base import Buffer, VoiceContext, batch_size
from .chain import Chain, ChainRecorder
from .distortion import curve_of
from .dynamics import Clips, clipped
from .registry import Meters, latency_of, processor_of
from .responses import complex_response, eq_band_response, response_of
from .stereo import kick_duck_gain

__all__ = [
    "Buffer",
    "Chain",
    "ChainRecorder",
    "Clips",
    "Meters",
    "VoiceContext",
    "batch_size",
    "clipped",
    "complex_response",
    "curve_of",
    "eq_band_response",
    "kick_duck_gain",
    "latency_of",
    "processor_of",
    "response_of",
]
