"""The shaping workspace through the real page: build a chain, branch it, reorder it, compare, cure, hear."""

import re

import pytest
from playwright.sync_api import expect

from .hands import box_of, choose, drag, heard, rule, said, saved

pytestmark = pytest.mark.page


def shape(page, address, slug, tab="worked", **words):
    more = "".join(f"&{k}={v}" for k, v in words.items())
    page.goto(f"{address}/patch/{slug}?view=shaping&tab={tab}{more}")
    measured(page)


def measured(page):
    expect(page.locator("#stage-words")).not_to_contain_text("measuring")


def add(page, label, kind):
    page.get_by_label(label, exact=True).select_option(kind)


def chips(page):
    return [c.strip() for c in page.locator("#editor .chip > button:first-child").all_inner_texts()]


def test_a_chain_is_built_branched_and_put_in_another_order(page, address, copy_of):
    slug = copy_of("undertow")
    shape(page, address, slug)
    assert chips(page) == ["Warmth", "Tone", "Even hand"]
    add(page, "Add to the chain", "distortion")
    said(page, "Add Distortion")
    expect(page.locator("#chip-distortion")).to_have_attribute("aria-pressed", "true")
    made = saved(page, address, slug)["worked"][-1]
    assert made["matched"] and abs(made["match"]) > 0.02
    expect(page.locator("#stage-words")).to_contain_text("as loud as before")
    # into a branch, where only a band goes through it
    page.get_by_role("button", name="Branch", exact=True).click()
    said(page, "Branch around Distortion")
    expect(page.locator('[data-handle="worked.branch.split_1"]')).to_be_visible()
    branch = saved(page, address, slug)["worked"][-1]
    assert [w["name"] for w in branch["paths"]] == ["Low", "High"]
    assert [i["kind"] for i in branch["paths"][1]["items"]] == ["distortion"]
    page.get_by_role("button", name="⤷ Low").click()
    add(page, "Add to Low", "compressor")
    said(page, "Add Compressor")
    expect(page.locator("figure", has_text="Static curve")).to_be_visible()
    assert [i["kind"] for i in saved(page, address, slug)["worked"][-1]["paths"][0]["items"]] == ["compressor"]
    # with the keys, and dragged
    page.locator("#chip-branch").focus()
    page.keyboard.press("Alt+ArrowLeft")
    said(page, "Move Branch")
    assert [i["id"] for i in saved(page, address, slug)["worked"]] == ["warm", "tone", "branch", "hold"]
    expect(page.locator("#editor .chip").nth(2)).to_contain_text("Branch")
    first, branch = box_of(page.locator("#chip-warm")), box_of(page.locator("#chip-branch"))
    page.mouse.move(branch["x"] + 8, branch["y"] + 8)
    page.mouse.down()
    page.mouse.move(first["x"] + 8, first["y"] + 8, steps=8)
    page.mouse.up()
    expect(page.locator("#editor .chip").first).to_contain_text("Branch")
    assert [i["id"] for i in saved(page, address, slug)["worked"]] == ["branch", "warm", "tone", "hold"]


def test_what_a_stage_does_is_seen_and_it_can_be_compared_as_loud(page, address, copy_of):
    slug = copy_of("sluice-gate")
    shape(page, address, slug, item="grit")
    page.get_by_label("Start from", exact=True).select_option("Mids only")
    said(page, "Grit: Mids only")
    measured(page)
    expect(page.locator("figure", has_text="Transfer curve")).to_be_visible()
    expect(page.locator("figure", has_text="Harmonics").locator("g")).to_have_count(10)
    page.get_by_role("radiogroup", name="Grit level match").get_by_text("On").click()
    expect(page.locator("#stage-words")).to_contain_text("as loud as before")
    page.click("#play")
    expect(page.locator("#stream-mode")).to_contain_text("live")
    with_it = heard(page, lambda found: found["rms"] > 0.02, 40)
    page.get_by_role("button", name="Without it").click()
    without = heard(page, lambda found: with_it["bright"] > found["bright"] + 1.2, 40)
    assert 0.6 < without["rms"] / with_it["rms"] < 1.7
    page.get_by_role("button", name="Without it").click()
    # gone and back: B held takes all chains away
    page.keyboard.down("b")
    expect(page.get_by_role("button", name="Bare")).to_have_attribute("aria-pressed", "true")
    page.keyboard.up("b")
    expect(page.get_by_role("button", name="Bare")).to_have_attribute("aria-pressed", "false")


def test_a_level_match_that_takes_the_drive_back_says_so_and_lets_it_through(page, address, copy_of):
    slug = copy_of("sluice-gate")
    shape(page, address, slug, item="grit")
    page.get_by_role("radiogroup", name="Grit level match").get_by_text("On").click()
    page.get_by_role("radiogroup", name="Grit auto level").get_by_text("Off").click()
    measured(page)
    says = page.get_by_role("button", name=re.compile("Match takes .* dB: let it through"))
    expect(says).to_be_visible(timeout=20000)
    says.click()
    said(page, "Grit without level match")
    expect(says).to_have_count(0)
    assert not next(i for i in saved(page, address, slug)["worked"] if i["id"] == "grit")["matched"]


def test_a_mix_is_dragged_and_an_eq_band_taken_by_its_handle(page, address, copy_of):
    slug = copy_of("sluice-gate")
    shape(page, address, slug, item="mud")
    handle = page.locator('[data-handle="worked.mud.bands.b1.frequency"]')
    handle.focus()
    page.keyboard.press("ArrowRight")
    said(page, "frequency 310 Hz →")
    assert saved(page, address, slug)["worked"][1]["bands"][0]["frequency"] > 320
    drag(page, rule(page, "worked.mud.mix"), 0.4)
    page.mouse.up()
    said(page, "mix 100 % → 40 %")


