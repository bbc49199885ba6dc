"""The mixer: layer chains, sends, returns, the worked path and the output stage."""

from .layer_chain import LayerChain, below_of
from .modulated_chain import traced
from .output import BusMixer, OutputRun, Place, place_of, places_of, sending, sent
from .returns import ReturnRun, WorkedRun, chain_latency, kicked_by, moment_of, return_latency
from .sends import Gain, fed, still_sends

__all__ = [
    "BusMixer",
    "Gain",
    "LayerChain",
    "OutputRun",
    "Place",
    "ReturnRun",
    "WorkedRun",
    "below_of",
    "chain_latency",
    "fed",
    "kicked_by",
    "moment_of",
    "place_of",
    "places_of",
    "return_latency",
    "sending",
    "sent",
    "still_sends",
    "traced",
]
