"""Documents of older versions: the words they use, and what those become."""

import copy

import pytest

from kessel.formats import climb, climb_edit, document_of, newest, patch_from

OSCILLATOR = {"kind": "oscillator", "id": "o", "name": "O", "start": "chance", "chance": 40.0, "to": "past"}
OLD = {
    "format": "kessel-patch",
    "version": 2,
    "name": "Old",
    "layers": [
        {
            "id": "one",
            "name": "One",
            "in_step": "pair",
            "polarity": "flipped",
            "branches": {"way": "branches", "mix": 20.0},
            "sources": [
                OSCILLATOR,
                OSCILLATOR | {"id": "p", "start": "free", "to": "nowhere"},
                {
                    "kind": "oscillator",
                    "id": "q",
                    "name": "Q",
                    "start": "restart",
                    "modulators": [{"id": "m", "source": "o", "way": "ring"}],
                },
            ],
            "chain": [
                {"kind": "compressor", "id": "c", "name": "C", "way": "upward", "detect": "RMS", "ahead": 2.0,
                 "most": 12.0, "listen_low": 90.0},
                {"kind": "branch", "id": "b", "name": "B", "into": "copies", "ways": [
                    {"id": "low", "name": "Low", "polarity": "flipped"},
                    {"id": "high", "name": "High", "items": [
                        {"kind": "multiband", "id": "c", "name": "C", "most": 9.0},
                        {"kind": "expander", "id": "x", "name": "X", "most": 30.0},
                        {"kind": "echo", "id": "e", "name": "E", "apart": 5.0, "loop_low": 200.0, "loop_high": 4000.0},
                    ]},
                ]},
            ],
        },
        {"id": "two", "name": "Two", "in_step": "pair"},
    ],
    "worked": [
        {"kind": "space", "id": "s", "name": "S", "way": "built-in", "ahead": 12.0},
        {"kind": "phaser", "id": "ph", "name": "Ph", "apart": 30.0},
        {"kind": "ceiling", "id": "ce", "name": "Ce", "way": "soft clip"},
    ],
    "output": {"ceiling": {"on": True, "way": "hard clip"}},
    "movers": [
        {"kind": "hand", "id": "ha", "name": "Ha", "what": "chance"},
        {"kind": "feed", "id": "fe", "name": "Fe", "source": "layers.one.sources.o"},
        {"kind": "lfo", "id": "lf", "name": "Lf", "shape": "smooth chance"},
    ],
    "movements": [
        {"id": "m1", "mover": "ha", "target": "layers.one.chain.b.ways.high.items.c.most", "amount": 0.1},
        {"id": "m2", "mover": "ha", "target": "layers.one.chain.c.most", "amount": 0.1},
        {"id": "m3", "mover": "ha", "target": "worked.s.ahead", "amount": 0.1},
        {"id": "m4", "mover": "lf", "target": "layers.one.chain.b.ways.low.level", "amount": 0.1},
        {"id": "m5", "mover": "lf", "target": "worked.ph.apart", "amount": 0.1},
    ],
    "pins": ["layers.one.chain.b.ways.high.items.e.loop_low", "output.gain"],
}  # fmt: skip


