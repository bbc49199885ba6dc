"""Cure all: each step makes things better, and nothing else pays for it. Measured again on the rendering alone."""

import numpy as np
import pytest
import soxr

from kessel.checks import Evidence, check, cure_all
from kessel.demo import demo_patches
from kessel.engine import RenderCache, render_loop
from kessel.patch import Edit, apply

TAKES = RenderCache()
GATE = demo_patches()["sluice-gate"]
SUB = f"layers.sub.sources.{GATE.layers[0].sources[0].id}"
FAULTS = {
    "opposite": [Edit("layers.sub.polarity", "inverted")],
    "opposite and too hot": [
        Edit(f"{SUB}.phase", 150.0), Edit("output.ceiling.on", False), Edit("output.gain", 6.0)
    ],
    "late": [Edit("layers.sub.delay", 9.0)],
}  # fmt: skip


def failing(p):
    return sorted(f.check for f in check(Evidence(p, TAKES, seeks=False)) if f.verdict == "fails")


def fundamentals(p):
    """Level in dB of each note's lowest pitch in the rendered output, by a window over the whole note."""
    x = render_loop(p, TAKES).sum.astype(np.float64).mean(axis=0)
    found = []
    beat = 60.0 / p.tempo * 48000
    for n in p.phrase.notes:
        part = x[round(n.start * beat) : round((n.start + n.length) * beat)]
        hz = 440.0 * 2 ** ((n.pitch - 69) / 12)
        w = np.hanning(part.size)
        found.append(20 * np.log10(abs(np.sum(part * w * np.exp(-2j * np.pi * hz * np.arange(part.size) / 48000)))))
    return np.array(found)


@pytest.mark.parametrize("name", FAULTS)
def test_all_is_cured_and_the_lows_do_not_pay(name):
    p = apply(GATE, FAULTS[name])
    assert failing(p)
    cured = cure_all(p, takes=TAKES)
    assert cured.applied and failing(cured.patch) == []
    peak = np.abs(soxr.resample(render_loop(cured.patch, TAKES).sum.T, 48000, 384000, "VHQ")).max()
    assert 20 * np.log10(peak) <= -0.9
    lowered = sum(e.value - 0.0 for row in cured.applied for e in row.edits if e.path in ("output.trim", "output.gain"))
    assert (fundamentals(cured.patch) - fundamentals(p) > min(lowered, 0.0) - 0.5).all()
    # told with the figures before and after
    assert all(row.label and row.before is not None for row in cured.applied)


def test_a_step_is_the_best_of_the_worst_and_the_list_ends():
    p = apply(GATE, FAULTS["opposite and too hot"])
    checks = [row.check for row in cure_all(p, takes=TAKES).applied]
    assert checks[0] == "output-peak" and set(checks) == {"output-peak", "layers-add-up"}
    assert cure_all(cure_all(p, takes=TAKES).patch, takes=TAKES).applied == ()
