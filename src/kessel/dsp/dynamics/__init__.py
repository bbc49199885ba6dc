"""Dynamics: compression and limiting."""
