"""What is promised of the sound, heard at the loudspeaker's end of the page: no click, an opened fader, a cure."""

import re
from itertools import cycle

import numpy as np
import pytest
import soundfile
from playwright.sync_api import expect

from kessel.formats import dump_patch

from ..making import layer, note, oscillator, patch
from .hands import heard, open_patch, said, saved
from .serving import made_by, sent

pytestmark = pytest.mark.page
HIGHEST = """async (frames) => {
  const analyser = window.kessel.stream.sound(), wave = new Float32Array(analyser.fftSize);
  let most = 0;
  for (let i = 0; i < frames; i++) {
    await new Promise((done) => setTimeout(done, 80));
    analyser.getFloatTimeDomainData(wave);
    // the fourth difference: nothing of a low sine is left of it
    for (let k = 4; k < wave.length; k++)
      most = Math.max(most, Math.abs(wave[k] - 4 * wave[k - 1] + 6 * wave[k - 2] - 4 * wave[k - 3] + wave[k - 4]));
  }
  return most;
}"""
"""The largest fourth difference of what is heard over so many frames, which overlap."""
GAPS = """async () => {
  // longer than a frame is
  await new Promise((done) => setTimeout(done, 250));
  return window.gaps ?? window.kessel.stream.hear("heard", ({ under }) => { window.gaps = under; });
}"""


@pytest.fixture
def shelved(address):
    """Put a patch onto the shelf; gives its slug."""
    return lambda made: made_by(
        address, lambda: sent(address, "/library/import", "made.json", dump_patch(made).encode())
    )


def held(*layers, **words):
    """A patch that holds one note for 24 seconds."""
    return patch(*layers, tempo=40.0, phrase={"bars": 4, "notes": [note(45, 0, 15.9)]}, **words)


def test_a_switch_does_not_click_while_it_plays(page, address, shelved):
    sine = layer(
        "one", sources=[oscillator("sine", level=-3.0)], stages=[{"kind": "filter", "id": "f", "name": "F"}], level=-6.0
    )
    open_patch(page, address, shelved(held(sine)), layer="one", tab="mix")
    page.click("#play")
    heard(page, lambda found: found["rms"] > 0.1)
    polarity = page.get_by_role("radiogroup", name="One polarity")

    def after(act):
        """What is heard after an act. A busy machine may leave a gap, which clicks too: then it is done again."""
        for _ in range(20):
            gaps = page.evaluate(GAPS)
            if gaps == page.evaluate(GAPS):
                act()
                found = page.evaluate(HIGHEST, 12)
                if gaps == page.evaluate(GAPS):
                    return found
        raise AssertionError("the machine left a gap every time")

    steady = after(lambda: None)
    words = cycle(("Inverted", "Normal"))
    # the corners of a fade over a quantum are 2e-3 at most; a step of -55 dBFS is more
    assert after(lambda: polarity.get_by_text(next(words)).click()) < max(5e-3, 2.0 * steady)


def test_a_layer_at_off_is_opened_by_a_macro(page, address, shelved):
    macro = {"kind": "macro", "id": "open", "name": "Open", "value": 0.0}
    moves = [{"id": "m", "mover": "open", "target": "layers.two.level", "amount": 60.0}]
    two = layer("two", sources=[oscillator("saw", octave=2)], level=-72.0)
    made = held(layer("one", level=-30.0), two, movers=[macro], movements=moves)
    open_patch(page, address, shelved(made), layer="two", tab="mix")
    page.click("#play")
    shut = heard(page, lambda found: found["rms"] > 0.005)
    value = page.locator('#strip-row [data-value="movers.open.value"]')
    value.fill("100")
    value.press("Enter")
    opened = heard(page, lambda found: found["rms"] > 2.0 * shut["rms"])
    value.fill("25")
    value.press("Enter")
    # a quarter of the way is heard, and is less than all of it
    heard(page, lambda found: 1.02 * shut["rms"] < found["rms"] < 0.7 * opened["rms"])


def test_a_cure_of_the_lows_is_heard_in_the_lows(page, address, copy_of):
    slug = copy_of("undertow")
    open_patch(page, address, slug, tab="mix")
    bad = page.locator('#rail .finding.fails[data-check="layers-add-up"]')
    expect(bad).to_have_count(1)
    page.click("#play")
    heard(page, lambda found: found["rms"] > 0.02)
    thin = heard(page, lambda found: True, 60)
    page.get_by_role("button", name="Cure all").click()
    said(page, "Cure all did this:")
    # the lows come up against what lies over 600 Hz
    heard(page, lambda found: found["bright"] < thin["bright"] - 0.7, 60)


