"""The scripts that draw what is heard and measured, each on its own: scope, moment, checks, panels, news, imports."""

import pytest
from playwright.sync_api import expect

from .hands import answered, asked, open_patch, told

pytestmark = pytest.mark.page

DRAWN = """(id) => {
  const { width, height } = document.getElementById(id);
  const { data } = document.getElementById(id).getContext("2d").getImageData(0, 0, width, height);
  let seen = 0, right = 0;
  for (let i = 3; i < data.length; i += 4) if (data[i] > 128) { seen += 1; right = Math.max(right, ((i - 3) / 4) % width); }
  return { seen, right: right / width };
}"""


def stream_says(page, **message):
    page.evaluate("(data) => window.worker.onmessage({ data })", message)


def event(page, name, detail=None):
    page.evaluate(
        "([name, detail]) => document.body.dispatchEvent(new CustomEvent(name, { bubbles: true, detail }))",
        [name, detail],
    )


def test_the_meter_shows_the_peak_and_says_what_is_over(bench):
    rest = bench.evaluate(DRAWN, "meter")
    # the meter goes from its foot, -60 dB, to full level: -30 dB is half of it
    stream_says(bench, say="heard", peak=10 ** (-30 / 20), beat=-1, gaps=0)
    bench.wait_for_function(f"({DRAWN})('meter').right > 0.4")
    assert bench.evaluate(DRAWN, "meter")["right"] <= 0.56
    assert rest["right"] < 0.1
    stream_says(bench, say="heard", peak=1.2, beat=-1, gaps=0)
    expect(bench.locator("#stream-mode")).to_contain_text("over 0 dBFS")
    # it says so for a while, then falls back to silence and draws no more
    expect(bench.locator("#stream-mode")).not_to_contain_text("over")
    bench.wait_for_function(f"({DRAWN})('meter').right < 0.1")


def test_the_playhead_stands_where_the_loop_is(bench):
    bench.evaluate("""() => {
      window.AudioContext = class { audioWorklet = { addModule: async () => {} }; currentTime = 0; destination = {}; resume() {} };
      const node = function () { return { connect: (to) => to, gain: { setTargetAtTime() {} }, getFloatTimeDomainData(wave) { wave.fill(0); },
        port: { postMessage() {} } }; };
      window.AudioWorkletNode = function () { return (window.ring = node()); };
      window.GainNode = node; window.AnalyserNode = node;
    }""")
    bench.locator("#play").click()
    expect(bench.locator("#play")).to_have_attribute("aria-pressed", "true")
    bench.wait_for_function("window.told.some((m) => m.do === 'play')")
    assert [m["do"] for m in told(bench) if m["do"] in ("on", "play")] == ["on", "play"]
    beats = float(bench.locator(".phrase-plot").get_attribute("data-beats"))
    bench.evaluate("(beat) => window.ring.port.onmessage({ data: { beat, peak: 0.1, gaps: 0 } })", beats / 4)
    head = bench.locator("#playhead")
    expect(head).to_have_attribute("visibility", "visible")
    expect(head).to_have_attribute("x", "25%")
    # a stream that is lost stops nothing that the hand wants; one whose patch was deleted does, and says why
    stream_says(bench, say="closed", gone=False)
    expect(bench.locator("#play")).to_have_text("◌ Waiting")
    stream_says(bench, say="closed", gone=True)
    expect(bench.locator("#notice")).to_contain_text("This patch was deleted")
    expect(bench.locator("#play")).to_have_attribute("aria-pressed", "false")
    bench.evaluate("(beat) => window.ring.port.onmessage({ data: { beat, peak: 0, gaps: 0 } })", -1)
    expect(head).to_have_attribute("visibility", "hidden")


def test_a_moment_is_held_while_the_hand_is_on_it(bench, address):
    bench.goto(f"{address}/patch/sluice-gate?view=movement")
    picture = bench.locator('[x-bind="picture"]')
    expect(picture).to_be_visible()
    bench.evaluate("() => { window.AudioContext = class { constructor() { throw new Error('none'); } }; }")
    # sound that can't start does not keep the moment from being seen
    bench.evaluate("addEventListener('unhandledrejection', (event) => event.preventDefault())")
    box = picture.bounding_box()
    told(bench)
    bench.mouse.move(box["x"] + box["width"] / 4, box["y"] + 20)
    bench.mouse.down()
    bench.mouse.move(box["x"] + box["width"] / 2, box["y"] + 20, steps=3)
    beats = float(bench.locator("#sheet").get_attribute("data-beats"))
    held = [m["beat"] for m in told(bench) if m["do"] == "glimpse"]
    assert held[0] == pytest.approx(beats / 4, abs=0.05) and held[-1] == pytest.approx(beats / 2, abs=0.05)
    expect(picture).to_have_attribute("aria-valuenow", "50")
    expect(bench.locator("#notice")).to_contain_text("beat ")
    bench.mouse.up()
    assert told(bench)[-1] == {"do": "glimpse", "beat": None}
    expect(bench.locator("#moment")).to_contain_text("Body Pluck cutoff")


