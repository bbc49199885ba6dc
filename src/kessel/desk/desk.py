"""The desk: the open patches, and the library that they come from."""

from __future__ import annotations

import contextlib
import threading
from collections import OrderedDict
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any, BinaryIO
from weakref import WeakValueDictionary

import numpy as np
from numpy.typing import NDArray

from ..demo import SET_NAME, demo_patches
from ..engine import add_audio_resolver, remove_audio_resolver
from ..formats import LONGEST_SAMPLE, ReadMidi, dump_patch, find_audio, load_patch
from ..intake import Intake, KeptSound, ReadAudio, ReadBundle, ReadMidiFile, ReadWave, TakenBundle, WaveFile
from ..library import AudioCard, Library, NoSuchPatch
from ..measure import detect_pitch
from ..patch import Edit, Patch, Phrase, Sample, ValueProblem, apply
from ..processes import context, give_back
from .editing import STARTS, StoredPart, start_patch, stock_parts, stored_part_from
from .measuring import RenderWorker, SetCheck
from .open_patch import OpenPatch

context("kessel.worker", "kessel.desk")
KEPT_OPEN = 4
"""Number of patches that stay open after nobody uses them."""


def _title(patch: Patch, word: str) -> str:
    """The name that a patch gives to a piece of audio."""
    samples = [s for layer in patch.layers for s in layer.sources if isinstance(s, Sample)]
    names = [s.title or s.name for s in samples if s.audio == word]
    names += [loop.name for loop in patch.backing.loops if loop.audio == word]
    return names[0] if names else "Audio"


