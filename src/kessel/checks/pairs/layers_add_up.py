"""Whether two sounds that share the lows add up or cancel."""

from __future__ import annotations

import math
from functools import partial

from ...patch import note_name, write
from ..evidence import Evidence
from ..finding import Finding, Fix, Limits, Verdict, Where
from .align import align_fixes
from .pairs import LayerPair, onset_loss, pairs_of, same_pair
from .splits import parted


def limit_of(pair: LayerPair, limits: Limits) -> float:
    """The limit of a pair's sum loss."""
    return limits.sum_loss_apart_db if pair.apart else limits.sum_loss_db


def _text(pair: LayerPair) -> str:
    worst = pair.worst
    name = note_name(worst.note.pitch)
    if pair.beat_hz is not None:
        return (
            f"{write(worst.sum_loss, 'dB')} on average at {write(worst.hz, 'Hz')}; they beat {pair.beat_hz:.2g} times "
            f"a second, from {write(worst.low, 'dB')} to {write(worst.high, 'dB')}"
        )
    if pair.apart:
        return f"{write(worst.sum_loss, 'dB')} on average at {write(worst.hz, 'Hz')}; their phase drifts"
    return f"{write(worst.sum_loss, 'dB')} at {write(worst.hz, 'Hz')}, worst note {name}"


_AT_THE_BOTTOM = 10.0 ** (-12.0 / 20.0)


def _verdict(pair: LayerPair, limits: Limits) -> Verdict:
    """Pairs without a fixed phase, and sources that cost colour more than lows, are worth a look only."""
    worst = pair.worst
    if worst.sum_loss >= limit_of(pair, limits):
        return "holds"
    bottom = worst.hz <= limits.low_hz and worst.share >= _AT_THE_BOTTOM
    return "look" if pair.apart or (pair.sources and not bottom) else "fails"


def _fixes(e: Evidence, pair: LayerPair, limits: Limits) -> tuple[Fix, ...]:
    """Alignment if they keep a fixed phase. If that is not enough, separation."""
    limit = limit_of(pair, limits)
    aligned = () if pair.apart else align_fixes(e, pair, limits)
    if any(f.after is not None and f.after >= limit for f in aligned):
        return aligned

    def left(x: Evidence) -> float | None:
        found = same_pair(x, pair)
        if found is None:
            return None
        # a pair that starts or stops keeping step would be judged by another limit
        return found.worst.sum_loss if found.apart == pair.apart else -math.inf

    return (*e.full_cure(parted(e, pair), left, lambda loss: loss >= limit), *aligned)


def layers_add_up(e: Evidence, limits: Limits) -> list[Finding]:
    """One finding per pair. A pair that fails offers a start phase, a polarity or a delay, rendered and measured."""
    found: list[Finding] = []
    for pair in pairs_of(e):
        worst = pair.worst
        limit = limit_of(pair, limits)
        verdict = _verdict(pair, limits)
        name = note_name(worst.note.pitch)
        if pair.apart:
            title = f"{pair.title} {'beat' if pair.beat_hz is not None else 'drift in phase'}"
        else:
            title = f"{pair.title} {'add up' if verdict == 'holds' else 'cancel'}"
        fixes: tuple[Fix, ...] = ()
        if verdict != "holds":
            fixes = e.sought(partial(_fixes, e, pair, limits))
        path = f"layers.{pair.turned.id}.sources.{pair.sources[0].id}.phase" if pair.sources else None
        found.append(
            Finding(
                check="layers-add-up",
                verdict=verdict,
                title=title,
                text=_text(pair),
                value=worst.sum_loss,
                unit="dB",
                limit=limit,
                limit_text=f"{write(limit, 'dB')}",
                limit_name="sum_loss_apart_db" if pair.apart else "sum_loss_db",
                where=Where(pair.layers, name, worst.note.beat, worst.hz / 1.12, worst.hz * 1.12, path),
                fixes=fixes,
                evidence=(
                    ("phase_deg", worst.phase),
                    ("lag_ms", worst.lag_ms),
                    ("polarity", float(worst.polarity)),
                    ("coherence", pair.coherence),
                    ("beat_hz", pair.beat_hz),
                    ("onset_sum_loss_db", onset_loss(e, pair, worst)),
                    ("sum_loss_overlap_db", min(n.overlap_loss for n in pair.notes)),
                    *((f"{note_name(n.note.pitch)} at beat {n.note.beat + 1:g}", n.sum_loss) for n in pair.notes),
                ),
            )
        )
    return found
