"""Kessel: layered bass patches, heard, seen and measured."""

import os

# layers already share the processors between them; small matrix solves that spread over threads as well only spin
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

__version__ = "0.2.0"
