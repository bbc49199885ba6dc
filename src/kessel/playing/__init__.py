"""The process that plays: it owns the socket of the live streams, so that no page request can hold the sound up."""

from .app import HOSTS, player_app
from .process import play_streams

__all__ = ["HOSTS", "play_streams", "player_app"]
