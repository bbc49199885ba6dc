"""Kessel: layered bass patches, heard, seen and measured."""

import os

# layers already run in parallel; threads within small matrix solves only wait for each other
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

__version__ = "0.2.0"
