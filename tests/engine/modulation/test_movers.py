"""What movers say, to the sample, and what movements make of it."""

import numpy as np
import pytest

from kessel.engine import Engine, RenderCache, render_loop
from kessel.engine.modulation.movers import TransportContext, mover_processor
from kessel.engine.modulation.voice import Voice
from kessel.engine.render.cache_keys import layer_key, span_of
from kessel.engine.render.loop import render_sum
from kessel.engine.voices.layer_voices import LayerVoices
from kessel.patch import Curve, Envelope, Lfo, Macro, Patch, Performance, ValueProblem

from ...making import RATE, edited, layer, note, oscillator, patch

QUANTUM = 1024
BEAT = RATE // 2


def said(part, samples, began=0, off=None, note_id="n", origin=0, length=4 * BEAT, **words):
    """What a mover says over some samples of a note at 120 BPM."""
    processor, voice = mover_processor(part), Voice()
    voice.note, voice.began, voice.velocity, voice.pitch = note_id, began, 1.0, 36.0
    found = []
    for start in range(0, samples, QUANTUM):
        if off is not None and start <= off < start + QUANTUM:
            voice.marks.append((off - start, "off", 0.0))
        voice.begin_span(start, min(max(began - start, 0), QUANTUM), QUANTUM)
        found.append(processor.value(voice, {}, TransportContext(start=start, origin=origin, length=length, **words)))
    return np.concatenate(found)[:samples]


def curve(*points, **words):
    made = [{"at": p[0], "value": p[1], "bend": p[2] if len(p) > 2 else 0.0} for p in points]
    return Curve(**{"id": "c", "name": "C", "edges": 0.0, "points": made} | words)


def lfo(**words):
    return Lfo(**{"id": "l", "name": "L", "edges": 0.0} | words)


