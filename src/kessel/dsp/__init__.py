"""Compiled loops on arrays. They know arrays and numbers, never a patch."""

from .jit import QUANTUM, RATE

__all__ = ["QUANTUM", "RATE"]
