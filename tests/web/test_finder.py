"""Ctrl+K: anything by its name, reached with the control under the hand."""

import re

import pytest
from playwright.sync_api import expect

from kessel.demo import demo_patches
from kessel.patch import is_shown, walk
from kessel.web.views.editor import Selection, editor_view, tabs_of
from kessel.web.views.finding import finder, shown_at

from ..plausible import everything
from .hands import open_patch, said

DEMO = demo_patches()
FULL = everything()


HIDDEN = (
    ".position",
    ".mode",
    ".share",
    ".depth",
    ".start",
    ".match",
    ".mix",
    ".routing",
    ".attack",
    ".hold",
    ".release",
)
"""Ends of paths that a tab can leave out: what has no effect as the patch stands, or what is shown in other words."""


@pytest.mark.parametrize("slug", sorted(DEMO))
def test_every_control_is_found_on_the_tab_that_shows_it(slug):
    p, drawn = DEMO[slug], {}
    for path, _, _ in walk(p):
        asks = shown_at(p, path)
        if asks is None or not is_shown(p, path):
            continue
        view = "shaping" if asks["tab"] == "returns" else "layers"
        key = tuple(asks.items())
        if key not in drawn:
            made = editor_view(p, None, Selection(view=view, **asks))
            assert made.tab == asks["tab"] in tabs_of(view)
            drawn[key] = {v.id for v in made.panel.views}
        assert "c-" + path.replace(".", "-") in drawn[key] or path.endswith(HIDDEN), path
    assert len(drawn) > 15


@pytest.mark.parametrize("words", ["cutoff", "level", "resonance", "attack", "depth", "mix", "start", "drive"])
def test_what_is_found_is_there(words):
    for p in (DEMO["sluice-gate"], FULL):
        for entry in finder(p, "layers", words, []):
            if entry.kind == "control":
                made = editor_view(p, None, Selection(**entry.asks))
                assert entry.focus in {v.id for v in made.panel.views}


def test_what_begins_with_the_words_comes_first_and_help_comes_last():
    p = DEMO["sluice-gate"]
    found = finder(p, "layers", "body pluck cut", [])
    assert found[0].name == "Body Pluck cutoff" and len(found) <= 12
    assert finder(p, "layers", "", []) == [] and finder(p, "layers", "zzz", []) == []
    assert [f.press for f in finder(p, "layers", "mono listen", [])][:1] == ["m"]
    assert finder(p, "layers", "salt", [("salt-press", "Salt Press")])[0].href == "/patch/salt-press"
    aliased = finder(p, "layers", "beats per minute", [])
    assert aliased == [] or all(f.kind == "control" for f in aliased)


@pytest.mark.page
def test_a_control_is_found_by_its_name_and_turned_at_once(page, address, copy_of):
    open_patch(page, address, copy_of("sluice-gate"))
    page.keyboard.press("Control+k")
    words = page.get_by_role("combobox", name="Find a control")
    expect(words).to_be_focused()
    words.press_sequentially("edge lid reso")
    expect(page.locator("#found [role=option]").first).to_contain_text("Edge Lid resonance")
    words.press("Enter")
    slider = page.get_by_role("slider", name="Edge Lid resonance")
    expect(slider).to_be_focused()
    page.keyboard.press("ArrowRight")
    said(page, re.compile("Edge Lid resonance"))
    # a command does what its key does
    page.keyboard.press("Control+k")
    words.fill("undo")
    expect(page.locator("#found [role=option]").first).to_contain_text("Undo")
    words.press("Enter")
    said(page, re.compile("Undone: Edge Lid resonance"))
    # Escape gives the focus back
    page.keyboard.press("Control+k")
    words.press("Escape")
    expect(words).to_be_hidden()
