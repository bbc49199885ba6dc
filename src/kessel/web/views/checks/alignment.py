"""How pairs add up, note by note: vectors, bars, coherence, and the result of aligning."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from ....checks import details
from ....checks.pairs import AlignPlan, LayerPair, NoteSum, turned_by
from ....patch import ControlPath, Patch, get, note_name, write
from ..controls import View, control_view
from ..svg import across, broken_line
from .look import CheckContext, db

DEEPEST = -12.0
_MOST = 14
"""Most notes that are drawn; the worst come first."""


@dataclass(frozen=True)
class PairChoice:
    """A pair that can be selected."""

    key: str
    title: str
    loss: str
    verdict: str
    hatches: tuple[str, str]
    on: bool


@dataclass(frozen=True)
class Dial:
    """A note's vectors in a circle of radius 40 around 50: one side from the centre, the other from its end.

    best: length of a perfect sum. spot: the note's id.
    """

    spot: str
    name: str
    a: tuple[float, float]
    end: tuple[float, float]
    best: float
    loss: str
    words: str
    fails: bool


@dataclass(frozen=True)
class NoteBar:
    """A note's sum loss as a bar from the top, in per cent of the height; onset and after, if they are known."""

    x: float
    width: float
    height: float
    onset: float | None
    after: float | None
    name: str
    text: str
    fails: bool


@dataclass(frozen=True)
class AlignmentView:
    """The selected pair, and all pairs."""

    choices: tuple[PairChoice, ...]
    key: str
    title: str
    words: tuple[str, ...]
    dials: tuple[Dial, ...]
    bars: tuple[NoteBar, ...]
    limit: float
    left_out: int
    coherence: str
    overlap: tuple[float, float] | None
    controls: tuple[View, ...]
    plan: str
    missed: str
    planned: bool
    applies: bool
    all_plan: bool


def vectors(n: NoteSum, further: float = 0.0) -> tuple[tuple[float, float], tuple[float, float]]:
    """The ends of a note's first vector and of its sum, with the second rotated by so many degrees more."""
    whole = max(n.a + n.b, 1e-9)
    turn = math.radians(n.phase + further)
    a = (50.0 + 40.0 * n.a / whole, 50.0)
    end = (a[0] + 40.0 * n.b / whole * math.cos(turn), a[1] - 40.0 * n.b / whole * math.sin(turn))
    return a, end


def _dial(d: details.PairDetail, i: int) -> Dial:
    n = d.pair.notes[i]
    a, end = vectors(n)
    return Dial(
        n.note.id,
        f"{note_name(n.note.pitch)}",
        (round(a[0], 2), a[1]),
        (round(end[0], 2), round(end[1], 2)),
        40.0,
        db(n.sum_loss),
        d.words[i],
        n.sum_loss < d.limit,
    )


def _height(loss: float) -> float:
    return round(100.0 * min(max(loss / DEEPEST, 0.0), 1.0), 2)


def _bars(d: details.PairDetail, shown: list[int], plan: AlignPlan | None) -> tuple[NoteBar, ...]:
    after: dict[tuple[str, float], float] = {}
    if plan is not None:
        after = {(name, beat): x for name, beat, _, x in plan.rows.get(d.pair.title, ()) if x is not None}
    found = []
    wide = 100.0 / max(len(shown), 1)
    for place, i in enumerate(shown):
        n = d.pair.notes[i]
        name = note_name(n.note.pitch)
        then = after.get((name, n.note.beat)) if plan is not None and plan.edits else None
        onset = d.onsets[i]
        text = f"{name} at beat {n.note.beat + 1:g}: {write(n.sum_loss, 'dB')} at {write(n.hz, 'Hz')}"
        if onset is not None:
            text += f", {write(onset, 'dB')} in its first 80 ms"
        if then is not None:
            text += f"; aligned {write(then, 'dB')}"
        found.append(
            NoteBar(
                round(place * wide, 3),
                round(wide, 3),
                _height(n.sum_loss),
                None if onset is None else _height(onset),
                None if then is None else _height(then),
                name,
                text,
                n.sum_loss < d.limit,
            )
        )
    return tuple(found)


def _hatches(look: CheckContext, d: details.PairDetail) -> tuple[str, str]:
    other = d.pair.first[0].hatch if d.pair.kind == "layers" else d.pair.turned.hatch if d.pair.sources else ""
    return d.pair.turned.hatch, other


