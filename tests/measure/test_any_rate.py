"""Files are measured at their own rate: the same tones give the same figures at any of them."""

import json

import numpy as np
import pytest
import soundfile

from kessel.cli import main
from kessel.measure import loudness, measure
from kessel.measure.loudness import _K_WEIGHT, k_weight

RATES = [44100, 48000, 88200, 96000, 192000]


def tones(rate, seconds=6.0):
    t = np.arange(round(seconds * rate)) / rate
    left = 0.3 * np.sin(2 * np.pi * 55.0 * t) + 0.05 * np.sin(2 * np.pi * 997.0 * t)
    return np.stack([left, 0.3 * np.sin(2 * np.pi * 55.0 * t) - 0.05 * np.sin(2 * np.pi * 997.0 * t)])


def test_the_analog_filters_are_those_behind_the_printed_coefficients():
    """At 48.001 kHz they may differ from the printed ones only by the rate."""
    assert k_weight(48000) is _K_WEIGHT
    assert k_weight(48001) == pytest.approx(_K_WEIGHT, abs=2e-4)


@pytest.mark.parametrize("rate", RATES)
def test_a_997_hz_sine_of_minus_20_is_minus_20_3(rate):
    """EBU Tech 3341, case 1 at another level: a stereo sine at -20 dBFS reads -20 LUFS within a tenth."""
    t = np.arange(20 * rate) / rate
    x = 0.1 * np.sin(2 * np.pi * 997.0 * t)
    assert loudness(np.stack([x, x]), rate).integrated == pytest.approx(-20.0, abs=0.1)


@pytest.mark.parametrize("rate", RATES)
def test_every_figure_is_that_at_48_khz(rate):
    found, want = measure(tones(rate), rate=rate).plain(), measure(tones(48000)).plain()
    for name, slack in (("loudness_lufs", 0.05), ("true_peak_dbtp", 0.05), ("crest_db", 0.05), ("mono_loss_db", 0.01)):
        assert found[name] == pytest.approx(want[name], abs=slack)
    for a, b in zip(found["bands"], want["bands"], strict=True):
        if b["level_db"] is not None and b["level_db"] > -60.0:
            assert a["level_db"] == pytest.approx(b["level_db"], abs=0.05)


def test_what_lies_above_24_khz_counts_in_the_peak(tmp_path, capsys):
    """A 96 kHz file whose peak is made by 30 kHz, which bringing it to 48 kHz would take away."""
    t = np.arange(2 * 96000) / 96000
    x = 0.3 * np.sin(2 * np.pi * 100.0 * t) + 0.5 * np.sin(2 * np.pi * 30000.0 * t)
    soundfile.write(tmp_path / "high.wav", x, 96000, "FLOAT")
    assert main(["measure", str(tmp_path / "high.wav"), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["true_peak_dbtp"] == pytest.approx(20 * np.log10(0.8), abs=0.05)
    assert found["channels"] == 1 and found["seconds"] == pytest.approx(2.0)


@pytest.mark.parametrize("rate", [8000, 22050, 44100])
def test_a_file_of_a_low_rate_reads_as_at_48_khz(rate, tmp_path, capsys):
    soundfile.write(tmp_path / "low.wav", tones(rate).T, rate, "FLOAT")
    assert main(["measure", str(tmp_path / "low.wav"), "--json"]) == 0
    found, want = json.loads(capsys.readouterr().out), measure(tones(48000)).plain()
    for name in ("loudness_lufs", "true_peak_dbtp", "mono_loss_db"):
        assert found[name] == pytest.approx(want[name], abs=0.05)
