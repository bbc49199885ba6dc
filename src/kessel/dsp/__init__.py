"""Compiled loops on arrays. They know arrays and numbers, never a patch."""

from .jit import QUANTUM, RATE, compiled_folder

__all__ = ["QUANTUM", "RATE", "compiled_folder"]
