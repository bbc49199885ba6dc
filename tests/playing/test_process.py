"""The process that plays: it has the sound, the server has the patch, and its death costs a moment of silence."""

import json
import logging
import os
import signal

import numpy as np
import pytest
from websockets.exceptions import ConnectionClosed, InvalidStatus
from websockets.sync.client import connect

from kessel.desk import LiveProcess
from kessel.patch import Edit
from kessel.playing import play_streams

from ..desk.conftest import desk as desk

PAGES = 8700
CUTOFF = "layers.body.stages.pluck.cutoff"


@pytest.fixture(scope="module")
def live(desk, tmp_path_factory):
    made = LiveProcess(desk.open, play_streams, str(tmp_path_factory.mktemp("audio")), PAGES)
    made.start()
    yield made
    made.close()


class Page:
    """A page without a browser."""

    def __init__(self, live, slug, origin=f"http://127.0.0.1:{PAGES}"):
        self.socket = connect(f"ws://127.0.0.1:{live.port}/patch/{slug}/live", origin=origin, open_timeout=60)
        self.frames = 0

    def __enter__(self):
        return self

    def __exit__(self, *_):
        self.socket.close()

    def tell(self, do, **message):
        self.socket.send(json.dumps({"do": do, **message}))

    def next(self):
        """The next thing that comes: a message, or sound (2, n)."""
        data = self.socket.recv(timeout=60)
        if isinstance(data, str):
            return json.loads(data)
        x = np.frombuffer(data[16:], dtype="<f4").reshape(2, -1)
        self.frames += x.shape[1]
        self.tell("heard", frames=self.frames)
        return x

    def said(self, word):
        """The next message of a kind."""
        while True:
            found = self.next()
            if isinstance(found, dict) and found["say"] == word:
                return found

    def until(self, holds):
        """Hear until it holds of a stretch of sound."""
        for _ in range(2000):
            found = self.next()
            if not isinstance(found, dict) and holds(found):
                return found
        raise AssertionError("that was never heard")


@pytest.fixture
def slug(desk):
    return desk.duplicate("sluice-gate")


def sounds(x):
    return np.abs(x).max() > 0.02


def test_it_plays_what_the_server_keeps_and_follows_its_edits(desk, live, slug):
    with Page(live, slug) as page:
        page.tell("on")
        page.tell("play")
        page.until(sounds)
        desk.open(slug).edit([Edit(f"layers.{x.id}.mute", True) for x in desk.open(slug).patch.layers])
        page.until(lambda x: np.abs(x).max() < 1e-4)
        desk.open(slug).undo()
        page.until(sounds)


def test_a_turn_is_heard_at_once_and_kept_by_the_server_only(desk, live, slug):
    with Page(live, slug) as page:
        page.tell("turn", path=CUTOFF, at=0.5)
        assert page.said("value")["text"] == "632 Hz"
        page.tell("turn", path="layers.none.level", at=0.5)
        assert "no control" in page.said("problem")["text"]
    assert desk.open(slug).version == 0


def test_what_is_recorded_comes_to_the_server_as_one_step(desk, live, slug):
    opened = desk.open(slug)
    before = len(opened.patch.phrase.notes)
    with Page(live, slug) as page:
        page.tell("on")
        page.tell("record", on=True)
        assert "press Play first" in page.said("problem")["text"]
        page.tell("play")
        page.until(sounds)
        page.tell("record", on=True)
        assert page.said("recording")["on"]
        page.tell("note", pitch=61, on=True, velocity=90)
        for _ in range(12):
            page.next()
        page.tell("note", pitch=61, on=False)
        page.tell("record", on=False)
        page.said("edited")
    assert opened.version == 1 and len(opened.patch.phrase.notes) == before + 1


def test_what_a_comparison_and_a_room_need_is_asked_of_the_server(desk, live, slug):
    with Page(live, slug) as page:
        page.tell("on")
        page.tell("play")
        page.tell("compare", what="worked")
        page.tell("room", room="no-such-room")
        assert "no such room" in page.said("problem")["text"]
        page.tell("room", room="phone")
        page.tell("reference", on=True)
        assert "no reference" in page.said("problem")["text"]
        page.until(sounds)


@pytest.mark.parametrize("origin", [None, "http://evil.example", "http://127.0.0.1:8701", "null"])
def test_only_kessels_own_pages_are_played_to(live, slug, origin):
    with pytest.raises(InvalidStatus):
        Page(live, slug, origin)


def test_a_page_of_a_patch_that_is_gone_is_told_so(live):
    with Page(live, "no-such-patch") as page, pytest.raises(ConnectionClosed) as problem:
        page.next()
    assert problem.value.rcvd.code == 4404


def test_odd_messages_are_answered_and_it_plays_on(live, slug):
    with Page(live, slug) as page:
        page.tell("on")
        page.tell("play")
        odd = [
            "no json",
            "[]",
            '{"do": 7}',
            '{"do": "midi", "bytes": [999]}',
            '{"do":"turn","path":"","at":1e999}',
            "[" * 9000,
        ]
        for text in odd:
            page.socket.send(text)
            page.said("problem")
        page.until(sounds)


def test_killed_while_it_plays_and_records_it_is_there_again_and_nothing_is_lost(desk, live, slug):
    opened = desk.open(slug)
    with Page(live, slug) as page:
        page.tell("on")
        page.tell("play")
        page.tell("tape", on=True)
        page.said("taping")
        x = page.until(sounds)
        for _ in range(30):
            page.next()
        pid = live.pid
        os.kill(pid, signal.SIGKILL)
        with pytest.raises(ConnectionClosed):
            while True:
                page.next()
    opened.edit([Edit("tempo", 131.0)])
    with Page(live, slug) as again:
        # what was heard until then is kept, and the page is told
        told = again.said("taping")
        assert not told["on"] and told["seconds"] > 25 * x.shape[1] / 48000
        again.tell("on")
        again.tell("play")
        again.until(sounds)
    assert live.pid != pid and opened.tape.peak > 0.02
    kept = np.concatenate(list(opened.tape.blocks()), axis=1)
    assert kept.shape[1] == opened.tape.frames and np.abs(kept).max() == opened.tape.peak


def test_its_failures_are_in_the_log_of_the_server(desk, live, slug, caplog, monkeypatch):
    opened = desk.open(slug)
    monkeypatch.setattr(opened, "levels", lambda: 1 / 0)
    with caplog.at_level(logging.ERROR), Page(live, slug) as page:
        page.tell("compare", what="worked")
        assert page.said("problem")["text"] == "that failed: the log has the details"
    assert "ZeroDivisionError" in caplog.text
