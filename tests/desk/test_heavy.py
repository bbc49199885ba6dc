"""A patch that takes long may be slow; nothing else is."""

import threading

from kessel.desk.measuring.measuring import STOPPED

from ..plausible import heavy

LONG = 120.0


def test_a_heavy_patch_shows_how_far_it_is_steps_aside_and_is_stopped(desk):
    slow = desk.open(desk.library.add(desk.home(), heavy()))
    shares = []
    news = threading.Event()
    stop_watching = slow.watch(news.set)
    slow.measure()
    # another patch is measured while it renders
    other = desk.open(desk.duplicate("salt-press"))
    other.measure()
    assert other.measuring.wait_findings(other.version, LONG, 0).version == other.version
    assert slow.measuring.measured is None
    while len(set(shares)) < 3:
        news.wait(0.05)
        news.clear()
        shares.append(slow.measuring.share)
        assert shares[-1] is not None, slow.measuring.problem
    assert all(0.0 <= s < 1.0 for s in shares)
    third = desk.open(desk.duplicate("undertow"))
    third.measure()
    assert third.measuring.wait_picture(third.version, LONG).version == third.version
    assert slow.measuring.measured is None and slow.news().share is not None
    slow.measuring.stop()
    assert news.is_set()
    assert (slow.news().problem, slow.news().share) == (STOPPED, None)
    # who asks again gets it measured
    slow.measure()
    assert slow.news().problem == "" and slow.news().share is not None
    slow.measuring.stop()
    stop_watching()
