"""The loop of a process: one job after the other."""

from __future__ import annotations

import logging
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any

from .wire import Failed, Reply

Tell = Callable[[Any], None]
_log = logging.getLogger(__name__)


def serve_jobs(wire: Connection, act: Callable[[Any, Tell], Any], expected: tuple[type[Exception], ...]) -> None:
    """Do jobs until the wire closes. ``act`` takes a job and a function for progress; its result is the reply.

    ``expected`` exceptions are replied as they are. Of all others, the reply carries the type and the traceback for the
    log.
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
