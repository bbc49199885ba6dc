"""One process beside: jobs and replies, and what becomes of them when it dies, takes too long or is given up."""

import contextlib
import os
import select
import signal
import threading
import time
from dataclasses import dataclass
from multiprocessing.connection import Connection

import pytest

from kessel.processes import Cancelled, Failed, Gone, Reply, Supervisor, TooLong, bound_memory, serve_jobs

WAIT = 30.0


@dataclass(frozen=True)
class Do:
    what: str
    value: float = 0.0


class Expected(Exception):
    pass


def act(job, tell):
    if job.what == "sleep":
        tell("begun")
        time.sleep(job.value)
    if job.what == "die":
        os.kill(os.getpid(), signal.SIGKILL)
    if job.what == "fail":
        raise RuntimeError("a fault")
    if job.what == "refuse":
        raise Expected("not this one")
    if job.what == "fill":
        return len(bytearray(int(job.value)))
    return job.value * 2, os.getpid()


def serve(wire):
    bound_memory(100_000_000)
    serve_jobs(wire, act, (Expected,))


def serve_at_length(wire):
    """Replies as long as the job, three times, and reads nothing meanwhile."""
    with contextlib.suppress(EOFError):
        while True:
            number, job = wire.recv()
            for last in (False, False, True):
                wire.send(Reply(number, job, last=last))


@pytest.fixture
def beside():
    made = Supervisor("test", serve, one_by_one=True)
    yield made
    made.close()


def begun(beside, seconds=60.0, limit=None):
    """A job that is under way."""
    told = threading.Event()
    task = beside.ask(Do("sleep", seconds), lambda said: told.set(), limit)
    assert told.wait(WAIT)
    return task


def test_jobs_are_answered_one_after_the_other_by_one_process(beside):
    tasks = [beside.ask(Do("double", n)) for n in range(5)]
    found = [t.future.result(WAIT) for t in tasks]
    assert [v for v, _ in found] == [0, 2, 4, 6, 8]
    assert {p for _, p in found} == {beside.pid}


def test_what_a_job_raises_comes_back_and_the_process_stays(beside, caplog):
    with pytest.raises(Expected, match="not this one"):
        beside.ask(Do("refuse")).future.result(WAIT)
    with pytest.raises(Failed, match="RuntimeError"):
        beside.ask(Do("fail")).future.result(WAIT)
    with pytest.raises(Failed, match="MemoryError"):
        beside.ask(Do("fill", 400e6)).future.result(WAIT)
    assert beside.ask(Do("fill", 4e6)).future.result(WAIT) == 4000000
    assert beside.deaths == 0


def test_a_process_that_dies_is_started_again_for_the_jobs_that_wait(beside):
    dying = beside.ask(Do("die"))
    after = beside.ask(Do("double", 4))
    with pytest.raises(Gone):
        dying.future.result(WAIT)
    assert after.future.result(WAIT)[0] == 8
    assert beside.deaths == 1


def test_a_job_that_takes_too_long_ends_alone(beside):
    # its process is there, so that the limit counts the job alone
    assert beside.ask(Do("double", 1)).future.result(WAIT)[0] == 2
    slow = begun(beside, limit=1.0)
    after = beside.ask(Do("double", 4))
    with pytest.raises(TooLong, match=r"longer than 1 s"):
        slow.future.result(WAIT)
    assert after.future.result(WAIT)[0] == 8


def test_a_job_is_given_up_under_way_or_while_it_waits(beside):
    slow = begun(beside)
    waiting = beside.ask(Do("double", 1))
    after = beside.ask(Do("double", 4))
    beside.cancel(waiting)
    beside.cancel(slow)
    for task in (slow, waiting):
        with pytest.raises(Cancelled):
            task.future.result(WAIT)
    assert after.future.result(WAIT)[0] == 8


def test_a_wire_that_is_given_up_while_it_is_read_takes_nothing_from_the_next(beside, monkeypatch, caplog):
    """Closed by somebody else, its number was that of the next wire while its reader still read from it."""
    reads, held, go = Connection._recv_bytes, threading.Event(), threading.Event()

    def held_up(wire, *words):
        if told.is_set() and not held.is_set():
            held.set()
            assert go.wait(WAIT)
        return reads(wire, *words)

    told = threading.Event()
    monkeypatch.setattr(Connection, "_recv_bytes", held_up)
    slow = beside.ask(Do("sleep", 60.0), lambda said: told.set())
    assert held.wait(WAIT)
    beside.cancel(slow)
    after = [beside.ask(Do("double", n)) for n in range(3)]
    go.set()
    assert [t.future.result(WAIT)[0] for t in after] == [0, 2, 4]
    assert beside.deaths == 0 and not [r for r in caplog.records if r.levelname == "ERROR"]


def test_who_asks_long_jobs_never_waits_for_long_replies():
    """Jobs were sent by who asked, within locks that who hears the replies needs as well: both stood still for good."""
    beside, held, said, tasks = Supervisor("test", serve_at_length), threading.Lock(), [], []

    def hear(told):
        with held:
            said.append(told)

    def ask():
        for _ in range(4):
            with held:
                tasks.extend(beside.ask("x" * 3_000_000, hear) for _ in range(3))

    asking = threading.Thread(target=ask, daemon=True)
    asking.start()
    asking.join(WAIT)
    assert not asking.is_alive()
    assert [len(t.future.result(WAIT)) for t in tasks] == [3_000_000] * 12
    assert len(said) == 24
    beside.close()


def test_what_no_process_can_take_is_told_and_the_next_job_is_done(beside, caplog):
    lost = beside.ask(threading.Lock())
    with pytest.raises(Gone, match="can't be given"):
        lost.future.result(WAIT)
    assert beside.ask(Do("double", 4)).future.result(WAIT)[0] == 8


def test_every_job_of_a_process_that_died_is_told_though_the_next_runs_already():
    beside, told, go = Supervisor("test", serve), threading.Event(), threading.Event()

    def hear(said):
        told.set()
        assert go.wait(WAIT)

    lost = beside.ask(Do("sleep", 60.0), hear)
    assert told.wait(WAIT)
    ended = os.pidfd_open(beside.pid)
    os.kill(beside.pid, signal.SIGKILL)
    assert select.select([ended], [], [], WAIT)[0]
    # the wire breaks while this is sent, and nobody has heard yet that the process died
    after = beside.ask(Do("double", 4))
    assert after.future.result(WAIT)[0] == 8
    go.set()
    with pytest.raises(Gone):
        lost.future.result(WAIT)
    assert beside.deaths == 1
    beside.close()


def test_who_waits_is_told_when_all_ends(beside):
    slow = begun(beside)
    waiting = beside.ask(Do("double", 1))
    beside.close()
    for task in (slow, waiting, beside.ask(Do("double", 2))):
        with pytest.raises(Gone, match="ending"):
            task.future.result(WAIT)
    assert beside.pid is None
