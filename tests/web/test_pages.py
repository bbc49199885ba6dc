"""The real pages in headless Chromium: sound comes out, follows the hand, and everything is kept."""

import json
import math
import re

import numpy as np
import pytest
from playwright.sync_api import expect

from .hands import CUTOFF, body_of, box_of, choose, drag, heard, open_patch, rule, saved

pytestmark = pytest.mark.page


COUNT_FRAMES = """() => {
  const own = window.requestAnimationFrame;
  window.framesAsked = 0;
  window.requestAnimationFrame = (act) => { window.framesAsked += 1; return own(act); };
}"""
AT_REST = """async () => {
  const before = window.framesAsked;
  await new Promise((done) => setTimeout(done, 200));
  return window.framesAsked === before;
}"""


def rests(page):
    """Wait until nothing is drawn any more."""
    assert any(page.evaluate(AT_REST) for _ in range(60))


def test_open_play_and_measure_that_sound_comes_out(page, address):
    page.goto(f"{address}/library")
    row = page.get_by_role("article", name="Sluice Gate", exact=True)
    expect(row).to_contain_text("all hold")
    row.get_by_role("link", name="Open").click()
    expect(page.get_by_role("button", name="Play")).to_be_visible()
    assert page.evaluate("() => window.kessel.stream.sound()") is None
    page.evaluate(COUNT_FRAMES)
    rests(page)
    page.keyboard.press("Space")
    expect(page.locator("#play")).to_have_attribute("aria-pressed", "true")
    expect(page.locator("#stream-mode")).to_contain_text("live")
    heard(page, lambda found: 0.03 < found["rms"] < 0.7, 30)
    expect(page.locator("#playhead")).to_have_attribute("visibility", "visible")
    page.keyboard.press("Space")
    expect(page.locator("#play")).to_have_attribute("aria-pressed", "false")
    # a space dies away
    heard(page, lambda found: found["rms"] < 0.001, 5)
    # and a page on which nothing moves draws nothing
    assert page.evaluate("() => window.framesAsked") > 20
    rests(page)


