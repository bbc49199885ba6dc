"""The command. It answers without a server running."""

from .command import main

__all__ = ["main"]
