"""Chains of effects, branches within them, and returns."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from pydantic import Field, model_validator

from ..base import Id, Name, Part, distinct
from ..control_path import ControlPath
from ..controls import choice, control, toggle
from ..kinds import Kind, union_of
from .delays import Chorus, Echo, Flanger, Phaser, Space, Thicken
from .dynamics import CeilingItem, Compressor, EffectPart, Expander, Multiband, split
from .kinds import EFFECTS, STAGES
from .stages import AllpassRow, Comb, Distortion, Eq, Filter, Ladder, Vowel
from .starting_settings import STARTING
from .stereo import AutoPan, BeatShape, Cabinet, FrequencyShift, Vocoder, Width

if TYPE_CHECKING:
    # the kinds that code refers to by class; a new kind is not added here
    Stage = Filter | Ladder | Comb | Vowel | AllpassRow | Distortion
    PlainItem = (
        Stage
        | Eq
        | Cabinet
        | Vocoder
        | FrequencyShift
        | Compressor
        | Expander
        | Multiband
        | CeilingItem
        | BeatShape
        | Chorus
        | Thicken
        | Phaser
        | Flanger
        | Echo
        | Space
        | Width
        | AutoPan
    )
else:
    Stage = union_of(STAGES)
    PlainItem = union_of(EFFECTS)

MOST_RETURNS = 4


class BranchPath(Part):
    """One path of a branch: its own items, a level and a polarity."""

    id: Id
    name: Name
    mute: bool = toggle("Mute", False, help="Removes this path from the sum.")
    solo: bool = toggle("Solo", False, help="Play only the paths that are soloed.")
    level: float = control("Level", "dB", -72, 24, 0, moves=True, off_low="off", help="Level of this path in the sum.")
    polarity: Literal["normal", "inverted"] = choice(
        "Polarity", "normal", help="Inverted reverses the polarity of this path."
    )
    items: list[PlainItem] = Field(default_factory=list, max_length=12)

    @model_validator(mode="after")
    def _hangs_together(self) -> BranchPath:
        distinct(list(self.items), "chain items")
        return self


class Branch(EffectPart):
    """Splits the signal into copies or bands with chains of their own, and sums them."""

    kind: Literal["branch"] = "branch"
    into: Literal["copies", "bands"] = choice(
        "Split into",
        "bands",
        help="Copies: every path gets the whole signal. Bands: each path gets its own frequency band.",
    )
    split_1: float = split(1, 160, "path")
    split_2: float = split(2, 2200, "path")
    split_3: float = split(3, 7000, "path")
    paths: list[BranchPath] = Field(
        default_factory=lambda: [BranchPath(id="low", name="Low"), BranchPath(id="high", name="High")],
        min_length=2,
        max_length=4,
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> Branch:
        distinct(list(self.paths), "paths")
        return self


BRANCH = Kind(Branch, "Branch", family="Routing", starting=STARTING["branch"])
CHAIN_KINDS: tuple[Kind, ...] = (*EFFECTS, BRANCH)

if TYPE_CHECKING:
    ChainItem = PlainItem | Branch
else:
    ChainItem = union_of(CHAIN_KINDS)


def within(items: Iterable[Any]) -> Iterator[Any]:
    """The items of a chain, and those in the paths of its branches."""
    for item in items:
        yield item
        for mode in item.paths if isinstance(item, Branch) else ():
            yield from mode.items


class Send(Part):
    """The level of a send to a return. Its id is the return's."""

    in_titles: ClassVar[str] = "{name}"
    id: Id
    level: float = control("Send", "dB", -72, 12, -72, moves=True, off_low="off", help="Level sent to the return.")

    def name_of(self, path: ControlPath) -> tuple[str, ...]:
        """A send is named after its return."""
        return ("returns", self.id)


class Return(Part):
    """A chain that layers and the worked path are sent to."""

    id: Id
    name: Name
    on: bool = toggle("On", True, help="Switches the return on or off.")
    level: float = control("Level", "dB", -72, 12, 0, moves=True, off_low="off", help="Level of the return in the sum.")
    low_cut: float = control(
        "Low cut",
        "Hz",
        20,
        2000,
        150,
        taper="log",
        moves=True,
        off_low="off",
        help="High-pass filter before the return: the lows stay clean and in the middle.",
    )
    chain: list[ChainItem] = Field(default_factory=list, max_length=12)

    @model_validator(mode="after")
    def _hangs_together(self) -> Return:
        distinct(list(self.chain), "chain items")
        return self


def built_in_returns() -> list[Return]:
    """The two returns of a new patch. Their input is high-passed."""
    return [
        Return(id="echo", name="Echo", chain=[Echo(id="echo", name="Echo", mix=100.0, low_cut=20.0)]),
        Return(id="space", name="Space", chain=[Space(id="space", name="Space", mix=100.0, low_cut=20.0)]),
    ]


def built_in_sends() -> list[Send]:
    """Silent sends to both returns."""
    return [Send(id="echo"), Send(id="space")]
