"""The mixer: layer chains, sends, returns, the worked path and the output stage."""

from .layer_chain import LayerChain, below_of
from .modulated_chain import traced
from .output import (
    FADERS,
    BusMixer,
    Moved,
    OutputStage,
    Placement,
    moved_faders,
    placement_of,
    placements_of,
    sending,
    sent,
)
from .returns import ReturnBus, WorkedPath, chain_latency, kicked_by, return_latency, transport_of
from .sends import Gain, fed, feeds_alike, still_sends

__all__ = [
    "FADERS",
    "BusMixer",
    "Gain",
    "LayerChain",
    "Moved",
    "OutputStage",
    "Placement",
    "ReturnBus",
    "WorkedPath",
    "below_of",
    "chain_latency",
    "fed",
    "feeds_alike",
    "kicked_by",
    "moved_faders",
    "placement_of",
    "placements_of",
    "return_latency",
    "sending",
    "sent",
    "still_sends",
    "traced",
    "transport_of",
]
