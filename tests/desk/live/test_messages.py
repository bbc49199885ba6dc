"""The player's messages: whatever comes, it is answered, and the stream goes on."""

import json
import random

import pytest

from kessel.desk.live.messages import Message, message_of
from kessel.patch import ValueProblem

from .test_stream import Ear

NAN = float("nan")
BAD = [
    None, 3, "play", [], {}, {"do": None}, {"do": "dance"}, {"do": ["play"]}, {"do": "turn"}, {"do": "turn", "path": 7},
    {"do": "turn", "path": "output.gain", "at": NAN}, {"do": "turn", "path": "output.gain", "steps": float("inf")},
    {"do": "turn", "path": "output.gain", "axis": 1e308}, {"do": "glimpse", "beat": NAN}, {"do": "glimpse", "beat": "x"},
    {"do": "heard", "frames": NAN}, {"do": "heard", "frames": -1}, {"do": "heard"}, {"do": "note", "pitch": 400, "on": True},
    {"do": "note", "pitch": 30.5, "on": True}, {"do": "midi", "bytes": [1, 2, 999]}, {"do": "midi", "bytes": "abc"},
    {"do": "solo"}, {"do": "solo", "layers": "all"}, {"do": "listen", "mode": "backwards"}, {"do": "record", "on": "perhaps"},
    {"do": "wave", "deed": "stroke", "path": "layers", "strokes": [[0, 0, 1]]}, {"do": "wave", "deed": "melt", "path": "x"},
    {"do": "wave", "deed": "stroke", "path": "layers.body.sources.square", "strokes": [[NAN, 0, 1, 1]]},
    {"do": "curve", "deed": "move", "mover": "snap", "index": -3}, {"do": "curve", "deed": "move", "mover": "nobody"},
    {"do": "compare", "what": "layers.body"}, {"do": "compare", "what": "output.gain"}, {"do": "try", "place": "worked", "which": "Q"},
    {"do": "room", "room": "cellar"}, {"do": "reference", "on": True}, {"do": "turn", "path": "name", "at": 0.5},
    {"do": "turn", "path": "layers.body", "at": 0.5},
    {"do": "turn", "path": "seed", "steps": 1}, {"do": "turn", "path": "...", "at": 0.1},
]  # fmt: skip


@pytest.fixture
def ear(desk):
    made = Ear(desk.open(desk.duplicate("sluice-gate")))
    yield made
    made.stream.close()


@pytest.mark.parametrize("message", BAD, ids=[json.dumps(b)[:60] for b in BAD])
def test_a_bad_message_is_answered_and_the_stream_goes_on(ear, message):
    ear.stream.take({"do": "on"})
    ear.stream.take(message)
    told = ear.said("problem")["text"]
    assert told.isprintable() and "log" not in told
    for _ in range(3):
        assert ear.next()[1].shape == (2, 1024)


def test_no_row_of_odd_messages_ends_the_stream(ear):
    rng = random.Random("odd")
    words = [
        "on",
        "heard",
        "play",
        "stop",
        "loop",
        "solo",
        "listen",
        "turn",
        "drop",
        "glimpse",
        "note",
        "midi",
        "wave",
        "curve",
        "try",
        "record",
        "room",
        "reference",
    ]
    odd = [
        None,
        True,
        -1,
        0,
        1,
        0.5,
        2**60,
        1e300,
        NAN,
        "",
        "x",
        "output.gain",
        "layers.body.level",
        "stereo",
        [],
        [1],
        [[0, 0, 1, 1]],
        {},
    ]
    fields = [
        "path",
        "at",
        "axis",
        "steps",
        "frames",
        "under",
        "reserve",
        "on",
        "layers",
        "source",
        "mode",
        "beat",
        "pitch",
        "velocity",
        "bytes",
        "deed",
        "frame",
        "strokes",
        "levels",
        "mover",
        "index",
        "value",
        "line",
        "place",
        "which",
        "snap",
        "room",
    ]
    ear.stream.take({"do": "on"})
    for _ in range(3000):
        message = {"do": rng.choice(words)} | {f: rng.choice(odd) for f in rng.sample(fields, rng.randint(0, 8))}
        if message["do"] != "heard":
            ear.stream.take(message)
    ear.stream.take({"do": "record", "on": False})
    ear.stream.take({"do": "glimpse", "beat": None})
    for _ in range(6):
        assert ear.next()[1].shape == (2, 1024)


def test_every_message_is_handled_and_nothing_else_is(ear):
    models = {m.model_fields["do"].annotation.__args__[0] for m in Message.__subclasses__()}
    assert models == set(ear.stream.handlers)
    with pytest.raises(ValueProblem, match="something unknown"):
        message_of({"do": "dance"})
