"""The built-in parts of the part shelf, and starting points of new patches."""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np

from ...dsp.sources.stock_waves import stock_partials
from ...dsp.sources.waves import frame_text, morph
from ...patch import (
    FRAME_POINTS,
    Distortion,
    Envelope,
    Eq,
    EqBand,
    Filter,
    Layer,
    LevelEnvelope,
    Movement,
    Noise,
    Note,
    Oscillator,
    Patch,
    Phrase,
    Play,
    Range,
    Sample,
    SourceModulation,
    Split,
    Unison,
    Wave,
)
from .kept_parts import StoredPart


def _filter(cutoff: float, **words: Any) -> Filter:
    return Filter(id="tone", name="Tone", cutoff=cutoff, **words)


def _layer(i: str, name: str, sources: list[Any], **words: Any) -> Layer:
    return Layer(id=i, name=name, sources=sources, **words)


SUB = _layer(
    "sub", "Sub", [Oscillator(id="sine", name="Sine", shape="sine")], path="clean", hatch="level",
    envelope=LevelEnvelope(attack=4, release=70),
)  # fmt: skip
BODY = _layer(
    "body", "Body",
    [Oscillator(id="saw", name="Saw", shape="saw", octave=0, start="retrigger"),
     Oscillator(id="square", name="Octave square", shape="pulse", octave=1, level=-12)],
    path="worked", hatch="rising", level=-12, unison=Unison(copies=5, detune=11, width=50),
    stages=[_filter(420, resonance=3)], envelope=LevelEnvelope(attack=3, decay=500, sustain=-4, release=80),
)  # fmt: skip
CLICK = _layer(
    "click", "Click", [Sample(id="tock", name="Tock", audio="click:tock")], path="clean", hatch="dots", level=-20,
    envelope=LevelEnvelope(attack=0.5, decay=60, sustain=-72, release=20),
    range=Range(low=400),
)  # fmt: skip
AIR = _layer(
    "air", "Air", [Noise(id="hiss", name="Hiss", colour="pink", width=60, level=-6)], path="clean", hatch="upright",
    level=-32, stages=[_filter(3200, type="high-pass", slope="12")],
    envelope=LevelEnvelope(attack=40, decay=600, sustain=-10, release=180), range=Range(low=1500),
)  # fmt: skip
FIFTH = _layer(
    "fifth", "Fifth", [Oscillator(id="tri", name="Triangle", shape="triangle")], path="worked", hatch="cross",
    level=-15, play=Play(interval=7, interval_level=-5), stages=[_filter(900, slope="12")],
)  # fmt: skip
BELL = _layer(
    "bell", "Bell edge",
    [Oscillator(id="carrier", name="Carrier", shape="sine", octave=1,
                modulators=[SourceModulation(id="m", source="ringer", depth=95)]),
     Oscillator(id="ringer", name="Ringer", shape="sine", octave=1, ratio=3.5, to="modulates only")],
    path="worked", hatch="falling", level=-18, envelope=LevelEnvelope(attack=1, decay=240, sustain=-24, release=90),
)  # fmt: skip
GRIND = _layer(
    "grind", "Grind",
    [Oscillator(id="cut", name="Cut saw", shape="saw", sync="own", sync_interval=19),
     Oscillator(id="pair", name="Twin pulse", shape="pulse", pulse_width=30, twin="subtract", twin_shift=95, level=-6)],
    path="worked", hatch="bricks", level=-15,
    stages=[Distortion(id="dirt", name="Dirt", drive=14), _filter(1500, resonance=5)],
)  # fmt: skip
THREE = _layer(
    "three", "Three partials", [Oscillator(id="three", name="Three", shape="saw", partial_high=3, partial_edge=0.5)],
    path="clean", hatch="waves", level=-8, range=Range(high=300),
)  # fmt: skip
FRAYED = _layer(
    "frayed", "Frayed reed",
    [Oscillator(id="reed", name="Reed", shape="drawn", wave="stock:reed-wide", drift=7, skew=-20)],
    path="worked", hatch="cross", level=-14, unison=Unison(copies=3, detune=8, width=40), stages=[_filter(1100)],
)  # fmt: skip


@cache
def _turning_mouth() -> Wave:
    """Eight frames from one vowel to another and back."""
    ends = [_points("round-mouth"), _points("open-mouth"), _points("flat-mouth")]
    frames = []
    for i in range(8):
        at = 2.0 * i / 7.0
        k = min(int(at), 1)
        frames.append(frame_text(morph(ends[k], ends[k + 1], at - k)))
    return Wave(id="turning-mouth", name="Turning mouth", frames=frames)


