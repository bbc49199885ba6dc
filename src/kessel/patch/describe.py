"""A one-line description of a layer."""

from __future__ import annotations

from collections.abc import Sequence

from .catalogue import PARTS
from .effects import Distortion, Filter
from .layer import Layer
from .sources import STAGE_PREFIX, Noise, Oscillator, Sample, Source, Wave, click_name, wave_name
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
    if isinstance(main, Noise):
        words = [f"{main.colour} noise"]
    elif isinstance(main, Sample):
        words = _sample_words(main)
    else:
        words = _oscillator_words(layer, main, len(heard) - 1, waves)
    if layer.play.mode == "voices":
        words.append(f"up to {layer.play.voices} voices")
    elif layer.play.mode == "drone":
        words.append("drone")
    words += _stage_words(layer, brief=len(words) >= 3) or (_start_words(main) if len(words) < 3 else [])
    return ", ".join(words)


def _sample_words(sample: Sample) -> list[str]:
    looped = ", looped" if sample.play == "loop" else ""
    words = [f"sample “{sample.title or click_name(sample.audio)}”{looped}"]
    return [*words, "in sync with the phrase"] if sample.begins == "phrase" else words


def _oscillator_words(layer: Layer, main: Oscillator, others: int, waves: Sequence[Wave]) -> list[str]:
    text = _shape(main, waves)
    if layer.unison.copies > 1 and main.unison:
        text += f" ×{layer.unison.copies} ±{write(layer.unison.detune, 'ct')}"
    if others:
        text += f" and {others} more"
    words = [text]
    if main.octave:
        words.append(_OCTAVES[main.octave])
    heard = next((m for m in main.modulators if m.mode == "ring" or m.depth > 0), None)
    if heard is not None:
        parts = {s.id: s.name for s in layer.sources} | {STAGE_PREFIX + s.id: s.name for s in layer.stages}
        by = parts.get(heard.source, heard.source)
        words.append(f"ring by {by}" if heard.mode == "ring" else f"FM by {by}")
    return words


def _stage_words(layer: Layer, brief: bool) -> list[str]:
    stage = next((s for s in layer.stages if not isinstance(s, Distortion) and s.on), None)
    if stage is None:
        return []
    if isinstance(stage, Filter) and brief:
        return [stage.type]
    kind = PARTS[stage.kind]
    return [kind.phrase(stage) if kind.phrase is not None else kind.label.lower()]


def _start_words(main: Source) -> list[str]:
    if not isinstance(main, Oscillator):
        return []
    words = {"retrigger": [f"restarts at {write(main.phase, 'deg')}"], "free-running": ["free-running phase"]}
    return words.get(main.start, [])
