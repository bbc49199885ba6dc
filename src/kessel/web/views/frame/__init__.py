"""The frame of every workspace: header, findings, side panels, the strip of macros."""

from .finder import finder, shown_at
from .header import STOPPED, WAITS, Header, figure, header_view
from .rail import FindingView, finding_view, rail_view
from .sides import backing_view, history_view, shelf_view
from .strip_row import strip_row

__all__ = [
    "STOPPED",
    "WAITS",
    "FindingView",
    "Header",
    "backing_view",
    "figure",
    "finder",
    "finding_view",
    "header_view",
    "history_view",
    "rail_view",
    "shelf_view",
    "shown_at",
    "strip_row",
]
