"""Whole basses from plain words, through visible controls only: how many gestures they take, and how they sound.

A click, a choice from a list, a drag and a key count one, a typed value two.
"""

import re

import numpy as np
import pytest
from playwright.sync_api import expect
from scipy.signal import butter, sosfilt, welch

from kessel.engine import RATE, render_loop
from kessel.patch import Edit as Turn
from kessel.patch import Patch, apply

from .hands import box_of, choose, kept, names, new_patch, said, saved

pytestmark = pytest.mark.page


class Hands:
    """Two hands on the page that count what they do."""

    def __init__(self, page, address):
        self.page, self.address, self.count = page, address, 1
        self.slug = new_patch(page, address)
        self.editor = page.locator("#editor")

    def done(self, gestures=1):
        kept(self.page)
        self.count += gestures

    def press(self, name, within=None):
        """A button, or one of several in a row."""
        place = within or self.page
        place.get_by_role("button", name=name, exact=True).or_(
            place.get_by_role("radio", name=name, exact=True)
        ).click()
        self.done()

    def tab(self, name):
        choose(self.editor.get_by_role("tab", name=re.compile(rf"^{name}( \d+)?$")))
        self.done()

    def pick(self, label, option):
        self.page.get_by_label(re.compile(f"{label}$")).select_option(label=option)
        self.done()

    def type(self, label, text):
        field = self.editor.locator("input").and_(self.page.get_by_label(re.compile(f"{label}$"))).first
        field.click()
        field.fill(text)
        field.press("Enter")
        expect(field).not_to_have_attribute("aria-invalid", "true")
        self.done(2)

    def move(self, path, mover):
        """A movement by a new mover, at the control."""
        self.editor.locator(f'[data-rule$="{path}"]').first.click(modifiers=["Alt"])
        self.done()
        self.press(mover, self.page.locator("#control-menu"))
        said(self.page, "moves by")

    def layer(self, name):
        self.page.locator(".strip.layer").get_by_role("button", name=name, exact=True).click()
        expect(self.page.get_by_label("Layer name")).to_have_value(name)
        self.done()

    def grip(self, name, right, down):
        """Drag a grip of the picture by so many pixels."""
        box = box_of(self.page.get_by_label(f"Grip of {name}"))
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + right, y + down, steps=6)
        self.page.mouse.up()
        self.done()

    def made(self, most):
        """The patch, if it took at most so many gestures."""
        print(f"{self.count} gestures, {most} at most")
        assert self.count <= most
        return self.patch()

    def patch(self):
        return Patch.model_validate(saved(self.page, self.address, self.slug))


@pytest.fixture
def hands(page, address):
    return Hands(page, address)


def sound(patch, *layers):
    """The loop of some layers or of the sum, in mono."""
    loop = render_loop(patch)
    return sum(loop.layers[i] for i in layers).mean(axis=0) if layers else loop.sum.mean(axis=0)


def level(x, low, high):
    """RMS between two frequencies in Hz, in dB."""
    band = sosfilt(butter(6, [low, high], "band", fs=RATE, output="sos"), x)
    return 10 * np.log10(np.mean(band**2) + 1e-20)


def part(patch, x, start, end):
    """What sounds between two places, in beats."""
    beat = RATE * 60 / patch.tempo
    return x[round(start * beat) : round(end * beat)]


def test_a_mono_bass_with_sub_two_envelopes_and_a_followed_filter(hands):
    hands.press("+ Layer")
    hands.pick("Layer Sine shape", "Saw")
    hands.tab("Amp envelope")
    hands.grip("decay and sustain", -10, 14)
    hands.type("envelope release value", "90 ms")
    hands.tab("Stages")
    hands.press("+ Filter")
    hands.type("Filter cutoff value", "300 Hz")
    hands.type("Filter key follow value", "50 %")
    hands.move("cutoff", "+ Envelope")
    hands.type("moved to by .* value", "3 kHz")
    hands.type("cutoff envelope decay value", "150 ms")
    patch = hands.made(25)
    body, first = patch.layers[1], patch.phrase.notes[0]
    assert body.play.mode == "mono" and body.envelope.sustain < -1 and body.stages[0].key_follow == 50
    x = sound(patch, body.id)
    early, late = (part(patch, x, first.start + a, first.start + a + 0.1) for a in (0.02, first.length - 0.15))
    assert level(early, 1500, 4000) - level(early, 30, 200) > 12 + level(late, 1500, 4000) - level(late, 30, 200)
    assert level(sound(patch, "sub"), 30, 120) > level(sound(patch, "sub"), 200, 2000) + 30


