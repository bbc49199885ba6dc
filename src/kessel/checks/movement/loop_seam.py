"""Whether cyclic movers close at the loop seam."""

from __future__ import annotations

import numpy as np

from ...engine import loop_samples, mover_over, samples_per_beat
from ...patch import ControlPath, Curve, Edit, Lfo, Macro, Mover, movers_of, number, write
from ..evidence import Evidence
from ..finding import Finding, Fix, Limits, Where

_LEAST_JUMP = 0.1
"""Share of the mover's whole range."""


def _used(e: Evidence) -> dict[str, list[str]]:
    """Layers by the movers they depend on."""
    found: dict[str, list[str]] = {}
    for layer in e.patch.layers:
        for mover in movers_of(e.patch, layer.id):
            found.setdefault(mover, []).append(layer.id)
    return found


def _turns(e: Evidence, mover: Mover) -> float | None:
    """Cycles of a mover in a pass of the phrase. None if notes or nothing starts it."""
    if isinstance(mover, Macro):
        return e.patch.phrase.bars / mover.bars if mover.drawn and len(mover.points) > 1 else None
    if not isinstance(mover, Lfo | Curve) or not _repeats(mover):
        return None
    if f"movers.{mover.id}" in {ControlPath(m.target).parent for m in e.patch.movements if not m.lost}:
        # a mover changes its length
        return None
    n = loop_samples(e.patch.phrase, e.patch.tempo)
    if mover.clock == "beats":
        return n / (mover.length * samples_per_beat(e.patch.tempo))
    seconds = n / 48000.0
    return seconds * mover.rate if isinstance(mover, Lfo) else seconds * 1000.0 / mover.length_ms


def _repeats(mover: Lfo | Curve) -> bool:
    """Whether it repeats evenly on its own, not started by notes."""
    if mover.restart == "note":
        return False
    return mover.play == "loop" if isinstance(mover, Curve) else not mover.once and "random" not in mover.shape


def _fix(e: Evidence, mover: Mover, turns: float) -> Fix | None:
    whole = max(1, round(turns))
    if isinstance(mover, Macro):
        path = f"movers.{mover.id}.bars"
        value: float = max(b for b in range(1, 17) if e.patch.phrase.bars % b == 0 and b <= e.patch.phrase.bars)
        return Fix(f"Draw it over {write(value, 'bars')}", (Edit(path, int(value)),), 0.0)
    assert isinstance(mover, Lfo | Curve)
    name = "length" if mover.clock == "beats" else "rate" if isinstance(mover, Lfo) else "length_ms"
    path = f"movers.{mover.id}.{name}"
    control = number(e.patch, path)
    present = float(getattr(mover, name))
    value = present * (whole / turns if name == "rate" else turns / whole)
    if not control.low <= value <= control.high:
        return None
    return Fix(f"{control.name} to {control.write(value)}", (Edit(path, round(value, 9)),), 0.0)


def loop_jump(e: Evidence, limits: Limits) -> list[Finding]:
    """LFOs, looped curves and automation whose length does not divide the loop."""
    found = []
    for mover_id, layers in _used(e).items():
        mover = next(m for m in e.patch.movers if m.id == mover_id)
        turns = _turns(e, mover)
        if turns is None or abs(turns - round(turns)) < 1e-3 * max(1.0, turns):
            continue
        n = loop_samples(e.patch.phrase, e.patch.tempo)
        free = not isinstance(mover, Macro) and getattr(mover, "restart", "") == "free"
        ends = mover_over(mover, np.array([0, n - 1]), e.patch)
        jump = abs(float(ends[1] - ends[0]))
        if not free and jump < _LEAST_JUMP:
            continue
        fix = _fix(e, mover, turns)
        many = f"{turns:.2f}".rstrip("0").rstrip(".")
        text = f"It runs {many} times per loop" + (
            ", so every pass differs" if free else f" and jumps by {100 * jump:.0f} % where the loop restarts"
        )
        found.append(
            Finding(
                check="loop-jump",
                verdict="look",
                title=f"{mover.name} is not in sync with the loop",
                text=text,
                value=100.0 * jump,
                unit="%",
                limit=100.0 * _LEAST_JUMP,
                limit_text="a whole number of cycles per loop",
                where=Where(tuple(layers), path=f"movers.{mover_id}"),
                fixes=(fix,) if fix else (),
            )
        )
    return found


__all__ = ["loop_jump"]
