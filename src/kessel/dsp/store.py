"""A bounded cache for tables, responses, recordings and renderings."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import fields, is_dataclass
from functools import wraps
from typing import Any, ParamSpec, TypeVar
from weakref import WeakValueDictionary

import numpy as np

P = ParamSpec("P")
R = TypeVar("R")

MEGABYTES = 32
"""Size of the store of one process."""
_SMALL = 64


def weight(value: Any) -> int:
    """Bytes of all arrays in a value, through dataclasses, dicts and sequences."""
    if isinstance(value, np.memmap):
        return _SMALL
    if isinstance(value, np.ndarray):
        return _SMALL + int(value.nbytes)
    parts: Iterable[Any] = ()
    if is_dataclass(value):
        parts = (getattr(value, f.name) for f in fields(value))
    elif isinstance(value, dict):
        parts = value.values()
    elif isinstance(value, (tuple, list)):
        parts = value
    return _SMALL + sum(weight(p) for p in parts)


class Store:
    """Values by key; the least recently used are dropped first. Thread-safe.

    What is used within ``holding`` stays until the end of the next such block, even beyond the limit. A dropped value
    is found again while somebody else refers to it.
    """

    def __init__(self, megabytes: float) -> None:
        self.room = int(megabytes * 1024 * 1024)
        self.held = 0
        self._kept: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._elsewhere: WeakValueDictionary[Hashable, Any] = WeakValueDictionary()
        self._lock = threading.Lock()
        self._fresh: set[Hashable] = set()
        self._used: set[Hashable] = set()
        self._begun = False

    @contextmanager
    def holding(self) -> Iterator[None]:
        """Hold on to what this block uses, and to what the block before it used."""
        with self._lock:
            self._fresh, self._used, self._begun = self._used, set(), True
        try:
            yield
        finally:
            with self._lock:
                self._begun = False

    def has(self, key: Hashable) -> bool:
        """Whether there is a value under ``key``."""
        with self._lock:
            return key in self._kept or key in self._elsewhere

    def items(self) -> dict[Hashable, Any]:
        """What is stored now, by key."""
        with self._lock:
            return {key: value for key, (value, _) in self._kept.items()}

    def get(self, key: Hashable, make: Callable[[], R]) -> R:
        """The value under ``key``; it is made if it is missing. None is not stored."""
        with self._lock:
            if self._begun:
                self._used.add(key)
            found: R | None = self._kept[key][0] if key in self._kept else self._elsewhere.get(key)
            if found is not None:
                self._keep(key, found)
                return found
        made = make()
        if made is not None:
            with self._lock:
                self._keep(key, made)
        return made

    def _keep(self, key: Hashable, value: Any) -> None:
        if key in self._kept:
            self._kept.move_to_end(key)
            return
        with suppress(TypeError):
            self._elsewhere[key] = value
        bytes_ = weight(value)
        if bytes_ > self.room and not self._begun:
            return
        self._kept[key] = value, bytes_
        self.held += bytes_
        while self.held > self.room:
            old = next((k for k in self._kept if k not in self._fresh and k not in self._used), None)
            if old is None:
                break
            self._drop(old)

    def _drop(self, key: Hashable) -> None:
        self.held -= self._kept.pop(key)[1]

    def forget(self, named: Callable[[Hashable], bool]) -> None:
        """Drop the values whose keys ``named`` accepts."""
        with self._lock:
            for key in [k for k in self._kept if named(k)]:
                self._drop(key)
            for key in [k for k in self._elsewhere if named(k)]:
                self._elsewhere.pop(key, None)


KEPT = Store(MEGABYTES)
"""The store of this process."""


def remembered(make: Callable[P, R]) -> Callable[P, R]:
    """Cache the results of a function by its hashable arguments. Results are shared: do not write to them."""

    @wraps(make)
    def kept(*words: P.args, **named: P.kwargs) -> R:
        return KEPT.get((make, words, tuple(named.items())), lambda: make(*words, **named))

    return kept
