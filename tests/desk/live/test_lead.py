"""How far a stream runs ahead: it grows on a near miss, and shrinks again when all is calm."""

from itertools import pairwise

from kessel.desk.live.lead import CALM, CLOSE, LEAST_LEAD, MOST_LEAD, START_LEAD, Lead
from kessel.engine import QUANTUM, RATE


class Listener:
    """A page that hears a stream in steps of a quantum, with so many quanta in reserve."""

    def __init__(self):
        self.lead, self.frames, self.gaps = Lead(), 0, 0

    def hear(self, seconds, spare):
        """Report for a while; ``spare``: how many quanta less than the lead are in reserve."""
        for _ in range(round(seconds * RATE / QUANTUM)):
            self.lead.send()
            self.frames += QUANTUM
            self.lead.report(self.frames, self.gaps, (self.lead.quanta - spare) * QUANTUM)


def test_it_shrinks_to_the_least_while_two_quanta_would_be_spared():
    page = Listener()
    leads = []
    for _ in range(8):
        page.hear(1.02 * CALM / RATE, spare=1)
        leads.append(page.lead.quanta)
    assert leads[0] == START_LEAD - 1 and leads[-1] == LEAST_LEAD
    assert all(a - b in (0, 1) for a, b in pairwise(leads))


def test_it_does_not_shrink_where_the_reserve_came_low_once():
    page = Listener()
    for _ in range(6):
        page.hear(0.5 * CALM / RATE, spare=1)
        page.frames += QUANTUM
        page.lead.send()
        page.lead.report(page.frames, 0, CLOSE + QUANTUM)
        page.hear(0.4 * CALM / RATE, spare=1)
    assert page.lead.quanta == START_LEAD


def test_after_near_misses_it_waits_longer():
    page = Listener()
    for _ in range(3):
        page.lead.report(page.frames, 0, CLOSE - 1)
    assert page.lead.quanta == START_LEAD + 3
    page.hear(7.5 * CALM / RATE, spare=1)
    assert page.lead.quanta == START_LEAD + 3
    page.hear(1.0 * CALM / RATE, spare=1)
    assert page.lead.quanta == START_LEAD + 2


def test_it_never_leaves_its_limits_and_a_gap_counts_once():
    page = Listener()
    for gaps in range(1, 40):
        page.lead.report(page.frames, gaps, 2**53)
    assert page.lead.quanta == MOST_LEAD and page.lead.gaps == 39
    page.lead.report(page.frames, 39, 2**53)
    assert page.lead.quanta == MOST_LEAD
