"""A source's own amp envelope: closed forms, its scale, what it modulates, and how it is given, shared and taken away."""

import numpy as np
import pytest

from kessel.desk.editing import own_envelope, put_in, stored_part_from, take_out
from kessel.desk.editing.parts import remove_part
from kessel.engine import QUANTUM, Engine, RenderCache, render_sum, span_of
from kessel.formats import dump_patch, load_patch
from kessel.patch import ValueProblem, apply

from ...making import RATE, edited, layer, note, oscillator, patch, spectrum_db

STRAIGHT = {"attack_curve": 0.0, "decay_curve": 0.0, "release_curve": 0.0}
NOISE = {"kind": "noise", "id": "a", "name": "A", "level": 0.0}
CLICK = {"kind": "sample", "id": "a", "name": "A", "audio": "click:thud"}


def envelope(**words):
    return {"kind": "envelope", "id": "e", "name": "E", "attack": 50.0, "decay": 100.0, **STRAIGHT, **words}


def sounded(sources, envelopes=(), seconds=0.4, notes=None, **words):
    p = patch(layer(sources=sources), movers=list(envelopes), notes=notes or [note(33, 0, 4)], **words)
    engine = Engine(p)
    return engine.read(engine.latency + round(seconds * RATE))[:, engine.latency :]


def expected(attack, decay, sustain, seconds=0.4):
    """A straight rise and a straight fall, in ms."""
    t = np.arange(round(seconds * RATE)) / RATE * 1000.0
    return np.interp(t, [0.0, attack, attack + decay], [0.0, 1.0, sustain])


@pytest.mark.parametrize("source", [oscillator(), oscillator("saw", skew=30.0), NOISE, CLICK])
@pytest.mark.parametrize(("times", "sustain"), [(100.0, 100.0), (200.0, 100.0), (50.0, 250.0), (100.0, 900.0)])
def test_a_source_follows_its_envelope_in_closed_form(source, times, sustain):
    plain = sounded([source])
    own = sounded(
        [source | {"envelope": "e", "envelope_times": times, "envelope_sustain": sustain}], [envelope(sustain=20.0)]
    )
    ramp = expected(50.0 * times / 100.0, 100.0 * times / 100.0, min(0.2 * sustain / 100.0, 1.0))
    assert np.abs(own - plain * ramp).max() <= 1e-4 * np.abs(plain).max()


def test_two_sources_share_one_envelope_and_one_is_less_steep():
    def two(**of_b):
        return [oscillator(envelope="e"), oscillator(octave=2, **of_b) | {"id": "b", "name": "B"}]

    shapes = [envelope(sustain=0.0)]
    alone = [sounded([s], shapes) for s in two(envelope="e", envelope_times=200.0)]
    assert np.abs(sounded(two(envelope="e", envelope_times=200.0), shapes) - sum(alone)).max() < 1e-6


@pytest.mark.parametrize("circle", [False, True])
def test_a_modulator_with_an_envelope_modulates_as_if_the_depth_were_moved(circle):
    """Two ways to the same sound: the modulator fades, or the FM depth is moved by the same envelope."""
    back = [{"id": "z", "source": "a", "mode": "phase", "depth": 0.0}] if circle else []
    fm = [{"id": "m", "source": "b", "mode": "phase", "depth": 200.0}]
    quiet = oscillator(octave=1, to="modulates only", modulators=back) | {"id": "b", "name": "B"}
    faded = sounded([oscillator(modulators=fm), quiet | {"envelope": "e"}], [envelope(sustain=0.0)])
    moved = sounded(
        [oscillator(modulators=[fm[0] | {"depth": 0.0}]), quiet],
        [envelope(sustain=0.0)],
        movements=[{"id": "v", "mover": "e", "target": "layers.one.sources.a.modulators.m.depth", "amount": 1.0}],
    )
    # the depth's scale is not straight: both are equal where the envelope stands still
    late = slice(round(0.2 * RATE), None)
    assert np.abs(faded[:, late] - moved[:, late]).max() < 1e-3
    hz, db = spectrum_db(faded[0, round(0.05 * RATE) : round(0.1 * RATE)])
    assert db[(hz > 150) & (hz < 400)].max() > db.max() - 20.0
    hz, db = spectrum_db(faded[0, late])
    assert db[(hz > 150) & (hz < 4000)].max() < db.max() - 70.0


