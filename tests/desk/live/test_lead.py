"""How far a stream runs ahead: it grows on a near miss, and shrinks again when all is calm."""

from itertools import pairwise

from kessel.desk.live.lead import CALM, CLOSE, LEAST_LEAD, MOST_LEAD, START_LEAD, STEP, Lead
from kessel.engine import QUANTUM, RATE


class Listener:
    """A page that hears a stream in steps of a quantum, with so many frames less than the lead in reserve."""

    def __init__(self):
        self.lead, self.frames, self.gaps = Lead(), 0, 0

    def hear(self, seconds, late=0):
        """Report for a while."""
        for _ in range(round(seconds * RATE / QUANTUM)):
            self.lead.send(QUANTUM)
            self.frames += QUANTUM
            self.lead.report(self.frames, self.gaps, self.lead.frames - late)


def test_it_shrinks_to_the_least_while_a_step_would_be_spared():
    page = Listener()
    leads = []
    for _ in range(8):
        page.hear(1.02 * CALM / RATE)
        leads.append(page.lead.frames)
    assert leads[0] == START_LEAD - STEP and leads[-1] == LEAST_LEAD
    assert all(a - b in (0, STEP) for a, b in pairwise(leads))


def test_it_does_not_shrink_where_the_reserve_came_low_once():
    page = Listener()
    for _ in range(6):
        page.hear(0.5 * CALM / RATE)
        page.frames += QUANTUM
        page.lead.send(QUANTUM)
        page.lead.report(page.frames, 0, CLOSE + STEP)
        page.hear(0.4 * CALM / RATE)
    assert page.lead.frames == START_LEAD


def test_after_near_misses_it_waits_longer():
    page = Listener()
    for _ in range(3):
        page.lead.report(page.frames, 0, CLOSE - 1)
    assert page.lead.frames == START_LEAD + 3 * STEP
    page.hear(7.5 * CALM / RATE)
    assert page.lead.frames == START_LEAD + 3 * STEP
    page.hear(1.0 * CALM / RATE)
    assert page.lead.frames == START_LEAD + 2 * STEP


def test_it_never_leaves_its_limits_and_a_gap_counts_once():
    page = Listener()
    for gaps in range(1, 40):
        page.lead.report(page.frames, gaps, 2**53)
    assert page.lead.frames == MOST_LEAD and page.lead.gaps == 39
    page.lead.report(page.frames, 39, 2**53)
    assert page.lead.frames == MOST_LEAD and page.lead.gaps == 39


def test_the_next_quantum_is_due_when_no_more_than_the_lead_is_left():
    lead = Lead()
    sent = 0
    while not lead.seconds_left:
        lead.send(QUANTUM)
        sent += QUANTUM
    assert START_LEAD < sent <= START_LEAD + QUANTUM
    lead.report(QUANTUM, 0, 2**53)
    assert lead.seconds_left == 0
    lead.send(QUANTUM)
    assert 0 < lead.seconds_left <= QUANTUM / RATE
