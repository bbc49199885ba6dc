"""The other tabs of the editor: stages, level, voices, place, chains, movers, output."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ...desk import CHAIN_KINDS, PARTS, STAGE_KINDS
from ...dsp.vowel import VOWELS
from ...engine import envelope_curve, response_of, transfer_of
from ...patch import HATCHES, ChainItem, Comb, Distortion, Eq, Filter, Layer, Vowel, partners, write
from .controls import with_ends
from .mover_panel import envelope_fields
from .panel import Act, ActPick, Chart, Drawing, Look, Panel, adders, chips, chosen, fields, keeping
from .svg import curve, polyline


def _item_drawing(part: ChainItem) -> Drawing:
    hz = 20.0 * 1000.0 ** np.linspace(0.0, 1.0, 180)
    response = response_of(part, hz)
    if response is not None:
        low, high = (-18.0, 18.0) if isinstance(part, Eq) else (-48.0, 24.0)
        return Drawing(
            part.name,
            f"{low:.0f} to {high:+.0f} dB, 20 Hz to 20 kHz".replace("-", "−"),
            (curve(response, low, high),),
        )
    found = transfer_of(part)
    assert found is not None
    return Drawing(part.name, "in across, out up", (curve(np.clip(found[1], -1, 1), -1.05, 1.05),))


def _item_paths(part: ChainItem, own: str, unseen: tuple[str, ...] = ()) -> list[str]:
    if isinstance(part, Eq):
        paths = [f"{own}.{f}" for f in fields(part)]
        for band in part.bands:
            but = ("gain",) if band.type in ("low-cut", "high-cut", "notch") else ()
            paths += [f"{own}.bands.{band.id}.{f}" for f in fields(band, but=but)]
        return paths
    return [f"{own}.{f}" for f in fields(part, but=unseen)]


def _unseen(part: ChainItem, layer: Layer | None) -> tuple[str, ...]:
    """Controls that do nothing as the part stands."""
    found: tuple[str, ...] = () if layer is not None and layer.branches.way == "branches" else ("branch",)
    if isinstance(part, Filter):
        found += () if part.type == "morph" else ("morph",)
        found += ("resonance",) if part.slope == "6" and part.type in ("low-pass", "high-pass") else ()
    if isinstance(part, Distortion):
        found += ("bias",) if part.curve == "crush" else ("bits", "rate")
    if isinstance(part, Comb):
        found += ("cutoff", "key_follow") if part.tuned == "note" else ("interval",)
    return found


def _chart(part: Vowel, own: str, look: Look) -> Chart:
    """The chart of mouth and tongue, with the way the moved ones went."""
    words = tuple((100.0 * v.tongue, 100.0 * v.opening, v.word) for v in VOWELS)
    line = ""
    paths = look.picture.paths if look.picture is not None else {}
    ways = [paths.get(f"{own}.{n}") for n in ("tongue", "opening")]
    if any(w is not None for w in ways):
        count = next(w.size for w in ways if w is not None)
        x, y = (np.full(count, v) if w is None else w for w, v in zip(ways, (part.tongue, part.opening), strict=True))
        there = np.isfinite(x) & np.isfinite(y)
        step = max(1, int(there.sum()) // 400)
        if there.sum() > 1:
            line = polyline(x[there][::step], y[there][::step])
    return Chart(f"{own}.opening", f"{own}.tongue", part.tongue, part.opening, words, line, part.name, f"{own}.name")


def _items(look: Look, base: str, parts: list[ChainItem], kept_as: str, *kinds: str) -> Panel:
    part = chosen(parts, look.item)
    panel = Panel(chips(list(parts), base, part), adders(base, *kinds))
    if base.endswith(".stages") and look.layer.branches.way == "branches":
        panel.chips = [replace(c, mark=getattr(p, "branch", "")) for c, p in zip(panel.chips, parts, strict=True)]
    if part is None:
        panel.empty = "Nothing here yet: add a part and the sound goes through it."
        return panel
    panel.drawing = _item_drawing(part)
    peak = look.picture.stages.get(f"{base}.{part.id}") if look.picture is not None else None
    if peak is not None:
        panel.drawing = replace(panel.drawing, caption=f"peak {write(peak, 'dB')}FS behind it")
    layer = look.layer if kept_as == "stages" else None
    panel.views = with_ends(look.patch, _item_paths(part, f"{base}.{part.id}", _unseen(part, layer)), look.picture)
    if isinstance(part, Vowel):
        # its response stands on the layer's stratum; here is the chart
        panel.chart, panel.drawing = _chart(part, f"{base}.{part.id}", look), None
    panel.name_path = f"{base}.{part.id}.name"
    if kept_as:
        panel.acts = keeping(kept_as, base)
    if not isinstance(part, Eq):
        others = tuple((k, PARTS[k][0]) for k in STAGE_KINDS if k != part.kind)
        panel.picks = [ActPick("turn-into", {"path": f"{base}.{part.id}"}, "kind", "Turn into", others)]
    if isinstance(part, Eq):
        panel.adders += adders(f"{base}.{part.id}.bands", "band")
        panel.removable = [
            (f"{base}.{part.id}.bands.{b.id}", f"{b.type} {write(b.frequency, 'Hz')}") for b in part.bands
        ]
    return panel


def _in_step(look: Look, panel: Panel) -> Panel:
    """The panel with the layers that follow what is turned in it."""
    names = [look.patch.layer(i).name for i in partners(look.patch, look.layer.id)]
    if names:
        others = " and ".join(names)
        tip = f"Turned together with {others} now; from then on {look.layer.name} goes its own way"
        panel.acts.append(Act("out-of-step", {"layer": look.layer.id}, f"In step with {others}: let go", tip))
    return panel


def stages_panel(look: Look) -> Panel:
    """Voice stages."""
    base = f"layers.{look.layer.id}.stages"
    panel = _items(look, base, list(look.layer.stages), "stages", *STAGE_KINDS)
    if len(look.layer.stages) > 1:
        own = f"layers.{look.layer.id}.branches"
        paths = [f"{own}.way"] + ([f"{own}.mix"] if look.layer.branches.way == "branches" else [])
        panel.views = [*with_ends(look.patch, paths, look.picture), *panel.views]
    return _in_step(look, panel)


def chain_panel(look: Look) -> Panel:
    """The layer's chain."""
    base = f"layers.{look.layer.id}.chain"
    return _items(look, base, list(look.layer.chain), "chain", *CHAIN_KINDS)


