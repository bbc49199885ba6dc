"""Kessel: layered bass patches, heard, seen and measured."""

__version__ = "0.1.0"
