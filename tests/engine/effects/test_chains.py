"""Chains at their places: movers that follow the latest note, branches and returns in step, duck, fold, clip."""

import numpy as np
import pytest

from kessel.dsp import QUANTUM
from kessel.engine import Engine, RenderCache, latency_of, render_loop, render_sum, span_of
from kessel.engine.clock import NoteEvent
from kessel.engine.modulation.last_note import FADE, LastNoteTracker
from kessel.engine.modulation.matrix import ModulationMatrix
from kessel.engine.modulation.transport import TransportContext
from kessel.patch import Edit, Patch, ValueProblem, apply

from ...making import RATE, edited, layer, note, oscillator, patch

SAW = layer(
    sources=[oscillator("saw", level=-12.0)], path="worked", unison={"copies": 2, "detune": 4.0, "width": 100.0}
)


def lfo(**words):
    return {"kind": "lfo", "id": "m", "name": "M", "clock": "Hz", "rate": 3.0, **words}


def movement(target, amount, **words):
    return {"id": "v", "mover": "m", "target": target, "amount": amount, **words}


def chained(*items, **words):
    return patch(SAW, worked=list(items), **words)


def item(kind, **words):
    return {"kind": kind, "id": "it", "name": "It", **words}


@pytest.mark.parametrize(
    ("made", "target", "amount"),
    [
        (item("filter", cutoff=400.0), "worked.it.cutoff", 3.0),
        (item("eq", bands=[{"id": "a", "frequency": 500.0, "gain": 12.0}]), "worked.it.bands.a.frequency", 2.0),
        (item("distortion", drive=6.0), "worked.it.drive", 18.0),
        (item("distortion", drive=6.0), "worked.it.bias", 50.0),
        (item("distortion", drive=6.0, lift=9.0), "worked.it.lift_q", 2.0),
        (item("compressor", threshold=-30.0), "worked.it.ratio", 2.0),
        (item("compressor", threshold=-30.0, release=20.0), "worked.it.hold", 80.0),
        (item("compressor", threshold=-30.0), "worked.it.detector_low_cut", 5.0),
        (item("multiband"), "worked.it.bands.low.gain", -12.0),
        (item("multiband"), "worked.it.split_1", 2.0),
        (item("echo"), "worked.it.feedback", 40.0),
        (item("space"), "worked.it.size", 1.0),
        (item("chorus"), "worked.it.delay", 1.0),
        (item("width"), "worked.it.width", 50.0),
        (item("cabinet"), "worked.it.size", 1.0),
        (item("beat-shape", by="kick"), "worked.it.kick.depth", 12.0),
        (item("beat-shape", by="kick"), "worked.it.kick.release", 3.0),
        (item("beat-shape"), "worked.it.soften", 3.0),
        (
            item("branch", paths=[{"id": "a", "name": "A", "items": [{"kind": "filter", "id": "f", "name": "F"}]},
                                 {"id": "b", "name": "B"}]),
            "worked.it.paths.a.items.f.cutoff",
            2.0,
        ),
    ],
)  # fmt: skip
def test_controls_of_chains_are_moved_and_their_travel_is_told(made, target, amount):
    still = chained(made)
    moved = chained(made, movers=[lfo()], movements=[movement(target, amount)])
    a, b = render_loop(still), render_loop(moved)
    assert not np.array_equal(a.sum, b.sum)
    assert np.isfinite(b.sum).all()
    travel = b.travel[target]
    assert np.ptp(travel) == pytest.approx(abs(amount), rel=0.05)
    live = Engine(moved, start=-span_of(moved).pre).read(40 * QUANTUM)
    assert np.array_equal(live, render_sum(moved, RenderCache())[0][:, : 40 * QUANTUM])


def test_a_level_and_sends_are_moved_too():
    made = patch(
        SAW | {"sends": [{"id": "space", "level": -30.0}]},
        movers=[lfo()],
        movements=[movement("layers.one.sends.space.level", 20.0), movement("layers.one.level", -12.0) | {"id": "w"}],
    )
    loop = render_loop(made)
    assert np.ptp(loop.travel["layers.one.sends.space.level"]) == pytest.approx(20.0, rel=0.05)
    offline = render_sum(made, RenderCache())[0]
    assert np.array_equal(Engine(made, start=-span_of(made).pre).read(offline.shape[1]), offline)


