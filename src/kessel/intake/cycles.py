"""Drawn waves cut from recordings."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..dsp.sources.waves import cycles_from_audio, frame_text
from ..measure import detect_pitch
from ..patch import FRAME_POINTS, MOST_FRAMES, ValueProblem, Wave, free_id

_Real = NDArray[np.float64]


def wave_from_audio(x: _Real, name: str, mode: str) -> Wave:
    """A drawn wave from audio, (channels, n) at 48 kHz: one ``cycle`` at its pitch, a ``run`` of cycles, or ``frames``
    of FRAME_POINTS points each, as Kessel exports them. Raises ValueProblem.
    """
    mono = x.mean(axis=0)
    if mode == "frames" or (
        mode == "run" and mono.size % FRAME_POINTS == 0 and mono.size <= FRAME_POINTS * MOST_FRAMES
    ):
        if mono.size < FRAME_POINTS:
            raise ValueProblem(f"{name} is shorter than one frame of {FRAME_POINTS} points")
        count = min(mono.size // FRAME_POINTS, MOST_FRAMES)
        frames = [mono[i * FRAME_POINTS : (i + 1) * FRAME_POINTS] for i in range(count)]
    else:
        hz = detect_pitch(mono)
        if hz is None:
            raise ValueProblem(f"no pitch was found in {name}: give a sound with one steady pitch")
        period = 48000.0 / hz
        most = int((mono.size - 2) / period) - 1
        if most < 1:
            raise ValueProblem(f"{name} is shorter than two cycles of its pitch")
        loudest = int(np.argmax(np.convolve(mono**2, np.ones(round(period)), "valid"))) if mode == "cycle" else 0
        start = min(loudest, max(0, mono.size - round(3 * period) - 2))
        if mode == "cycle":
            frames = cycles_from_audio(mono, period, start, 1)
        else:
            count = min(MOST_FRAMES, most)
            every = max(1, most // count)
            run = cycles_from_audio(mono, period, 0, most)
            frames = run[::every][:MOST_FRAMES]
    if not frames:
        raise ValueProblem(f"{name} holds no whole cycle")
    stem = name.rsplit(".", 1)[0][:50] or "Wave"
    return Wave(id=free_id(stem, []), name=stem, frames=[frame_text(f) for f in frames])
