"""Measuring gives way to what plays, and comes back when nothing does."""

import ctypes
import os
import threading
from pathlib import Path

import pytest

from kessel.demo import demo_patch
from kessel.desk.measuring.render_worker import RenderWorker

_PR_CAPBSET_DROP, _CAP_SYS_NICE = 24, 23

pytestmark = pytest.mark.skipif(not hasattr(os, "SCHED_IDLE"), reason="this system has no such way")


@pytest.fixture
def bench(tmp_path):
    """A workbench whose process may not raise its own priority, whoever runs the tests."""
    made = RenderWorker(tmp_path)

    def start():
        # what a thread drops counts for the programs that it starts; who has no privileges has none to drop
        ctypes.CDLL(None).prctl(_PR_CAPBSET_DROP, _CAP_SYS_NICE, 0, 0, 0)
        made.start()

    thread = threading.Thread(target=start)
    thread.start()
    thread.join()
    yield made
    made.close()


def policies(pid):
    return {os.sched_getscheduler(int(t.name)) for t in Path(f"/proc/{pid}/task").iterdir()}


def test_measuring_comes_back_once_nothing_plays(bench):
    patch = demo_patch("undertow")
    bench.stream_started(1)
    while_playing = bench.audio(patch, "sum")
    bench.stream_started(-1)
    again = bench.audio(patch.model_copy(update={"tempo": patch.tempo + 1.0}), "sum")
    assert while_playing.any() and again.any()
    assert policies(bench.pid) == {os.SCHED_OTHER}