def test_two_settings_side_by_side_and_blind(page, address, copy_of):
    slug = copy_of("salt-press")
    shape(page, address, slug)
    page.get_by_role("button", name="Store A").click()
    said(page, "Stored as A")
    page.locator("#chip-punch").click()
    page.get_by_label("Start from", exact=True).select_option("Clamp")
    said(page, "Punch: Clamp")
    page.get_by_role("button", name="Store B").click()
    said(page, "Stored as B")
    page.get_by_role("button", name="Blind").click()
    for n in ("1", "2", "1"):
        expect(page.locator(".pair")).to_contain_text("round")
        page.get_by_role("button", name=n, exact=True).click()
        expect(page.get_by_role("button", name=n, exact=True)).to_have_attribute("aria-pressed", "true")
        # what is compared stays so when another page, or a level match that found its gain, makes a version
        elsewhere = {"path": "layers.stab.level", "steps": -1}
        turned = page.request.post(f"{address}/patch/{slug}/turn", headers={"origin": address}, data=elsewhere).json()
        page.wait_for_function("v => Number(document.body.dataset.newest) >= v", arg=turned["version"])
        expect(page.get_by_role("button", name=n, exact=True)).to_have_attribute("aria-pressed", "true")
        before = page.locator(".pair b").inner_text()
        page.get_by_role("button", name=f"{n} is better").click()
        expect(page.locator(".pair b").first).not_to_have_text(before)
    expect(page.locator(".tally")).to_contain_text("better")
    page.get_by_role("button", name="Use A").click()
    said(page, "Use setting A")
    assert saved(page, address, slug)["worked"][2]["threshold"] == -22.0


def test_every_band_turns_at_once_and_one_is_heard_alone(page, address, copy_of):
    slug = copy_of("sluice-gate")
    shape(page, address, slug, item="deck")
    choose(page.get_by_role("tab", name="Every", exact=True))
    each = "worked.deck.bands.*.down_threshold"
    before = [b["down_threshold"] for b in saved(page, address, slug)["worked"][2]["bands"]]
    page.locator(f'#editor [data-rule="{each}"]').focus()
    page.keyboard.press("PageDown")
    said(page, "upper threshold −20.0")
    after = [b["down_threshold"] for b in saved(page, address, slug)["worked"][2]["bands"]]
    moved = {round(b - a, 3) for a, b in zip(before, after, strict=True)}
    assert len(moved) == 1 and moved.pop() < 0
    page.locator(f'#editor [data-value="{each}"]').fill("-41.5")
    page.keyboard.press("Enter")
    said(page, "→ −41.5 dB")
    assert {b["down_threshold"] for b in saved(page, address, slug)["worked"][2]["bands"]} == {-41.5}
    # one band of the EQ, by what it takes away
    page.locator("#chip-mud").click()
    expect(page.locator("#stage-words")).to_contain_text("crest")
    before = page.locator("#stage-words").inner_text()
    page.get_by_role("radiogroup", name="solo").get_by_text("On").click()
    said(page, "solo off → on")
    expect(page.locator("#stage-words")).to_contain_text("softer")
    expect(page.locator("#stage-words")).not_to_have_text(before)


def test_a_clipping_stage_is_named_and_cured_by_its_fix(page, address, copy_of):
    slug = copy_of("mud-lantern")
    shape(page, address, slug, item="shape")
    page.locator('#editor [data-value="worked.shape.trim"]').fill("12")
    page.keyboard.press("Enter")
    said(page, "trim 0.0 dB → 12.0 dB")
    finding = page.locator(".finding", has_text="Shape on the worked path is the first stage over the clip point")
    expect(finding).to_be_visible()
    expect(page.locator(".cell.clips", has_text="Shape")).to_have_count(1)
    # its evidence is one step away from anywhere
    page.get_by_role("link", name="1 Layers").click()
    expect(page.locator("#sheet")).to_have_attribute("data-view", "layers")
    finding.get_by_role("button", name="See the evidence").click()
    expect(page.locator("#sheet")).to_have_attribute("data-view", "shaping")
    expect(page.locator('#editor [data-value="worked.shape.trim"]')).to_be_visible()
    finding.locator(".fix").first.click()
    expect(finding).to_have_count(0)
    expect(page.locator(".cell.clips", has_text="Shape")).to_have_count(0)


def test_returns_are_sent_to_and_heard(page, address, copy_of):
    slug = copy_of("undertow")
    shape(page, address, slug, tab="returns")
    page.locator('#editor [data-value="layers.body.sends.echo.level"]').fill("-6")
    page.keyboard.press("Enter")
    said(page, "−6.0 dB")
    expect(page.locator(".stage-group", has_text="Echo")).to_be_visible()
    page.get_by_role("radio", name="Space").last.click()
    expect(page.locator('#editor [data-value="layers.body.sends.space.level"]')).to_be_visible()


def test_the_output_stage_shows_what_it_takes(page, address, copy_of):
    slug = copy_of("ebb-motor")
    shape(page, address, slug, tab="output")
    page.locator('#editor [data-choose="output.duck.on"][data-word="on"]').click()
    said(page, "duck off → on")
    expect(page.locator(".trace", has_text="Duck")).to_be_visible()
    page.locator('#editor [data-value="output.gain"]').fill("9")
    page.keyboard.press("Enter")
    expect(page.locator(".trace", has_text="Ceiling")).to_be_visible()
    expect(page.locator("#stage-words")).to_contain_text("largest reduction")
