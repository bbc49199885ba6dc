"""What the mono lows of a club cost."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from ...engine import RATE
from ...measure import Band, Spectrum
from ...patch import Edit, Layer, Oscillator, write
from ..evidence import Evidence
from ..finding import Candidate, Finding, Fix, Limits, Where
from ..pairs import above_the_lows
from ..sounding import ratio_of

_EDGES = (120.0, 140.0, 160.0, 200.0, 250.0)
_FROM = 20.0


def _side_by_layer(e: Evidence, high: float) -> list[tuple[str, float]]:
    """Side power of each layer below ``high``, largest first."""
    found = []
    for layer in e.patch.layers:
        if layer.mute:
            continue
        s = e.spectrum(layer.id)
        found.append((layer.id, s.power(_FROM, high) - s.power(_FROM, high, "mid")))
    return sorted(found, key=lambda p: -p[1])


def folded_loss(e: Evidence, edge: float, high: float) -> float:
    """Mono loss below ``high`` in dB if the side passed a 24 dB high-pass at ``edge``."""
    s = e.sum.spectrum
    hz = s.hz
    inside = (hz >= _FROM) & (hz <= high)
    mid = s.mid[inside]
    side = 0.5 * (s.left + s.right)[inside] - mid
    # Linkwitz-Riley: |H|^2 = (x^4 / (1 + x^4))^2, warped as the bilinear transform does
    x = np.tan(np.pi * hz[inside] / RATE) / math.tan(math.pi * edge / RATE)
    kept = np.square(x**4 / (1.0 + x**4))
    whole = float((mid + kept * side).sum())
    return 10.0 * math.log10(max(float(mid.sum()), 1e-12 * whole) / whole) if whole > 0 else 0.0


def _fixes(e: Evidence, limits: Limits, layer_id: str | None) -> tuple[Fix, ...]:
    fixes: list[Fix] = []
    output = e.patch.output
    lowest = output.mono_below if output.fold else 0.0
    wanted = [edge for edge in _EDGES if edge > lowest and edge >= limits.low_hz]
    edge = next((x for x in wanted if folded_loss(e, x, limits.low_hz) >= limits.low_mono_loss_db + 0.1), None)
    if edge is not None:
        edits: tuple[Edit, ...] = (Edit("output.fold", True), Edit("output.mono_below", edge))
        after = _loss(e.with_edits(edits), limits)
        fixes.append(Fix(f"Fold the output to mono below {write(edge, 'Hz')}", edits, after))
    if layer_id is not None:
        layer = e.patch.layer(layer_id)
        fixes += e.full_cure(_nearer(layer), lambda x: _loss(x, limits), lambda loss: loss >= limits.low_mono_loss_db)
        if layer.width > 0:
            edits = (Edit(f"layers.{layer_id}.width", 0.0),)
            fixes.append(Fix(f"Narrow {layer.name} to mono", edits, _loss(e.with_edits(edits), limits)))
        fixes += e.full_cure(
            above_the_lows(e.patch, layer_id, limits),
            lambda x: _loss(x, limits),
            lambda loss: loss >= limits.low_mono_loss_db,
        )
    return tuple(fixes)


def _nearer(layer: Layer) -> Iterator[Candidate]:
    """Candidates that keep the lows: copies nearer to the middle, and sources that are taken out of the unison."""
    own = f"layers.{layer.id}"
    if layer.unison.copies < 2:
        return
    in_unison = [s for s in layer.sources if isinstance(s, Oscillator) and s.unison]
    if len(in_unison) > 1:
        lowest = min(in_unison, key=lambda s: ratio_of(layer, s))
        yield (
            f"Take {lowest.name} of {layer.name} out of the unison",
            (Edit(f"{own}.sources.{lowest.id}.unison", False),),
        )
    for share in (0.5, 0.25, 0.0):
        width = round(share * layer.unison.width)
        if width < layer.unison.width:
            yield f"Unison width of {layer.name} to {write(width, '%')}", (Edit(f"{own}.unison.width", float(width)),)


def _loss(e: Evidence, limits: Limits) -> float | None:
    """Mono loss of the lows alone."""
    return Spectrum.of(e.loop.sum, wrap=True).mono_loss(_FROM, limits.low_hz)


def lows_in_mono(e: Evidence, limits: Limits) -> list[Finding]:
    """Mono loss of the sum below the limit's edge, with the layer that brings most of it."""
    s = e.sum.spectrum
    high = limits.low_hz
    if s.level(_FROM, high) is None:
        return []
    loss = s.mono_loss(_FROM, high)
    value = -72.0 if loss is None else loss
    fails = value < limits.low_mono_loss_db
    sides = _side_by_layer(e, high) if fails else []
    layer = e.patch.layer(sides[0][0]) if sides and sides[0][1] > 0 else None
    where = f" on {layer.name}" if layer else ""
    place = f"below {write(high, 'Hz')}"
    return [
        Finding(
            check="lows-in-mono",
            verdict="fails" if fails else "holds",
            title="Mono loses lows" if fails else "Lows survive mono",
            text=f"{write(value, 'dB')} {place}{where}",
            value=value,
            unit="dB",
            limit=limits.low_mono_loss_db,
            limit_text=f"{write(limits.low_mono_loss_db, 'dB')}",
            limit_name="low_mono_loss_db",
            where=Where((layer.id,) if layer else (), low_hz=_FROM, high_hz=high),
            fixes=e.sought(lambda: _fixes(e, limits, layer.id if layer else None)) if fails else (),
            evidence=(("correlation", s.correlation(_FROM, high)),),
            alone=True,
        )
    ]


def mono_loss(e: Evidence, limits: Limits) -> list[Finding]:
    """Mono loss over the whole range: worth a look, never a failure."""
    if e.sum.loudness.integrated is None and e.sum.true_peak_dbtp is None:
        return []
    value = -72.0 if e.sum.mono_loss_db is None else e.sum.mono_loss_db
    held = value >= limits.mono_loss_db
    bands = [b for b in e.sum.bands if b.mono_loss_db is not None and b.level_db is not None and b.level_db > -50]
    worst = min(bands, key=lambda b: b.mono_loss_db or 0.0, default=None)
    return [
        Finding(
            check="mono-loss",
            verdict="holds" if held else "look",
            title="Mono keeps the level" if held else "Mono loses level",
            text=_loss_words(value, worst),
            value=value,
            unit="dB",
            limit=limits.mono_loss_db,
            limit_text=f"{write(limits.mono_loss_db, 'dB')}",
            limit_name="mono_loss_db",
            where=Where(low_hz=worst.low_hz if worst else None, high_hz=worst.high_hz if worst else None),
        )
    ]


def _loss_words(value: float, worst: Band | None) -> str:
    if worst is None or worst.mono_loss_db is None or worst.mono_loss_db >= -0.05:
        return f"{write(value, 'dB')} at all frequencies"
    return f"{write(value, 'dB')} in all, {write(worst.mono_loss_db, 'dB')} in {worst.name}"
