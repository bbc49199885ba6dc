"""The page under trouble: two tabs on one patch, a full disk, a long import given up, a trim under a level match."""

import json
import resource

import numpy as np
import pytest
import soundfile
from playwright.sync_api import expect

from kessel.formats import dump_patch

from ..plausible import heavy
from .hands import body_of, drag, kept, open_patch, rule, said, saved
from .serving import made_by, sent, served

pytestmark = pytest.mark.page
LEVEL = "layers.body.level"


def value_of(page, path):
    return page.locator(f'#editor [data-value="{path}"]').first


def test_two_tabs_on_one_patch_show_and_keep_the_same(page, address, copy_of):
    slug = copy_of("sluice-gate")
    other = page.context.new_page()
    for tab in (page, other):
        open_patch(tab, address, slug, tab="mix")
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
        open_patch(page, address, "sluice-gate", tab="mix")
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
    expect(page.locator("#importing")).to_be_hidden()
    said(page, "was not imported: the import was cancelled")
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
    turned = page.request.post(f"{address}/patch/{slug}/turn", headers={"origin": address}, data=turn).json()
    # the match takes back what the trim added: only then is the newest version there
    page.wait_for_function(
        """async ([slug, before]) => {
          const patch = await (await fetch(`/patch/${slug}/patch.json`)).json();
          return patch.worked.at(-1).match < before - 3;
        }""",
        arg=[slug, added["match"]],
    )
    page.wait_for_function("version => Number(document.body.dataset.newest) > version", arg=turned["version"])
    expect(page.locator(".older")).to_have_count(0)
    expect(page.locator("#measuring")).to_be_hidden()
    newest = page.locator("body").get_attribute("data-newest")
    for part in ("#figures", "#rail", "#sheet"):
        expect(page.locator(part)).to_have_attribute("data-version", newest)
    shown = page.locator("#loudness").inner_text(), page.locator("#peak").inner_text()
    page.reload()
    expect(page.locator("#rail")).to_have_attribute("data-version", newest)
    assert (page.locator("#loudness").inner_text(), page.locator("#peak").inner_text()) == shown


def test_what_is_known_stands_in_every_workspace(page, address, copy_of):
    """The header waited for a drawing that had nothing to wait for, and the topics for the next edit."""
    page.goto(f"{address}/patch/{copy_of('undertow')}?view=checks&topic=reference")
    expect(page.locator("#loudness")).not_to_have_text("…")
    expect(page.locator("#topic-alignment svg")).to_have_count(1)
    shown = page.locator("#loudness").inner_text(), page.locator("#peak").inner_text()
    page.reload()
    expect(page.locator("#rail")).not_to_have_attribute("data-version", "-1")
    assert (page.locator("#loudness").inner_text(), page.locator("#peak").inner_text()) == shown


def test_what_was_stopped_says_so_until_it_goes_on(page, address):
    """Where nothing was known yet, the drawing went on saying that it measures."""
    slug = made_by(address, lambda: sent(address, "/library/import", "heavy.json", dump_patch(heavy()).encode()))
    page.goto(f"{address}/patch/{slug}")
    page.locator("#measuring-stop").click()
    expect(page.locator("#rail")).to_contain_text("Measuring was stopped")
    expect(page.locator("#sheet")).to_contain_text("not measured")
    expect(page.locator("#sheet")).not_to_contain_text("measuring…")
    expect(page.locator("#loudness")).to_have_text("–")
    page.locator("#rail .broken button").click()
    # the drawing comes by itself, though nothing was edited
    expect(page.locator("#sheet")).not_to_contain_text("not measured")
    expect(page.locator("#loudness")).not_to_have_text("–")
    page.request.post(f"{address}/patch/{slug}/measure-stop", headers={"origin": address})


def test_how_far_a_control_went_follows_what_is_measured(page, address, copy_of):
    """The list of movements kept the figures of the version before, and had none when it came before the first."""
    page.goto(f"{address}/patch/{copy_of('ebb-motor')}?view=movement&layer=drone&tab=movements")
    row = page.locator(".movement", has_text="Drone level").first
    expect(row.locator("[data-ran]")).to_contain_text("3.0 dB")
    value = row.locator("[id^=from-]")
    value.fill("-4")
    value.press("Enter")
    expect(row.locator("[data-ran]")).to_contain_text("−4.0 dB")


def test_a_slow_answer_never_stands_in_for_a_newer_one(page, address, copy_of):
    """The part shelf is asked for anew while the answer before it is still on its way: the newest is shown."""
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug, tab="envelope")
    page.get_by_role("button", name="Parts").click()
    expect(page.locator("#side .part-list").first).to_be_visible()
    slow = []
    page.route("**/side/parts*", lambda route: route.continue_() if slow else slow.append((route, route.fetch())))
    page.evaluate("document.body.dispatchEvent(new CustomEvent('redrawn'))")
    while not slow:
        page.evaluate("1")
    headers = {"origin": address, "content-type": "application/x-www-form-urlencoded"}
    kept_part = "kind=envelope&path=layers.body.envelope&name=Slow+tide"
    assert page.request.post(f"{address}/patch/{slug}/keep", headers=headers, data=kept_part).ok
    page.evaluate("document.body.dispatchEvent(new CustomEvent('redrawn'))")
    route, answer = slow[0]
    route.fulfill(response=answer)
    expect(page.get_by_label("Name of Slow tide")).to_be_visible()
