"""Processes beside the server: jobs, replies, limits, cancelling, restarting. It does not know what the jobs do."""

from .bounds import bound_memory
from .copies import can_share, share
from .lean import give_back, keep_loaded, lean_memory
from .serving import Tell, serve_jobs
from .starting import context, prepare
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
    "can_share",
    "context",
    "give_back",
    "keep_loaded",
    "lean_memory",
    "prepare",
    "serve_jobs",
    "share",
]
