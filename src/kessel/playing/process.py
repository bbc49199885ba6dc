"""What the process that plays does, from its start to its end."""

from __future__ import annotations

import contextlib
import logging
import signal
import socket
import sys
import threading
from collections.abc import Iterator
from functools import partial
from multiprocessing.connection import Connection
from pathlib import Path

import uvicorn

from ..desk import HELP, SOCKETS, Server, ServerLog, go_first
from ..engine import add_audio_resolver, load_rooms
from ..formats import find_audio
from ..processes import keep_loaded, lean_memory
from .app import player_app


def play_streams(wire: Connection, listener: socket.socket, folder: str, port: int) -> None:
    """Serve streams to pages of ``port`` until the wire ends. folder: where the library stores its audio."""
    lean_memory()
    add_audio_resolver(partial(find_audio, Path(folder)))
    # prepared before the first page comes
    load_rooms()
    go_first(HELP)
    # a stream's loops release the interpreter some sixty times a quantum and need it back at once each time
    sys.setswitchinterval(0.00005)
    keep_loaded()
    patches = Server(wire)
    logging.getLogger().addHandler(ServerLog(patches))
    config = uvicorn.Config(
        player_app(patches, port), log_config=None, access_log=False, ws_max_size=65536, lifespan="off"
    )
    server = _Server(config)

    def attend() -> None:
        patches.serve()
        server.should_exit = server.force_exit = True

    threading.Thread(target=attend, name="server", daemon=True).start()
    go_first(SOCKETS)
    server.run(sockets=[listener])


class _Server(uvicorn.Server):
    """A server that leaves signals alone: a Ctrl+C reaches all processes of a terminal, and Kessel ends this one."""

    @contextlib.contextmanager
    def capture_signals(self) -> Iterator[None]:
        """Ignore Ctrl+C."""
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        yield
