"""The web application: routes, view models, templates."""

from .app import create_app

__all__ = ["create_app"]
