"""A patch with its audio in one file: a zip of ``patch.json`` and ``audio/DIGEST.wav``."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..patch import CLICK_PREFIX, Patch, Sample, within
from .audio import LONGEST_SAMPLE, RATE, audio_from, wav_bytes
from .patch_file import LARGEST_PATCH, PatchProblem, dump_patch, load_patch
from .reading import file_name, reading

LARGEST_BUNDLE = 48_000_000
MOST_ENTRIES = 200
MOST_INFLATED = 240_000_000
"""Most bytes that a zip file may inflate to."""
MOST_SECONDS = 600
"""Most seconds of audio in all files together."""
_PIECE = 1 << 16


class _Inflating:
    """Reads entries of a zip file, and counts the bytes that are inflated."""

    def __init__(self, z: zipfile.ZipFile) -> None:
        self._zip, self._left = z, MOST_INFLATED

    def take(self, name: str, most: int) -> bytes:
        """One entry, of ``most`` bytes at most. Raises PatchProblem, or what zipfile raises."""
        out = bytearray()
        with self._zip.open(name) as f:
            while piece := f.read(_PIECE):
                out += piece
                if len(out) > min(most, self._left):
                    raise PatchProblem(f"{file_name(name)} in the zip file is too large")
        self._left -= len(out)
        return bytes(out)


@dataclass(frozen=True)
class Bundle:
    """A patch and the audio that came with it, by digest."""

    patch: Patch
    audio: dict[str, NDArray[np.float64]] = field(default_factory=dict)


def words_of(patch: Patch) -> list[str]:
    """Digests of the audio that a patch needs, without the built-in ones."""
    found = [s.audio for layer in patch.layers for s in layer.sources if isinstance(s, Sample)]
    found += [loop.audio for loop in patch.backing.loops]
    chains = [x.chain for x in patch.layers] + [patch.worked] + [r.chain for r in patch.returns]
    found += [i.audio for chain in chains for i in within(chain) if getattr(i, "audio", "")]
    return sorted({w for w in found if not w.startswith(CLICK_PREFIX)})


def dump_bundle(patch: Patch, find: Callable[[str], NDArray[np.float64] | None]) -> bytes:
    """The patch with all its audio that can be found, as a zip file."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("patch.json", dump_patch(patch))
        for word in words_of(patch):
            x = find(word)
            if x is not None:
                z.writestr(f"audio/{word}.wav", wav_bytes(x))
    return out.getvalue()


def load_bundle(data: bytes) -> Bundle:
    """A patch from JSON text, or with its audio from a zip file. Raises PatchProblem with one line."""
    if not data.startswith(b"PK"):
        return Bundle(load_patch(data))
    with (
        reading(PatchProblem, "the zip file is broken: export it again"),
        zipfile.ZipFile(io.BytesIO(data)) as z,
    ):
        names = [i.filename for i in z.infolist()]
        if len(names) > MOST_ENTRIES:
            raise PatchProblem(f"the zip file holds {len(names)} files: {MOST_ENTRIES} at most can be read")
        if "patch.json" not in names:
            raise PatchProblem("the zip file holds no patch.json: give a file that Kessel wrote")
        inflating = _Inflating(z)
        patch = load_patch(inflating.take("patch.json", LARGEST_PATCH))
        audio: dict[str, NDArray[np.float64]] = {}
        seconds = 0.0
        for word in words_of(patch):
            name = f"audio/{word}.wav"
            if name in names:
                x = audio_from(inflating.take(name, MOST_INFLATED), name, LONGEST_SAMPLE + 1)
                audio[word] = x
                seconds += x.shape[1] / RATE
                if seconds > MOST_SECONDS:
                    raise PatchProblem(f"the zip file holds over {MOST_SECONDS // 60} minutes of sound: cut it first")
        return Bundle(patch, audio)
