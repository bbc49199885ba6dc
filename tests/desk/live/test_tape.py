"""What is heard, kept for a file: every sample that was sent, no more, and a way out when the disk is full."""

import errno
import pickle

import numpy as np
import pytest
import soundfile

from kessel.desk import tape as of_tape
from kessel.desk.tape import Tape
from kessel.engine import QUANTUM
from kessel.formats import AudioProblem, write_sound

from .test_stream import Ear
from .test_stream import ear as ear


def kept(tape):
    return np.concatenate(list(tape.blocks()), axis=1)


def test_the_tape_holds_what_was_sent_while_it_ran(ear):
    ear.tell(do="on")
    ear.tell(do="play")
    before = [ear.next()[1] for _ in range(3)]
    ear.tell(do="tape", on=True)
    ear.tell(do="listen", mode="mono")
    heard = [ear.next()[1] for _ in range(40)]
    assert ear.said("taping")["on"]
    ear.tell(do="tape", on=False)
    after = [ear.next()[1] for _ in range(12)]
    told = ear.said("taping")
    x = kept(ear.open.tape)
    sent = np.concatenate([*before, *heard, *after], axis=1)
    at = [k for k in range(0, sent.shape[1], QUANTUM) if np.array_equal(sent[:, k : k + x.shape[1]], x)]
    assert not told["on"] and told["seconds"] == pytest.approx(x.shape[1] / 48000, abs=0.06)
    assert told["peak_db"] == pytest.approx(20 * np.log10(np.abs(x).max()), abs=0.06)
    assert at and 30 * QUANTUM < x.shape[1] < 55 * QUANTUM
    assert np.array_equal(x[0, -QUANTUM:], x[1, -QUANTUM:]) and np.abs(x).max() > 0.05


def test_a_tape_that_was_never_begun_ends_without_a_word(ear):
    ear.tell(do="on")
    ear.tell(do="tape", on=False)
    ear.next()
    assert ear.open.tape is None and all(w["say"] != "taping" for w in ear.words)


def test_who_leaves_the_page_finds_the_tape_there(ear):
    ear.tell(do="on")
    ear.tell(do="tape", on=True)
    for _ in range(8):
        ear.next()
    ear.stream.close()
    again = Ear(ear.open)
    told = again.said("taping")
    again.stream.close()
    assert not told["on"] and told["seconds"] == round(ear.open.tape.seconds, 1) > 0


@pytest.mark.parametrize("flac", [False, True])
def test_it_is_written_block_by_block(tmp_path, flac):
    rng, tape = np.random.default_rng(3), Tape()
    x = rng.uniform(-1.2, 1.2, (2, 70 * QUANTUM))
    for at in range(0, x.shape[1], QUANTUM):
        tape.write(x[:, at : at + QUANTUM])
    path = tmp_path / "heard"
    write_sound(path, tape.blocks(), flac)
    found, rate = soundfile.read(path)
    assert rate == 48000 and soundfile.info(path).subtype == ("PCM_24" if flac else "FLOAT")
    assert np.abs(found.T - (np.clip(x, -1, 1) if flac else x)).max() < 2e-7
    assert tape.peak == np.abs(x).max()
    with pytest.raises(AudioProblem, match="can't be written"):
        write_sound(tmp_path / "nowhere" / "heard", tape.blocks(), flac)


def test_a_full_disk_ends_it_and_keeps_what_was_there(ear, monkeypatch):
    ear.tell(do="on")
    ear.tell(do="tape", on=True)
    for _ in range(6):
        ear.next()
    tape = ear.stream._taping._running
    monkeypatch.setattr(of_tape.os, "pwrite", full)
    told = ear.said("problem")
    assert told["text"] == "the recording ends here: No space left on device"
    while ear.said("taping")["on"]:
        pass
    assert ear.open.tape is tape and kept(tape).shape[1] == tape.frames > 0
    ear.next()


def full(*_):
    raise OSError(errno.ENOSPC, "No space left on device")


def test_it_is_the_same_tape_in_another_process():
    tape, x = Tape(), np.random.default_rng(4).uniform(-1, 1, (2, 5 * QUANTUM))
    there = pickle.loads(pickle.dumps(tape))
    for at in range(0, x.shape[1], QUANTUM):
        there.write(x[:, at : at + QUANTUM])
    there = None
    tape.look()
    assert np.array_equal(kept(tape), x.astype(np.float32)) and tape.peak == np.abs(kept(tape)).max()


def test_it_is_no_longer_than_half_an_hour(monkeypatch):
    monkeypatch.setattr(of_tape, "LONGEST", 3 * QUANTUM)
    tape = Tape()
    for _ in range(5):
        tape.write(np.full((2, QUANTUM), 0.5))
    assert tape.frames == 3 * QUANTUM and "half an hour" in tape.problem
