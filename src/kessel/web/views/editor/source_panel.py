"""The tabs of a layer's sources, and of a drawn wave."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from functools import singledispatch

import numpy as np

from ....checks import sounds_at
from ....desk import NEW_SOURCE, WaveOffer
from ....dsp.sources.waves import HIGHEST, LOWEST, TOUCHES, bars_of, frame_points
from ....engine import audio_outline, source_picture
from ....intake import WAYS
from ....patch import (
    STAGE_PREFIX,
    STOCK_PREFIX,
    Envelope,
    Layer,
    Noise,
    Oscillator,
    Patch,
    Sample,
    Source,
    can_feed_back,
    note_name,
    shaped_by,
    stage_of,
    wave_name,
    write,
)
from ..controls import Picker, control_view, with_ends
from ..svg import curve
from .panel import (
    Act,
    ActPick,
    Drawing,
    OfferView,
    Panel,
    PanelContext,
    WaveView,
    adders,
    chips,
    chosen,
    fields,
    keeping,
)

GROUPS = (
    ("wave", "Wave"),
    ("pitch", "Pitch"),
    ("shape", "Shape"),
    ("amp", "Amp"),
    ("mod", "FM, ring"),
)
_AMP = ("envelope", "envelope_times", "envelope_sustain")
_OF = {
    "wave": ("shape", "pulse_width", "mix_a", "mix_b", "mix", "wave", "position", "level", "polarity", "to", "unison"),
    "pitch": ("octave", "semitones", "cents", "ratio", "offset", "drift", "start", "phase", "random_range"),
    "shape": (
        "twin", "twin_shift", "skew", "stretch", "scatter",
        "partial_low", "partial_high", "partial_edge", "sync", "sync_to", "sync_interval",
    ),
    "amp": _AMP,
    "mod": ("feedback",),
}  # fmt: skip
_SAMPLE: dict[str, tuple[str, ...]] = {
    "wave": ("audio", "play", "begins", "start", "end", "level", "width", "polarity", "to"),
    "pitch": ("follows", "root", "octave", "semitones", "cents"),
    "amp": _AMP,
    "mod": (),
}


_FIELDS: dict[str, dict[str, tuple[str, ...]]] = {
    "oscillator": _OF,
    "sample": _SAMPLE,
    "noise": {"wave": ("colour", "level", "width", "polarity", "to"), "amp": _AMP, "mod": ()},
}
"""The fields of every group of controls, by the kind of the source."""


def group_of(kind: str, field: str) -> str:
    """The group of controls in which a field of a source of a kind is."""
    return next((group for group, names in _FIELDS[kind].items() if field in names), "mod")


@singledispatch
def source_drawing(source: Source, patch: Patch, layer: Layer) -> Drawing:
    """A source as it sounds: the cycle and harmonics of an oscillator, the outline of a recording."""
    raise TypeError(type(source).__name__)


@source_drawing.register
def _(source: Noise, patch: Patch, layer: Layer) -> Drawing:
    y = np.random.default_rng(7).uniform(-0.9, 0.9, 90)
    y = np.cumsum(y - y.mean()) / 4 if source.colour == "brown" else y
    return Drawing(source.name, f"{source.colour} noise, seeded", (curve(y, -1, 1),))


@source_drawing.register
def _(source: Sample, patch: Patch, layer: Layer) -> Drawing:
    outline = audio_outline(source.audio)
    if outline is None:
        return Drawing(source.name, "the audio is missing: import it again", ())
    return Drawing(source.name, "the recording", (curve(outline, -1, 1), curve(-outline, -1, 1)))


@source_drawing.register
def _(source: Oscillator, patch: Patch, layer: Layer) -> Drawing:
    found = source_picture(patch, layer.id, source.id)
    bars = tuple(
        (round(100.0 * k / found.partials.size, 2), round(float(np.clip((db + 72.0) / 72.0, 0.0, 1.05)) * 100.0, 1))
        for k, db in enumerate(found.partials)
    )
    y = found.cycle[::8]
    top = max(1.05, float(np.abs(y).max()))
    back = [s.name for s in layer.stages if any(stage_of(m.source) == s.id for m in source.modulators)]
    told = f"without what {' and '.join(back)} sends back" if back else "two cycles; harmonics 1 to 64"
    return Drawing(source.name, told, (curve(y, -top, top),), bars=bars, source=source.id)


def sources_panel(look: PanelContext) -> Panel:
    """The sources of the layer, one of them selected."""
    layer = look.layer
    base = f"layers.{layer.id}.sources"
    source = chosen(list(layer.sources), look.item)
    panel = Panel(chips(list(layer.sources), base, source), adders(base, "oscillator", "noise", "sample"), dragged=True)
    if source is None:
        panel.empty = "No source: add an oscillator, a noise or a sample."
        return panel
    own = f"{base}.{source.id}"
    panel.path, panel.name_path = own, f"{own}.name"
    panel.drawing = source_drawing(source, look.patch, layer)
    groups = [g for g in GROUPS if g[0] in _FIELDS[source.kind]]
    group = look.group if look.group in dict(groups) else "wave"
    panel.groups = [(g, name, g == group) for g, name in groups]
    there = fields(source, layer)
    shown = [n for n in _FIELDS[source.kind][group] if n in there and not (n == "position" and _is_still(source, look))]
    panel.views = with_ends(look.patch, [f"{own}.{n}" for n in shown], look.picture, look.audio)
    if group == "mod":
        _modulators(panel, look, source, own)
        return panel
    if group == "amp":
        _amp_envelope(panel, look, source, own)
        return panel
    if group == "pitch" and isinstance(source, Oscillator):
        panel.drawing = replace(panel.drawing, caption=_sounding(look.patch, layer, source) or panel.drawing.caption)
    panel.acts = keeping("source", own)
    if len(layer.sources) > 1:
        panel.acts.append(
            Act("split-off", {"path": own}, "Own layer", "Move it to a layer of its own that stays linked to this one")
        )
    panel.imports = source.kind == "sample" and group == "wave"
    return panel


def _sounding(patch: Patch, layer: Layer, source: Oscillator) -> str:
    """What an oscillator sounds at on the phrase's lowest note. Empty without notes."""
    lowest = min((n.pitch for n in patch.phrase.notes), default=None)
    if lowest is None:
        return ""
    return f"lowest {note_name(lowest)}: {write(abs(sounds_at(patch, layer, source, lowest)), 'Hz')}"


