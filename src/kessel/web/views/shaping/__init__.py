"""The Shaping workspace."""

from .shaping import shaped_curve, shaping_view

__all__ = ["shaped_curve", "shaping_view"]
