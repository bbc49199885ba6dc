"""Measuring in the background: the render worker, and what is asked of it."""

from .check_details import CheckDetails, worst_by_check
from .curing import Curing
from .idle_turns import IdleTurns
from .measuring import Measured, Measuring
from .render_worker import RenderWorker
from .set_check import SetCheck, SetCheckRow

__all__ = [
    "CheckDetails",
    "Curing",
    "IdleTurns",
    "Measured",
    "Measuring",
    "RenderWorker",
    "SetCheck",
    "SetCheckRow",
    "worst_by_check",
]