def _is_still(source: Source, look: PanelContext) -> bool:
    """Whether an oscillator plays a wave of one frame, between which nothing lies, and nothing moves its place."""
    wave = next((w for w in look.patch.waves if isinstance(source, Oscillator) and w.id == source.wave), None)
    path = f"layers.{look.layer.id}.sources.{source.id}.position"
    return (wave is None or len(wave.frames) < 2) and all(m.target != path for m in look.patch.movements)


_SHAPED_BY = {
    "ms": ("clock", "attack", "hold", "decay", "sustain", "release"),
    "beats": ("clock", "attack_beats", "hold_beats", "decay_beats", "sustain", "release_beats"),
}
"""The controls of an envelope that shape a source, by its clock."""


def _amp_envelope(panel: Panel, look: PanelContext, source: Oscillator | Noise | Sample, own: str) -> None:
    """The amp envelope of a source, with its controls, and who shares it."""
    panel.acts = [Act("own-envelope", {"path": own}, "New envelope", "Give this source a new amp envelope of its own")]
    envelope = next((m for m in look.patch.movers if m.id == source.envelope), None)
    if not isinstance(envelope, Envelope):
        return
    paths = [f"movers.{envelope.id}.{name}" for name in _SHAPED_BY[envelope.clock]]
    panel.views += with_ends(look.patch, paths, look.picture)
    sharing = [n for n in shaped_by(look.patch, envelope.id) if n != f"{look.layer.name}: {source.name}"]
    if sharing:
        panel.rows = [f"{envelope.name} also shapes {', '.join(sharing)}."]


def _modulators(panel: Panel, look: PanelContext, source: Oscillator | Noise | Sample, own: str) -> None:
    filters = _filters(look.layer)
    names = {s.id: s.name for s in look.layer.sources} | filters
    shown: dict[str, str] = {}
    for m in source.modulators:
        name = names[m.source]
        field, label = ("depth", f"FM by {name}") if m.mode == "phase" else ("share", f"Ring by {name}")
        path = f"{own}.modulators.{m.id}.{field}"
        shown[path] = label
        panel.removable.append((f"{own}.modulators.{m.id}", label))
    panel.views += with_ends(look.patch, list(shown), look.picture, names=shown)
    taken = {(m.source, m.mode) for m in source.modulators}
    for mode, label in (("phase", "Add FM by"), ("ring", "Add ring by")):
        free = tuple(
            (i, f"the output of {name}" if i in filters else name)
            for i, name in names.items()
            if i != source.id and (i, mode) not in taken
        )
        free = (*free, (NEW_SOURCE, "a new sine"))
        if not (mode == "phase" and isinstance(source, Noise)):
            panel.picks.append(ActPick("modulate", {"path": own, "mode": mode}, "source", label, free))
    if not panel.views:
        panel.empty = "No FM or ring modulation: choose a new sine, another source, or a filter that feeds back."


