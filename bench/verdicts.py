"""How true the verdicts are: python bench/verdicts.py [--sound N] [--faulty N] [--cured N] [--seed S]

Makes sound basses (the archetypes of the tests with other keys, tempos and levels) and faulty ones (a sound bass with one
fault of a known kind and a random size), checks them all, and cures some. A sound one that fails is a false alarm; a
faulty one is missed if no check of its kind fails or is worth a look. What Cure all leaves is measured on the rendered
sound alone: the level of the lows in stereo and mono, before and after. docs/checks.md has the last figures.
"""

import argparse
import random
import sys
import time
from collections import Counter
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).parents[1]))
sys.path.insert(0, str(Path(__file__).parents[1] / "src"))

from tests.checks.archetypes import ARCHETYPES, archetype
from tests.making import layer, note, oscillator, patch

from kessel.checks import Evidence, check, cure_all
from kessel.engine import RATE, render_loop
from kessel.patch import Edit, apply


def moved(p, chance):
    """The patch in another key, at another tempo, with other levels."""
    up = chance.randint(-3, 7)
    notes = [n.model_copy(update={"pitch": n.pitch + up}) for n in p.phrase.notes]
    edits = [Edit("tempo", round(p.tempo * chance.uniform(0.85, 1.15), 1))]
    edits += [Edit(f"layers.{x.id}.level", round(x.level + chance.uniform(-1.5, 1.0), 1)) for x in p.layers]
    return apply(p.model_copy(update={"phrase": p.phrase.model_copy(update={"notes": notes})}), edits)


def pair(chance, own=None, **words):
    key = chance.randint(28, 36)
    sub = layer("sub", level=-9.0, envelope={"attack": 2.0, "sustain": 0.0, "release": 10.0})
    body = sub | {"id": "body", "name": "Body", "level": chance.uniform(-12.0, -8.0), "sources": [own or oscillator()]}
    return patch(sub, body | words, notes=[note(key, 0, 1.9), note(key + chance.choice((2, 3, 5)), 2, 1.9)])


FAULTS = {
    "late": ({"layers-add-up"}, lambda r: pair(r, delay=round(r.uniform(7.0, 14.0), 2))),
    "turned over": ({"layers-add-up"}, lambda r: pair(r, oscillator(polarity="inverted"))),
    "out of step": ({"layers-add-up"}, lambda r: pair(r, oscillator(phase=r.uniform(120.0, 240.0)))),
    "detuned": ({"layers-add-up", "beats"}, lambda r: pair(r, oscillator(cents=r.uniform(18.0, 45.0)))),
    "offset": ({"layers-add-up", "beats"}, lambda r: pair(r, oscillator(offset=r.uniform(0.8, 4.0)))),
    "free": ({"repeatability"}, lambda r: pair(r, oscillator(start="free-running"))),
    "random": ({"repeatability"}, lambda r: pair(r, oscillator(start="random", random_range=r.uniform(60.0, 180.0)))),
    "close copies": (
        {"beats"},
        lambda r: patch(
            layer(
                "one", level=-9.0, sources=[oscillator("saw")],
                unison={"copies": r.randint(5, 16), "detune": r.uniform(5.0, 25.0), "width": 0.0, "phases": "even"},
            ),
            notes=[note(r.randint(28, 34), 0, 3.9)],
        ),
    ),
    "wide lows": (
        {"lows-in-mono"},
        lambda r: patch(
            layer(
                "one", level=-9.0, sources=[oscillator("saw")],
                unison={"copies": r.choice((3, 5, 7)), "detune": r.uniform(15.0, 30.0), "width": 100.0},
                width=200.0,
            ),
            notes=[note(r.randint(28, 36), 0, 3.9)],
        ),
    ),
    "no fundamental": (
        {"hollow", "fundamental-shut"},
        lambda r: patch(
            layer("one", level=-9.0, sources=[oscillator("saw")], range={"low": r.uniform(140.0, 220.0), "high": 20000}),
            notes=[note(r.randint(28, 33), 0, 3.9)],
        ),
    ),
    "too hot": ({"output-peak"}, lambda r: patch(layer("one", level=r.uniform(1.0, 8.0)), notes=[note(33, 0, 3.9)])),
    "buried": (
        {"masked"},
        lambda r: patch(
            layer("loud", level=-8.0, sources=[oscillator("saw")]),
            layer("under", level=r.uniform(-46.0, -38.0), sources=[oscillator("saw")]),
            notes=[note(r.randint(28, 36), 0, 3.9)],
        ),
    ),
}  # fmt: skip


def lows(p):
    """Levels in dB of a rendered patch below 120 Hz: in stereo, and of its middle."""
    x = render_loop(p).sum
    f = np.fft.rfft(x, axis=1)
    f[:, np.fft.rfftfreq(x.shape[1], 1 / RATE) > 120.0] = 0
    low = np.fft.irfft(f, x.shape[1], axis=1)
    powers = np.square(low).mean(), np.square(low.mean(axis=0)).mean()
    return np.array([10 * np.log10(max(p, 1e-14)) for p in powers])


def main():
    given = argparse.ArgumentParser()
    for name, count in (("sound", 60), ("faulty", 200), ("cured", 60), ("seed", 1)):
        given.add_argument(f"--{name}", type=int, default=count)
    words = given.parse_args()
    chance = random.Random(words.seed)
    alarms, missed, left, paid = [], Counter(), Counter(), []
    names = [(n, long) for n in ARCHETYPES for long in (True, False)]
    for i in range(words.sound):
        name, long = names[i % len(names)]
        found = check(Evidence(moved(archetype(name, long), chance), seeks=False))
        alarms += [f"{name}: {f.check}, {f.text}" for f in found if f.verdict == "fails"]
    print(f"{len(alarms)} false alarms in {words.sound} sound basses", *alarms, sep="\n  ")
    kinds = list(FAULTS)
    for i in range(words.faulty):
        kind = kinds[i % len(kinds)]
        wanted, make = FAULTS[kind]
        p = make(chance)
        found = check(Evidence(p, seeks=False))
        if not any(f.check in wanted and f.verdict != "holds" for f in found):
            missed[kind] += 1
        if i < words.cured:
            began = time.perf_counter()
            cured = cure_all(p)
            change = lows(cured.patch) - lows(p)
            fails = [f.check for f in cured.findings if f.verdict == "fails"]
            left.update(fails)
            if kind != "too hot" and change.min() < -1.5:
                paid.append(f"{kind}: {change.round(1)}, {[a.label for a in cured.applied]}")
            print(
                f"{kind}: {len(cured.applied)} applied, {fails or 'nothing'} left, {time.perf_counter() - began:.0f} s"
            )
    print(f"{sum(missed.values())} of {words.faulty} faulty basses missed", dict(missed))
    print(f"after Cure all of {words.cured}: still failing", dict(left), "paid with lows", len(paid), *paid, sep="\n  ")


if __name__ == "__main__":
    main()
