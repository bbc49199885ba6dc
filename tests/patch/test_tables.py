"""Tables of units, tapers and limits, written out and not derived from the code."""

import math

import pytest

from kessel.patch import SILENT_DB, Control, ValueProblem, read, write
from kessel.patch.controls import declared
from kessel.patch.effects import Compressor, Distortion, Filter

READ = [
    ("120", "Hz", 120.0), ("120 Hz", "Hz", 120.0), ("2.4k", "Hz", 2400.0), ("2.4 kHz", "Hz", 2400.0), ("A4", "Hz", 440.0),
    ("-12", "dB", -12.0), ("-12 dB", "dB", -12.0), ("off", "dB", SILENT_DB), ("-inf", "dB", SILENT_DB),
    ("240", "ms", 240.0), ("240 ms", "ms", 240.0), ("0.3 s", "ms", 300.0),
    ("3", "beats", 3.0), ("1 beat", "beats", 1.0), ("2 beats", "beats", 2.0), ("1 bar", "beats", 4.0),
    ("2 bars", "beats", 8.0), ("1/4", "beats", 1.0), ("1/8t", "beats", 1.0 / 3.0), ("1/8.", "beats", 0.75),
    ("7", "st", 7.0), ("-7 st", "st", -7.0), ("2 oct", "st", 24.0),
    ("14", "ct", 14.0), ("14 ct", "ct", 14.0), ("1 st", "ct", 100.0),
    ("90", "deg", 90.0), ("90 deg", "deg", 90.0), ("90°", "deg", 90.0),
    ("62", "%", 62.0), ("62 %", "%", 62.0),
    ("2.5", "oct", 2.5), ("2.5 oct", "oct", 2.5), ("6 st", "oct", 0.5),
    ("132", "BPM", 132.0), ("132 bpm", "BPM", 132.0),
    ("7", "count", 7.0), ("7x", "count", 7.0),
    ("2", "bars", 2.0), ("1 bar", "bars", 1.0), ("2 bars", "bars", 2.0),
    ("1.4", "Q", 1.4), ("1.4 q", "Q", 1.4),
    ("1.5", "x", 1.5), ("1.5x", "x", 1.5), ("1.5 ×", "x", 1.5), ("3/2", "x", 1.5),
    ("−6 dB", "dB", -6.0), ("1,5", "Q", 1.5),
]  # fmt: skip
WRITTEN = [
    (43.654, "Hz", "43.7 Hz"), (999.4, "Hz", "999 Hz"), (999.6, "Hz", "1 kHz"), (2400.0, "Hz", "2.4 kHz"),
    (-12.04, "dB", "−12.0 dB"), (-0.04, "dB", "0.0 dB"), (SILENT_DB, "dB", "off"),
    (240.0, "ms", "240 ms"), (1500.0, "ms", "1.5 s"), (0.0, "ms", "0 ms"),
    (1.0, "beats", "1/4"), (0.75, "beats", "1/8."), (1.0 / 3.0, "beats", "1/8t"), (4.0, "beats", "1 bar"),
    (8.0, "beats", "2 bars"), (3.3, "beats", "3.3 beats"),
    (-7.0, "st", "−7 st"), (14.25, "ct", "14.2 ct"), (123.4, "deg", "123.4°"), (62.0, "%", "62 %"),
    (2.5, "oct", "2.5 oct"), (132.0, "BPM", "132.0 BPM"), (7.0, "count", "7"), (1.0, "bars", "1 bar"),
    (3.0, "bars", "3 bars"), (1.414, "Q", "Q 1.41"), (1.5, "x", "×1.5"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "unit", "value"), READ)
def test_every_suffix_of_every_unit_is_read(text, unit, value):
    assert read(text, unit) == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(("value", "unit", "text"), WRITTEN)
def test_every_unit_is_written(value, unit, text):
    assert write(value, unit) == text


@pytest.mark.parametrize(
    "unit", ["Hz", "dB", "ms", "beats", "st", "ct", "deg", "%", "oct", "BPM", "count", "bars", "Q", "x"]
)
def test_every_unit_refuses_words_with_an_example_that_it_reads(unit):
    with pytest.raises(ValueProblem, match="type for example") as problem:
        read("loud", unit)
    for example in str(problem.value).partition("type for example ")[2].replace(" or ", ", ").split(", "):
        assert math.isfinite(read(example, unit))


def made(taper, low, high, **more):
    own = {"name": "C", "unit": "Hz", "default": low, "step": 0.1, "whole": False, "moves": True, "help": ""}
    return Control(low=low, high=high, taper=taper, off_low="", off_high="", **(own | more))


@pytest.mark.parametrize(
    ("taper", "low", "high", "places"),
    [
        ("linear", -12.0, 12.0, [(0.0, -12.0), (0.25, -6.0), (0.5, 0.0), (1.0, 12.0)]),
        ("log", 20.0, 20480.0, [(0.0, 20.0), (0.1, 40.0), (0.5, 640.0), (0.9, 10240.0), (1.0, 20480.0)]),
        ("ease", 0.0, 100.0, [(0.0, 0.0), (0.1, 1.0), (0.5, 25.0), (1.0, 100.0)]),
    ],
)
def test_tapers(taper, low, high, places):
    control = made(taper, low, high)
    for place, value in places:
        assert control.at(place) == pytest.approx(value)
        assert control.position(value) == pytest.approx(place)
    assert (control.at(-1.0), control.at(2.0)) == (low, high)


@pytest.mark.parametrize(
    ("taper", "value", "steps", "wanted"),
    [
        ("linear", 0.0, 1, 1.0), ("linear", 0.0, 0.1, 0.1), ("linear", 0.0, -3, -3.0), ("linear", 11.5, 5, 12.0),
        ("log", 440.0, 12, 880.0), ("log", 440.0, -12, 220.0), ("log", 440.0, 1, 466.2), ("log", 440.0, 0.1, 442.5),
    ],
)  # fmt: skip
def test_arrow_steps(taper, value, steps, wanted):
    control = made(taper, *((-12.0, 12.0) if taper == "linear" else (20.0, 20000.0)))
    assert control.nudged(value, steps) == pytest.approx(wanted, abs=0.01)


def test_whole_numbers_step_by_one():
    control = made("linear", 1, 16, whole=True, step=1)
    assert [control.nudged(4, s) for s in (1, 0.1, -1, -0.1, 100)] == [5, 5, 3, 3, 16]
    with pytest.raises(ValueProblem, match="whole numbers"):
        control.read("4.5")


@pytest.mark.parametrize(
    ("part", "field", "inside", "outside"),
    [
        (Filter, "cutoff", ["20", "20k"], ["19.9", "20.1k", "-20"]),
        (Distortion, "drive", ["0", "48"], ["-0.1", "48.1"]),
        (Compressor, "look_ahead", ["0", "10"], ["-0.1", "10.1"]),
    ],
)
def test_typed_values_at_and_past_the_limits(part, field, inside, outside):
    control = declared(part, field)
    for text in inside:
        assert control.low <= control.read(text) <= control.high
    for text in outside:
        with pytest.raises(ValueProblem, match="goes from"):
            control.read(text)


def test_every_control_takes_its_limits_and_nothing_beyond():
    for part in (Filter, Distortion, Compressor):
        for field in part.model_fields:
            control = declared(part, field)
            if isinstance(control, Control):
                assert control.read(str(control.low)) == control.low, field
                assert control.read(str(control.high)) == control.high, field
                for past in (control.low - 1.0, control.high + 1.0):
                    with pytest.raises(ValueProblem):
                        control.read(f"{past:g}")
