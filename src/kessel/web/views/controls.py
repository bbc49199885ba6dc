"""Views of controls, derived from their declarations."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

from ...desk import Picture, end_of, movement_end, value_shown
from ...patch import (
    CLICK_PREFIX,
    CLICKS,
    NOTE_NAMES,
    STOCK,
    STOCK_PREFIX,
    Choice,
    Control,
    ControlPath,
    Curve,
    Envelope,
    Lfo,
    Movement,
    Mover,
    NoSuchPath,
    Oscillator,
    Patch,
    Pick,
    declaration,
    get,
    number,
    title,
    whole,
    with_signs,
    write,
)


def element_id(path: str) -> str:
    """Id of the element that shows a control."""
    return "c-" + path.replace(".", "-")


@dataclass(frozen=True)
class Rule:
    """A number on a ruled scale. ``at`` and ``travel`` are positions in per cent."""

    kind = "rule"
    path: str
    name: str
    full: str
    text: str
    at: float
    help: str
    travel: tuple[float, float] | None
    moved_by: str
    end: bool = False
    mover: str = ""
    tied: str = ""

    @property
    def id(self) -> str:
        """Id of the element."""
        return element_id(self.path)


@dataclass(frozen=True)
class Words:
    """A choice between a few words, or on and off."""

    kind = "words"
    path: str
    name: str
    full: str
    options: tuple[tuple[str, str, bool], ...]
    help: str

    @property
    def id(self) -> str:
        """Id of the element."""
        return element_id(self.path)

    @property
    def chosen(self) -> str:
        """The present word."""
        return next((value for value, _, on in self.options if on), "")


@dataclass(frozen=True)
class Picker:
    """One of many things by name, in groups: (group, ((value, label, chosen), ...))."""

    kind = "picker"
    path: str
    name: str
    full: str
    groups: tuple[tuple[str, tuple[tuple[str, str, bool], ...]], ...]
    help: str

    @property
    def id(self) -> str:
        """Id of the element."""
        return element_id(self.path)


View = Rule | Words | Picker

_SHORT = {
    "low-pass": "Low",
    "high-pass": "High",
    "band-pass": "Band",
    "notch": "Notch",
    "triangle": "Tri",
    "low-shelf": "Low shelf",
    "high-shelf": "High shelf",
    "low-cut": "Low cut",
    "high-cut": "High cut",
    "saw up": "Rise",
    "saw down": "Fall",
    "subtract": "Minus",
    "multiply": "Times",
    "add": "Plus",
    "own times": "Own",
} | {name: with_signs(name) for name in NOTE_NAMES}


def _label(word: str) -> str:
    return _SHORT.get(word, word[:1].upper() + word[1:])


def mover_name(patch: Patch, movement: Movement) -> str:
    """The name of a movement's mover."""
    return next(m.name for m in patch.movers if m.id == movement.mover)


Audio = Sequence[tuple[str, str]]
"""Word and name of every piece of audio of the library."""


def _things(patch: Patch, found: Pick, path: str, audio: Audio) -> list[_Group]:
    """The things to pick from, in groups."""
    return _THINGS[found.of](patch, path, audio)


_Group = tuple[str, list[tuple[str, str]]]


def _waves(patch: Patch, path: str, audio: Audio) -> list[_Group]:
    own = [(w.id, w.name) for w in patch.waves]
    stock = ("Stock", [(STOCK_PREFIX + slug, name) for slug, name in STOCK])
    return [("Of this patch", own), stock] if own else [stock]


def _responses(patch: Patch, path: str, audio: Audio) -> list[_Group]:
    value = str(get(patch, path))
    missing = [(value, "missing audio")] if value and value not in dict(audio) else []
    return [("", [("", "none yet"), *missing, *audio])]


def _recordings(patch: Patch, path: str, audio: Audio) -> list[_Group]:
    value = str(get(patch, path))
    clicks = [(CLICK_PREFIX + slug, name) for slug, name in CLICKS]
    missing = [] if value in dict((*audio, *clicks)) else [(value, "missing audio")]
    kept = [*missing, *audio]
    return [("Attack clicks", clicks), *([("Library", kept)] if kept else [])]


def _fed_by(patch: Patch, path: str, audio: Audio) -> list[_Group]:
    of_layers = [
        (
            x.name,
            [(f"layers.{x.id}.sources.{s.id}", f"{x.name}: {s.name}") for s in x.sources]
            + [(f"layers.{x.id}.stages.{s.id}", f"{x.name}: behind {s.name}") for s in x.stages],
        )
        for x in patch.layers
    ]
    return [("", [("", "nothing yet")]), *of_layers]


def _synced_to(patch: Patch, path: str, audio: Audio) -> list[_Group]:
    steps = ControlPath(path).steps
    sources = patch.layer(steps[1]).sources
    others = [(s.id, s.name) for s in sources if isinstance(s, Oscillator) and s.id != steps[3]]
    return [("", [("", "none"), *others])]


def _named(word: str, parts: Callable[[Patch], Sequence[Any]]) -> Callable[[Patch, str, Audio], list[_Group]]:
    """Parts with a name. word: what no part is called."""
    return lambda patch, path, audio: [("", [("", word), *((x.id, x.name) for x in parts(patch))])]


_THINGS: dict[str, Callable[[Patch, str, Audio], list[_Group]]] = {
    "wave": _waves,
    "response": _responses,
    "audio": _recordings,
    "audio-rate": _fed_by,
    "source": _synced_to,
    "envelope": _named("none: the layer's", lambda patch: [m for m in patch.movers if isinstance(m, Envelope)]),
    "layer": _named("nothing yet", lambda patch: patch.layers),
    "mover": _named("nothing", lambda patch: patch.movers),
    "stance": _named("none", lambda patch: patch.stances),
}
"""What can be picked, by the sort of a pick."""


