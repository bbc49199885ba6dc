"""Take the pictures in docs/screenshots anew, from the demo set: python bench/pictures.py [NAME...]"""

import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))
sys.path.insert(0, str(Path(__file__).parents[1] / "src"))

from playwright.sync_api import expect, sync_playwright
from tests.web.conftest import CHROMIUM, FLAGS
from tests.web.serving import served

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
PICTURES = {
    "library-paper": ("/library", ""),
    "library-night": ("/library", ""),
    "layers-paper": ("/patch/sluice-gate", ""),
    "layers-night": ("/patch/sluice-gate", ""),
    "findings-paper": ("/patch/undertow?layer=body&tab=mix", ""),
    "sources-paper": ("/patch/reed-weir?layer=reed&tab=sources", ""),
    "wave-night": ("/patch/reed-weir?layer=reed&tab=wave", ""),
    "stages-paper": ("/patch/mud-lantern?layer=growl&tab=stages&item=tongue", ""),
    "movement-paper": ("/patch/mud-lantern?view=movement&layer=growl&tab=movements", ""),
    "movement-night": ("/patch/ebb-motor?view=movement&layer=drone&tab=movements", ""),
    "shaping-paper": ("/patch/salt-press?view=shaping&layer=stab&tab=worked", ""),
    "shaping-multiband-night": ("/patch/sluice-gate?view=shaping&layer=body&tab=worked&item=deck", ""),
    "checks-paper": ("/patch/undertow?view=checks", ""),
    "checks-alignment-paper": ("/patch/undertow?view=checks&topic=alignment", ""),
    "checks-low-paper": ("/patch/slack-water?view=checks&topic=low", ""),
    "checks-rooms-night": ("/patch/sluice-gate?view=checks&topic=rooms", ""),
    "phrase-paper": ("/patch/reed-weir", ".phrase-open"),
    "controller-night": ("/patch/mud-lantern?layer=growl&tab=envelope", "#keys"),
    "parts-paper": ("/patch/sluice-gate?layer=edge&tab=voices", "text=Parts"),
}
"""By name, which ends with the theme: the address, and what is pressed there."""


IN_SIGHT = 7
"""Cards of the library that are in sight."""


def settled(page):
    """Wait until all is measured, drawn, and its cures known."""
    if page.locator("#rail").count():
        expect(page.locator("#rail")).not_to_have_attribute("data-version", "-1")
        expect(page.locator("#rail")).not_to_contain_text("looking for a fix")
        expect(page.locator("body")).not_to_contain_text("measuring…")
    # cards of the library are measured as they come into sight
    for card in page.locator(".meas").all()[:IN_SIGHT]:
        expect(card).not_to_contain_text("measuring…")
    page.wait_for_load_state("networkidle")


def main():
    expect.set_options(timeout=60_000)
    with tempfile.TemporaryDirectory() as folder, served(Path(folder) / "data") as (_, address), sync_playwright() as p:
        browser = p.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        for name in sys.argv[1:] or PICTURES:
            path, pressed = PICTURES[name]
            page = browser.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
            page.add_init_script(f"localStorage.setItem('kessel-theme', '{name.rpartition('-')[2]}')")
            page.goto(address + path)
            settled(page)
            if pressed:
                page.locator(pressed).first.click()
                settled(page)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
        browser.close()


if __name__ == "__main__":
    main()
