"""The order in which the threads of a playing process get the processor."""

from __future__ import annotations

import os
import threading
from contextlib import suppress

SOUND, SOCKETS, HELP = 3, 2, 1
"""The thread that renders, the one that sends, and those that help: whoever holds the interpreter must not wait."""
_NICE = -10


def go_first(rank: int) -> None:
    """Let this thread, and those that it starts, run before all others, if the system allows it.

    Real-time scheduling, which Linux gives to members of its audio group or to root; otherwise a higher priority, which
    the system may refuse too.
    """
    thread = threading.get_native_id()
    try:
        os.sched_setscheduler(thread, os.SCHED_RR, os.sched_param(rank))
    except (OSError, AttributeError):
        with suppress(OSError, AttributeError):
            os.setpriority(os.PRIO_PROCESS, thread, _NICE)
