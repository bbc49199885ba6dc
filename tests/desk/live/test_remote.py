"""The patches of the server, as the process that plays sees them: what is answered, and what is not."""

import multiprocessing
import threading

import numpy as np
import pytest

from kessel.desk.live.process import _plain
from kessel.desk.live.remote import Server
from kessel.desk.live.wire import Answer, Attend, Close, LoopNews, Open, Opened, PatchNews
from kessel.library import Damaged, NoSuchPatch, NotKept
from kessel.patch import NoSuchPath, ValueProblem

from ...making import layer, patch


@pytest.fixture
def wire():
    """A server as the player sees it, and the server's end of the wire."""
    ours, theirs = multiprocessing.Pipe()
    server = Server(theirs)
    thread = threading.Thread(target=server.serve, daemon=True)
    thread.start()
    yield server, ours
    ours.close()
    thread.join(10)
    assert not thread.is_alive()


def asked(ours):
    """The next question, past all receipts."""
    while True:
        reply = ours.recv()
        if not reply.last:
            return reply.value


def test_a_page_that_is_here_before_the_server_listens_waits_for_it(wire):
    server, ours = wire
    made, found = patch(layer("one")), []
    page = threading.Thread(target=lambda: found.append(server.open("some-patch")))
    page.start()
    ours.send((0, Attend()))
    question = asked(ours)
    assert question.question == Open(0, "some-patch")
    ours.send((1, Answer(question.number, Opened(made, None))))
    page.join(10)
    assert found[0].patch == made


def test_news_are_for_their_stream_and_what_was_closed_hears_nothing(wire, tmp_path):
    server, ours = wire
    ours.send((0, Attend()))
    made = patch(layer("one"))

    def answers(value):
        thread = threading.Thread(target=lambda: ours.send((1, Answer(asked(ours).number, value))))
        thread.start()
        return thread

    thread = answers(Opened(made, None))
    played = server.open("a")
    thread.join(10)
    heard, there = [], threading.Event()
    played.listen(lambda new: (heard.append(new.tempo), there.set()))
    np.save(tmp_path / "0.npy", np.ones((2, 8), dtype=np.float32))
    ours.send((2, PatchNews(7, made.model_copy(update={"tempo": 99.0}))))
    ours.send((3, LoopNews(played.stream, str(tmp_path / "0.npy"), -12.0)))
    ours.send((4, LoopNews(played.stream, str(tmp_path / "none.npy"), -12.0)))
    ours.send((5, PatchNews(played.stream, made.model_copy(update={"tempo": 101.0}))))
    assert there.wait(10)
    assert heard == [101.0] and played.patch.tempo == 101.0
    # a loop that can't be read leaves the one before
    assert played.loop.shape == (2, 8) and played.loudness == -12.0
    thread = threading.Thread(target=server.close, args=(played,))
    thread.start()
    question = asked(ours)
    assert question.question == Close(played.stream)
    ours.send((6, PatchNews(played.stream, made.model_copy(update={"tempo": 102.0}))))
    ours.send((7, Answer(question.number)))
    thread.join(10)
    assert played.patch.tempo == 101.0 and heard == [101.0]


@pytest.mark.parametrize(
    ("problem", "kind", "text"),
    [
        (NoSuchPath("layers.none"), NoSuchPath, "no control at “layers.none”"),
        (NoSuchPatch("gone"), NoSuchPatch, "there is no patch “gone”: it may have been deleted"),
        (NotKept("the disk is full"), NotKept, "the disk is full"),
        (Damaged("broken", "no json"), NoSuchPatch, "there is no patch “broken”: it may have been deleted"),
        (ValueProblem("too loud"), ValueProblem, "too loud"),
    ],
)
def test_problems_come_through_with_their_text(wire, problem, kind, text):
    server, ours = wire
    ours.send((0, Attend()))
    thread = threading.Thread(target=lambda: ours.send((1, Answer(asked(ours).number, error=_plain(problem)))))
    thread.start()
    with pytest.raises(kind) as found:
        server.open("a")
    thread.join(10)
    assert str(found.value) == text
