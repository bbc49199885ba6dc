"""A bass built from nothing through the real pages, by mouse and by keyboard; waves, samples, phrases, the controller."""

import re
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import expect

from kessel.formats import midi_bytes, phrase_from_midi, wav_bytes
from kessel.patch import IDIOMS, Phrase, phrase_of

from .hands import body_of, box_of, choose, drag, heard, kept, names, new_patch, open_patch, rule, said, saved

pytestmark = pytest.mark.page

PEAK = """async (frames) => {
  for (let i = 0; !window.kessel.stream.sound(); i++) {
    if (i > 1500) throw new Error("nothing is played");
    await new Promise((done) => setTimeout(done, 20));
  }
  const analyser = window.kessel.stream.sound();
  const bins = new Float32Array(analyser.frequencyBinCount);
  const power = new Float64Array(bins.length);
  for (let i = 0; i < frames; i++) {
    await new Promise((done) => setTimeout(done, 40));
    analyser.getFloatFrequencyData(bins);
    bins.forEach((db, k) => { power[k] += 10 ** (db / 10); });
  }
  let best = 1;
  for (let k = 2; k < power.length; k++) if (power[k] > power[best]) best = k;
  const a = Math.sqrt(power[best - 1]), b = Math.sqrt(power[best]), c = Math.sqrt(power[best + 1]);
  return ((best + (c - a) / (2 * (2 * b - a - c))) * 48000) / analyser.fftSize;
}"""


def pitched(page, hz, rel=0.01):
    """Wait until the highest peak of the spectrum that is heard is at this frequency."""
    for _ in range(60):
        found = page.evaluate(PEAK, 8)
        if found == pytest.approx(hz, rel=rel):
            return
    raise AssertionError(f"{found:.1f} Hz is heard, not {hz:.1f}")


def group(page, name):
    choose(page.locator(".groups").get_by_role("tab", name=name, exact=True))


def test_a_source_gets_an_amp_envelope_and_the_patch_goes_down_an_octave(page, address, copy_of):
    slug = copy_of("undertow")
    open_patch(page, address, slug, tab="sources")
    page.get_by_role("tab", name="Amp", exact=True).click()
    page.get_by_role("button", name="New envelope").click()
    said(page, re.compile("Amp envelope for "))
    made = saved(page, address, slug)
    envelope = made["movers"][-1]
    shaped = [s for x in made["layers"] for s in x["sources"] if s["envelope"] == envelope["id"]]
    assert len(shaped) == 1 and envelope["name"] == f"{shaped[0]['name']} amp"
    sustain = page.get_by_label(re.compile("amp sustain value"))
    sustain.fill("-6 dB")
    sustain.press("Enter")
    expect(sustain).to_have_value("50.1 %")
    # the other source shares it by its name
    page.locator("#chip-reed").click()
    page.locator("#c-layers-body-sources-reed-envelope").select_option(label=envelope["name"])
    expect(page.locator("#editor")).to_contain_text(f"{envelope['name']} also shapes Body: {shaped[0]['name']}")
    page.locator("#tab-output").click()
    page.get_by_role("button", name="Patch octave ↓").click()
    said(page, "Whole patch an octave down")
    assert {x["play"]["transpose"] for x in saved(page, address, slug)["layers"]} == {-12}


