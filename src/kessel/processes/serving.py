"""The side of the process: one job after the other."""

from __future__ import annotations

import logging
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any

from .wire import Failed, Reply

Tell = Callable[[Any], None]
_log = logging.getLogger(__name__)


def serve_jobs(wire: Connection, act: Callable[[Any, Tell], Any], expected: tuple[type[Exception], ...]) -> None:
    """Do jobs until the wire closes. ``act`` gets a job and how to tell of its progress; what it returns is replied.

    ``expected`` exceptions are replied as they are; of all others the reply names the kind only, and who asked logs
    what came with it.
    """
    while True:
        try:
            number, job = wire.recv()
        except (EOFError, OSError, KeyboardInterrupt):
            return

        def tell(value: Any, number: int = number) -> None:
            wire.send(Reply(number, value, last=False))

        try:
            reply = Reply(number, act(job, tell))
        except expected as problem:
            reply = Reply(number, error=problem)
        except (BrokenPipeError, KeyboardInterrupt):
            return
        except Exception as problem:
            _log.exception("a job failed: %s", type(job).__name__)
            reply = Reply(number, error=Failed(type(problem).__name__))
        try:
            wire.send(reply)
        except OSError:
            return
