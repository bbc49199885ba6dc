"""Basses as they should be: archetypes of which no check may fail anything, each with long and with short notes."""

from __future__ import annotations

from typing import Any

from kessel.patch import Patch

from ..making import layer, note, oscillator, patch

LONG = [note(28, 0, 1.9), note(31, 2, 1.9)]
SHORT = [note(p, 0.25 * i, 0.23, name=f"n{i}") for i, p in enumerate((28, 28, 31, 28, 28, 33, 31, 28) * 2)]
_OPEN = {"ceiling": {"on": True}}


def _envelope(**words: Any) -> dict[str, Any]:
    return {"attack": 2.0, "sustain": 0.0, "release": 10.0} | words


def _sub(**words: Any) -> dict[str, Any]:
    return layer("sub", level=-9.0, envelope=_envelope(), sources=[oscillator(shape="sine")]) | words


def _body(*sources: dict[str, Any], **words: Any) -> dict[str, Any]:
    return layer("body", level=-12.0, envelope=_envelope(), sources=list(sources) or [oscillator(shape="saw")]) | words


def _split(hz: float) -> dict[str, Any]:
    return {"splits": [{"id": "s", "lower": "sub", "upper": "body"}]}


def _cut(low: float, high: float = 20000.0) -> dict[str, Any]:
    return {"range": {"low": low, "high": high}}


def _lowpass(cutoff: float, **words: Any) -> dict[str, Any]:
    return {"kind": "filter", "id": "f", "name": "F", "type": "low-pass", "cutoff": cutoff} | words


def _moved(kind: str, target: str, amount: float, **words: Any) -> dict[str, Any]:
    mover = {"kind": kind, "id": "m", "name": "M"} | words
    return {"movers": [mover], "movements": [{"id": "v", "mover": "m", "target": target, "amount": amount}]}


ARCHETYPES: dict[str, tuple[list[dict[str, Any]], dict[str, Any]]] = {
    "sub under a split body": ([_sub(**_cut(20, 100)), _body(**_cut(100))], _split(100)),
    "sub and seven wide saws cut below 150 Hz": (
        [_sub(), _body(unison={"copies": 7, "detune": 18, "width": 90}, **_cut(150))],
        {},
    ),
    "sub and an octave square": ([_sub(), _body(oscillator(shape="pulse", octave=1))], {}),
    "pluck in step": (
        [
            _sub(),
            _body(stages=[_lowpass(180.0)]),
        ],
        _moved("envelope", "layers.body.stages.f.cutoff", 3.0, decay=250.0, sustain=0.0),
    ),
    "drone with a slow filter": (
        [_sub(), _body(stages=[_lowpass(300.0)])],
        _moved("lfo", "layers.body.stages.f.cutoff", 2.0, clock="beats", length=4.0),
    ),
    "gliding sub": ([_sub(play={"velocity": 0.0, "mode": "legato", "glide": 90.0}), _body(**_cut(150))], {}),
    "pitch drop of an octave in 60 ms": (
        [_sub()],
        _moved("envelope", "layers.sub.sources.a.semitones", 12.0, decay=60.0, sustain=0.0),
    ),
    "driven body after a low-pass": (
        [
            _sub(**_cut(20, 90)),
            _body(
                stages=[
                    _lowpass(600.0),
                    {"kind": "distortion", "id": "d", "name": "D", "curve": "soft", "drive": 18.0},
                ],
                **_cut(90),
            ),
        ],
        _split(90),
    ),
    "fifth above 200 Hz": (
        [_sub(), _body(oscillator(shape="saw"), oscillator(id="b", name="B", shape="saw", semitones=7), **_cut(200))],
        {},
    ),
    "pumping level per beat": (
        [_sub(), _body(chain=[{"kind": "beat-shape", "id": "g", "name": "G"}], **_cut(150))],
        {},
    ),
    "attack click of 10 ms": (
        [
            _sub(),
            layer(
                "click",
                level=-14.0,
                envelope=_envelope(attack=0.5, decay=10.0, sustain=-72.0),
                sources=[{"kind": "noise", "id": "n", "name": "N"}],
                range={"low": 800, "high": 20000},
            ),
        ],
        {},
    ),
    "air at -30 dB": (
        [
            _sub(),
            _body(**_cut(120)),
            layer(
                "air",
                level=-30.0,
                sources=[{"kind": "noise", "id": "n", "name": "N"}],
                range={"low": 4000, "high": 20000},
            ),
        ],
        {},
    ),
    "vowel over a sub": (
        [_sub(), _body(stages=[{"kind": "vowel", "id": "v", "name": "V"}], **_cut(110))],
        {},
    ),
    "inharmonic FM over a sub": (
        [
            _sub(),
            _body(
                oscillator(modulators=[{"id": "x", "source": "b", "mode": "phase", "depth": 90.0}]),
                oscillator(id="b", name="B", ratio=3.31, to="modulates only"),
                **_cut(150),
            ),
        ],
        {},
    ),
    "close copies above 200 Hz": (
        [_sub(), _body(unison={"copies": 5, "detune": 9}, **_cut(200))],
        {},
    ),
    "two saws an octave apart": ([_sub(), _body(oscillator(shape="saw", octave=1), **_cut(120))], {}),
}


def archetype(name: str, long: bool) -> Patch:
    """An archetype with two notes of two beats, or with sixteenths at 170 BPM."""
    layers, words = ARCHETYPES[name]
    tempo, notes = (120.0, LONG) if long else (170.0, SHORT)
    return patch(*layers, notes=notes, **({"tempo": tempo, "output": _OPEN} | words))