def test_every_old_word_becomes_the_new_one():
    kept = copy.deepcopy(OLD)
    p = patch_from(OLD)
    assert kept == OLD
    one, two = p.layers
    assert (one.link_group, two.link_group, one.polarity) == ("pair", "pair", "inverted")
    assert (one.branches.routing, one.branches.mix) == ("parallel", 20.0)
    o, free, ringed = one.sources
    assert (o.start, o.random_range, o.to) == ("random", 40.0, "past the stages")
    assert (free.start, free.to, ringed.start) == ("free-running", "modulates only", "retrigger")
    assert ringed.modulators[0].mode == "ring"
    compressor, branch = one.chain
    assert (compressor.mode, compressor.detector, compressor.look_ahead) == ("upward", "RMS", 2.0)
    assert (compressor.max_reduction, compressor.detector_low_cut) == (12.0, 90.0)
    low, high = branch.paths
    assert low.polarity == "inverted"
    multiband, expander, echo = high.items
    assert (multiband.max_boost, expander.max_reduction) == (9.0, 30.0)
    assert (echo.stereo_offset, echo.feedback_low_cut, echo.feedback_high_cut) == (5.0, 200.0, 4000.0)
    space, phaser, ceiling = p.worked
    assert (space.mode, space.pre_delay, phaser.stereo_offset) == ("built-in", 12.0, 30.0)
    assert (ceiling.mode, p.output.ceiling.mode) == ("soft clip", "hard clip")
    assert [m.kind for m in p.movers] == ["performance", "audio-rate", "lfo"]
    assert (p.movers[0].what, p.movers[2].shape) == ("random", "smooth random")
    assert [m.target for m in p.movements] == [
        "layers.one.chain.b.paths.high.items.c.max_boost",
        "layers.one.chain.c.max_reduction",
        "worked.s.pre_delay",
        "layers.one.chain.b.paths.low.level",
        "worked.ph.stereo_offset",
    ]
    assert p.pins == ["layers.one.chain.b.paths.high.items.e.feedback_low_cut", "output.gain"]


SYNCED = {
    "format": "kessel-patch",
    "version": 4,
    "name": "Synced",
    "layers": [
        {
            "id": "one",
            "name": "One",
            "sources": [
                {"kind": "oscillator", "id": "a", "name": "A", "phase": 80.0},
                {"kind": "oscillator", "id": "b", "name": "B", "phase": 90.0, "sync": "source", "sync_to": "a"},
                {"kind": "oscillator", "id": "c", "name": "C", "phase": 70.0, "sync": "own"},
            ],
        }
    ],
}


def test_a_start_phase_that_was_not_heard_stays_unheard():
    """Before version 5 the phase of an oscillator that another one restarts did nothing."""
    p = patch_from(SYNCED)
    assert [s.phase for s in p.layers[0].sources] == [80.0, 0.0, 70.0]
    document = document_of(p)
    assert climb_edit(document, "layers.one.sources.b.phase", 33.0)[1] == 0.0
    assert climb_edit(document, "layers.one.sources.a.phase", 33.0)[1] == 33.0
    rows = [SYNCED["layers"][0]["sources"][1]]
    assert climb_edit(document, "layers.one.sources", rows)[1][0]["phase"] == 0.0


def test_a_new_document_is_left_alone():
    document = document_of(patch_from(OLD))
    assert newest(document) == document and climb(document, 3) == document


def test_a_part_on_its_own_climbs_with_its_movements():
    part = {
        "kind": "item",
        "part": {"kind": "multiband", "id": "c", "name": "C", "most": 9.0},
        "movements": [{"id": "m", "mover": "l", "target": "most", "amount": 0.1}],
    }
    new = climb(part, 2)
    assert new["part"]["max_boost"] == 9.0 and new["movements"][0]["target"] == "max_boost"


@pytest.mark.parametrize(
    ("path", "value", "wanted"),
    [
        ("layers.one.chain.c.most", 6.0, ("layers.one.chain.c.max_reduction", 6.0)),
        ("layers.one.sources.o.start", "free", ("layers.one.sources.o.start", "free-running")),
        ("layers.one.branches.way", "branches", ("layers.one.branches.routing", "parallel")),
        ("layers.one.in_step", "", ("layers.one.link_group", "")),
        ("output.ceiling.way", "limiter", ("output.ceiling.mode", "limiter")),
        ("layers.one.polarity", "flipped", ("layers.one.polarity", "inverted")),
        (
            "worked",
            [{"kind": "auto-pan", "id": "a", "name": "A", "apart": 3.0}],
            ("worked", [{"kind": "auto-pan", "id": "a", "name": "A", "stereo_offset": 3.0}]),
        ),
        (
            "movements",
            [{"id": "m", "mover": "lf", "target": "worked.s.ahead"}],
            ("movements", [{"id": "m", "mover": "lf", "target": "worked.s.pre_delay"}]),
        ),
        ("output.gain", -3.0, ("output.gain", -3.0)),
    ],
)
def test_an_edit_of_an_older_history_is_said_in_the_new_words(path, value, wanted):
    assert climb_edit(document_of(patch_from(OLD)), path, value) == wanted
