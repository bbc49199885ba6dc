"""Routes, view models, templates. Knows the desk and what is below it."""

from .app import create_app

__all__ = ["create_app"]
