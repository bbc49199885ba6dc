"""Models of sources: oscillators, noise, samples, drawn waves."""

from .sources import (
    CLICK_PREFIX,
    CLICKS,
    SOURCES,
    STAGE_PREFIX,
    Noise,
    Oscillator,
    Sample,
    Source,
    SourceModulation,
    click_name,
    stage_of,
)
from .waves import FRAME_POINTS, MOST_FRAMES, STOCK, STOCK_PREFIX, Wave, known_wave, wave_name

__all__ = [
    "CLICKS",
    "CLICK_PREFIX",
    "FRAME_POINTS",
    "MOST_FRAMES",
    "SOURCES",
    "STAGE_PREFIX",
    "STOCK",
    "STOCK_PREFIX",
    "Noise",
    "Oscillator",
    "Sample",
    "Source",
    "SourceModulation",
    "Wave",
    "click_name",
    "known_wave",
    "stage_of",
    "wave_name",
]