def test_a_four_layer_bass_by_mouse_alone(page, address):
    slug = new_patch(page, address)
    page.click("#play")
    for name in ("Body", "Edge", "Click"):
        page.get_by_role("button", name="+ Layer").click()
        expect(page.get_by_label("Layer name")).to_have_value(re.compile("^Layer"))
        page.get_by_label("Layer name").fill(name)
        page.locator(".editor-head svg").click()
        expect(page.locator(".strip.layer", has_text=name)).to_have_count(1)
    page.get_by_role("button", name="Body", exact=True).click()
    expect(page.get_by_label("Layer name")).to_have_value("Body")
    page.get_by_role("button", name="+ Oscillator").click()
    said(page, "Add Oscillator")
    drag(page, rule(page, "layers.layer.sources.oscillator.level"), 0.45)
    page.mouse.up()
    said(page, "Oscillator level 0.0 dB → −1")
    choose(page.get_by_role("tab", name="Voices"))
    drag(page, rule(page, "layers.layer.unison.copies"), 0.4)
    page.mouse.up()
    # the sine it came with sounds in the lows, and stays single
    said(page, re.compile("unison voices 1 → 7, .*Sine unison on → off"))
    choose(page.get_by_role("tab", name="Stages"))
    page.get_by_role("button", name="+ Filter").click()
    said(page, "Add Filter")
    page.get_by_role("button", name="Click", exact=True).click()
    choose(page.get_by_role("tab", name="Sources"))
    page.get_by_role("button", name="+ Sample").click()
    expect(page.get_by_label("Click Sample audio")).to_have_value("click:tick")
    page.get_by_role("button", name="Sine", exact=True).click()
    page.get_by_role("button", name="Remove Sine").click()
    expect(page.locator("#strip-layer-3 .words-line")).to_contain_text("sample “Tick”")
    # the click is taken to the bottom by its hatch
    grip, goal = (box_of(page.locator(f'[data-drag-layer="{i}"]')) for i in ("layer-3", "sub"))
    page.mouse.move(grip["x"] + 10, grip["y"] + 10)
    page.mouse.down()
    page.mouse.move(goal["x"] + 10, goal["y"] + 12, steps=8)
    page.mouse.up()
    said(page, "Move Click")
    assert names(page) == ["Click", "Sub", "Body", "Edge"]
    heard(page, lambda found: found["rms"] > 0.05)
    # and all of it is taken back
    page.get_by_role("button", name="History").click()
    page.get_by_role("button", name="Start").click()
    expect(page.locator(".strip.layer")).to_have_count(1)
    assert names(page) == ["Sub"]
    page.reload()
    page.keyboard.press("Control+Shift+z")
    expect(page.locator(".strip.layer")).to_have_count(2)
    assert slug in page.url


def test_a_wave_is_drawn_and_heard(page, address):
    slug = new_patch(page, address)
    page.locator("#tab-wave").click()
    page.click("#play")
    dull = heard(page, lambda found: found["rms"] > 0.02, 30)["bright"]
    expect(page.locator("#wave-bars")).to_be_visible()
    box = box_of(page.locator("#wave-bars"))
    at = lambda k, y: (box["x"] + box["width"] * (k - 0.5) / 64, box["y"] + box["height"] * y)  # noqa: E731
    page.mouse.move(*at(12, 0.3))
    page.mouse.down()
    page.mouse.move(*at(30, 0.25), steps=14)
    heard(page, lambda found: found["bright"] > dull + 15)
    assert saved(page, address, slug)["waves"] == []
    page.mouse.up()
    said(page, "Harmonics of")
    source = saved(page, address, slug)["layers"][0]["sources"][0]
    assert (source["shape"], source["wave"]) == ("drawn", saved(page, address, slug)["waves"][0]["id"])
    expect(page.locator("#strip-sub .words-line")).to_contain_text("“First three”")
    # the cycle, a frame more, a morph, and the keys
    face = box_of(page.locator("#wave-cycle"))
    page.mouse.move(face["x"] + 10, face["y"] + 10)
    page.mouse.down()
    page.mouse.move(face["x"] + 200, face["y"] + 60, steps=10)
    page.mouse.up()
    said(page, "Draw on")
    for _ in range(2):
        count = page.locator(".frame").count()
        page.get_by_role("button", name="Duplicate", exact=True).last.click()
        expect(page.locator(".frame")).to_have_count(count + 1)
    page.get_by_role("button", name="Reverse").click()
    said(page, "Reverse")
    page.get_by_role("option", name="Frame 1").click()
    expect(page.get_by_role("option", name="Frame 1")).to_have_attribute("aria-selected", "true")
    # what is typed but not yet used outlives a redraw
    page.get_by_label("Last frame of the morph").fill("1")
    page.get_by_role("option", name="Frame 3").click()
    expect(page.get_by_role("option", name="Frame 3")).to_have_attribute("aria-selected", "true")
    expect(page.get_by_label("Last frame of the morph")).to_have_value("1")
    page.get_by_role("button", name="Morph").click()
    said(page, "Morph frames of")
    page.locator("#wave-bars").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowUp")
    said(page, "Harmonics of")
    with page.expect_download() as got:
        page.get_by_role("link", name="Export WAV").click()
    assert got.value.suggested_filename == "first-three.wav"
    page.get_by_label("From a file").set_input_files(got.value.path())
    expect(page.locator(".wave-offer")).to_contain_text("3072 samples at 48 kHz: 3 frames")
    page.get_by_role("button", name="The whole file as one cycle").click()
    expect(page.get_by_label("1 frames")).to_be_visible()
    page.get_by_role("button", name="Frames of one length").click()
    page.get_by_label("Samples a frame").fill("1024")
    page.get_by_label("Samples a frame").press("Enter")
    expect(page.get_by_label("3 frames")).to_be_visible()
    page.get_by_role("button", name="Take it").click()
    kept(page)
    expect(page.locator(".frame")).to_have_count(3)
    assert len(saved(page, address, slug)["waves"]) == 2


