"""Units: what a person types and what is shown."""

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kessel.patch import BranchPath, Layer, LevelEnvelope, Send, ValueProblem, declared, pitch_hz, pitch_of, read, write


@pytest.mark.parametrize(
    ("text", "unit", "value"),
    [
        ("120 Hz", "Hz", 120.0),
        ("2.4k", "Hz", 2400.0),
        ("2,4 kHz", "Hz", 2400.0),
        ("A4", "Hz", 440.0),
        ("F#1", "Hz", 46.2493),
        ("Eb2", "Hz", 77.7817),
        ("-12dB", "dB", -12.0),
        ("−12", "dB", -12.0),
        ("off", "dB", -72.0),
        ("0.3 s", "ms", 300.0),
        ("1/8", "beats", 0.5),
        ("1/4t", "beats", 2 / 3),
        ("1/8.", "beats", 0.75),
        ("2 bars", "beats", 8.0),
        ("90°", "deg", 90.0),
        ("62 %", "%", 62.0),
        ("1 oct", "st", 12.0),
    ],
)
def test_reads_what_producers_type(text, unit, value):
    assert read(text, unit) == pytest.approx(value, rel=1e-5)


@pytest.mark.parametrize("text", ["", "loud", "12 Hz", "1e999", "nan", "inf", "--3", "3 dB dB", "1/0"])
def test_refuses_nonsense_with_an_example(text):
    with pytest.raises(ValueProblem, match="type for example"):
        read(text, "dB")


@pytest.mark.parametrize("text", ["1/0", "a beat", "H2"])
def test_refuses_nonsense_beats(text):
    with pytest.raises(ValueProblem):
        read(text, "beats")


@given(st.floats(-60, 24))
def test_what_is_shown_in_db_reads_back(value):
    assert read(write(value, "dB"), "dB") == pytest.approx(value, abs=0.051)


@given(st.floats(20, 20000))
def test_what_is_shown_in_hz_reads_back(value):
    assert read(write(value, "Hz"), "Hz") == pytest.approx(value, rel=0.006)


@pytest.mark.parametrize("value", [0.125, 0.5, 1, 4, 8, 2 / 3, 0.75, 32])
def test_note_values_read_back(value):
    assert read(write(value, "beats"), "beats") == pytest.approx(value)


def test_shown_numbers_have_a_true_minus_and_never_a_minus_zero():
    assert write(-12.34, "dB") == "−12.3 dB"
    assert write(-0.04, "dB") == "0.0 dB"
    assert write(1234.0, "Hz") == "1.23 kHz"


@given(st.integers(0, 127))
def test_equal_temperament(pitch):
    assert math.isclose(pitch_hz(pitch + 12), 2 * pitch_hz(pitch))
    assert pitch_hz(69) == 440.0


def test_note_names():
    assert (pitch_of("C4"), pitch_of("c-1"), pitch_of("Bb1"), pitch_of("H1")) == (60, 0, 34, None)


@pytest.mark.parametrize(
    ("position", "level"), [(0.0, -72.0), (0.1, -40.0), (0.25, -20.0), (0.5, -10.0), (0.75, 0.0), (1.0, 12.0)]
)
def test_a_fader_has_its_law(position, level):
    fader = declared(Layer, "level")
    assert fader.at(position) == level and fader.position(level) == pytest.approx(position)


@pytest.mark.parametrize(
    "part, field", [(Layer, "level"), (LevelEnvelope, "sustain"), (Send, "level"), (BranchPath, "level")]
)
def test_a_fader_rises_smoothly_and_reads_back_what_it_shows(part, field):
    fader = declared(part, field)
    levels = [fader.at(n / 500.0) for n in range(501)]
    assert levels[0] == fader.low and levels[-1] == fader.high
    assert all(a <= b for a, b in pairwise(levels))
    fine = [fader.position(fader.low + n * (fader.high - fader.low) / 2000.0) for n in range(2001)]
    rises = [b - a for a, b in pairwise(fine)]
    # no corner: neighbouring slopes differ little
    assert min(rises) > 0 and max(abs(b - a) for a, b in pairwise(rises)) < 0.1 * max(rises)
    assert all(fader.at(fader.position(v)) == pytest.approx(v, abs=0.05) for v in levels)
