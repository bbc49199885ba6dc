"""Limits that a process sets itself."""

from __future__ import annotations

import contextlib
from pathlib import Path


def bound_memory(more: int) -> None:
    """Let this process take ``more`` bytes than it has now, at the most; beyond, Python raises MemoryError.

    Where the system has no such limit (it is read from /proc) nothing is bound.
    """
    try:
        import resource

        lines = Path("/proc/self/status").read_text(encoding="ascii", errors="replace").splitlines()
        present = next(int(line.split()[1]) * 1024 for line in lines if line.startswith("VmData:"))
    except (ImportError, OSError, StopIteration, ValueError):
        return
    _, most = resource.getrlimit(resource.RLIMIT_DATA)
    with contextlib.suppress(OSError, ValueError):
        resource.setrlimit(resource.RLIMIT_DATA, (present + more, most))
