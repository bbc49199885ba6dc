"""Small files of every kind that Kessel reads, and mutants of them: bits turned, pieces cut, doubled, swapped, zeroed."""

from __future__ import annotations

import io
import random
import zipfile
from functools import cache

import mido
import numpy as np
import soundfile

from kessel.demo import demo_patches
from kessel.formats import dump_bundle, dump_patch, midi_bytes

from .making import layer, note, patch


def _sound(kind: str, subtype: str, channels: int = 2) -> bytes:
    out = io.BytesIO()
    x = 0.3 * np.sin(np.arange(4000)[:, None] * np.linspace(0.01, 0.02, channels))
    soundfile.write(out, x, 44100, format=kind, subtype=subtype)
    return out.getvalue()


def _midi_of_everything() -> bytes:
    file = mido.MidiFile(type=1, ticks_per_beat=96)
    for n in range(2):
        track = mido.MidiTrack()
        file.tracks.append(track)
        track.append(mido.MetaMessage("track_name", name="bass"))
        track.append(mido.MetaMessage("set_tempo", tempo=500000))
        track.append(mido.MetaMessage("key_signature", key="F#m"))
        track.append(mido.MetaMessage("time_signature", numerator=7, denominator=8))
        track.append(mido.Message("sysex", data=(1, 2, 3)))
        for pitch in range(30, 60):
            track.append(mido.Message("note_on", note=pitch, velocity=90, time=10, channel=n))
            track.append(mido.Message("control_change", control=1, value=pitch, time=3))
            track.append(mido.Message("pitchwheel", pitch=pitch * 10))
            track.append(mido.Message("note_off", note=pitch, time=40, channel=n))
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def _zip() -> bytes:
    source = {"kind": "sample", "id": "s", "name": "S", "audio": "ab" * 16}
    p = patch(layer(sources=[source]), notes=[note(40, 0, 1)])
    return dump_bundle(p, lambda word: np.zeros((2, 900)) + 0.1)


def _zip_of(method: int) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(_zip())) as z, zipfile.ZipFile(out, "w", method) as w:
        for name in z.namelist():
            w.writestr(name, z.read(name))
    return out.getvalue()


@cache
def originals() -> dict[str, tuple[str, list[bytes]]]:
    """By format: the ending of its files, and good ones."""
    sluice = demo_patches()["sluice-gate"]
    return {
        "wav": ("wav", [_sound("WAV", "PCM_16"), _sound("WAV", "PCM_24", 1), _sound("WAV", "FLOAT"), _sound("WAV", "IMA_ADPCM", 1)]),
        "flac": ("flac", [_sound("FLAC", "PCM_16"), _sound("FLAC", "PCM_24", 1)]),
        "aiff": ("aiff", [_sound("AIFF", "PCM_16"), _sound("AIFF", "FLOAT", 1)]),
        "midi": ("mid", [midi_bytes(sluice.phrase, 120.0, "x"), _midi_of_everything()]),
        "json": ("json", [dump_patch(sluice).encode(), dump_patch(demo_patches()["reed-weir"]).encode()]),
        "zip": ("zip", [_zip(), _zip_of(zipfile.ZIP_STORED), _zip_of(zipfile.ZIP_BZIP2), _zip_of(zipfile.ZIP_LZMA)]),
    }  # fmt: skip


_WORDS = [
    b"NaN",
    b"1e999",
    b"-1",
    b"null",
    b"{}",
    b"[]",
    b'"\\ud800"',
    b"\xff\xfe",
    b"\x00" * 9,
    b"99999999999999999999",
    b'"\xe2\x80\x8b"',
    b"true",
]


def mutant(original: bytes, rng: random.Random) -> bytes:
    """One to four changes."""
    data = bytearray(original)
    for _ in range(rng.randint(1, 4)):
        if not data:
            break
        at = rng.randrange(len(data))
        # half of them near the beginning, where headers are
        at = at % 80 if rng.random() < 0.5 else at
        at = min(at, len(data) - 1)
        size = rng.randint(1, 40)
        kind = rng.randrange(8)
        if kind == 0:
            data[at] ^= 1 << rng.randrange(8)
        elif kind == 1:
            data[at] = rng.choice((0, 1, 127, 128, 254, 255))
        elif kind == 2:
            del data[at:]
        elif kind == 3:
            del data[at : at + size]
        elif kind == 4:
            data[at:at] = data[at : at + size]
        elif kind == 5:
            data[at : at + 4] = rng.choice(
                (b"\xff\xff\xff\xff", b"\x00\x00\x00\x00", b"\xff\xff\xff\x7f", b"\x7f\xff\xff\xff")
            )
        elif kind == 6:
            data[at : at + size] = rng.randbytes(size)
        else:
            data[at : at + size] = rng.choice(_WORDS)
    return bytes(data)
