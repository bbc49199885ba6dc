"""How far a stream runs ahead: it grows on a near miss, and shrinks again when all is calm."""

from itertools import pairwise

import pytest

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
    assert START_LEAD - START_LEAD // 2 <= leads[0] <= START_LEAD - STEP and leads[-1] == LEAST_LEAD
    assert all(a >= b for a, b in pairwise(leads))


def test_the_next_stream_begins_with_what_this_one_needed_but_not_with_all_of_a_bad_moment():
    page = Listener()
    for _ in range(3):
        page.lead.send(QUANTUM)
        page.lead.report(page.frames, 0, CLOSE - 1)
    assert Lead(page.lead.frames).frames == START_LEAD + 3 * STEP
    for _ in range(30):
        page.lead.report(page.frames, 0, CLOSE - 1)
    assert Lead(page.lead.frames).frames == 2 * START_LEAD


def test_it_does_not_shrink_where_the_reserve_came_low_once():
    page = Listener()
    for _ in range(6):
        page.hear(0.5 * CALM / RATE)
        page.frames += QUANTUM
        page.lead.send(QUANTUM)
        page.lead.report(page.frames, 0, CLOSE + STEP)
        page.hear(0.4 * CALM / RATE)
    assert page.lead.frames == START_LEAD


def missed(page):
    page.lead.report(page.frames, 0, CLOSE - 1)


def test_near_misses_before_it_shrank_do_not_keep_it_long():
    page = Listener()
    for _ in range(8):
        missed(page)
    grown = page.lead.frames
    assert grown == START_LEAD + 8 * STEP
    page.hear(1.1 * CALM / RATE)
    # by half of what was spared, at once
    assert page.lead.frames < 0.7 * grown
    page.hear(6.0 * CALM / RATE)
    assert page.lead.frames == LEAST_LEAD


def test_when_it_shrank_too_soon_it_waits_twice_as_long():
    page = Listener()
    waits = []
    for _ in range(3):
        before, waited = page.lead.frames, 0
        while page.lead.frames >= before:
            page.hear(0.1 * CALM / RATE)
            waited += 1
        waits.append(waited)
        missed(page)
        missed(page)
    assert waits[1] == pytest.approx(2 * waits[0], abs=2) and waits[2] == pytest.approx(4 * waits[0], abs=3)


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
