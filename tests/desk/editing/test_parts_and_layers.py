"""Layers doubled and taken apart, parts kept and put in elsewhere, sounds frozen, the history walked."""

import io

import numpy as np
import pytest

from kessel.desk import (
    ControlChange,
    Desk,
    duplicate_layer,
    freeze,
    put_in,
    split_off,
    stored_part_from,
    take_out,
    tie_split,
    unlink_layer,
    untie_split,
)
from kessel.desk.editing.movements import add_movement, movable_controls
from kessel.desk.editing.parts import add_part, modulate, move_part, remove_part
from kessel.engine import audio_of, render_loop
from kessel.formats import audio_from, dump_bundle, wav_bytes
from kessel.patch import Edit, Oscillator, ValueProblem, apply, get

from ...making import layer, note, oscillator, patch


def test_a_doubled_layer_sounds_the_same_and_moves_with_it(opened):
    edits, _, new = duplicate_layer(opened.patch, "edge")
    p = opened.edit(edits, "Double").patch
    a, b = (render_loop(p).layers[i] for i in ("edge", new))
    # its chance is its own, so only what is seeded differs
    assert np.sqrt(np.mean(a**2)) == pytest.approx(np.sqrt(np.mean(b**2)), rel=0.2)
    targets = [m.target for m in p.movements]
    assert [t for t in targets if t.startswith("layers.edge.")] == [
        t.replace(f"layers.{new}.", "layers.edge.") for t in targets if t.startswith(f"layers.{new}.")
    ]
    opened.undo()
    assert len(opened.patch.layers) == 4


def test_a_source_gets_a_layer_of_its_own_and_the_sum_stays():
    """Without anything between the sources and the sum that bends, both layers together are what one was."""
    two = [oscillator("saw"), oscillator("pulse", octave=1, level=-3.0) | {"id": "b", "name": "B"}]
    p = patch(
        layer(sources=two, stages=[{"kind": "filter", "id": "f", "name": "F", "cutoff": 900.0}]), notes=[note(33, 0, 3)]
    )
    edits, _, new = split_off(p, "layers.one.sources.b")
    q = apply(p, edits)
    assert [s.id for s in q.layer("one").sources] == ["a"] and [s.id for s in q.layer(new).sources] == ["b"]
    assert render_loop(q).sum == pytest.approx(render_loop(p).sum, abs=2e-6)
    with pytest.raises(ValueProblem, match="the only source"):
        split_off(q, "layers.one.sources.a")


def same_way(p, a, b):
    """Whether two layers have the same stages and envelope, moved by the same movers from and to the same values."""
    moves = [
        sorted(
            (m.mover, m.target.split(".", 2)[2], m.amount) for m in p.movements if m.target.startswith(f"layers.{i}.")
        )
        for i in (a, b)
    ]
    one, two = p.layer(a), p.layer(b)
    return one.stages == two.stages and one.envelope == two.envelope and moves[0] == moves[1]


def test_a_source_split_off_keeps_its_stages_and_envelope_in_step(opened):
    worker = next(s for s in opened.patch.layer("edge").sources if s.modulators).modulators[0].source
    edits, label, new = split_off(opened.patch, f"layers.edge.sources.{worker}")
    start = opened.edit(edits, label).patch
    assert same_way(start, "edge", new)
    tone = next(s.id for s in start.layer("edge").stages if s.kind == "filter")
    mover = start.movers[0].id

    def done(made):
        return opened.edit(made[0], made[-1] if isinstance(made[-1], str) else None).patch

    # one control, a movement, its amount, a stage more and one less: whichever of the two is edited
    p = opened.edit([Edit(f"layers.{new}.stages.{tone}.cutoff", 333.0)]).patch
    assert get(p, f"layers.edge.stages.{tone}.cutoff") == 333.0 and same_way(p, "edge", new)
    p = opened.edit([Edit("layers.edge.envelope.release", 77.0)]).patch
    assert p.layer(new).envelope.release == 77.0
    p = done(add_movement(p, mover, f"layers.{new}.stages.{tone}.resonance"))
    assert any(m.target == f"layers.edge.stages.{tone}.resonance" for m in p.movements) and same_way(p, "edge", new)
    moved = next(m for m in p.movements if m.target == f"layers.edge.stages.{tone}.resonance")
    p = opened.edit([Edit(f"movements.{moved.id}.amount", 1.25)]).patch
    assert same_way(p, "edge", new)
    # the same mover twice on one control
    p = done(add_movement(p, mover, f"layers.edge.stages.{tone}.resonance"))
    assert sum(m.target == f"layers.{new}.stages.{tone}.resonance" for m in p.movements) == 2 and same_way(
        p, "edge", new
    )
    edits, added, label = add_part(p, f"layers.{new}.stages", "filter")
    p = opened.edit(edits, label).patch
    assert p.layer("edge").stages[-1].id == added
    p = done(remove_part(p, f"layers.edge.stages.{tone}"))
    assert all(s.id != tone for s in p.layer(new).stages) and same_way(p, "edge", new)
    # all of it can be undone, and done again
    for _ in range(7):
        opened.undo()
    assert opened.patch == start
    for _ in range(7):
        opened.redo()
    assert opened.patch == p
    # and one can be let go
    p = done(unlink_layer(p, new))
    p = opened.edit([Edit("layers.edge.envelope.release", 99.0)]).patch
    assert p.layer(new).envelope.release == 77.0
    with pytest.raises(ValueProblem, match="is linked to no other"):
        unlink_layer(p, "edge")


