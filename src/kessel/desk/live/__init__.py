"""Live streams: the running engine, what is played on it, and what is heard through it."""

from .first import HELP, SOCKETS, go_first
from .lead import Lead
from .messages import SLOW
from .played import KeptPatch, PlayedPatch
from .process import LiveProcess
from .remote import RemotePatch, Server, ServerLog
from .stream import LiveStream

__all__ = [
    "HELP",
    "SLOW",
    "SOCKETS",
    "KeptPatch",
    "Lead",
    "LiveProcess",
    "LiveStream",
    "PlayedPatch",
    "RemotePatch",
    "Server",
    "ServerLog",
    "go_first",
]
