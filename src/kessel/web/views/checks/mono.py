"""Mono loss along the frequency axis, in time, and by layer and stage."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ....checks import Limits
from ....checks.lows import MonoDetail, Third
from ....patch import write
from ...pictures import content_of
from ..layers import FrequencyHandle
from ..svg import across, broken_line
from .look import CheckContext, db, signed

DEEPEST = -9.0


@dataclass(frozen=True)
class ThirdOctaveBar:
    """A third octave: its position, the length of its bar in per cent, and its figures."""

    x: float
    width: float
    height: float
    text: str
    fails: bool


@dataclass(frozen=True)
class MonoCause:
    """A layer or stage: its own loss in the lows and in all, and its share of the total, in per cent."""

    name: str
    hatch: str
    low: str
    whole: str
    share: float | None


@dataclass(frozen=True)
class MonoView:
    """The mono loss and its causes."""

    bars: tuple[ThirdOctaveBar, ...]
    correlation: str
    in_time: str
    beats: float
    whole: str
    low: str
    side_low: str
    limit: float
    causes: tuple[MonoCause, ...]
    stages: tuple[MonoCause, ...]
    fold: FrequencyHandle | None
    folds: bool
    content: str
    lowest: str
    negative: str


def _height(loss: float | None) -> float:
    return 0.0 if loss is None else round(100.0 * min(max(loss / DEEPEST, 0.0), 1.0), 2)


def _bar(t: Third, limits: Limits) -> ThirdOctaveBar:
    limit = limits.low_mono_loss_db if t.high <= limits.low_hz * 1.1 else limits.mono_loss_db
    loss = t.loss or 0.0
    text = f"{write(t.hz, 'Hz')}: mono loss {write(loss, 'dB')}"
    if t.correlation is not None:
        text += f", correlation {t.correlation:.2f}"
    x = across(t.low)
    return ThirdOctaveBar(x, round(across(t.high) - x - 0.25, 3), _height(loss), text, loss < limit)


def mono_view(look: CheckContext) -> MonoView | None:
    """The mono loss of the output."""
    d: MonoDetail | None = look.find("mono")
    if d is None:
        return None
    patch, limits = look.patch, look.limits
    at = np.array([10.0 * across(t.hz) for t in d.thirds])
    corr = np.array([np.nan if t.correlation is None else 50.0 - 46.0 * t.correlation for t in d.thirds])
    frames = np.where(np.isfinite(d.correlation), 50.0 - 46.0 * d.correlation, np.nan)
    hatches = {f"layers.{x.id}": x.hatch for x in patch.layers}
    causes = tuple(
        MonoCause(b.name, hatches.get(b.path, ""), db(b.low), db(b.whole), round(100.0 * b.low_share, 1))
        for b in d.layers
    )
    stages = tuple(MonoCause(name, "", signed(low), signed(whole), None) for _, name, low, whole in d.changes)
    fold = None
    if patch.output.fold and not patch.output.fold_follows:
        hz = patch.output.mono_below
        fold = FrequencyHandle("output.mono_below", "Mono below", write(hz, "Hz"), across(hz), "mono")
    heard = d.correlation[np.isfinite(d.correlation)]
    return MonoView(
        bars=tuple(_bar(t, limits) for t in d.thirds if t.level is not None),
        correlation=broken_line(at, corr),
        in_time=broken_line(np.linspace(0.0, 1000.0, max(frames.size, 2))[: frames.size], frames),
        beats=patch.phrase.beats,
        whole=db(d.whole),
        low=db(d.low),
        side_low=db(d.side_low_db, empty="none"),
        limit=_height(limits.low_mono_loss_db),
        causes=causes,
        stages=stages,
        fold=fold,
        folds=patch.output.fold,
        content=content_of(patch),
        lowest=f"{heard.min():.2f}".replace("-", "−") if heard.size else "–",
        negative=f"{100.0 * float((heard < 0).mean()):.0f} %" if heard.size else "–",
    )
