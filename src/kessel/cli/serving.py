"""Commands that serve, and restore-demo."""

from __future__ import annotations

import argparse
import os
import signal
import socket
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

import uvicorn

from ..library import Library, LibraryProblem, NotKept
from ..processes import keep_loaded, lean_memory, prepare
from .command import Problem
from .logs import write_logs

if TYPE_CHECKING:
    from ..desk import Desk, LiveProcess


def _library(folder: Path) -> Library:
    """The library in a folder, before anything large is loaded. Raises Problem."""
    try:
        return Library(folder)
    except LibraryProblem as problem:
        raise Problem(" ".join(str(problem).split())) from None


def _desk(folder: Path, library: Library) -> Desk:
    """A desk on a library, with all loops compiled."""
    from ..desk import Desk
    from .compiling import compile_loops

    compile_loops()
    return Desk(folder, library)


def _kept(write: Callable[[], None]) -> None:
    try:
        write()
    except NotKept as problem:
        raise Problem(str(problem)) from None


def _listening(port: int) -> socket.socket:
    if not 0 <= port <= 65535:
        raise Problem(f"--port goes from 0 to 65535, not {port}")
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind(("127.0.0.1", port))
    except OSError as problem:
        listener.close()
        raise Problem(f"port {port} can't be used ({problem.strerror}): give another with --port") from None
    listener.listen(128)
    return listener


class _Server(uvicorn.Server):
    """A server that ends waiting requests when it shuts down."""

    def __init__(self, config: uvicorn.Config, desk: Desk, live: LiveProcess) -> None:
        super().__init__(config)
        self._desk, self._live = desk, live

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        """Stop playing and measuring first."""
        self._live.close()
        self._desk.render_worker.close()
        await super().shutdown(sockets)


def serve(given: argparse.Namespace, seed: bool = False) -> int:
    """Serve the data folder until interrupted."""
    lean_memory()
    folder = given.data.expanduser()
    listener = _listening(given.port)
    library = _library(folder)
    port = listener.getsockname()[1]
    from .compiling import is_first_use

    if is_first_use():
        from .first_start import shelves_of, wait_for_loops

        print(f"kessel: getting ready at http://127.0.0.1:{port}/, once", file=sys.stderr, flush=True)
        wait_for_loops(listener, shelves_of(library, seed))
    # what the processes need is loaded beside what the server needs
    prepare("kessel.playing", "kessel.worker")
    desk = _desk(folder, library)
    write_logs(folder, given.verbose)
    if desk.library.lock is not None:
        desk.library.lock.say(f"the Kessel at http://127.0.0.1:{port}/ (process {os.getpid()})")
    if seed:
        _kept(desk.seed_demo)
    desk.render_worker.start()
    desk.intake.start()
    from ..desk import LiveProcess
    from ..playing import play_streams
    from ..web import create_app

    live = LiveProcess(desk.open, play_streams, str(folder), port)
    live.start()
    # freeze what is loaded by now: collecting all of it would hold requests up for 50 ms
    keep_loaded()
    print(f"Kessel is at http://127.0.0.1:{port}/ (data in {given.data}; stop with Ctrl+C)", flush=True)
    config = uvicorn.Config(create_app(desk, live.port), log_config=None, access_log=False, ws_max_size=65536)
    # uvicorn raises the signal again when it is done: clean up as after Ctrl+C
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    _Server(config, desk, live).run(sockets=[listener])
    return 0


def demo(given: argparse.Namespace) -> int:
    """Add the demo set once and serve it."""
    return serve(given, seed=True)


def restore_demo(given: argparse.Namespace) -> int:
    """Restore the demo set as shipped."""
    folder = given.data.expanduser()
    desk = _desk(folder, _library(folder))
    try:
        _kept(desk.restore_demo)
    finally:
        desk.close()
    print("The demo set is as it was shipped; your own patches are untouched.")
    return 0
