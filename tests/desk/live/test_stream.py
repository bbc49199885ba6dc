"""The live stream: in step with what is heard, turned while it plays, fed from the loop when the engine can't keep up."""

import itertools
import json
import queue

import numpy as np
import pytest

from kessel.desk import KeptPatch, LiveStream
from kessel.desk.live.load import RETRY
from kessel.engine import QUANTUM, Engine
from kessel.patch import Edit, apply

CUTOFF = "layers.body.stages.pluck.cutoff"


class Ear:
    """A player without a page: takes sound, says what it heard."""

    def __init__(self, open_patch, **words):
        self.out = queue.Queue()
        self.words = []
        self.frames = 0
        self.open = open_patch
        self.stream = LiveStream(KeptPatch(open_patch), self.out.put, **words)

    def tell(self, **message):
        self.stream.take(message)

    def next(self):
        """The next quantum: beat and sound; words on the way are kept."""
        while True:
            data = self.out.get(timeout=30)
            if isinstance(data, str):
                self.words.append(json.loads(data))
                continue
            self.frames += QUANTUM
            self.tell(do="heard", frames=self.frames)
            head = np.frombuffer(data[:16], dtype="<f4")
            return float(head[0]), np.frombuffer(data[16:], dtype="<f4").reshape(2, QUANTUM)

    def said(self, word):
        """The next thing of this kind that is said."""
        while True:
            for i, w in enumerate(self.words):
                if w["say"] == word:
                    return self.words.pop(i)
            data = self.out.get(timeout=30)
            if isinstance(data, str):
                self.words.append(json.loads(data))
            else:
                self.frames += QUANTUM
                self.tell(do="heard", frames=self.frames)


@pytest.fixture
def ear(desk):
    made = Ear(desk.open(desk.duplicate("sluice-gate")))
    yield made
    made.stream.close()


def test_the_stream_is_the_engine(ear):
    ear.tell(do="play")
    ear.tell(do="on")
    engine = Engine(ear.open.patch, loop=False)
    engine.restart()
    engine.loop = True
    for i in range(30):
        beat, x = ear.next()
        assert beat == pytest.approx(i * QUANTUM / engine.schedule.length * 8, abs=1e-4)
        assert np.array_equal(x, engine.quantum().astype("<f4"))


def test_nothing_is_sent_before_the_player_is_on_or_past_the_lead(ear):
    ear.tell(do="play")
    assert ear.out.empty()
    ear.tell(do="on")
    got = [ear.out.get(timeout=30) for _ in range(3)]
    assert all(isinstance(d, bytes) for d in got)
    with pytest.raises(queue.Empty):
        ear.out.get(timeout=0.3)


def test_a_turned_control_is_answered_heard_and_dropped(ear):
    ear.tell(do="on")
    ear.tell(do="play")
    plain = [ear.next()[1] for _ in range(40)]
    ear.tell(do="turn", path=CUTOFF, at=0.9)
    said = ear.said("value")
    assert (said["path"], said["text"]) == (CUTOFF, "10 kHz")
    assert said["axis"] == pytest.approx(0.9, abs=0.01)
    ear.tell(do="play")
    bright = [ear.next()[1] for _ in range(46)][6:]
    power = [float(np.square(np.diff(np.concatenate(x, axis=1))).mean()) for x in (plain, bright)]
    assert power[1] > 1.5 * power[0]
    assert ear.open.version == 0
    ear.tell(do="drop")
    assert ear.stream.inbox.patch == ear.open.patch


def test_a_kept_edit_reaches_the_stream(ear):
    ear.tell(do="on")
    ear.tell(do="play")
    ear.next()
    ear.open.edit([Edit("output.trim", -24.0)])
    last = [ear.next()[1] for _ in range(40)][-30:]
    assert np.abs(np.concatenate(last, axis=1)).max() < 10 ** (-24 / 20)


def test_notes_solo_and_listening(ear):
    ear.tell(do="on")
    silent = [ear.next()[1] for _ in range(8)]
    assert np.abs(np.concatenate(silent, axis=1)).max() == 0.0
    ear.tell(do="note", pitch=41, on=True)
    played = np.concatenate([ear.next()[1] for _ in range(16)], axis=1)
    assert np.abs(played).max() > 0.05
    ear.tell(do="note", pitch=41, on=False)
    ear.tell(do="solo", layers=["sub"])
    ear.tell(do="listen", mode="side")
    ear.tell(do="play")
    # what the space still says of the note before dies away first
    side = np.concatenate([ear.next()[1] for _ in range(150)], axis=1)[:, 130 * QUANTUM :]
    assert np.abs(side).max() < 1e-4
    ear.tell(do="listen", mode="mono")
    mono = np.concatenate([ear.next()[1] for _ in range(20)], axis=1)
    assert np.array_equal(mono[0], mono[1]) and np.abs(mono).max() > 0.05


def test_once_plays_the_phrase_once_and_stops(ear):
    ear.tell(do="loop", on=False)
    ear.tell(do="on")
    ear.tell(do="play")
    beats = list(itertools.takewhile(lambda b: b >= 0, (ear.next()[0] for _ in range(400))))
    assert 7.8 < max(beats) < 8.0
    assert ear.said("stopped")


