"""An open patch: edits are stored before they are answered."""

from __future__ import annotations

import threading
import weakref
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from typing import Any, TypeVar

from ..checks import MOST_STEPS, ChainLevels, Finding, Limits, StageReport, any_matched
from ..formats import document_of, patch_from
from ..library import HistoryStep, Library, NoSuchPatch, NotKept, Stale, Standing
from ..patch import Edit, NoSuchPath, Patch, ValueProblem, Wanted, apply, get, reach_text, same, sentence
from .editing import ControlChange as ControlChange
from .editing import (
    SettingsPair,
    add_part,
    apply_change,
    blended,
    changed_limit,
    limit_title,
    limit_words,
    movement_end,
    resized,
    with_single_lows,
)
from .measuring import CheckDetails, Curing, IdleTurns, Measuring, RenderWorker
from .tape import Tape
from .wave_offers import WaveOffer

_T = TypeVar("_T")

_MATCHED = 3
"""Most rounds of level matching after an edit; gains that have not settled by then stay as they are."""


@dataclass(frozen=True)
class Edited:
    """The result of an edit."""

    patch: Patch
    version: int
    label: str


@dataclass(frozen=True)
class News:
    """The newest version of a patch, those of its picture and its findings, and the progress of measuring.

    share: progress of the rendering, 0..1, while it runs. stage: as in Measured. curing: what Cure all does or did, as
    text; cures: whether it runs. idle: what was turned last and changes nothing, as text.
    """

    version: int
    picture: int
    findings: int
    stage: int
    problem: str
    share: float | None
    curing: str
    cures: bool
    idle: str


class ChangedElsewhere(ValueProblem):
    """The patch was changed elsewhere in the meantime. It was read again."""

    def __init__(self) -> None:
        super().__init__("the patch was changed elsewhere meanwhile: look at its present state, then try again")


