"""What is served while the loops are compiled for the first time: a page with the library and the progress."""

from .app import Progress, Shelf, waiting_app

__all__ = ["Progress", "Shelf", "waiting_app"]
