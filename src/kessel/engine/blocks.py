"""Constant values over a quantum or over several, shared by all who need them."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..dsp import QUANTUM


@lru_cache(maxsize=1024)
def constant_block(value: float) -> NDArray[np.float64]:
    """One quantum of a constant value. Shared and cached: do not write to it."""
    made = np.full(QUANTUM, value)
    return made


@lru_cache(maxsize=64)
def _batch(value: float, quanta: int) -> NDArray[np.float64]:
    return np.full(quanta * QUANTUM, value)


def constant_batch(value: float, quanta: int) -> NDArray[np.float64]:
    """So many quanta of a constant value. Shared and cached: do not write to it."""
    return constant_block(value) if quanta == 1 else _batch(value, quanta)