def worked_panel(look: Look) -> Panel:
    """The worked path's chain."""
    return _items(look, "worked", list(look.patch.worked), "chain", *CHAIN_KINDS)


def level_panel(look: Look) -> Panel:
    """The level envelope."""
    own = f"layers.{look.layer.id}.envelope"
    y, ms = envelope_curve(look.layer.envelope, look.patch.tempo)
    paths = [f"{own}.{f}" for f in envelope_fields(look.layer.envelope)] + [f"layers.{look.layer.id}.play.velocity"]
    drawing = Drawing(
        "Level in time", f"one note, {write(ms, 'ms')}", (curve(y, 0.0, max(1.0, float(y.max()))),), copper=True
    )
    views = with_ends(look.patch, paths, look.picture)
    return _in_step(look, Panel(drawing=drawing, views=views, acts=keeping("envelope", own)))


def place_panel(look: Look) -> Panel:
    """Level, place, range, path, hatch, and what its edges are tied to."""
    patch, layer = look.patch, look.layer
    own = f"layers.{layer.id}"
    names = ("level", "pan", "width", "polarity", "delay", "path", "range.low", "range.high", "range.where")
    panel = Panel(views=with_ends(patch, [f"{own}.{n}" for n in names], look.picture))
    for h in HATCHES:
        if h != layer.hatch:
            panel.acts.append(
                Act("hatch", {"layer": layer.id, "hatch": h}, f"hatch {h}", f"Draw the layer with the hatch “{h}”")
            )
    at = [x.id for x in patch.layers].index(layer.id)
    tied = [s for s in patch.splits if layer.id in (s.lower, s.upper)]
    for s in tied:
        other = patch.layer(s.upper if s.lower == layer.id else s.lower).name
        panel.acts.append(Act("untie", {"split": s.id}, f"Untie from {other}", "Let both edges go their own ways"))
    if at + 1 < len(patch.layers) and not any(s.lower == layer.id for s in tied):
        above = patch.layers[at + 1]
        if not any(s.upper == above.id for s in patch.splits):
            values = {"lower": layer.id, "upper": above.id}
            panel.acts.append(Act("tie", values, f"Split with {above.name}", "One edge for both: moving it moves both"))
    return panel


def voices_panel(look: Look) -> Panel:
    """Unison and play style."""
    layer = look.layer
    own = f"layers.{layer.id}"
    play = layer.play
    hidden: tuple[str, ...] = () if play.mode == "voices" else ("voices",)
    hidden += () if play.interval_level > -72 else ("interval",)
    hidden += () if play.glide > 0 else ("glide_curve", "glide_when")
    names = [f"play.{f}" for f in fields(play, but=hidden)]
    one = ("detune", "width", "spread") if layer.unison.copies == 1 else ()
    names += [f"unison.{f}" for f in fields(layer.unison, but=one)]
    return Panel(views=with_ends(look.patch, [f"{own}.{n}" for n in names], look.picture))


def output_panel(look: Look) -> Panel:
    """The output stage, and the tuning."""
    paths = [f"output.{f}" for f in fields(look.patch.output)]
    paths += [f"output.ceiling.{f}" for f in fields(look.patch.output.ceiling)]
    return Panel(views=with_ends(look.patch, [*paths, "tuning"], look.picture))
