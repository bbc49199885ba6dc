"""Checks of loudness, peaks, DC, and of layers that nobody hears."""

from .dc import dc_offset
from .level_detail import LevelDetail, level_detail
from .loudness import loud_enough
from .masked import masked
from .output_peak import output_peak

__all__ = ["LevelDetail", "dc_offset", "level_detail", "loud_enough", "masked", "output_peak"]
