"""The frame of every workspace: header, findings, side panels, the strip of macros."""

from .header import STOPPED, WAITS, Header, figure, header_view
from .rail import FindingView, finding_view, rail_view
from .sides import backing_view, history_view, shelf_view
from .strip_row import bound_controls, strip_row

__all__ = [
    "STOPPED",
    "WAITS",
    "FindingView",
    "Header",
    "backing_view",
    "bound_controls",
    "figure",
    "finding_view",
    "header_view",
    "history_view",
    "rail_view",
    "shelf_view",
    "strip_row",
]
