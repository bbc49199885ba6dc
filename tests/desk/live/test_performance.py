"""A controller on the live stream: what it sends is heard, recorded, and kept when it comes to rest."""

import time

import numpy as np
import pytest

from kessel.desk import ControlChange, bind, unbind
from kessel.desk.editing.movements import add_movement
from kessel.desk.editing.parts import add_part
from kessel.desk.live import hands
from kessel.measure import fit_tones
from kessel.patch import ValueProblem, declaration, get

from .test_stream import Ear

BEND = [0xE0, 127, 127]


@pytest.fixture
def ear(desk):
    made = Ear(desk.open(desk.new()))
    yield made
    made.stream.close()


def sound(ear, quanta, skip=18):
    for _ in range(skip):
        ear.next()
    return np.concatenate([ear.next()[1] for _ in range(quanta)], axis=1)[0]


def level_at(x, pitch):
    hz = 440 * 2 ** ((pitch - 69) / 12)
    return float(np.abs(fit_tones(x[None, :].astype(float), np.array([hz]))[0][0, 0]))


def test_a_key_a_bend_and_a_pedal(ear):
    ear.tell(do="on")
    ear.tell(do="midi", bytes=[0x90, 57, 127])
    assert level_at(sound(ear, 12), 57) > 0.3
    ear.tell(do="midi", bytes=BEND)
    assert level_at(sound(ear, 12), 59) > 0.3
    ear.tell(do="midi", bytes=[0xE0, 0, 64])
    ear.tell(do="midi", bytes=[0xB0, 64, 127])
    ear.tell(do="midi", bytes=[0x80, 57, 0])
    assert level_at(sound(ear, 12), 57) > 0.3
    ear.tell(do="midi", bytes=[0xB0, 64, 0])
    assert np.abs(sound(ear, 6, 16)).max() < 1e-3


def test_bytes_that_mean_nothing_do_nothing(ear):
    ear.tell(do="on")
    for bytes_ in ([], [0xF8], [1, 2, 3, 4, 5], [0x90, 300, 1]):
        ear.tell(do="midi", bytes=bytes_)
    ear.tell(do="midi", bytes=["x"])
    assert ear.said("problem")["text"].startswith("the player's message")
    assert np.abs(sound(ear, 4)).max() == 0.0


def test_what_is_played_is_recorded_where_it_was_heard(ear):
    ear.tell(do="record", on=True)
    assert "press Play first" in ear.said("problem")["text"]
    before = len(ear.open.patch.phrase.notes)
    ear.tell(do="play")
    ear.tell(do="on")
    for _ in range(30):
        ear.next()
    ear.tell(do="record", on=True, snap="1/8")
    assert ear.said("recording")["on"] is True
    heard = ear.frames / ear.stream.player.engine.schedule.length * 8
    ear.tell(do="midi", bytes=[0x90, 50, 90])
    for _ in range(20):
        ear.next()
    ear.tell(do="midi", bytes=[0xB0, 1, 100])
    ear.tell(do="midi", bytes=[0x80, 50, 0])
    ear.tell(do="record", on=False)
    assert ear.said("edited")["label"] == "Record 1 note"
    phrase = ear.open.patch.phrase
    new = [n for n in phrase.notes if n.pitch == 50]
    assert len(phrase.notes) == before + 1 and new[0].velocity == 90
    assert abs(new[0].start - heard) <= 0.5 and new[0].start % 0.5 == 0.0
    assert new[0].length == pytest.approx(20 * 1024 / ear.stream.player.engine.schedule.length * 8, abs=0.3)
    assert phrase.wheel[0].value == pytest.approx(100 / 127, abs=1e-3)


def test_a_slider_moves_its_macro_and_is_kept_when_it_rests(ear, monkeypatch):
    monkeypatch.setattr(hands, "REST", 0.0)
    ear.tell(do="on")
    ear.tell(do="midi", bytes=[0xB0, 16, 127])
    assert "slider 1 has no macro" in ear.said("problem")["text"]
    opened = ear.open
    edits, macro, label = add_part(opened.patch, "movers", "macro")
    opened.edit(edits, label)
    opened.edit(*add_movement(opened.patch, macro, "layers.sub.sources.sine.level"))
    opened.turn(ControlChange(f"movements.{macro}-moves.amount", text="−40 dB"))
    ear.tell(do="midi", bytes=[0x90, 57, 127])
    loud = level_at(sound(ear, 12), 57)
    ear.tell(do="midi", bytes=[0xB0, 16, 127])
    quiet = level_at(sound(ear, 12), 57)
    assert 20 * np.log10(quiet / loud) == pytest.approx(-40.0, abs=1.0)
    assert ear.said("edited")["label"].endswith("value 0 % → 100 %")
    assert opened.patch.movers[0].value == 100.0


