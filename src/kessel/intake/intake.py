"""The imports of a server. Each has a ticket, by which its progress is asked for and it is cancelled."""

from __future__ import annotations

import shutil
import tempfile
import threading
from collections import OrderedDict
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any, BinaryIO

from ..formats import FileProblem
from ..processes import Cancelled, Failed, Gone, Supervisor, Task, TooLong
from .jobs import GivenUp, IntakeJob, ReadAudio
from .reader import serve

_SECONDS = 20.0
"""Seconds allowed for one file."""
_SECONDS_LONG = 180.0
"""Seconds allowed for a long recording."""
_REMEMBERED = 64


@dataclass
class Progress:
    """Progress of an import, 0..1."""

    name: str
    share: float = 0.0
    task: Task | None = None
    cancelled: bool = False
    over: bool = False


class Intake:
    """Reads files beside the server. Thread-safe."""

    def __init__(self, folder: Path) -> None:
        """``folder``: where files are stored while they are read. Remains of earlier runs are deleted."""
        self._folder = folder / "incoming"
        shutil.rmtree(self._folder, ignore_errors=True)
        self._reader = Supervisor("reader", serve, one_by_one=True)
        self._lock = threading.Lock()
        self._known: OrderedDict[str, Progress] = OrderedDict()

    @property
    def folder(self) -> Path:
        """Where files are stored while they are read."""
        self._folder.mkdir(parents=True, exist_ok=True)
        return self._folder

    @property
    def pid(self) -> int | None:
        """Id of the reading process, if it runs."""
        return self._reader.pid

    def start(self) -> None:
        """Start the reading process."""
        self._reader.start()

    @contextmanager
    def laid_down(self, data: BinaryIO) -> Iterator[Path]:
        """Store what was sent as a file in a folder of its own. Both are deleted at the end of the block. Raises
        OSError.
        """
        with tempfile.TemporaryDirectory(dir=self.folder, ignore_cleanup_errors=True) as own:
            path = Path(own) / "sent"
            with path.open("wb") as f:
                shutil.copyfileobj(data, f, 1 << 20)
            yield path

    def read(self, job: IntakeJob, ticket: str = "") -> Any:
        """Read a file and wait for the result. Raises FileProblem or ValueProblem with one line."""
        progress = Progress(job.name)
        if ticket:
            with self._lock:
                known = self._known.setdefault(ticket, progress)
                progress, known.name = known, job.name
                while len(self._known) > _REMEMBERED:
                    self._known.popitem(last=False)
        if progress.cancelled:
            raise GivenUp(f"{job.name} was not imported: the import was cancelled")

        def hear(share: float) -> None:
            progress.share = share

        long = isinstance(job, ReadAudio) and job.longest > 60
        progress.task = self._reader.ask(job, hear, _SECONDS_LONG if long else _SECONDS)
        try:
            found = progress.task.future.result()
        except Cancelled:
            raise GivenUp(f"{job.name} was not imported: the import was cancelled") from None
        except TooLong:
            raise FileProblem(f"{job.name} takes too long to read: give a smaller or simpler file") from None
        except Gone:
            raise FileProblem(f"{job.name} can't be read: the reading process failed on it") from None
        except Failed as problem:
            raise FileProblem(f"{job.name} can't be read: it is damaged ({problem})") from None
        finally:
            progress.over = True
        if progress.cancelled:
            raise GivenUp(f"{job.name} was not imported: the import was cancelled")
        return found

    def progress(self, ticket: str) -> Progress | None:
        """Progress of an import."""
        with self._lock:
            return self._known.get(ticket)

    def cancel(self, ticket: str) -> None:
        """Cancel an import, even before it is read."""
        with self._lock:
            progress = self._known.setdefault(ticket, Progress("the file"))
            progress.cancelled = True
            task = progress.task
        if task is not None and not task.future.done():
            self._reader.cancel(task)

    def close(self) -> None:
        """End the reading process."""
        self._reader.close()
        shutil.rmtree(self._folder, ignore_errors=True)
