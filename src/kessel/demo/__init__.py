"""The demo set: patches for a night in a converted tide mill."""

from __future__ import annotations

import json
from dataclasses import dataclass
from importlib import resources
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..patch import Patch

SET_NAME = "Tide Mill"

__all__ = ["SET_NAME", "DemoCard", "demo_cards", "demo_patch", "demo_patches"]

_SLUGS = (
    "undertow",
    "sluice-gate",
    "slack-water",
    "mud-lantern",
    "ebb-motor",
    "salt-press",
    "reed-weir",
    "long-reach",
    "eel-trap",
    "mill-race",
)


@dataclass(frozen=True)
class DemoCard:
    """What a list says of a demo patch."""

    slug: str
    name: str
    tempo: float
    root: str
    scale: str
    note: str


def demo_cards() -> list[DemoCard]:
    """All demo patches as a list says them, in the order of the set. Loads no patch: a list takes no time."""
    found = []
    for slug in _SLUGS:
        p = json.loads(_data(slug))
        found.append(DemoCard(slug, p["name"], p["tempo"], p["phrase"]["root"], p["phrase"]["scale"], p["note"]))
    return found


def demo_patch(slug: str) -> Patch | None:
    """One demo patch, or None when there is none of that slug."""
    from ..formats import load_patch

    return load_patch(_data(slug)) if slug in _SLUGS else None


def demo_patches() -> dict[str, Patch]:
    """All demo patches by slug, in the order of the set."""
    return {slug: patch for slug in _SLUGS if (patch := demo_patch(slug)) is not None}


def _data(slug: str) -> bytes:
    return resources.files(__package__).joinpath(f"{slug}.json").read_bytes()
