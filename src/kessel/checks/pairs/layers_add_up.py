"""Whether two sounds that share the lows add up or cancel."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial

from ...patch import note_name, write
from ..evidence import Evidence
from ..finding import Candidate, Finding, Fix, Limits, Verdict, Where
from ..phase_turn import turned_text
from .align import align_fixes
from .pairs import LEAST_DB, LayerPair, onset_loss, pairs_of, same_pair
from .splits import parted
from .tuning import untuned


def _text(pair: LayerPair, limits: Limits) -> str:
    worst = pair.worst
    at = write(worst.hz, "Hz")
    if pair.beat_hz is not None:
        return f"{pair.beat_hz:.2g} times a second at {at}, from {write(worst.low, 'dB')} to {write(worst.high, 'dB')}"
    if pair.apart:
        return f"{write(worst.sum_loss, 'dB')} on average at {at}; their phase drifts"
    if not pair.blamed and worst.sum_loss < limits.sum_loss_db:
        return f"{write(worst.sum_loss, 'dB')} at {at}, of which the sum loses less than {write(LEAST_DB, 'dB')}"
    slow = f"; they beat {worst.beat_hz:.2g} times a second" if worst.turns else ""
    return f"{write(worst.sum_loss, 'dB')} at {at}, worst note {note_name(worst.note.pitch)}{slow}"


_AT_THE_BOTTOM = 10.0 ** (-12.0 / 20.0)


def pair_verdict(pair: LayerPair, limits: Limits) -> Verdict:
    """Pairs without a fixed phase are judged as beats. Sources that cost more colour than lows are worth a look."""
    worst = pair.worst
    if pair.apart or not pair.blamed or worst.sum_loss >= limits.sum_loss_db:
        return "holds"
    bottom = worst.hz <= limits.low_hz and worst.share >= _AT_THE_BOTTOM
    return "look" if pair.sources and not bottom else "fails"


def _fixes(e: Evidence, pair: LayerPair, limits: Limits) -> tuple[Fix, ...]:
    """Detune taken away, alignment if they keep a fixed phase, and separation if that is not enough."""
    limit = limits.sum_loss_db

    def left(x: Evidence) -> float | None:
        found = same_pair(x, pair)
        if found is None:
            return None
        # a pair that stops keeping step would be judged as a beat
        if found.apart:
            return -math.inf
        return found.lasting_loss if found.blamed else max(found.lasting_loss, limit)

    def holds(loss: float) -> bool:
        return loss >= limit

    tuned = e.full_cure(_tuned(e, pair), left, holds) if pair.worst.turns else ()
    aligned = align_fixes(e, pair, limits)
    if tuned or any(f.after is not None and f.after >= limit for f in aligned):
        return (*tuned, *aligned)
    apart = () if pair.sources else parted(e, set(pair.layers), pair.worst.hz, max(n.hz for n in pair.notes))
    return (*e.full_cure(apart, left, holds), *aligned)


def _tuned(e: Evidence, pair: LayerPair) -> Iterator[Candidate]:
    """What takes either side off its pitch, taken away."""
    sides = [(pair.turned, s) for s in pair.sources]
    sides = sides or [(x, s) for x in (pair.turned, *pair.first) for s in e.pitched_sources(x)]
    found = [option for layer, source in sides for option in untuned(e.patch, layer, source)]
    yield from found
    if len(found) > 1:
        yield f"Tune {pair.title} to the note", tuple(edit for _, edits in found for edit in edits)


def layers_add_up(e: Evidence, limits: Limits) -> list[Finding]:
    """One finding per pair. A pair that fails offers a start phase, a polarity or a delay, rendered and measured."""
    found: list[Finding] = []
    for pair in pairs_of(e):
        worst = pair.worst
        verdict = pair_verdict(pair, limits)
        name = note_name(worst.note.pitch)
        if pair.apart:
            title = f"{pair.title} {'beat' if pair.beat_hz is not None else 'drift in phase'}"
        else:
            does = "add up" if verdict == "holds" else "beat slowly" if worst.turns else "cancel"
            title = f"{pair.title} {does}"
        fixes: tuple[Fix, ...] = ()
        text = _text(pair, limits)
        if verdict != "holds":
            turned = "" if pair.sources else turned_text((pair.turned, *pair.first), worst.hz)
            text += f"; {turned}" if turned else ""
            fixes = e.sought(partial(_fixes, e, pair, limits))
        path = f"layers.{pair.turned.id}.sources.{pair.sources[0].id}.phase" if pair.sources else None
        found.append(
            Finding(
                check="layers-add-up",
                verdict=verdict,
                title=title,
                text=text,
                value=worst.sum_loss,
                unit="dB",
                limit=limits.sum_loss_db,
                limit_text="judged as beats" if pair.apart else f"{write(limits.sum_loss_db, 'dB')}",
                limit_name="" if pair.apart else "sum_loss_db",
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