def test_what_can_not_be_moved_is_refused():
    for target in ("output.gain", "worked.it.look_ahead", "returns.echo.name", "sends.nowhere.level"):
        with pytest.raises(ValueProblem):
            apply(chained(item("compressor"), movers=[lfo()]), [Edit("movements", [movement(target, 1.0)])])


def test_movers_of_a_chain_begin_anew_from_where_they_stand():
    """An envelope and a swing of the note, notes in the middle of a quantum: no jump at their beginning."""
    made = Patch.model_validate(
        chained(
            item("filter"),
            movers=[
                {"kind": "envelope", "id": "m", "name": "M", "attack": 20.0, "decay": 400.0, "sustain": 40.0},
                lfo(restart="note", phase=90.0) | {"id": "l"},
            ],
            movements=[
                movement("worked.it.cutoff", 2.0),
                movement("worked.it.mix", -20.0, mover="l") | {"id": "w"},
            ],
        ).model_dump()
    )
    matrix, latest = ModulationMatrix(), LastNoteTracker()
    from kessel.engine.effects.chain import Chain

    matrix.update(made, Chain(list(made.worked), "worked").parameters, ("worked.",))
    parts = {"m": [], "l": []}
    octaves = []
    for n in range(60):
        start = n * QUANTUM
        events = [NoteEvent(start + 300, True, f"n{n}", 33 + n % 7, 100)] if n % 11 == 3 else []
        if n % 11 == 9:
            events = [NoteEvent(start + 700, False, f"n{n - 6}", 33, 0)]
        found, pitch = latest.quantum(events, matrix, TransportContext(start=start, length=96000, beats=4.0))
        for name, values in parts.items():
            values.append(found[name])
        octaves.append(np.broadcast_to(pitch, (QUANTUM,)))
    for values in parts.values():
        steps = np.abs(np.diff(np.concatenate(values)[4 * QUANTUM :]))
        assert steps.max() < 1.5 / FADE + 3e-3
    glide = np.concatenate(octaves)[4 * QUANTUM :]
    assert np.abs(np.diff(glide)).max() < 1.0 / FADE
    assert np.ptp(glide) > 0.3


