"""What every control is, kept: ``python -m tests.patch.test_declared`` writes tests/kept/controls.json.

A default or a limit that changes reads older patch files in another way. Change it together with a step of the ladder
of upgrades, and write the record anew.
"""

import json
from dataclasses import asdict
from itertools import pairwise
from pathlib import Path

import pytest

import kessel.patch as patches
from kessel.patch import PARTS, SCALES, Branch, Multiband, declarations, shown_controls
from kessel.patch.base import Part

KEPT = Path(__file__).parents[1] / "kept" / "controls.json"
SAID = {"name", "help", "shown_if", "handle", "paired"}
"""Fields that change nothing in a patch: words and places."""
MAJOR = (2, 2, 1, 2, 2, 2, 1)


def kinds(part=Part):
    """All classes of parts."""
    for kind in part.__subclasses__():
        yield kind
        yield from kinds(kind)


def present():
    """Every control's declaration by class and field, and the starting settings of every kind."""
    assert patches.Patch in set(kinds())
    controls = {
        f"{kind.__name__}.{name}": ", ".join(f"{k} {v}" for k, v in asdict(found).items() if k not in SAID and v != "")
        for kind in sorted(set(kinds()), key=lambda k: k.__name__)
        for name, found in declarations(kind).items()
    }
    starting = {word: dict(kind.starting) for word, kind in sorted(PARTS.items())}
    return json.loads(json.dumps({"controls": controls, "starting": starting}))


@pytest.mark.parametrize("what", ["controls", "starting"])
def test_controls_and_starting_settings_are_as_kept(what):
    kept, now = json.loads(KEPT.read_text("utf-8"))[what], present()[what]
    changed = {name: (kept.get(name), now.get(name)) for name in kept | now if kept.get(name) != now.get(name)}
    assert not changed


def steps(scale):
    """The steps of a scale around the octave, in semitones."""
    return tuple(b - a for a, b in pairwise((*SCALES[scale], 12)))


@pytest.mark.parametrize("mode, degree", [("major", 1), ("dorian", 2), ("phrygian", 3), ("minor", 6), ("locrian", 7)])
def test_a_mode_is_the_major_scale_from_another_degree(mode, degree):
    assert steps(mode) == MAJOR[degree - 1 :] + MAJOR[: degree - 1]


def test_the_other_scales_come_from_minor():
    minor = set(SCALES["minor"])
    assert set(SCALES["harmonic minor"]) == minor - {10} | {11}
    assert set(SCALES["minor pentatonic"]) == minor - {2, 8}
    assert set(SCALES["blues"]) == set(SCALES["minor pentatonic"]) | {6}


@pytest.mark.parametrize("count", [2, 3, 4])
def test_as_many_splits_are_shown_as_there_are_edges_between_bands(count):
    bands = [{"id": f"b{i}", "name": f"B{i}"} for i in range(count)]
    shown = shown_controls(Multiband.model_validate({"id": "m", "name": "M", "bands": bands}))
    assert [n for n in shown if n.startswith("split_")] == [f"split_{i}" for i in range(1, count)]
    paths = [{"id": f"p{i}", "name": f"P{i}"} for i in range(count)]
    shown = shown_controls(Branch.model_validate({"id": "x", "name": "X", "into": "bands", "paths": paths}))
    assert [n for n in shown if n.startswith("split_")] == [f"split_{i}" for i in range(1, count)]


if __name__ == "__main__":
    KEPT.write_text(json.dumps(present(), indent=1, sort_keys=True) + "\n", encoding="utf-8")
