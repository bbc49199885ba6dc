"""The Checks workspace through the real page: read what fails, look at the evidence, cure it, hear the room."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from kessel.formats import wav_bytes

from ..making import tone
from .hands import body_of, choose, heard, measured, said, saved

pytestmark = pytest.mark.page


def checks(page, address, slug, topic="summary", **words):
    more = "".join(f"&{k}={v}" for k, v in words.items())
    page.goto(f"{address}/patch/{slug}?view=checks&topic={topic}{more}")
    measured(page)


def topic(page, name):
    choose(page.get_by_role("tab", name=name))
    measured(page)


def test_what_fails_is_read_seen_cured_and_undone(page, address, copy_of):
    slug = copy_of("undertow")
    checks(page, address, slug)
    expect(page.locator(".check-answer")).to_contain_text("Fails: layers add up")
    row = page.locator('[data-row="Layers add up"]')
    expect(row).to_contain_text("−5.0 dB")
    page.get_by_label("Show the evidence for Layers add up").click()
    measured(page)
    expect(page.get_by_role("radio", name="Sub and the worked path")).to_have_attribute("aria-checked", "true")
    dials = page.locator(".dial")
    assert dials.count() == 7 and page.locator(".dial.fails").count() == 7
    expect(page.locator(".check-head")).to_contain_text("leads the worked path by")
    # what aligning would do is shown before it is done
    page.get_by_role("button", name="Align this pair").click()
    expect(page.locator(".check-head .plan")).to_contain_text("Shift the start phase of Sub")
    assert page.locator("rect.after").count() == 7
    assert body_of(saved(page, address, slug), "sub")["sources"][0]["phase"] == 0.0
    page.locator(".check-head").get_by_role("button", name="Apply").click()
    said(page, "Align: Shift the start phase of Sub")
    expect(page.locator(".dial.fails")).to_have_count(0)
    measured(page)
    topic(page, "Summary")
    expect(page.locator(".check-answer")).to_contain_text("checks hold")
    # an answer leaves no empty box of a list behind
    assert page.locator(".select:not(:has(select))").count() == 0
    # two columns in the history of verdicts: it failed, and it holds
    expect(page.locator(".verdict-step")).to_have_count(2)
    expect(page.locator(".verdict-step").nth(0).locator("i.fails")).to_have_count(1)
    expect(page.locator(".verdict-step.now i.holds")).to_have_count(1)
    page.keyboard.press("Control+z")
    expect(page.locator(".check-answer")).to_contain_text("Fails")


def test_offsets_are_turned_by_hand_while_it_plays(page, address, copy_of):
    slug = copy_of("undertow")
    checks(page, address, slug, "alignment")
    page.locator("#play").click()
    worst = page.get_by_role("radio", name="Sub and the worked path").locator(".num")
    expect(worst).to_have_text("−5.0")
    box = page.get_by_label("Sub Delay value").first
    box.fill("4.5")
    box.press("Enter")
    expect(worst).not_to_have_text("−5.0")
    assert float(worst.inner_text().replace("−", "-")) > -1.5
    heard(page, lambda found: found["rms"] > 0.01)
    assert body_of(saved(page, address, slug), "sub")["delay"] == 4.5


def test_the_vectors_follow_the_hand(page, address, copy_of):
    slug = copy_of("undertow")
    checks(page, address, slug, "alignment")
    track = page.locator('.by-hand [data-rule="layers.sub.delay"]')
    box = track.bounding_box()
    page.mouse.move(box["x"] + 1, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + 0.16 * box["width"], box["y"] + 10, steps=6)
    # nothing is kept yet, and the drawing shows what it will be
    expect(page.locator(".dial.fails")).not_to_have_count(7)
    assert body_of(saved(page, address, slug), "sub")["delay"] == 0.0
    page.mouse.up()
    said(page, "Sub delay")
    assert body_of(saved(page, address, slug), "sub")["delay"] > 1.0


def test_lows_that_mono_takes_are_shown_heard_and_folded(page, address, copy_of):
    slug = copy_of("slack-water")
    checks(page, address, slug, "mono")
    expect(page.locator(".check-facts dd").first).to_contain_text("dB")
    assert page.locator("#sheet rect.loss.fails").count() >= 4
    expect(page.locator(".scope-box img")).to_be_visible()
    # the whole of what is lost below 120 Hz is the body's
    expect(page.locator('table[aria-label="Who causes it"] tr', has_text="Body")).to_contain_text("100.0 %")
    page.get_by_role("button", name="Hear the side").click()
    page.locator("#play").click()
    heard(page, lambda found: found["rms"] > 0.003)
    page.locator("#play").click()
    page.locator("#rail .fix", has_text="Fold the output").click()
    said(page, "Fold the output to mono below 120 Hz")
    edge = page.locator('[data-handle="output.mono_below"]')
    expect(edge).to_be_visible()
    measured(page)
    expect(page.get_by_role("tab", name="Mono")).not_to_contain_text("fails")
    # the edge is dragged on the drawing
    edge.focus()
    for _ in range(4):
        page.keyboard.press("ArrowRight")
    said(page, "Output mono below")
    expect(edge).not_to_have_attribute("aria-valuetext", "120 Hz")
    assert saved(page, address, slug)["output"]["mono_below"] > 125


def test_a_split_is_moved_as_the_cure_and_moved_back(page, address, copy_of):
    slug = copy_of("sluice-gate")
    for path, text in (("layers.sub.range.high", "36 Hz"), ("layers.body.sources.square.octave", "1")):
        page.request.post(
            f"{address}/patch/{slug}/turn", data={"path": path, "text": text}, headers={"origin": address}
        )
    checks(page, address, slug, "low")
    finding = page.locator('#rail .finding[data-check="hollow"]')
    expect(finding).to_have_attribute("data-verdict", "fails")
    split = finding.locator(".fix", has_text="Move the split between Sub and Body to")
    expect(split).to_have_count(1)
    split.click()
    expect(finding).to_have_attribute("data-verdict", "holds")
    expect(finding).to_contain_text("before the fix")
    found = saved(page, address, slug)
    edge = body_of(found, "sub")["range"]["high"]
    assert edge > 40 and body_of(found)["range"]["low"] == edge
    expect(page.locator('table[aria-label="Harmonics of every note"] tr.fails')).to_have_count(0)
    page.locator("#undo").click()
    expect(finding).to_have_attribute("data-verdict", "fails")
    assert body_of(saved(page, address, slug), "sub")["range"]["high"] == 36.0


def test_a_limit_is_typed_and_counts_for_the_set(page, address, copy_of):
    slug = copy_of("undertow")
    checks(page, address, slug)
    box = page.get_by_label("Limit: Sum loss", exact=True)
    box.fill("-12 dB")
    box.press("Enter")
    expect(page.locator(".check-answer")).to_contain_text("checks hold")
    box = page.get_by_label("Limit: Sum loss", exact=True)
    box.fill("loud")
    box.press("Enter")
    expect(page.locator("#notice")).to_have_class(re.compile("bad"))
    box = page.get_by_label("Limit: Sum loss", exact=True)
    box.fill("-1.5 dB")
    box.press("Enter")
    expect(page.locator(".check-answer")).to_contain_text("Fails")


def test_the_keys_are_struck_in_the_background(page, address, copy_of):
    slug = copy_of("salt-press")
    checks(page, address, slug, "keys")
    page.get_by_role("radio", name="E1 to E2").click()
    expect(page.get_by_role("radio", name="E1 to E2")).to_have_attribute("aria-checked", "true")
    page.get_by_role("button", name="Measure all keys").click()
    # twelve keys and more take their time on a busy machine
    expect(page.get_by_role("button", name="All keys are measured")).to_be_visible(timeout=120_000)
    assert page.locator(".heat-cell.unknown").count() == 0
    assert page.locator(".heat-cell title", has_text="E1 loudness").count() == 1
    # an edit makes them unknown, an undo brings them back
    page.get_by_label("Stab Level value").first.fill("-20")
    page.get_by_label("Stab Level value").first.press("Enter")
    expect(page.get_by_role("button", name="Measure all keys")).to_be_visible()
    page.locator("#undo").click()
    expect(page.get_by_role("button", name="All keys are measured")).to_be_visible()


def test_rooms_side_by_side_are_heard_and_edited(page, address, copy_of):
    slug = copy_of("sluice-gate")
    checks(page, address, slug, "rooms")
    rows = page.locator("[data-room-row]")
    assert rows.count() == 6
    expect(page.locator('[data-room-row="phone"]')).to_contain_text("LU")
    page.locator("#play").click()
    whole = heard(page, lambda found: found["rms"] > 0.02)
    page.locator('[data-room-row="phone"]').get_by_role("button", name="Listen").click()
    expect(page.locator("#room-pick")).to_have_value("phone")
    heard(page, lambda found: found["bright"] > whole["bright"] + 6.0)
    page.locator("#room-pick").select_option("")
    expect(page.locator('[data-room-row="phone"]').get_by_role("button", name="Listen")).to_have_attribute(
        "aria-pressed", "false"
    )
    page.get_by_role("button", name="Laptop").click()
    expect(page.get_by_role("button", name="Laptop")).to_have_attribute("aria-pressed", "true")
    measured(page)
    page.get_by_role("button", name="Copy", exact=True).last.click()
    expect(page.locator("[data-room-row]")).to_have_count(7)
    measured(page)
    box = page.get_by_label("Laptop 2 Low cut", exact=True)
    box.fill("90 Hz")
    box.press("Enter")
    said(page, "Laptop 2 is changed")
    expect(page.get_by_label("Laptop 2 Low cut", exact=True)).to_have_value("90 Hz")
    page.locator("#sheet").get_by_role("button", name="Remove", exact=True).last.click()
    expect(page.locator("[data-room-row]")).to_have_count(6)


def test_the_kick_is_given_its_room(page, address, copy_of):
    slug = copy_of("sluice-gate")
    checks(page, address, slug, "neighbours")
    expect(page.locator(".check-head")).to_contain_text("Beside Kick")
    assert page.locator('table[aria-label^="Who is louder"] tbody tr').count() > 3
    page.get_by_role("button", name=re.compile("^Duck ")).click()
    said(page, "under the kick")
    duck = saved(page, address, slug)["output"]["duck"]
    assert duck["on"] and duck["depth"] > 3
    expect(page.locator(".check-head")).to_contain_text("under it")


def test_a_new_neighbour_is_the_one_that_is_looked_at(page, address, copy_of, tmp_path):
    slug = copy_of("sluice-gate")
    file = tmp_path / "low line.wav"
    file.write_bytes(wav_bytes(np.stack([tone(55.0, -12.0, 4.0)] * 2)))
    checks(page, address, slug, "neighbours")
    page.locator('#sheet input[type="file"]').set_input_files(str(file))
    expect(page.locator(".check-head")).to_contain_text("Beside low line")
    measured(page)
    page.get_by_label("Another patch beside it").select_option("reed-weir")
    expect(page.locator(".check-head")).to_contain_text("Beside Reed Weir")
    measured(page)
    page.get_by_role("button", name="Kick", exact=True).or_(page.get_by_role("radio", name="Kick", exact=True)).click()
    expect(page.locator(".check-head")).to_contain_text("Beside Kick")


def test_a_reference_is_laid_over_the_patch_and_heard(page, address, copy_of, tmp_path):
    slug = copy_of("sluice-gate")
    file = tmp_path / "near.wav"
    x = np.stack([tone(3000.0, -12.0, 3.0)] * 2)
    file.write_bytes(wav_bytes(x))
    checks(page, address, slug, "reference")
    expect(page.locator(".check-wait")).to_contain_text("Import a record")
    page.locator('#sheet input[type="file"]').set_input_files(str(file))
    said(page, "near is the reference")
    measured(page)
    first = page.locator(".difference").first
    expect(first).to_contain_text("reference")
    first.hover()
    expect(page.locator("#where")).to_have_attribute("data-shown", "true")
    page.locator("#play").click()
    page.get_by_role("button", name="Hear it").click()
    heard(page, lambda found: found["bright"] > 20.0)
    page.get_by_role("button", name="Hear it").click()
    heard(page, lambda found: found["bright"] < 0.0)


def test_the_whole_set_in_one_table(page, address):
    checks(page, address, "sluice-gate", "set")
    begin = page.get_by_role("button", name=re.compile("whole set|Nothing left"))
    begin.click()
    expect(page.locator('[data-set-row="undertow"] td').first.locator("svg[aria-label=fails]")).to_be_visible()
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_role("button", name="Cancel")).to_have_count(0)
    page.locator('[data-set-row="undertow"] a').click()
    expect(page.locator(".check-answer")).to_be_visible()


def test_every_topic_by_keyboard_and_link(page, address):
    checks(page, address, "undertow", "strikes")
    expect(page.get_by_role("tab", name="Repeatability")).to_have_attribute("aria-selected", "true")
    page.keyboard.press("1")
    expect(page.locator("#sheet")).to_have_attribute("data-view", "layers")
    page.keyboard.press("4")
    expect(page.locator("#sheet")).to_have_attribute("data-view", "checks")
    page.get_by_role("tab", name="Low end").focus()
    page.keyboard.press("Enter")
    measured(page)
    expect(page.locator('table[aria-label="Harmonics of every note"]')).to_contain_text("F1")
    assert "topic=low" in page.url
