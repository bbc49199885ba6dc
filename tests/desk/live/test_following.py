"""A phrase that follows a MIDI clock: when its notes are heard, against the beats of the device that sends the clock."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kessel.desk.live.backing_mix import BackingMix
from kessel.desk.live.following import Following
from kessel.desk.live.listening import Monitor
from kessel.desk.live.messages import message_of
from kessel.desk.live.player import Player
from kessel.engine import QUANTUM, RATE

from ...making import layer, note, oscillator, patch

TICK, START, CONTINUE, STOP, POSITION = 0xF8, 0xFA, 0xFB, 0xFC, 0xF2
AHEAD = 3000
SECONDS_OUT = 0.012


class Rig:
    """A device with a clock, and a player that follows it, in a time of their own.

    jitter: seconds by which ticks are late at most; slow: by which they are read late, at most. beats: when each beat of the device was, in seconds.
    """

    def __init__(self, own_tempo=120.0, jitter=0.0, slow=0.0, notes=None):
        notes = notes or [note(69, beat, 0.25) for beat in range(4)]
        made = patch(layer("one", sources=[oscillator("sine")]), tempo=own_tempo, phrase={"bars": 1, "notes": notes})
        self.now, self.said, self.sound = 0.0, [], []
        self.following = Following(lambda **said: self.said.append(said), clock=lambda: self.now)
        backing, monitor = BackingMix(None), Monitor(None)
        self.player = Player(made, backing, monitor, lambda: None, self.following.timed)
        self.rng, self.jitter, self.slow = np.random.default_rng(5), jitter, slow
        self.ticks, self.next, self.beats, self.n = False, 0.0, [], 0

    def send(self, *data, at=None, **more):
        # the page's clock began half a minute later
        at = 1000 * (30 + (self.now if at is None else at))
        message = {"do": "clock", "bytes": [*data], "out": 1000 * SECONDS_OUT, "at": at, **more}
        self.following.handlers()["clock"](message_of(message))

    def run(self, seconds, tempo):
        """Let time pass, with a clock of a tempo. None: without ticks."""
        until = self.now + seconds
        while self.now < until:
            if tempo is None:
                self.next = self.now
            while tempo is not None and self.next <= self.now:
                if self.n % 24 == 0:
                    self.beats.append(self.next)
                came, read = self.next + self.rng.uniform(0, self.jitter), self.now
                self.now = came + self.rng.uniform(0, self.slow)
                self.send(TICK, at=came)
                self.now = read
                self.n += 1
                self.next += 60.0 / (24 * tempo)
            self.following.step(self.player, AHEAD)
            self.sound.append(self.player.quantum(False)[0][0])
            self.now += QUANTUM / RATE

    def start(self, kind=START, at=0):
        self.send(kind)
        self.beats, self.n = [], at

    def onsets(self, since=0.0):
        """When the notes are heard, in seconds."""
        loud = np.flatnonzero(np.abs(np.concatenate(self.sound)) >= 1e-3)
        first = loud[np.diff(loud, prepend=-RATE) > 480]
        heard = first / RATE + AHEAD / RATE + SECONDS_OUT
        return heard[heard >= since]


def off(rig, since):
    """By how many ms each note is heard after the nearest beat of the device."""
    beats = np.array(rig.beats)
    heard = rig.onsets(since)
    heard = heard[heard < beats[-1]]
    assert heard.size > 3
    return np.array([1000 * (at - beats[np.argmin(np.abs(beats - at))]) for at in heard])


@pytest.mark.parametrize("tempo", [120.0, 120.2, 97.3, 174.0])
@pytest.mark.parametrize(("jitter", "slow"), [(0.0, 0.0), (0.002, 0.0), (0.0, 0.05)])
def test_every_note_after_the_first_is_heard_on_the_beat(tempo, jitter, slow):
    rig = Rig(jitter=jitter, slow=slow)
    rig.run(1.5, tempo)
    rig.start()
    began = rig.now
    rig.run(20.0, tempo)
    # ticks that are up to 2 ms late are 1 ms late on the average
    assert np.abs(off(rig, began + 0.4) - 500 * jitter).max() < 1.0 + 500 * jitter
    assert len(rig.onsets(began)) == pytest.approx(20.0 * tempo / 60, abs=2)
    assert {"say": "started"} in rig.said
    assert jitter or f"follows {tempo:.1f} BPM" in rig.said[-1]["words"]


def test_a_clock_that_only_runs_while_it_plays_is_followed_from_its_first_ticks():
    rig = Rig(own_tempo=140.0)
    rig.run(0.5, None)
    rig.start()
    began = rig.now
    rig.run(15.0, 128.0)
    assert np.abs(off(rig, began + 1.0)).max() < 1.0


def test_it_continues_where_the_song_stands_and_stops():
    rig = Rig(notes=[note(69, 0, 0.25), note(69, 1, 0.25)])
    rig.run(1.0, 120.0)
    # six sixteenths: the middle of the second beat
    rig.send(POSITION, 6, 0)
    rig.start(CONTINUE, at=36)
    began = rig.now
    rig.run(6.0, 120.0)
    beat = 0.5
    first = rig.onsets(began)[:4] - began
    # the rest of the bar has no note: 2.5 beats until the next one
    assert first - 2.5 * beat == pytest.approx([0, beat, 4 * beat, 5 * beat], abs=0.03)
    rig.send(STOP)
    stopped = rig.now
    rig.run(3.0, 120.0)
    assert rig.onsets(stopped + AHEAD / RATE + 0.05).size == 0
    assert rig.said.count({"say": "stopped"}) == 1


def test_started_anew_without_a_stop_it_begins_anew():
    rig = Rig()
    rig.run(1.0, 120.0)
    rig.start()
    rig.run(3.3, 120.0)
    rig.start()
    again = rig.now
    rig.run(6.0, 120.0)
    assert np.abs(off(rig, again + 0.4)).max() < 1.0


def test_another_tempo_is_followed_within_two_beats_and_cuts_no_note():
    long = [note(69, 0, 4)]
    rig = Rig(notes=long)
    rig.run(1.0, 120.0)
    rig.start()
    rig.run(4.3, 120.0)
    before = len(rig.sound)
    rig.run(1.2, 126.0)
    x = np.concatenate(rig.sound[before:])
    loudest = np.abs(x[: x.size // QUANTUM * QUANTUM].reshape(-1, QUANTUM)).max(axis=1)
    assert rig.player.engine.patch.tempo == pytest.approx(126.0, abs=0.2)
    assert loudest[:20].min() > 0.5
    # a sine of 440 Hz, and two of them while one fades into the other
    assert np.abs(np.diff(x, 2)).max() < 2.2 * (2 * np.pi * 440 / RATE) ** 2
    rig = Rig()
    rig.run(1.0, 120.0)
    rig.start()
    rig.run(4.3, 120.0)
    rig.run(1.0, 126.0)
    settled = rig.now
    rig.run(8.0, 126.0)
    assert np.abs(off(rig, settled + 0.5)).max() < 1.0


def test_moving_the_phrase_loses_no_note_and_plays_none_twice():
    sixteenths = [note(69, n / 4, 0.1) for n in range(16)]
    rig = Rig(notes=sixteenths)
    rig.run(1.0, 120.25)
    rig.start()
    began = rig.now
    rig.run(60.0, 120.25)
    heard = rig.onsets(began + 0.5)
    assert np.diff(heard) == pytest.approx(np.full(heard.size - 1, 15 / 120.25), abs=0.002)


def test_without_ticks_the_patch_has_its_own_tempo_again():
    rig = Rig()
    rig.run(1.0, 150.0)
    assert rig.player.engine.patch.tempo == 150.0
    rig.run(2.5, None)
    assert rig.player.engine.patch.tempo == 120.0
    assert rig.said[-1] == {"say": "clock", "tempo": None, "words": ""}


def test_a_clock_that_no_patch_can_follow_is_said():
    rig = Rig()
    rig.run(2.0, 290.0)
    assert rig.said[-1]["words"] == "the clock runs at 290 BPM: 40 to 240 can be followed"
    assert rig.player.engine.patch.tempo == 120.0


@given(st.lists(st.tuples(st.lists(st.integers(0, 255), min_size=1, max_size=3), st.floats(0, 1e4)), max_size=60))
def test_whatever_comes_from_a_device_the_player_plays_on(events):
    rig = Rig()
    for data, late in events:
        rig.send(*data, at=late / 1000)
        rig.following.step(rig.player, AHEAD)
        rig.now += 0.01
    assert np.isfinite(rig.player.quantum(False)[0]).all()