def test_vectors_and_drawings_follow_a_control_under_the_hand(bench, address):
    bench.goto(f"{address}/patch/undertow?view=checks&topic=alignment")
    hand = bench.locator(".by-hand [data-rule]").first
    expect(hand).to_be_visible()
    before = bench.locator(".dial b").all_text_contents()
    path = hand.get_attribute("data-rule")
    bench.run("({ tell }, path) => tell({ do: 'turn', path, at: 0.8 })", "stream", argument=path)
    expect(bench.locator(".dial b").first).not_to_have_text(before[0])
    assert told(bench)[-1] == {"do": "turn", "path": path, "at": 0.8}
    open_patch(bench, address, "sluice-gate", tab="sources")
    figure = bench.locator("#source-drawing")
    layer, source = figure.get_attribute("data-layer"), figure.get_attribute("data-source")
    line = figure.locator(".cycle").get_attribute("d")
    path = f"layers.{layer}.sources.{source}.phase"
    bench.run("({ tell }, path) => tell({ do: 'turn', path, at: 0.3 })", "stream", argument=path)
    expect(figure.locator(".cycle")).not_to_have_attribute("d", line)


def test_sides_panels_and_theme_open_and_close(bench):
    for name in ("history", "parts", "backing"):
        bench.evaluate("(name) => Alpine.store('panels').showSide(name)", name)
        expect(bench.locator("#side")).to_be_visible()
        expect(bench.locator("#side")).not_to_be_empty()
    bench.evaluate("Alpine.store('panels').showSide('')")
    expect(bench.locator("#side")).to_be_hidden()
    was = bench.locator("html").get_attribute("data-theme")
    bench.evaluate("Alpine.store('panels').theme()")
    other = {"night": "paper", "paper": "night"}[was]
    expect(bench.locator("html")).to_have_attribute("data-theme", other)
    bench.reload()
    expect(bench.locator("html")).to_have_attribute("data-theme", other)


def test_layers_and_chips_are_moved_and_undo_is_taken_step_by_step(bench, address):
    answered(bench)
    bench.evaluate("Alpine.store('layers').octave(-1)")
    assert [where for where, _ in asked(bench)] == ["octave"]
    bench.evaluate("Alpine.store('layers').move(1)")
    assert [where for where, _ in asked(bench)] == ["move"]
    bench.evaluate("for (const way of ['undo', 'undo', 'redo']) Alpine.store('history').step(way)")
    expect(bench.locator("#notice")).to_have_text("Redone: done")
    assert [where for where, _ in asked(bench)] == ["undo", "undo", "redo"]
    bench.evaluate("window.answers = () => window.answer({ version: 1, label: '' })")
    bench.evaluate("Alpine.store('history').step('undo')")
    expect(bench.locator("#notice")).to_have_text("Nothing to undo")


def test_a_new_version_is_marked_and_drawn_and_a_stop_is_said(bench):
    version = int(bench.locator("body").get_attribute("data-newest"))
    drawn = bench.locator("#rail")
    bench.run("() => document.body.dispatchEvent(new CustomEvent('answered', { detail: { version: 9e6 } }))")
    expect(drawn).to_have_class("rail older")
    assert bench.evaluate("Number(document.body.dataset.newest)") == 9e6 > version
    # an answer without a version raises nothing
    event(bench, "answered", {})
    assert bench.evaluate("Number(document.body.dataset.newest)") == 9e6


def test_an_import_says_how_far_it_is_and_can_be_given_up(bench, tmp_path):
    bench.evaluate("Alpine.store('panels').toggleNotes()")
    field = bench.get_by_label("Import MIDI")
    expect(field).to_be_attached()
    tickets, given_up = [], []
    held = []
    bench.route("**/imports/*/cancel", lambda route: (given_up.append(route.request.url), route.fulfill(status=204)))
    bench.route("**/imports/*", lambda route: route.fulfill(json={"share": 0.5}))
    bench.route(
        "**/patch/sluice-gate/**",
        lambda route: held.append(route) if "x-import" in route.request.headers else route.continue_(),
    )
    bench.on("request", lambda request: tickets.append(request.headers.get("x-import")))
    (tmp_path / "long.mid").write_bytes(b"MThd" * 1000)
    bench.evaluate("document.body.addEventListener('htmx:beforeSend', ({ detail }) => { window.sent = detail.xhr; })")
    field.set_input_files(tmp_path / "long.mid")
    bench.wait_for_function("window.sent")
    bench.evaluate("window.sent.upload.dispatchEvent(new ProgressEvent('load'))")
    expect(bench.locator("#notice")).to_contain_text("Importing long.mid")
    bar = bench.locator("progress").first
    expect(bar).to_be_visible()
    expect(bench.get_by_text("long.mid, 50 %")).to_be_visible()
    bench.get_by_role("button", name="Cancel").click()
    (ticket,) = {t for t in tickets if t}
    assert len(ticket) == 24
    for route in held:
        route.fulfill(status=200, headers={"X-Refused": "409"}, body="The import was given up.")
    expect(bar).to_be_hidden()
    assert [url.split("/")[-2] for url in given_up] == [ticket]
