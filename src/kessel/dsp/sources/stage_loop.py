"""Filters whose output modulates the sources before them, sample by sample."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..filters.allpass import allpass_step
from ..filters.blended_svf import blended_step, driven_step, one_pole_step
from ..filters.comb import LINE, comb_step
from ..filters.formants import FORMANTS, formant_step
from ..filters.ladder import ladder_step
from ..filters.svf import flush_denormals, prewarp
from ..jit import F1, F2, F3, I2, inline, portion

THROUGH, SHAPED, LADDER, COMB, VOWEL, ALLPASS, BOTH = range(7)
"""What a stage of the loop is. THROUGH passes the sound. BOTH blends two stages before it, by its first curve."""
TRIM = 3 * FORMANTS + 2
CURVES = TRIM + 1
"""Rows of a stage's curves: those of its filter in the order of its record, and its gain."""
KIND, SIZE, SOURCE, OTHER = range(4)
"""What is told of a stage: what it is, its poles or passes, the stage it comes after, and the second one of BOTH."""
HEARD, WRITTEN, STATE = 12, 14, 15
"""Columns of a stage's state: up to 12 of its filter, its last two samples in mono, and its place in its delay line."""
LOUDEST = 16.0
"""Bound of what a stage sends back: 24 dB above full scale."""


class LoopArrays(NamedTuple):
    """A loop of sources that modulate each other, and of the stages that modulate them, in order.

    memory: (copies, sources, 3), each source's present output and the two before. x: (channels, n), the sources at the
    base rate. plan: (stages, 4); a stage -1 is the sources. curves: (CURVES stages, n). sound: (2 stages, n), both
    sides of what leaves each. state: (2 stages, STATE); what both sides share is in the first row. line: (2 stages,
    LINE), delay lines of combs. down: half-band state. sincs, prewarp: tables.
    """

    memory: F3
    x: F2
    plan: I2
    curves: F2
    sound: F2
    state: F2
    line: F2
    down: F1
    sincs: F2
    prewarp: F1


@inline
def heard_at(state: Any, k: Any, sub: Any) -> Any:
    """What stage k sends back, at the first or second of two samples at twice the rate.

    The last two samples are joined by a line, so it comes one and a half samples late.
    """
    now = state[2 * k, HEARD]
    return now if sub == 1 else 0.5 * (now + state[2 * k, HEARD + 1])


@inline
def stage_step(
    v: Any, i: Any, k: Any, r: Any, plan: Any, curves: Any, state: Any, line: Any, sincs: Any, table: Any
) -> Any:
    """Sample i of one side through stage k, whose state is in row r."""
    kind, size, c = plan[k, KIND], plan[k, SIZE], k * CURVES
    y, mix = v, 0.0
    if kind == SHAPED:
        u, state[r, 4] = driven_step(v, curves[c + 6, i], curves[c + 7, i], curves[c + 8, i], state[r, 4])
        g = prewarp(table, curves[c, i])
        low, band, high = curves[c + 3, i], curves[c + 4, i], curves[c + 5, i]
        if size == 1:
            u, state[r, 0] = one_pole_step(u, g, low, high, state[r, 0])
        else:
            u, state[r, 0], state[r, 1] = blended_step(
                u, g, curves[c + 1, i], low, band, high, state[r, 0], state[r, 1]
            )
            if size == 4:
                u, state[r, 2], state[r, 3] = blended_step(
                    u, g, curves[c + 2, i], low, band, high, state[r, 2], state[r, 3]
                )
        y, mix = u, curves[c + 9, i]
    elif kind == LADDER:
        g = prewarp(table, curves[c, i])
        y, s1, s2, s3, s4 = ladder_step(
            v, g, curves[c + 1, i], curves[c + 2, i], curves[c + 3, i],
            state[r, 0], state[r, 1], state[r, 2], state[r, 3],
        )  # fmt: skip
        state[r, 0], state[r, 1], state[r, 2], state[r, 3] = s1, s2, s3, s4
        y *= curves[c + 4, i]
        mix = curves[c + 5, i]
    elif kind == COMB:
        at = int(state[2 * k, WRITTEN])
        y, state[r, 0] = comb_step(v, curves[c, i], curves[c + 1, i], curves[c + 2, i], line, r, at, state[r, 0], sincs)
        y *= curves[c + 3, i]
        mix = curves[c + 4, i]
    elif kind == VOWEL:
        y, turn = 0.0, curves[c + 3 * FORMANTS, i]
        for j in range(FORMANTS):
            g = prewarp(table, curves[c + j, i])
            damping, level = curves[c + FORMANTS + j, i], curves[c + 2 * FORMANTS + j, i]
            y += turn * level * formant_step(v, g, damping, state, r, j)
            turn = -turn
        mix = curves[c + 3 * FORMANTS + 1, i]
    elif kind == ALLPASS:
        y = allpass_step(v, prewarp(table, curves[c, i]), size, curves[c + 1, i], state, r)
        mix = curves[c + 2, i]
    return (v + mix * (y - v)) * curves[c + TRIM, i]


@inline
def loop_stages(
    i: Any, x: Any, plan: Any, curves: Any, sound: Any, state: Any, line: Any, sincs: Any, table: Any
) -> Any:
    """Pass sample i of the sources at the base rate through the stages."""
    channels = x.shape[0]
    for k in range(plan.shape[0]):
        source, other = plan[k, SOURCE], plan[k, OTHER]
        mono = 0.0
        for side in range(channels):
            v = x[side, i] if source < 0 else sound[2 * source + side, i]
            if plan[k, KIND] == BOTH:
                w = x[side, i] if other < 0 else sound[2 * other + side, i]
                v += curves[k * CURVES, i] * (w - v)
            else:
                v = stage_step(v, i, k, 2 * k + side, plan, curves, state, line, sincs, table)
            sound[2 * k + side, i] = v
            mono += v
        state[2 * k, WRITTEN] = (state[2 * k, WRITTEN] + 1.0) % LINE
        state[2 * k, HEARD + 1] = state[2 * k, HEARD]
        state[2 * k, HEARD] = min(max(mono / channels, -LOUDEST), LOUDEST)


@portion
def flush_states(state: Any) -> None:
    """Clear the denormals in what the stages remember, once a quantum."""
    for r in range(state.shape[0]):
        for j in range(HEARD):
            state[r, j] = flush_denormals(state[r, j])