def alignment_view(look: CheckContext) -> AlignmentView:
    """The selected pair, or the worst."""
    found: tuple[details.PairDetail, ...] = look.find("pairs") or ()
    asked = look.asked.pick
    chosen = next((d for d in found if d.pair.key == asked), found[0] if found else None)
    choices = tuple(
        PairChoice(d.pair.key, d.pair.title, db(d.pair.worst.sum_loss), d.verdict, _hatches(look, d), d is chosen)
        for d in found
    )
    if chosen is None:
        return AlignmentView(choices, "", "", (), (), (), 0.0, 0, "", None, (), "", "", False, False, False)
    pair = chosen.pair
    shown = _worst(pair)
    whole = look.asked.spot == "all"
    plan: AlignPlan | None = None
    if look.asked.spot in ("plan", "all"):
        plan = look.find("align", key=None if whole else pair.key)
    coherent = np.where(np.isfinite(chosen.coherence), 100.0 - 92.0 * chosen.coherence, np.nan)
    x = np.array([10.0 * across(float(hz)) for hz in details.COHERENCE_HZ])
    loud = [n.hz for n in pair.notes]
    return AlignmentView(
        choices=choices,
        key=pair.key,
        title=pair.title,
        words=_words(chosen),
        dials=tuple(_dial(chosen, i) for i in shown),
        bars=_bars(chosen, shown, plan),
        limit=_height(chosen.limit),
        left_out=len(pair.notes) - len(shown),
        coherence=broken_line(x, coherent),
        overlap=(across(min(loud)), round(across(2.0 * max(loud)) - across(min(loud)), 2)),
        controls=_controls(look, pair),
        **_planned(plan),
        all_plan=whole,
    )


def _planned(plan: AlignPlan | None) -> dict[str, Any]:
    """The fields of the view that say what aligning would do."""
    if plan is None:
        return {"plan": "", "missed": "", "planned": False, "applies": False}
    label = plan.label if plan.edits else ""
    return {"plan": label, "missed": " and ".join(plan.missed), "planned": True, "applies": bool(plan.edits)}


def _worst(pair: LayerPair) -> list[int]:
    """The notes with the largest losses, in the order in which they are played."""
    worst = sorted(range(len(pair.notes)), key=lambda i: pair.notes[i].sum_loss)[:_MOST]
    return sorted(worst, key=lambda i: pair.notes[i].note.beat)


def _controls(look: CheckContext, pair: LayerPair) -> tuple[View, ...]:
    """The controls that turn the one side of a pair. None if its layer is gone."""
    if pair.turned.id not in {layer.id for layer in look.patch.layers}:
        return ()
    place = f"layers.{pair.turned.id}"
    if pair.sources:
        paths = [f"{place}.sources.{pair.sources[0].id}.{n}" for n in ("phase", "polarity")]
    else:
        own = [s for s in pair.turned.sources if s.kind == "oscillator"]
        paths = [f"{place}.delay", f"{place}.polarity", *(f"{place}.sources.{s.id}.phase" for s in own[:1])]
    return tuple(control_view(look.patch, p) for p in paths)


def _words(d: details.PairDetail) -> tuple[str, ...]:
    pair, worst = d.pair, d.pair.worst
    lost = f"{write(abs(worst.sum_loss), 'dB')} lost at {write(worst.hz, 'Hz')}"
    if pair.beat_hz is not None:
        lost = f"from {write(worst.low, 'dB')} to {write(worst.high, 'dB')}, {write(worst.sum_loss, 'dB')} on average"
    place = f"{d.words[pair.notes.index(worst)]} at {note_name(worst.note.pitch)}"
    return place, lost, f"coherence {pair.coherence:.2f}"


def foreseen(patch: Patch, new: Patch, d: details.PairDetail, path: str) -> list[dict[str, object]]:
    """Every note's vectors with a control of the turned side as in ``new``. None if that can't be predicted."""
    was, now = get(patch, path), get(new, path)
    pair = d.pair
    steps = ControlPath(path).steps
    if steps[:2] != ("layers", pair.turned.id):
        return []
    if steps[-1] not in ("delay", "polarity", "phase"):
        return []
    if steps[-1] == "phase" and not pair.sources and len(pair.turned.sources) > 1:
        return []

    def turn(n: NoteSum) -> float:
        if steps[-1] == "delay":
            return float(-0.36 * n.hz * (now - was))
        if steps[-1] == "polarity":
            return 180.0 if now != was else 0.0
        return float((now - was) * n.hz * pair.ratio / (n.base_hz * pair.own_ratio))

    return [
        {
            "note": n.note.id,
            "end": [round(x, 2) for x in vectors(n, turn(n))[1]],
            "loss": db(loss),
            "fails": loss < d.limit,
        }
        for n, loss in turned_by(pair, turn)
    ]
