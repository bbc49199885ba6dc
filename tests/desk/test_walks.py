"""Any row of gestures is undone to the start and done again to the end, equal to the last bit."""

import json

import numpy as np
import pytest

from kessel.desk import Desk, keep_stance, remove_part, tie_split
from kessel.formats import document_of
from kessel.patch import Edit

from ..plausible import everything
from ..unrendered import unrendered
from ..walks import Walker, run

NOISE = np.random.default_rng(1).uniform(-0.3, 0.3, (2, 4800)).astype(np.float32)


@pytest.fixture(scope="module")
def desk(tmp_path_factory):
    made = Desk(tmp_path_factory.mktemp("data"))
    made.render_worker.ask = unrendered(NOISE)
    made.seed_demo()
    made.library.add(made.home(), everything().model_copy(update={"name": "Everything"}))
    yield made
    made.close()


@pytest.mark.parametrize(("slug", "seed"), [("sluice-gate", "a"), ("everything", "b"), ("reed-weir", "c")])
def test_a_walk_leads_back_and_on_again(desk, slug, seed):
    walker = Walker(desk, desk.duplicate(slug), seed)
    run(walker, 120)
    assert sum(walker.done.values()) > 40 and len(walker.done) > 20


def test_a_split_between_two_open_layers_is_undone(desk):
    """It once locked the history for good: both edges were open, and then were one."""
    for slug in ("undertow", "mud-lantern", "ebb-motor", "salt-press"):
        opened = desk.open(desk.duplicate(slug))
        whole = document_of(opened.patch)
        opened.edit([Edit("splits", [])], "no splits")
        ids = [x.id for x in opened.patch.layers]
        opened.edit([Edit(f"layers.{i}.range", {}) for i in ids[:2]], "both open")
        first = document_of(opened.patch)
        opened.edit(*tie_split(opened.patch, ids[0], ids[1]))
        assert opened.patch.splits
        assert opened.undo() is not None and document_of(opened.patch) == first
        assert opened.redo() is not None and opened.patch.splits
        while opened.undo() is not None:
            pass
        assert document_of(opened.patch) == whole


def test_a_macro_that_went_and_came_back_leaves_the_file_as_it_was(desk):
    """It once stood last in every stance, where it had stood in the middle."""
    opened = desk.open(desk.duplicate("sluice-gate"))
    for _ in range(3):
        opened.add("movers", "macro")
    opened.edit(*keep_stance(opened.patch, ""))
    before = json.dumps(document_of(opened.patch))
    for macro in [m.id for m in opened.patch.movers if m.kind == "macro"]:
        opened.edit(*remove_part(opened.patch, f"movers.{macro}"))
        assert opened.undo() is not None
        assert json.dumps(document_of(opened.patch)) == before