def test_a_filter_in_a_chain_follows_the_latest_note():
    low, high = (
        render_loop(
            patch(SAW, notes=[note(p, 0, 4)], worked=[item("filter", cutoff=200.0, key_follow=100.0, slope="24")])
        ).sum
        for p in (33, 45)
    )
    level = [np.sqrt(np.mean(x[:, RATE // 2 :] ** 2)) for x in (low, high)]
    assert 20 * np.log10(level[1] / level[0]) == pytest.approx(0.0, abs=1.5)


def test_returns_come_in_as_late_as_everything_else():
    """A return that is nothing but late, upside down against the dry sound: nothing is left in the loop."""
    ceiling = item("ceiling", limit=0.0, release=5.0)
    flip = item(
        "branch", into="copies",
        paths=[{"id": "a", "name": "A", "polarity": "inverted"}, {"id": "b", "name": "B", "level": -72.0}],
    ) | {"id": "flip"}  # fmt: skip
    for path in ("clean", "worked"):
        own = layer(path=path, level=-12.0, sends=[{"id": "r", "level": 0.0}])
        made = patch(
            own,
            worked=[ceiling],
            returns=[{"id": "r", "name": "R", "low_cut": 20.0, "chain": [ceiling, flip]}],
        )
        assert latency_of(made.worked[0]) > 0
        # the send leaves before the worked chain, which does nothing here but hold back
        assert not render_loop(made).sum.any()


def test_what_the_worked_path_sends_comes_back_once():
    made = chained(sends=[{"id": "r", "level": -6.0}], returns=[{"id": "r", "name": "R", "low_cut": 20.0, "chain": []}])
    a, b = render_loop(made).sum, render_loop(chained()).sum
    assert a == pytest.approx(b * (1 + 10 ** (-6 / 20)), abs=1e-6)


def test_the_lows_stay_out_of_a_return():
    own = layer(sources=[oscillator("sine", level=-6.0)], sends=[{"id": "r", "level": 0.0}])
    made = patch(own, returns=[{"id": "r", "name": "R", "low_cut": 400.0, "chain": []}], notes=[note(33, 0, 4)])
    a, b = render_loop(made).sum, render_loop(edited(made, returns__r__on=False)).sum
    assert np.abs(a - b).max() < 0.05 * np.abs(b).max()


def test_a_muted_layer_sends_nothing():
    own = layer(sends=[{"id": "r", "level": 0.0}], mute=True)
    assert not render_loop(patch(own, returns=[{"id": "r", "name": "R", "chain": []}])).sum.any()


def test_the_kick_ducks_the_output_where_it_falls():
    made = patch(
        layer(sources=[oscillator("pulse", level=-6.0)]),
        output={
            "ceiling": {"on": False},
            "duck": {"on": True, "depth": 24.0, "attack": 1.0, "hold": 60.0, "release": 80.0},
        },
        backing={"beat": {"pattern": "four"}},
    )
    loop = render_loop(made)
    plain = render_loop(edited(made, output__duck__on=False)).sum
    ratio = lambda s: np.std(loop.sum[0, s]) / np.std(plain[0, s])  # noqa: E731
    for beat in range(4):
        start = beat * 24000
        assert 20 * np.log10(ratio(slice(start + 800, start + 2600))) == pytest.approx(-24.0, abs=0.5)
        assert ratio(slice(start + 9000, start + 20000)) == pytest.approx(1.0, abs=1e-6)
    assert loop.traces["output.duck"].min() == pytest.approx(-24.0, abs=0.1)


def test_the_mono_edge_follows_the_note():
    wide = layer(sources=[oscillator("saw", level=-12.0)], unison={"copies": 2, "detune": 0.0, "width": 100.0})
    found = []
    for pitch in (33, 45):
        output = {"ceiling": {"on": False}, "fold": True, "fold_follows": True, "fold_times": 3.0}
        x = render_loop(patch(wide, notes=[note(pitch, 0, 4)], output=output)).sum[:, RATE:]
        hz = 440 * 2 ** ((pitch - 69) / 12)
        n = x.shape[1]
        side, mid = (np.abs(np.fft.rfft((x[0] + k * x[1]) * np.hanning(n))) for k in (-1, 1))
        found.append([side[round(hz * p * n / RATE)] / max(mid.max(), 1e-9) for p in (1, 2, 6, 8)])
    low, high = np.array(found)
    assert low == pytest.approx(high, rel=0.2, abs=0.01)
    assert low[0] < 0.1 * low[2] + 1e-3


@pytest.mark.parametrize("mode", ["soft clip", "hard clip"])
def test_the_output_is_clipped_where_it_says(mode):
    hot = patch(
        layer(sources=[oscillator("saw", level=0.0)]),
        output={"gain": 12.0, "ceiling": {"on": True, "mode": mode, "limit": -3.0}},
    )
    x = render_loop(hot)
    assert np.abs(x.sum).max() <= 10 ** (-3 / 20) * (1 + 1e-9)
    assert x.traces["output.ceiling"].min() < -3.0
    assert x.meters["output.gain"][0] > 1.0
    # the loop stands where it stood: every way is as late as the limiter
    open_end = render_loop(edited(hot, output__ceiling__on=False, output__ceiling__mode="limiter")).sum
    lag = np.correlate(x.sum[0, 4000:9000], open_end[0, 4010:8990], "valid").argmax()
    assert abs(int(lag) - 10) <= 1


def test_ways_of_the_ceiling_change_without_a_click():
    quiet = patch(layer(level=-12.0), output={"ceiling": {"on": True, "limit": 0.0}})
    engine = Engine(quiet)
    own = np.abs(np.diff(engine.read(20 * QUANTUM))).max()
    parts = []
    for n in range(12):
        engine.update(edited(quiet, output__ceiling__mode=("limiter", "soft clip", "hard clip")[n % 3]))
        parts.append(engine.quantum())
        parts.append(engine.quantum())
    assert np.abs(np.diff(np.concatenate(parts, axis=1))).max() < 1.5 * own


def test_an_echo_rings_over_the_seam():
    """The repeats of the last note of the loop are there at its beginning."""
    one = layer(envelope={"attack": 0.5, "decay": 30.0, "sustain": -72.0, "release": 5.0})
    made = patch(
        one | {"chain": [item("echo", length=0.5, feedback=60.0, mix=50.0, low_cut=20.0)]}, notes=[note(45, 3.5, 0.2)]
    )
    x = render_loop(made).sum
    start = np.abs(x[:, : RATE // 10]).max()
    assert start > 0.05
    assert np.abs(np.diff(np.concatenate((x[:, -200:], x[:, :200]), axis=1))).max() < 0.1
