"""The command line. It works without a running server."""

from .command import main

__all__ = ["main"]