def test_the_stock_is_stepped_through_by_the_arrows_while_it_sounds(page, address):
    slug = new_patch(page, address)
    page.get_by_label("Sub Sine shape").select_option("drawn")
    page.click("#play")
    pick = page.get_by_label("Sub Sine wave")
    pick.focus()
    before = heard(page, lambda found: found["rms"] > 0.02)["bright"]
    for wave in ("stock:first-five", "stock:odd-four", "stock:octave-stack"):
        page.keyboard.press("ArrowDown")
        expect(pick).to_have_value(wave)
        expect(pick).to_be_focused()
    said(page, "Octave stack")
    assert saved(page, address, slug)["layers"][0]["sources"][0]["wave"] == "stock:octave-stack"
    heard(page, lambda found: abs(found["bright"] - before) > 1.0)


def test_a_sample_is_imported_and_bad_files_are_answered(page, address, tmp_path):
    slug = new_patch(page, address)
    page.get_by_role("button", name="+ Sample").click()
    expect(page.get_by_label("Sub Sample audio")).to_be_visible()
    t = np.arange(144000) / 48000
    (tmp_path / "Tape hit.wav").write_bytes(wav_bytes(0.8 * np.sin(2 * np.pi * 98.0 * t)[None, :]))
    (tmp_path / "junk.wav").write_bytes(b"RIFF nothing")
    page.get_by_label("Import audio").set_input_files(tmp_path / "junk.wav")
    said(page, "junk.wav can't be read as audio")
    page.get_by_label("Import audio").set_input_files(tmp_path / "Tape hit.wav")
    said(page, "plays Tape hit")
    source = saved(page, address, slug)["layers"][0]["sources"][1]
    assert source["root"] == pytest.approx(98.0, rel=1e-3) and source["title"] == "Tape hit"
    group(page, "Pitch")
    page.get_by_role("radio", name="Note", exact=True).click()
    expect(page.get_by_label("Sub Sample root value")).to_have_value("98 Hz")
    page.get_by_role("button", name="Solo source").click()
    page.get_by_role("button", name="Keys").click()
    page.keyboard.press("x")
    page.keyboard.down("h")
    pitched(page, 110.0, rel=0.02)


def grid(page, beat, pitch):
    """Where a beat and a pitch stand on the note editor."""
    # one look, so that a redrawn panel is not half seen
    box, beats, top, rows = page.evaluate(
        """() => { const p = document.getElementById("phrase-panel"), b = document.getElementById("notes").getBoundingClientRect();
          return [{ x: b.x, y: b.y, width: b.width, height: b.height }, +p.dataset.beats, +p.dataset.top, +p.dataset.rows]; }"""
    )
    return box["x"] + box["width"] * beat / beats, box["y"] + box["height"] * (top - pitch + 0.5) / rows


def stroke(page, a, b):
    page.mouse.move(*a)
    page.mouse.down()
    page.mouse.move(*b, steps=8)
    page.mouse.up()