def test_what_is_heard_is_taken_as_a_file(page, address, copy_of):
    open_patch(page, address, copy_of("sluice-gate"))
    page.click("#play")
    heard(page, lambda found: found["rms"] > 0.02)
    page.click("#to-file")
    expect(page.locator("#to-file")).to_have_text("■ 0:02", timeout=20000)
    page.click("#to-file")
    expect(page.locator("#to-file")).to_have_text("● To file")
    said(page, "of what you heard is kept")
    for name, kind in (("WAV", "FLOAT"), ("FLAC", "PCM_24")):
        with page.expect_download() as taken:
            page.locator("#tape").get_by_role("link", name=name).click()
        x, rate = soundfile.read(taken.value.path())
        assert soundfile.info(taken.value.path()).subtype == kind and rate == 48000
        assert 1.5 < len(x) / rate < 12.0 and np.sqrt(np.mean(x**2)) > 0.02 and np.abs(x).max() <= 1.0
    page.reload()
    expect(page.locator("#tape").get_by_role("link", name="WAV")).to_be_visible()


DEVICE = """
  window.device = { name: "Desk clock" };
  navigator.requestMIDIAccess = async () => ({ inputs: new Map([["1", window.device]]) });
"""
BEATS = """([bytes, tempo]) => {
  const send = (data, timeStamp) => window.device.onmidimessage({ data: new Uint8Array(data), timeStamp });
  const began = performance.now();
  send(bytes, began);
  if (tempo) window.ticks = setInterval(() => {
    while (window.sent < (performance.now() - began) * tempo * 24 / 60000) send([0xf8], began + 60000 / 24 / tempo * window.sent++);
  }, 10, window.sent = 0);
  else clearInterval(window.ticks);
}"""
"""Let the device send a message, and then ticks at a tempo; without one, no more ticks."""


def test_the_phrase_follows_the_clock_of_a_midi_device(page, address, copy_of):
    page.add_init_script(DEVICE)
    slug = copy_of("salt-press")
    open_patch(page, address, slug, layer="stab")
    page.click("#keys")
    page.locator("#midi-in").click()
    expect(page.locator("#hands-state")).to_have_text("MIDI from Desk clock")
    page.evaluate(BEATS, [[0xFA], 150])
    expect(page.locator("#play")).to_contain_text("Stop")
    expect(page.locator("#clock")).to_contain_text(re.compile(r"follows (149\.9|150\.[01]) BPM, "))
    heard(page, lambda found: found["rms"] > 0.02)
    page.evaluate(BEATS, [[0xFC], None])
    expect(page.locator("#play")).to_contain_text("Play")
    # without ticks it is followed no more
    expect(page.locator("#clock")).to_be_hidden()


def test_the_controller_sends_a_clock_whose_tempo_the_patch_can_take(page, address, copy_of):
    slug = copy_of("salt-press")
    open_patch(page, address, slug, layer="stab")
    page.click("#keys")
    clock = page.get_by_role("group", name="Clock", exact=True)
    field = clock.get_by_label("Clock in BPM")
    for text, stands in (("1000", "120"), ("112", "112")):
        field.fill(text)
        field.press("Enter")
        expect(field).to_have_value(stands)
    clock.get_by_role("button", name="Start").click()
    expect(page.locator("#play")).to_contain_text("Stop")
    page.get_by_role("button", name="Take 112 BPM").click()
    said(page, "112.0 BPM")
    assert saved(page, address, slug)["tempo"] == 112.0
    expect(page.get_by_role("button", name="Take 112 BPM")).to_be_hidden()
    clock.get_by_role("button", name="Stop").click()
    expect(page.locator("#play")).to_contain_text("Play")


def test_a_tempo_is_tapped(page, address, copy_of):
    open_patch(page, address, copy_of("sluice-gate"))
    page.click("#keys")
    page.locator("#tap").focus()
    page.keyboard.press("Space")
    expect(page.locator("#tap")).to_have_text("Tap 1")
    page.keyboard.press("Enter")
    said(page, "tap at least 4 beats")
    page.evaluate("for (let k = 0; k < 6; k++) Alpine.store('hands').tap(5000 + 500 * k)")
    expect(page.locator("#tap")).to_have_text("Tap 6")
    said(page, "Tap the tempo: 120.0 BPM")
    expect(page.locator("#fields input").first).to_have_value("120.0 BPM")
    page.click("#undo")
    expect(page.locator("#fields input").first).to_have_value("132.0 BPM")
