"""Why a control changes nothing in the loop, where that is known."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise

from .control_path import ControlPath
from .layer import Layer
from .model import Patch
from .movement import Follower, Macro
from .paths import get
from .sources import Oscillator
from .units import SILENT_DB


def why_idle(patch: Patch, path: str) -> str:
    """Why the control at ``path`` changes nothing while the phrase plays. Empty where it isn't known.

    It is asked about a control that was turned and left the loop as it was.
    """
    return next((words for look in _LOOKS if (words := look(patch, path))), "")


def _layer_of(patch: Patch, path: str) -> Layer | None:
    steps = ControlPath(path).steps
    return next((x for x in patch.layers if steps[0] == "layers" and x.id == steps[1]), None)


def _unheard(patch: Patch, path: str) -> str:
    layer = _layer_of(patch, path)
    if layer is None:
        return ""
    if layer.mute:
        return f"{layer.name} is muted"
    if layer.level <= SILENT_DB and not _is_moved(patch, f"layers.{layer.id}.level"):
        return f"the level of {layer.name} is off"
    steps = ControlPath(path).steps
    source = next((s for s in layer.sources if steps[2:3] == ("sources",) and s.id == steps[3]), None)
    works = any(m.source == source.id for s in layer.sources for m in s.modulators) if source is not None else False
    if source is None or works or steps[-1] == "level":
        return ""
    if source.level <= SILENT_DB and not _is_moved(patch, f"layers.{layer.id}.sources.{source.id}.level"):
        return f"the level of {source.name} is off"
    return f"{source.name} only modulates, and nothing is modulated by it" if source.to == "modulates only" else ""


def _off(patch: Patch, path: str) -> str:
    """A part that is off, or of which nothing is mixed in."""
    steps = ControlPath(path).steps
    for n in range(len(steps) - 1, 1, -1):
        part = get(patch, ControlPath.of(*steps[:n]))
        if getattr(part, "on", True) is False and steps[n:] != ("on",):
            return f"{getattr(part, 'name', 'it')} is off"
        dry = getattr(part, "mix", 100.0) == 0.0 and hasattr(part, "on")
        if dry and steps[n:] != ("mix",) and not _is_moved(patch, f"{ControlPath.of(*steps[:n])}.mix"):
            return f"the mix of {part.name} is 0 %"
    return ""


def _taken_back(patch: Patch, path: str) -> str:
    part = get(patch, ControlPath(path).parent)
    return f"the level match of {part.name} takes it back" if getattr(part, "matched", False) is True else ""


def _notes(patch: Patch, path: str) -> str:
    """What needs other notes than the phrase has."""
    layer, steps = _layer_of(patch, path), ControlPath(path).steps
    notes = patch.phrase.notes
    if layer is None or steps[2] not in ("play", "envelope"):
        return ""
    if not notes:
        return "the phrase has no notes"
    name = steps[-1]
    if steps[2] == "envelope":
        return f"{layer.name} plays as a drone, which begins once" if layer.play.mode == "drone" else ""
    if name == "mode" or (name.startswith("glide") and layer.play.glide_when == "overlap"):
        ordered = sorted(notes, key=lambda n: n.start)
        overlap = any(a.start + a.length > b.start + 1e-9 for a, b in pairwise(ordered))
        return "" if overlap else "no two notes overlap"
    if name.startswith("glide") and len({n.pitch for n in notes}) == 1:
        return "all notes have one pitch"
    if name == "velocity" and {n.velocity for n in notes} == {127}:
        return "all notes have full velocity"
    return "the phrase has no bend" if name == "bend_range" and not patch.phrase.bend else ""


def _moves_nothing(patch: Patch, path: str) -> str:
    steps = ControlPath(path).steps
    mover = next((m for m in patch.movers if steps[0] == "movers" and m.id == steps[1]), None)
    if mover is None:
        return ""
    shaped = any(s.envelope == mover.id for x in patch.layers for s in x.sources)
    moves = [m for m in patch.movements if mover.id in (m.mover, m.scaled_by) and not m.lost]
    if not moves and not shaped:
        return f"{mover.name} moves nothing"
    if isinstance(mover, Follower) and not mover.layer:
        return f"{mover.name} follows no layer"
    slow = getattr(mover, "restart", "") == "note" and not isinstance(mover, Macro) and patch.phrase.notes
    if slow and steps[-1] == "length" and getattr(mover, "clock", "") == "beats":
        longest = max(n.length for n in patch.phrase.notes)
        if mover.length > longest:  # type: ignore[union-attr]
            return f"{mover.name} begins anew with each note, and is longer than all of them"
    return ""


def _frames(patch: Patch, path: str) -> str:
    if ControlPath(path).name != "position":
        return ""
    source = get(patch, ControlPath(path).parent)
    wave = next((w for w in patch.waves if isinstance(source, Oscillator) and w.id == source.wave), None)
    return "the wave has one frame" if wave is None or len(wave.frames) < 2 else ""


def _above_all(patch: Patch, path: str) -> str:
    return "there is nothing above it" if ControlPath(path).name in ("high", "high_cut", "feedback_high_cut") else ""


def _is_moved(patch: Patch, path: str) -> bool:
    return any(m.target == path and not m.lost for m in patch.movements)


_LOOKS: tuple[Callable[[Patch, str], str], ...] = (
    _unheard, _off, _moves_nothing, _notes, _frames, _taken_back, _above_all,
)  # fmt: skip