def _filters(layer: Layer) -> dict[str, str]:
    """The voice stages that can feed back to the sources, by the word of a modulator."""
    found = {}
    for stage in layer.stages:
        with suppress(ValueError):
            can_feed_back(layer, stage.id)
            found[STAGE_PREFIX + stage.id] = stage.name
    return found


def wave_panel(look: PanelContext) -> Panel:
    """The drawn wave of an oscillator: its cycle, its harmonics, its frames."""
    layer = look.layer
    base = f"layers.{layer.id}.sources"
    oscillators = [s for s in layer.sources if isinstance(s, Oscillator)]
    source = chosen(oscillators, look.item)
    panel = Panel(chips(oscillators, base, source))
    if source is None:
        panel.empty = "A wave is drawn for an oscillator: add one under Sources."
        return panel
    own = f"{base}.{source.id}"
    panel.path = own
    panel.wave = _wave_view(look, source, own)
    panel.imports = True
    if not source.wave.startswith(STOCK_PREFIX):
        panel.acts = keeping("wave", f"waves.{source.wave}")
    return panel


def _wave_view(look: PanelContext, source: Oscillator, own: str) -> WaveView:
    word = source.wave
    stock = word.startswith(STOCK_PREFIX)
    texts = [word] if stock else next(w.frames for w in look.patch.waves if w.id == word)
    frame = min(max(look.frame, 0), len(texts) - 1)
    y = frame_points(texts[frame])
    db, degrees = bars_of(y)
    # a value just under a whole turn is shown as 0
    degrees = np.where(degrees > 359.5, 0.0, degrees)
    shares = np.clip((db - LOWEST) / (HIGHEST - LOWEST), 0.0, 1.0)
    bars = tuple(
        (k + 1, round(float(shares[k]) * 100.0, 2), round(degrees[k] / 3.6, 2),
         f"harmonic {k + 1}: {write(float(db[k]), 'dB')}, {write(round(float(degrees[k]), 1), 'deg')}")
        for k in range(db.size)
    )  # fmt: skip
    small = tuple(
        (i, curve(frame_points(t)[::16], -1.05, 1.05, 46.0, 22.0, 1.0), i == frame) for i, t in enumerate(texts)
    )
    pick = control_view(look.patch, f"{own}.wave")
    assert isinstance(pick, Picker)
    return WaveView(
        path=own,
        name=wave_name(look.patch.waves, word),
        own=not stock,
        name_path="" if stock else f"waves.{word}.name",
        frame=frame,
        count=len(texts),
        cycle=curve(y[::2], -1.0, 1.0, 1000.0, 100.0, 0.0),
        points=" ".join(f"{v:.3f}" for v in y[::8]),
        bars=bars,
        foot=LOWEST,
        head=HIGHEST,
        frames=small,
        pick=pick,
        playing=source.shape == "drawn",
        source=source.name,
        shape="a mix" if source.shape == "mix" else f"a {source.shape}",
        position=control_view(look.patch, f"{own}.position", look.picture),
        touches=tuple((slug, name) for slug, (name, _) in TOUCHES.items()),
        offer=_offer_view(look.offer) if look.offer is not None and look.offer.path == own else None,
    )


def _offer_view(offer: WaveOffer) -> OfferView:
    """How a wave would be cut from a file."""
    x, made = offer.file.samples, offer.made
    parts = np.array_split(x, min(400, x.size))
    low, high = (np.array([f(p) for p in parts]) for f in (np.min, np.max))
    top = max(float(np.abs(x).max()), 1e-9) * 1.05
    # along the tops and back along the feet
    edge = np.concatenate([high, low[::-1]])
    across = np.concatenate([np.linspace(0.0, 1000.0, high.size), np.linspace(1000.0, 0.0, low.size)])
    outline = "M" + " ".join(f"{a:.1f},{50.0 - 50.0 * b / top:.1f}" for a, b in zip(across, edge, strict=True)) + "Z"
    share = 100.0 / x.size
    count = len(made.frames)
    what = "1 cycle" if count == 1 else f"{count} frames"
    return OfferView(
        name=offer.file.name,
        about=f"{x.size} samples at {write(offer.file.rate, 'Hz')}: {what} of {made.length:.7g} samples",
        outline=outline,
        cuts=tuple((round(s * share, 3), round(made.length * share, 3)) for s in made.starts),
        frames=tuple(curve(f[::16], -1.05, 1.05, 46.0, 22.0, 1.0) for f in made.frames),
        ways=tuple((w, WAYS[w], w == made.way) for w in offer.ways),
        length=f"{made.length:.0f}" if made.way == "frames" else "",
    )