def test_fifth_click_and_grit_layers_blended_by_three_macros(hands):
    hands.press("Parts")
    for count, name in enumerate(("Added fifth", "Attack click", "Cut-saw grind"), 2):
        hands.press(f"Insert {name}")
        expect(hands.page.locator(".strip.layer")).to_have_count(count)
    hands.tab("Mix and range")
    for name in names(hands.page)[1:]:
        hands.layer(name)
        hands.type(f"{name} level value", "off")
        hands.move(".level", "+ Macro")
        hands.type("moved to by .* value", "-6 dB")
    patch = hands.made(60)
    macros = [m for m in patch.movers if m.kind == "macro"]
    assert len(macros) == 3
    for macro in macros:
        target = next(m.target for m in patch.movements if m.mover == macro.id)
        own = target.split(".")[1]
        open_, shut = (sound(apply(patch, [Turn(f"movers.{macro.id}.value", v)]), own) for v in (100.0, 0.0))
        assert np.abs(shut).max() < 1e-4 < 0.01 < np.abs(open_).max()


def test_a_punchy_fm_bass_with_pitch_drop_moved_distortion_and_multiband(hands):
    hands.press("+ Layer")
    hands.tab("Sources")
    hands.press("Sine", hands.editor.locator(".chips"))
    choose(hands.editor.locator(".groups").get_by_role("tab", name="FM, ring"))
    hands.done()
    hands.pick("Add FM by", "a new sine")
    hands.type("FM depth value", "20")
    hands.move(".depth", "+ Envelope")
    hands.type("moved to by .* value", "300")
    hands.type("depth envelope decay value", "120 ms")
    choose(hands.editor.locator(".groups").get_by_role("tab", name="Pitch"))
    hands.done()
    hands.move(".semitones", "+ Envelope")
    hands.type("moved to by .* value", "24")
    hands.type("semitones envelope decay value", "60 ms")
    hands.tab("Stages")
    hands.press("+ Distortion")
    hands.move(".drive", "+ LFO")
    hands.type("moved to by .* value", "24 dB")
    hands.type("LFO length value", "2")
    hands.tab("Chain")
    hands.pick("Add to the chain", "Multiband")
    hands.type("depth value", "80 %")
    patch = hands.made(60)
    layer, first = patch.layers[1], patch.phrase.notes[0]
    assert [i.kind for i in layer.chain] == ["multiband"]
    x = sound(patch, layer.id)
    hit, tail = (part(patch, x, first.start + a, first.start + b) for a, b in ((0.0, 0.08), (0.5, first.length)))
    assert level(hit, 250, 4000) - level(hit, 30, 100) > 6 + level(tail, 250, 4000) - level(tail, 30, 100)
    harmonics = [level(part(patch, x, at, at + 0.4), 500, 8000) for at in np.arange(0.0, 8.0, 0.5)]
    assert max(harmonics) - min(h for h in harmonics if h > -120) > 3


def test_a_sine_with_a_buzz_an_octave_up_and_a_copy_above(hands):
    hands.press("+ Oscillator")
    choose(hands.editor.locator(".groups").get_by_role("tab", name="Pitch"))
    hands.done()
    hands.type("Oscillator octave value", "1")
    choose(hands.editor.locator(".groups").get_by_role("tab", name="Wave"))
    hands.done()
    hands.type("Oscillator level value", "-14 dB")
    hands.page.get_by_label("What can be done with Sub").click()
    hands.done()
    hands.press("Duplicate")
    hands.press("Octave ↑")
    hands.page.keyboard.press("Alt+ArrowUp")
    hands.done()
    patch = hands.made(22)
    below, above = patch.layers
    first = patch.phrase.notes[0]
    f = 440 * 2 ** ((first.pitch - 69) / 12)
    x, y = (part(patch, sound(patch, i.id), first.start + 0.1, first.start + first.length) for i in (below, above))
    assert level(x, 0.8 * f, 1.2 * f) - level(x, 1.8 * f, 2.2 * f) == pytest.approx(
        14 + 20 * np.log10(np.pi / 2), abs=0.5
    )
    assert level(y, 1.8 * f, 2.2 * f) > level(y, 0.8 * f, 1.2 * f) + 20


