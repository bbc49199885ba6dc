"""The page under trouble: two tabs on one patch, a full disk, a long import given up, a trim under a level match."""

import json
import resource

import numpy as np
import pytest
import soundfile
from playwright.sync_api import expect

from .hands import body_of, drag, kept, open_patch, rule, said, saved
from .serving import served

pytestmark = pytest.mark.page
LEVEL = "layers.body.level"


def value_of(page, path):
    return page.locator(f'#editor [data-value="{path}"]').first


def test_two_tabs_on_one_patch_show_and_keep_the_same(page, address, copy_of):
    slug = copy_of("sluice-gate")
    other = page.context.new_page()
    for tab in (page, other):
        open_patch(tab, address, slug, tab="place")
    value_of(page, LEVEL).fill("-7")
    value_of(page, LEVEL).press("Enter")
    expect(value_of(other, LEVEL)).to_have_value("−7.0 dB")
    value_of(other, "layers.body.pan").fill("20")
    value_of(other, "layers.body.pan").press("Enter")
    expect(value_of(page, "layers.body.pan")).to_have_value("20 %")
    body = body_of(saved(page, address, slug))
    assert (body["level"], body["pan"]) == (-7.0, 20.0)
    # what is measured stands on both, of the same version
    newest = page.locator("body").get_attribute("data-newest")
    for tab in (page, other):
        expect(tab.locator("#figures")).to_have_attribute("data-version", newest)
        expect(tab.locator("#rail")).to_have_attribute("data-version", newest)
        expect(tab.locator(".older")).to_have_count(0)
    assert page.locator("#loudness").inner_text() == other.locator("#loudness").inner_text()
    other.locator("#undo").click()
    expect(value_of(page, "layers.body.pan")).to_have_value("0 %")
    kept(other)
    other.close()


def test_what_a_full_disk_does_not_take_goes_back(browser, tmp_path):
    with served(tmp_path) as (process, address):
        context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
        page = context.new_page()
        open_patch(page, address, "sluice-gate", tab="place")
        before = value_of(page, LEVEL).input_value()
        limits = resource.prlimit(process.pid, resource.RLIMIT_FSIZE, (1024, resource.RLIM_INFINITY))
        drag(page, rule(page, LEVEL), 0.2)
        page.mouse.up()
        said(page, "Not kept: the disk")
        expect(value_of(page, LEVEL)).to_have_value(before)
        at = float(rule(page, LEVEL).get_attribute("aria-valuenow"))
        assert rule(page, LEVEL).locator(".caret").get_attribute("x") == f"{at:g}%" or at > 20
        resource.prlimit(process.pid, resource.RLIMIT_FSIZE, limits)
        drag(page, rule(page, LEVEL), 0.3)
        page.mouse.up()
        said(page, "Body level")
        expect(value_of(page, LEVEL)).not_to_have_value(before)
        context.close()


def test_a_long_import_shows_how_far_it_is_and_is_given_up_while_it_plays(page, address, copy_of, tmp_path):
    slug = copy_of("undertow")
    path = tmp_path / "a very long take.wav"
    x = 0.1 * np.random.default_rng(2).standard_normal((44100 * 10, 2))
    with soundfile.SoundFile(path, "w", 44100, 2, "PCM_24") as f:
        for _ in range(90):
            f.write(x)
    page.goto(f"{address}/patch/{slug}?view=checks&topic=reference")
    expect(page.locator("#rail")).not_to_have_attribute("data-version", "-1")
    page.locator("#play").click()
    expect(page.locator("#play")).to_have_attribute("aria-pressed", "true")
    page.locator(".upload input[type=file]").first.set_input_files(path)
    expect(page.locator("#importing")).to_contain_text("Reading a very long take.wav")
    page.locator("#importing button").click()
    expect(page.locator("#importing")).to_have_count(0)
    said(page, "was not taken in: it was cancelled")
    assert page.evaluate("window.kessel.player.playing")
    page.locator("#play").click()
    assert page.request.get(f"{address}/patch/{slug}/sheet?view=checks&topic=reference").status == 200
    # the next one comes in
    short = tmp_path / "short.wav"
    soundfile.write(short, x[:44100], 44100)
    page.locator(".upload input[type=file]").first.set_input_files(short)
    said(page, "short is the reference")


def test_a_trim_under_a_level_match_leaves_one_loudness_on_the_page(page, address, copy_of):
    """The match finds its gain after the page has drawn: what stands is the newest, everywhere, and after a reload."""
    slug = copy_of("sluice-gate")
    page.goto(f"{address}/patch/{slug}?view=shaping&layer=body&tab=worked")
    expect(page.locator("#rail")).not_to_have_attribute("data-version", "-1")
    headers = {"origin": address, "content-type": "application/x-www-form-urlencoded"}
    page.request.post(f"{address}/patch/{slug}/add", headers=headers, data="path=worked&kind=distortion")
    added = json.loads(page.request.get(f"{address}/patch/{slug}/patch.json").text())["worked"][-1]
    turn = {"path": f"worked.{added['id']}.trim", "text": "6"}
    page.request.post(f"{address}/patch/{slug}/turn", headers={"origin": address}, data=turn)
    # the match takes back what the trim added: only then is the newest version there
    page.wait_for_function(
        """async ([slug, before]) => {
          const patch = await (await fetch(`/patch/${slug}/patch.json`)).json();
          return patch.worked.at(-1).match < before - 3;
        }""",
        arg=[slug, added["match"]],
    )
    expect(page.locator(".older")).to_have_count(0)
    expect(page.locator("#measuring")).to_be_hidden()
    newest = page.locator("body").get_attribute("data-newest")
    for part in ("#figures", "#rail", "#sheet"):
        expect(page.locator(part)).to_have_attribute("data-version", newest)
    shown = page.locator("#loudness").inner_text(), page.locator("#peak").inner_text()
    page.reload()
    expect(page.locator("#rail")).to_have_attribute("data-version", newest)
    assert (page.locator("#loudness").inner_text(), page.locator("#peak").inner_text()) == shown
