"""What is heard without being stored: a wave or a curve while it is drawn, a comparison, one of two settings."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ...patch import apply
from ..editing import curves as curve_edits
from ..editing import waves as wave_edits
from ..editing import without
from . import messages
from .inbox import Inbox
from .played import PlayedPatch


class Trials:
    """Plays changed versions of the stored patch."""

    def __init__(self, played: PlayedPatch, inbox: Inbox, say: Callable[..., None]) -> None:
        self._played, self._inbox, self._say = played, inbox, say

    def handlers(self) -> dict[str, Callable[[Any], None]]:
        """What handles each message."""
        return {
            "wave": self._draw_wave,
            "curve": self._draw_curve,
            "compare": self._compare,
            "try": self._try,
            "drop": self._drop,
        }

    def _draw_wave(self, message: messages.WaveMessage) -> None:
        """Play a drawn wave while it is drawn."""
        kept = self._played.patch
        if message.deed == "stroke":
            edits, _ = wave_edits.stroke(kept, message.path, message.frame, message.strokes)
        else:
            edits, _ = wave_edits.set_bars(kept, message.path, message.frame, message.levels, message.phases)
        self._inbox.hear(apply(kept, edits))

    def _draw_curve(self, message: messages.CurveMessage) -> None:
        """Play a drawn curve while it is drawn."""
        kept, mover = self._played.patch, message.mover
        if message.deed == "stroke":
            edits, _ = curve_edits.stroke(kept, mover, message.line)
        elif message.deed == "bend":
            edits, _ = curve_edits.bend_through(kept, mover, message.index, message.value)
        else:
            edits, _ = curve_edits.move_point(kept, mover, message.index, message.at, message.value)
        patch = apply(kept, edits)
        self._inbox.hear(patch)
        self._say(say="curve", mover=mover, line=curve_edits.line_of(patch, mover))

    def _compare(self, message: messages.CompareMessage) -> None:
        """Play the patch without an item, a chain or all chains at equal loudness; without a name, play it as it is."""
        what, kept = message.what or "", self._played.patch
        self._inbox.hear(without(kept, what, self._played.levels()) if what else kept, kept)

    def _try(self, message: messages.TryMessage) -> None:
        """Play one of two settings of a chain at equal loudness; without a name, play the patch as it is."""
        place, which, kept = message.place, message.which or "", self._played.patch
        self._inbox.hear(self._played.settings(place).heard(kept, place, which) if which else kept, kept)

    def _drop(self, message: messages.DropMessage) -> None:
        """Play the stored patch again."""
        self._inbox.start_over(self._played.patch)
