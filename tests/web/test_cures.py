"""Cures through the real page: all at once, one that is heard, and a finding that is wanted."""

import pytest
from playwright.sync_api import expect

from .hands import body_of, heard, open_patch, said, saved

pytestmark = pytest.mark.page


@pytest.mark.parametrize("slug", ["undertow", "slack-water"])
def test_cure_all_cures_says_what_it_did_and_is_one_step(page, address, copy_of, slug):
    slug = copy_of(slug)
    open_patch(page, address, slug, tab="mix")
    before = saved(page, address, slug)
    expect(page.locator("#rail .finding.fails")).to_have_count(1)
    page.get_by_role("button", name="Cure all").click()
    expect(page.locator("#cure-stop")).to_be_visible()
    said(page, "Cure all did this:")
    expect(page.locator("#rail .finding.fails")).to_have_count(0)
    expect(page.locator("#cure-stop")).to_be_hidden()
    assert saved(page, address, slug) != before
    page.keyboard.press("Control+z")
    said(page, "Undo")
    assert saved(page, address, slug) == before


def test_cure_all_is_cancelled_and_nothing_is_changed(page, address, copy_of):
    slug = copy_of("slack-water")
    open_patch(page, address, slug, tab="mix")
    before = saved(page, address, slug)
    page.get_by_role("button", name="Cure all").click()
    page.locator("#cure-stop").click()
    said(page, "nothing is changed")
    assert saved(page, address, slug) == before


def test_a_pair_that_beats_is_found_cured_and_heard(page, address, copy_of):
    slug = copy_of("undertow")
    open_patch(page, address, slug, layer="sub", tab="sources")
    page.get_by_role("button", name="Cure all").click()
    said(page, "Cure all did this:")
    page.locator("#group-pitch").click()
    box = page.locator('#editor [data-value="layers.sub.sources.sine.cents"]')
    box.fill("40")
    box.press("Enter")
    bad = page.locator('#rail .finding.fails[data-check="beats"]')
    expect(bad).to_contain_text("beat")
    page.click("#play")
    heard(page, lambda found: found["rms"] > 0.02)
    bad.locator(".fix", has_text="detune").first.click()
    expect(page.locator('#rail .finding.holds[data-check="beats"]')).to_have_count(1)
    heard(page, lambda found: found["rms"] > 0.02)
    assert body_of(saved(page, address, slug), "sub")["sources"][0]["cents"] == 0.0


def test_a_finding_that_is_wanted_is_worth_a_look_at_most_and_left_alone(page, address, copy_of):
    slug = copy_of("undertow")
    open_patch(page, address, slug, tab="mix")
    finding = page.locator('#rail .finding[data-check="layers-add-up"]').first
    expect(finding).to_have_attribute("data-verdict", "fails")
    reason = finding.get_by_role("textbox")
    reason.fill("it is thin on purpose")
    reason.press("Enter")
    said(page, "Wanted: Sub and the worked path cancel")
    expect(page.locator("#rail .wanted")).to_contain_text("it is thin on purpose")
    expect(page.locator("#rail .finding.fails")).to_have_count(0)
    expect(page.get_by_role("button", name="Cure all")).to_have_count(0)
    page.get_by_role("button", name="is no longer wanted").click()
    expect(page.locator("#rail .finding.fails")).to_have_count(1)