def _points(slug: str) -> Any:
    c = stock_partials(slug)
    spectrum = np.zeros(FRAME_POINTS // 2 + 1, dtype=np.complex128)
    n = min(c.size, FRAME_POINTS // 2 - 1)
    spectrum[1 : n + 1] = 0.5 * FRAME_POINTS * c[:n]
    return np.fft.irfft(spectrum, FRAME_POINTS)


def _kept(kind: str, name: str, part: Any, **more: Any) -> StoredPart:
    plain = [p.model_dump() for p in part] if isinstance(part, list) else part.model_dump()
    given: dict[str, list[Any]] = {"movers": [], "movements": [], "waves": []}
    for key, parts in more.items():
        given[key] = [p.model_dump() for p in parts]
    return StoredPart(kind, name, plain, **given)


@cache
def stock_parts() -> tuple[StoredPart, ...]:
    """All built-in parts."""
    snap = Envelope(id="snap", name="Snap", attack=0.5, decay=180)
    open_up = Movement(id="open", mover="snap", target="stages.tone.cutoff", amount=2.2)
    pluck = BODY.model_copy(update={"name": "Pluck body", "stages": [_filter(240, resonance=6)]})
    return (
        _kept("layer", "Plain sub", SUB),
        _kept("layer", "Three-partial sub", THREE),
        _kept("layer", "Five-saw body", BODY),
        _kept("layer", "Pluck body", pluck, movers=[snap], movements=[open_up]),
        _kept("layer", "Added fifth", FIFTH),
        _kept("layer", "Bell edge", BELL),
        _kept("layer", "Cut-saw grind", GRIND),
        _kept("layer", "Frayed reed", FRAYED),
        _kept("layer", "Attack click", CLICK),
        _kept("layer", "Air", AIR),
        _kept("envelope", "Short pluck", LevelEnvelope(attack=1, decay=140, sustain=-72, release=60)),
        _kept("envelope", "Held, soft ends", LevelEnvelope(attack=12, release=140)),
        _kept("envelope", "Hit and hold", LevelEnvelope(attack=1, hold=20, decay=220, sustain=-8, release=70)),
        _kept("envelope", "Slow swell", LevelEnvelope(attack=900, attack_curve=-40, release=600)),
        _kept("mover", "Pitch drop", Envelope(id="drop", name="Pitch drop", attack=0.5, decay=45, decay_curve=70)),
        _kept("stages", "Drive into low-pass", [
            Distortion(id="drive", name="Drive", drive=15), _filter(700, resonance=4),
        ]),
        _kept("stages", "Low-pass into drive", [
            _filter(500, resonance=9), Distortion(id="drive", name="Drive", drive=18),
        ]),
        _kept("stages", "Two notches", [
            Filter(id="under", name="Under", type="notch", cutoff=380, resonance=6),
            Filter(id="over", name="Over", type="notch", cutoff=1300, resonance=6),
        ]),
        _kept("chain", "Warm, mud out", [
            Distortion(id="warm", name="Warm", drive=8, bias=12, mix=60),
            Eq(id="eq", name="EQ", bands=[EqBand(id="b1", frequency=320, gain=-3, q=1.2)]),
        ]),
        _kept("chain", "Hard mids", [
            Eq(id="push", name="Push", bands=[EqBand(id="b1", frequency=900, gain=6, q=0.8)]),
            Distortion(id="hard", name="Hard", drive=20),
            Filter(id="off", name="Top off", cutoff=6500, slope="12"),
        ]),
        _kept("wave", "Turning mouth", _turning_mouth()),
    )  # fmt: skip


STARTS: dict[str, tuple[str, str]] = {
    "sine": ("Plain sine", "One sine that restarts on every note, straight to the output."),
    "sub-body": ("Sub and body", "A clean sine under a body of five saws, split at 95 Hz."),
    "four": ("Sub, body, click and air", "The same with an attack click and a breath of noise above."),
}
"""Starting points: slug, name and description."""


def _phrase() -> Phrase:
    """Two bars that try a bass: two notes that overlap, three velocities, low and high notes."""
    notes = [
        (29, 0.0, 1.4, 100), (29, 1.5, 1.1, 72), (32, 2.5, 0.9, 100),
        (29, 4.0, 1.4, 122), (41, 6.0, 0.9, 100), (27, 7.0, 0.9, 100),
    ]  # fmt: skip
    found = [Note(id=f"n{i}", pitch=p, start=s, length=d, velocity=v) for i, (p, s, d, v) in enumerate(notes, 1)]
    return Phrase(notes=found)


def start_patch(slug: str, name: str) -> Patch:
    """A new patch from a starting point. Raises KeyError."""
    if slug not in STARTS:
        raise KeyError(slug)
    if slug == "sine":
        return Patch(name=name, phrase=_phrase(), layers=[SUB.model_copy(update={"level": -6.0})])
    sub = SUB.model_copy(update={"level": -7.0, "range": Range(high=95)})
    body = BODY.model_copy(update={"range": Range(low=95)})
    layers = [sub, body] if slug == "sub-body" else [sub, body, CLICK, AIR]
    return Patch(name=name, phrase=_phrase(), layers=layers, splits=[Split(id="sub-body", lower="sub", upper="body")])
