"""The other tabs of the editor: stages, level, voices, place, output."""

from __future__ import annotations

from ....patch import HATCHES, STAGES, linked_layers
from ..controls import with_ends
from .grips import envelope_drawing
from .item_panel import items_panel
from .mover_panel import envelope_fields
from .panel import Act, Drawing, Panel, PanelContext, fields, keeping


def _linked(look: PanelContext, panel: Panel) -> Panel:
    """The panel, with the linked layers and a button that unlinks."""
    names = [look.patch.layer(i).name for i in linked_layers(look.patch, look.layer.id)]
    if names:
        others = " and ".join(names)
        tip = f"Linked: changes apply to {others} too. Unlink it to change {look.layer.name} alone"
        panel.acts.append(Act("out-of-step", {"layer": look.layer.id}, f"Unlink from {others}", tip))
    return panel


def stages_panel(look: PanelContext) -> Panel:
    """Voice stages."""
    base = f"layers.{look.layer.id}.stages"
    panel = items_panel(look, base, list(look.layer.stages), "stages", *(kind.word for kind in STAGES))
    if len(look.layer.stages) > 1:
        own = f"layers.{look.layer.id}.branches"
        paths = [f"{own}.routing"] + ([f"{own}.mix"] if look.layer.branches.routing == "parallel" else [])
        panel.views = [*with_ends(look.patch, paths, look.picture), *panel.views]
    return _linked(look, panel)


def envelope_panel(look: PanelContext) -> Panel:
    """The level envelope."""
    own = f"layers.{look.layer.id}.envelope"
    line, caption, grips = envelope_drawing(look.patch, own, look.layer.envelope)
    paths = [f"{own}.{f}" for f in envelope_fields(look.layer.envelope)] + [f"layers.{look.layer.id}.play.velocity"]
    drawing = Drawing("Amp envelope", caption, (line,), copper=True, grips=grips)
    views = with_ends(look.patch, paths, look.picture)
    return _linked(look, Panel(drawing=drawing, views=views, acts=keeping("envelope", own)))


def mix_panel(look: PanelContext) -> Panel:
    """Level, pan, range, path, hatch, and splits."""
    patch, layer = look.patch, look.layer
    own = f"layers.{layer.id}"
    names = ("level", "pan", "width", "polarity", "delay", "path", "range.low", "range.high", "range.where")
    panel = Panel(views=with_ends(patch, [f"{own}.{n}" for n in names], look.picture))
    for h in HATCHES:
        tip = f"Draw the layer with the hatch “{h}”"
        panel.acts.append(Act("hatch", {"layer": layer.id, "hatch": h}, f"hatch {h}", tip, h, h == layer.hatch))
    at = [x.id for x in patch.layers].index(layer.id)
    tied = [s for s in patch.splits if layer.id in (s.lower, s.upper)]
    for s in tied:
        other = patch.layer(s.upper if s.lower == layer.id else s.lower).name
        panel.acts.append(Act("untie", {"split": s.id}, f"Untie from {other}", "Let the two edges move independently"))
    if at + 1 < len(patch.layers) and not any(s.lower == layer.id for s in tied):
        above = patch.layers[at + 1]
        if not any(s.upper == above.id for s in patch.splits):
            values = {"lower": layer.id, "upper": above.id}
            panel.acts.append(
                Act("tie", values, f"Split with {above.name}", "Share one edge: moving it moves both layers")
            )
    return panel


def voices_panel(look: PanelContext) -> Panel:
    """Unison and play style."""
    layer = look.layer
    own = f"layers.{layer.id}"
    names = [*(f"play.{f}" for f in fields(layer.play)), *(f"unison.{f}" for f in fields(layer.unison))]
    return Panel(views=with_ends(look.patch, [f"{own}.{n}" for n in names], look.picture))


def output_panel(look: PanelContext) -> Panel:
    """The output stage in signal order, and the tuning."""
    output = look.patch.output
    duck = [f for f in fields(output.duck) if f == "on" or output.duck.on]
    own = ("gain", "fold", "fold_follows", "fold_times", "mono_below")
    paths = [*(f"duck.{f}" for f in sorted(duck, key=lambda f: f != "on")), *(f for f in own if f in fields(output))]
    paths += [f"ceiling.{f}" for f in fields(output.ceiling)]
    views = with_ends(look.patch, [*(f"output.{p}" for p in (*paths, "trim")), "tuning"], look.picture)
    panel = Panel(views=views)
    panel.acts = [
        Act("transpose", {"by": str(by)}, f"Patch {name}", f"All layers together: {tip}")
        for by, name, tip in (
            (-12, "octave ↓", "an octave down (<)"),
            (12, "octave ↑", "an octave up (>)"),
            (-1, "−1 st", "a semitone down"),
            (1, "+1 st", "a semitone up"),
        )
    ]
    return panel
