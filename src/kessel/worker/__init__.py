"""The process that renders and measures: its jobs, their order, and the work itself."""

from .jobs import Job, JobReply, Levels, Match, Measure, Query, Render, Stage
from .picture import Picture, axis
from .queries import LONG, UNASKED
from .worker import GIVEN_UP, serve

__all__ = [
    "GIVEN_UP",
    "LONG",
    "UNASKED",
    "Job",
    "JobReply",
    "Levels",
    "Match",
    "Measure",
    "Picture",
    "Query",
    "Render",
    "Stage",
    "axis",
    "serve",
]