def test_a_dark_pad_of_a_sine_and_many_soft_saws(hands):
    hands.press("+ Layer")
    hands.pick("Layer Sine shape", "Saw")
    hands.tab("Voices")
    hands.press("Voices", hands.editor.locator(".stack"))
    hands.type("unison voices value", "12")
    hands.type("unison detune value", "18 ct")
    hands.tab("Amp envelope")
    hands.type("envelope attack value", "400 ms")
    hands.type("envelope release value", "1.5 s")
    hands.tab("Stages")
    hands.press("+ Filter")
    hands.type("Filter cutoff value", "250 Hz")
    hands.move("cutoff", "+ LFO")
    hands.type("moved to by .* value", "900 Hz")
    hands.type("LFO length value", "8")
    hands.press("+ Distortion")
    hands.type("Distortion drive value", "9 dB")
    hands.tab("Chain")
    hands.pick("Add to the chain", "Chorus")
    hands.pick("Add to the chain", "Echo")
    patch = hands.made(50)
    pad = patch.layers[1]
    x = render_loop(patch).layers[pad.id]
    power = [welch(part(patch, x.mean(axis=0), at, at + 1), RATE, nperseg=8192)[1] for at in (3.5, 7.0)]
    hz = np.fft.rfftfreq(8192, 1 / RATE)
    centre = [float((p * hz).sum() / p.sum()) for p in power]
    assert max(centre) < 700 and abs(np.log2(centre[0] / centre[1])) > 0.15
    side, mid = (level((x[0] + s * x[1]) / 2, 150, 4000) for s in (-1, 1))
    assert side > mid - 15


def test_many_wide_copies_over_a_few_narrow_ones_beside_a_beat(hands):
    hands.pick("Sub Sine shape", "Saw")
    hands.tab("Voices")
    hands.type("unison voices value", "3")
    hands.type("unison detune value", "5 ct")
    hands.type("unison width value", "15 %")
    hands.press("Octave ↓")
    hands.press("+ Layer")
    hands.pick("Layer Sine shape", "Saw")
    hands.tab("Voices")
    hands.type("unison voices value", "9")
    hands.type("unison detune value", "22 ct")
    hands.tab("Stages")
    hands.press("+ Filter")
    hands.move("cutoff", "+ Looped curve")
    hands.type("moved to by .* value", "8 kHz")
    hands.type("cutoff curve length value", "1 bar")
    hands.press("Backing")
    hands.press("On", hands.page.get_by_role("radiogroup", name="Beat"))
    patch = hands.made(36)
    assert patch.backing.beat.on
    few, many = (render_loop(patch).layers[x.id] for x in patch.layers)
    wide = [level(x[0] - x[1], 150, 4000) - level(x[0] + x[1], 150, 4000) for x in (few, many)]
    assert wide[1] > wide[0] + 6
    bright = [
        level(part(patch, many.mean(axis=0), bar * 4 + at, bar * 4 + at + 0.4), 2000, 8000)
        for bar in (0, 1)
        for at in (0.0, 3.4)
    ]
    assert bright[0] > bright[1] + 6 and bright[2] > bright[3] + 6


def test_a_grip_moves_two_controls_in_one_step(hands):
    hands.tab("Stages")
    hands.press("+ Filter")
    before = hands.patch().layers[0].stages[0]
    hands.grip("cutoff and resonance", -40, -20)
    after = hands.patch().layers[0].stages[0]
    assert after.cutoff < before.cutoff / 2 and after.resonance > before.resonance + 6
    hands.page.get_by_label("Grip of cutoff and resonance").press("ArrowRight")
    hands.done()
    nudged = hands.patch().layers[0].stages[0]
    assert nudged.cutoff > after.cutoff and nudged.resonance == after.resonance
    for _ in range(2):
        hands.page.keyboard.press("Control+z")
        hands.done()
    assert hands.patch().layers[0].stages[0] == before
