"""Drawn waves: single cycles stored in the patch, and the names of the built-in ones."""

from __future__ import annotations

import base64
import binascii
from collections.abc import Sequence
from typing import Annotated

from pydantic import AfterValidator, Field

from ..base import Id, Name, Part

FRAME_POINTS = 1024
MOST_FRAMES = 64
STOCK_PREFIX = "stock:"

STOCK: tuple[tuple[str, str], ...] = (
    ("round-low", "Round low"),
    ("round-firm", "Round firm"),
    ("first-three", "First three"),
    ("first-five", "First five"),
    ("odd-four", "Odd four"),
    ("octave-stack", "Octave stack"),
    ("fifth-stack", "Fifth stack"),
    ("thin-square", "Thin square"),
    ("soft-square", "Soft square"),
    ("step-four", "Four steps"),
    ("step-seven", "Seven steps"),
    ("stair-up", "Stair"),
    ("half-sine", "Half sine"),
    ("full-wave", "Both halves up"),
    ("bent-sine", "Bent sine"),
    ("leaning-saw", "Leaning saw"),
    ("double-saw", "Double saw"),
    ("triple-saw", "Triple saw"),
    ("notched-saw", "Notched saw"),
    ("dull-saw", "Dull saw"),
    ("bright-saw", "Bright saw"),
    ("spike", "Spike"),
    ("twin-spike", "Twin spike"),
    ("rubber", "Rubber"),
    ("reed-wide", "Wide reed"),
    ("reed-narrow", "Narrow reed"),
    ("open-mouth", "Open mouth"),
    ("round-mouth", "Round mouth"),
    ("flat-mouth", "Flat mouth"),
    ("nose", "Nose"),
    ("iron-gate", "Iron gate"),
    ("wet-rope", "Wet rope"),
    ("mill-wheel", "Mill wheel"),
    ("sluice", "Sluice"),
    ("silt", "Silt"),
    ("gravel", "Gravel"),
    ("slate", "Slate"),
    ("lantern", "Lantern"),
    ("undertow", "Undertow"),
    ("ebb", "Ebb"),
)
"""Slug and name of every wave that comes with Kessel."""

_STOCK_NAMES = dict(STOCK)


def _is_frame(text: str) -> str:
    try:
        data = base64.b64decode(text, validate=True)
    except (binascii.Error, ValueError):
        raise ValueError("a frame of a drawn wave is base64 text") from None
    if len(data) != 2 * FRAME_POINTS:
        raise ValueError(f"a frame of a drawn wave has {FRAME_POINTS} points of 16 bits, not {len(data)} bytes")
    return text


Frame = Annotated[str, Field(max_length=4 * FRAME_POINTS), AfterValidator(_is_frame)]
"""FRAME_POINTS little-endian 16-bit points, full scale 32000, as base64."""


class Wave(Part):
    """A drawn wave: one or more single cycles."""

    id: Id
    name: Name
    frames: list[Frame] = Field(min_length=1, max_length=MOST_FRAMES)


def wave_name(waves: Sequence[Wave], word: str) -> str:
    """The name of a wave of the patch or of a built-in one."""
    if word.startswith(STOCK_PREFIX):
        return _STOCK_NAMES.get(word.removeprefix(STOCK_PREFIX), word)
    return next((w.name for w in waves if w.id == word), word or "none")


def known_wave(waves: Sequence[Wave], word: str) -> bool:
    """Whether there is such a wave."""
    if word.startswith(STOCK_PREFIX):
        return word.removeprefix(STOCK_PREFIX) in _STOCK_NAMES
    return any(w.id == word for w in waves)