def test_what_works_on_a_source_goes_with_it(opened):
    source = next(s for s in opened.patch.layer("edge").sources if s.modulators)
    worker = source.modulators[0].source
    edits, _, new = split_off(opened.patch, f"layers.edge.sources.{worker}")
    p = apply(opened.patch, edits)
    assert {s.id for s in p.layer("edge").sources} == {source.id, worker}
    assert [s.id for s in p.layer(new).sources] == [worker]


def test_splits_are_tied_and_untied(opened):
    edits, _ = tie_split(opened.patch, "body", "click")
    p = apply(opened.patch, edits)
    assert p.layer("body").range.high == p.layer("click").range.low
    tied = p.splits[-1].id
    moved = apply(p, [Edit("layers.body.range.high", 700.0)])
    assert moved.layer("click").range.low == 700.0
    free = apply(apply(p, untie_split(p, tied)[0]), [Edit("layers.body.range.high", 700.0)])
    assert free.layer("click").range.low != 700.0
    with pytest.raises(ValueProblem, match="another split"):
        tie_split(p, "body", "edge")


def test_layers_move_to_any_place(opened):
    p = apply(opened.patch, move_part(opened.patch, "layers.click", 0, 0)[0])
    assert [x.id for x in p.layers] == ["click", "sub", "body", "edge"]
    assert render_loop(p).sum == pytest.approx(render_loop(opened.patch).sum, abs=1e-5)


@pytest.mark.parametrize(
    ("kind", "path"),
    [
        ("layer", "layers.edge"),
        ("source", "layers.body.sources.square"),
        ("envelope", "layers.body.envelope"),
        ("stages", "layers.edge.stages"),
        ("chain", "worked"),
        ("mover", "movers.snap"),
    ],
)
def test_parts_come_out_and_go_into_another_patch(desk, opened, kind, path):
    kept = stored_part_from(take_out(opened.patch, kind, path).plain())
    other = desk.open(desk.new("sub-body"))
    edits, label, new = put_in(other.patch, kept, "body")
    p = other.edit(edits, label).patch
    assert p != other.patch or p
    if kind == "layer":
        a, b = get(opened.patch, path), p.layer(new)
        assert a.model_copy(update={"id": b.id, "hatch": b.hatch}) == b
        assert sum(m.target.startswith(f"layers.{new}.") for m in p.movements) == sum(
            m.target.startswith(f"{path}.") for m in opened.patch.movements
        )
    if kind == "stages":
        assert [s.id for s in p.layer("body").stages] == [s.id for s in get(opened.patch, path)]
        assert any(m.target.startswith("layers.body.stages.") for m in p.movements)
    other.undo()
    assert other.patch == desk.open(other.slug).patch


def test_the_same_mover_is_shared_and_a_drawn_wave_goes_along(desk, opened):
    kept = take_out(opened.patch, "layer", "layers.edge")
    p = apply(opened.patch, put_in(opened.patch, kept, "body")[0])
    assert p.movers == opened.patch.movers
    with_wave = desk.open(desk.new())
    from kessel.desk.editing import waves as wave_edits

    with_wave.edit(*wave_edits.stroke(with_wave.patch, "layers.sub.sources.sine", 0, [(0, 0, 0.2, 1)]))
    kept = take_out(with_wave.patch, "layer", "layers.sub")
    q = apply(opened.patch, put_in(opened.patch, kept, "body")[0])
    assert q.waves[0].frames == with_wave.patch.waves[0].frames and len(q.waves) == 1
    assert len(apply(q, put_in(q, kept, "body")[0]).waves) == 1


