"""Gains, placement on buses, and meters."""

from __future__ import annotations

from typing import Any

from .jit import kernel

PLACE = 5
# a position: gains left to left, right to left, left to right, right to right, then the delay in samples


@kernel("void(f4[:,::1], f8[:,::1], f8[:,::1], i8, f8[::1], f8[::1])")
def place(x: Any, line: Any, bus: Any, at: int, old: Any, new: Any) -> None:
    """Add x, (2, n) float32, to bus, (2, n), through a 2x2 gain matrix and a delay, from old to new over n samples.

    line: (2, size) ring that holds x, written from index ``at``. old, new: (PLACE,). A change of delay is crossfaded.
    """
    n = x.shape[1]
    size = line.shape[1]
    same = True
    for j in range(5):
        if old[j] != new[j]:
            same = False
    p = at % size
    for i in range(n):
        line[0, p] = x[0, i]
        line[1, p] = x[1, i]
        p += 1
        if p == size:
            p = 0
    d0, d1 = int(old[4]), int(new[4])
    if same:
        ll, lr, rl, rr = new[0], new[1], new[2], new[3]
        if d1 == 0:
            for i in range(n):
                l, r = float(x[0, i]), float(x[1, i])
                bus[0, i] += ll * l + lr * r
                bus[1, i] += rl * l + rr * r
        else:
            p = (at - d1) % size
            for i in range(n):
                l, r = line[0, p], line[1, p]
                bus[0, i] += ll * l + lr * r
                bus[1, i] += rl * l + rr * r
                p += 1
                if p == size:
                    p = 0
        return
    for i in range(n):
        t = (i + 1) / n
        p1 = (at + i - d1) % size
        l, r = line[0, p1], line[1, p1]
        if d0 != d1:
            p0 = (at + i - d0) % size
            l = t * l + (1.0 - t) * line[0, p0]
            r = t * r + (1.0 - t) * line[1, p0]
        bus[0, i] += (old[0] + t * (new[0] - old[0])) * l + (old[1] + t * (new[1] - old[1])) * r
        bus[1, i] += (old[2] + t * (new[2] - old[2])) * l + (old[3] + t * (new[3] - old[3])) * r


@kernel("void(f4[:,::1], i8, f8[:,::1], f8[::1])")
def place_part(x: Any, start: int, bus: Any, at: Any) -> None:
    """Add x, (2, whole) float32, to a part of its bus, (2, n), from sample ``start`` on, with a constant placement
    (PLACE,).
    """
    late = int(at[4])
    ll, lr, rl, rr = at[0], at[1], at[2], at[3]
    for i in range(max(0, late - start), bus.shape[1]):
        l, r = float(x[0, start + i - late]), float(x[1, start + i - late])
        bus[0, i] += ll * l + lr * r
        bus[1, i] += rl * l + rr * r


@kernel("void(f8[:,::1], i8, i8, f8[::1])")
def meter(x: Any, a: int, b: int, acc: Any) -> None:
    """Add samples a..b of x, (channels, n), to a meter. acc: peak, sum of squares per channel, samples."""
    p0, p1, p2, p3 = acc[0], acc[0], acc[0], acc[0]
    # four sums and peaks in parallel: a single one would wait for every addition
    s0, s1, s2, s3 = 0.0, 0.0, 0.0, 0.0
    for c in range(x.shape[0]):
        own = x[c, a:b]
        whole = own.size // 4 * 4
        for i in range(0, whole, 4):
            v0, v1, v2, v3 = own[i], own[i + 1], own[i + 2], own[i + 3]
            s0 += v0 * v0
            s1 += v1 * v1
            s2 += v2 * v2
            s3 += v3 * v3
            p0, p1, p2, p3 = max(p0, abs(v0)), max(p1, abs(v1)), max(p2, abs(v2)), max(p3, abs(v3))
        for i in range(whole, own.size):
            s0 += own[i] * own[i]
            p0 = max(p0, abs(own[i]))
    acc[0] = max(max(p0, p1), max(p2, p3))
    acc[1] += ((s0 + s1) + (s2 + s3)) / x.shape[0]
    acc[2] += b - a


@kernel("void(f8[:,::1], i8, i8, f8[::1], f8, f8[:,::1])")
def apply_level(x: Any, a: int, b: int, gain: Any, share: float, out: Any) -> None:
    """Add x times gain (n,) times share to out, samples a..b. x has one or two channels, out has two."""
    if x.shape[0] == 1:
        for i in range(a, b):
            v = x[0, i] * (gain[i] * share)
            out[0, i] += v
            out[1, i] += v
    else:
        for i in range(a, b):
            out[0, i] += x[0, i] * (gain[i] * share)
            out[1, i] += x[1, i] * (gain[i] * share)


@kernel("void(f8[:,::1], f8, f8)")
def ramp_gain(x: Any, old: float, new: float) -> None:
    """Multiply x, (channels, n), by a gain that ramps from old to new."""
    n = x.shape[1]
    if old == new:
        if new == 1.0:
            return
        for c in range(x.shape[0]):
            for i in range(n):
                x[c, i] *= new
        return
    for c in range(x.shape[0]):
        for i in range(n):
            x[c, i] *= old + (new - old) * (i + 1) / n


@kernel("void(f8[:,::1], f8[:,::1])")
def to_mid_side(x: Any, side: Any) -> None:
    """Move the side of x, (2, n), to side, (1, n). x becomes mid in both channels."""
    for i in range(x.shape[1]):
        m = 0.5 * (x[0, i] + x[1, i])
        side[0, i] = 0.5 * (x[0, i] - x[1, i])
        x[0, i] = m
        x[1, i] = m


@kernel("void(f8[:,::1], f8[:,::1])")
def from_mid_side(x: Any, side: Any) -> None:
    """Add side, (1, n), back to the mid in x, (2, n)."""
    for i in range(x.shape[1]):
        x[0, i] += side[0, i]
        x[1, i] -= side[0, i]


@kernel("void(f8[::1], f8[::1], f8, f8[::1], f8, f8, f8, f8)")
def moved_by(
    out: Any, rest: Any, shift: float, mover: Any, amount: float, base: float, low: float, high: float
) -> None:
    """Write rest + shift + base + amount * mover, clipped to low..high, to out; all (n,)."""
    for i in range(out.size):
        out[i] = min(max(rest[i] + shift + base + amount * mover[i], low), high)


@kernel("void(f8[::1], f8[::1])")
def furthest(x: Any, out: Any) -> None:
    """Write the extreme of each of as many equal parts of x, (n,), as out, (parts,), has elements."""
    wide = x.size // out.size
    for p in range(out.size):
        best = 0.0
        for i in range(p * wide, (p + 1) * wide):
            if abs(x[i]) > abs(best):
                best = x[i]
        out[p] = best