def test_a_dragged_cutoff_is_heard_before_it_is_let_go_and_kept_after(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    page.get_by_role("button", name="Solo Body").click()
    page.click("#play")
    dark = heard(page, lambda found: found["rms"] > 0.01, 50)
    drag(page, rule(page, CUTOFF), 0.85)
    bright = heard(page, lambda found: found["bright"] > dark["bright"] + 4.0, 50)
    assert body_of(saved(page, address, slug))["stages"][0]["cutoff"] == 230.0
    value = page.get_by_label("Body Pluck cutoff value")
    expect(value).to_have_value("7.1 kHz")
    page.mouse.up()
    expect(page.locator("#notice")).to_have_text("Body Pluck cutoff 230 Hz → 7.1 kHz")
    assert body_of(saved(page, address, slug))["stages"][0]["cutoff"] == pytest.approx(7096, rel=0.02)
    page.keyboard.press("Control+z")
    expect(value).to_have_value("230 Hz")
    heard(page, lambda found: found["bright"] < bright["bright"] - 3.0, 50)


def test_a_split_is_dragged_on_the_drawing(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    handle = page.locator('[data-handle="layers.sub.range.high"]')
    assert handle.get_attribute("aria-label") == "Split between Sub and Body"
    plot = box_of(page.locator('[data-strip="sub"]'))
    at = lambda hz: plot["x"] + plot["width"] * math.log(hz / 20) / math.log(1000)  # noqa: E731
    y = plot["y"] + plot["height"] * 0.6
    page.mouse.move(at(90), y)
    page.mouse.down()
    page.mouse.move(at(160), y, steps=8)
    page.mouse.up()
    expect(page.locator("#notice")).to_contain_text("Sub range high cut 90 Hz → 1")
    patch = saved(page, address, slug)
    assert body_of(patch, "sub")["range"]["high"] == pytest.approx(160, rel=0.03)
    assert body_of(patch)["range"]["low"] == body_of(patch, "sub")["range"]["high"]
    expect(page.locator('[data-handle="layers.body.range.low"]')).to_have_attribute(
        "aria-valuetext", handle.get_attribute("aria-valuetext")
    )


def test_values_are_typed_with_units_and_bad_ones_answered(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    value = page.get_by_label("Body Pluck cutoff value")
    value.fill("120 Hz")
    value.press("Enter")
    expect(rule(page, CUTOFF)).to_have_attribute("aria-valuetext", "120 Hz")
    assert body_of(saved(page, address, slug))["stages"][0]["cutoff"] == 120.0
    value = page.get_by_label("Body Pluck cutoff value")
    value.fill("very high")
    value.press("Enter")
    expect(page.locator("#notice")).to_contain_text("type for example 120 Hz, 2.4k or F#1")
    expect(value).to_have_value("120 Hz")
    assert body_of(saved(page, address, slug))["stages"][0]["cutoff"] == 120.0
    page.get_by_label("Tempo").fill("140")
    page.get_by_label("Tempo").press("Enter")
    expect(page.get_by_label("Tempo")).to_have_value("140.0 BPM")


def test_keys_wheel_and_double_click_on_a_rule(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    track = rule(page, CUTOFF)
    track.focus()
    page.keyboard.press("ArrowRight")
    expect(track).to_have_attribute("aria-valuetext", "244 Hz")
    page.keyboard.press("Shift+ArrowLeft")
    expect(track).to_have_attribute("aria-valuetext", "242 Hz")
    page.keyboard.press("Home")
    expect(track).to_have_attribute("aria-valuetext", "20 Hz")
    page.keyboard.press("End")
    expect(track).to_have_attribute("aria-valuetext", "20 kHz")
    track.hover()
    page.mouse.wheel(0, 100)
    expect(track).to_have_attribute("aria-valuetext", "18.9 kHz")
    track.dblclick(position={"x": 5, "y": 12})
    expect(track).to_have_attribute("aria-valuetext", "800 Hz")


def test_what_the_arrows_turned_is_kept_when_the_page_is_left_at_once(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    rule(page, CUTOFF).focus()
    page.keyboard.press("ArrowRight")
    page.goto(f"{address}/library")
    expect(page.get_by_role("article").first).to_be_visible()
    open_patch(page, address, slug)
    expect(rule(page, CUTOFF)).to_have_attribute("aria-valuetext", "244 Hz")


def test_a_finding_fails_is_cured_by_its_fix_undone_and_kept_over_a_reload(page, address, copy_of):
    slug = copy_of("undertow")
    open_patch(page, address, slug)
    finding = page.locator('.finding[data-check="layers-add-up"][data-layers="sub body"]')
    expect(finding).to_have_attribute("data-verdict", "fails")
    finding.hover()
    expect(page.locator("#where")).to_have_attribute("data-shown", "true")
    before = saved(page, address, slug)
    finding.locator(".fix").first.click()
    expect(finding).to_have_attribute("data-verdict", "holds")
    expect(finding).to_contain_text("before the fix")
    # what holds is one line, until it is asked for more
    expect(finding.locator(".limit")).to_be_hidden()
    finding.locator("h3").click()
    expect(finding.locator(".limit")).to_be_visible()
    expect(page.locator("#rail h2")).to_contain_text("all hold")
    assert saved(page, address, slug) != before
    page.click("#undo")
    expect(finding).to_have_attribute("data-verdict", "fails")
    assert saved(page, address, slug) == before
    page.click("#redo")
    expect(finding).to_have_attribute("data-verdict", "holds")
    page.reload()
    expect(finding).to_have_attribute("data-verdict", "holds")
    page.click("#undo")
    expect(finding).to_have_attribute("data-verdict", "fails")


def test_lows_lost_in_mono_and_their_cure(page, address, copy_of):
    slug = copy_of("slack-water")
    open_patch(page, address, slug)
    finding = page.locator('.finding[data-check="lows-in-mono"]')
    expect(finding).to_contain_text("Mono loses lows")
    expect(finding).to_contain_text("on Body")
    finding.get_by_role("button", name="Fold the output").click()
    expect(finding).to_have_attribute("data-verdict", "holds")
    expect(page.locator('[data-handle="output.mono_below"]')).to_have_attribute("aria-valuetext", "120 Hz")


def test_notes_from_the_computer_keyboard(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    page.keyboard.press("n")
    expect(page.locator("#keys")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("x")
    page.keyboard.down("a")
    heard(page, lambda found: found["rms"] > 0.02)
    page.keyboard.up("a")
    # a space dies away
    heard(page, lambda found: found["rms"] < 0.001, 5)


def test_listening_in_mono_side_and_solo(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    page.click("#play")
    whole = heard(page, lambda found: found["rms"] > 0.02, 20)
    page.get_by_role("radio", name="Side").click()
    side = heard(page, lambda found: found["rms"] < 0.15 * whole["rms"], 20)["rms"]
    page.keyboard.press("m")
    expect(page.get_by_role("radio", name="Mono")).to_be_checked()
    mono = heard(page, lambda found: found["rms"] > 8 * side, 20)
    # the arrows belong to the radio buttons as long as these have the focus
    page.locator("#sheet").click(position={"x": 400, "y": 10})
    page.keyboard.press("ArrowDown")
    expect(page.locator("#strip-sub")).to_have_class("strip layer chosen")
    page.keyboard.press("s")
    expect(page.get_by_role("button", name="Solo Sub")).to_have_attribute("aria-pressed", "true")
    heard(page, lambda found: found["bright"] < mono["bright"] - 10, 20)


def test_layers_tabs_and_parts_by_keyboard_and_mouse(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    page.keyboard.press("ArrowUp")
    expect(page.get_by_label("Layer name")).to_have_value("Edge")
    choose(page.get_by_role("tab", name="Sources"))
    choose(page.get_by_role("tab", name="FM, ring"))
    expect(page.locator("#editor")).to_contain_text("FM by Bell sine")
    choose(page.get_by_role("tab", name="Pitch"))
    page.get_by_role("button", name="Octave ↓").click()
    expect(page.get_by_label("Edge Edge saw octave value")).to_have_value("0")
    page.keyboard.press(".")
    expect(page.get_by_label("Edge Edge saw octave value")).to_have_value("1")
    choose(page.get_by_role("tab", name="Wave", exact=True).nth(1))
    page.get_by_label("Edge Edge saw shape").select_option("pulse")
    expect(page.get_by_label("Edge Edge saw pulse width value")).to_be_visible()
    choose(page.get_by_role("tab", name="Stages"))
    page.get_by_role("button", name="+ Distortion").click()
    expect(page.get_by_role("button", name="Distortion", exact=True)).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="Remove Distortion").click()
    expect(page.get_by_role("button", name="Distortion", exact=True)).to_have_count(0)
    name = page.get_by_label("Layer name")
    name.fill("Rim")
    name.press("Enter")
    expect(page.locator("#strip-edge")).to_contain_text("Rim")
    page.get_by_role("button", name="Mute Rim").click()
    expect(page.locator("#strip-edge")).to_have_class("strip layer chosen muted")
    assert "layer=edge" in page.url and "tab=stages" in page.url
    page.get_by_role("button", name="+ Layer").click()
    expect(page.locator(".strip.layer")).to_have_count(5)
    expect(page.get_by_label("Layer name")).to_have_value("Layer")
    page.keyboard.press("Control+z")
    expect(page.locator(".strip.layer")).to_have_count(4)


def test_themes_follow_the_system_and_are_remembered(browser, address):
    context = browser.new_context(color_scheme="dark")
    page = context.new_page()
    page.goto(f"{address}/library")
    expect(page.locator("html")).to_have_attribute("data-theme", "night")
    page.get_by_role("button", name="Theme").click()
    expect(page.locator("html")).to_have_attribute("data-theme", "paper")
    page.goto(f"{address}/patch/sluice-gate")
    expect(page.locator("html")).to_have_attribute("data-theme", "paper")
    page.keyboard.press("?")
    expect(page.get_by_role("region", name="Help")).to_be_visible()
    context.close()


def test_the_library_by_hand(page, address, tmp_path):
    page.goto(f"{address}/library")
    row = page.get_by_role("article", name="Ebb Motor", exact=True)
    row.get_by_role("button", name="Duplicate").click()
    copy = page.get_by_role("article", name="Ebb Motor copy")
    copy.get_by_label("Name of").fill("Spillway")
    copy.get_by_label("Name of").press("Enter")
    race = page.get_by_role("article", name="Spillway")
    with page.expect_download() as got:
        race.get_by_role("link", name="Patch file").click()
    got.value.save_as(tmp_path / "race.json")
    assert json.loads((tmp_path / "race.json").read_text())["name"] == "Spillway"
    race.get_by_role("button", name="Delete").click()
    expect(race).to_have_count(0)
    page.get_by_role("button", name="Restore").click()
    expect(race).to_have_count(1)
    page.get_by_label("Import a patch file").set_input_files(tmp_path / "race.json")
    expect(race).to_have_count(2)
    (tmp_path / "junk.json").write_text("{}")
    page.get_by_label("Import a patch file").set_input_files(tmp_path / "junk.json")
    expect(page.get_by_role("alert")).to_contain_text("junk.json was not imported")
    page.get_by_role("button", name="New patch").click()
    expect(page.get_by_label("Patch name")).to_have_value(re.compile("^New patch"))
    expect(page.locator("#rail")).to_contain_text("The fundamental is strong enough")


@pytest.mark.parametrize("view", ["layers", "movement"])
def test_nothing_overflows_and_controls_have_names(page, address, view):
    """At 1280 and 1100 wide: the drawing is whole, no text is cut by the edge, every control is named."""
    for width in (1280, 1100):
        page.set_viewport_size({"width": width, "height": 800})
        open_patch(page, address, "sluice-gate")
        if view == "movement":
            page.goto(f"{address}/patch/mud-lantern?view=movement")
            expect(page.locator(".way-names")).to_contain_text("Growl Mouth cutoff")
        over = page.evaluate(
            """() => ({ page: document.documentElement.scrollWidth - innerWidth,
              sheet: document.getElementById("sheet").scrollHeight - document.getElementById("sheet").clientHeight,
              right: Math.max(...[...document.querySelectorAll(".top > *")].map((e) => e.getBoundingClientRect().right)) - innerWidth })"""
        )
        assert over["page"] <= 0 and over["sheet"] <= 1 and over["right"] <= 0, (width, over)
    nameless = page.evaluate(
        """() => [...document.querySelectorAll("button, input, select, [role=slider]")]
          .filter((e) => e.type !== "hidden" && !(e.getAttribute("aria-label") || e.textContent.trim() || e.labels?.length)).length"""
    )
    assert nameless == 0


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_text_stands_out_enough(browser, address, theme):
    """WCAG AA: 4.5 to 1 for what is read, in both themes."""
    context = browser.new_context(color_scheme=theme)
    page = context.new_page()
    page.goto(f"{address}/patch/sluice-gate")
    colours = page.evaluate(
        """() => { const s = getComputedStyle(document.documentElement), c = document.createElement("canvas").getContext("2d");
          const rgb = (n) => { c.fillStyle = s.getPropertyValue(n); c.fillRect(0, 0, 1, 1); return [...c.getImageData(0, 0, 1, 1).data].slice(0, 3); };
          return Object.fromEntries(["paper", "sheet", "ink", "soft", "copper", "lead", "patina", "amber", "on-copper", "copper2"].map((n) => [n, rgb("--" + n)])); }"""
    )

    def light(rgb):
        v = np.array(rgb) / 255
        return float(np.where(v <= 0.03928, v / 12.92, ((v + 0.055) / 1.055) ** 2.4) @ [0.2126, 0.7152, 0.0722])

    def contrast(a, b):
        high, low = sorted((light(colours[a]), light(colours[b])), reverse=True)
        return (high + 0.05) / (low + 0.05)

    for ground in ("paper", "sheet"):
        for word in ("ink", "soft", "copper", "lead", "patina", "amber"):
            assert contrast(word, ground) >= 4.5, (word, ground)
    assert contrast("on-copper", "copper") >= 4.5
    assert contrast("ink", "copper2") >= 4.5
    context.close()


def test_where_a_control_goes_follows_the_measures_and_typing_outlives_a_redraw(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    bar = rule(page, CUTOFF).locator(".travel-bar")
    before = bar.get_attribute("width")
    assert float(before.rstrip("%")) > 5
    # the far end is brought near: what is measured anew stands under the rule
    end = page.locator('#editor [data-value^="movements."]').first
    end.fill("400 Hz")
    end.press("Enter")
    expect(bar).not_to_have_attribute("width", before)
    # a value that is being typed is not taken away by a redraw
    value = page.locator(f'#editor [data-value="{CUTOFF}"]')
    value.click()
    value.press_sequentially("1.2")
    with page.expect_response("**/editor?**"):
        page.evaluate("() => document.body.dispatchEvent(new CustomEvent('redrawn'))")
    page.keyboard.type(" kHz")
    page.keyboard.press("Enter")
    expect(page.locator("#notice")).to_contain_text("→ 1.2 kHz")
    assert body_of(saved(page, address, slug))["stages"][0]["cutoff"] == 1200.0


def test_eight_layers_scroll_under_the_sum_and_stay_where_they_were_scrolled_to(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    for count in range(5, 9):
        page.get_by_role("button", name="+ Layer").click()
        expect(page.locator(".strip.layer")).to_have_count(count)
    expect(page.locator("#sheet text", has_text="measuring")).to_have_count(0)
    page.get_by_role("button", name="+ Layer").click()
    expect(page.locator("#notice")).to_contain_text("8")
    inside = """() => { const box = (s) => document.querySelector(s).getBoundingClientRect();
      return box(".strip.sum").bottom <= box("#sheet").bottom + 1 && box(".strip.axis").top >= box("#sheet").top - 1; }"""
    assert page.evaluate(inside)
    sheet = page.locator("#sheet")
    sheet.evaluate("(s) => { s.scrollTop = 1000; }")
    top = sheet.evaluate("(s) => s.scrollTop")
    assert top > 0 and page.evaluate(inside)
    with page.expect_response("**/sheet?**"):
        page.get_by_role("button", name="Mute Sub").click()
    expect(page.locator("#strip-sub")).to_have_class(re.compile("muted"))
    assert sheet.evaluate("(s) => s.scrollTop") == top
    # choosing by the keys brings the layer into sight
    for _ in range(9):
        page.keyboard.press("ArrowUp")
    expect(page.locator(".strip.layer").first).to_have_class(re.compile("chosen"))
    assert sheet.evaluate("(s) => s.scrollTop") < top
