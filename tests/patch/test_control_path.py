"""Paths: taken apart and put together, they stay what they were."""

import re
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

import kessel
from kessel.demo import demo_patches
from kessel.patch import ControlPath, walk

STEP = st.from_regex(r"[a-z][a-z0-9-]{0,11}", fullmatch=True)


@given(st.lists(STEP, min_size=1, max_size=7))
def test_a_path_is_its_steps(steps):
    path = ControlPath.of(*steps)
    assert path == ".".join(steps) and path.steps == tuple(steps)
    assert (path.root, path.name) == (steps[0], steps[-1])
    assert path.parent == ".".join(steps[:-1])
    assert path.parent.below(path.name) == path
    assert path.layer == (steps[1] if steps[0] == "layers" and len(steps) > 1 else "")


@given(st.lists(STEP, min_size=1, max_size=4), st.lists(STEP, min_size=1, max_size=4))
def test_below_is_below(above, more):
    upper = ControlPath.of(*above)
    lower = upper.below(*more)
    assert lower.is_below(upper) and not upper.is_below(lower) and not upper.is_below(upper)
    assert not ControlPath(f"{upper}x").is_below(upper)


def test_an_empty_path_has_one_empty_step():
    path = ControlPath("")
    assert (path.steps, path.root, path.name, path.parent, path.layer) == (("",), "", "", "", "")
    assert path.below("layers", "", "body") == "layers.body"


def test_every_control_of_the_demo_set_has_such_a_path():
    for patch in demo_patches().values():
        for found in walk(patch):
            path = ControlPath(found[0])
            assert path.parent.below(path.name) == path and path.steps[0] == path.root


def test_nothing_else_takes_paths_apart():
    apart = re.compile(r"""\b(path|target|stem|place|own|source)\.(r?split|r?partition)\("\."\)""")
    source = Path(kessel.__file__).parent
    found = [p.name for p in source.rglob("*.py") if p.name != "control_path.py" and apart.search(p.read_text("utf-8"))]
    assert found == []