def test_breakpoints_of_a_curve_fall_on_the_sample():
    part = curve((0, 0), (0.25, 1), (0.25, 0.2), (0.6, 0.7), (1, 0), length=4.0)
    y = said(part, 5 * BEAT)
    whole = 4 * BEAT
    assert y[0] == 0.0 and y[whole // 4 - 1] == pytest.approx(1.0, abs=1e-4)
    assert y[whole // 4] == pytest.approx(0.2)
    top = round(0.6 * whole)
    assert y[top] == pytest.approx(0.7) and y[top - 1] < 0.7 and y[top + 1] < 0.7
    assert np.all(y[whole:] == 0.0)
    half = y[whole // 4 // 2]
    assert half == pytest.approx(0.5, abs=1e-4)


def test_a_bent_way_goes_early_or_late_and_ends_where_it_did():
    early, late = (said(curve((0, 0), (1, 1, 0), length=1.0) if not b else curve((0, 0, b), (1, 1), length=1.0), BEAT + 1)
                   for b in (60, -60))  # fmt: skip
    assert early[BEAT // 2] > 0.8 > 0.2 > late[BEAT // 2]
    assert early[BEAT] == pytest.approx(1.0) and late[BEAT] == pytest.approx(1.0)
    assert np.all(np.diff(early) >= 0) and np.all(np.diff(late) >= 0)


def test_a_curve_loops_with_its_length_and_softens_the_way_round():
    hard = said(curve((0, 1), (1, 0), length=0.5, play="loop"), 2 * BEAT)
    assert np.abs(hard[: BEAT // 2] - hard[BEAT // 2 : BEAT]).max() < 1e-12
    soft = said(curve((0, 1), (1, 0), length=0.5, play="loop", edges=5.0), 2 * BEAT)
    assert np.abs(np.diff(hard)).max() > 0.9
    assert np.abs(np.diff(soft[BEAT // 4 :])).max() < 1.1 / (0.005 * RATE)


def test_a_held_curve_waits_for_the_end_of_the_note():
    part = curve((0, 0), (0.5, 1), (1, 0), length=1.0, play="hold", hold_at=50.0)
    off = 3 * BEAT
    y = said(part, 5 * BEAT, off=off)
    assert np.all(y[BEAT // 2 : off + 1] == pytest.approx(1.0))
    assert y[off + BEAT // 4] == pytest.approx(0.5, abs=1e-3)
    assert np.all(y[off + BEAT // 2 + 2 :] == pytest.approx(0.0, abs=1e-3))


def test_an_lfo_stands_where_it_should_after_64_bars():
    part = lfo(shape="saw up", length=0.75, restart="free")
    processor, voice = mover_processor(part), Voice()
    start = 64 * 4 * BEAT // QUANTUM * QUANTUM
    y = processor.value(voice, {}, TransportContext(start=start, length=4 * BEAT))
    want = 2.0 * np.mod((start + np.arange(QUANTUM)) / (0.75 * BEAT), 1.0) - 1.0
    assert np.abs(y - want).max() < 1e-9


def test_an_lfo_restarts_with_the_phrase_on_its_sample():
    y = said(lfo(shape="saw down", length=3.0, restart="phrase"), 8 * BEAT + 10)
    assert y[4 * BEAT - 1] == pytest.approx(1.0 - 2.0 * ((4 * BEAT - 1) / BEAT / 3.0 % 1.0), abs=1e-9)
    assert y[4 * BEAT] == pytest.approx(1.0)
    assert np.array_equal(y[: 4 * BEAT], y[4 * BEAT : 8 * BEAT])


def test_lfo_shapes():
    for shape in ("sine", "triangle", "saw up", "saw down", "square", "stepped random", "smooth random", "drawn"):
        y = said(lfo(shape=shape, length=0.25), 2 * BEAT)
        assert np.abs(y).max() <= 1.0 and y.std() > 0.2, shape
        soft = said(lfo(shape=shape, length=0.25, edges=3.0), 2 * BEAT)
        assert np.abs(np.diff(soft[BEAT // 8 :])).max() < 2.1 / (0.003 * RATE), shape
    up = said(lfo(shape="square", length=1.0, width=25.0), BEAT)
    assert np.mean(up > 0) == pytest.approx(0.25, abs=1e-3)
    once = said(lfo(shape="saw up", length=1.0, once=True), 3 * BEAT)
    assert np.all(once[BEAT:] > 0.999)
    faded = said(lfo(shape="square", length=0.5, fade=100.0), BEAT)
    assert abs(faded[480]) == pytest.approx(0.1, abs=1e-3)


def test_chance_is_thrown_once_a_note_and_is_the_same_again():
    part = Performance(id="h", name="H", what="random")
    thrown = [said(part, 100, note_id=f"n{i}", seed=4) for i in range(40)]
    assert all(np.ptp(t) == 0 for t in thrown)
    values = np.array([t[0] for t in thrown])
    assert 0.3 < values.mean() < 0.7 and values.std() > 0.2
    assert said(part, 10, note_id="n7", seed=4)[0] == values[7]


def test_an_envelope_in_beats_with_an_accent_and_a_start_level():
    part = Envelope(
        id="e", name="E", clock="beats", attack_beats=0.25, decay_beats=0.5, sustain=40.0, start=20.0,
        accent=50.0, accent_decay=20.0, attack_curve=0.0, decay_curve=0.0,
    )  # fmt: skip
    y = said(part, 2 * BEAT)
    assert y[0] == pytest.approx(0.2)
    assert y[BEAT // 4] == pytest.approx(1.5, abs=0.01)
    assert y[BEAT // 4 + 960 + 1] < 1.0
    assert y[BEAT // 4 + BEAT // 2 + 1] == pytest.approx(0.4, abs=1e-3)


def test_a_macro_is_drawn_along_the_phrase():
    part = Macro(
        id="m", name="M", value=80.0, drawn=True, bars=1, points=[{"at": 0, "value": 0}, {"at": 1, "value": 1}]
    )
    y = said(part, 8 * BEAT)
    assert y[2 * BEAT] == pytest.approx(0.5, abs=1e-3) and y[6 * BEAT] == pytest.approx(0.5, abs=1e-3)
    by_hand = said(part.model_copy(update={"drawn": False}), 100)
    assert by_hand[-1] == pytest.approx(0.8)


# movements

FILTERED = {
    "sources": [oscillator("saw")],
    "stages": [{"kind": "filter", "id": "f", "name": "F", "cutoff": 500.0, "slope": "12"}],
}


def moved(movers, movements, *layers, **words):
    moves = [{"id": f"m{i}", **m} for i, m in enumerate(movements)]
    return patch(*(layers or (layer(**FILTERED),)), movers=movers, movements=moves, **words)


def travel(p, path):
    return render_loop(p, RenderCache()).travel[path]


CUTOFF = "layers.one.stages.f.cutoff"


def test_a_mover_moves_another_movers_control():
    macro = {"kind": "macro", "id": "m", "name": "M", "value": 100.0}
    env = {"kind": "envelope", "id": "e", "name": "E", "attack": 0.5, "decay": 100.0, "decay_curve": 0.0}
    moves = [
        {"mover": "e", "target": CUTOFF, "amount": 2.0},
        {"mover": "m", "target": "movers.e.decay", "amount": 2.0},
    ]
    slow, fast = (travel(moved([macro | {"value": v}, env], moves), CUTOFF) for v in (100.0, 0.0))
    at = round(0.1 * RATE / 256)
    assert fast[at] == pytest.approx(np.log2(500.0), abs=0.03)
    assert slow[at] == pytest.approx(np.log2(500.0) + 1.5, abs=0.05)


def test_a_moved_rate_is_added_up_without_a_jump():
    macro = {"kind": "macro", "id": "m", "name": "M", "drawn": True, "bars": 1,
             "points": [{"at": 0, "value": 0}, {"at": 1, "value": 1}]}  # fmt: skip
    for restart in ("note", "phrase", "free"):
        wave = {"kind": "lfo", "id": "l", "name": "L", "clock": "Hz", "rate": 1.0, "restart": restart}
        moves = [
            {"mover": "l", "target": CUTOFF, "amount": 1.0, "both_ways": True},
            {"mover": "m", "target": "movers.l.rate", "amount": 3.0},
        ]
        y = travel(moved([macro, wave], moves), CUTOFF)[2:-6]
        assert np.abs(np.diff(y)).max() < 2 * np.pi * 8.5 * 256 / RATE
        # from 1 to 8 Hz over two seconds: the integral of 2^(1.5 t)
        is_bipolar = np.sum(np.diff(np.sign(y - np.log2(500.0))) > 0)
        assert is_bipolar == pytest.approx(7 / (1.5 * np.log(2)), abs=1.1)


def test_movers_that_move_each_other_are_refused():
    a = {"kind": "lfo", "id": "a", "name": "Left", "clock": "Hz"}
    b = {"kind": "lfo", "id": "b", "name": "Right", "clock": "Hz"}
    moves = [
        {"mover": "a", "target": "movers.b.rate", "amount": 1},
        {"mover": "b", "target": "movers.a.rate", "amount": 1},
    ]
    with pytest.raises(ValueError, match="in a circle"):
        moved([a, b], moves)
    with pytest.raises(ValueProblem, match="in a circle"):
        edited(moved([a, b], moves[:1]), movements=[{"id": "x", **moves[0]}, {"id": "y", **moves[1]}])


def test_a_movement_is_scaled_by_a_second_mover_and_bent():
    macro = {"kind": "macro", "id": "m", "name": "M", "value": 50.0}
    scale = {"kind": "macro", "id": "s", "name": "S", "value": 25.0}
    one = {"mover": "m", "target": CUTOFF, "amount": 2.0}
    plain = travel(moved([macro, scale], [one]), CUTOFF)[20]
    assert plain == pytest.approx(np.log2(500) + 1.0)
    assert travel(moved([macro, scale], [one | {"scaled_by": "s"}]), CUTOFF)[20] == pytest.approx(np.log2(500) + 0.25)
    assert travel(moved([macro, scale], [one | {"curve": 60.0}]), CUTOFF)[20] > plain + 0.5
    centred = travel(moved([macro, scale], [one | {"both_ways": True}]), CUTOFF)[20]
    assert centred == pytest.approx(np.log2(500))


def test_a_lost_movement_moves_nothing():
    env = {"kind": "envelope", "id": "e", "name": "E"}
    gone = {"mover": "e", "target": "layers.one.stages.gone.cutoff", "amount": 2.0}
    with pytest.raises(ValueError, match="drives nothing"):
        moved([env], [gone])
    p = moved([env], [gone | {"lost": "Body gone cutoff"}])
    assert not render_loop(p, RenderCache()).travel


def test_a_moved_level_gates_the_layer_and_keeps_its_fader():
    gate = {"kind": "curve", "id": "c", "name": "C", "length": 1.0, "play": "loop", "edges": 2.0,
            "points": [{"at": 0, "value": 0}, {"at": 0.5, "value": 0}, {"at": 0.5, "value": 1}, {"at": 1, "value": 1}]}  # fmt: skip
    p = moved([gate], [{"mover": "c", "target": "layers.one.level", "amount": -72.0}], layer(level=-6.0))
    y = render_loop(p, RenderCache()).sum[0]
    beat = y.reshape(4, BEAT)
    loud, silent = beat[1:, 2000 : BEAT // 2 - 500], beat[:, BEAT // 2 + 500 : BEAT - 500]
    assert np.abs(loud).max() == pytest.approx(10 ** (-6 / 20), rel=0.01)
    assert np.abs(silent).max() == 0.0
    assert np.abs(np.diff(y)).max() < 0.05


def test_a_moved_pitch_drops_the_whole_layer():
    drop = {
        "kind": "curve",
        "id": "c",
        "name": "C",
        "length": 2.0,
        "points": [{"at": 0, "value": 1}, {"at": 1, "value": 0}],
    }
    p = moved([drop], [{"mover": "c", "target": "layers.one.play.pitch", "amount": 24.0}], layer())
    y = render_loop(p, RenderCache()).sum[0]
    rising = np.flatnonzero((y[:-1] < 0) & (y[1:] >= 0))
    hz = RATE / np.diff(rising)
    assert hz[1] > 190 and hz[-1] == pytest.approx(55.0, rel=0.01)


def test_a_source_moves_a_cutoff_at_audio_rate():
    swing = oscillator("sine", id="mod", name="Mod", ratio=1.0, to="modulates only", octave=3)
    feed = {"kind": "audio-rate", "id": "x", "name": "X", "source": "layers.one.sources.mod"}
    own = {**FILTERED, "sources": [oscillator("saw"), swing]}
    p = moved([feed], [{"mover": "x", "target": CUTOFF, "amount": 2.0, "both_ways": True}], layer(**own))
    still = edited(p, movements=[])
    a, b = (render_loop(q, RenderCache()).sum[0] for q in (p, still))
    assert np.sqrt(np.mean((a - b) ** 2)) > 0.05
    # its swings come eight times a cycle of the note: the sound stays at the note's pitch
    assert np.isfinite(a).all() and np.abs(a).max() < 4
    with pytest.raises(ValueError, match="voice stages of the layer of its source"):
        moved([feed], [{"mover": "x", "target": "layers.one.level", "amount": 2.0}], layer(**own))


def test_a_follower_ducks_one_layer_by_another():
    kick = layer("kick", envelope={"attack": 0.5, "decay": 100, "sustain": -72, "release": 5})
    bass = layer("bass")
    follower = {"kind": "follower", "id": "f", "name": "F", "layer": "kick", "attack": 0.5, "release": 30}
    moves = [{"mover": "f", "target": "layers.bass.level", "amount": -30.0}]
    notes = [note(33, 0, 1), note(33, 2, 1)]
    p = moved([follower], moves, bass, kick, notes=notes)
    y = travel(p, "layers.bass.level")
    assert y[6] < -20 and y[round(0.45 * RATE / 256)] == pytest.approx(0.0, abs=0.3)
    with pytest.raises(ValueError, match="follow each other in a circle"):
        moved([follower], [{"mover": "f", "target": "layers.kick.level", "amount": -30.0}], bass, kick)
    other = edited(p, layers__kick__envelope__decay=50.0)
    assert layer_key(p, p.layer("bass")) != layer_key(other, other.layer("bass"))


def test_branches_stand_side_by_side_and_are_equally_late():
    dirt = {"kind": "distortion", "id": "d", "name": "D", "branch": "B", "drive": 12.0, "mix": 0.0}
    own = {"sources": [oscillator("sine")], "stages": [dirt]}
    for mix in (0.0, 40.0, 100.0):
        p = patch(layer(**own, branches={"routing": "parallel", "mix": mix}))
        row = patch(layer(**own))
        a, b = (LayerVoices(q, "one").latency for q in (p, row))
        assert a == b > 0
        assert np.abs(render_loop(p, RenderCache()).sum - render_loop(row, RenderCache()).sum).max() < 1e-6


def everything() -> Patch:
    """Every kind of mover at work on every kind of target."""
    vowel = {"kind": "vowel", "id": "v", "name": "V", "branch": "B"}
    ladder = {"kind": "ladder", "id": "g", "name": "G", "cutoff": 300.0, "key_follow": 50.0}
    comb = {"kind": "comb", "id": "k", "name": "K", "branch": "B"}
    row = {"kind": "allpass", "id": "a", "name": "A"}
    peak = {"kind": "filter", "id": "f", "name": "F", "type": "peak", "resonance": 12.0, "drive": 6.0}
    dirt = {"kind": "distortion", "id": "d", "name": "D"}
    mod = oscillator("sine", id="mod", name="Mod", to="modulates only")
    body = layer(
        "body", sources=[oscillator("saw"), mod], stages=[ladder, row, peak, vowel, comb, dirt],
        branches={"routing": "parallel"}, play={"mode": "voices", "voices": 3, "glide": 30},
        unison={"copies": 2}, envelope={"attack": 3, "decay": 300, "sustain": -12, "accent": 6},
    )  # fmt: skip
    movers = [
        {"kind": "envelope", "id": "env", "name": "Env", "accent": 20},
        {"kind": "curve", "id": "cur", "name": "Cur", "play": "loop", "length": 1.5, "restart": "phrase"},
        {"kind": "lfo", "id": "wob", "name": "Wob", "shape": "smooth random", "length": 0.5, "restart": "free"},
        {"kind": "macro", "id": "mac", "name": "Mac", "drawn": True, "bars": 1,
         "points": [{"at": 0, "value": 0.2}, {"at": 0.5, "value": 0.9}, {"at": 1, "value": 0.2}]},
        {"kind": "performance", "id": "cha", "name": "Cha", "what": "random"},
        {"kind": "performance", "id": "vel", "name": "Vel", "what": "velocity"},
        {"kind": "follower", "id": "fol", "name": "Fol", "layer": "one"},
        {"kind": "audio-rate", "id": "fee", "name": "Fee", "source": "layers.body.sources.mod"},
    ]  # fmt: skip
    at = "layers.body."
    moves = [
        ("env", at + "stages.g.cutoff", 3.0), ("fee", at + "stages.g.cutoff", 0.4), ("mac", at + "stages.g.resonance", 20),
        ("wob", at + "stages.a.cutoff", 2.0), ("cur", at + "stages.f.cutoff", -1.5), ("vel", at + "stages.f.drive", 12),
        ("mac", at + "stages.v.opening", -60), ("wob", at + "stages.v.tongue", -80), ("cha", at + "stages.k.interval", 7),
        ("cur", at + "stages.d.drive", 9), ("mac", at + "branches.mix", 30), ("fol", at + "level", -9),
        ("env", at + "play.pitch", 7), ("wob", at + "sources.a.level", -6), ("mac", "movers.wob.length", -1),
        ("mac", at + "envelope.decay", 1), ("cha", "movers.env.decay", 1), ("vel", at + "envelope.accent", 6),
    ]  # fmt: skip
    notes = [note(33, 0, 1.2), note(36, 1, 0.5, 60), note(40, 1.25, 1.5, 90), note(29, 3, 0.9)]
    return moved(movers, [{"mover": m, "target": t, "amount": a} for m, t, a in moves], layer(), body, notes=notes)


def test_live_and_offline_are_one_engine_with_everything_moving():
    p = everything()
    offline = render_sum(p, RenderCache())[0]
    whole = Engine(p, start=-span_of(p).pre)
    assert np.array_equal(whole.read(offline.shape[1]), offline)
    rng = np.random.default_rng(2)
    pieces, left = Engine(p, start=-span_of(p).pre), offline.shape[1]
    got = []
    while left:
        n = min(left, int(rng.integers(1, 5000)))
        got.append(pieces.read(n))
        left -= n
    assert np.array_equal(np.concatenate(got, axis=1), offline)
    assert np.isfinite(offline).all() and np.abs(offline).max() > 0.05


def test_the_travel_reported_is_the_travel_measured():
    """A resonant band-pass on white noise: where the energy stands is where the cutoff is said to be."""
    noise = {"kind": "noise", "id": "n", "name": "N", "colour": "white", "width": 0.0}
    stages = [
        {
            "kind": "filter",
            "id": "f",
            "name": "F",
            "type": "band-pass",
            "slope": "24",
            "cutoff": 300.0,
            "resonance": 24.0,
        }
    ]
    fall = {
        "kind": "curve",
        "id": "c",
        "name": "C",
        "length": 4.0,
        "points": [{"at": 0, "value": 0}, {"at": 1, "value": 1}],
    }
    p = moved([fall], [{"mover": "c", "target": CUTOFF, "amount": 4.0}], layer(sources=[noise], stages=stages))
    loop = render_loop(p, RenderCache())
    y, said_at = loop.sum[0], 2.0 ** loop.travel[CUTOFF]
    for middle in (0.3, 0.8, 1.3, 1.8):
        a = round(middle * RATE)
        piece = y[a - 2400 : a + 2400] * np.hanning(4800)
        power = np.abs(np.fft.rfft(piece)) ** 2
        hz = np.fft.rfftfreq(4800, 1 / RATE)
        centre = 2 ** np.average(np.log2(hz[1:]), weights=power[1:])
        assert centre == pytest.approx(said_at[a // 256], rel=0.06)


def test_an_envelope_of_a_chain_rests_until_the_first_note():
    drone = layer(play={"mode": "drone", "velocity": 0.0}, path="worked", sources=[oscillator("saw")])
    words = {
        "worked": [{"kind": "filter", "id": "f", "name": "F", "cutoff": 200.0}],
        "movers": [{"kind": "envelope", "id": "e", "name": "E", "sustain": 100.0}],
        "notes": [note(33, 2, 1)],
    }
    moved = [{"id": "m", "mover": "e", "target": "worked.f.cutoff", "amount": 3.0}]
    still, opened = (Engine(patch(drone, movements=m, **words)).read(RATE * 3 // 2) for m in ([], moved))
    first = round(0.99 * RATE)
    assert np.array_equal(still[:, :first], opened[:, :first])
    assert np.abs(still[:, RATE + 4800 :] - opened[:, RATE + 4800 :]).max() > 0.05
