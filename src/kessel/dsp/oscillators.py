"""Sources of one voice: all copies of all its oscillators.

Phase is a 64-bit integer that wraps by itself, so pitch does not drift; a table is read by cubic (Lagrange)
interpolation. A pulse is the difference of two saws. Rows of tables from OWN on are the voice's own; where two rows
are given, the sound goes from the first to the second over the quantum.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from .jit import RATE, inline, kernel

TABLE, PULSE, READY, STRETCHED = 0, 1, 2, 3
OWN = 1 << 20
STAGES, PAST, NOWHERE = 0, 1, 2

_HZ = 18446744073709551616.0 / RATE
_SHIFT = np.uint64(51)
_MASK = np.uint64((1 << 51) - 1)
_FRACTION = 1.0 / (1 << 51)
_ONE = 18446744073709549568.0
_CYCLE = 9007199254740992.0
_TURN_SHIFT = np.uint64(11)


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
def _turn(cycles: Any) -> Any:
    """A phase offset in cycles as a 64-bit integer."""
    part = cycles - np.floor(cycles)
    return np.uint64(min(part * 18446744073709551616.0, _ONE))


_QUARTER = np.uint64(1 << 62)


@inline
def _stretched(tables: Any, re: Any, im: Any, one: Any, two: Any) -> Any:
    """A stretched cycle: phase ``one`` of the fundamental, ``two`` of the distance between partials."""
    sine = _read(tables[0], one)
    cosine = _read(tables[0], one + _QUARTER)
    return cosine * _read(re, two) - sine * _read(im, two)


@kernel(
    "void(f8[:,::1], f8[:,::1], i8, i8, f8[:,::1], f8[:,::1], f8[::1], i8[::1], i8[:,::1], i8[:,::1], f8[:,::1],"
    " f8[::1], i8[::1], f8[:,:,::1], i8[::1], f8[:,::1], f8[:,::1], f8[:,::1], i8[::1], u8[:,::1], u8[:,::1])"
)
def sources_plain(
    out: Any,
    past: Any,
    a: Any,
    b: Any,
    tables: Any,
    own: Any,
    freq: Any,
    kind: Any,
    row: Any,
    row2: Any,
    ratio: Any,
    offset: Any,
    copies: Any,
    gain: Any,
    dest: Any,
    level: Any,
    pitch: Any,
    shape: Any,
    moves: Any,
    phase: Any,
    phase2: Any,
) -> Any:
    """Add all oscillators of a voice into ``out`` and ``past``, samples a..b.

    out, past: (channels, n), 1 or 2 channels. own: (rows, points) tables of this voice. freq: (n,) Hz of the note.
    kind, dest, copies, offset (Hz): (sources,). row, row2, ratio, phase, phase2: (sources, copies). gain: (sources,
    copies, 2). level (linear), pitch (ratio), shape (pulse width 0..1, or 1 + stretch): (sources, n). moves:
    (sources,), 0 where frequency, level and shape keep one value from a to b.
    """
    channels = out.shape[0]
    n = out.shape[1]
    for s in range(kind.shape[0]):
        if kind[s] == READY:
            continue
        if dest[s] == NOWHERE:
            for c in range(copies[s]):
                ph, ph2 = phase[s, c], phase2[s, c]
                for i in range(a, b):
                    silent = np.int64((freq[i] * pitch[s, i] * ratio[s, c] + offset[s]) * _HZ)
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
                    y = _stretched(tables, table, im, ph, ph2)
                    if r1 != r2:
                        y += (_stretched(tables, re_b, im_b, ph, ph2) - y) * ((i + 1) / n)
                    y *= level[s, i]
                    to[0, i] += gl * y
                    if channels == 2:
                        to[1, i] += gr * y
                    step = np.int64((freq[i] * pitch[s, i] * r + offset[s]) * _HZ)
                    ph += np.uint64(step)
                    ph2 += np.uint64(np.int64(np.float64(step) * shape[s, i]))
                phase[s, c], phase2[s, c] = ph, ph2
                continue
            if moves[s] == 0 and r1 == r2 and b > a:
                step0 = np.uint64(np.int64((freq[a] * pitch[s, a] * r + offset[s]) * _HZ))
                gl *= level[s, a]
                gr *= level[s, a]
                if kind[s] == PULSE:
                    turn = _turn(shape[s, a])
                    if channels == 2:
                        for i in range(a, b):
                            y = _read(table, ph) - _read(table, ph - turn)
                            to[0, i] += gl * y
                            to[1, i] += gr * y
                            ph += step0
                    else:
                        for i in range(a, b):
                            to[0, i] += gl * (_read(table, ph) - _read(table, ph - turn))
                            ph += step0
                elif channels == 2:
                    for i in range(a, b):
                        y = _read(table, ph)
                        to[0, i] += gl * y
                        to[1, i] += gr * y
                        ph += step0
                else:
                    for i in range(a, b):
                        to[0, i] += gl * _read(table, ph)
                        ph += step0
                phase[s, c] = ph
                continue
            other = own[r2 - OWN] if r2 >= OWN else tables[r2]
            for i in range(a, b):
                y = _read(table, ph)
                if kind[s] == PULSE:
                    y -= _read(table, ph - _turn(shape[s, i]))
                elif r1 != r2:
                    y += (_read(other, ph) - y) * ((i + 1) / n)
                y *= level[s, i]
                to[0, i] += gl * y
                if channels == 2:
                    to[1, i] += gr * y
                ph += np.uint64(np.int64((freq[i] * pitch[s, i] * r + offset[s]) * _HZ))
            phase[s, c] = ph


PHASE, RING = 0, 1


@kernel(
    "void(f8[:,::1], f8[:,::1], i8, i8, f8[:,::1], f8[:,::1], f8[::1], i8[::1], i8[:,::1], i8[:,::1], f8[:,::1],"
    " f8[::1], i8, f8[:,:,::1], i8[::1], f8[:,::1], f8[:,::1], f8[:,::1], u8[:,::1], u8[:,::1],"
    " f8[:,:,::1], i8[::1], i8[::1], i8[::1], i8[::1], i8[::1], i8[::1], f8[:,::1], f8[:,:,::1])"
)
def sources_modulated(
    out: Any,
    past: Any,
    a: Any,
    b: Any,
    tables: Any,
    own: Any,
    freq: Any,
    kind: Any,
    row: Any,
    row2: Any,
    ratio: Any,
    offset: Any,
    copies: Any,
    gain: Any,
    dest: Any,
    level: Any,
    pitch: Any,
    shape: Any,
    phase: Any,
    phase2: Any,
    ready: Any,
    ready_at: Any,
    order: Any,
    first: Any,
    source: Any,
    way: Any,
    back: Any,
    amount: Any,
    memory: Any,
) -> Any:
    """As ``sources_plain``, with sources working on each other, at twice the rate.

    out, past: (channels, 2 n). Every copy carries its own modulators. ready: (ready sources, 2, n + 1), what noises and
    samples give, one sample before at index 0; ready_at: (sources,) its row. order: (sources,) modulators first, as
    far as there are no circles. Edges stand by target: those of s from first[s] on to first[s + 1]. source, way (PHASE
    or RING), back (1 where the source comes later in the order): (edges,). amount: (edges, n), cycles or 0..1.
    memory: (copies, sources, 3): each source's present output and the two before. An edge that leads back gives the
    mean of the last two, which holds a loop of feedback together.
    """
    channels = out.shape[0]
    n = out.shape[1] // 2
    half = 0.5 * _HZ
    for c in range(copies):
        heard = memory[c]
        for i in range(a, b):
            for sub in range(2):
                j = 2 * i + sub
                for q in range(order.shape[0]):
                    s = order[q]
                    swing = 0.0
                    ring = 1.0
                    for e in range(first[s], first[s + 1]):
                        o = source[e]
                        m = 0.5 * (heard[o, 1] + heard[o, 2]) if back[e] == 1 else heard[o, 0]
                        if way[e] == PHASE:
                            swing += amount[e, i] * m
                        else:
                            ring *= 1.0 + amount[e, i] * (m - 1.0)
                    if kind[s] == READY:
                        k = ready_at[s]
                        y = ready[k, 0, i + 1]
                        z = ready[k, 1, i + 1]
                        if sub == 0:
                            y = 0.5 * (y + ready[k, 0, i])
                            z = 0.5 * (z + ready[k, 1, i])
                    else:
                        ph = phase[s, c]
                        at = ph + (np.uint64(np.int64(swing * _CYCLE)) << _TURN_SHIFT) if swing != 0.0 else ph
                        r1, r2 = row[s, c], row2[s, c]
                        table = own[r1 - OWN] if r1 >= OWN else tables[r1]
                        if kind[s] == STRETCHED:
                            ph2 = phase2[s, c]
                            at2 = ph2 + _turn(swing * shape[s, i]) if swing != 0.0 else ph2
                            y = _stretched(tables, table, own[r1 - OWN + 1], at, at2)
                            if r1 != r2:
                                y2 = _stretched(tables, own[r2 - OWN], own[r2 - OWN + 1], at, at2)
                                y += (y2 - y) * ((i + 1) / n)
                        else:
                            y = _read(table, at)
                            if kind[s] == PULSE:
                                y -= _read(table, at - _turn(shape[s, i]))
                            elif r1 != r2:
                                other = own[r2 - OWN] if r2 >= OWN else tables[r2]
                                y += (_read(other, at) - y) * ((i + 1) / n)
                        step = np.int64((freq[i] * pitch[s, i] * ratio[s, c] + offset[s]) * half)
                        phase[s, c] = ph + np.uint64(step)
                        if kind[s] == STRETCHED:
                            phase2[s, c] += np.uint64(np.int64(np.float64(step) * shape[s, i]))
                        z = y
                    y *= ring
                    z *= ring
                    heard[s, 2] = heard[s, 1]
                    heard[s, 1] = heard[s, 0]
                    heard[s, 0] = y
                    if dest[s] == NOWHERE:
                        continue
                    g = level[s, i]
                    if dest[s] == STAGES:
                        out[0, j] += gain[s, c, 0] * g * y
                        if channels == 2:
                            out[1, j] += gain[s, c, 1] * g * z
                    else:
                        past[0, j] += gain[s, c, 0] * g * y
                        if channels == 2:
                            past[1, j] += gain[s, c, 1] * g * z


@kernel(
    "void(f8[:,::1], f8[:,::1], i8, i8, f8[:,::1], f8[:,::1], f8[::1], i8[::1], i8[:,::1], i8[:,::1], f8[:,::1],"
    " f8[::1], i8, f8[:,:,::1], i8[::1], f8[:,::1], f8[:,::1], f8[:,::1], i8[::1], u8[:,::1], u8[:,::1],"
    " f8[:,:,::1], i8[::1], i8[::1], i8[::1], i8[::1], i8[::1], f8[:,::1], f8[:,::1])"
)
def sources_in_order(
    out: Any,
    past: Any,
    a: Any,
    b: Any,
    tables: Any,
    own: Any,
    freq: Any,
    kind: Any,
    row: Any,
    row2: Any,
    ratio: Any,
    offset: Any,
    copies: Any,
    gain: Any,
    dest: Any,
    level: Any,
    pitch: Any,
    shape: Any,
    moves: Any,
    phase: Any,
    phase2: Any,
    ready: Any,
    ready_at: Any,
    order: Any,
    first: Any,
    source: Any,
    way: Any,
    amount: Any,
    work: Any,
) -> Any:
    """As ``sources_modulated`` where no edge leads back: one source after the other, each for the whole stretch.

    work: (sources + 2, 2 n) room for what the sources give, and for swing and ring.
    """
    n = out.shape[1] // 2
    half = 0.5 * _HZ
    count = kind.shape[0]
    channels = out.shape[0]
    swing, ring = work[count], work[count + 1]
    for c in range(copies):
        for q in range(order.shape[0]):
            s = order[q]
            y = work[s]
            swung = False
            rung = False
            for e in range(first[s], first[s + 1]):
                m = work[source[e]]
                if way[e] == PHASE:
                    for i in range(a, b):
                        w = amount[e, i]
                        if swung:
                            swing[2 * i] += w * m[2 * i]
                            swing[2 * i + 1] += w * m[2 * i + 1]
                        else:
                            swing[2 * i] = w * m[2 * i]
                            swing[2 * i + 1] = w * m[2 * i + 1]
                    swung = True
                else:
                    for i in range(a, b):
                        w = amount[e, i]
                        for j in (2 * i, 2 * i + 1):
                            r = 1.0 + w * (m[j] - 1.0)
                            ring[j] = ring[j] * r if rung else r
                    rung = True
            if kind[s] == READY:
                k = ready_at[s]
                for side in range(2):
                    left = ready[k, side]
                    for i in range(a, b):
                        one, two = 0.5 * (left[i + 1] + left[i]), left[i + 1]
                        if rung:
                            one *= ring[2 * i]
                            two *= ring[2 * i + 1]
                        if side == 0:
                            y[2 * i], y[2 * i + 1] = one, two
                        if dest[s] != NOWHERE and side < channels:
                            to = out if dest[s] == STAGES else past
                            g = gain[s, c, side] * level[s, i]
                            to[side, 2 * i] += g * one
                            to[side, 2 * i + 1] += g * two
                continue
            ph, ph2 = phase[s, c], phase2[s, c]
            r1, r2 = row[s, c], row2[s, c]
            table = own[r1 - OWN] if r1 >= OWN else tables[r1]
            other = own[r2 - OWN] if r2 >= OWN else tables[r2]
            imaginary = own[r1 - OWN + 1] if kind[s] == STRETCHED else table
            imaginary2 = own[r2 - OWN + 1] if kind[s] == STRETCHED else table
            step = np.int64((freq[a] * pitch[s, a] * ratio[s, c] + offset[s]) * half)
            for i in range(a, b):
                if moves[s] == 1:
                    step = np.int64((freq[i] * pitch[s, i] * ratio[s, c] + offset[s]) * half)
                for j in (2 * i, 2 * i + 1):
                    at = ph
                    if swung:
                        at += np.uint64(np.int64(swing[j] * _CYCLE)) << _TURN_SHIFT
                    if kind[s] == STRETCHED:
                        at2 = ph2
                        if swung:
                            at2 += np.uint64(np.int64(swing[j] * shape[s, i] * _CYCLE)) << _TURN_SHIFT
                        v = _stretched(tables, table, imaginary, at, at2)
                        if r1 != r2:
                            v += (_stretched(tables, other, imaginary2, at, at2) - v) * ((i + 1) / n)
                        ph2 += np.uint64(np.int64(np.float64(step) * shape[s, i]))
                    else:
                        v = _read(table, at)
                        if kind[s] == PULSE:
                            v -= _read(table, at - _turn(shape[s, i]))
                        elif r1 != r2:
                            v += (_read(other, at) - v) * ((i + 1) / n)
                    if rung:
                        v *= ring[j]
                    y[j] = v
                    ph += np.uint64(step)
            phase[s, c], phase2[s, c] = ph, ph2
            if dest[s] == NOWHERE:
                continue
            to = out if dest[s] == STAGES else past
            for side in range(channels):
                for i in range(a, b):
                    g = gain[s, c, side] * level[s, i]
                    to[side, 2 * i] += g * y[2 * i]
                    to[side, 2 * i + 1] += g * y[2 * i + 1]


@kernel("void(f8[:,::1], i8, i8, f8[:,::1], f8, f8[::1])")
def add_ready(out: Any, a: Any, b: Any, ready: Any, gain: Any, level: Any) -> Any:
    """Add what a noise or sample gives, (2, n + 1) with one sample before, into out, (channels, n), samples a..b."""
    if out.shape[0] == 2:
        for i in range(a, b):
            g = gain * level[i]
            out[0, i] += g * ready[0, i + 1]
            out[1, i] += g * ready[1, i + 1]
    else:
        for i in range(a, b):
            out[0, i] += gain * level[i] * 0.5 * (ready[0, i + 1] + ready[1, i + 1])
