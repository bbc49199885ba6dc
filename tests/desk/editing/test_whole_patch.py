"""What is done to the whole patch at once, and where new sources join a layer."""

import numpy as np
import pytest

from kessel.checks import check
from kessel.desk.editing import transpose_patch
from kessel.desk.editing.parts import add_part, move_octave
from kessel.engine import render_loop
from kessel.patch import ValueProblem, apply

from ...making import RATE, edited, layer, note, oscillator, patch, spectrum_db


def strongest(p):
    """The strongest frequency of the loop, in Hz."""
    x = render_loop(p).sum[0][:RATE]
    hz, db = spectrum_db(x)
    return hz[np.argmax(db)]


@pytest.mark.parametrize(
    ("semitones", "said"), [(12, "an octave up"), (-24, "2 octaves down"), (-3, "3 st down"), (15, "15 st up")]
)
def test_the_whole_patch_is_transposed_in_one_step(semitones, said):
    p = patch(layer(), layer("two", play={"velocity": 0.0, "transpose": 7}, level=-9.0), notes=[note(57, 0, 4)])
    edits, label = transpose_patch(p, semitones)
    after = apply(p, edits)
    assert label == f"Whole patch {said}"
    assert [x.play.transpose for x in after.layers] == [semitones, 7 + semitones]
    assert strongest(after) == pytest.approx(strongest(p) * 2 ** (semitones / 12), rel=0.01)


def test_a_patch_at_the_end_of_its_range_says_which_layer_is_there():
    p = patch(layer(), layer("two", play={"transpose": 40}))
    with pytest.raises(
        ValueProblem, match=r"the patch can't go further up: the transposition of Two goes from −48 st to 48 st"
    ):
        transpose_patch(p, 12)


def test_a_new_source_joins_the_octave_of_its_layer():
    p = patch(layer(sources=[oscillator("saw"), oscillator(octave=1, level=-12.0) | {"id": "b", "name": "B"}]))
    p = apply(p, move_octave(p, "one", -1)[0])
    for kind in ("oscillator", "sample"):
        p = apply(p, add_part(p, "layers.one.sources", kind)[0])
    assert [s.octave for s in p.layers[0].sources] == [-1, 0, -1, -1]
    p = apply(p, add_part(p, "layers.one.sources", "noise")[0])


def test_a_source_below_what_is_heard_is_found_and_brought_up():
    low = patch(
        layer(sources=[oscillator("saw", octave=-2), oscillator() | {"id": "b"}]),
        notes=[note(33, 0, 2), note(28, 2, 1)],
    )
    (found,) = [f for f in check(low) if f.check == "unheard-pitch"]
    assert (found.verdict, found.title) == ("look", "One A is played below what is heard")
    # E1 is 41.2 Hz
    assert (found.text, found.value) == ("10.3 Hz on E1, the lowest note", pytest.approx(10.3, abs=0.01))
    (fix,) = found.fixes
    cured = apply(low, fix.edits)
    assert not [f for f in check(cured) if f.check == "unheard-pitch"]
    assert cured.layers[0].sources[0].octave == -1
    unheard = edited(low, layers__one__sources__a__to="modulates only")
    assert not [f for f in check(unheard) if f.check == "unheard-pitch"]
