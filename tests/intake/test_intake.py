"""Files come in within limits, and what is hostile is refused in one line with nothing left behind."""

import gc
import io
import json
import random
import struct
import threading
import zipfile
import zlib
from pathlib import Path

import numpy as np
import pytest
import soundfile

from kessel.formats import FileProblem, dump_patch, mapped
from kessel.intake import Intake, ReadAudio, ReadBundle, ReadMidiFile, ReadWave, cut, wave_of_cut
from kessel.intake.reader import MOST_MEMORY
from kessel.patch import ValueProblem

from ..making import patch
from ..mutants import mutant, originals


@pytest.fixture(scope="module")
def intake(tmp_path_factory):
    made = Intake(tmp_path_factory.mktemp("data"))
    yield made
    made.close()


def job_of(kind, path):
    if kind in ("json", "zip"):
        return ReadBundle(path, f"sent.{kind}")
    if kind == "midi":
        return ReadMidiFile(path, "sent.mid")
    return ReadAudio(path, f"sent.{kind}")


def take(intake, kind, data, **more):
    with intake.laid_down(io.BytesIO(data)) as path:
        return intake.read(job_of(kind, path), **more)


def most_memory(pid):
    """The most memory a process ever had, in bytes."""
    lines = Path(f"/proc/{pid}/status").read_text().splitlines()
    return next(int(line.split()[1]) * 1024 for line in lines if line.startswith("VmHWM:"))


@pytest.mark.parametrize("kind", sorted(originals()))
def test_good_files_are_taken(intake, kind):
    for data in originals()[kind][1]:
        assert take(intake, kind, data) is not None
    assert list(intake.folder.iterdir()) == []


@pytest.mark.parametrize("kind", sorted(originals()))
def test_mutants_are_taken_or_refused_in_one_line(intake, kind):
    rng = random.Random(f"bounded {kind}")
    pid = intake.pid
    refused = 0
    for _ in range(80):
        try:
            take(intake, kind, mutant(rng.choice(originals()[kind][1]), rng))
        except FileProblem as problem:
            refused += 1
            assert str(problem) and str(problem).isprintable(), problem
            assert "broken (" not in str(problem), problem
    assert refused > 5
    assert list(intake.folder.iterdir()) == []
    assert pid is None or intake.pid == pid


