"""The Movement workspace."""

from .movement import CurveView, curve_view, moment_view, moving_view, ruler_of

__all__ = ["CurveView", "curve_view", "moment_view", "moving_view", "ruler_of"]