def test_a_ringing_noise_fades_with_its_envelope():
    ring = [{"id": "m", "source": "a", "mode": "ring", "share": 100.0}]
    heard = oscillator(modulators=ring) | {"id": "b", "name": "B"}
    x = sounded([NOISE | {"to": "modulates only", "envelope": "e"}, heard], [envelope(sustain=0.0)])
    assert np.abs(x[:, round(0.16 * RATE) :]).max() < 1e-6 < np.abs(x[:, : round(0.1 * RATE)]).max()


def test_any_request_size_and_spans_of_quanta_give_the_same_samples():
    sources = [oscillator("saw", envelope="e", envelope_times=73.0), NOISE | {"id": "n", "envelope": "e"}]
    p = patch(
        layer(sources=sources, unison={"copies": 3}, play={"mode": "voices", "velocity": 0.0}),
        movers=[envelope(sustain=30.0, accent=40.0), {"kind": "macro", "id": "x", "name": "X", "value": 60.0}],
        movements=[{"id": "v", "mover": "x", "target": "movers.e.decay", "amount": 1.0}],
        notes=[note(33, 0, 1.4), note(40, 1.2, 1.0), note(29, 2.5, 1.4)],
    )
    offline = render_sum(p, RenderCache())[0]
    live = Engine(p, start=-span_of(p).pre)
    x = np.concatenate([live.read(n) for n in (777, 4096, 1, offline.shape[1] - 4874)], axis=1)
    assert np.array_equal(x, offline)


def test_an_envelope_that_is_given_while_a_note_sounds_is_where_it_would_be_by_now():
    p = patch(layer(), movers=[envelope(sustain=50.0)])
    engine = Engine(p)
    engine.read(20 * QUANTUM)
    before = engine.read(4 * QUANTUM)
    engine.update(edited(p, layers__one__sources__a__envelope="e"))
    engine.read(2 * QUANTUM)
    after = engine.read(4 * QUANTUM)
    assert np.sqrt(np.mean(after**2) / np.mean(before**2)) == pytest.approx(0.5, rel=0.02)


def test_it_is_given_in_one_step_kept_in_the_file_and_taken_away_with_its_envelope():
    p = patch()
    edits, label = own_envelope(p, "layers.one.sources.a")
    given = apply(p, edits)
    assert label == "Amp envelope for A"
    assert [m.name for m in given.movers] == ["A amp"]
    assert given.layers[0].sources[0].envelope == given.movers[0].id
    assert load_patch(dump_patch(given)) == given
    gone = apply(given, remove_part(given, f"movers.{given.movers[0].id}")[0])
    assert gone.layers[0].sources[0].envelope == ""
    assert np.array_equal(Engine(gone).read(4096), Engine(p).read(4096))


def test_a_name_that_is_no_envelope_is_refused_in_one_line():
    p = patch(movers=[{"kind": "macro", "id": "x", "name": "X"}])
    for wrong in ("x", "nothing"):
        with pytest.raises(ValueProblem, match=r"A has no envelope “(x|nothing)”: pick one of this patch, or none"):
            edited(p, layers__one__sources__a__envelope=wrong)


@pytest.mark.parametrize(("kind", "path"), [("layer", "layers.one"), ("source", "layers.one.sources.a")])
def test_a_copied_part_brings_its_envelope_and_what_moves_that(kind, path):
    p = patch(
        layer(sources=[oscillator(envelope="e", envelope_times=200.0)]),
        movers=[envelope(), {"kind": "macro", "id": "x", "name": "X", "value": 60.0}],
        movements=[{"id": "v", "mover": "x", "target": "movers.e.decay", "amount": 1.0}],
    )
    part = stored_part_from(take_out(p, kind, path).plain())
    # another envelope has the id already
    other = patch(layer("one"), movers=[envelope(decay=7.0)])
    edits, _, _ = put_in(other, part, "one")
    found = apply(other, edits)
    source = found.layers[-1].sources[-1]
    shape = next(m for m in found.movers if m.id == source.envelope)
    assert (source.envelope_times, shape.decay, shape.id != "e") == (200.0, 100.0, True)
    assert [m.target for m in found.movements] == [f"movers.{shape.id}.decay"]