def zip_bomb():
    """A zip whose patch says 100 bytes and holds 900 MB."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z, z.open("patch.json", "w", force_zip64=True) as f:
        piece = b" " * 10_000_000
        for _ in range(90):
            f.write(piece)
    data = bytearray(out.getvalue())
    at = data.index(b"PK\x01\x02")
    data[at + 24 : at + 28] = struct.pack("<I", 100)
    return bytes(data)


def long_flac(seconds):
    out = io.BytesIO()
    with soundfile.SoundFile(out, "w", 8000, 2, "PCM_16", format="FLAC") as f:
        for _ in range(seconds):
            f.write(np.zeros((8000, 2)))
    return out.getvalue()


def lying_wav():
    """A WAV file that says it holds hours."""
    data = bytearray(originals()["wav"][1][0])
    at = data.index(b"data")
    data[at + 4 : at + 8] = struct.pack("<I", 0xFFFFFFF0)
    return bytes(data)


def many():
    layers = [{"id": 1, "sources": [{"kind": 3}] * 9}] * 9000
    return json.dumps({"format": "kessel-patch", "version": 1, "name": "x", "layers": layers}).encode()


def deep():
    return b'{"format": "kessel-patch", "version": 1, "name": ' + b"[" * 90000 + b"]" * 90000 + b"}"


def surrogate():
    return dump_patch(patch()).replace('"Test"', '"\\ud800"').encode()


def crowded():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as z:
        for n in range(500):
            z.writestr(f"{n}.json", "{}")
    return out.getvalue()


def running():
    head = b"MThd" + struct.pack(">IHHH", 6, 0, 1, 96) + b"MTrk" + struct.pack(">I", 1_900_000)
    return head + b"\x00\x90\x40\x40" + b"\x00\x40\x40" * 633_000


HOSTILE = {
    "bomb": ("zip", zip_bomb, "zip file"),
    "crowded": ("zip", crowded, "500 files"),
    "flac": ("flac", lambda: long_flac(4000), "longer than 60 seconds"),
    "lying": ("wav", lying_wav, ""),
    "many": ("json", many, "no valid patch"),
    "deep": ("json", deep, "no"),
    "surrogate": ("json", surrogate, "no valid patch"),
    "events": ("midi", running, "sent.mid"),
    "cut deflate": ("zip", lambda: b"PK\x03\x04" + zlib.compress(b"x" * 1000)[:20], "broken"),
}


@pytest.mark.parametrize("name", sorted(HOSTILE))
def test_what_is_hostile_is_refused_in_bounded_memory(intake, name):
    kind, make, words = HOSTILE[name]
    data = make()
    base = most_memory(intake.pid) if intake.pid else 0
    try:
        found = take(intake, kind, data)
    except FileProblem as problem:
        assert words in str(problem) and str(problem).isprintable()
    else:
        assert not words, f"{name} was taken"
        assert found is not None
    del data
    gc.collect()
    if base and intake.pid is not None:
        assert most_memory(intake.pid) < max(base, 150_000_000) + MOST_MEMORY
    assert list(intake.folder.iterdir()) == []


def noise(path, seconds, level=0.1):
    rng = np.random.default_rng(5)
    with soundfile.SoundFile(path, "w", 44100, 2, "PCM_24") as f:
        for _ in range(seconds):
            f.write(level * rng.standard_normal((44100, 2)))


def test_a_long_recording_is_copied_in_blocks_and_heard_from_the_disk(intake, tmp_path):
    noise(tmp_path / "long.wav", 100)
    sound = intake.read(ReadAudio(tmp_path / "long.wav", "long.wav", 1800.0))
    assert (sound.channels, sound.seconds, sound.root) == (2, 100.0, None)
    x = mapped(sound.file)
    assert x.shape == (2, 4800000) and not x.flags.owndata
    assert np.sqrt(np.mean(x[:, ::7].astype(float) ** 2)) == pytest.approx(0.1, rel=0.12)


def test_an_import_tells_how_far_it_is_and_is_given_up(intake, tmp_path):
    noise(tmp_path / "long.wav", 300, 0.0)
    raised = []

    def read():
        try:
            with (tmp_path / "long.wav").open("rb") as f, intake.laid_down(f) as path:
                intake.read(ReadAudio(path, "long.wav", 1800.0), "ticket-1")
        except FileProblem as problem:
            raised.append(str(problem))

    reading = threading.Thread(target=read)
    reading.start()
    shares = []
    while reading.is_alive():
        progress = intake.progress("ticket-1")
        if progress is not None and 0.0 < progress.share < 1.0 and progress.share not in shares:
            shares.append(progress.share)
            if len(shares) > 3:
                intake.cancel("ticket-1")
                break
    reading.join(30.0)
    assert raised == ["long.wav was not imported: the import was cancelled"]
    assert sorted(shares) == shares and len(shares) > 3
    # the next one is read by a new process, and nothing of the old one lies about
    assert take(intake, "wav", originals()["wav"][1][0]).channels == 2
    assert list(intake.folder.iterdir()) == []


def test_an_import_given_up_before_it_is_read_is_not_read(intake):
    intake.cancel("early")
    with pytest.raises(FileProblem, match="cancelled"):
        take(intake, "wav", originals()["wav"][1][0], ticket="early")


def test_a_wave_file_is_read_beside_the_server(intake, tmp_path):
    t = np.arange(24000) / 48000
    soundfile.write(tmp_path / "tone.wav", 0.5 * np.sin(2 * np.pi * 110 * t), 48000)
    file = intake.read(ReadWave(tmp_path / "tone.wav", "tone.wav"))
    made = cut(file)
    assert (wave_of_cut(file, made).name, made.way, len(made.frames)) == ("tone", "pitch", 1)
    soundfile.write(tmp_path / "short.wav", np.zeros(9), 22050)
    with pytest.raises(ValueProblem, match="9 samples"):
        cut(intake.read(ReadWave(tmp_path / "short.wav", "short.wav")))