def control_view(
    patch: Patch, path: str, picture: Picture | None = None, name: str | None = None, audio: Audio = ()
) -> View:
    """The view of the control at ``path``. Raises NoSuchPath."""
    found = declaration(patch, path)
    value = get(patch, path)
    full = title(patch, path)
    shown = name or found.name
    if isinstance(found, Control):
        movers = [mover_name(patch, m) for m in patch.movements if m.target == path]
        return Rule(
            path=path,
            name=shown,
            full=full,
            text=found.write(float(value)),
            at=round(100.0 * found.position(float(value)), 2),
            help=found.help,
            travel=_travel(found, path, picture),
            moved_by=", ".join(movers),
            tied=_tied_names(patch, path),
        )
    if isinstance(found, Pick):
        groups = tuple(
            (g, tuple((v, n, v == value) for v, n in items)) for g, items in _things(patch, found, path, audio)
        )
        return Picker(path=path, name=shown, full=full, groups=groups, help=found.help)
    if isinstance(found, Choice):
        options = tuple((o, _label(o), o == value) for o in found.options)
    else:
        options = (("on", _on(patch, path, bool(value)), bool(value)), ("off", "Off", not value))
    return Words(path=path, name=shown, full=full, options=options, help=found.help)


def _on(patch: Patch, path: str, value: bool) -> str:
    """The word for on, of a level match with the gain that it applies."""
    if not value or not path.endswith(".matched"):
        return "On"
    return f"On {write(float(get(patch, path.removesuffix('matched') + 'match')), 'dB')}"


def _tied_names(patch: Patch, path: str) -> str:
    ties = [t for t in patch.ties if path in t.ends and whole(patch, t)]
    return ", ".join(title(patch, p) for t in ties for p in t.ends if p != path)


def _travel(found: Control, path: str, picture: Picture | None) -> tuple[float, float] | None:
    reach = picture.travel.get(path) if picture is not None else None
    if reach is None:
        return None
    low, high = (100.0 * found.position(found.from_scale(x)) for x in reach)
    return round(low, 2), round(max(high - low, 0.8), 2)


def ran(found: Control, path: str, picture: Picture | None) -> str:
    """The range of a moved control as text. Empty while it is unknown."""
    reach = picture.travel.get(path) if picture is not None else None
    if reach is None:
        return ""
    low, high = (found.write(found.from_scale(x)) for x in reach)
    return f"from {low} to {high}" if low != high else f"at {low}"


def travels(patch: Patch, picture: Picture | None) -> dict[str, tuple[float, float, str]]:
    """The travel of every moved control on its rule, by path: position and width in per cent, and as text."""
    found = {}
    for path in picture.travel if picture is not None else ():
        with suppress(NoSuchPath):
            control = number(patch, path)
            bar = _travel(control, path, picture)
            if bar is not None:
                found[path] = (*bar, ran(control, path, picture))
    return found


def end_view(patch: Patch, movement: Movement) -> Rule:
    """The end value of a movement, on the moved control's own rule."""
    path = f"movements.{movement.id}.amount"
    found = movement_end(patch, path)
    assert found is not None
    control = found[1]
    shown = value_shown(patch, path)
    mover = mover_name(patch, movement)
    both = " both ways" if movement.both_ways else ""
    rest = control.position(float(get(patch, movement.target)))
    end = control.position(end_of(patch, movement, control))
    low, high = sorted((rest, end))
    return Rule(
        path=path,
        name=f"→ {_short(patch, mover, movement.target)}",
        full=f"{title(patch, movement.target)} moved to{both} by {mover}",
        text=shown.text,
        at=round(100.0 * (shown.at or 0.0), 2),
        help=f"Where {mover} takes {control.name.lower()}{both}: drag, or type the end value.",
        travel=(round(100 * low, 2), round(max(100 * (high - low), 0.8), 2)),
        moved_by="",
        end=True,
        mover=movement.mover,
    )


def _main_controls(mover: Mover) -> tuple[str, ...]:
    """The main controls of a mover."""
    if isinstance(mover, Envelope):
        return ("attack", "decay") if mover.clock == "ms" else ("attack_beats", "decay_beats")
    if isinstance(mover, Lfo):
        return ("length",) if mover.clock == "beats" else ("rate",)
    if isinstance(mover, Curve):
        return ("length",) if mover.clock == "beats" else ("length_ms",)
    return ()


def _short(patch: Patch, mover: str, path: str) -> str:
    """A mover's name beside a control, without the words that the control says already."""
    said = title(patch, path).lower().split()
    words = [word for word in mover.split() if word.lower() not in said]
    return (words[0][:1].upper() + " ".join(words)[1:]) if words else mover


def with_ends(
    patch: Patch,
    paths: list[str],
    picture: Picture | None,
    audio: Audio = (),
    names: Mapping[str, str] = MappingProxyType({}),
) -> list[View]:
    """Views of controls, each followed by the end values of its movements and by the main controls of its movers, once
    for each mover; macros have theirs in the strip. names: other names than their own, by path.
    """
    found: list[View] = []
    beside: set[str] = set()
    for path in paths:
        found.append(control_view(patch, path, picture, names.get(path), audio=audio))
        for m in patch.movements:
            if m.target != path or m.lost:
                continue
            found.append(end_view(patch, m))
            mover = next(x for x in patch.movers if x.id == m.mover)
            if mover.id in beside:
                continue
            beside.add(mover.id)
            for name in _main_controls(mover):
                own = f"movers.{mover.id}.{name}"
                word = declaration(patch, own).name
                found.append(
                    control_view(patch, own, picture, name=f"{_short(patch, mover.name, path)} {word.lower()}")
                )
    return found
