"""Measuring in the background: the render worker, and what is asked of it."""

from .check_details import Checking, worst_by_check
from .measuring import Measured, Measuring
from .render_worker import Workbench
from .set_check import Checked, SetCheck

__all__ = ["Checked", "Checking", "Measured", "Measuring", "SetCheck", "Workbench", "worst_by_check"]
