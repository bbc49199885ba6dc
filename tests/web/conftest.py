"""The real server and a real browser for the tests of the pages."""

import os
import subprocess
import sys
from functools import partial
from pathlib import Path

import pytest
from playwright.sync_api import expect, sync_playwright

from .hands import kept, open_patch
from .serving import duplicated

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--autoplay-policy=user-gesture-required",
]
CHROMIUM = os.environ.get("CHROMIUM", "/usr/bin/chromium")
STAND_INS = """
window.told = [];
window.asked = [];
window.Worker = class { constructor() { window.worker = this; } postMessage(m) { if (m.tell) window.told.push(m.tell); } };
const fetched = window.fetch;
window.answers = null;
window.fetch = (address, how) => {
  if (!window.answers || (how ?? {}).method !== "POST") return fetched(address, how);
  window.asked.push({ address, body: how.body && JSON.parse(String(how.body).startsWith("{") ? how.body : "{}"), edit: how.headers["X-Edit"] });
  return window.answers(address, how);
};
window.answer = (found, status = 200, headers = {}) => Promise.resolve(typeof found === "string" ? new Response(found, { status, headers }) : Response.json(found, { status, headers }));
"""
SOURCE = str(Path(__file__).parents[2] / "src")


@pytest.fixture(scope="session")
def address(tmp_path_factory):
    """A served demo set."""
    data = tmp_path_factory.mktemp("served")
    words = [sys.executable, "-m", "kessel", "demo", "--port", "0", "--data", str(data)]
    with subprocess.Popen(
        words, stdout=subprocess.PIPE, text=True, env=os.environ | {"PYTHONPATH": SOURCE, "KESSEL_CHECKED": "0"}
    ) as server:
        yield server.stdout.readline().split()[3].rstrip("/")
        server.terminate()


@pytest.fixture(scope="session")
def browser():
    """Headless Chromium of the system."""
    expect.set_options(timeout=150_000)
    with sync_playwright() as p:
        launched = p.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield launched
        launched.close()


@pytest.fixture
def page(browser):
    """A page that takes no error of its own."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, reduced_motion="reduce", accept_downloads=True
    )
    opened = context.new_page()
    opened.set_default_timeout(150_000)
    troubles = []
    opened.on("pageerror", lambda e: troubles.append(str(e)))
    # what is refused, and what a newer question replaces, is no error
    opened.on("console", lambda m: troubles.append(m.text) if m.type == "error" else None)
    yield opened
    # what a test leaves on its way would come in the middle of the next one
    kept(opened)
    context.close()
    assert troubles == []


@pytest.fixture
def copy_of(address):
    """Make a copy of a demo patch on the server; gives its slug."""

    return partial(duplicated, address)


@pytest.fixture
def bench(browser, address):
    """A workspace whose worker is silent and takes notes, and whose edits are answered by ``window.answers``."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce", bypass_csp=True)
    page = context.new_page()
    page.set_default_timeout(150_000)
    page.add_init_script(STAND_INS)
    open_patch(page, address, "sluice-gate", tab="stages")
    root = page.locator("script[type=module]").get_attribute("src").rsplit("/", 1)[0]

    def run(script, *names, argument=None):
        """What a script gives that is called with modules of the page."""
        modules = ", ".join(f'await import("{root}/{name}.js")' for name in names)
        return page.evaluate(f"async (argument) => ({script})(...[{modules}], argument)", argument)

    page.run = run
    yield page
    context.close()
