"""A delay of a fixed number of samples, which aligns a path with a later one."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..jit import kernel, put


@kernel("void(f8[:,::1], i8, i8, f8[:,::1])")
def delay_in_place(x: Any, a: int, b: int, line: Any) -> None:
    """Delay x, (channels, n), in place by line.shape[1] samples. line: (channels, lag)."""
    lag = line.shape[1]
    if lag == 0:
        return
    for c in range(x.shape[0]):
        p = 0
        for i in range(a, b):
            v = x[c, i]
            x[c, i] = line[c, p]
            line[c, p] = v
            p += 1
            if p == lag:
                p = 0
        if p:
            turned = np.concatenate((line[c, p:], line[c, :p]))
            put(line[c], turned)