def test_the_shelf_keeps_what_is_put_on_it(desk, opened):
    desk.keep_part(take_out(opened.patch, "stages", "layers.edge.stages"), "  My   row ")
    number, kept = desk.shelf("stages")[0]
    assert (number > 0, kept.name) == (True, "My row")
    assert desk.part(number).part == kept.part
    desk.library.parts.rename(number, "Other")
    assert desk.shelf("stages")[0][1].name == "Other"
    desk.library.parts.remove(number)
    with pytest.raises(ValueProblem, match="no longer"):
        desk.part(number)
    for bad in (
        {},
        "no part",
        {"kind": "layer", "name": "x", "part": {}, "movers": [], "movements": [], "waves": []},
        {"version": "x"},
    ):
        with pytest.raises(ValueProblem, match="can't be used"):
            stored_part_from(bad)
    for kind, path in (("layer", "worked"), ("stages", "layers.body.chain"), ("nothing", "layers.body")):
        with pytest.raises(ValueProblem):
            take_out(opened.patch, kind, path)


def test_a_frozen_layer_sounds_as_it_did(desk, opened):
    """Frozen with the phrase, the sum stays what it was but for the gate's edges at the start and the fold of time."""
    before = render_loop(opened.patch).sum
    _, new = freeze(desk, opened, opened, "edge", "phrase")
    p = opened.patch
    assert p.layer("edge").mute and p.layer(new).play.mode == "drone"
    after = render_loop(p).sum
    difference = np.sqrt(np.mean((after - before) ** 2)) / np.sqrt(np.mean(before**2))
    assert 20 * np.log10(difference) < -50
    opened.undo()
    assert render_loop(opened.patch).sum == pytest.approx(before, abs=1e-9)


@pytest.mark.parametrize("bands", [2, 3, 4])
def test_a_sound_is_frozen_into_bands_in_one_step(desk, opened, bands):
    """Each band is a layer of its own. Their sum has the spectrum of the whole, and nothing overlaps far."""
    before = opened.patch
    _, whole = freeze(desk, opened, opened, "body", "phrase")
    alone = render_loop(opened.patch).layers[whole]
    opened.undo()
    edited, first = freeze(desk, opened, opened, "body", "phrase", bands)
    p = edited.patch
    new = p.layers[len(before.layers) :]
    assert edited.label == f"Freeze Body in {bands} bands" and new[0].id == first and len(new) == bands
    assert len({x.hatch for x in new}) == len({x.name for x in new}) == bands
    assert new[0].name.endswith("lows") and new[-1].name.endswith("highs")
    made = render_loop(p).layers
    total = sum(made[x.id] for x in new)
    assert np.abs(total - alone).max() < 2e-6 * np.abs(alone).max()
    # an octave and a half beyond its edge, a band is at least 30 dB down
    low, high = _power(made[first], 20.0, 120.0), _power(made[first], 340.0, 20000.0)
    whole_low, whole_high = _power(alone, 20.0, 120.0), _power(alone, 340.0, 20000.0)
    assert low > 0.5 * whole_low and high < 1e-3 * whole_high
    opened.undo()
    assert opened.patch == before


def _power(x, low, high):
    """Power between two frequencies."""
    power = np.abs(np.fft.rfft(x[0])) ** 2
    hz = np.fft.rfftfreq(x.shape[1], 1 / 48000)
    return power[(hz >= low) & (hz < high)].sum()


def test_a_patch_without_room_for_all_bands_says_so(desk, opened):
    p = opened.edit(duplicate_layer(opened.patch, "sub")[0], "Duplicate").patch
    with pytest.raises(ValueProblem, match="so 4 more do not fit"):
        freeze(desk, opened, opened, "body", "phrase", 4)
    assert opened.patch == p


def test_one_frozen_note_can_be_played(desk, opened):
    target = desk.open(desk.new())
    _, new = freeze(desk, opened, target, "sub", "note")
    source = target.patch.layer(new).sources[0]
    lowest = min(n.pitch for n in opened.patch.phrase.notes)
    assert source.root == pytest.approx(440 * 2 ** ((lowest - 69) / 12), rel=2e-3)
    assert source.follows == "note" and audio_of(source.audio) is not None
    with pytest.raises(ValueProblem, match="freeze a layer"):
        freeze(desk, opened, target, "nobody", "note")


def test_a_patch_with_audio_comes_back_with_it(desk, opened, tmp_path):
    target = desk.open(desk.new())
    freeze(desk, opened, target, "click", "note")
    data = dump_bundle(target.patch, audio_of)
    other = Desk(tmp_path)
    try:
        slug = other.take_in(io.BytesIO(data), "patch.zip")
        word = other.open(slug).patch.layers[-1].sources[0].audio
        assert np.array_equal(other.library.audio.all()[0].word, word) and audio_of(word) is not None
    finally:
        other.close()


