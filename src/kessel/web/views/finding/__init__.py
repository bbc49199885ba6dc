"""The search of a workspace, and where what it finds is shown."""

from .finder import finder, shown_at

__all__ = ["finder", "shown_at"]
