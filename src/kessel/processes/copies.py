"""Work that is shared with a copy of this process.

The copy has all that this process has in memory, without its being sent (fork(2)); what it makes comes back through
shared memory (memfd_create(2)). It lasts for one piece of work. Linux only: elsewhere this process does everything.
"""

from __future__ import annotations

import contextlib
import ctypes
import gc
import logging
import mmap
import os
import pickle
import select
import signal
import struct
from collections.abc import Callable, Iterator, Sequence
from typing import Any, TypeVar

from .lean import give_back

_log = logging.getLogger(__name__)
T = TypeVar("T")
R = TypeVar("R")

MOST = 1000
"""Most items that are shared: their places fit into a pipe at once."""
_PLACE = struct.Struct("<H")
_LENGTH = struct.Struct("<Q")
_ASK_EVERY = 20
"""Milliseconds after which a wait asks whether it is still wanted."""
_PR_SET_PDEATHSIG = 1
_ALIGNED = 64


_own: list[int] = []
"""The process that is a copy, if this is one: it makes none itself."""


def can_share() -> bool:
    """Whether a copy of this process can be made and has a processor to itself."""
    if os.getpid() in _own:
        return False
    return hasattr(os, "memfd_create") and len(os.sched_getaffinity(0)) > 1


def share(items: Sequence[T], act: Callable[[T], R], given_up: Callable[[], bool] = bool) -> list[R]:
    """``act`` on every item, here and in a copy of this process; who is free takes the next one. Results in order.

    Of what the copy makes, only the results are kept, which are pickled. What it fails on is done here. While this
    process waits for it, ``given_up`` is asked: if it says so, the items that are missing are done here, where that is
    noticed. Raises what ``act`` raises here; the copy ends with it.
    """
    if not 2 <= len(items) <= MOST or not can_share():
        return [act(item) for item in items]
    found: dict[int, R] = {}
    with _places(len(items)) as places:
        try:
            copy = _Copy(lambda: {k: act(items[k]) for k in places})
        except OSError as problem:
            _log.warning("this process can't be copied: %s", problem)
            return [act(item) for item in items]
        with copy:
            for k in places:
                found[k] = act(items[k])
            if len(found) < len(items):
                found |= copy.result(given_up)
    return [found[k] if k in found else act(item) for k, item in enumerate(items)]


class _Places:
    """Places of a list, each of which is given once, in order, whichever process asks."""

    def __init__(self, pipe: int) -> None:
        self._pipe = pipe

    def __iter__(self) -> Iterator[int]:
        # a few bytes of a pipe are read at once or not at all
        while place := os.read(self._pipe, _PLACE.size):
            yield _PLACE.unpack(place)[0]


@contextlib.contextmanager
def _places(count: int) -> Iterator[_Places]:
    out, into = os.pipe()
    try:
        os.write(into, b"".join(_PLACE.pack(k) for k in range(count)))
        os.close(into)
        yield _Places(out)
    finally:
        os.close(out)


class _Copy:
    """A copy of this process that does one thing, and is ended with the block."""

    def __init__(self, act: Callable[[], Any]) -> None:
        """Make it. Raises OSError if the system does not."""
        self._act, self._ended = act, False
        self._memory = os.memfd_create("kessel")
        # only the copy holds the other end: it is closed when the copy ends, however that is
        self._lives, mark = os.pipe()
        # what is free here would be copied when it is used again
        give_back()
        parent = os.getpid()
        try:
            self._pid = os.fork()
        except OSError:
            os.close(self._lives)
            os.close(self._memory)
            raise
        finally:
            if os.getpid() == parent:
                os.close(mark)
        if not self._pid:
            with contextlib.suppress(BaseException):
                self._run(parent)
                os._exit(0)
            os._exit(1)

    def __enter__(self) -> _Copy:
        return self

    def _run(self, parent: int) -> None:
        """In the copy: act, and write the result."""
        _own.append(os.getpid())
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
        if os.getppid() != parent:
            raise ProcessLookupError
        # collecting would copy what is only read
        gc.disable()
        arrays: list[pickle.PickleBuffer] = []
        text = pickle.dumps(self._act(), 5, buffer_callback=arrays.append)
        parts = [memoryview(text), *(a.raw() for a in arrays)]
        lengths = [p.nbytes for p in parts]
        with open(self._memory, "wb", closefd=False) as file:
            file.write(_LENGTH.pack(len(parts)) + b"".join(_LENGTH.pack(n) for n in lengths))
            for part, place in zip(parts, _layout(lengths), strict=True):
                file.seek(place)
                file.write(part)

    def result(self, given_up: Callable[[], bool]) -> dict[int, Any]:
        """What it made; nothing if it failed, or if it is not waited for."""
        ends = select.poll()
        ends.register(self._lives)
        while not ends.poll(_ASK_EVERY):
            if given_up():
                return {}
        if self._end() != 0:
            return {}
        whole = memoryview(mmap.mmap(self._memory, os.fstat(self._memory).st_size))
        count = _LENGTH.unpack_from(whole)[0]
        lengths = [_LENGTH.unpack_from(whole, _LENGTH.size * (1 + k))[0] for k in range(count)]
        text, *arrays = (whole[at : at + n] for at, n in zip(_layout(lengths), lengths, strict=True))
        found: dict[int, Any] = pickle.loads(text, buffers=arrays)
        return found

    def _end(self) -> int:
        """Wait for its end. Returns 0 if it did what it was asked for."""
        self._ended = True
        return os.waitstatus_to_exitcode(os.waitpid(self._pid, 0)[1])

    def __exit__(self, *_: object) -> None:
        if not self._ended:
            os.kill(self._pid, signal.SIGKILL)
            self._end()
        os.close(self._lives)
        os.close(self._memory)


def _layout(lengths: list[int]) -> list[int]:
    """Where parts of such lengths lie, behind the table of their lengths. Arrays are aligned as new ones are."""
    places, at = [], _LENGTH.size * (1 + len(lengths))
    for n in lengths:
        at = -(-at // _ALIGNED) * _ALIGNED
        places.append(at)
        at += n
    return places
