"""The library."""

from .shelf import card_view, shelf_view

__all__ = ["card_view", "shelf_view"]
