"""Building blocks of the editor's tabs."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, TypeVar

from ....desk import Picture, WaveOffer
from ....patch import PARTS, Layer, Part, Patch, shown_controls
from ..controls import Audio, Picker, View
from .grips import Grip
from .movement_list import MovementList, MovementRow

T = TypeVar("T")


@dataclass(frozen=True)
class PanelContext:
    """What a tab shows: of which layer, which part, which group of its controls, which frame.

    shaping: the workspace draws the part itself.
    """

    patch: Patch
    layer: Layer
    picture: Picture | None
    item: str
    group: str = ""
    frame: int = 0
    audio: Audio = ()
    sort: str = ""
    only: str = ""
    what: str = ""
    shaping: bool = False
    offer: WaveOffer | None = None


@dataclass(frozen=True)
class Chart:
    """The vowel chart: paths of its two controls, the position in per cent, the vowels, and the path of moved
    positions.
    """

    mouth: str
    tongue: str
    x: float
    y: float
    words: tuple[tuple[float, float, str], ...]
    line: str
    name: str
    name_path: str


@dataclass(frozen=True)
class Chip:
    """One part that can be selected, with its path."""

    id: str
    name: str
    path: str
    on: bool
    idle: bool = False
    mark: str = ""

    def resting(self) -> Chip:
        """The chip of a part that has no effect yet."""
        return replace(self, idle=True)


@dataclass(frozen=True)
class Drawing:
    """A small drawing of 180 by 60: lines, a caption, and bars (position, height) in per cent.

    ``source``: the source that it follows while controls are dragged. grips: what can be dragged on it.
    """

    title: str
    caption: str
    lines: tuple[str, ...]
    copper: bool = False
    bars: tuple[tuple[float, float], ...] = ()
    source: str = ""
    grips: tuple[Grip, ...] = ()


@dataclass(frozen=True)
class Act:
    """A button: where it posts what, its label, its tip. hatch: what it is drawn as; chosen: it is the present one."""

    to: str
    values: dict[str, Any]
    label: str
    tip: str
    hatch: str = ""
    chosen: bool = False


@dataclass(frozen=True)
class OfferView:
    """A file that a wave is about to be cut from: its outline, the cut parts (from, width) in per cent, the frames.

    ways: slug, words, whether it is this one. length: of the frames in samples, if it can be typed.
    """

    name: str
    about: str
    outline: str
    cuts: tuple[tuple[float, float], ...]
    frames: tuple[str, ...]
    ways: tuple[tuple[str, str, bool], ...]
    length: str


@dataclass(frozen=True)
class WaveView:
    """A drawn wave: the cycle as a line, harmonics (level and phase in per cent), frames. foot, head: levels in dB."""

    path: str
    name: str
    own: bool
    name_path: str
    frame: int
    count: int
    cycle: str
    points: str
    bars: tuple[tuple[int, float, float, str], ...]
    foot: float
    head: float
    frames: tuple[tuple[int, str, bool], ...]
    pick: Picker
    position: View
    touches: tuple[tuple[str, str], ...]
    playing: bool
    source: str
    shape: str
    offer: OfferView | None = None


@dataclass(frozen=True)
class ActPick:
    """A list whose entries are actions. ``field`` of the form receives the picked value."""

    to: str
    values: dict[str, str]
    field: str
    label: str
    options: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Adding:
    """Kinds that can be added at a path, by family."""

    path: str
    label: str
    groups: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]


@dataclass
class Panel:
    """The content of a tab."""

    chips: list[Chip] = field(default_factory=list)
    adders: list[tuple[str, str, str]] = field(default_factory=list)
    drawing: Drawing | None = None
    views: list[View] = field(default_factory=list)
    rows: list[str] = field(default_factory=list)
    empty: str = ""
    removable: list[tuple[str, str]] = field(default_factory=list)
    groups: list[tuple[str, str, bool]] = field(default_factory=list)
    acts: list[Act] = field(default_factory=list)
    imports: bool = False
    wave: WaveView | None = None
    path: str = ""
    name_path: str = ""
    name: str = ""
    picks: list[ActPick] = field(default_factory=list)
    chart: Chart | None = None
    movements: MovementList | None = None
    moves: list[MovementRow] = field(default_factory=list)
    goto: tuple[str, str] | None = None
    adding: list[Adding] = field(default_factory=list)
    whats: list[tuple[str, str, bool]] = field(default_factory=list)
    ordered: bool = False
    dragged: bool = False
    place: str = ""


def adders(path: str, *kinds: str) -> list[tuple[str, str, str]]:
    """Buttons that add parts to a list."""
    return [(path, kind, PARTS[kind].label) for kind in kinds]


def fields(part: Part, owner: Layer | None = None) -> list[str]:
    """Names of the controls of a part that have an effect now. ``owner``: the layer of a source or a stage."""
    return list(shown_controls(part, owner))


def chosen(parts: list[T], item: str) -> T | None:
    """The part of this id, or the first."""
    return next((p for p in parts if getattr(p, "id", "") == item), parts[0] if parts else None)


def chips(parts: list[Any], base: str, on: object) -> list[Chip]:
    """One chip per part."""
    return [Chip(p.id, getattr(p, "name", p.id), f"{base}.{p.id}", p is on) for p in parts]


def keeping(kind: str, path: str) -> list[Act]:
    """Buttons that copy a part, and store it on the part shelf."""
    return [
        Act("copy", {"kind": kind, "path": path}, "Copy", "Copy, to paste here or into another patch"),
        Act("keep", {"kind": kind, "path": path}, "Keep", "Store it on the part shelf"),
    ]