class OpenPatch:
    """One patch with its history and its measurements. Thread-safe.

    Its version is its revision in the database. Every write names the revision it was made from and increments it.
    """

    def __init__(self, library: Library, slug: str, render_worker: RenderWorker) -> None:
        """Load the patch. Raises NoSuchPatch or Damaged."""
        self.library = library
        self.render_worker = render_worker
        self._lock = threading.RLock()
        self.slug = slug
        self.patch, standing = library.standing(slug)
        self.version = standing.revision
        self._asked = self.version
        """The version that was requested last; later versions differ from it only by matched levels."""
        self.checking = CheckDetails(render_worker, library, slug)
        # do not look for cures of a patch that nobody has open
        weakref.finalize(self, self.checking.give_up).atexit = False
        self.measuring = Measuring(render_worker, self._leveled, self._judged, self.checking.look, self._tell_news)
        self.curing = Curing(render_worker, self._tell_news)
        self.pairs: dict[str, SettingsPair] = {}
        self._levels: tuple[int, ChainLevels] | None = None
        self._stages: dict[str, tuple[int, StageReport]] = {}
        self._listeners: list[Callable[[Patch], None]] = []
        self.before: dict[str, str] = {}
        self._idle = IdleTurns()
        self.tape: Tape | None = None
        """What was heard and kept last, for a file."""
        self.offer: WaveOffer | None = None
        """A wave that is about to be cut from a file."""
        self._watchers: list[Callable[[], None]] = []

    @property
    def limits(self) -> Limits:
        """The limits of its set."""
        return Limits.model_validate(self.library.set_of(self.slug).limits)

    def measure(self) -> None:
        """Measure the present version, unless it is measured or being measured."""
        with self._lock:
            self.measuring.want(self.version, self.patch, self.limits)

    def put_limit(self, name: str, text: str) -> str:
        """Change a limit of the set to typed text, and measure again. Returns the change as text.

        Raises ValueProblem.
        """
        limits = changed_limit(self.limits, name, text)
        self.library.put_limits(self.library.set_of(self.slug).id, limits.model_dump())
        with self._lock:
            self.measuring.want(self.version, self.patch, limits, again=True)
        return f"{limit_title(name)}: {limit_words(limits, name)}"

    def find(self, name: str, /, **words: Any) -> Any:
        """Details behind the findings of the present version. Raises ValueProblem."""
        with self._lock:
            version, patch = self.version, self.patch
        return self.checking.find(version, patch, self.limits, name, **words)

    def known(self, name: str, /, **words: Any) -> Any:
        """The same if it is known already. None otherwise."""
        return self.checking.known(self.version, self.limits, name, **words)

    def _judged(self, version: int, findings: tuple[Finding, ...]) -> None:
        with self._lock:
            if version != self.version:
                return
            patch = self.patch
        if not any_matched(patch):
            self._compare(version)
        self.checking.judged(version, patch, self.limits, findings, self.measuring)

    def align(self, key: str | None, version: int) -> Edited:
        """Align a pair, or all, as one step. Raises ValueProblem."""
        plan = self.find("align", key=key)
        with self._lock:
            if version != self.version:
                raise ValueProblem("the patch has changed since: look at the plan again")
            if not plan.edits:
                raise ValueProblem("there is nothing to align: no start phase, polarity or delay makes it better")
            return self.edit(plan.edits, f"Align: {plan.label}"[:200])

    def cure_all(self, version: int) -> None:
        """Start Cure all on this version. It ends as one step. Raises ValueProblem."""
        with self._lock:
            if version < self._asked:
                raise ValueProblem("the patch has changed since: look at the new findings first")
            patch, asked = self.patch, self._asked

        def done(edits: list[Edit], said: str) -> None:
            with self._lock:
                if self._asked != asked:
                    self.curing.words = "Cure all: the patch was changed meanwhile, so nothing was applied"
                else:
                    self.edit(edits, f"Cure all: {said}"[:200])
            self._tell_news()

        self.curing.start(patch, self.limits, MOST_STEPS, done)

    def accept(self, key: str, reason: str) -> Edited:
        """Accept a finding as wanted, for a reason in a line. An empty reason takes that back. Raises ValueProblem."""
        with self._lock:
            measured = self.measuring.measured
            finding = next((f for f in measured.findings if f.key == key), None) if measured is not None else None
            left = [w for w in self.patch.wanted if w.finding != key]
            reason = " ".join(reason.split())[:200]
            if not reason:
                return self.edit([Edit("wanted", [w.model_dump() for w in left])], "No longer wanted")
            if finding is None:
                raise ValueProblem("that finding is no longer there: look at the new ones")
            wanted = [*left, Wanted(finding=key, reason=reason)]
            return self.edit([Edit("wanted", [w.model_dump() for w in wanted])], f"Wanted: {finding.title}"[:200])

    def listen(self, listener: Callable[[Patch], None]) -> Callable[[], None]:
        """Call a function with every new version of the patch. Returns a function that ends it."""
        self._listeners.append(listener)
        return lambda: self._listeners.remove(listener)

    def watch(self, watcher: Callable[[], None]) -> Callable[[], None]:
        """Call a function when ``news`` changes. Returns a function that ends it. The function must not block."""
        with self._lock:
            self._watchers.append(watcher)

        def stop() -> None:
            with self._lock:
                self._watchers.remove(watcher)

        return stop

    def _tell_news(self) -> None:
        for watcher in list(self._watchers):
            watcher()

    def news(self) -> News:
        """What a page needs to show the newest version of everything."""
        m = self.measuring
        measured, picture = m.measured, m.picture
        return News(
            self.version,
            picture.version if picture is not None else -1,
            measured.version if measured is not None else -1,
            measured.stage if measured is not None else 0,
            m.problem or "",
            m.share,
            self.curing.words,
            self.curing.running,
            self._idle.words,
        )

    def _write(self, write: Callable[[int], _T]) -> _T:
        """Let the library write from the present version. Raises ChangedElsewhere, NoSuchPatch or NotKept."""
        try:
            return write(self.version)
        except Stale:
            self.read_again()
            raise ChangedElsewhere from None

    def read_again(self) -> None:
        """Read the patch from the library again. Raises NoSuchPatch or Damaged."""
        with self._lock:
            patch, standing = self.library.standing(self.slug)
            if standing.revision != self.version:
                self._took(patch, standing)

    def _took(self, patch: Patch, standing: Standing) -> None:
        self.patch, self.version = patch, standing.revision
        self._asked = self.version
        self.checking.give_up()
        for listener in list(self._listeners):
            listener(patch)
        self.measure()
        self._tell_news()

    def _leveled(self, version: int, levels: ChainLevels) -> None:
        """Apply new gains of level matches. They belong to the last step of the history and are no step."""
        with self._lock:
            if version != self.version:
                return
            self._levels = version, levels
            edits = [Edit(path, value) for path, value in levels.wanted]
            found = not edits or self.version - self._asked >= _MATCHED
            if not found:
                new, asked = apply(self.patch, edits), self._asked
                with suppress(ChangedElsewhere, NoSuchPatch, NotKept):
                    # a gain that is not saved now is found again by the next measurement
                    document = document_of(new)
                    self._took(new, self._write(lambda v: self.library.history.amend(self.slug, v, document)))
                    self._asked = asked
        if found:
            self._compare(version)

    def _compare(self, version: int) -> None:
        """Compare the loop of a version with the one before, and tell what was turned without any effect."""
        picture = self.measuring.picture
        if picture is not None and picture.version == version:
            self._idle.hear(picture.patch, picture.loop)
            self._tell_news()

    @property
    def settled(self) -> bool:
        """Whether all level matches have their gain."""
        with self._lock:
            known = self._levels is not None and self._levels[0] == self.version
            return known or self.measuring.problem is not None or not any_matched(self.patch)

    def levels(self) -> ChainLevels:
        """Levels at every place of all chains, of the present version. Raises ValueProblem."""
        with self._lock:
            patch, version, kept = self.patch, self.version, self._levels
        if kept is None or kept[0] != version:
            kept = version, self.render_worker.levels(patch)
            with self._lock:
                self._levels = kept
        return kept[1]

    def stage(self, place: str, path: str) -> StageReport | None:
        """The report on an item of a chain, measured on the present version. None if it does not exist."""
        with self._lock:
            patch, version = self.patch, self.version
            kept = self._stages.get(path)
        if kept is not None and kept[0] == version:
            return kept[1]
        try:
            get(patch, path)
            found = self.render_worker.stage(patch, place, path)
        except NoSuchPath:
            return None
        with self._lock:
            self._stages = {p: k for p, k in self._stages.items() if k[0] == version} | {path: (version, found)}
        return found

    def add(self, path: str, kind: str) -> tuple[Edited, str]:
        """Add a part to a list. An effect gets a level match. Returns its id too."""
        edits, new_id, label = add_part(self.patch, path, kind)
        new: dict[str, Any] = next((i for i in edits[0].value if i["id"] == new_id), {})
        if new.get("matched"):
            with suppress(ValueProblem):
                # on a busy machine the part comes in unmatched; the next measurement matches it
                new["match"] = self.render_worker.match(apply(self.patch, edits), f"{path}.{new_id}")
        return self.edit(edits, label), new_id

    def edit(self, edits: Sequence[Edit], label: str | None = None) -> Edited:
        """Apply and store edits as one step. Raises ValueProblem or NoSuchPath, and then changes nothing."""
        with self._lock:
            new = apply(self.patch, edits)
            label = label or self._label(edits, new)
            document = document_of(new)
            if not same(document, document_of(self.patch)):
                record = self.library.history.record
                self._took(new, self._write(lambda v: record(self.slug, v, document, label)))
            return Edited(self.patch, self.version, label)

    def _label(self, edits: Sequence[Edit], new: Patch) -> str:
        end = movement_end(new, edits[0].path) if len(edits) == 1 else None
        return sentence(self.patch, edits) if end is None else reach_text(new, end[0])

    def turn(self, turn: ControlChange, also: ControlChange | None = None) -> Edited:
        """Change one control, or two in one step."""
        with self._lock:
            edits = apply_change(self.patch, turn)
            if also is not None:
                return self.edit([*edits, *apply_change(self.patch, also)])
            edit = edits[0]
            if edit.path == "phrase.bars":
                return self.edit(resized(self.patch, int(edit.value)), sentence(self.patch, [edit]))
            if edit.path == "blend.share":
                return self.edit(blended(self.patch, float(edit.value)), sentence(self.patch, [edit]))
            return self.edit(with_single_lows(self.patch, edit) if len(edits) == 1 else edits)

    def fix(self, key: str, label: str, version: int) -> Edited:
        """Apply a fix of a finding of this version. Raises ValueProblem if the findings are of another version."""
        with self._lock:
            measured = self.measuring.measured
            if measured is None or measured.version != version or version < self._asked:
                raise ValueProblem("the patch has changed since: look at the new findings first")
            finding = next((f for f in measured.findings if f.key == key), None)
            fix = next((x for x in finding.fixes if x.label == label), None) if finding is not None else None
            if finding is None or fix is None:
                raise ValueProblem("that fix is no longer offered")
            self.before = {key: finding.text}
            return self.edit(fix.edits, fix.label)

    def undo(self) -> Edited | None:
        """Undo the last step. None if there is none."""
        return self._step(False)

    def redo(self) -> Edited | None:
        """Redo the step that was undone last. None if there is none."""
        return self._step(True)

    def go_to(self, step: int) -> int:
        """Go to a step of the history (0: the beginning). Returns the number of steps in between.

        Raises ValueProblem if the step can't be reached any more.
        """
        with self._lock:
            gone = self._write(lambda v: self.library.history.go_to(self.slug, v, step))
            if gone is None:
                raise ValueProblem("that step is no longer stored: choose another")
            standing, between = gone
            self._took(patch_from(standing.document), standing)
            return between

    def steps(self, most: int = 200) -> list[HistoryStep]:
        """The newest steps of the history, oldest first."""
        return self.library.history.steps(self.slug, most)

    def _step(self, redo: bool) -> Edited | None:
        with self._lock:
            taken = self._write(lambda v: self.library.history.take(self.slug, v, redo))
            if taken is None:
                return None
            self._took(patch_from(taken.standing.document), taken.standing)
            label = taken.label if taken.fits else f"{taken.label} (skipped: what it changed is no longer stored)"
            return Edited(self.patch, self.version, label)
