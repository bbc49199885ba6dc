"""A patch sounds as it did: bit for bit within one version, and across versions within a bound that is written down."""

import hashlib
import json
import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
import soundfile

from kessel.engine import render_loop
from kessel.formats import load_patch, read_patch
from kessel.patch import VERSION

KEPT = Path(__file__).parents[2] / "kept"
PATCHES = KEPT / "patches-1"
SOUND = KEPT / "sound-6"
CORRECTIONS = json.loads((KEPT / "corrections.json").read_text())
ALLOWED_DB = -90.0
SOURCE = str(Path(__file__).parents[3] / "src")

HASH = """
import hashlib, sys
from pathlib import Path
from kessel.engine import render_loop
from kessel.formats import read_patch
print(hashlib.sha256(render_loop(read_patch(Path(sys.argv[1]))).sum.tobytes()).hexdigest())
"""


def test_a_patch_renders_bit_for_bit_the_same_in_another_process():
    path = PATCHES / "sluice-gate.json"
    here = hashlib.sha256(render_loop(read_patch(path)).sum.tobytes()).hexdigest()
    done = subprocess.run(
        [sys.executable, "-c", HASH, str(path)], capture_output=True, text=True, env=os.environ | {"PYTHONPATH": SOURCE}
    )
    assert done.stdout.strip() == here, done.stderr[-300:]


@pytest.mark.parametrize("slug", sorted(p.stem for p in PATCHES.glob("*.json")))
def test_files_of_the_first_version_open_and_sound_as_they_did(slug):
    text = (PATCHES / f"{slug}.json").read_text(encoding="utf-8")
    assert json.loads(text)["version"] == 1
    patch = load_patch(text)
    assert patch.version == VERSION
    kept, rate = soundfile.read(SOUND / f"{slug}.flac", always_2d=True)
    assert rate == 48000
    now = render_loop(patch).sum.T[: kept.shape[0]]
    apart = 20 * np.log10(np.abs(now - kept).max() + 1e-12)
    assert apart < CORRECTIONS.get(slug, {}).get("allowed_db", ALLOWED_DB)
