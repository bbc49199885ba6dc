"""Live streams: the running engine, what is played on it, and what is heard through it."""

from .messages import SLOW
from .played import KeptPatch, PlayedPatch
from .process import LiveProcess
from .remote import RemotePatch, Server, ServerLog
from .stream import LiveStream, go_first

__all__ = [
    "SLOW",
    "KeptPatch",
    "LiveProcess",
    "LiveStream",
    "PlayedPatch",
    "RemotePatch",
    "Server",
    "ServerLog",
    "go_first",
]
