"""Why some controls can't be moved, and what to move instead."""

from __future__ import annotations

from .control_path import ControlPath
from .controls import Control

_NOTE = "it is read once, when a note begins"
_STEPS = "it goes in whole steps, with nothing between them"
_PITCH = "move the semitones of a source or the pitch of the layer instead"
_SHAPE = "it shapes the mover itself: move its times or what it moves instead"
_ITEM = "its inside is built anew when it changes: move the mix or a level instead"
_BY_FIELD = {
    **dict.fromkeys(
        ("glide", "glide_curve", "phase", "random_range", "spread", "start", "velocity", "bend_range", "attack_curve",
         "decay_curve", "release_curve", "end", "envelope_times", "envelope_sustain", "fade"),
        _NOTE,
    ),
    **dict.fromkeys(("octave", "ratio", "offset", "drift", "transpose", "fine", "root"), _PITCH),
    **dict.fromkeys(("hold_at", "edges", "attack", "release", "floor", "curve"), _SHAPE),
    **dict.fromkeys(("bands", "step", "look_ahead", "partial_edge"), _ITEM),
    "match": "the level match sets it",
    "interval": "move the level of the added voice, or one end of a tie, instead",
    "key_follow": "move the cutoff with the key instead",
    "delay": "it aligns the layer with the others: move the delay of an effect instead",
    "share": "it moves macros: move the macros instead",
}  # fmt: skip
_BY_PLACE = {
    "range": "an edge can be shared by two layers: move the cutoff of a filter instead",
    "output": "the output stage stays as it is measured: move the levels of layers instead",
    "backing": "the backing is no part of the patch",
    "unison": "the copies keep their places while they sound: move the width of the layer instead",
}
_WHOLE_PATCH = "all of the patch is built on it"


def why_fixed(path: str, control: Control) -> str:
    """Why the control at ``path`` can't be moved, as half a sentence."""
    steps = ControlPath(path).steps
    place = next((word for word in _BY_PLACE if word in steps[:-1]), "")
    if steps[-1] == "width" and place != "unison":
        return "move the width of the layer instead"
    if place and steps[-1] not in ("spread",):
        return _BY_PLACE[place]
    if steps[-1] in _BY_FIELD:
        return _BY_FIELD[steps[-1]]
    if control.whole:
        return _STEPS
    return _WHOLE_PATCH if len(steps) <= 2 else _ITEM
