"""How long it takes from a key, a pad or a drag in Chromium to the sound, on a served demo set.

    PYTHONPATH=src .venv/bin/python bench/key_to_sound.py [strikes] [slug or patch file]

A second worklet listens to what the player's worklet puts out and tells the frame of the first sound after a silence.
The frame of the event is that of the audio clock when the page gets it. Prints the median and the 99th percentile.
Needs the test packages and Chromium (`./kessel test` installs both).
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import urllib.request
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, sync_playwright

from kessel.desk.editing import start_patch
from kessel.formats import dump_patch
from kessel.patch import Edit, apply

FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update"]
EAR = """
class Ear extends AudioWorkletProcessor {
  constructor() { super(); this.silent = 0; }
  process([[left]]) {
    for (let i = 0; i < (left?.length ?? 0); i++) {
      if (Math.abs(left[i]) < 1e-3) this.silent += 1;
      else { if (this.silent > 4800) this.port.postMessage({ onset: currentFrame + i }); this.silent = 0; }
    }
    if (this.silent < 4800) this.port.postMessage({ sounds: currentFrame });
    return true;
  }
}
registerProcessor("ear", Ear);
"""
LISTEN = """async (ear) => {
  const sound = window.kessel.stream.sound(), { context } = sound;
  await context.audioWorklet.addModule(URL.createObjectURL(new Blob([ear], { type: "text/javascript" })));
  const node = new AudioWorkletNode(context, "ear");
  sound.connect(node).connect(context.destination);
  window.onsets = [];
  window.events = [];
  window.sounded = [0];
  node.port.onmessage = ({ data }) => { if (data.onset) window.onsets.push(data.onset); else window.sounded = [data.sounds]; };
  const happens = () => window.events.push(context.currentTime * context.sampleRate);
  for (const kind of ["keydown", "pointerdown"]) addEventListener(kind, () => { if (!window.drags) happens(); }, true);
  addEventListener("pointermove", () => { if (window.drags === 1) { window.drags = 2; happens(); } }, true);
}"""
SETTLED = "(n) => window.events.length >= n && window.onsets.some((at) => at >= window.events[n - 1])"
SILENT = "() => window.kessel.stream.sound().context.currentTime * 48000 - Math.max(...window.sounded) > 14400"


def latencies(page: Page, count: int) -> list[float]:
    """From each event to the first sound after it, in ms. An echo may sound after a silence of its own."""
    events, onsets = page.evaluate("() => [window.events, window.onsets]")
    assert len(events) == count
    return [(min(at for at in onsets if at >= event) - event) / 48.0 for event in events]


def strikes(page: Page, count: int, strike: str) -> list[float]:
    """Latencies of so many strikes of the computer's keys or of the page's piano, in ms."""
    page.evaluate("() => { window.onsets = []; window.events = []; }")
    key = page.locator("#piano [data-pitch='36']")
    box = key.bounding_box() if strike == "piano" else None
    rng = np.random.default_rng(1)
    page.wait_for_timeout(200)
    page.wait_for_function(SILENT, timeout=20000)
    for n in range(count):
        if box is None:
            page.keyboard.down("a")
        else:
            page.mouse.move(box["x"] + 4, box["y"] + box["height"] - 6)
            page.mouse.down()
        page.wait_for_function(SETTLED, arg=n + 1, timeout=5000)
        if box is None:
            page.keyboard.up("a")
        else:
            page.mouse.up()
        # until it is silent again, and not in step with the quanta
        page.wait_for_function(SILENT, timeout=20000)
        page.wait_for_timeout(float(rng.uniform(0, 60)))
    return latencies(page, count)


def drags(page: Page, count: int) -> list[float]:
    """Latencies of so many drags of a level from off, under a note that is held, in ms."""
    page.evaluate("() => { window.onsets = []; window.events = []; window.drags = 3; }")
    page.click("#tab-mix")
    rule = page.locator('#editor [data-rule="layers.sub.level"]')
    rule.wait_for()
    page.click("#play")
    page.wait_for_timeout(1500)
    box = rule.bounding_box()
    assert box is not None
    y = box["y"] + box["height"] / 2
    rng = np.random.default_rng(2)
    for n in range(count):
        page.mouse.move(box["x"] + 1, y)
        page.mouse.down()
        page.wait_for_timeout(900 + float(rng.uniform(0, 60)))
        page.evaluate("() => { window.drags = 1; }")
        page.mouse.move(box["x"] + 0.9 * box["width"], y)
        page.wait_for_function(SETTLED, arg=n + 1, timeout=5000)
        page.mouse.move(box["x"] + 1, y)
        page.mouse.up()
        page.wait_for_timeout(300)
    return latencies(page, count)


def taken_in(address: str, text: str) -> str:
    """The slug of a patch that is imported."""
    head = '--e\r\nContent-Disposition: form-data; name="file"; filename="made.json"\r\n\r\n'
    asked = urllib.request.Request(
        f"{address}library/import",
        data=f"{head}{text}\r\n--e--\r\n".encode(),
        headers={"origin": address.rstrip("/"), "content-type": "multipart/form-data; boundary=e"},
    )
    before = slugs(address)
    urllib.request.urlopen(asked, timeout=60).read()
    return (slugs(address) - before).pop()


def slugs(address: str) -> set[str]:
    """The patches of the library."""
    shown = urllib.request.urlopen(f"{address}library", timeout=60).read().decode()
    return {row.split('"')[0] for row in shown.split('id="row-')[1:]}


def silent() -> str:
    """A patch of one sine at off, under a note that is held over all of the phrase."""
    made = start_patch("sine", "Silent")
    note = made.phrase.notes[0].model_copy(update={"start": 0.0, "length": made.phrase.beats})
    edits = [Edit("phrase.notes", [note.model_dump()]), Edit(f"layers.{made.layers[0].id}.level", -72.0)]
    return dump_patch(apply(made, edits))


def listen(page: Page, where: str) -> None:
    """Open a patch, start its sound, stop its phrase, and listen."""
    page.goto(where)
    page.wait_for_selector("#rail:not([data-version='-1'])")
    page.click("#play")
    page.wait_for_function("() => window.kessel.stream.sound()")
    page.wait_for_timeout(1500)
    page.click("#play")
    page.wait_for_timeout(3000)
    page.evaluate(LISTEN, EAR)


def tell(page: Page, what: str, taken: list[float]) -> None:
    """Print latencies."""
    state = page.evaluate("() => ({...window.kessel.player})")
    print(
        f"{what}: median {np.median(taken):.0f} ms, 99th percentile {np.percentile(taken, 99):.0f} ms,"
        f" worst {max(taken):.0f} ms of {len(taken)}; lead {state['lead']} ms, {state['gaps']} gaps"
    )


def main(count: int = 100, slug: str = "sluice-gate") -> None:
    """Strike, and print what was found."""
    with tempfile.TemporaryDirectory() as data:
        words = [sys.executable, "-m", "kessel", "demo", "--port", "0", "--data", data]
        server = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
        assert server.stdout is not None
        address = server.stdout.readline().split()[3]
        with sync_playwright() as p:
            browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
            page = browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True).new_page()
            file = Path(slug)
            patch = taken_in(address, file.read_text()) if file.is_file() else slug
            listen(page, f"{address}patch/{patch}")
            page.keyboard.press("n")
            page.wait_for_selector("#piano [data-pitch='36']")
            for strike in ("keys", "piano"):
                tell(page, f"{file.stem}, {strike}", strikes(page, count, strike))
            listen(page, f"{address}patch/{taken_in(address, silent())}")
            tell(page, "a level dragged from off", drags(page, count))
            browser.close()
        server.terminate()
        server.wait()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 100, *sys.argv[2:3])
