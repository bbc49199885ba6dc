"""The desk itself: which patches are open, and the shelf they come from."""

from __future__ import annotations

import threading
from pathlib import Path

from ..demo import SET_NAME, demo_patches
from ..library import Library
from ..patch import Edit, Layer, Note, Oscillator, Patch, Phrase, apply
from .open_patch import OpenPatch
from .workbench import Workbench


def plain_patch(name: str) -> Patch:
    """A new patch: one sine that restarts on each note, and a short phrase."""
    notes = [(29, 0.0, 1.4), (29, 1.5, 0.4), (32, 2.5, 0.9), (29, 4.0, 1.4), (36, 6.0, 0.9), (27, 7.0, 0.9)]
    phrase = Phrase(notes=[Note(id=f"n{i + 1}", pitch=p, start=s, length=d) for i, (p, s, d) in enumerate(notes)])
    sub = Layer(
        id="sub", name="Sub", hatch="level", path="clean", sources=[Oscillator(id="sine", name="Sine", shape="sine")]
    )
    return Patch(name=name, phrase=phrase, layers=[sub])


class Desk:
    """Opens patches of one library and shares the workbench that measures them. Safe between threads."""

    def __init__(self, folder: Path) -> None:
        """Open the data folder. Raises LibraryProblem."""
        self.library = Library(folder)
        self.workbench = Workbench()
        self._open: dict[str, OpenPatch] = {}
        self._lock = threading.Lock()

    def seed_demo(self) -> None:
        """Make the demo set if it was never made."""
        self.library.seed_demo(SET_NAME, demo_patches())

    def restore_demo(self) -> None:
        """Put the demo set back as shipped."""
        self.library.restore_demo(SET_NAME, demo_patches())

    def open(self, slug: str) -> OpenPatch:
        """The open patch of this slug, read again when it was changed elsewhere. Raises NoSuchPatch."""
        with self._lock:
            card = self.library.card(slug)
            found = self._open.get(slug)
            if found is None or card.deleted or found.stamp != card.edited:
                self._open.pop(slug, None)
                found = self._open[slug] = OpenPatch(self.library, slug, self.workbench)
            return found

    def home(self) -> int:
        """The set new patches go to: the first that is not the demo set, made when there is none."""
        for card in self.library.sets():
            if not card.demo:
                return card.id
        return self.library.add_set("My patches")

    def new(self) -> str:
        """Keep a new plain patch; returns its slug."""
        taken = {p.name for p in self.library.patches()}
        name = next(n for n in ("New patch", *(f"New patch {i}" for i in range(2, 10000))) if n not in taken)
        return self.library.add(self.home(), plain_patch(name))

    def take_in(self, patch: Patch) -> str:
        """Keep a patch from a file; returns its slug."""
        return self.library.add(self.home(), patch)

    def duplicate(self, slug: str) -> str:
        """Keep a copy of a patch; returns its slug."""
        patch = self.open(slug).patch
        copy = apply(patch, [Edit("name", f"{patch.name[:54]} copy")])
        return self.library.add(self.library.card(slug).set_id, copy)

    def rename(self, slug: str, name: str) -> None:
        """Rename a patch as one step of its history. Raises ValueProblem."""
        patch = self.open(slug)
        patch.edit([Edit("name", name)], f"Rename {patch.patch.name} to {name}")

    def close(self) -> None:
        """End the workbench and let go of the database."""
        self.workbench.close()
        self.library.close()
