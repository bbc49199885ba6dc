"""Logging: a rotating file in the data folder, and stderr on request."""

from __future__ import annotations

import logging
import sys
import threading
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType

LOG = "kessel.log"
_BYTES, _FILES = 1_000_000, 3
_SHAPE = "%(asctime)s %(process)d %(levelname)s %(name)s: %(message)s"


def write_logs(folder: Path, verbose: bool) -> None:
    """Log to the folder from now on, and to stderr if ``verbose``."""
    root = logging.getLogger()
    root.setLevel(logging.INFO if verbose else logging.WARNING)
    handlers: list[logging.Handler] = []
    try:
        handlers.append(RotatingFileHandler(folder / LOG, maxBytes=_BYTES, backupCount=_FILES, encoding="utf-8"))
    except OSError:
        verbose = True
    if verbose:
        handlers.append(logging.StreamHandler(sys.stderr))
    for handler in handlers:
        handler.setFormatter(logging.Formatter(_SHAPE))
        root.addHandler(handler)
    # whoever edits is told about a full disk; do not repeat it for every line that cannot be logged
    logging.raiseExceptions = verbose
    threading.excepthook = _thread_failed
    sys.excepthook = _failed


def _thread_failed(given: threading.ExceptHookArgs) -> None:
    name = given.thread.name if given.thread is not None else "a thread"
    what = (given.exc_type, given.exc_value or given.exc_type(), given.exc_traceback)
    logging.getLogger(__name__).error("%s failed", name, exc_info=what)


def _failed(kind: type[BaseException], problem: BaseException, trace: TracebackType | None) -> None:
    logging.getLogger(__name__).critical("Kessel failed", exc_info=(kind, problem, trace))
    print(f"kessel: a fault ({kind.__name__}); it is in the log", file=sys.stderr)
