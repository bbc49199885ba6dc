"""The process beside the server that renders and measures: its jobs, their order, and the work itself."""

from .asks import PATIENT, UNASKED
from .jobs import Ask, Job, Levels, Match, Measure, Render, Stage, Told
from .picture import Picture, axis
from .worker import GIVEN_UP, serve

__all__ = [
    "GIVEN_UP",
    "PATIENT",
    "UNASKED",
    "Ask",
    "Job",
    "Levels",
    "Match",
    "Measure",
    "Picture",
    "Render",
    "Stage",
    "Told",
    "axis",
    "serve",
]
