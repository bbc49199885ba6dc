"""What the panel of a kind of effect shows beyond its controls: its drawing, the bands it is made of, what it imports.

``FACES`` has a face for the kinds that need one. All others show their controls, and the drawing that the engine gives.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ....desk import EACH, told_apart
from ....dsp.filters.formants import VOWELS
from ....engine import beat_curve, response_of, static_curve, transfer_of
from ....patch import (
    BeatShape,
    Branch,
    BranchPath,
    Cabinet,
    Eq,
    Multiband,
    Patch,
    Space,
    Vocoder,
    Vowel,
    write,
)
from ..controls import Rule, View, control_view
from ..svg import curve, polyline
from .grips import Grip, grips_of
from .panel import Act, Chart, Drawing, Panel, PanelContext, adders, fields

REACH = -48.0, 24.0
"""Levels in dB at the bottom and the top of a frequency response."""
_REACH_OF_EQ = -18.0, 18.0


def gripped(patch: Patch, own: str, part: Any, group: str) -> tuple[Grip, ...]:
    """The grips on the drawing of an item: its own, or those of the band that is shown."""
    if isinstance(part, Eq | Multiband):
        band = _band_of(part, group, part.bands[:1] if isinstance(part, Eq) else ())
        reach = _REACH_OF_EQ if isinstance(part, Eq) else REACH
        return () if band is None else grips_of(patch, f"{own}.bands.{band.id}", band, reach)
    return grips_of(patch, own, part, REACH)


def _engine_drawing(part: Any, group: str, low: float = REACH[0], high: float = REACH[1]) -> Drawing:
    """What the engine gives of a part: its static curve, its frequency response, or its transfer curve."""
    static = static_curve(part)
    if static is not None:
        return Drawing(part.name, "−72 to 0 dBFS in and out", (curve(static[1], -72.0, 6.0),))
    response = response_of(part, 20.0 * 1000.0 ** np.linspace(0.0, 1.0, 180))
    if response is not None:
        reach = f"{low:.0f} to {high:+.0f} dB, 20 Hz to 20 kHz".replace("-", "−")
        return Drawing(part.name, reach, (curve(response, low, high),))
    found = transfer_of(part)
    if found is None:
        return Drawing(part.name, "", ())
    return Drawing(part.name, "in across, out up", (curve(np.clip(found[1], -1, 1), -1.05, 1.05),))


@dataclass(frozen=True)
class Face:
    """What a kind shows beyond its controls.

    drawing: its drawing, from the part and the selected group; it gives None if there is nothing to draw.
    paths: the paths of its controls, from its own path, the paths of its own controls, and the selected group.
    extend: what else belongs on its panel, from the context, the panel, its own path and the part.
    """

    drawing: Callable[[Any, str], Drawing | None] = _engine_drawing
    paths: Callable[[Any, str, list[str], str], list[str]] = lambda part, own, paths, group: paths
    extend: Callable[[PanelContext, Panel, str, Any], None] = lambda look, panel, own, part: None


def face_of(part: Any) -> Face:
    """The face of a part's kind."""
    return FACES.get(type(part), _PLAIN)


def _below(path: str, part: Any) -> list[str]:
    return [f"{path}.{f}" for f in fields(part)]


def _band_of(part: Eq | Multiband, group: str, else_first: Sequence[Any] = ()) -> Any:
    """The band that is chosen as a group. None, or the first of ``else_first``, if none is."""
    return next((b for b in part.bands if b.id == group), next(iter(else_first), None))


# The equaliser: one band is shown at a time.


def _eq_paths(part: Eq, own: str, paths: list[str], group: str) -> list[str]:
    band = _band_of(part, group, part.bands[:1])
    return ([] if band is None else _below(f"{own}.bands.{band.id}", band)) + paths


def _eq_groups(look: PanelContext, panel: Panel, own: str, part: Eq) -> None:
    shown = _band_of(part, look.group, part.bands[:1])
    words = told_apart([(b.id, _band_word(b)) for b in part.bands])
    panel.groups = [(i, word, shown is not None and i == shown.id) for i, word in words]
    panel.adders += adders(f"{own}.bands", "band")
    if shown is not None:
        panel.removable = [(f"{own}.bands.{shown.id}", f"band {_band_word(shown)}")]


def _band_word(band: Any) -> str:
    return f"{write(band.times, 'x')} note" if band.tied else write(band.frequency, "Hz")


# The multiband dynamics: all of it, every band at once, or one band.


