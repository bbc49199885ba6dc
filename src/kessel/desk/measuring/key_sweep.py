"""Every key of a range measured in the background, a few at a time, so that other jobs come in between."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from collections.abc import Callable

from ...checks import Limits
from ...checks.playback import AT_ONCE, FIRST, LAST, KeyFigures
from ...patch import Patch
from ...worker import JobReply
from .render_worker import RenderWorker
from .stepped_work import Step, SteppedWork, Store

_STEP = 2 * AT_ONCE
"""Keys of one step: two batches, which are rendered side by side."""
_KEPT = 6
"""Number of patches whose key sweeps stay cached, so that an undo finds them again."""


def content_of(patch: Patch) -> str:
    """A digest of everything in a patch that its keys depend on: not its notes, name or backing."""
    plain = patch.model_copy(
        update={"phrase": patch.phrase.model_copy(update={"notes": [], "bend": [], "wheel": [], "pressure": []})}
    )
    text = plain.model_dump_json(exclude={"name", "note", "backing", "pins", "bindings", "stances"})
    return hashlib.blake2b(text.encode(), digest_size=12).hexdigest()


class KeySweep:
    """The key measurements of one open patch. Thread-safe."""

    def __init__(self, render_worker: RenderWorker) -> None:
        self._worker = render_worker
        self._work = SteppedWork(render_worker)
        self._kept: OrderedDict[str, dict[int, KeyFigures]] = OrderedDict()
        self._sweeping = ""
        self._wanted: list[int] = []
        self.problem: str | None = None

    def keys_of(self, patch: Patch) -> list[KeyFigures]:
        """The known keys of a patch, lowest first."""
        with self._work.news:
            found = self._kept.get(content_of(patch), {})
            return [found[k] for k in sorted(found)]

    def running(self, patch: Patch) -> bool:
        """Whether this patch's keys are being measured."""
        return self._work.running and self._sweeping == content_of(patch)

    @property
    def progress(self) -> tuple[int, int]:
        """Keys that are done, of how many."""
        with self._work.news:
            known = self._kept.get(self._sweeping, {})
            return sum(k in known for k in self._wanted), len(self._wanted)

    def start(self, patch: Patch, limits: Limits, first: int = FIRST, last: int = LAST) -> None:
        """Measure the unknown keys of a range. A sweep of another patch is cancelled."""
        self._work.cancel()
        with self._work.news:
            word = self._sweeping = content_of(patch)
            found = self._kept.setdefault(word, {})
            self._kept.move_to_end(word)
            while len(self._kept) > _KEPT:
                self._kept.popitem(last=False)
            self._wanted = wanted = [k for k in range(first, last + 1) if k not in found]
            self.problem = None
        self._work.start([self._step(word, patch, limits, wanted[i : i + _STEP]) for i in range(0, len(wanted), _STEP)])

    def cancel(self) -> None:
        """Cancel. Known keys stay."""
        self._work.cancel()

    def _step(self, word: str, patch: Patch, limits: Limits, keys: list[int]) -> Step:
        def step(done: Callable[[Store], None]) -> int | None:
            return self._worker.ask_for(
                patch, limits, "keys", lambda told: done(lambda: self._take(word, told)), keys=keys
            )

        return step

    def _take(self, word: str, told: JobReply) -> bool:
        if told.problem is not None:
            self.problem = told.problem
            return False
        self._kept[word] |= {k.pitch: k for k in told.found}
        return True

    def wait(self, patch: Patch, known: int, seconds: float) -> None:
        """Wait until more keys than ``known`` are there, or nothing runs."""
        word = content_of(patch)
        self._work.wait(lambda: self._sweeping != word or len(self._kept.get(word, {})) > known, seconds)
