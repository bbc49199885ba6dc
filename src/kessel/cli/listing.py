"""The command that lists the demo patches. It loads nothing else."""

from __future__ import annotations

import argparse

from ..demo import demo_cards
from ..signs import with_signs


def list_patches(given: argparse.Namespace) -> int:
    """One patch a line, slug first."""
    for card in demo_cards():
        key = f"{with_signs(card.root)} {card.scale}"
        print(f"{card.slug:<14} {card.name:<14} {card.tempo:>5.1f} BPM  {key:<10} {card.note}")
    return 0
