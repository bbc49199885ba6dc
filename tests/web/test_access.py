"""Everybody can use the page: what axe-core finds in every view, the focus, and windows of other sizes."""

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from kessel.web.views.checks import TOPICS

from .hands import open_patch

pytestmark = pytest.mark.page

TABS = {
    "layers": (
        "sources",
        "wave",
        "stages",
        "envelope",
        "voices",
        "mix",
        "chain",
        "movers",
        "movements",
        "worked",
        "output",
    ),
    "movement": ("movements", "movers"),
    "shaping": ("worked", "chain", "returns", "output"),
}
VIEWS = [f"view={view}&tab={tab}" for view, tabs in TABS.items() for tab in tabs]
VIEWS += [f"view=checks&topic={word}" for word, *_ in TOPICS]
PANELS = {
    "history": "Alpine.store('panels').showSide('history')",
    "parts": "Alpine.store('panels').showSide('parts')",
    "backing": "Alpine.store('panels').showSide('backing')",
    "help": "Alpine.store('panels').toggleHelp()",
    "controller": "Alpine.store('panels').toggleKeys()",
    "notes": "Alpine.store('panels').toggleNotes()",
    "messages": "for (const n of [1, 2]) Alpine.store('notice').say(`line ${n}`, n === 2)",
}


@pytest.fixture
def looked_at(browser, address):
    """A page that axe-core may be put into."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce", bypass_csp=True)
    page = context.new_page()
    page.set_default_timeout(60_000)
    yield page
    context.close()


def faults(page, **options):
    """What axe-core finds: rule, element and reason."""
    found = Axe().run(page, options=options | {"resultTypes": ["violations"]}).response["violations"]
    return [(v["id"], n["html"][:120], n["failureSummary"].split("\n")[1].strip()) for v in found for n in v["nodes"]]


def both_themes(page):
    found = faults(page)
    page.evaluate("Alpine.store('panels').theme()")
    found += faults(page, runOnly=["color-contrast"])
    page.evaluate("Alpine.store('panels').theme()")
    return found


@pytest.mark.parametrize("view", VIEWS)
def test_axe_finds_nothing_in_a_view(looked_at, address, view):
    looked_at.goto(f"{address}/patch/mud-lantern?layer=growl&{view}")
    expect(looked_at.locator("#rail")).not_to_have_attribute("data-version", "-1")
    expect(looked_at.locator(".waits")).to_have_count(0)
    assert both_themes(looked_at) == []


@pytest.mark.parametrize("name", PANELS)
def test_axe_finds_nothing_in_a_panel(looked_at, address, name):
    open_patch(looked_at, address, "mud-lantern", layer="growl")
    looked_at.evaluate(PANELS[name])
    expect(looked_at.locator(".htmx-request")).to_have_count(0)
    assert both_themes(looked_at) == []


def test_axe_finds_nothing_in_the_library_and_in_a_menu(looked_at, address):
    looked_at.goto(f"{address}/library")
    expect(looked_at.get_by_role("article").first).to_contain_text("LUFS")
    assert both_themes(looked_at) == []
    open_patch(looked_at, address, "sluice-gate")
    looked_at.locator("#editor .rule-track").first.focus()
    looked_at.keyboard.press("m")
    expect(looked_at.locator("#control-menu")).to_be_visible()
    assert both_themes(looked_at) == []


RING = """() => {
  const node = document.activeElement, style = getComputedStyle(node), box = node.getBoundingClientRect();
  const channels = (colour) => colour.match(/[\\d.]+/g).map(Number);
  const light = (colour) => channels(colour).slice(0, 3).map((c) => c / 255)
    .reduce((sum, c, i) => sum + [0.2126, 0.7152, 0.0722][i] * (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4), 0);
  let under = node.parentElement;
  while (under.parentElement && (channels(getComputedStyle(under).backgroundColor)[3] ?? 1) === 0) under = under.parentElement;
  const [a, z] = [style.outlineColor, getComputedStyle(under).backgroundColor].map(light).sort((x, y) => x - y);
  return { name: node.outerHTML.slice(0, 120), ring: style.outlineStyle !== "none" && parseFloat(style.outlineWidth) >= 2,
    contrast: (z + 0.05) / (a + 0.05), body: node === document.body,
    inside: box.bottom > 0 && box.top < innerHeight && box.right > 0 && box.left < innerWidth };
}"""


@pytest.mark.parametrize("theme", ["paper", "night"])
@pytest.mark.parametrize("view", ["view=layers&tab=sources", "view=movement", "view=shaping", "view=checks"])
def test_everything_is_reached_with_tab_and_shows_it(page, address, view, theme):
    page.goto(f"{address}/patch/sluice-gate?{view}")
    expect(page.locator("#rail")).not_to_have_attribute("data-version", "-1")
    expect(page.locator(".waits")).to_have_count(0)
    page.evaluate("(theme) => { document.documentElement.dataset.theme = theme; }", theme)
    page.locator(".brand").focus()
    seen = []
    for _ in range(400):
        page.keyboard.press("Tab")
        found = page.evaluate(RING)
        if found["body"]:
            break
        seen.append(found)
    assert len(seen) > 40 and found["body"]
    assert [f["name"] for f in seen if not f["ring"]] == []
    assert [f["name"] for f in seen if not f["inside"]] == []
    assert [(f["name"], f["contrast"]) for f in seen if f["contrast"] < 3.0] == []


CUT = """() => [...document.querySelectorAll("button, input:not([type=hidden]):not([type=file]), select, summary, a, [role=slider]")]
  .filter((node) => node.checkVisibility({ visibilityProperty: true, opacityProperty: true }))
  .filter((node) => {
    node.scrollIntoView({ block: "center", inline: "center" });
    const grip = node.matches("g") ? node.querySelector("rect") : node;
    const box = grip.getBoundingClientRect();
    if (!box.width) return false;
    // a grip at the end of its scale is half over the edge of the drawing
    return ![0.5, 0.25, 0.75].some((share) => {
      const met = document.elementFromPoint(box.left + share * box.width, box.top + box.height / 2);
      return met && (node.contains(met) || met.contains(node) || met.closest("label")?.control === node);
    });
  }).map((node) => node.outerHTML.slice(0, 160))"""


@pytest.mark.parametrize(("width", "height"), [(900, 700), (720, 450), (3840, 2160)])
@pytest.mark.parametrize(
    "view", ["view=layers&tab=sources", "view=layers&tab=wave", "view=movement", "view=shaping", "view=checks"]
)
def test_nothing_is_out_of_reach_at_other_sizes(page, address, width, height, view):
    page.set_viewport_size({"width": width, "height": height})
    page.goto(f"{address}/patch/mud-lantern?{view}")
    expect(page.locator("#rail")).not_to_have_attribute("data-version", "-1")
    assert page.evaluate(CUT) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.evaluate("scrollTo(0, 0)")
    for name in ("#notice", "#stream"):
        box = page.locator(name).bounding_box()
        assert box["y"] >= 0 and box["y"] + box["height"] <= height, name
