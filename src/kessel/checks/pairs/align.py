"""Alignment: the start phase, polarity or delay that makes two layers add up on their worst note.

An offset of a periodic layer's start phase rotates harmonic h by h times the angle. A delay rotates each partial in
proportion to its frequency. So every choice can be predicted from the measured amplitudes; the best are rendered and
measured before they are offered.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...patch import Edit, Layer, Oscillator, note_name, number, write
from ..evidence import Evidence
from ..finding import Candidate, Fix, Limits
from ..phase_turn import unturned
from ..sounding import ratio_of
from .pairs import LayerPair, pairs_of, same_pair

_Real = NDArray[np.float64]

PHASES = np.arange(0.0, 360.0, 5.0)
DELAYS = 24
_NEAR = 0.3
"""dB: a simpler choice within this of the best is preferred."""


@dataclass(frozen=True)
class AlignmentChoice:
    """Polarity, start phase in degrees of the lowest source, and delay in ms."""

    flip: bool
    phase: float
    delay_ms: float
    foreseen: float


def _foreseen(pair: LayerPair, lowest: float, phases: _Real, delays: _Real) -> _Real:
    """Sum loss of the worst note in dB, (2, phases, delays). The second row has the polarity inverted."""
    worst = np.full((2, phases.size, delays.size), np.inf)
    for note, a, b in zip(pair.notes, pair.a, pair.b, strict=True):
        k = np.arange(1, a.shape[1] + 1)
        hz = note.base_hz * k
        levels = np.sqrt(np.square(np.abs(a)).mean(axis=0)), np.sqrt(np.square(np.abs(b)).mean(axis=0))
        loud = np.flatnonzero(np.all([x > x.max() * 10 ** (-2.5) for x in levels], axis=0))
        a, b, k, hz = a[:, loud], b[:, loud], k[loud], hz[loud]
        turn = np.exp(1j * np.radians(phases)[:, None] * (k * pair.ratio / lowest))
        late = np.exp(-2j * np.pi * delays[:, None] * hz / 1000.0)
        # three sums per partial stand for all frames: |a + t b|^2 = |a|^2 + |b|^2 + 2 Re(t b conj(a))
        own = np.square(np.abs(a)).sum(axis=0) + np.square(np.abs(b)).sum(axis=0)
        cross = (b * np.conj(a)).sum(axis=0)
        apart = np.square(np.abs(a) + np.abs(b)).sum(axis=0)
        turned = 2.0 * np.real(cross * turn[:, None, :] * late[None, :, :])
        for row, sign in enumerate((1.0, -1.0)):
            together = np.maximum(own + sign * turned, 0.0)
            low = together[..., 0] / apart[0]
            over = together.sum(axis=-1) / apart.sum()
            score = 0.8 * np.log10(np.maximum(low, 1e-12)) + 0.2 * np.log10(np.maximum(over, 1e-12))
            worst[row] = np.minimum(worst[row], 10.0 * score)
    return worst


def _best(pair: LayerPair, lowest: float, phases: _Real, delays: _Real, flips: tuple[int, ...]) -> AlignmentChoice:
    worst = _foreseen(pair, lowest, phases, delays)[list(flips)]
    best = worst.max()
    near = np.argwhere(worst >= best - _NEAR)
    turn = np.minimum(phases, 360.0 - phases)
    row, p, d = min(
        near, key=lambda i: (delays[i[2]], flips[i[0]], turn[i[1]] if flips[i[0]] == 0 else 0.0, turn[i[1]])
    )
    return AlignmentChoice(flips[row] == 1, float(phases[p]), float(delays[d]), float(worst[row, p, d]))


def edits_of(pair: LayerPair, choice: AlignmentChoice) -> tuple[Edit, ...]:
    """The choice as edits of the turned layer, or of its one source."""
    edits: list[Edit] = []
    layer = pair.turned
    if choice.flip:
        part, path = layer, f"layers.{layer.id}.polarity"
        if pair.sources:
            part, path = pair.sources[0], f"layers.{layer.id}.sources.{pair.sources[0].id}.polarity"  # type: ignore[assignment]
        edits.append(Edit(path, "normal" if part.polarity == "inverted" else "inverted"))
    if choice.phase:
        for s in pair.sources[:1] or layer.sources:
            if isinstance(s, Oscillator):
                ratio = ratio_of(layer, s) / pair.own_ratio
                phase = round((s.phase + choice.phase * ratio) % 360.0, 1)
                edits.append(Edit(f"layers.{layer.id}.sources.{s.id}.phase", phase))
    if choice.delay_ms:
        edits.append(Edit(f"layers.{layer.id}.delay", round(layer.delay + choice.delay_ms, 2)))
    return tuple(edits)


def restarting(layers: tuple[Layer, ...]) -> tuple[Edit, ...]:
    """Edits that make every oscillator of the layers retrigger on each note."""
    return tuple(
        Edit(f"layers.{layer.id}.sources.{s.id}.start", "retrigger")
        for layer in layers
        for s in layer.sources
        if isinstance(s, Oscillator) and s.start != "retrigger"
    )


def _label(name: str, choice: AlignmentChoice, restart: bool) -> str:
    parts = []
    if restart:
        parts.append("retrigger the oscillators")
    if choice.phase:
        parts.append(f"shift the start phase of {name} by {write(choice.phase, 'deg')}")
    if choice.flip:
        parts.append(f"invert the polarity of {name}")
    if choice.delay_ms:
        parts.append(f"delay {name} by {write(choice.delay_ms, 'ms')}")
    text = ", ".join(parts)
    return text[:1].upper() + text[1:]


def _choices(pair: LayerPair) -> Iterator[AlignmentChoice]:
    lowest = pair.own_ratio
    period = 1000.0 / min(n.hz for n in pair.notes)
    none, delays = np.zeros(1), np.linspace(0.0, 0.5 * period, DELAYS)
    yield _best(pair, lowest, PHASES, none, (0, 1))
    yield _best(pair, lowest, none, none, (1,))
    if pair.sources:
        return
    yield _best(pair, lowest, none, delays, (0,))
    yield _best(pair, lowest, PHASES[::2], delays, (0, 1))


def align_fixes(e: Evidence, pair: LayerPair, limits: Limits) -> tuple[Fix, ...]:
    """Fixes for a pair that cancels, rendered and measured, best first. Only those that help."""
    loose = restarting((pair.turned, *pair.first))
    start = same_pair(e.with_edits(loose), pair) if loose else pair
    if start is None:
        return ()
    tried: list[Fix] = []
    if loose and start.lasting_loss >= limits.sum_loss_db:
        tried.append(Fix("Retrigger the oscillators on every note", loose, start.lasting_loss))
    for label, undo in _undone(pair):
        measured = same_pair(e.with_edits((*loose, *undo)), pair)
        if measured is not None and measured.lasting_loss >= limits.sum_loss_db:
            tried.append(Fix(label, (*loose, *undo), measured.lasting_loss))
    for choice in _worth_trying(e, start):
        edits = (*loose, *edits_of(start, choice))
        measured = same_pair(e.with_edits(edits), pair)
        # turned against each other within a note, they have to add up to its end
        if measured is not None and measured.lasting_loss > pair.lasting_loss + 0.5:
            tried.append(Fix(_label(start.own, choice, bool(loose)), edits, measured.lasting_loss))
    good = [f for f in tried if _after(f) >= limits.sum_loss_db]
    return tuple(good[:4] or sorted(tried, key=_after, reverse=True)[:2])


def _undone(pair: LayerPair) -> Iterator[Candidate]:
    """What holds the two apart, taken away: delays, and items that do nothing but turn the phase."""
    if pair.sources:
        return
    layers = (pair.turned, *pair.first)
    for layer in layers:
        if layer.delay:
            yield f"Delay of {layer.name} to {write(0.0, 'ms')}", (Edit(f"layers.{layer.id}.delay", 0.0),)
    yield from unturned(layers, pair.worst.hz)


def _after(fix: Fix) -> float:
    return -99.0 if fix.after is None else fix.after


def _worth_trying(e: Evidence, start: LayerPair) -> Iterator[AlignmentChoice]:
    """The first choice of every kind that is foreseen to help and within the limit of the delay."""
    longest = number(e.patch, f"layers.{start.turned.id}.delay").high
    kinds: set[tuple[bool, bool, bool]] = set()
    for choice in _choices(start):
        kind = choice.flip, choice.phase != 0.0, choice.delay_ms != 0.0
        fits = start.turned.delay + choice.delay_ms <= longest and choice.foreseen > start.worst.sum_loss
        if kind not in kinds and fits and edits_of(start, choice):
            kinds.add(kind)
            yield choice


@dataclass(frozen=True)
class AlignPlan:
    """The measured result of aligning: edits, and the sum loss of every pair on every note before and after.

    rows: by the pair's title, (note, beat, before, after) in dB. missed: titles of pairs that still fail.
    """

    label: str
    edits: tuple[Edit, ...]
    rows: dict[str, tuple[tuple[str, float, float, float | None], ...]]
    missed: tuple[str, ...]


def plan_align(e: Evidence, limits: Limits, key: str | None = None) -> AlignPlan:
    """Align one pair by its key, or all that keep a fixed phase: worst first, each with those before applied."""
    wanted = [p for p in pairs_of(e) if (key is None or p.key == key) and not p.apart]
    edits, labels, now = _aligned(e, limits, wanted, key is None)
    after = {p.title: _losses(same_pair(now, p) if edits else p) for p in pairs_of(e)}
    rows = {
        p.title: tuple(
            (note_name(n.note.pitch), n.note.beat, n.sum_loss, after[p.title].get(n.note.id)) for n in p.notes
        )
        for p in pairs_of(e)
    }
    missed = [
        p.title for p in pairs_of(e) if p in wanted and min(after[p.title].values(), default=0.0) < limits.sum_loss_db
    ]
    return AlignPlan("; ".join(labels), edits, rows, tuple(missed))


def _aligned(
    e: Evidence, limits: Limits, wanted: list[LayerPair], only_failing: bool
) -> tuple[tuple[Edit, ...], list[str], Evidence]:
    """The best fix of every pair, worst first, each with those before applied.

    Returns the edits, the fixes as text, and the evidence with all of them.
    """
    edits: dict[str, Edit] = {}
    labels: list[str] = []
    now = e
    for pair in sorted(wanted, key=lambda p: p.worst.sum_loss):
        present = same_pair(now, pair)
        if present is None or (present.worst.sum_loss >= limits.sum_loss_db and only_failing):
            continue
        fixes = align_fixes(now, present, limits)
        if not fixes:
            continue
        # the first that is enough, or the best
        best = fixes[0] if _after(fixes[0]) >= limits.sum_loss_db else max(fixes, key=_after)
        edits |= {x.path: x for x in best.edits}
        labels.append(best.label)
        now = e.with_edits(tuple(edits.values()))
    return tuple(edits.values()), labels, now


def _losses(pair: LayerPair | None) -> dict[str, float]:
    """Sum loss by note id. Empty if the pair shares nothing any more."""
    return {} if pair is None else {n.note.id: n.sum_loss for n in pair.notes}
