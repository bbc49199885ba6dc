"""What somebody waits for is done first, and of the rest what was asked last."""

import threading

import pytest

from kessel.checks import Limits
from kessel.demo import demo_patch
from kessel.desk.measuring.measuring import Measuring
from kessel.desk.measuring.render_worker import RenderWorker

CARDS = ("mud-lantern", "undertow", "slack-water")


@pytest.fixture
def worker(tmp_path):
    made = RenderWorker(tmp_path)
    made.start()
    yield made
    made.close()


class Order:
    """The names of jobs, in the order in which they end."""

    def __init__(self):
        self.names = []
        self._news = threading.Condition()

    def end(self, name):
        def tell(told):
            if told.last:
                with self._news:
                    self.names.append(name)
                    self._news.notify_all()

        return tell

    def wait(self, count):
        with self._news:
            assert self._news.wait_for(lambda: len(self.names) >= count, 120.0)


def test_an_open_patch_and_its_cures_come_before_the_cards_of_the_library(worker):
    order = Order()
    for slug in CARDS:
        worker.measure(0, demo_patch(slug), Limits(), False, order.end(slug))
    mine = demo_patch("sluice-gate")
    worker.ask_for(mine, Limits(), "fixes", order.end("fixes"))
    worker.measure(0, mine, Limits(), True, order.end("mine"))
    order.wait(5)
    # one card may have been at its end; what is open comes next, and its cures are not kept waiting by cards
    assert order.names.index("mine") <= 1
    assert order.names.index("fixes") <= 2


def test_a_patch_that_is_opened_while_its_card_waits_comes_first(worker):
    order = Order()
    card = Measuring(worker)
    card.want(0, demo_patch("sluice-gate"), Limits())
    for slug in CARDS:
        # each of them is newer, and would come before
        worker.measure(0, demo_patch(slug), Limits(), False, order.end(slug))
    with card.looked_at():
        found = card.wait_findings(0, 120.0, 0)
    assert found is not None and found.version == 0 and found.findings
    assert len(order.names) <= 1
    order.wait(3)
    assert sorted(order.names) == sorted(CARDS)
