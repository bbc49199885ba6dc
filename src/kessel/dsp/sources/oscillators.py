"""Oscillators of one voice, with all their unison copies.

Phase is a 64-bit integer that wraps, so pitch does not drift. Tables are read by cubic (Lagrange) interpolation. A
pulse is the difference of two saws. Rows of tables from OWN on belong to the voice. If two rows are given, the sound
crossfades between them over the quantum.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from ..interpolation import cubic
from ..jit import F1, F2, F3, I1, I2, RATE, U2, inline, kernel

TABLE, PULSE, READY, STRETCHED = 0, 1, 2, 3
OWN = 1 << 20
STAGES, PAST, NOWHERE = 0, 1, 2

STEP_PER_HZ = 18446744073709551616.0 / RATE
_SHIFT = np.uint64(51)
_MASK = np.uint64((1 << 51) - 1)
_1, _2, _3 = np.uint64(1), np.uint64(2), np.uint64(3)
_FRACTION = 1.0 / (1 << 51)
_ONE = 18446744073709549568.0
CYCLE = 9007199254740992.0
TURN_SHIFT = np.uint64(11)


@inline
def read_table(table: Any, phase: Any) -> Any:
    # unsigned indices need no test for counting from the end; a signed value converts to float in one instruction
    i = phase >> _SHIFT
    d = np.float64(np.int64(phase & _MASK)) * _FRACTION
    return cubic(d, table[i], table[i + _1], table[i + _2], table[i + _3])


@inline
def turn_of(cycles: Any) -> Any:
    """A phase offset in cycles as a 64-bit integer."""
    part = cycles - np.floor(cycles)
    return np.uint64(min(part * 18446744073709551616.0, _ONE))


_QUARTER = np.uint64(1 << 62)


@inline
def read_stretched(tables: Any, re: Any, im: Any, one: Any, two: Any) -> Any:
    """A stretched cycle: phase ``one`` of the fundamental, ``two`` of the distance between partials."""
    sine = read_table(tables[0], one)
    cosine = read_table(tables[0], one + _QUARTER)
    return cosine * read_table(re, two) - sine * read_table(im, two)


class SourceArrays(NamedTuple):
    """The sources of a layer over a quantum.

    kind, dest, copies, moves: (sources,); moves: 0 if frequency, level and shape are constant. offset: (sources,) Hz.
    ratio: (sources, copies). gain: (sources, copies, 2). level (linear), pitch (ratio), shape (pulse width 0..1, or 1 +
    stretch): (sources, n). shaped: (sources,), 1 for those that modulate with the envelope amp, (sources, n), which the
    level contains already.
    """

    kind: I1
    ratio: F2
    offset: F1
    copies: I1
    gain: F3
    dest: I1
    level: F2
    pitch: F2
    shape: F2
    moves: I1
    shaped: I1
    amp: F2


class CycleArrays(NamedTuple):
    """What the oscillators of a voice read.

    tables, own: (rows, points), shared tables and those of the voice. row, row2: (sources, copies), rows at the start
    and the end of the quantum. phase, phase2: (sources, copies).
    """

    tables: F2
    own: F2
    row: I2
    row2: I2
    phase: U2
    phase2: U2


@kernel("void(f8[:,::1], f8[:,::1], i8, i8, f8[::1], SourceArrays, CycleArrays)", SourceArrays, CycleArrays)
def sources_plain(out: Any, past: Any, a: Any, b: Any, freq: Any, sources: Any, cycles: Any) -> Any:
    """Add all oscillators of a voice into ``out`` and ``past``, samples a..b.

    out, past: (channels, n), 1 or 2 channels. freq: (n,) Hz of the note.
    """
    kind, ratio, offset, copies, gain = sources.kind, sources.ratio, sources.offset, sources.copies, sources.gain
    dest, level, pitch, shape, moves = sources.dest, sources.level, sources.pitch, sources.shape, sources.moves
    tables, own, row, row2 = cycles.tables, cycles.own, cycles.row, cycles.row2
    phase, phase2 = cycles.phase, cycles.phase2
    channels = out.shape[0]
    n = out.shape[1]
    for s in range(kind.shape[0]):
        if kind[s] == READY:
            continue
        if dest[s] == NOWHERE:
            for c in range(copies[s]):
                ph, ph2 = phase[s, c], phase2[s, c]
                for i in range(a, b):
                    silent = np.int64((freq[i] * pitch[s, i] * ratio[s, c] + offset[s]) * STEP_PER_HZ)
                    ph += np.uint64(silent)
                    ph2 += np.uint64(np.int64(np.float64(silent) * shape[s, i]))
                phase[s, c], phase2[s, c] = ph, ph2
            continue
        to = out if dest[s] == STAGES else past
        for c in range(copies[s]):
            ph = phase[s, c]
            gl, gr = gain[s, c, 0], gain[s, c, 1]
            r1, r2 = row[s, c], row2[s, c]
            table = own[r1 - OWN] if r1 >= OWN else tables[r1]
            r = ratio[s, c]
            if kind[s] == STRETCHED:
                ph2 = phase2[s, c]
                im = own[r1 - OWN + 1]
                re_b, im_b = own[r2 - OWN], own[r2 - OWN + 1]
                for i in range(a, b):
                    y = read_stretched(tables, table, im, ph, ph2)
                    if r1 != r2:
                        y += (read_stretched(tables, re_b, im_b, ph, ph2) - y) * ((i + 1) / n)
                    y *= level[s, i]
                    to[0, i] += gl * y
                    if channels == 2:
                        to[1, i] += gr * y
                    step = np.int64((freq[i] * pitch[s, i] * r + offset[s]) * STEP_PER_HZ)
                    ph += np.uint64(step)
                    ph2 += np.uint64(np.int64(np.float64(step) * shape[s, i]))
                phase[s, c], phase2[s, c] = ph, ph2
                continue
            if moves[s] == 0 and r1 == r2 and b > a:
                step0 = np.uint64(np.int64((freq[a] * pitch[s, a] * r + offset[s]) * STEP_PER_HZ))
                gl *= level[s, a]
                gr *= level[s, a]
                if kind[s] == PULSE:
                    turn = turn_of(shape[s, a])
                    if channels == 2:
                        for i in range(a, b):
                            y = read_table(table, ph) - read_table(table, ph - turn)
                            to[0, i] += gl * y
                            to[1, i] += gr * y
                            ph += step0
                    else:
                        for i in range(a, b):
                            to[0, i] += gl * (read_table(table, ph) - read_table(table, ph - turn))
                            ph += step0
                elif channels == 2:
                    one, two = to[0, a:b], to[1, a:b]
                    for i in range(b - a):
                        y = read_table(table, ph)
                        one[i] += gl * y
                        two[i] += gr * y
                        ph += step0
                else:
                    one = to[0, a:b]
                    for i in range(b - a):
                        one[i] += gl * read_table(table, ph)
                        ph += step0
                phase[s, c] = ph
                continue
            other = own[r2 - OWN] if r2 >= OWN else tables[r2]
            for i in range(a, b):
                y = read_table(table, ph)
                if kind[s] == PULSE:
                    y -= read_table(table, ph - turn_of(shape[s, i]))
                elif r1 != r2:
                    y += (read_table(other, ph) - y) * ((i + 1) / n)
                y *= level[s, i]
                to[0, i] += gl * y
                if channels == 2:
                    to[1, i] += gr * y
                ph += np.uint64(np.int64((freq[i] * pitch[s, i] * r + offset[s]) * STEP_PER_HZ))
            phase[s, c] = ph


@kernel("void(f8[:,::1], i8, i8, f8[:,::1], f8, f8[::1])")
def add_ready(out: Any, a: Any, b: Any, ready: Any, gain: Any, level: Any) -> Any:
    """Add a noise or sample, (2, n), to out, (channels, n), samples a..b."""
    if out.shape[0] == 2:
        for i in range(a, b):
            g = gain * level[i]
            out[0, i] += g * ready[0, i]
            out[1, i] += g * ready[1, i]
    else:
        for i in range(a, b):
            out[0, i] += gain * level[i] * 0.5 * (ready[0, i] + ready[1, i])
