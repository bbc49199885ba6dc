"""Kernels that take their arguments on trust give the same bits as those that check them."""

import os
import subprocess
import sys

import numpy as np
import pytest

from kessel.dsp.sources.modulation import sources_in_order

SUMS = """
import hashlib
from kessel.demo import demo_patch
from kessel.dsp import jit
from kessel.engine import Engine
print(jit.CHECKED)
for slug in ("sluice-gate", "mud-lantern"):
    engine = Engine(demo_patch(slug))
    print(hashlib.sha256(b"".join(engine.quantum().tobytes() for _ in range(12))).hexdigest())
"""


def sums(checked):
    environment = os.environ | {"KESSEL_CHECKED": checked, "PYTHONPATH": os.pathsep.join(sys.path)}
    done = subprocess.run([sys.executable, "-c", SUMS], env=environment, capture_output=True, text=True, check=True)
    first, *rest = done.stdout.split()
    assert first == str(checked == "1") and len(set(rest)) == 2
    return rest


def test_trusted_kernels_give_the_same_bits():
    assert sums("0") == sums("1")


def test_the_tests_check_every_call_of_a_kernel():
    with pytest.raises(TypeError):
        sources_in_order(*[np.zeros((2, 64), dtype=np.int64)] * 10)