def test_the_phrase_is_edited_by_hand(page, address):
    slug = new_patch(page, address)
    page.get_by_role("button", name="Phrase edit").click()
    notes = page.locator("[data-note]")
    expect(notes).to_have_count(6)
    stroke(page, grid(page, 5.55, 32), grid(page, 5.9, 32))
    said(page, "Draw A♭1")
    expect(notes).to_have_count(7)
    stroke(page, grid(page, 5.6, 32), grid(page, 5.6, 34))
    said(page, "Move A♭1")
    x, y = grid(page, 5.99, 34)
    stroke(page, (x - 2, y), (grid(page, 6.49, 34)[0] - 2, y))
    said(page, "Length of B♭1")
    found = saved(page, address, slug)["phrase"]["notes"][-1]
    assert (found["pitch"], found["start"], found["length"]) == (34, 5.5, 1.0)
    expect(page.locator(".slides")).to_have_count(2)
    note = page.locator(f"#note-{found['id']}")
    note.focus()
    for key in ("Shift+ArrowDown", "ArrowUp", "ArrowLeft", "Shift+ArrowLeft"):
        label = page.locator("#notice").text_content()
        page.keyboard.press(key)
        expect(page.locator("#notice")).not_to_have_text(label)
        expect(note).to_be_focused()
    found = saved(page, address, slug)["phrase"]["notes"][-1]
    assert (found["pitch"], found["start"], found["length"], found["velocity"]) == (35, 5.25, 0.75, 92)
    page.get_by_role("radio", name="bend").click()
    expect(page.locator("#lane[data-lane=bend]")).to_be_visible()
    lane = box_of(page.locator("#lane"))
    stroke(page, (lane["x"] + 20, lane["y"] + 29), (lane["x"] + 400, lane["y"] + 2))
    said(page, "Draw the bend lane")
    assert saved(page, address, slug)["phrase"]["bend"][-1]["value"] > 0.8
    page.get_by_label("Snap").select_option("1/8t")
    expect(page.locator("#phrase-panel")).to_have_attribute("data-snap", "1/8t")
    page.get_by_label("Transpose the phrase by −12").click()
    said(page, "Phrase −12 st")
    note.focus()
    page.keyboard.press("Delete")
    expect(notes).to_have_count(6)
    for _ in range(10):
        page.keyboard.press("Control+z")
    said(page, "Undone: Draw A♭1")
    expect(notes).to_have_count(6)
    assert saved(page, address, slug)["phrase"]["bend"] == []
    # exact values are typed, for a note and for a point of a lane
    page.locator("[data-note]").first.click()
    for field, text, words in (("pitch", "G1", "G1"), ("start", "2.5", "2.5"), ("velocity", "33", "33")):
        exact = page.get_by_label(f"Exact {field}")
        exact.fill(text)
        exact.press("Enter")
        said(page, re.compile(rf"{field.capitalize()} of .* {words}$"))
    assert (31, 1.5, 33) in [
        (n["pitch"], n["start"], n["velocity"]) for n in saved(page, address, slug)["phrase"]["notes"]
    ]
    page.get_by_role("radio", name="wheel").click()
    page.get_by_role("button", name="Ramp", exact=True).click()
    said(page, "Ramp in the wheel lane")
    page.get_by_label("Beat of the point").fill("3")
    point = page.get_by_label("Value of the point")
    point.fill("80 %")
    point.press("Enter")
    said(page, "Wheel at beat 3: 80 %")
    assert {"beat": 2.0, "value": 0.8} in saved(page, address, slug)["phrase"]["wheel"]


def test_midi_files_in_and_out(page, address, tmp_path):
    slug = new_patch(page, address)
    page.keyboard.press("p")
    idiom = next(i for i in IDIOMS if i.slug == "rolling")
    phrase = phrase_of(idiom, Phrase(root="G"))
    (tmp_path / "roll.mid").write_bytes(midi_bytes(phrase, 174.0, "Roll"))
    page.get_by_label("Import MIDI").set_input_files(tmp_path / "roll.mid")
    said(page, "Phrase from roll.mid")
    expect(page.locator("[data-note]")).to_have_count(len(phrase.notes))
    expect(page.get_by_label("Tempo")).to_have_value("174.0 BPM")
    with page.expect_download() as got:
        page.get_by_role("link", name="Export MIDI").click()
    back = phrase_from_midi(Path(got.value.path()).read_bytes(), "x", phrase)
    assert [(n.start, n.pitch) for n in back.phrase.notes] == [(n.start, n.pitch) for n in phrase.notes]
    (tmp_path / "bad.mid").write_bytes(b"MThd and no more")
    page.get_by_label("Import MIDI").set_input_files(tmp_path / "bad.mid")
    said(page, "bad.mid can't be read: give a standard MIDI file")
    assert len(saved(page, address, slug)["phrase"]["notes"]) == len(phrase.notes)
    page.get_by_label("Built-in phrases").select_option("half-step")
    said(page, "Phrase “Half-step hits”")


