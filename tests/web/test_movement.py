"""What moves, through the real pages: made by a gesture, drawn, bent, heard, recorded, switched and undone."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from .hands import CUTOFF, body_of, box_of, drag, heard, open_patch, rule, said, saved

pytestmark = pytest.mark.page

BRIGHTNESS = """async ({ beats, rounds }) => {
  const { stream } = window.kessel;
  while (!stream.sound()) await new Promise((done) => setTimeout(done, 20));
  const analyser = stream.sound();
  const bins = new Float32Array(analyser.frequencyBinCount);
  const up = new Array(beats * 2).fill(0), down = new Array(beats * 2).fill(0);
  const begun = performance.now();
  while (performance.now() - begun < rounds) {
    await new Promise((done) => setTimeout(done, 25));
    if (stream.beat() < 0) continue;
    analyser.getFloatFrequencyData(bins);
    // the window is heard about 0.1 s late
    const slot = Math.floor(stream.beat() * 2) % up.length;
    for (let k = 1; k < bins.length; k++) {
      const p = 10 ** (bins[k] / 10), hz = (k * 24000) / bins.length;
      if (hz > 700) up[slot] += p; else down[slot] += p;
    }
  }
  return up.map((u, i) => 10 * Math.log10((u + 1e-12) / (down[i] + 1e-12)));
}"""


def over_time(page, wanted, rounds=6500):
    """Band energy over the loop, in half beats, once it is as wanted: above 700 Hz against below, in dB."""
    for _ in range(4):
        expect(page.locator("#stream-mode")).to_contain_text("live")
        found = np.array(page.evaluate(BRIGHTNESS, {"beats": 8, "rounds": rounds}))
        if wanted(found):
            return found
    raise AssertionError(f"not heard: {np.round(found, 1)}")


def movement_view(page):
    page.keyboard.press("2")
    expect(page.locator("#sheet")).to_have_attribute("data-view", "movement")


def mover(patch, name):
    return next(m for m in patch["movers"] if m["name"] == name)


def test_a_cutoff_is_given_a_curve_that_is_drawn_bent_and_heard_to_change(page, address, copy_of):
    slug = copy_of("undertow")
    open_patch(page, address, slug)
    path = "layers.body.stages.tone.cutoff"
    track = rule(page, path)
    # one gesture on the control, one choice
    track.click(modifiers=["Alt"])
    menu = page.get_by_role("dialog", name="Body Tone cutoff")
    expect(menu).to_contain_text("moved by Opening, once per note")
    menu.get_by_role("button", name="+ Curve").click()
    said(page, "Body Tone cutoff moves by Tone cutoff curve")
    made = saved(page, address, slug)
    assert made["movements"][-1]["target"] == path and mover(made, "Tone cutoff curve")["points"][0]["value"] == 1
    movement_view(page)
    expect(page.locator("#curve")).to_have_attribute("data-mover", "curve")
    # its length, how it plays, and how far it goes are typed
    page.locator("#list-only").select_option("mover:curve")
    end = page.get_by_label("Body Tone cutoff to", exact=True)
    expect(end).to_have_count(1)
    end.fill("6k")
    end.press("Enter")
    expect(end).to_have_value("6 kHz")
    page.locator("#tab-movers").click()
    page.locator("#chip-curve").click()
    length = page.get_by_label("Tone cutoff curve Length value")
    length.fill("2 bars")
    length.press("Enter")
    said(page, "Tone cutoff curve length 1 bar → 2 bars")
    expect(page.get_by_label("Length of the curve")).to_have_value("2 bars")
    page.get_by_label("Tone cutoff curve restart").get_by_role("radio", name="Phrase").click()
    said(page, "Tone cutoff curve restart note → phrase")
    # a line drawn over the whole loop: dark in the first bar, open in the second
    area = page.locator("#curve-area")
    box = box_of(area)

    def at(x, value):
        return box["x"] + x * box["width"], box["y"] + box["height"] * (0.07 + 0.86 * (1 - value))

    page.mouse.move(*at(0.01, 0.05))
    page.mouse.down()
    page.mouse.move(*at(0.48, 0.05), steps=8)
    page.mouse.move(*at(0.52, 0.95), steps=4)
    page.mouse.move(*at(0.98, 0.95), steps=8)
    page.mouse.up()
    said(page, "Tone cutoff curve drawn")
    points = mover(saved(page, address, slug), "Tone cutoff curve")["points"]
    assert len(points) > 6 and points[0]["at"] == 0 and points[-1]["at"] == 1
    assert np.interp(0.25, [p["at"] for p in points], [p["value"] for p in points]) == pytest.approx(0.05, abs=0.04)
    page.click("#play")
    over_time(page, lambda b: b[10:15].mean() > b[2:7].mean() + 2)
    # a plain ramp, bent late: dark for longer
    page.get_by_role("button", name="Rise", exact=True).click()
    said(page, "Tone cutoff curve rise")
    even = over_time(page, lambda b: b[12:15].mean() > b[2:5].mean() + 1)
    mark = page.locator("[data-bend='0']")
    spot = box_of(mark.locator("path"))
    page.mouse.move(spot["x"] + 4, spot["y"] + 4)
    page.mouse.down()
    page.mouse.move(*at(0.5, 0.93), steps=10)
    page.mouse.up()
    said(page, "Tone cutoff curve bent")
    assert mover(saved(page, address, slug), "Tone cutoff curve")["points"][0]["bend"] > 40
    over_time(page, lambda b: b[4:8].mean() > even[4:8].mean() + 0.7)
    # what ran is drawn in Hz, and said
    expect(page.locator(".way-names")).to_contain_text("Body Tone cutoff")
    expect(page.locator(".way-names")).to_contain_text(re.compile(r"Hz to 1[0-9.]+ kHz"))
    page.keyboard.press("Control+z")
    said(page, "Undone: Tone cutoff curve bent")
    assert mover(saved(page, address, slug), "Tone cutoff curve")["points"][0]["bend"] < 0


def test_a_movement_is_edited_where_its_control_is(page, address, copy_of):
    slug = copy_of("undertow")
    open_patch(page, address, slug)
    path = "layers.body.stages.tone.cutoff"
    rule(page, path).click(modifiers=["Alt"])
    menu = page.get_by_role("dialog", name="Body Tone cutoff")
    menu.get_by_label("End, with Opening").fill("2k")
    menu.get_by_label("End, with Opening").press("Enter")
    said(page, "Body Tone cutoff now rises from 440 Hz to 2 kHz with Opening")
    menu.get_by_label("Start, with Opening").fill("300")
    menu.get_by_label("Start, with Opening").press("Enter")
    said(page, "Body Tone cutoff 440 Hz → 300 Hz")
    expect(menu.get_by_label("End, with Opening")).to_have_value("1.36 kHz")
    menu.get_by_role("button", name="+ Velocity").click()
    said(page, "Body Tone cutoff moves by Velocity")
    # the rule of an end opens the same panel, and keeps its value
    made = saved(page, address, slug)["movements"]
    rule(page, f"movements.{made[0]['id']}.amount").click(modifiers=["Alt"])
    expect(page.get_by_role("dialog", name="Body Tone cutoff")).to_contain_text("Velocity")
    assert saved(page, address, slug)["movements"] == made
    page.keyboard.press("Escape")
    # what can't be moved says why
    page.locator("#tab-voices").click()
    rule(page, "layers.body.play.glide").click(modifiers=["Alt"])
    expect(page.get_by_role("dialog", name="Body glide")).to_contain_text("it is read once, when a note begins")


def test_points_are_added_moved_and_taken_away_by_mouse_and_keys(page, address, copy_of):
    slug = copy_of("slack-water")
    page.goto(f"{address}/patch/{slug}?view=movement&curve=steps")
    points = lambda: mover(saved(page, address, slug), "Steps")["points"]  # noqa: E731
    before = points()
    expect(page.locator("[data-point]")).to_have_count(len(before))
    box = box_of(page.locator("#curve-area"))
    # a click puts a point on the grid of eighths: half a beat of four
    page.mouse.click(box["x"] + 0.26 * box["width"], box["y"] + 0.2 * box["height"])
    said(page, "Steps point added")
    expect(page.locator("[data-point]")).to_have_count(len(before) + 1)
    assert [p["at"] for p in points()][2] == pytest.approx(0.25)
    point = page.locator("#point-2")
    spot = box_of(point.locator("circle").last)
    page.mouse.move(spot["x"] + 4, spot["y"] + 4)
    page.mouse.down()
    page.mouse.move(spot["x"] + 4, box["y"] + 0.9 * box["height"], steps=6)
    page.mouse.up()
    said(page, "Steps point moved")
    assert points()[2]["value"] < 0.1
    expect(page.locator("#point-2")).to_have_attribute("aria-valuetext", re.compile("^point 3 of"))
    page.locator("#point-2").focus()
    page.keyboard.press("ArrowUp")
    said(page, "Steps point moved")
    page.locator("#point-2").focus()
    page.keyboard.press("Delete")
    said(page, "Steps point removed")
    expect(page.locator("[data-point]")).to_have_count(len(before))
    page.locator("#point-0").focus()
    page.keyboard.press("Delete")
    expect(page.locator("#notice")).to_contain_text("the first and last points stay")
    page.get_by_role("button", name="Invert").click()
    said(page, "Steps invert")
    assert points()[0]["value"] == pytest.approx(1 - before[0]["value"])


def test_a_moment_is_held_heard_and_seen(page, address, copy_of):
    page.goto(f"{address}/patch/{copy_of('mud-lantern')}?view=movement")
    picture = page.locator("#loop-picture")
    expect(picture.locator("img")).to_have_js_property("complete", True)
    assert picture.locator("img").evaluate("i => i.naturalWidth") > 300
    box = box_of(picture)
    page.mouse.move(box["x"] + 0.4 * box["width"], box["y"] + 60)
    page.mouse.down()
    heard(page, lambda found: found["rms"] > 0.02)
    page.mouse.up()
    expect(page.locator("#moment")).to_contain_text("at beat 4.2")
    expect(page.locator("#moment")).to_contain_text("Growl Mouth cutoff")
    heard(page, lambda found: found["rms"] < 0.005, 30)
    picture.focus()
    page.keyboard.press("ArrowRight")
    said(page, "beat")


def test_macros_are_named_drawn_recorded_and_kept_as_stances(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    page.get_by_role("button", name="+ Macro").click()
    name = page.get_by_label("Name of macro 1")
    name.fill("Open")
    name.press("Enter")
    said(page, "Open")
    # it moves the cutoff, from the list
    page.locator("#tab-movements").click()
    page.locator("#let-mover").select_option(label="Open")
    page.locator("#let-target").select_option(label="Body Pluck cutoff")
    page.get_by_role("button", name="Add movement").click()
    said(page, "Body Pluck cutoff moves by Open")
    expect(page.get_by_label("What Open moves: 1")).to_be_visible()
    # two stances, and a blend between them
    page.get_by_role("button", name="+ Stance").click()
    said(page, "Keep Stance 1")
    expect(page.get_by_role("button", name="Stance 1", exact=True)).to_be_visible()
    track = page.locator('#strip-row [data-rule^="movers.macro"]')
    drag(page, track, 0.8)
    page.mouse.up()
    said(page, "Open value 0 % → 80 %")
    page.get_by_role("button", name="+ Stance").click()
    said(page, "Keep Stance 2")
    macro = lambda: mover(saved(page, address, slug), "Open")  # noqa: E731
    page.get_by_role("button", name="Stance 1", exact=True).click()
    said(page, "Stance Stance 1")
    assert macro()["value"] == 0
    page.get_by_label("From", exact=True).select_option(label="Stance 1")
    said(page, "From none → Stance 1")
    page.get_by_label("To", exact=True).select_option(label="Stance 2")
    said(page, "To none → Stance 2")
    expect(page.get_by_label("To", exact=True)).to_have_value("stance-2")
    share = page.locator('#strip-row [data-rule="blend.share"]')
    drag(page, share, 0.5)
    page.mouse.up()
    said(page, "Blend 0 % → 50 %")
    assert macro()["value"] == pytest.approx(40, abs=1)
    page.keyboard.press("Control+z")
    said(page, "Undone: Blend")
    assert macro()["value"] == 0
    # drawn over two bars, in the movement workspace
    movement_view(page)
    page.locator("#curve-pick").select_option(label="Open")
    expect(page.locator("#curve")).to_have_attribute("data-mover", "macro")
    box = box_of(page.locator("#curve-area"))
    page.mouse.move(box["x"] + 30, box["y"] + 0.7 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] - 2, box["y"] + 0.1 * box["height"], steps=12)
    page.mouse.up()
    said(page, "Open drawn")
    drawn = macro()
    assert drawn["drawn"] and drawn["bars"] == 2 and drawn["points"][-1]["value"] > 0.85
    page.locator("#tab-movements").click()
    expect(page.locator(".move-list")).to_contain_text("as drawn over 2 bars")
    # recorded over it with the hand on its rule
    page.click("#play")
    expect(page.locator("#stream-mode")).to_contain_text("live")
    page.click("#record")
    expect(page.locator("#record")).to_have_attribute("aria-pressed", "true")
    track = page.locator('#strip-row [data-rule^="movers.macro"]')
    spot = box_of(track)
    page.mouse.move(spot["x"] + 2, spot["y"] + 10)
    page.mouse.down()
    wait = "ms => new Promise((done) => setTimeout(done, ms))"
    for share in (0.2, 0.4, 0.6, 0.8, 0.9):
        page.mouse.move(spot["x"] + share * spot["width"], spot["y"] + 10, steps=3)
        page.evaluate(wait, 90)
    page.mouse.up()
    # the turn is kept before the recording is, as both are told in one line
    said(page, "Open value")
    page.click("#record")
    said(page, "Record Open")
    assert len(macro()["points"]) > 4 and macro()["points"] != drawn["points"]


def test_a_control_is_pinned_and_follows_and_a_lost_target_says_so(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    rule(page, CUTOFF).focus()
    page.keyboard.press("Alt+Enter")
    page.get_by_role("dialog").get_by_role("button", name="Pin to the strip").click()
    said(page, "Pin Body Pluck cutoff")
    pinned = page.locator(f'#strip-row [data-value="{CUTOFF}"]')
    expect(pinned).to_have_value("230 Hz")
    movement_view(page)
    expect(pinned).to_have_value("230 Hz")
    pinned.fill("300")
    pinned.press("Enter")
    expect(page.get_by_label("Body Pluck cutoff from", exact=True)).to_have_value("300 Hz")
    # another frequency is tied to it, and goes along
    page.get_by_role("link", name="Layers").click()
    page.locator("#tab-stages").click()
    rule(page, CUTOFF).focus()
    page.keyboard.press("Alt+Enter")
    page.get_by_label("Tie it to another frequency").select_option(label="Edge Thin cutoff")
    said(page, "Tie Body Pluck cutoff to Edge Thin cutoff")
    pinned.fill("600")
    pinned.press("Enter")
    said(page, "Body Pluck cutoff 300 Hz → 600 Hz")
    assert saved(page, address, slug)["layers"][2]["stages"][0]["cutoff"] == pytest.approx(840, rel=0.01)
    rule(page, CUTOFF).focus()
    page.keyboard.press("Alt+Enter")
    page.get_by_role("dialog").get_by_role("button", name="Untie").click()
    said(page, "Untie Body Pluck cutoff above Edge Thin cutoff")
    # the filter goes; what moved it says so, and takes another target
    page.get_by_label("Remove Pluck").click()
    said(page, "Remove Pluck")
    expect(pinned).to_have_count(0)
    page.locator("#tab-movements").click()
    lost = page.locator(".movement.lost")
    expect(lost).to_contain_text("Body Pluck cutoff is gone, so Snap moves nothing")
    lost.get_by_label("Another target").select_option(label="Edge Thin cutoff")
    said(page, "Snap to Edge Thin cutoff")
    expect(page.locator(".movement.lost")).to_have_count(0)
    page.keyboard.press("Control+z")
    said(page, "Undone")
    page.keyboard.press("Control+z")
    said(page, "Undone: Remove Pluck")
    expect(page.locator(".movement.lost")).to_have_count(0)
    assert all(not m["lost"] for m in saved(page, address, slug)["movements"])


def test_two_notches_cross_in_one_action_and_the_vowel_chart_is_steered(page, address, copy_of):
    slug = copy_of("ebb-motor")
    # the library's own tests count on the names of copies
    page.request.post(f"{address}/patch/{slug}/rename", form={"name": "Notches"}, headers={"origin": address})
    open_patch(page, address, slug, layer="drone")
    page.locator("#chip-rise").click()
    rule(page, "layers.drone.stages.rise.cutoff").click(modifiers=["Alt"])
    menu = page.get_by_role("dialog")
    menu.get_by_label("Move another the opposite way").select_option(label="Drone Tide cutoff")
    said(page, "Drone Tide cutoff moves opposite to Drone Rising notch cutoff")
    first, *_, last = (m for m in saved(page, address, slug)["movements"] if m["mover"] == "cross")
    assert last["amount"] == -first["amount"]
    page.get_by_role("button", name="+ Vowel").click()
    dot = page.locator("#chart-dot")
    expect(dot).to_be_visible()
    box = box_of(page.locator(".chart-inner > rect"))
    page.mouse.move(box["x"] + box["width"] * 0.9, box["y"] + box["height"] * 0.8)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.25, box["y"] + box["height"] * 0.5, steps=8)
    page.mouse.up()
    said(page, "Drone Vowel mouth")
    expect(dot).to_have_attribute("aria-valuetext", "mouth 50.0 %, tongue 25.0 %")
    stage = next(x for x in saved(page, address, slug)["layers"] if x["id"] == "drone")["stages"][-1]
    assert (stage["opening"], stage["tongue"]) == (pytest.approx(50, abs=1), pytest.approx(25, abs=1))
    # the kind of a stage is changed in place
    page.get_by_label("Turn into").select_option(label="Comb")
    said(page, "Vowel becomes a comb")
    expect(page.locator("#editor")).to_contain_text("Feedback")


def test_a_handle_on_the_drawing_turns_cutoff_and_resonance_at_once(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    handle = page.locator(f'[data-handle="{CUTOFF}"]')
    spot = box_of(handle.locator("path.grip"))
    plot = box_of(page.locator('[data-strip="body"]'))
    page.mouse.move(spot["x"] + 4, spot["y"] + 6)
    page.mouse.down()
    page.mouse.move(plot["x"] + 0.5 * plot["width"], spot["y"] - 40, steps=8)
    page.mouse.up()
    expect(page.locator(f'#editor [data-value="{CUTOFF}"]')).to_have_value("632 Hz")
    said(page, "Body Pluck resonance 5.0 dB →")
    body = next(x for x in saved(page, address, slug)["layers"] if x["id"] == "body")["stages"][0]
    assert body["resonance"] > 12 and body["cutoff"] == pytest.approx(632, rel=0.01)


def test_the_end_of_a_bracket_is_dragged_on_the_drawing(page, address, copy_of):
    slug = copy_of("undertow")
    open_patch(page, address, slug)
    reach = page.get_by_label("Reach of Body Tone cutoff by Opening")
    box, plot = box_of(reach.locator(".hit")), box_of(reach.locator("xpath=ancestor::*[contains(@class, 'plot')][1]"))
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    # an octave on an axis of three decades
    octave = plot["width"] * np.log10(2) / 3
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + octave, y, steps=6)
    page.mouse.up()
    said(page, "Body Tone cutoff now rises from 440 Hz to")
    found = saved(page, address, slug)
    assert body_of(found)["stages"][0]["cutoff"] == 440
    amount = next(m["amount"] for m in found["movements"] if m["target"] == "layers.body.stages.tone.cutoff")
    assert 440 * 2**amount == pytest.approx(2 * 1160, rel=0.05)
