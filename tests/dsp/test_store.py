"""What is kept is bounded in bytes, the least used goes first, and nothing in use is made twice."""

import gc

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kessel.dsp.store import Store, remembered, weight

KB = 1024


def block(kilobytes):
    return np.zeros(kilobytes * KB, dtype=np.uint8)


@given(st.lists(st.tuples(st.integers(0, 12), st.integers(1, 70)), max_size=60))
@settings(max_examples=60, deadline=None)
def test_the_bound_holds_whatever_is_asked_for(asked):
    store = Store(64 / KB)
    sizes = {}
    for key, size in asked:
        size = sizes.setdefault(key, size)
        assert store.get(key, lambda size=size: block(size)).nbytes == size * KB
        assert store.held <= store.room


def test_the_least_used_is_made_again_and_the_rest_is_not():
    made = []
    store = Store(64 / KB)

    def ask(key):
        store.get(key, lambda: made.append(key) or (block(20),))

    for key in "abc" + "a" + "d":
        ask(key)
    for key in "acd":
        ask(key)
    assert made == list("abcd")
    ask("b")
    assert made == list("abcdb")


def test_what_somebody_has_is_found_again_though_there_is_no_room():
    store = Store(64 / KB)
    large = store.get("large", lambda: block(100))
    assert store.held == 0
    assert store.get("large", lambda: block(1)) is large
    del large
    gc.collect()
    assert store.get("large", lambda: block(1)).nbytes == KB


def test_what_a_block_uses_stays_until_the_block_after_the_next():
    store = Store(64 / KB)
    made = []

    def ask(key):
        store.get(key, lambda: made.append(key) or (block(50),))

    for _ in range(2):
        with store.holding():
            for key in "abcd":
                ask(key)
    assert made == list("abcd")
    for keys in "ef":
        with store.holding():
            for key in keys:
                ask(key)
    assert store.held <= 3 * 51 * KB


def test_nothing_and_what_is_named_are_not_kept():
    store, made = Store(1), []
    for _ in range(2):
        assert store.get("none", lambda: made.append(1)) is None
    assert len(made) == 2
    mine = store.get(("recording", "x"), lambda: block(1))
    store.forget(lambda key: key[0] == "recording")
    assert store.get(("recording", "x"), lambda: block(1)) is not mine


def test_weights_and_words(tmp_path):
    path = tmp_path / "x"
    path.write_bytes(bytes(100 * KB))
    assert weight(np.memmap(path)) < KB
    assert 30 * KB <= weight({"a": (block(10), [block(20)])}) < 31 * KB
    calls = []

    @remembered
    def doubled(x, more=0):
        calls.append((x, more))
        return np.full(4, 2 * x + more)

    assert doubled(3) is doubled(3) and doubled(3, more=1)[0] == 7 and doubled(4)[0] == 8
    assert calls == [(3, 0), (3, 1), (4, 0)]
