"""Processes beside the server: jobs, replies, limits, cancelling, restarting. It does not know what the jobs do."""

from .bounds import bound_memory
from .lean import give_back, keep_loaded, lean_memory
from .serving import Tell, serve_jobs
from .supervisor import Cancelled, Gone, Supervisor, Task, TooLong
from .wire import Failed, Reply

__all__ = [
    "Cancelled",
    "Failed",
    "Gone",
    "Reply",
    "Supervisor",
    "Task",
    "Tell",
    "TooLong",
    "bound_memory",
    "give_back",
    "keep_loaded",
    "lean_memory",
    "serve_jobs",
]