def test_the_controller_is_played_and_measured(page, address):
    """The shipped controller: keys, bend, wheel and sliders, as sound."""
    slug = new_patch(page, address)
    page.get_by_role("button", name="Keys").click()
    expect(page.get_by_role("region", name="Controller")).to_be_visible()
    key = box_of(page.locator('#piano [data-pitch="57"]'))
    page.mouse.move(key["x"] + 5, key["y"] + key["height"] - 8)
    page.mouse.down()
    pitched(page, 220.0)
    page.evaluate("() => Alpine.store('hands').bend(100)")
    pitched(page, 220.0 * 2 ** (2 / 12))
    page.evaluate("() => Alpine.store('hands').bend(0)")
    page.mouse.up()
    heard(page, lambda found: found["rms"] < 0.001, 5)
    # the wheel on a hand of its own, a slider on a macro
    choose(page.get_by_role("tab", name="Movers"))
    page.get_by_role("button", name="+ Performance").click()
    page.get_by_label("Move with it").select_option("layers.sub.sources.sine.level")
    said(page, "Sub Sine level moves by Performance")
    page.keyboard.press("a")
    page.keyboard.down("a")
    before = heard(page, lambda found: found["rms"] > 0.02)["rms"]
    page.get_by_label("Wheel").fill("127")
    heard(page, lambda found: found["rms"] < 0.5 * before or found["rms"] > 1.5 * before)
    page.keyboard.up("a")
    page.locator("#editor").get_by_role("button", name="+ Macro").click()
    expect(page.get_by_label("Macro value", exact=False).first).to_be_visible()
    page.get_by_label("Slider 1").fill("127")
    said(page, "Macro value 0 % → 100 %")
    assert next(m for m in saved(page, address, slug)["movers"] if m["kind"] == "macro")["value"] == 100.0


def test_a_slider_learns_a_control_by_touching_both(page, address, copy_of):
    slug = copy_of("undertow")
    open_patch(page, address, slug)
    path = "layers.body.stages.tone.resonance"
    page.get_by_role("button", name="Keys").click()
    page.get_by_role("button", name="Learn").click()
    page.get_by_label("Slider 3").fill("60")
    rule(page, path).click()
    said(page, "Slider 3 turns Body Tone resonance")
    expect(page.get_by_role("group", name="What controllers turn")).to_contain_text("Slider 3 Body Tone resonance")
    page.get_by_label("Slider 3").fill("127")
    said(page, re.compile("Body Tone resonance .* → 36.0 dB"))
    assert saved(page, address, slug)["bindings"] == [{"id": "controller-18", "controller": 18, "target": path}]
    # the other way round, at the control
    rule(page, "layers.body.stages.tone.cutoff").click(modifiers=["Alt"])
    page.get_by_role("dialog", name="Body Tone cutoff").get_by_role("button", name="Learn").click()
    page.get_by_label("Slider 5").fill("10")
    said(page, "Slider 5 turns Body Tone cutoff")
    page.get_by_role("button", name="Unbind controller 18").click()
    said(page, "Free Slider 3")
    assert [b["controller"] for b in saved(page, address, slug)["bindings"]] == [20]


def test_a_source_is_dragged_to_another_layer(page, address, copy_of):
    slug = copy_of("undertow")
    open_patch(page, address, slug, tab="sources")
    chip, goal = page.locator("#chip-reed"), page.locator("#strip-sub")
    start, end = box_of(chip), box_of(goal)
    before = saved(page, address, slug)
    page.mouse.move(start["x"] + 8, start["y"] + 8)
    page.mouse.down()
    page.mouse.move(end["x"] + 90, end["y"] + 20, steps=8)
    expect(goal).to_have_class(re.compile("drop-here"))
    page.mouse.up()
    said(page, "Move Reed saw to Sub")
    expect(page.get_by_label("Layer name")).to_have_value("Sub")
    found = saved(page, address, slug)
    assert "Reed saw" in [s["name"] for s in body_of(found, "sub")["sources"]]
    assert "Reed saw" not in [s["name"] for s in body_of(found)["sources"]]
    page.keyboard.press("Control+z")
    said(page, "Undone")
    assert saved(page, address, slug)["layers"] == before["layers"]


