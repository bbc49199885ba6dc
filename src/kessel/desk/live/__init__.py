"""Live streams: the running engine, what is played on it, and what is heard through it."""

from .messages import SLOW
from .stream import LiveStream, go_first

__all__ = ["SLOW", "LiveStream", "go_first"]