class Desk:
    """Opens patches of one library and shares one render worker between them. Thread-safe."""

    def __init__(self, folder: Path, library: Library | None = None) -> None:
        """Open the data folder. ``library``: its library, if it is open already. Raises LibraryProblem."""
        self.library = library or Library(folder)
        self.render_worker = RenderWorker(folder)
        self.intake = Intake(folder)
        self._find = partial(find_audio, folder)
        add_audio_resolver(self._find)
        self.clipboard: StoredPart | None = None
        self._open: WeakValueDictionary[str, OpenPatch] = WeakValueDictionary()
        self._recent: OrderedDict[str, OpenPatch] = OrderedDict()
        self._set_checks: dict[int, SetCheck] = {}
        self._lock = threading.Lock()

    def seed_demo(self) -> None:
        """Add the demo set if it was never added."""
        self.library.seed_demo(SET_NAME, demo_patches())

    def restore_demo(self) -> None:
        """Restore the demo set as shipped."""
        self.library.restore_demo(SET_NAME, demo_patches())
        for slug in demo_patches():
            found = self._is_open(slug)
            if found is not None:
                found.read_again()

    def open(self, slug: str) -> OpenPatch:
        """The open patch of this slug. There is one per patch, as long as anybody uses it. Raises NoSuchPatch or
        Damaged.
        """
        with self._lock:
            found = self._open.get(slug)
            if found is None:
                found = self._open[slug] = OpenPatch(self.library, slug, self.render_worker)
            elif self.library.card(slug).deleted:
                raise NoSuchPatch(slug)
            self._recent[slug] = found
            self._recent.move_to_end(slug)
            while len(self._recent) > KEPT_OPEN:
                self._recent.popitem(last=False)
                give_back(sweep=True)
            return found

    def _is_open(self, slug: str) -> OpenPatch | None:
        with self._lock:
            return self._open.get(slug)

    def delete(self, slug: str) -> None:
        """Delete a patch; it can be restored. Raises NoSuchPatch."""
        self.library.delete(slug)

    def put_back(self, slug: str) -> None:
        """Restore a deleted patch. Raises NoSuchPatch."""
        self.library.put_back(slug)
        found = self._is_open(slug)
        if found is not None:
            found.read_again()

    def mend(self, slug: str, state: int) -> str:
        """Replace a damaged patch by a good state of its history. Returns which. Raises ValueProblem."""
        states = self.library.good_states(slug)
        if not 0 <= state < len(states):
            raise ValueProblem("that state is no longer stored: choose another")
        words, patch = states[state]
        self.library.mend(slug, patch, words)
        return words

    def home(self) -> int:
        """The set that new patches go to: the first that is not the demo set, created if there is none."""
        for card in self.library.sets():
            if not card.demo:
                return card.id
        return self.library.add_set("My patches")

    def new(self, start: str = "sine") -> str:
        """Create a patch from a starting point. Returns its slug. Raises ValueProblem."""
        if start not in STARTS:
            raise ValueProblem("there is no such starting point: choose one of the list")
        taken = {p.name for p in self.library.patches()}
        name = next(n for n in ("New patch", *(f"New patch {i}" for i in range(2, 10000))) if n not in taken)
        return self.library.add(self.home(), start_patch(start, name))

    def new_from(self, slug: str) -> str:
        """Create a patch from an existing one. Returns its slug."""
        patch = self.open(slug).patch
        copy = apply(patch, [Edit("name", f"{patch.name[:54]} copy")])
        return self.library.add(self.home(), copy)

    def take_in(self, data: BinaryIO, name: str, ticket: str = "") -> str:
        """Create a patch from a file, with its audio. Returns its slug. Raises FileProblem, NotKept."""
        with self.intake.laid_down(data) as path:
            taken: TakenBundle = self.intake.read(ReadBundle(path, name), ticket)
            patch = taken.patch
            for word, sound in taken.sounds.items():
                card = self._adopted(sound, _title(patch, word))
                if card.word != word:
                    # stored under another name: point the patch at its present one
                    patch = load_patch(dump_patch(patch).replace(f'"{word}"', f'"{card.word}"'))
        return self.library.add(self.home(), patch)

    def duplicate(self, slug: str) -> str:
        """Copy a patch. Returns the slug of the copy."""
        patch = self.open(slug).patch
        copy = apply(patch, [Edit("name", f"{patch.name[:54]} copy")])
        return self.library.add(self.library.card(slug).set_id, copy)

    def rename(self, slug: str, name: str) -> None:
        """Rename a patch as one step of its history. Raises ValueProblem."""
        patch = self.open(slug)
        patch.edit([Edit("name", name)], f"Rename {patch.patch.name} to {name}")

    def set_check(self, set_id: int) -> SetCheck:
        """The check of a whole set. Raises ValueProblem."""
        if set_id not in {c.id for c in self.library.sets()}:
            raise ValueProblem("there is no such set any more")
        with self._lock:
            if set_id not in self._set_checks:
                self._set_checks[set_id] = SetCheck(self.library, self.render_worker, set_id)
            return self._set_checks[set_id]

    # parts

    def shelf(self, kind: str | None = None) -> list[tuple[int, StoredPart]]:
        """The parts on the shelf by number: the user's own, then those that ship with Kessel."""
        own = []
        for card in self.library.parts.all():
            with contextlib.suppress(ValueProblem):
                own.append((card.id, replace(stored_part_from(card.body), name=card.name)))
        stock = [(-i - 1, part) for i, part in enumerate(stock_parts())]
        return [(i, p) for i, p in (*own, *stock) if kind is None or p.kind == kind]

    def part(self, number: int) -> StoredPart:
        """A part on the shelf. Raises ValueProblem."""
        found = next((p for i, p in self.shelf() if i == number), None)
        if found is None:
            raise ValueProblem("that part is no longer on the shelf")
        return found

    def keep_part(self, kept: StoredPart, name: str) -> None:
        """Store a part under a name. Raises ValueProblem."""
        cleaned = " ".join(name.split())[:60] or kept.name
        self.library.parts.keep(kept.kind, cleaned, kept.plain())

    # audio

    def take_audio(self, data: BinaryIO, name: str, ticket: str = "", longest: float = LONGEST_SAMPLE) -> AudioCard:
        """Store the audio of a file, of so many seconds at most, with its pitch.

        Raises FileProblem or NotKept.
        """
        with self.intake.laid_down(data) as path:
            sound: KeptSound = self.intake.read(ReadAudio(path, name, longest), ticket)
            return self._adopted(sound, name.rsplit(".", 1)[0] or "Audio")

    def _adopted(self, sound: KeptSound, name: str) -> AudioCard:
        return self.library.audio.adopt(sound.file, sound.word, name, sound.channels, sound.seconds, sound.root)

    def keep_audio(self, x: NDArray[np.floating[Any]], name: str, root: float | None = None) -> AudioCard:
        """Store audio, (1 or 2, n), under a name. Raises NotKept."""
        return self.library.audio.keep(x, name, root if root is not None else detect_pitch(x.astype(np.float64)))

    def read_wave(self, data: BinaryIO, name: str, ticket: str = "") -> WaveFile:
        """An audio file that a drawn wave can be cut from. Raises FileProblem."""
        with self.intake.laid_down(data) as path:
            found: WaveFile = self.intake.read(ReadWave(path, name), ticket)
        return found

    def take_midi(self, data: BinaryIO, name: str, like: Phrase, ticket: str = "") -> ReadMidi:
        """Read a MIDI file as a phrase. Raises FileProblem."""
        with self.intake.laid_down(data) as path:
            found: ReadMidi = self.intake.read(ReadMidiFile(path, name, like), ticket)
        return found

    def close(self) -> None:
        """End the processes and close the database."""
        remove_audio_resolver(self._find)
        self.render_worker.close()
        self.intake.close()
        self.library.close()
