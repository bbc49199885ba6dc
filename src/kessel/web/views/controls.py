"""Controls as the screen shows them, read from their one declaration."""

from __future__ import annotations

from dataclasses import dataclass

from ...desk import Picture, end_of, far_end, value_shown
from ...patch import Choice, Control, Movement, Patch, declaration, get, title


@dataclass(frozen=True)
class Rule:
    """A number on a ruled scale. ``at`` and ``travel`` are places on it in per cent."""

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

    @property
    def id(self) -> str:
        """Of the element."""
        return "c-" + self.path.replace(".", "-")


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
        """Of the element."""
        return "c-" + self.path.replace(".", "-")

    @property
    def chosen(self) -> str:
        """The present word."""
        return next((value for value, _, on in self.options if on), "")


View = Rule | Words

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
    "stepped chance": "Chance",
}


def _label(word: str) -> str:
    return _SHORT.get(word, word[:1].upper() + word[1:])


def mover_name(patch: Patch, movement: Movement) -> str:
    """Name of a movement's mover."""
    return next(m.name for m in patch.movers if m.id == movement.mover)


def control_view(patch: Patch, path: str, picture: Picture | None = None, name: str | None = None) -> View:
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
        )
    if isinstance(found, Choice):
        options = tuple((o, _label(o), o == value) for o in found.options)
    else:
        options = (("on", "On", bool(value)), ("off", "Off", not value))
    return Words(path=path, name=shown, full=full, options=options, help=found.help)


def _travel(found: Control, path: str, picture: Picture | None) -> tuple[float, float] | None:
    reach = picture.travel.get(path) if picture is not None else None
    if reach is None:
        return None
    low, high = (100.0 * found.position(found.from_scale(x)) for x in reach)
    return round(low, 2), round(max(high - low, 0.8), 2)


def end_view(patch: Patch, movement: Movement) -> Rule:
    """The far end of a movement, on the moved control's own rule."""
    path = f"movements.{movement.id}.amount"
    found = far_end(patch, path)
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
        name=f"→ {mover}",
        full=f"{title(patch, movement.target)} moved to{both} by {mover}",
        text=shown.text,
        at=round(100.0 * (shown.at or 0.0), 2),
        help=f"Where {mover} takes {control.name.lower()}{both}: drag, or type the value it goes to.",
        travel=(round(100 * low, 2), round(max(100 * (high - low), 0.8), 2)),
        moved_by="",
        end=True,
    )


def with_ends(patch: Patch, paths: list[str], picture: Picture | None) -> list[View]:
    """Views of controls, each followed by the far ends of what moves it."""
    found: list[View] = []
    for path in paths:
        found.append(control_view(patch, path, picture))
        found.extend(end_view(patch, m) for m in patch.movements if m.target == path)
    return found
