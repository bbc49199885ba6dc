"""The page while its server is away, and after: what plays, what was set, and what was edited meanwhile."""

import math
import os
import re
import signal

import pytest
from playwright.sync_api import expect

from .hands import body_of, heard, kept, open_patch, said, saved
from .serving import beside, served

pytestmark = pytest.mark.page
BEATS = """() => {
  window.beats = [];
  window.kessel.stream.hear("heard", ({ beat }) => window.beats.push(beat));
  // where a silence of a quarter of a second begins: a gap is shorter
  const silent = (n) => window.beats.length >= n + 12 && window.beats.slice(n, n + 12).every((beat) => beat < 0);
  window.silence = () => window.beats.findIndex((_, n) => n > 0 && window.beats[n - 1] >= 0 && silent(n));
}"""
LEVEL, PAN = "layers.body.level", "layers.body.pan"


@pytest.fixture
def page_of(browser, tmp_path):
    """A page on a server of its own, with a function that stops that server and one that starts it again."""
    first = served(tmp_path)
    process, address = first.__enter__()
    again = []
    context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    page = context.new_page()
    page.set_default_timeout(60_000)

    def stop():
        process.kill()
        process.wait()

    def start():
        again.append(served(tmp_path, port=address.rsplit(":", 1)[1]))
        again[-1].__enter__()

    stop.process = process
    yield page, address, stop, start
    context.close()
    for server in (first, *again):
        server.__exit__(None, None, None)


def value_of(page, path):
    return page.locator(f'#editor [data-value="{path}"]').first


def typed(page, path, text):
    value_of(page, path).fill(text)
    value_of(page, path).press("Enter")


def test_a_playing_page_is_heard_again_as_it_was(page_of):
    page, address, stop, start = page_of
    open_patch(page, address, "sluice-gate")
    page.get_by_role("button", name="Solo Body").click()
    page.locator("#room-pick").select_option("phone")
    page.get_by_role("radio", name="Mono").click()
    page.locator("#play").click()
    page.evaluate("Alpine.store('hands').wheel(96)")
    expect(page.locator("#stream-mode")).to_contain_text("live")
    before = heard(page, lambda found: found["rms"] > 0.001, 60)
    stop()
    said(page, "Kessel does not answer")
    expect(page.locator("#play")).to_have_text("◌ Waiting")
    expect(page.locator("#stream-mode")).to_have_text("stream off")
    page.wait_for_function("Alpine.store('notice').text !== null")
    heard(page, lambda found: found["rms"] < 0.001, 10)
    start()
    expect(page.locator("#stream-mode")).to_contain_text("live")
    expect(page.locator("#play")).to_have_text("■ Stop")
    expect(page.locator("#notice")).not_to_contain_text("does not answer")
    as_before = lambda found: (  # noqa: E731
        abs(20 * math.log10(max(found["rms"], 1e-9) / before["rms"])) < 3
        and abs(found["bright"] - before["bright"]) < 3
    )
    heard(page, as_before, 60)
    expect(page.get_by_role("button", name="Solo Body")).to_have_attribute("aria-pressed", "true")
    expect(page.locator("#room-pick")).to_have_value("phone")
    expect(page.get_by_role("radio", name="Mono")).to_have_attribute("aria-checked", "true")


def test_when_the_processes_beside_it_die_the_page_plays_on_at_the_same_beat(page_of):
    page, address, stop, _ = page_of
    open_patch(page, address, "sluice-gate")
    page.locator("#play").click()
    before = heard(page, lambda found: found["rms"] > 0.02, 60)
    page.evaluate(BEATS)
    page.wait_for_function("() => window.beats.length > 20")
    for pid in beside(stop.process.pid):
        os.kill(pid, signal.SIGKILL)
    page.wait_for_function("() => window.silence() > 0 && window.beats.at(-1) >= 0")
    found, broke = page.evaluate("() => [window.beats, window.silence()]")
    again = next(beat for beat in found[broke:] if beat >= 0)
    # it sent some 50 ms that were not heard any more; two beats last a second
    assert (again - found[broke - 1]) % 8 < 1.0
    expect(page.locator("#stream-mode")).to_contain_text("live")
    expect(page.locator("#play")).to_have_text("■ Stop")
    after = heard(page, lambda found: found["rms"] > 0.5 * before["rms"], 60)
    assert after["rms"] < 2.0 * before["rms"]


def test_edits_wait_in_order_and_are_kept_when_the_server_is_back(page_of):
    page, address, stop, start = page_of
    open_patch(page, address, "sluice-gate", tab="mix")
    stop()
    typed(page, LEVEL, "-7")
    said(page, "One edit waits")
    expect(value_of(page, LEVEL)).to_have_class(re.compile("unsent"))
    typed(page, PAN, "20")
    typed(page, LEVEL, "-9")
    page.get_by_role("button", name="Mute Body").click()
    page.get_by_role("button", name="Octave ↓").click()
    said(page, "5 edits wait")
    start()
    kept(page)
    expect(page.locator(".unsent")).to_have_count(0)
    body = body_of(saved(page, address, "sluice-gate"))
    assert (body["level"], body["pan"], body["mute"]) == (-9.0, 20.0, True)
    page.get_by_role("button", name="History").click()
    expect(page.locator("#side .steps button").first).to_be_visible()
    steps = page.locator("#side .steps button").all_text_contents()
    said_ = [next(i for i, s in enumerate(steps) if word in s) for word in ("→ −7.0", "→ 20 %", "→ −9.0", "octave")]
    assert said_ in (sorted(said_), sorted(said_, reverse=True))


def test_an_edit_that_is_refused_later_shows_what_is_kept_and_why(page_of):
    page, address, stop, start = page_of
    open_patch(page, address, "sluice-gate", tab="mix")
    before = value_of(page, LEVEL).input_value()
    stop()
    typed(page, LEVEL, "loud")
    typed(page, PAN, "20")
    said(page, "2 edits wait")
    assert value_of(page, LEVEL).input_value() == "loud"
    start()
    kept(page)
    expect(value_of(page, LEVEL)).to_have_value(before)
    expect(value_of(page, PAN)).to_have_value("20 %")
    page.get_by_role("button", name="Messages").click()
    expect(page.locator("#notice-list")).to_contain_text("type for example")
