"""Limits of a set: how they are written, typed and held to their own limits."""

import pytest

from kessel.checks import Limits
from kessel.desk.editing.limits import changed_limit, limit_title, limit_words
from kessel.patch import ValueProblem


def ends_of(name):
    info = Limits.model_fields[name]
    return tuple(next(getattr(m, w) for m in info.metadata if hasattr(m, w)) for w in ("ge", "le"))


@pytest.mark.parametrize(
    ("name", "text", "value", "words"),
    [
        ("sum_loss_db", "-2.5 dB", -2.5, "−2.5 dB"),
        ("low_hz", "100 Hz", 100.0, "100 Hz"),
        ("low_hz", "A2", 110.0, "110 Hz"),
        ("loud_lufs", "-9 LUFS", -9.0, "−9 LUFS"),
        ("peak_dbtp", "-0.5 dBTP", -0.5, "−0.5 dB"),
        ("clip_dbfs", "3 dBFS", 3.0, "3.0 dB"),
        ("flat_share", "60 %", 0.6, "60 %"),
    ],
)
def test_a_limit_is_typed_and_written(name, text, value, words):
    changed = changed_limit(Limits(), name, text)
    assert getattr(changed, name) == pytest.approx(value) and limit_words(changed, name) == words
    assert changed.model_dump() | {name: 0} == Limits().model_dump() | {name: 0}


@pytest.mark.parametrize("name", Limits.model_fields)
def test_a_limit_takes_its_ends_and_nothing_beyond(name):
    scale = 100.0 if name.endswith("_share") else 1.0
    low, high = ends_of(name)
    for end in (low, high):
        if (name.endswith("_lufs") and end == 0) or (name in ("soft_lufs", "loud_lufs")):
            continue
        assert getattr(changed_limit(Limits(), name, f"{scale * end:g}"), name) == pytest.approx(end)
    for past in (low - 0.5, high + 0.5):
        with pytest.raises(ValueProblem, match=f"{limit_title(name)} goes from"):
            changed_limit(Limits(), name, f"{scale * past:g}")


def test_no_such_limit():
    with pytest.raises(ValueProblem, match="no such limit"):
        changed_limit(Limits(), "anything", "1")
