"""A line of words for a layer: what it is, read from its controls."""

from __future__ import annotations

from .layer import Layer
from .sources import Noise, Oscillator
from .stages import Filter
from .units import write

_OCTAVES = {
    -4: "four octaves down",
    -3: "three octaves down",
    -2: "two octaves down",
    -1: "an octave down",
    1: "an octave up",
    2: "two octaves up",
    3: "three octaves up",
    4: "four octaves up",
}


def describe(layer: Layer) -> str:
    """Such as ``saw ×7 ±14 ct, an octave down, low-pass 24 dB``."""
    heard = [s for s in layer.sources if s.to != "nowhere" and s.level > -72]
    if not heard:
        return "no source that is heard"
    main = max(heard, key=lambda s: s.level)
    words: list[str] = []
    if isinstance(main, Noise):
        words.append("white noise")
    else:
        shape = main.shape
        if shape == "pulse" and abs(main.pulse_width - 50) > 0.5:
            shape_text = f"pulse {write(main.pulse_width, '%')}"
        else:
            shape_text = "square" if shape == "pulse" else shape
        if layer.unison.copies > 1 and main.unison:
            shape_text += f" ×{layer.unison.copies} ±{write(layer.unison.detune, 'ct')}"
        others = len(heard) - 1
        if others:
            shape_text += f" and {others} more"
        words.append(shape_text)
        if main.octave:
            words.append(_OCTAVES[main.octave])
        for m in main.modulators:
            if m.depth > 0:
                by = next((s.name for s in layer.sources if s.id == m.source), m.source)
                words.append(f"FM by {by}")
                break
    stage = next((s for s in layer.stages if isinstance(s, Filter) and s.on), None)
    if stage is not None:
        words.append(f"{stage.type} {stage.slope} dB" if len(words) < 3 else stage.type)
    elif isinstance(main, Oscillator) and main.start == "restart" and len(words) < 3:
        words.append(f"restarts at {write(main.phase, 'deg')}")
    elif isinstance(main, Oscillator) and main.start == "free" and len(words) < 3:
        words.append("phase runs free")
    return ", ".join(words)
