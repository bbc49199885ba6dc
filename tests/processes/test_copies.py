"""Work that is shared with a copy of this process: the same results, whatever happens to the copy."""

import os
import signal
from multiprocessing import get_context
from pathlib import Path

import numpy as np
import pytest

from kessel.processes import can_share, share

pytestmark = pytest.mark.skipif(not can_share(), reason="one processor, or a system without copies")
ITEMS = list(range(6))


@pytest.fixture
def both():
    """Call it for every item: neither process ends its first one before the other has begun one. Whether it is here."""
    meet, met, here = get_context("fork").Barrier(2), set(), os.getpid()

    def together():
        if os.getpid() not in met:
            met.add(os.getpid())
            meet.wait(60)
        return os.getpid() == here

    return together


@pytest.fixture(autouse=True)
def nothing_left_behind(both):
    """No open file, and no child of this process, is left."""

    def open_and_running():
        own = Path("/proc/self")
        return len([*(own / "fd").iterdir()]), (own / "task" / str(os.getpid()) / "children").read_text()

    before = open_and_running()
    yield
    assert open_and_running() == before


def test_results_come_in_order_from_both(both):
    found = share(ITEMS, lambda n: (n, both()))
    assert [n for n, _ in found] == ITEMS
    assert {here for _, here in found} == {True, False}


def test_arrays_come_back_whole_aligned_and_writable(both):
    def rows(n):
        return {"x": np.full((2, 1000 + n), n, dtype=np.float32), "odd": np.arange(n, dtype=np.int8), "here": both()}

    found = share(ITEMS, rows)
    assert not all(f["here"] for f in found)
    for n, made in enumerate(found):
        assert made["x"].shape == (2, 1000 + n) and (made["x"] == n).all() and made["odd"].tolist() == list(range(n))
        assert made["x"].flags.aligned and made["x"].flags.c_contiguous
        made["x"] += 1


def fails(n):
    raise RuntimeError("only in the copy")


def dies(n):
    os.kill(os.getpid(), signal.SIGKILL)


@pytest.mark.parametrize("there", [fails, dies, lambda n: lambda: n], ids=["fails", "dies", "can't be sent"])
def test_what_the_copy_fails_on_is_done_here(both, there):
    assert share(ITEMS, lambda n: n if both() else there(n)) == ITEMS


def test_what_fails_here_is_raised_and_the_copy_ends(both):
    def act(n):
        if both():
            raise KeyError(n)
        signal.pause()

    with pytest.raises(KeyError):
        share(ITEMS, act)


def test_given_up_it_does_not_wait_for_the_copy(both):
    asked = []

    def act(n):
        if asked:
            raise InterruptedError
        if not both():
            signal.pause()

    with pytest.raises(InterruptedError):
        share(ITEMS, act, lambda: asked.append(True) or True)


def test_a_copy_makes_no_copies(both):
    def act(n):
        here = both()
        return here or {os.getpid()} == set(share(ITEMS, lambda _: os.getpid()))

    assert all(share(ITEMS, act))


@pytest.mark.parametrize("count", [0, 1])
def test_too_little_to_share_is_done_here(count):
    assert share(list(range(count)), lambda n: os.getpid()) == [os.getpid()] * count


def test_where_the_system_makes_no_copy_all_is_done_here(monkeypatch):
    def full():
        raise OSError(11, "Resource temporarily unavailable")

    monkeypatch.setattr(os, "fork", full)
    assert set(share(ITEMS, lambda n: os.getpid())) == {os.getpid()}


def test_on_one_processor_all_is_done_here():
    cores = os.sched_getaffinity(0)
    os.sched_setaffinity(0, {min(cores)})
    try:
        assert set(share(ITEMS, lambda n: os.getpid())) == {os.getpid()}
    finally:
        os.sched_setaffinity(0, cores)