def test_the_lead_grows_after_a_gap_and_on_a_near_miss(ear):
    ear.tell(do="on")
    before = ear.stream.lead_ms
    ear.tell(do="heard", frames=0, under=1)
    assert ear.stream.lead_ms == pytest.approx(before + 21.33, abs=0.1)
    ear.tell(do="heard", frames=0, under=1, reserve=100)
    assert ear.stream.lead_ms == pytest.approx(before + 32.0, abs=0.1)
    for under in range(2, 60):
        ear.tell(do="heard", frames=0, under=under)
    assert ear.stream.lead_ms < 350
    assert ear.said("state")["underruns"] >= 1


@pytest.mark.parametrize(
    "message",
    [
        None,
        [],
        {},
        {"do": 3},
        {"do": "explode"},
        {"do": "note", "pitch": 300, "on": True},
        {"do": "note"},
        {"do": "listen", "mode": "surround"},
        {"do": "heard", "frames": "many"},
        {"do": "turn", "path": "output.gain"},
        {"do": "turn", "path": "modulates only", "at": 0.5},
        {"do": "turn", "path": CUTOFF, "at": "x"},
        {"do": "solo", "layers": 5},
    ],
)
def test_a_wrong_message_is_answered_and_the_stream_goes_on(ear, message):
    ear.tell(do="on")
    ear.stream.take(message)
    said = None
    for _ in range(60):
        ear.next()
        said = said or next((w for w in ear.words if w["say"] == "problem"), None)
    assert said is not None or message == {"do": "turn", "path": "output.gain"}


def test_an_engine_that_cannot_keep_up_is_fed_from_the_loop_in_step(desk):
    """The clock says that every quantum took twice its time: the stream goes on from the rendered loop."""
    opened = desk.open(desk.duplicate("sluice-gate"))
    opened.measure()
    loop = opened.measuring.wait_picture(0, 60.0).loop
    ticks = itertools.count()
    ear = Ear(opened, cost=lambda: next(ticks) * 2 * QUANTUM / 48000)
    try:
        ear.tell(do="on")
        ear.tell(do="play")
        quanta = [ear.next() for _ in range(120)]
        assert ear.stream.fed_from_loop
        assert any(w.get("mode") == "loop" for w in ear.words)
        beat, x = quanta[-1]
        at = round(beat / 8 * loop.shape[1])
        assert x == pytest.approx(loop[:, (at + np.arange(QUANTUM)) % loop.shape[1]], abs=1e-6)
        opened.edit([Edit("output.gain", 1.0)])
        assert not ear.stream.fed_from_loop
    finally:
        ear.stream.close()


def test_what_the_rendered_loop_cannot_play_is_said(desk):
    opened = desk.open(desk.duplicate("sluice-gate"))
    opened.measure()
    loop = opened.measuring.wait_picture(0, 60.0).loop
    ticks = itertools.count()
    ear = Ear(opened, cost=lambda: next(ticks) * 2 * QUANTUM / 48000)

    def words_of(mode):
        return [w["words"] for w in ear.words if w.get("mode") == mode]

    try:
        ear.tell(do="on")
        ear.tell(do="play")
        ear.tell(do="listen", mode="mono")
        beat, x = [ear.next() for _ in range(120)][-1]
        assert words_of("loop")[-1].endswith("so played keys are not heard")
        # listening modes are heard from the loop too
        at = round(beat / 8 * loop.shape[1])
        mono = loop[:, (at + np.arange(QUANTUM)) % loop.shape[1]].mean(axis=0)
        assert x == pytest.approx(np.stack([mono, mono]), abs=1e-6)
        # a solo is tried with the engine first
        ear.tell(do="solo", layers=["sub"])
        assert not ear.stream.fed_from_loop
        for _ in range(120):
            ear.next()
        assert words_of("loop")[-1].endswith("so solo and played keys are not heard")
        assert "load" in words_of("live")[0] and "no gaps" in words_of("live")[0]
    finally:
        ear.stream.close()


def test_a_stream_fed_from_the_loop_goes_live_again_by_itself_and_for_a_hand(desk):
    """It takes twice its time until it is fed from the loop, and next to nothing from then on: no jump either way."""
    opened = desk.open(desk.duplicate("undertow"))
    opened.measure()
    opened.measuring.wait_picture(0, 60.0)
    now, slow = [0.0], [True]

    def clock():
        now[0] += 2 * QUANTUM / 48000 if slow[0] else 1e-6
        return now[0]

    ear = Ear(opened, cost=clock)
    heard = []

    def until(fed):
        for _ in range(RETRY + 60):
            heard.append(ear.next()[1])
            if ear.stream.fed_from_loop == fed:
                return len(heard)
        raise AssertionError("nothing changed")

    try:
        ear.tell(do="on")
        ear.tell(do="play")
        until(True)
        slow[0] = False
        until(False)
        slow[0] = True
        first = until(True)
        slow[0] = False
        for _ in range(60):
            heard.append(ear.next()[1])
        ear.tell(do="turn", path="output.gain", text="-1 dB")
        # long before it would try again by itself
        assert until(False) - first < RETRY
        heard += [ear.next()[1] for _ in range(20)]
        whole = np.concatenate(heard, axis=1)
        own = np.abs(np.diff(opened.measuring.picture.loop)).max()
        assert np.abs(np.diff(whole)).max() < 2.0 * own
    finally:
        ear.stream.close()


def test_the_patch_of_a_turn_is_made_from_the_kept_one(desk):
    opened = desk.open(desk.duplicate("sluice-gate"))
    ear = Ear(opened)
    try:
        for _ in range(3):
            ear.tell(do="turn", path=CUTOFF, steps=12)
            assert ear.said("value")["text"] == "460 Hz"
        assert opened.patch == apply(opened.patch, [])
    finally:
        ear.stream.close()
