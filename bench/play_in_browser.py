"""Play a demo patch in headless Chromium while controls are dragged, and print gaps, lead, cost and long tasks.

Every half a minute another page is opened and a sound of 20 s is imported. A bare loop of the same priority runs beside
it: where it stood still too, the machine did.

    PYTHONPATH=src .venv/bin/python bench/play_in_browser.py [seconds] [slug]

Needs the test packages and Chromium (`./kessel test` installs both).
"""

from __future__ import annotations

import io
import multiprocessing
import subprocess
import sys
import tempfile
import time
import urllib.request
from multiprocessing.sharedctypes import Synchronized
from typing import Any

import numpy as np
import soundfile
from playwright.sync_api import sync_playwright

FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update"]
STATE = "() => ({...window.kessel.player})"
LONG_TASKS = """() => {
  window.tasks = []; window.hands = [];
  new PerformanceObserver((list) => { for (const { startTime, duration } of list.getEntries()) window.tasks.push([startTime, duration]); })
    .observe({ type: "longtask" });
  addEventListener("pointerdown", () => window.hands.push([performance.now(), Infinity]), true);
  addEventListener("pointerup", () => { window.hands.at(-1)[1] = performance.now(); }, true);
}"""
# the longest while a hand drags (from 50 ms after the press, which still draws the tab), and at any other time
LONGEST = """() => {
  const during = ([start, length]) => window.hands.some(([down, up]) => start > down + 50 && start + length < up);
  const most = (tasks) => tasks.reduce((longest, [, length]) => Math.max(longest, length), 0);
  return [most(window.tasks.filter(during)), most(window.tasks.filter((task) => !during(task))), window.tasks.filter(during).length];
}"""


def stand_still(longest: Synchronized[float], often: Synchronized[int]) -> None:
    """A bare loop that hardly does a thing. Notes how long one round took at most, and how often over 20 ms."""
    from kessel.desk import SOCKETS, go_first

    go_first(SOCKETS)
    while True:
        began = time.monotonic()
        time.sleep(0.005)
        worked = time.thread_time()
        while time.thread_time() - worked < 0.0001:
            pass
        took = time.monotonic() - began
        longest.value = max(longest.value, took)
        often.value += took > 0.02


def intrude(browser: Any, address: str) -> None:
    """Open the library in another page, and import a sound."""
    sound = io.BytesIO()
    soundfile.write(sound, 0.1 * np.random.default_rng(1).standard_normal((20 * 48000, 2)), 48000, format="WAV")
    head = '--e\r\nContent-Disposition: form-data; name="file"; filename="noise.wav"\r\n\r\n'
    asked = urllib.request.Request(
        f"{address}patch/undertow/reference/file",
        data=head.encode() + sound.getvalue() + b"\r\n--e--\r\n",
        headers={"origin": address.rstrip("/"), "content-type": "multipart/form-data; boundary=e"},
    )
    urllib.request.urlopen(asked, timeout=60).read()
    other = browser.new_page()
    other.goto(f"{address}library")
    other.close()


def main(seconds: float = 60.0, slug: str = "sluice-gate") -> None:
    """Drag the first rule of three tabs in turn, letting go every three seconds."""
    with tempfile.TemporaryDirectory() as data:
        words = [sys.executable, "-m", "kessel", "demo", "--port", "0", "--data", data]
        server = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
        assert server.stdout is not None
        address = server.stdout.readline().split()[3]
        with sync_playwright() as p:
            browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"{address}patch/{slug}?layer=body&tab=stages")
            page.wait_for_selector("#rail:not([data-version='-1'])")
            page.evaluate(LONG_TASKS)
            page.click("#play")
            costs, drags = [], 0
            spawn = multiprocessing.get_context("spawn")
            longest, often = spawn.Value("d", 0.0), spawn.Value("i", 0)
            beside = spawn.Process(target=stand_still, args=(longest, often), daemon=True)
            beside.start()
            leads: list[float] = []
            intrudes = time.monotonic() + 30.0
            end = time.monotonic() + seconds
            while time.monotonic() < end:
                tab = ("stages", "envelope", "mix")[drags % 3]
                page.click(f"#tab-{tab}")
                rule = page.locator("#editor .rule-track").first
                page.wait_for_selector(f"#tab-{tab}[aria-selected=true]")
                box = None
                while box is None:
                    box = rule.bounding_box()
                y = box["y"] + 12
                page.mouse.move(box["x"] + 0.3 * box["width"], y)
                page.mouse.down()
                let_go = time.monotonic() + 3.0
                step = 0
                while time.monotonic() < let_go:
                    step += 1
                    page.mouse.move(box["x"] + box["width"] * (0.3 + 0.3 * abs(((step / 30) % 2) - 1)), y)
                    page.wait_for_timeout(8)
                page.mouse.up()
                found = page.evaluate(STATE)
                costs.append(found["load"])
                leads.append(found["lead"])
                if time.monotonic() > intrudes:
                    intrude(browser, address)
                    intrudes += 30.0
                drags += 1
            state = page.evaluate(STATE)
            print(f"{seconds:.0f} s of {slug}, {drags} drags kept: {state['gaps']} gaps, lead {state['lead']} ms")
            print(f"lead: median {np.median(leads):.0f} ms, {max(leads):.0f} ms at most")
            print(f"the bare loop stood still for {1000 * longest.value:.0f} ms at most, {often.value} times over 20 ms")
            drag, other, count = page.evaluate(LONGEST)
            print(f"longest task under a drag: {drag:.0f} ms ({count} over 50 ms); at other times {other:.0f} ms")
            print(
                f"a quantum costs {sum(costs) / len(costs):.1f} % of its time, {max(costs):.1f} % at most (means of 1 s)"
            )
            beside.kill()
            browser.close()
        server.terminate()
        server.wait()


if __name__ == "__main__":
    main(*[kind(word) for kind, word in zip((float, str), sys.argv[1:], strict=False)])
