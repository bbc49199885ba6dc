"""Compiled loops are kept by what the code says: checkouts of one version share them, and a change compiles anew."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

import kessel

PROGRAM = """
from kessel.dsp import mid_side, jit
made = [m for m in jit._MADE if m.py_func.__module__ == mid_side.__name__]
print(sum(sum(m.stats.cache_hits.values()) for m in made), sum(sum(m.stats.cache_misses.values()) for m in made))
"""


def loaded_and_compiled(checkout, cache):
    """How many loops of a small module a checkout finds compiled, and how many it compiles."""
    run = subprocess.run(
        [sys.executable, "-c", PROGRAM],
        env=os.environ | {"PYTHONPATH": str(checkout), "KESSEL_COMPILED": str(cache)},
        capture_output=True,
        text=True,
        check=True,
    )
    return tuple(map(int, run.stdout.split()))


def test_checkouts_of_one_version_share_them_and_any_change_compiles_anew(tmp_path):
    one, two, cache = tmp_path / "one", tmp_path / "elsewhere" / "two", tmp_path / "cache"
    for checkout in (one, two):
        shutil.copytree(Path(kessel.__file__).parent / "dsp", checkout / "kessel" / "dsp")
        (checkout / "kessel" / "__init__.py").touch()
    hits, misses = loaded_and_compiled(one, cache)
    assert hits == 0 and misses > 0
    assert loaded_and_compiled(two, cache) == (misses, 0)
    # a loop contains what it calls
    with (two / "kessel" / "dsp" / "chance.py").open("a") as file:
        file.write("# changed\n")
    assert loaded_and_compiled(two, cache) == (0, misses)
    assert loaded_and_compiled(one, cache) == (misses, 0)