def test_parts_are_kept_put_in_copied_and_frozen(page, address):
    slug = new_patch(page, address, "four")
    expect(page.locator(".strip.layer")).to_have_count(4)
    page.get_by_role("button", name="Parts").click()
    page.get_by_role("button", name="Insert Bell edge").click()
    expect(page.locator(".strip.layer")).to_have_count(5)
    expect(page.get_by_label("Layer name")).to_have_value("Bell edge")
    choose(page.get_by_role("tab", name="Amp envelope"))
    page.get_by_role("button", name="Keep", exact=True).click()
    said(page, "on the part shelf")
    mine = page.get_by_label("Name of Bell edge amp envelope").last
    mine.fill("My pluck")
    mine.press("Enter")
    expect(page.get_by_role("button", name="Insert My pluck")).to_be_visible()
    page.locator("#layer-drop summary").click()
    page.get_by_role("button", name="Copy layer").click()
    said(page, "Copied Bell edge")
    other = new_patch(page, address)
    page.locator("#layer-drop summary").click()
    page.get_by_role("button", name="Paste layer Bell edge").click()
    expect(page.locator(".strip.layer")).to_have_count(2)
    page.locator("#layer-drop summary").click()
    page.get_by_role("button", name="Freeze the phrase").click()
    expect(page.locator(".strip.layer")).to_have_count(3)
    frozen = saved(page, address, other)["layers"][-1]
    assert (frozen["sources"][0]["kind"], frozen["play"]["mode"]) == ("sample", "drone")
    name = saved(page, address, other)["name"]
    page.goto(f"{address}/library")
    same = page.get_by_role("article", name=name, exact=True)
    count = same.count()
    row = page.get_by_role("article").filter(has=page.locator(f'a[href="/patch/{other}/export"]'))
    with page.expect_download() as got:
        row.get_by_role("link", name="Patch file").click()
    assert got.value.suggested_filename.endswith(".zip")
    page.get_by_label("Import a patch file").set_input_files(got.value.path())
    expect(same).to_have_count(count + 1)
    expect(page.get_by_role("alert")).to_have_count(0)
    assert slug != other


def test_backing_plays_beside_and_a_source_follows_the_hand(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug, tab="sources")
    page.get_by_role("button", name="Backing").click()
    side = page.get_by_role("region", name="Backing")
    side.get_by_role("radio", name="On").click()
    said(page, "off → on")
    page.get_by_label("Beat level value").fill("0")
    page.get_by_label("Beat level value").press("Enter")
    page.get_by_role("button", name="Mute Body").click()
    page.click("#play")
    heard(page, lambda found: found["rms"] > 0.05)
    expect(page.locator("#scope-words")).to_contain_text("peak −")
    group(page, "Shape")
    page.get_by_role("radio", name="Minus").click()
    figure = page.locator("#source-drawing .cycle")
    page.wait_for_selector("#source-drawing")
    expect(rule(page, "layers.body.sources.square.twin_shift")).to_be_visible()
    before = figure.get_attribute("d")
    drag(page, rule(page, "layers.body.sources.square.twin_shift"), 0.2)
    expect(figure).not_to_have_attribute("d", before)
    page.mouse.up()
    said(page, "twin shift 180° →")


def test_keys_are_recorded_into_the_phrase_through_the_page(page, address):
    slug = new_patch(page, address)
    before = saved(page, address, slug)["phrase"]["notes"]
    page.get_by_role("button", name="Keys").click()
    page.get_by_role("button", name="Rec").click()
    said(page, "press Play first")
    page.click("#play")
    heard(page, lambda found: found["rms"] > 0.02)
    page.get_by_role("button", name="Rec").click()
    expect(page.locator("#record")).to_have_attribute("aria-pressed", "true")
    key = box_of(page.locator('#piano [data-pitch="57"]'))
    page.mouse.move(key["x"] + 5, key["y"] + key["height"] - 8)
    page.mouse.down()
    expect(page.locator("#piano .key.held")).to_have_count(1)
    page.mouse.up()
    expect(page.locator("#piano .key.held")).to_have_count(0)
    page.get_by_role("button", name="Rec").click()
    said(page, "Record 1 note")
    after = saved(page, address, slug)["phrase"]["notes"]
    assert sum(n["pitch"] == 57 for n in after) == sum(n["pitch"] == 57 for n in before) + 1
    page.click("#undo")
    said(page, "Undone: Record 1 note")
    assert saved(page, address, slug)["phrase"]["notes"] == before


