"""Limits that a process sets on itself."""

from __future__ import annotations

import contextlib
from pathlib import Path


def bound_memory(more: int) -> None:
    """Limit this process to ``more`` bytes beyond what it has now. Beyond, Python raises MemoryError.

    It does nothing on systems without /proc and without such a limit.
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
