"""Every key of a range measured in the background, a few at a time, so that other jobs come in between."""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict

from ...checks import Limits
from ...checks.playback import AT_ONCE, FIRST, LAST, KeyFigures
from ...patch import Patch
from ...worker import JobReply
from .render_worker import RenderWorker

_KEPT = 6
"""Number of patches whose key sweeps stay cached, so that an undo finds them again."""


def content_of(patch: Patch) -> str:
    """A digest of everything in a patch that its keys depend on: not its notes, name or backing."""
    plain = patch.model_copy(
        update={"phrase": patch.phrase.model_copy(update={"notes": [], "bend": [], "wheel": [], "pressure": []})}
    )
    text = plain.model_dump_json(exclude={"name", "note", "backing", "pins", "stances"})
    return hashlib.blake2b(text.encode(), digest_size=12).hexdigest()


class KeySweep:
    """The key measurements of one open patch. Thread-safe."""

    def __init__(self, render_worker: RenderWorker) -> None:
        self._workbench = render_worker
        self._news = threading.Condition()
        self._kept: OrderedDict[str, dict[int, KeyFigures]] = OrderedDict()
        self._running: str | None = None
        self._job: int | None = None
        self._left: list[list[int]] = []
        self._count = 0
        self.problem: str | None = None

    def keys_of(self, patch: Patch) -> list[KeyFigures]:
        """The known keys of a patch, lowest first."""
        with self._news:
            found = self._kept.get(content_of(patch), {})
            return [found[k] for k in sorted(found)]

    def running(self, patch: Patch) -> bool:
        """Whether this patch's keys are being measured."""
        with self._news:
            return self._running == content_of(patch)

    @property
    def progress(self) -> tuple[int, int]:
        """Keys that are done, of how many."""
        with self._news:
            return self._count - sum(len(x) for x in self._left), self._count

    def start(self, patch: Patch, limits: Limits, first: int = FIRST, last: int = LAST) -> None:
        """Measure the unknown keys of a range. A sweep of another patch is cancelled."""
        with self._news:
            self._stop()
            word = content_of(patch)
            found = self._kept.setdefault(word, {})
            self._kept.move_to_end(word)
            while len(self._kept) > _KEPT:
                self._kept.popitem(last=False)
            wanted = [k for k in range(first, last + 1) if k not in found]
            self._left = [wanted[i : i + AT_ONCE] for i in range(0, len(wanted), AT_ONCE)]
            self._count = len(wanted)
            self.problem = None
            self._running = word if wanted else None
        self._next(word, patch, limits)

    def cancel(self) -> None:
        """Cancel. Known keys stay."""
        with self._news:
            self._stop()
            self._news.notify_all()

    def _stop(self) -> None:
        if self._job is not None:
            self._workbench.give_up(self._job)
        self._running = self._job = None

    def _next(self, word: str, patch: Patch, limits: Limits) -> None:
        with self._news:
            if self._running != word:
                return
            if not self._left:
                self._running = self._job = None
                self._news.notify_all()
                return
            keys = self._left[0]

        def hear(told: JobReply) -> None:
            with self._news:
                if self._running != word:
                    return
                if told.problem is not None:
                    self.problem = told.problem
                    self._running = None
                else:
                    self._kept[word] |= {k.pitch: k for k in told.found}
                    self._left.pop(0)
                self._news.notify_all()
            self._next(word, patch, limits)

        job = self._workbench.ask_for(patch, limits, "keys", hear, keys=keys)
        with self._news:
            if self._running == word:
                self._job = job

    def wait(self, patch: Patch, known: int, seconds: float) -> None:
        """Wait until more keys than ``known`` are there, or nothing runs."""
        word = content_of(patch)
        with self._news:
            self._news.wait_for(lambda: self._running != word or len(self._kept.get(word, {})) > known, seconds)
