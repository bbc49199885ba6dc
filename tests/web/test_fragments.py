"""Laws of the templates: what holds of every fragment that asks for itself anew."""

import re
from pathlib import Path

import pytest

from kessel import web

VIEWS = Path(web.__file__).parent / "views"
TEMPLATES = sorted(VIEWS.rglob("*.html"))
TAG = re.compile(r"<\w+[^<]*?hx-trigger=\"[^\"]*from:body[^\"]*\".*?>", re.S)
ASKING = [(str(path.relative_to(VIEWS)), tag) for path in TEMPLATES for tag in TAG.findall(path.read_text("utf-8"))]


@pytest.mark.parametrize(("name", "tag"), ASKING, ids=[name for name, _ in ASKING])
def test_a_fragment_that_asks_anew_gives_up_its_older_question(name, tag):
    """An answer that replaces the fragment would drop the question that waits behind it."""
    assert 'hx-sync="this:replace"' in tag


def test_fragments_that_ask_anew_are_found():
    assert {"frame/part_shelf.html", "editor/editor.html", "frame/rail.html"} <= {name for name, _ in ASKING}


@pytest.mark.parametrize("path", TEMPLATES, ids=lambda p: str(p.relative_to(VIEWS)))
def test_a_template_can_be_read(path):
    """Lines of at most 140 characters."""
    assert [line for line in path.read_text("utf-8").splitlines() if len(line) > 140] == []
