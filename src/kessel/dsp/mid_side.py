"""Mid/side width and channel gains above a lowest frequency."""

from __future__ import annotations

from typing import Any

from .jit import kernel


@kernel("void(f8[:,::1], f8[:,::1], f8[:,::1], f8[::1], f8[::1])")
def widen(x: Any, side: Any, high: Any, width: Any, below: Any) -> None:
    """Replace the side of x, (2, n). side: (1, n) as it was; high: (1, n) its part above the lowest frequency.

    width: (n,) gain above it, 1 is unchanged. below: (n,) gain below it.
    """
    for i in range(x.shape[1]):
        change = (width[i] - 1.0) * high[0, i] + (below[i] - 1.0) * (side[0, i] - high[0, i])
        x[0, i] += change
        x[1, i] -= change


@kernel("void(f8[:,::1], f8[:,::1], f8[:,::1])")
def sway(x: Any, high: Any, change: Any) -> None:
    """Add to x, (2, n), what a gain less 1, change (2, n), makes of high, (2, n)."""
    for c in range(2):
        for i in range(x.shape[1]):
            x[c, i] += change[c, i] * high[c, i]
