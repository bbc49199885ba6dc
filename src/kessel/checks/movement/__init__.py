"""Checks of movement: whether it is audible, and whether it closes at the loop seam."""

from .audible import idle_movement, restarts, short_notes
from .loop_seam import loop_jump

__all__ = ["idle_movement", "loop_jump", "restarts", "short_notes"]
