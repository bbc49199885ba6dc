"""A one-line description of a layer."""

from __future__ import annotations

from collections.abc import Sequence

from .catalogue import PARTS
from .effects import Distortion, Filter
from .layer import Layer
from .sources import Noise, Oscillator, Sample, Wave, click_name, wave_name
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


def _shape(source: Oscillator, waves: Sequence[Wave]) -> str:
    if source.shape == "pulse":
        text = f"pulse {write(source.pulse_width, '%')}" if abs(source.pulse_width - 50) > 0.5 else "square"
    elif source.shape == "mix":
        text = f"{source.mix_a} to {source.mix_b} {write(source.mix, '%')}"
    elif source.shape == "drawn":
        text = f"“{wave_name(waves, source.wave)}”"
    else:
        text = source.shape
    if source.sync != "off":
        text = f"synced {text}"
    if source.twin != "off":
        text = f"twin {text}"
    return text


def describe(layer: Layer, waves: Sequence[Wave] = ()) -> str:
    """A description such as ``saw ×7 ±14 ct, an octave down, low-pass 24 dB``."""
    heard = [s for s in layer.sources if s.to != "modulates only" and s.level > -72]
    if not heard:
        return "no audible source"
    main = max(heard, key=lambda s: s.level)
    words: list[str] = []
    if isinstance(main, Noise):
        words.append(f"{main.colour} noise")
    elif isinstance(main, Sample):
        words.append(f"sample “{main.title or click_name(main.audio)}”" + (", looped" if main.play == "loop" else ""))
        if main.begins == "phrase":
            words.append("in sync with the phrase")
    else:
        shape_text = _shape(main, waves)
        if layer.unison.copies > 1 and main.unison:
            shape_text += f" ×{layer.unison.copies} ±{write(layer.unison.detune, 'ct')}"
        others = len(heard) - 1
        if others:
            shape_text += f" and {others} more"
        words.append(shape_text)
        if main.octave:
            words.append(_OCTAVES[main.octave])
        for m in main.modulators:
            by = next((s.name for s in layer.sources if s.id == m.source), m.source)
            if m.mode == "ring":
                words.append(f"ring by {by}")
                break
            if m.depth > 0:
                words.append(f"FM by {by}")
                break
    if layer.play.mode == "voices":
        words.append(f"up to {layer.play.voices} voices")
    elif layer.play.mode == "drone":
        words.append("drone")
    stage = next((s for s in layer.stages if not isinstance(s, Distortion) and s.on), None)
    if isinstance(stage, Filter) and len(words) >= 3:
        words.append(stage.type)
    elif stage is not None:
        kind = PARTS[stage.kind]
        words.append(kind.phrase(stage) if kind.phrase is not None else kind.label.lower())
    elif isinstance(main, Oscillator) and main.start == "retrigger" and len(words) < 3:
        words.append(f"restarts at {write(main.phase, 'deg')}")
    elif isinstance(main, Oscillator) and main.start == "free-running" and len(words) < 3:
        words.append("free-running phase")
    return ", ".join(words)