def _multiband_drawing(part: Multiband, group: str) -> Drawing:
    # the name that can be typed over it is that of the item
    return replace(_engine_drawing(_band_of(part, group, part.bands), group), title=part.name)


def _multiband_paths(part: Multiband, own: str, paths: list[str], group: str) -> list[str]:
    band = _band_of(part, group)
    return paths if band is None else _below(f"{own}.bands.{band.id}", band)


EVERY = "every"
"""The group whose controls set all bands at once."""


def _every(patch: Patch, bands: str, first: Any) -> list[View]:
    """Controls for all bands at once, from those that the first band shows."""
    found: list[View] = []
    for name in fields(first):
        if name == "solo":
            continue
        view = control_view(patch, f"{bands}.{first.id}.{name}")
        says = f"{view.help} Dragging moves all bands alike; a typed value applies to all."
        full = f"{view.name} of every band"
        path = f"{bands}.{EACH}.{name}"
        view = replace(view, path=path, full=full, help=says)
        found.append(replace(view, moved_by="", tied="", travel=None) if isinstance(view, Rule) else view)
    return found


def _multiband_groups(look: PanelContext, panel: Panel, own: str, part: Multiband) -> None:
    band = _band_of(part, look.group)
    every = look.group == EVERY
    panel.groups = [("whole", "Whole", band is None and not every), (EVERY, "Every", every)]
    panel.groups += [(b.id, b.name, b is band) for b in part.bands]
    if every:
        panel.views = _every(look.patch, f"{own}.bands", part.bands[0])
    if band is not None:
        tip = "Copy the settings of this band, except its gain, to all other bands"
        panel.acts.append(Act("same-bands", {"path": f"{own}.bands.{band.id}"}, "Copy to all bands", tip))
        if len(part.bands) > 2:
            panel.removable = [(f"{own}.bands.{band.id}", "this band")]
    if len(part.bands) < 4:
        panel.adders += adders(f"{own}.bands", "dynamics-band")


# The others.


def _beat_drawing(part: BeatShape, group: str) -> Drawing:
    return Drawing(part.name, "level over its length", (curve(beat_curve(part), -0.05, 1.05),), copper=True)


def _beat_paths(part: BeatShape, own: str, paths: list[str], group: str) -> list[str]:
    return [paths[0], *_below(f"{own}.kick", part.kick), *paths[1:]] if part.by == "kick" else paths


def _chart(look: PanelContext, panel: Panel, own: str, part: Vowel) -> None:
    """The vowel chart, with the path of moved positions, in place of the response."""
    words = tuple((100.0 * v.tongue, 100.0 * v.opening, v.word) for v in VOWELS)
    line = ""
    paths = look.picture.paths if look.picture is not None else {}
    moved = [paths.get(f"{own}.{n}") for n in ("tongue", "opening")]
    if any(w is not None for w in moved):
        count = next(w.size for w in moved if w is not None)
        x, y = (np.full(count, v) if w is None else w for w, v in zip(moved, (part.tongue, part.opening), strict=True))
        there = np.isfinite(x) & np.isfinite(y)
        step = max(1, int(there.sum()) // 400)
        if there.sum() > 1:
            line = polyline(x[there][::step], y[there][::step])
    panel.drawing = None
    panel.chart = Chart(
        f"{own}.opening", f"{own}.tongue", part.tongue, part.opening, words, line, part.name, f"{own}.name"
    )


def _importing(look: PanelContext, panel: Panel, own: str, part: Any) -> None:
    panel.imports, panel.path = True, own


def _paths_of_branch(look: PanelContext, panel: Panel, own: str, part: Branch) -> None:
    if len(part.paths) < 4:
        panel.adders += adders(f"{own}.paths", "path")


def _nothing(part: Any, group: str) -> None:
    return None


_PLAIN = Face()
FACES: dict[type, Face] = {
    Eq: Face(lambda part, group: _engine_drawing(part, group, *_REACH_OF_EQ), _eq_paths, _eq_groups),
    Multiband: Face(_multiband_drawing, _multiband_paths, _multiband_groups),
    BeatShape: Face(_beat_drawing, _beat_paths),
    Vowel: Face(extend=_chart),
    Cabinet: Face(extend=_importing),
    Space: Face(extend=_importing),
    Vocoder: Face(extend=_importing),
    Branch: Face(_nothing, extend=_paths_of_branch),
    BranchPath: Face(_nothing),
}
"""The faces of the kinds that need one."""
