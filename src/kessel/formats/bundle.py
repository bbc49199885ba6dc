"""A patch with its audio in one file: a zip of ``patch.json`` and ``audio/WORD.wav``."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..patch import CLICK_PREFIX, Patch, Sample, within
from .audio import LONGEST_SAMPLE, AudioProblem, audio_from, wav_bytes
from .patch_file import LARGEST_PATCH, PatchProblem, dump_patch, load_patch

LARGEST_BUNDLE = 48_000_000
_LARGEST_AUDIO = 60_000_000


@dataclass(frozen=True)
class Bundle:
    """A patch and the audio that came with it, by word."""

    patch: Patch
    audio: dict[str, NDArray[np.float64]] = field(default_factory=dict)


def words_of(patch: Patch) -> list[str]:
    """Words of the audio that a patch needs and that does not come with Kessel."""
    found = [s.audio for layer in patch.layers for s in layer.sources if isinstance(s, Sample)]
    found += [loop.audio for loop in patch.backing.loops]
    chains = [x.chain for x in patch.layers] + [patch.worked] + [r.chain for r in patch.returns]
    found += [i.audio for chain in chains for i in within(chain) if getattr(i, "audio", "")]
    return sorted({w for w in found if not w.startswith(CLICK_PREFIX)})


def dump_bundle(patch: Patch, find: Callable[[str], NDArray[np.float64] | None]) -> bytes:
    """The patch with all its audio that can be found, as the bytes of a zip file."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("patch.json", dump_patch(patch))
        for word in words_of(patch):
            x = find(word)
            if x is not None:
                z.writestr(f"audio/{word}.wav", wav_bytes(x))
    return out.getvalue()


def load_bundle(data: bytes) -> Bundle:
    """A patch from JSON text, or with its audio from a zip file. Raises PatchProblem with one plain line."""
    if not data.startswith(b"PK"):
        return Bundle(load_patch(data))
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as z:
            sizes = {i.filename: i.file_size for i in z.infolist()}
            if "patch.json" not in sizes:
                raise PatchProblem("the zip file holds no patch.json: give a file that Kessel wrote")
            if sizes["patch.json"] > LARGEST_PATCH:
                raise PatchProblem("the patch in the zip file is too large (2 MB at most)")
            patch = load_patch(z.read("patch.json"))
            audio = {}
            for word in words_of(patch):
                name = f"audio/{word}.wav"
                if name not in sizes:
                    continue
                if sizes[name] > _LARGEST_AUDIO:
                    raise PatchProblem(f"{name} in the zip file is too large")
                audio[word] = audio_from(z.read(name), name, LONGEST_SAMPLE + 1)
    except (zipfile.BadZipFile, OSError, RuntimeError):
        raise PatchProblem("the zip file is broken: export it again") from None
    except AudioProblem as problem:
        raise PatchProblem(str(problem)) from None
    return Bundle(patch, audio)
