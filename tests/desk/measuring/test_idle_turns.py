"""What is turned and changes nothing in the loop is told, with the reason where it is known."""

from threading import Event

import numpy as np
import pytest

from kessel.desk import ControlChange
from kessel.desk.measuring.idle_turns import idle_words, turned
from kessel.engine import render_loop
from kessel.patch import Edit, apply, sentence

from ...making import edited, layer, note, oscillator, patch

APART = [note(33, 0, 0.5), note(33, 1, 0.5)]
DRAWN = oscillator("drawn", wave="stock:first-three")
FILTER = {"kind": "filter", "id": "f", "name": "F", "cutoff": 300.0}
LFO = {"kind": "lfo", "id": "l", "name": "Slow", "clock": "beats", "length": 8.0, "restart": "note"}
ECHO = {"kind": "echo", "id": "e", "name": "Echo"}

IDLE = [
    (patch(layer(play={"mode": "mono"}), notes=APART), "layers.one.play.mode", "legato", "no two notes overlap"),
    (patch(layer(play={"glide": 50.0}), notes=APART), "layers.one.play.glide", 90.0, "no two notes overlap"),
    (patch(layer(), notes=APART), "layers.one.play.velocity", 20.0, "all notes have full velocity"),
    (patch(layer(), notes=APART), "layers.one.play.bend_range", 12.0, "the phrase has no bend"),
    (patch(layer(sources=[DRAWN])), "layers.one.sources.a.position", 60.0, "the wave has one frame"),
    (patch(layer(stages=[FILTER | {"on": False}])), "layers.one.stages.f.cutoff", 90.0, "F is off"),
    (patch(layer(chain=[ECHO | {"mix": 0.0}])), "layers.one.chain.e.feedback", 60.0, "the mix of Echo is 0 %"),
    (patch(layer(), layer("two", mute=True)), "layers.two.play.transpose", 7, "Two is muted"),
    (patch(layer(), movers=[LFO]), "movers.l.length", 4.0, "Slow moves nothing"),
    (patch(layer(range={"high": 15000.0})), "layers.one.range.high", 12000.0, "there is nothing above it"),
]


@pytest.mark.parametrize(("given", "path", "value", "reason"), IDLE, ids=[i[3] + " " + i[1] for i in IDLE])
def test_what_changes_nothing_says_why(given, path, value, reason):
    after = apply(given, [Edit(path, value)])
    a, b = (render_loop(p).sum.astype(np.float32) for p in (given, after))
    words = idle_words(given, a, after, b)
    if reason == "there is nothing above it":
        # the filter itself is heard a little: this is measured, never guessed
        assert words == "" or words.endswith(reason)
        return
    # the line takes the place of the step's own words, so it begins with them
    assert words.startswith(sentence(given, [Edit(path, value)]))
    assert words.endswith(f"changes nothing in this loop: {reason}")


@pytest.mark.parametrize(
    ("path", "value"),
    [("layers.one.level", -0.1), ("layers.one.sources.a.semitones", 0.01), ("output.gain", 0.1), ("tempo", 121.0)],
)
def test_what_is_heard_is_not_told(path, value):
    given = patch(notes=APART)
    after = apply(given, [Edit(path, value)])
    a, b = (render_loop(p).sum.astype(np.float32) for p in (given, after))
    assert idle_words(given, a, after, b) == ""


def test_only_a_single_control_is_told():
    given = patch(notes=APART)
    assert turned(given, edited(given, layers__one__play__glide=9.0)) == "layers.one.play.glide"
    assert turned(given, edited(given, layers__one__play__glide=9.0, output__gain=-1.0)) is None
    assert turned(given, edited(given, phrase__notes=[note(33, 0, 0.5)], output__gain=-1.0)) is None
    assert turned(given, given) is None


def told(opened, wanted):
    """Wait for the words of the last turn."""
    there = Event()
    stop = opened.watch(there.set)
    try:
        opened.measure()
        while not (bool(opened.news().idle) is wanted and opened.news().findings == opened.version and opened.settled):
            assert there.wait(60.0), opened.news()
            there.clear()
        return opened.news().idle
    finally:
        stop()


def test_a_level_match_that_takes_a_gain_back_is_told(opened):
    item = next(i for i in opened.patch.worked if i.kind == "eq")
    opened.edit([Edit(f"worked.{item.id}.matched", True)])
    opened.measure()
    told(opened, False)
    opened.turn(ControlChange(f"worked.{item.id}.trim", text="-6 dB"))
    assert told(opened, True).endswith(f"the level match of {item.name} takes it back")
    opened.turn(ControlChange("layers.body.level", text="-20 dB"))
    told(opened, False)