def test_a_source_on_its_own_stays_in_step_and_a_layer_freezes_into_another_patch(page, address, copy_of):
    other = new_patch(page, address)
    name = saved(page, address, other)["name"]
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug, layer="edge", tab="sources")
    page.get_by_role("button", name="Own layer").click()
    expect(page.locator(".strip.layer")).to_have_count(5)
    choose(page.get_by_role("tab", name="Amp envelope"))
    release = page.locator('#editor [data-value$=".envelope.release"]')
    release.fill("333 ms")
    release.press("Enter")
    said(page, "release")
    layers = saved(page, address, slug)["layers"]
    assert sum(x["envelope"]["release"] == 333.0 for x in layers) == 2
    page.get_by_role("button", name="Unlink from Edge").click()
    said(page, "Unlink ")
    expect(page.get_by_role("button", name="Unlink from")).to_have_count(0)
    page.locator("#layer-drop summary").click()
    page.get_by_label("Freeze the phrase into another patch").select_option(other)
    said(page, f"Frozen into {name}")
    assert saved(page, address, other)["layers"][-1]["sources"][0]["kind"] == "sample"
    assert len(saved(page, address, slug)["layers"]) == 5


def test_an_answer_that_is_no_longer_asked_for_does_not_change_what_is_chosen(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug, layer="edge", tab="sources")
    chips = page.locator("#editor .chip [id^=chip-]")
    first, second = (chips.nth(i).get_attribute("id").removeprefix("chip-") for i in range(2))
    held = []
    page.route("**/editor?**", lambda route: held.append(route))
    with page.expect_request("**/editor?**"):
        chips.nth(1).click()
    # while that is under way, something else comes to be chosen
    page.evaluate("(item) => document.body.dispatchEvent(new CustomEvent('chosen', { detail: { item } }))", first)
    with page.expect_response("**/editor?**"):
        held[0].continue_()
    expect(page.locator(f"#chip-{second}")).to_have_attribute("aria-pressed", "true")
    expect(page.locator("#editor-item")).to_have_value(first)
    page.unroute("**/editor?**")
    # what is gone gives way to what is there
    page.evaluate("() => document.body.dispatchEvent(new CustomEvent('chosen', { detail: { layer: 'nobody' } }))")
    page.evaluate("() => document.body.dispatchEvent(new CustomEvent('redrawn'))")
    expect(page.locator("#editor-layer")).not_to_have_value("nobody")


def test_the_note_editor_is_not_redrawn_for_what_is_not_its_own(page, address, copy_of):
    slug = copy_of("sluice-gate")
    open_patch(page, address, slug)
    page.keyboard.press("p")
    expect(page.locator("#notes")).to_be_visible()
    page.evaluate("() => { document.getElementById('notes').mark = true; }")
    with page.expect_response("**/phrase-panel?**") as got:
        page.keyboard.press(".")
    assert got.value.status == 204
    assert page.evaluate("() => document.getElementById('notes').mark") is True
    with page.expect_response("**/phrase-panel?**") as got:
        page.get_by_role("button", name="Transpose the phrase by +1", exact=True).click()
    assert got.value.status == 200


def test_a_button_that_is_redrawn_before_its_answer_comes_is_answered_all_the_same(page, address):
    new_patch(page, address)
    held = []
    page.route("**/add", lambda route: held.append(route))
    with page.expect_request("**/add"):
        page.get_by_role("button", name="+ Layer").click()
    expect(page.locator("body[data-keeping]")).to_have_count(1)
    page.evaluate("() => { document.getElementById('sheet').dataset.mark = 'old'; }")
    page.evaluate("() => document.body.dispatchEvent(new CustomEvent('edited'))")
    expect(page.locator("#sheet[data-mark]")).to_have_count(0)
    with page.expect_response("**/add"):
        held[0].continue_()
    expect(page.get_by_label("Layer name")).to_have_value("Layer")
    expect(page.locator(".strip.layer")).to_have_count(2)
    said(page, "Add Layer")
    kept(page)
