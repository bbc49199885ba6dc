"""The hands of the page tests: what a producer does on the page, and what stands there after it."""

from playwright.sync_api import expect

LISTEN = """async (frames) => {
  for (let i = 0; !window.kessel.stream.sound(); i++) {
    if (i > 1500) throw new Error("nothing is played");
    await new Promise((done) => setTimeout(done, 20));
  }
  const analyser = window.kessel.stream.sound();
  const bins = new Float32Array(analyser.frequencyBinCount), wave = new Float32Array(analyser.fftSize);
  let power = 0, up = 0, down = 0;
  for (let i = 0; i < frames; i++) {
    await new Promise((done) => setTimeout(done, 40));
    analyser.getFloatFrequencyData(bins);
    analyser.getFloatTimeDomainData(wave);
    power += wave.reduce((sum, v) => sum + v * v, 0) / wave.length;
    for (let k = 1; k < bins.length; k++) {
      const p = 10 ** (bins[k] / 10), hz = (k * 24000) / bins.length;
      if (hz > 600) up += p; else down += p;
    }
  }
  return { rms: Math.sqrt(power / frames), bright: 10 * Math.log10(up / down) };
}"""
CUTOFF = "layers.body.stages.pluck.cutoff"


def open_patch(page, address, slug, layer="body", tab="stages"):
    page.goto(f"{address}/patch/{slug}?layer={layer}&tab={tab}")
    expect(page.locator("#rail")).not_to_have_attribute("data-version", "-1")
    expect(page.locator("#sheet text", has_text="measuring")).to_have_count(0)


def rule(page, path):
    return page.locator(f'#editor [data-rule="{path}"]')


def drag(page, node, to, steps=12):
    """Drag from where the caret stands to a share of the rule."""
    box = box_of(node)
    y = box["y"] + box["height"] / 2
    start = float(node.get_attribute("aria-valuenow")) / 100
    page.mouse.move(box["x"] + start * box["width"], y)
    page.mouse.down()
    page.mouse.move(box["x"] + to * box["width"], y, steps=steps)


def saved(page, address, slug):
    """The patch as it is kept, once nothing the hands asked for is on its way."""
    kept(page)
    return page.request.get(f"{address}/patch/{slug}/patch.json").json()


def body_of(patch, layer="body"):
    return next(x for x in patch["layers"] if x["id"] == layer)


def choose(tab):
    """Open a tab, and wait until what stands under it is there: buttons of the tab before may have the same names."""
    tab.click()
    expect(tab).to_have_attribute("aria-selected", "true")


def said(page, text):
    """Wait until the page says it."""
    expect(page.locator("#notice")).to_contain_text(text)


def kept(page):
    """Wait until all that the hands asked for is answered."""
    expect(page.locator("body[data-keeping]")).to_have_count(0)


def heard(page, holds, frames=12):
    """What is heard once ``holds`` is true of it: how long a change takes to the ear depends on the machine's load."""
    for _ in range(80):
        found = page.evaluate(LISTEN, frames)
        if holds(found):
            return found
    raise AssertionError(f"heard to the end: {found}")


def box_of(node):
    """Where a thing stands, once it stands there: an answer of the server may just take its place."""
    for _ in range(5):
        expect(node).to_be_visible()
        box = node.bounding_box()
        if box is not None:
            return box
    raise AssertionError(f"{node} does not stay on the page")


def told(page):
    """What the stand-in of the stream was told since the last time."""
    return page.evaluate("window.told.splice(0)")


def answered(page):
    """Answer every edit from here on."""
    page.evaluate(
        "window.answers = () => window.answer({ version: 1, label: 'done', path: 'x', text: '1', at: null, axis: null })"
    )


def asked(page):
    """Where and what the server was asked since the last time, once all is answered."""
    page.wait_for_function("window.asked.length > 0 && !document.body.dataset.keeping")
    return [(one["address"].rsplit("/", 1)[1], one["body"]) for one in page.evaluate("window.asked.splice(0)")]


def new_patch(page, address, start="sine"):
    """A patch from a starting point, through the library; gives its slug."""
    page.goto(f"{address}/library")
    if start == "sine":
        page.get_by_role("button", name="New patch").click()
    else:
        page.get_by_label("New patch from").select_option(start)
    page.wait_for_url("**/patch/**")
    expect(page.locator("#rail")).not_to_have_attribute("data-version", "-1")
    return page.url.split("/patch/")[1].split("?")[0]


def names(page):
    """The names of the layers of the patch that is open."""
    return [
        x["name"]
        for x in saved(page, page.url.split("/patch/")[0], page.url.split("/patch/")[1].split("?")[0])["layers"]
    ]


def measured(page):
    """Wait until what the checks show was measured."""
    expect(page.locator("#sheet:not([hx-trigger*=load])")).to_be_visible()
