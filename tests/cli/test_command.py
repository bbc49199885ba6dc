"""The command: its contract from outside, in a process of its own where that makes a difference."""

import contextlib
import io
import json
import os
import signal
import subprocess
import sys
import urllib.request
from pathlib import Path
from types import SimpleNamespace

import numpy as np
import pytest
import soundfile as sf

from kessel.cli import main
from kessel.demo import demo_patches
from kessel.formats import read_patch
from kessel.patch import Patch

from ..making import tone

SOURCE = str(Path(__file__).parents[2] / "src")


def apart(*words, ok=(0,)):
    """A process of its own."""
    run = subprocess.run(
        [sys.executable, "-m", "kessel", *map(str, words)],
        capture_output=True,
        text=True,
        env=os.environ | {"PYTHONPATH": SOURCE},
    )
    assert run.returncode in ok, run.stderr[-400:]
    assert "Traceback" not in run.stderr
    return run


def kessel(*words, ok=(0,)):
    """The same words without a process of their own."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        try:
            status = main([str(word) for word in words])
        except SystemExit as end:
            status = end.code
    assert status in ok, err.getvalue()[-400:]
    return SimpleNamespace(stdout=out.getvalue(), stderr=err.getvalue())


def test_list_and_schema():
    lines = apart("list").stdout.splitlines()
    assert [line.split()[0] for line in lines] == list(demo_patches())
    assert json.loads(kessel("schema").stdout) == json.loads(json.dumps(Patch.model_json_schema()))


def test_render_the_loop_a_layer_bars_and_mono(tmp_path):
    kessel("render", "salt-press", tmp_path / "a.wav")
    x, rate = sf.read(tmp_path / "a.wav", always_2d=True)
    assert sf.info(tmp_path / "a.wav").subtype == "FLOAT" and rate == 48000
    assert x.shape == (round(8 * 60 * 48000 / 126), 2)
    kessel("render", "salt-press", tmp_path / "m.wav", "--mono", "--bars", 3)
    m, _ = sf.read(tmp_path / "m.wav", always_2d=True)
    assert np.array_equal(m[:, 0], m[:, 1]) and m.shape[0] == round(12 * 60 * 48000 / 126)
    assert m[: x.shape[0], 0] == pytest.approx(x.mean(axis=1), abs=1e-7)
    kessel("render", "salt-press", tmp_path / "s.wav", "--layer", "sub", "--bars", 1, "--room", "flat")
    assert 0.05 < np.abs(sf.read(tmp_path / "s.wav")[0]).max() < 1


def test_check_says_what_fails_and_writes_the_cure(tmp_path):
    run = apart("check", "undertow", "--json", "--apply-fixes", tmp_path / "fixed.json", ok=(1,))
    assert [f["check"] for f in json.loads(run.stdout)["findings"] if f["verdict"] == "fails"] == ["layers-add-up"]
    assert read_patch(tmp_path / "fixed.json") != demo_patches()["undertow"]
    assert "fails" not in kessel("check", tmp_path / "fixed.json").stdout


def test_measure_and_align_speak_to_people_too(tmp_path):
    sf.write(tmp_path / "a.wav", np.stack([tone(55, -6, 3)] * 2, axis=1), 48000)
    assert "loudness_lufs" in kessel("measure", tmp_path / "a.wav").stdout
    found = json.loads(
        kessel("align", tmp_path / "a.wav", tmp_path / "a.wav", "--low", 40, "--high", 90, "--json").stdout
    )
    assert found["sum_loss_db"] == pytest.approx(0.0, abs=0.01) and found["lag_ms"] == pytest.approx(0.0, abs=0.01)
    assert "sum_loss_db" in kessel("align", tmp_path / "a.wav", tmp_path / "a.wav", "--low", 40, "--high", 90).stdout


@pytest.mark.parametrize(
    "words",
    [
        [],
        ["sing"],
        ["render"],
        ["render", "no-such-patch", "o.wav"],
        ["render", "undertow", "/proc/none/o.wav"],
        ["render", "undertow", "o.wav", "--layer", "none"],
        ["render", "undertow", "o.wav", "--bars", "0"],
        ["render", "undertow", "o.wav", "--bars", "x"],
        ["render", "undertow", "o.wav", "--room", "attic"],
        ["check", "nothing.json"],
        ["check", "undertow", "--apply-fixes", "/proc/none/o.json"],
        ["measure", "nothing.wav", "--json"],
        ["align", "a", "b", "--low", "300", "--high", "60"],
        ["align", "a", "b", "--low", "nan", "--high", "60"],
        ["bench", "--seconds", "-1"],
        ["bench", "--rounds", "0"],
        ["demo", "--port", "99999"],
    ],
)
def test_bad_input_is_one_line_and_status_2(words, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    run = kessel(*words, ok=(2,))
    assert 0 < len(run.stderr.strip().splitlines()) <= 3
    assert not Path("o.wav").exists()


def test_a_process_ends_with_the_status_and_without_a_traceback(tmp_path):
    assert apart("sing", ok=(2,)).stderr.startswith("kessel: ")
    assert apart("measure", tmp_path / "nothing.wav", ok=(2,)).stderr.startswith("kessel measure: ")


@pytest.mark.parametrize(
    "word", ["demo", "serve", "restore-demo", "list", "render", "measure", "align", "check", "schema", "bench"]
)
def test_every_command_has_help(word):
    assert "usage" in kessel(word, "--help").stdout


def test_bench_tells_its_figures():
    found = json.loads(apart("bench", "--json", "--seconds", "1", "--rounds", "1").stdout)
    names = {
        "cold_units",
        "cold_realtime",
        "clean_edit_units",
        "worked_edit_units",
        "output_edit_units",
        "live_p99_percent",
    }
    assert names <= found.keys() and all(found[n] > 0 for n in names)


def test_demo_serves_and_keeps_and_is_restored(tmp_path):
    words = [sys.executable, "-m", "kessel", "demo", "--port", "0", "--data", str(tmp_path)]
    for _ in range(2):
        server = subprocess.Popen(words, stdout=subprocess.PIPE, text=True, env=os.environ | {"PYTHONPATH": SOURCE})
        address = server.stdout.readline().split()[3]
        with urllib.request.urlopen(f"{address}healthz") as answer:
            assert answer.read() == b"ok\n"
        with urllib.request.urlopen(f"{address}library") as answer:
            assert answer.read().decode().count('class="patch"') == len(demo_patches())
        server.send_signal(signal.SIGTERM)
        server.wait(timeout=30)
    assert "as it was shipped" in kessel("restore-demo", "--data", tmp_path).stdout
    (tmp_path / "blocked").write_text("x")
    kessel("demo", "--port", "0", "--data", tmp_path / "blocked" / "x", ok=(2,))


def test_check_of_a_whole_set():
    run = apart("check", "--set", "demo", ok=(1,))
    lines = run.stdout.splitlines()
    assert len(lines) == len(demo_patches()) and run.stderr.count("checking") == len(lines)
    verdicts = {line[:13].strip(): line[13:].split()[0] for line in lines}
    assert verdicts["Undertow"] == verdicts["Slack Water"] == "fails" and verdicts["Mud Lantern"] == "holds"
    for words in (("check",), ("check", "undertow", "--set", "demo"), ("check", "--set", "No such")):
        assert kessel(*words, ok=(2,)).stderr.startswith("kessel check: ")


def test_render_through_a_room(tmp_path):
    for room in ("flat", "phone"):
        kessel("render", "salt-press", tmp_path / f"{room}.wav", "--room", room)
    flat, phone = (sf.read(tmp_path / f"{r}.wav", always_2d=True)[0] for r in ("flat", "phone"))
    assert flat.shape == phone.shape
    # a phone is mono and has no lows
    assert np.array_equal(phone[:, 0], phone[:, 1])
    power = [np.abs(np.fft.rfft(x[:, 0])) ** 2 for x in (flat, phone)]
    low = slice(0, round(100 * flat.shape[0] / 48000))
    assert power[1][low].sum() < 1e-3 * power[0][low].sum()
    kessel("render", "salt-press", tmp_path / "x.wav", "--room", "Main floor")
    assert "headphones" in kessel("render", "salt-press", tmp_path / "x.wav", "--room", "cave", ok=(2,)).stderr
