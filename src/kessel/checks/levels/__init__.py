"""Checks of loudness and peaks."""

from .level_detail import LevelDetail, level_detail
from .loudness import loud_enough
from .output_peak import output_peak

__all__ = ["LevelDetail", "level_detail", "loud_enough", "output_peak"]