def test_imported_audio_is_kept_once_with_its_pitch(desk):
    t = np.arange(30000) / 48000
    data = wav_bytes(0.5 * np.sin(2 * np.pi * 82.4 * t)[None, :])
    card = desk.take_audio(io.BytesIO(data), "E string.wav")
    again = desk.take_audio(io.BytesIO(data), "other.wav")
    assert card == again and card.name == "E string"
    assert card.root == pytest.approx(82.4, rel=1e-3)
    assert np.array_equal(audio_of(card.word), audio_from(data, "x"))
    assert list(desk.intake.folder.iterdir()) == []


def test_the_history_is_walked_to_any_step(desk, opened):
    first = opened.patch
    seen = [first]
    for db in (-3.0, -6.0, -9.0):
        seen.append(opened.turn(ControlChange("layers.body.level", text=f"{db}")).patch)
    steps = opened.steps()
    assert [s.label for s in steps] == [
        "Body level −1.0 dB → −3.0 dB",
        "Body level −3.0 dB → −6.0 dB",
        "Body level −6.0 dB → −9.0 dB",
    ]
    assert opened.go_to(steps[0].id) == 2 and opened.patch == seen[1]
    assert [s.undone for s in opened.steps()] == [False, True, True]
    assert opened.go_to(steps[2].id) == 2 and opened.patch == seen[3]
    assert opened.go_to(0) == 3 and opened.patch == first
    with pytest.raises(ValueProblem, match="no longer stored"):
        opened.go_to(99999)


def test_a_source_works_on_another_by_level_or_phase(opened):
    edits, new, _ = add_part(opened.patch, "layers.body.sources", "noise")
    p = apply(opened.patch, edits)
    own = get(p, "layers.body.sources")[0].id
    q = apply(p, modulate(p, f"layers.body.sources.{own}", new, "ring")[0])
    assert get(q, f"layers.body.sources.{own}").modulators[0].mode == "ring"
    with pytest.raises(ValueProblem, match="no phase"):
        modulate(p, f"layers.body.sources.{new}", own, "phase")
    with pytest.raises(ValueProblem, match="phase"):
        modulate(p, f"layers.body.sources.{own}", new, "sideways")


def test_a_mover_is_given_something_to_move(opened):
    edits, macro, _ = add_part(opened.patch, "movers", "macro")
    p = apply(opened.patch, edits)
    paths = dict(movable_controls(p, "body"))
    assert "layers.body.stages.pluck.cutoff" in paths and not any(".chain." in path for path in paths)
    q = apply(p, add_movement(p, macro, "layers.body.stages.pluck.cutoff")[0])
    assert q.movements[-1].mover == macro and q.movements[-1].amount > 1.0
    with pytest.raises(ValueProblem, match="no such mover"):
        add_movement(p, "nobody", "layers.body.stages.pluck.cutoff")
    assert isinstance(get(p, "layers.body.sources")[0], Oscillator)


def test_what_is_put_in_gets_a_name_of_its_own_and_says_what_it_replaces(opened):
    p = opened.patch
    for kind, path in (
        ("source", "layers.body.sources.{}"),
        ("item", "layers.body.chain.{}"),
        ("layer", "layers.body"),
    ):
        parts = p.layer("body").sources if kind == "source" else p.layer("body").chain
        if "{}" in path and not parts:
            continue
        kept = take_out(p, kind, path.format(parts[0].id) if "{}" in path else path)
        edits, label, _ = put_in(p, kept, "body")
        after = apply(p, edits)
        names = [x.name for x in (after.layers if kind == "layer" else
                                  after.layer("body").sources if kind == "source" else after.layer("body").chain)]  # fmt: skip
        assert len(set(names)) == len(names) and f"{kept.name} 2" in names
        assert "insert" in label.lower()
    envelope = take_out(p, "envelope", "layers.sub.envelope")
    assert put_in(p, envelope, "body")[1] == "Body: Sub amp envelope replaces the amp envelope"
    stages = take_out(p, "stages", "layers.body.stages")
    assert put_in(p, stages, "body")[1].endswith("replaces the voice stages")
    bare = apply(p, [Edit("layers.sub.stages", [])])
    assert put_in(bare, stages, "sub")[1] == f"Sub: insert {stages.name}"


def test_a_phrase_is_kept_and_replaces_another():
    here = patch(layer(), notes=[note(33, 0, 1), note(45, 2, 0.5, 40)], name="Here")
    kept = stored_part_from(take_out(here, "phrase", "phrase").plain())
    assert (kept.kind, kept.name) == ("phrase", "Here phrase")
    there = patch(layer("other"), notes=[note(40, 1, 1)])
    edits, label, _ = put_in(there, kept, "other")
    after = apply(there, edits)
    assert after.phrase == here.phrase and label == "Here phrase replaces the phrase"
    with pytest.raises(ValueProblem, match="is empty"):
        take_out(patch(layer(), notes=[]), "phrase", "phrase")
