"""Sources of one voice: all copies of all its oscillators and noises.

Phase is a 64-bit integer that wraps by itself, so pitch does not drift; a table is read by cubic (Lagrange)
interpolation. A pulse is the difference of two saws.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from .jit import RATE, inline, kernel

TABLE, PULSE, NOISE = 0, 1, 2
STAGES, PAST, NOWHERE = 0, 1, 2

_HZ = 18446744073709551616.0 / RATE
_SHIFT = np.uint64(51)
_MASK = np.uint64((1 << 51) - 1)
_FRACTION = 1.0 / (1 << 51)
_ONE = 18446744073709549568.0
_GOLD = np.uint64(0x9E3779B97F4A7C15)
_MIX1 = np.uint64(0xBF58476D1CE4E5B9)
_MIX2 = np.uint64(0x94D049BB133111EB)
_S30, _S27, _S31, _S11 = np.uint64(30), np.uint64(27), np.uint64(31), np.uint64(11)
_U53 = 2.0 / (1 << 53)


@inline
def _read(table: Any, phase: Any) -> Any:
    i = np.int64(phase >> _SHIFT)
    d = np.float64(phase & _MASK) * _FRACTION
    y0, y1, y2, y3 = table[i], table[i + 1], table[i + 2], table[i + 3]
    c1 = y2 - y0 / 3.0 - 0.5 * y1 - y3 / 6.0
    c2 = 0.5 * (y0 + y2) - y1
    c3 = (y3 - y0) / 6.0 + 0.5 * (y1 - y2)
    return ((c3 * d + c2) * d + c1) * d + y1


@inline
def _white(key: Any, count: Any) -> Any:
    """Evenly spread -1..1 from a counter (the finalising steps of SplitMix64, Steele et al. 2014)."""
    z = key + count * _GOLD
    z = (z ^ (z >> _S30)) * _MIX1
    z = (z ^ (z >> _S27)) * _MIX2
    z = z ^ (z >> _S31)
    return np.float64(z >> _S11) * _U53 - 1.0


@inline
def _turn(cycles: Any) -> Any:
    """A phase offset in cycles as a 64-bit integer."""
    part = cycles - np.floor(cycles)
    return np.uint64(min(part * 18446744073709551616.0, _ONE))


@kernel(
    "void(f8[:,::1], f8[:,::1], i8, i8, f8[:,::1], f8[::1], i8[::1], i8[:,::1], f8[:,::1], f8[::1], i8[::1],"
    " f8[:,:,::1], i8[::1], f8[:,::1], f8[:,::1], f8[:,::1], u8[:,::1], u8[::1], u8[::1])"
)
def sources_plain(
    out: Any,
    past: Any,
    a: Any,
    b: Any,
    tables: Any,
    freq: Any,
    kind: Any,
    row: Any,
    ratio: Any,
    offset: Any,
    copies: Any,
    gain: Any,
    dest: Any,
    level: Any,
    pitch: Any,
    width: Any,
    phase: Any,
    nkey: Any,
    ncount: Any,
) -> Any:
    """Add all sources of a voice into ``out`` and ``past``, samples a..b.

    out, past: (channels, n), 1 or 2 channels. freq: (n,) Hz of the note. kind, dest, copies, offset (Hz): (sources,).
    row, ratio, phase: (sources, copies). gain: (sources, copies, 2). level (linear), pitch (ratio), width (0..1):
    (sources, n). nkey, ncount: (sources,) state of the noises.
    """
    channels = out.shape[0]
    for s in range(kind.shape[0]):
        if dest[s] == NOWHERE:
            for c in range(copies[s]):
                ph = phase[s, c]
                for i in range(a, b):
                    ph += np.uint64(np.int64((freq[i] * pitch[s, i] * ratio[s, c] + offset[s]) * _HZ))
                phase[s, c] = ph
            continue
        to = out if dest[s] == STAGES else past
        if kind[s] == NOISE:
            side = width[s, a]
            count = ncount[s]
            for i in range(a, b):
                w = _white(nkey[s], count)
                g = level[s, i] * gain[s, 0, 0]
                if channels == 1:
                    to[0, i] += g * w
                else:
                    v = _white(~nkey[s], count)
                    to[0, i] += g * w
                    to[1, i] += g * ((1.0 - side) * w + side * v)
                count += np.uint64(1)
            ncount[s] = count
            continue
        for c in range(copies[s]):
            ph = phase[s, c]
            table = tables[row[s, c]]
            r = ratio[s, c]
            gl, gr = gain[s, c, 0], gain[s, c, 1]
            for i in range(a, b):
                y = _read(table, ph)
                if kind[s] == PULSE:
                    y -= _read(table, ph - _turn(width[s, i]))
                y *= level[s, i]
                to[0, i] += gl * y
                if channels == 2:
                    to[1, i] += gr * y
                ph += np.uint64(np.int64((freq[i] * pitch[s, i] * r + offset[s]) * _HZ))
            phase[s, c] = ph


@kernel(
    "void(f8[:,::1], f8[:,::1], i8, i8, f8[:,::1], f8[::1], i8[::1], i8[:,::1], f8[:,::1], f8[::1], i8,"
    " f8[:,:,::1], i8[::1], f8[:,::1], f8[:,::1], f8[:,::1], u8[:,::1], u8[::1], u8[::1],"
    " i8[::1], i8[::1], i8[::1], f8[:,::1], f8[::1])"
)
def sources_modulated(
    out: Any,
    past: Any,
    a: Any,
    b: Any,
    tables: Any,
    freq: Any,
    kind: Any,
    row: Any,
    ratio: Any,
    offset: Any,
    copies: Any,
    gain: Any,
    dest: Any,
    level: Any,
    pitch: Any,
    width: Any,
    phase: Any,
    nkey: Any,
    ncount: Any,
    order: Any,
    source: Any,
    target: Any,
    depth: Any,
    heard: Any,
) -> Any:
    """As ``sources_plain``, with phase modulation, at twice the rate.

    out, past: (channels, 2 n). Every copy carries its own modulators. order: (sources,) modulators first.
    source, target: (edges,); depth: (edges, n) in cycles. heard: (sources,) room for the sources' present outputs.
    """
    channels = out.shape[0]
    half = 0.5 * _HZ
    for c in range(copies):
        count = ncount[0]
        for i in range(a, b):
            for sub in range(2):
                j = 2 * i + sub
                for q in range(order.shape[0]):
                    s = order[q]
                    if kind[s] == NOISE:
                        y = _white(nkey[s], np.uint64(2) * (count + np.uint64(i - a)) + np.uint64(sub))
                    else:
                        ph = phase[s, c]
                        swing = 0.0
                        for e in range(source.shape[0]):
                            if target[e] == s:
                                swing += depth[e, i] * heard[source[e]]
                        at = ph + _turn(swing) if swing != 0.0 else ph
                        table = tables[row[s, c]]
                        y = _read(table, at)
                        if kind[s] == PULSE:
                            y -= _read(table, at - _turn(width[s, i]))
                        phase[s, c] = ph + np.uint64(np.int64((freq[i] * pitch[s, i] * ratio[s, c] + offset[s]) * half))
                    heard[s] = y
                    if dest[s] == STAGES:
                        g = level[s, i]
                        out[0, j] += gain[s, c, 0] * g * y
                        if channels == 2:
                            out[1, j] += gain[s, c, 1] * g * y
                    elif dest[s] == PAST:
                        g = level[s, i]
                        past[0, j] += gain[s, c, 0] * g * y
                        if channels == 2:
                            past[1, j] += gain[s, c, 1] * g * y
    for s in range(kind.shape[0]):
        ncount[s] += np.uint64(b - a)
