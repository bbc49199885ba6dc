"""Whole patches made by the keyboard alone. After every step the focus is on something that can be seen."""

import re

import pytest
from playwright.sync_api import expect

from .hands import heard, kept, measured, names, new_patch, rule, said, saved

pytestmark = pytest.mark.page


def tab_to(page, selector, most=400):
    """Press Tab until what is wanted has the focus."""
    for _ in range(most):
        if page.evaluate("(s) => document.activeElement.matches(s)", selector):
            return
        page.keyboard.press("Tab")
    stands = page.evaluate("document.activeElement.outerHTML.slice(0, 160)")
    raise AssertionError(
        f"{selector} can't be reached by Tab, which is at {stands}; {page.locator(selector).count()} of it"
    )


def test_a_four_layer_bass_by_keyboard_alone(page, address):
    new_patch(page, address)
    page.keyboard.press("Space")
    expect(page.locator("#play")).to_have_attribute("aria-pressed", "true")
    for i, name in enumerate(("Body", "Edge", "Air")):
        tab_to(page, ".axis .tiny")
        page.keyboard.press("Enter")
        expect(page.locator(".strip.layer")).to_have_count(i + 2)
        expect(page.get_by_label("Layer name")).to_have_value(re.compile("^Layer"))
        tab_to(page, ".part-name")
        page.keyboard.type(name)
        page.keyboard.press("Enter")
        expect(page.locator(".layer-name", has_text=name)).to_have_count(1)
    tab_to(page, "#c-layers-layer-3-sources-sine-level")
    page.keyboard.press("ArrowLeft")
    expect(rule(page, "layers.layer-3.sources.sine.level")).not_to_have_attribute("aria-valuetext", "0.0 dB")
    tab_to(page, "#c-layers-layer-3-sources-sine-shape")
    page.keyboard.press("ArrowDown")
    expect(page.locator("#c-layers-layer-3-sources-sine-shape")).to_have_value("triangle")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("Alt+ArrowDown")
    said(page, "Move Air")
    assert names(page) == ["Sub", "Body", "Air", "Edge"]
    # a note by the keys alone
    page.keyboard.press("p")
    expect(page.locator("#notes")).to_be_visible()
    count = page.locator("[data-note]").count()
    tab_to(page, "#notes")
    for key in ("ArrowUp", "ArrowRight", "ArrowRight", "Enter"):
        page.keyboard.press(key)
    expect(page.locator("[data-note]")).to_have_count(count + 1)
    page.keyboard.press("p")
    heard(page, lambda found: found["rms"] > 0.05)
    for _ in range(12):
        page.keyboard.press("Control+z")
    expect(page.locator(".strip.layer")).to_have_count(1)


def press(page, *keys):
    """Press keys one after the other. After each, once all of it is answered, something visible has the focus."""
    for key in keys:
        page.keyboard.press(key)
        kept(page)
        expect(page.locator(".htmx-request")).to_have_count(0)
        page.wait_for_function(
            "() => document.activeElement !== document.body && document.activeElement.checkVisibility()"
        )


def tab(page, name):
    """Open a tab of the editor with the arrows."""
    tab_to(page, "#editor [role=tab][tabindex='0']")
    for _ in range(12):
        if page.evaluate("document.activeElement.id") == f"tab-{name}":
            expect(page.locator(f"#tab-{name}")).to_have_attribute("aria-selected", "true")
            return
        press(page, "ArrowRight")
    raise AssertionError(f"no tab {name}")


def pick(page, selector, option):
    """Choose from a list of acts: a key opens it, the arrows go through it, Enter does it."""
    tab_to(page, selector)
    labels = page.evaluate("[...document.activeElement.options].filter((o) => !o.disabled).map((o) => o.label)")
    page.keyboard.press("ArrowDown")
    for _ in range(labels.index(option) + 1):
        page.keyboard.press("ArrowDown")
    press(page, "Enter")


def value(page, path, text):
    """Type a value into the field of a rule."""
    tab_to(page, f"#c-{path.replace('.', '-')}")
    press(page, "Enter")
    page.keyboard.type(text)
    press(page, "Enter")


def test_a_two_layer_bass_from_an_empty_patch_until_all_checks_hold(page, address):
    page.goto(f"{address}/library")
    tab_to(page, ".button.play")
    page.keyboard.press("Enter")
    page.wait_for_url("**/patch/**")
    slug = page.url.split("/patch/")[1].split("?")[0]
    expect(page.locator("#rail")).not_to_have_attribute("data-version", "-1")
    # layers: a body of saws over the sine, split at 90 Hz
    tab_to(page, ".axis .tiny")
    press(page, "Enter")
    expect(page.locator(".strip.layer")).to_have_count(2)
    tab_to(page, ".part-name")
    page.keyboard.type("Body")
    press(page, "Enter")
    tab_to(page, "#c-layers-layer-sources-sine-shape")
    press(page, "ArrowDown", "ArrowDown")
    value(page, "layers.layer.sources.sine.level", "-6")
    tab(page, "mix")
    value(page, "layers.layer.range.low", "90")
    value(page, "layers.layer.level", "-9")
    tab(page, "stages")
    tab_to(page, "#editor .add[hx-vals*=filter]")
    press(page, "Enter")
    # movement: an LFO on the cutoff of the filter
    press(page, "2")
    tab(page, "movers")
    tab_to(page, ".add[hx-vals*=lfo]")
    press(page, "Enter")
    pick(page, "#editor select[aria-label='Move with it']", "Body Filter cutoff")
    said(page, "Body Filter cutoff moves by LFO")
    # shaping: distortion on the layer
    press(page, "3")
    tab(page, "chain")
    pick(page, "select.adding", "Distortion")
    # checks: what fails is cured
    press(page, "4")
    for _ in range(12):
        measured(page)
        failing = page.locator("#rail .finding:not([data-verdict=holds])")
        if not failing.count():
            break
        expect(failing.locator(".fix")).not_to_have_count(0)
        tab_to(page, "#rail .fix", 200)
        press(page, "Enter")
    expect(page.locator("#rail h2")).to_contain_text("all hold")
    patch = saved(page, address, slug)
    assert [x["name"] for x in patch["layers"]] == ["Sub", "Body"]
    tab_to(page, "#play", 200)
    press(page, "Space")
    heard(page, lambda found: found["rms"] > 0.02)
