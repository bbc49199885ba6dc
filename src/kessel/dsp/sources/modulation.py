"""Modulation between sources: phase modulation (FM) and ring modulation, at twice the rate.

Without feedback, each source is rendered for the whole stretch before the next. With feedback, all are rendered sample
by sample, with the stages that feed back.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from ..interpolation import cubic
from ..jit import F1, F2, F3, I1, inline, kernel, portion
from ..nonlinear.halfband import chains, load, save
from .oscillators import (
    CYCLE,
    NOWHERE,
    OWN,
    PULSE,
    READY,
    STAGES,
    STEP_PER_HZ,
    STRETCHED,
    TABLE,
    TURN_SHIFT,
    CycleArrays,
    SourceArrays,
    read_stretched,
    read_table,
    turn_of,
)
from .stage_loop import LoopArrays, flush_states, heard_at, loop_stages

PHASE, RING = 0, 1
LOUDEST = 4.0
"""Bound of what a source hears of itself by a circle of ring modulation: above every source alone."""


@inline
def _read_span(span: Any, p: Any) -> Any:
    p = min(max(p, 1.0), span.shape[0] - 3.0)
    i = int(p)
    return cubic(p - i, span[i - 1], span[i], span[i + 1], span[i + 2])


@portion
def _shape(y: Any, amp: Any, a: Any, b: Any) -> None:
    """Multiply y, (2 n,) at twice the rate, by an envelope, (n,)."""
    for i in range(a, b):
        y[2 * i] *= amp[i]
        y[2 * i + 1] *= amp[i]


class ReadyArrays(NamedTuple):
    """Noises and recordings over a quantum, at twice the rate.

    sound: (ready sources, 2, 2 n). at: (sources,) their rows. A recording is read from spans, (ready sources, 2, m), at
    spot, (ready sources, 2 n), if cycle, (ready sources,), is over 0: the samples of one cycle.
    """

    sound: F3
    spans: F3
    spot: F2
    cycle: F1
    at: I1


class EdgeArrays(NamedTuple):
    """Modulations, grouped by target: those of source s are first[s]..first[s + 1].

    order: (sources,), modulators first. first: (sources + 1,). source, mode (PHASE or RING), back (1 if the modulator
    comes later in the order): (edges,). amount: (edges, n), cycles or 0..1.
    """

    order: I1
    first: I1
    source: I1
    mode: I1
    back: I1
    amount: F2


_RECORDS = (SourceArrays, CycleArrays, ReadyArrays, EdgeArrays)


@kernel(
    "void(f8[:,::1], f8[:,::1], i8, i8, f8[::1], SourceArrays, CycleArrays, ReadyArrays, EdgeArrays, LoopArrays)",
    *_RECORDS,
    LoopArrays,
)
def sources_modulated(
    out: Any, past: Any, a: Any, b: Any, freq: Any, sources: Any, cycles: Any, readied: Any, edges: Any, loop: Any
) -> Any:
    """As ``sources_plain``, with sources that modulate each other, at twice the rate.

    out, past: (channels, 2 n). Every copy has its own modulators. An edge that leads back reads the mean of a source's
    last two outputs, which keeps feedback stable. With stages in the loop, ``out`` is also brought down to the base
    rate and passed through them. An edge from number ``sources + k`` comes from stage k.
    """
    kind, ratio, offset, gain = sources.kind, sources.ratio, sources.offset, sources.gain
    dest, level, pitch, shape = sources.dest, sources.level, sources.pitch, sources.shape
    tables, own, row, row2 = cycles.tables, cycles.own, cycles.row, cycles.row2
    phase, phase2 = cycles.phase, cycles.phase2
    copies = phase.shape[1]
    ready, spans, spot, cycle, ready_at = readied.sound, readied.spans, readied.spot, readied.cycle, readied.at
    order, first, source, mode, amount = edges.order, edges.first, edges.source, edges.mode, edges.amount
    back, shaped, amp = edges.back, sources.shaped, sources.amp
    channels = out.shape[0]
    n = out.shape[1] // 2
    half = 0.5 * STEP_PER_HZ
    count = kind.shape[0]
    x, plan, curves, sound, state, line = loop.x, loop.plan, loop.curves, loop.sound, loop.state, loop.line
    sincs, prewarp_table, memory = loop.sincs, loop.prewarp, loop.memory
    looped = plan.shape[0] > 0
    down = load(loop.down, 0)
    for i in range(a, b):
        for c in range(copies):
            heard = memory[c]
            for sub in range(2):
                j = 2 * i + sub
                for q in range(order.shape[0]):
                    s = order[q]
                    swing = 0.0
                    ring = 1.0
                    for e in range(first[s], first[s + 1]):
                        o = source[e]
                        if o >= count:
                            m = heard_at(state, o - count, sub)
                        else:
                            m = 0.5 * (heard[o, 1] + heard[o, 2]) if back[e] == 1 else heard[o, 0]
                        if mode[e] == PHASE:
                            swing += amount[e, i] * m
                        else:
                            # sources that multiply each other in a circle would grow without end
                            if back[e] == 1:
                                m = min(max(m, -LOUDEST), LOUDEST)
                            ring *= 1.0 + amount[e, i] * (m - 1.0)
                    if kind[s] == READY:
                        k = ready_at[s]
                        if cycle[k] > 0.0:
                            p = spot[k, j] + swing * cycle[k]
                            y = _read_span(spans[k, 0], p)
                            z = _read_span(spans[k, 1], p)
                        else:
                            y = ready[k, 0, j]
                            z = ready[k, 1, j]
                    else:
                        ph = phase[s, c]
                        at = ph + (np.uint64(np.int64(swing * CYCLE)) << TURN_SHIFT) if swing != 0.0 else ph
                        r1, r2 = row[s, c], row2[s, c]
                        table = own[r1 - OWN] if r1 >= OWN else tables[r1]
                        if kind[s] == STRETCHED:
                            ph2 = phase2[s, c]
                            at2 = ph2 + turn_of(swing * shape[s, i]) if swing != 0.0 else ph2
                            y = read_stretched(tables, table, own[r1 - OWN + 1], at, at2)
                            if r1 != r2:
                                y2 = read_stretched(tables, own[r2 - OWN], own[r2 - OWN + 1], at, at2)
                                y += (y2 - y) * ((i + 1) / n)
                        else:
                            y = read_table(table, at)
                            if kind[s] == PULSE:
                                y -= read_table(table, at - turn_of(shape[s, i]))
                            elif r1 != r2:
                                other = own[r2 - OWN] if r2 >= OWN else tables[r2]
                                y += (read_table(other, at) - y) * ((i + 1) / n)
                        step = np.int64((freq[i] * pitch[s, i] * ratio[s, c] + offset[s]) * half)
                        phase[s, c] = ph + np.uint64(step)
                        if kind[s] == STRETCHED:
                            phase2[s, c] += np.uint64(np.int64(np.float64(step) * shape[s, i]))
                        z = y
                    y *= ring
                    z *= ring
                    heard[s, 2] = heard[s, 1]
                    heard[s, 1] = heard[s, 0]
                    heard[s, 0] = y * amp[s, i] if shaped[s] == 1 else y
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
        if looped:
            r = channels - 1
            lower, down = chains((out[0, 2 * i + 1], out[0, 2 * i], out[r, 2 * i + 1], out[r, 2 * i]), down)
            x[0, i] += 0.5 * (lower[0] + lower[1])
            if channels == 2:
                x[1, i] += 0.5 * (lower[2] + lower[3])
            loop_stages(i, x, plan, curves, sound, state, line, sincs, prewarp_table)
    if looped:
        save(loop.down, 0, down)
        flush_states(state)


@kernel(
    "void(f8[:,::1], f8[:,::1], i8, i8, f8[::1], SourceArrays, CycleArrays, ReadyArrays, EdgeArrays, f8[:,::1])",
    *_RECORDS,
)
def sources_in_order(
    out: Any, past: Any, a: Any, b: Any, freq: Any, sources: Any, cycles: Any, readied: Any, edges: Any, work: Any
) -> Any:
    """As ``sources_modulated`` without feedback: one source after the other, each over the whole stretch.

    work: (sources + 2, 2 n) space for the outputs of the sources, and for phase and ring modulation.
    """
    kind, ratio, offset, gain = sources.kind, sources.ratio, sources.offset, sources.gain
    dest, level, pitch, shape = sources.dest, sources.level, sources.pitch, sources.shape
    tables, own, row, row2 = cycles.tables, cycles.own, cycles.row, cycles.row2
    phase, phase2 = cycles.phase, cycles.phase2
    copies = phase.shape[1]
    ready, spans, spot, cycle, ready_at = readied.sound, readied.spans, readied.spot, readied.cycle, readied.at
    order, first, source, mode, amount = edges.order, edges.first, edges.source, edges.mode, edges.amount
    moves, shaped, amp = sources.moves, sources.shaped, sources.amp
    n = out.shape[1] // 2
    half = 0.5 * STEP_PER_HZ
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
                if mode[e] == PHASE:
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
                    to = out if dest[s] == STAGES else past
                    heard = dest[s] != NOWHERE and side < channels
                    for i in range(a, b):
                        g = gain[s, c, side] * level[s, i]
                        for j in (2 * i, 2 * i + 1):
                            if cycle[k] > 0.0:
                                p = spot[k, j] + swing[j] * cycle[k] if swung else spot[k, j]
                                v = _read_span(spans[k, side], p)
                            else:
                                v = ready[k, side, j]
                            if rung:
                                v *= ring[j]
                            if side == 0:
                                y[j] = v
                            if heard:
                                to[side, j] += g * v
                if shaped[s] == 1:
                    _shape(y, amp[s], a, b)
                continue
            ph, ph2 = phase[s, c], phase2[s, c]
            r1, r2 = row[s, c], row2[s, c]
            table = own[r1 - OWN] if r1 >= OWN else tables[r1]
            other = own[r2 - OWN] if r2 >= OWN else tables[r2]
            imaginary = own[r1 - OWN + 1] if kind[s] == STRETCHED else table
            imaginary2 = own[r2 - OWN + 1] if kind[s] == STRETCHED else table
            step = np.int64((freq[a] * pitch[s, a] * ratio[s, c] + offset[s]) * half)
            plain = kind[s] == TABLE and r1 == r2 and moves[s] == 0 and not rung
            if plain and swung:
                for j in range(2 * a, 2 * b):
                    y[j] = read_table(table, ph + (np.uint64(np.int64(swing[j] * CYCLE)) << TURN_SHIFT))
                    ph += np.uint64(step)
            elif plain:
                for j in range(2 * a, 2 * b):
                    y[j] = read_table(table, ph)
                    ph += np.uint64(step)
            for i in range(b if plain else a, b):
                if moves[s] == 1:
                    step = np.int64((freq[i] * pitch[s, i] * ratio[s, c] + offset[s]) * half)
                for j in (2 * i, 2 * i + 1):
                    at = ph
                    if swung:
                        at += np.uint64(np.int64(swing[j] * CYCLE)) << TURN_SHIFT
                    if kind[s] == STRETCHED:
                        at2 = ph2
                        if swung:
                            at2 += np.uint64(np.int64(swing[j] * shape[s, i] * CYCLE)) << TURN_SHIFT
                        v = read_stretched(tables, table, imaginary, at, at2)
                        if r1 != r2:
                            v += (read_stretched(tables, other, imaginary2, at, at2) - v) * ((i + 1) / n)
                        ph2 += np.uint64(np.int64(np.float64(step) * shape[s, i]))
                    else:
                        v = read_table(table, at)
                        if kind[s] == PULSE:
                            v -= read_table(table, at - turn_of(shape[s, i]))
                        elif r1 != r2:
                            v += (read_table(other, at) - v) * ((i + 1) / n)
                    if rung:
                        v *= ring[j]
                    y[j] = v
                    ph += np.uint64(step)
            phase[s, c], phase2[s, c] = ph, ph2
            if dest[s] != NOWHERE:
                to = out if dest[s] == STAGES else past
                for side in range(channels):
                    for i in range(a, b):
                        g = gain[s, c, side] * level[s, i]
                        to[side, 2 * i] += g * y[2 * i]
                        to[side, 2 * i + 1] += g * y[2 * i + 1]
            if shaped[s] == 1:
                _shape(y, amp[s], a, b)
