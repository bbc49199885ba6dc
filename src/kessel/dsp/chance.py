"""Random values without a generator.

Every random value is a hash of what it belongs to (patch seed, layer, note, purpose), so that the same patch gives the
same sound, whatever was rendered before.
"""

from __future__ import annotations

import hashlib

TWO_64 = 18446744073709551616.0


def key(*words: object) -> int:
    """A 64-bit hash of the words, the same on every machine."""
    text = "\x1f".join(str(w) for w in words)
    return int.from_bytes(hashlib.blake2b(text.encode(), digest_size=8).digest(), "big")


def share(*words: object) -> float:
    """A uniform random value in 0..1, from the words."""
    return key(*words) / TWO_64


def sign(*words: object) -> float:
    """A uniform random value in -1..1, from the words."""
    return 2.0 * share(*words) - 1.0
