"""Problems of files as one line that says what to do, whatever the underlying reader raised."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from contextlib import contextmanager

from ..patch import visible

_log = logging.getLogger(__name__)


class FileProblem(ValueError):
    """A file that can't be read. Its text says what to do."""


def file_name(name: str | None) -> str:
    """A file's name, fit for display and storage: 60 characters at most."""
    return visible(name or "")[:60].strip() or "the file"


def shown(text: str) -> str:
    """Text from a file, fit to be printed on one line."""
    plain = " ".join(text.encode("utf-8", "replace").decode("utf-8").split())
    return "".join(c if c.isprintable() else "?" for c in plain)


@contextmanager
def reading(kind: type[FileProblem], otherwise: str) -> Iterator[None]:
    """Turn any exception of the block into a problem of one kind. Problems of that family pass.

    otherwise: the text for a file that the reader gave up on.
    """
    try:
        yield
    except FileProblem as problem:
        if isinstance(problem, kind):
            raise
        raise kind(str(problem)) from problem
    except (MemoryError, OverflowError):
        raise kind("the file needs more memory than one may take: give a smaller one") from None
    except Exception as problem:
        _log.info("a file was refused: %s: %s", type(problem).__name__, problem)
        raise kind(otherwise) from problem
