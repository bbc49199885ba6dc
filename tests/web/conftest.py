"""The real server and a real browser for the tests of the pages."""

import os
import subprocess
import sys
from functools import partial
from pathlib import Path

import pytest
from playwright.sync_api import expect, sync_playwright

from .hands import kept
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
SOURCE = str(Path(__file__).parents[2] / "src")


@pytest.fixture(scope="session")
def address(tmp_path_factory):
    """A served demo set."""
    data = tmp_path_factory.mktemp("served")
    words = [sys.executable, "-m", "kessel", "demo", "--port", "0", "--data", str(data)]
    with subprocess.Popen(words, stdout=subprocess.PIPE, text=True, env=os.environ | {"PYTHONPATH": SOURCE}) as server:
        yield server.stdout.readline().split()[3].rstrip("/")
        server.terminate()


@pytest.fixture(scope="session")
def browser():
    """Headless Chromium of the system."""
    expect.set_options(timeout=60_000)
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
    opened.set_default_timeout(60_000)
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