def test_a_bound_controller_turns_its_control_over_the_whole_rule(ear, monkeypatch):
    monkeypatch.setattr(hands, "REST", 0.0)
    ear.tell(do="on")
    opened = ear.open
    # a slider without a macro, and the wheel, that has another meaning unbound
    for number, path in ((17, "layers.sub.level"), (1, "tempo")):
        opened.edit(*bind(opened.patch, number, path))
        control, held = declaration(opened.patch, path), 32
        ear.tell(do="midi", bytes=[0xB0, number, held])
        assert ear.said("edited")["label"]
        assert get(opened.patch, path) == control.at(held / 127.0)
    opened.edit(*bind(opened.patch, 17, "layers.sub.pan"))
    assert [b.target for b in opened.patch.bindings if b.controller == 17] == ["layers.sub.pan"]
    opened.edit(*unbind(opened.patch, 17))
    ear.tell(do="midi", bytes=[0xB0, 17, 32])
    assert "slider 2 has no macro" in ear.said("problem")["text"]
    for number, path, why in ((120, "tempo", "go from 0"), (4, "layers.sub.play.mode", "numbers only")):
        with pytest.raises(ValueProblem, match=why):
            bind(opened.patch, number, path)


def test_a_wave_is_heard_while_it_is_drawn_and_dropped_when_it_is_not_kept(ear):
    ear.tell(do="on")
    ear.tell(do="midi", bytes=[0x90, 45, 127])
    plain = level_at(sound(ear, 12), 57)
    path = "layers.sub.sources.sine"
    ear.tell(do="wave", deed="bars", path=path, frame=0, levels=[[1, -20.0], [2, 0.0]])
    assert level_at(sound(ear, 12), 57) > plain + 0.2
    assert ear.open.patch.waves == []
    ear.tell(do="drop")
    assert level_at(sound(ear, 12), 57) < plain + 0.05
    ear.tell(do="wave", deed="stroke", path="layers.nobody", frame=0, strokes=[])
    assert "no control at" in ear.said("problem")["text"]


def test_the_beat_plays_beside_and_is_never_measured(desk):
    opened = desk.open(desk.new())
    opened.edit([])
    before = opened.measuring
    opened.measure()
    loud = before.wait_findings(opened.version, 60.0).picture.loudness
    opened.turn(ControlChange("backing.beat.on", text="on"))
    opened.turn(ControlChange("layers.sub.level", text="off"))
    ear = Ear(opened)
    try:
        ear.stream.backing.follow(opened.patch, wait=True)
        deadline = time.monotonic() + 30.0
        while not ear.stream.backing.run.tracks and time.monotonic() < deadline:
            ear.stream.backing.follow(opened.patch, wait=True)
        ear.tell(do="play")
        ear.tell(do="on")
        assert np.abs(sound(ear, 24)).max() > 0.1
        ear.tell(do="stop")
        sound(ear, 2, 8)
        assert np.abs(sound(ear, 6)).max() < 1e-3
    finally:
        ear.stream.close()
    opened.turn(ControlChange("layers.sub.level", text="−6"))
    opened.measure()
    assert opened.measuring.wait_findings(opened.version, 60.0).picture.loudness == pytest.approx(loud, abs=0.01)


def test_another_patch_plays_beside_at_this_tempo(desk):
    opened = desk.open(desk.new())
    from kessel.patch import BackingPatch, Edit

    other = BackingPatch(id="o", name="Other", slug="ebb-motor")
    missing = BackingPatch(id="m", name="Gone", slug="no-such-patch")
    opened.edit([Edit("backing.patches", [other.model_dump(), missing.model_dump()])])
    ear = Ear(opened)
    try:
        mix = ear.stream.backing
        mix._wanted = None
        mix.follow(opened.patch, wait=True)
        (track,) = mix.run.tracks
        assert track.x.shape[1] == round(track.beats * 60 / opened.patch.tempo * 48000)
        assert "no patch “no-such-patch”" in mix.problem
        assert np.abs(track.x).max() > 0.05
    finally:
        ear.stream.close()
