"""From an oscillator's controls to the single cycle that they shape."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ...dsp.sources.cycles import Cycle
from ...patch import STOCK_PREFIX, Oscillator, Wave

SHAPING = (
    "mix",
    "position",
    "pulse_width",
    "sync_interval",
    "twin_shift",
    "skew",
    "partial_low",
    "partial_high",
    "scatter",
)
"""Movable controls that change the cycle itself."""


def frames_at(waves: Sequence[Wave], word: str, position: float) -> tuple[str, str, float]:
    """The two frames around a position, 0..1, of a drawn wave, and the share of the second."""
    if word.startswith(STOCK_PREFIX):
        return word, word, 0.0
    wave = next(w for w in waves if w.id == word)
    at = min(max(position, 0.0), 1.0) * (len(wave.frames) - 1)
    i = min(int(at), max(0, len(wave.frames) - 2))
    second = wave.frames[min(i + 1, len(wave.frames) - 1)]
    return wave.frames[i], second, at - i


def is_plain(source: Oscillator) -> bool:
    """Whether the cycle is an unmodified plain wave."""
    return (
        source.shape not in ("mix", "drawn")
        and source.sync == "off"
        and source.twin == "off"
        and source.skew == 0
        and source.partial_low <= 1
        and source.partial_high >= 256
        and source.scatter == 0
    )


def cycle_from(
    source: Oscillator, waves: Sequence[Wave], value: Callable[[str], float], ratio: float, seed: int
) -> Cycle:
    """The cycle of a source. ``value`` returns a control's present value. ratio: own pitch over the master's."""
    sync, begin = 1.0, 0.0
    if source.sync == "own":
        sync = 2.0 ** (value("sync_interval") / 12.0)
    elif source.sync == "source" and source.sync_to:
        sync, begin = ratio, source.phase / 360.0
    return Cycle(
        shape=source.shape,
        width=value("pulse_width") / 100.0 if source.shape == "pulse" else 0.5,
        a=source.mix_a,
        b=source.mix_b,
        blend=value("mix") / 100.0 if source.shape == "mix" else 0.0,
        frames=frames_at(waves, source.wave, value("position") / 100.0) if source.shape == "drawn" else ("", "", 0.0),
        sync=sync,
        begin=begin,
        twin=source.twin,
        shift=value("twin_shift") / 360.0 if source.twin != "off" else 0.0,
        skew=value("skew") / 100.0,
        low=value("partial_low"),
        high=value("partial_high"),
        edge=source.partial_edge,
        scatter=value("scatter") / 100.0,
        seed=seed,
    )
