"""The demo set: patches for a night in a converted tide mill."""

from __future__ import annotations

from importlib import resources

from ..formats import load_patch
from ..patch import Patch

SET_NAME = "Tide Mill"

__all__ = ["SET_NAME", "demo_patch", "demo_patches"]

_SLUGS = ("undertow", "sluice-gate", "slack-water", "mud-lantern", "ebb-motor", "salt-press", "reed-weir")


def demo_patch(slug: str) -> Patch | None:
    """One demo patch, or None when there is none of that slug."""
    if slug not in _SLUGS:
        return None
    return load_patch(resources.files(__package__).joinpath(f"{slug}.json").read_bytes())


def demo_patches() -> dict[str, Patch]:
    """All demo patches by slug, in the order of the set."""
    return {slug: patch for slug in _SLUGS if (patch := demo_patch(slug)) is not None}
