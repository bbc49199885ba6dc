"""The scripts of the page, each on its own in Chromium: the stream, the server's answers and the hands are stood in for."""

import pytest
from playwright.sync_api import expect

from .hands import CUTOFF, answered, asked, open_patch, told

pytestmark = pytest.mark.page


def test_page_places_follow_and_stay_in_bounds(bench):
    found = bench.run(
        """async ({ placeIn, clamp, follower }) => {
          const box = { getBoundingClientRect: () => ({ left: 100, top: 50, width: 200, height: 100 }) };
          const places = [[100, 50], [300, 150], [200, 75], [0, 900]].map(([clientX, clientY]) => placeIn(box, { clientX, clientY }));
          const seen = [];
          let go;
          const follow = follower((n) => { seen.push(n); return new Promise((done) => { go = done; }); });
          follow(1); follow(2); follow(3);
          go(); await Promise.resolve(); await Promise.resolve(); await new Promise((d) => setTimeout(d)); go();
          return { places, clamped: [clamp(-1), clamp(5, 0, 3), clamp(0.5)], seen };
        }""",
        "page",
    )
    assert found["places"] == [{"x": 0, "y": 0}, {"x": 1, "y": 1}, {"x": 0.5, "y": 0.25}, {"x": 0, "y": 1}]
    assert found["clamped"] == [0, 3, 0.5]
    # only the newest question is asked while one is on its way
    assert found["seen"] == [1, 3]


def test_notice_keeps_the_last_lines_and_the_server_comes_first(bench):
    bench.run("({ say }) => { for (let n = 1; n < 12; n++) say(`line ${n}`, n === 11); }", "notice")
    expect(bench.locator("#notice")).to_have_text("line 11")
    expect(bench.locator("#notice")).to_have_class("bad")
    bench.get_by_role("button", name="Messages").click()
    assert bench.locator("#notice-list li").all_text_contents() == [f"line {n}" for n in range(11, 3, -1)]
    bench.keyboard.press("Escape")
    expect(bench.locator("#notice-list")).to_be_hidden()
    expect(bench.get_by_role("button", name="Messages")).to_be_focused()
    bench.evaluate("Object.assign(Alpine.store('server'), { away: true, edits: 2 })")
    expect(bench.locator("#notice")).to_contain_text("does not answer")
    expect(bench.locator("#notice")).to_contain_text("2 edits wait")
    bench.evaluate("Alpine.store('server').away = false")
    expect(bench.locator("#notice")).to_have_text("line 11")


def test_edits_go_one_after_the_other_and_again_under_the_same_name(bench):
    found = bench.run(
        """async ({ send }) => {
          const order = [];
          let failures = 2;
          window.answers = async (address, how) => {
            const { path } = JSON.parse(how.body);
            if (path === "b" && failures-- > 0) throw new TypeError("gone");
            order.push(path);
            await new Promise((d) => setTimeout(d, path === "a" ? 60 : 0));
            return path === "c" ? window.answer("Not so.", 200, { "X-Refused": "422" }) : window.answer({ version: 1, label: path });
          };
          const all = await Promise.all(["a", "b", "c", "d"].map((path) => send("turn", { path })));
          return { order, refused: all.map((one) => one.refused ?? null), asked: window.asked.map(({ body, edit }) => [body.path, edit]) };
        }""",
        "edits",
    )
    assert found["order"] == ["a", "b", "c", "d"]
    assert found["refused"] == [None, None, "Not so.", None]
    names = {}
    for path, edit in found["asked"]:
        names.setdefault(path, []).append(edit)
    assert len(names["b"]) == 3 and len(set(names["b"])) == 1
    assert len({edits[0] for edits in names.values()}) == 4
    expect(bench.locator("body[data-keeping]")).to_have_count(0)


def test_an_answer_that_breaks_off_or_is_empty_blocks_no_later_edit(bench):
    found = bench.run(
        """async ({ send }) => {
          let broken = true;
          window.answers = async (address, how) => {
            const { path } = JSON.parse(how.body);
            if (path === "a" && broken) { broken = false; const body = new ReadableStream({ start: (c) => c.error(new TypeError("cut")) }); return new Response(body); }
            return path === "b" ? new Response(null, { status: 204 }) : window.answer({ version: 1, label: path });
          };
          const all = await Promise.all(["a", "b", "c"].map((path) => send("turn", { path })));
          return { labels: all.map((one) => one.found.label), edits: window.asked.filter(({ body }) => body.path === "a").map(({ edit }) => edit) };
        }""",
        "edits",
    )
    assert found["labels"] == ["a", None, "c"]
    assert len(found["edits"]) == 2 and len(set(found["edits"])) == 1


def test_a_stream_that_breaks_says_again_what_was_set(bench):
    sent = bench.run(
        """async (root) => {
          const text = await (await fetch(root + "/stream-worker.js")).text();
          const sockets = [];
          class Socket {
            static OPEN = 1; static CLOSED = 3;
            constructor(at) { this.at = at; this.readyState = 0; this.sent = []; sockets.push(this); }
            send(m) { this.sent.push(JSON.parse(m)); }
            come() { this.readyState = 1; this.onopen(); }
            go(code = 1006) { this.readyState = 3; this.onclose({ code }); }
          }
          const said = [];
          const scope = new Function("WebSocket", "fetch", "location", "postMessage", "setTimeout", "clearTimeout", text + "; return (data) => onmessage({ data });");
          const asked = async () => ({ json: async () => ({ port: 7 + sockets.length }) });
          const tell = scope(Socket, asked, { hostname: "here" }, (m) => said.push(m), (act) => act(), () => {});
          const come = async (n) => { while (sockets.length <= n) await new Promise((done) => setTimeout(done, 1)); sockets[n].come(); };
          tell({ open: "/live" });
          await come(0);
          const midi = (...bytes) => ({ tell: { do: "midi", bytes } });
          for (const deed of [
            { tell: { do: "on" } }, { tell: { do: "solo", layers: ["body"] } }, { tell: { do: "play" } }, { tell: { do: "loop", on: false } },
            { tell: { do: "note", pitch: 40, on: true } }, midi(0xb0, 1, 20), midi(0xb0, 1, 90), midi(0xe0, 0, 70), midi(0x90, 40, 100),
            { tell: { do: "compare", what: "all" } }, { tell: { do: "compare", what: "" } }, { tell: { do: "room", room: "car" } },
          ]) tell(deed);
          sockets[0].onmessage({ data: new Float32Array([2.5, 0, 0, 0, 0, 0]).buffer });
          sockets[0].go();
          await come(1);
          tell({ tell: { do: "stop" } });
          sockets[1].go();
          await come(2);
          sockets[2].go(4404);
          return { again: sockets[1].sent, stopped: sockets[2].sent.map((m) => m.do), opened: sockets.map((one) => one.at), gone: said.at(-1) };
        }""",
        argument=bench.locator("script[type=module]").get_attribute("src").rsplit("/", 1)[0],
    )
    assert [m["do"] for m in sent["again"]] == ["on", "loop", "solo", "room", "midi", "midi", "play", "stop"]
    assert [m["bytes"] for m in sent["again"] if m["do"] == "midi"] == [[0xB0, 1, 90], [0xE0, 0, 70]]
    assert "play" not in sent["stopped"]
    assert next(m for m in sent["again"] if m["do"] == "play")["beat"] == 2.5
    # where the player is, is asked each time
    assert sent["opened"] == [f"ws://here:{port}/live" for port in (7, 8, 9)] and sent["gone"] == {
        "say": "closed",
        "gone": True,
    }


def test_the_ring_fades_when_nothing_comes_and_starts_over_after_a_break(bench):
    found = bench.run(
        """async (root) => {
          const text = await (await fetch(root + "/ring-worklet.js")).text();
          let Ring;
          const port = { postMessage() {} };
          new Function("registerProcessor", "AudioWorkletProcessor", "currentFrame", text)((name, kind) => { Ring = kind; }, class { port = port; }, 0);
          const ring = new Ring();
          const pipe = { postMessage() {} };
          port.onmessage({ data: { pipe } });
          const quantum = (value) => { const x = new Float32Array(4 + 2 * 1024).fill(value); return { data: { sound: x.buffer } }; };
          const run = (blocks) => { const all = []; for (let n = 0; n < blocks; n++) { const out = [new Float32Array(128), new Float32Array(128)]; ring.process([], [out]); all.push(...out[0]); } return all; };
          for (let n = 0; n < 3; n++) pipe.onmessage(quantum(0.5));
          const x = run(32);
          const jump = Math.max(...x.slice(1).map((v, i) => Math.abs(v - x[i])));
          const { under } = ring;
          pipe.onmessage({ data: { again: true } });
          const silent = run(8).at(-1);
          return { top: Math.max(...x), last: x.at(-1), jump, under, anew: ring.under, silent };
        }""",
        argument=bench.locator("script[type=module]").get_attribute("src").rsplit("/", 1)[0],
    )
    assert found["top"] == 0.5 and abs(found["last"]) < 1e-3 and found["jump"] < 0.011
    assert found["under"] == 1 and found["anew"] == 0 and abs(found["silent"]) < 1e-6


def test_the_player_tells_the_stream_what_it_shows(bench):
    told(bench)
    bench.get_by_role("button", name="Solo Edge").click()
    bench.get_by_role("button", name="Solo Sub").click()
    bench.get_by_role("button", name="Solo Edge").click()
    bench.get_by_role("radio", name="Side").click()
    bench.locator("#loop").click()
    assert [m for m in told(bench) if m["do"] != "turn"] == [
        {"do": "solo", "layers": ["edge"], "source": None},
        {"do": "solo", "layers": ["edge", "sub"], "source": None},
        {"do": "solo", "layers": ["sub"], "source": None},
        {"do": "listen", "mode": "side"},
        {"do": "loop", "on": False},
    ]
    expect(bench.get_by_role("button", name="Solo Sub")).to_have_attribute("aria-pressed", "true")
    expect(bench.get_by_role("button", name="Solo Edge")).to_have_attribute("aria-pressed", "false")
    expect(bench.locator("#loop")).to_have_attribute("aria-pressed", "false")


def test_radio_buttons_and_tabs_are_stepped_through(bench):
    bench.get_by_role("radio", name="Stereo").focus()
    reach = "(list) => [...list.querySelectorAll('[role=radio]')].map((b) => b.tabIndex)"
    group = bench.get_by_role("radiogroup", name="Listen")
    assert group.evaluate(reach) == [0, -1, -1]
    bench.keyboard.press("ArrowRight")
    expect(bench.get_by_role("radio", name="Mono")).to_be_focused()
    expect(bench.get_by_role("radio", name="Mono")).to_have_attribute("aria-checked", "true")
    bench.keyboard.press("End")
    expect(bench.get_by_role("radio", name="Side")).to_be_focused()
    bench.keyboard.press("ArrowDown")
    expect(bench.get_by_role("radio", name="Stereo")).to_be_focused()
    assert group.evaluate(reach) == [0, -1, -1]
    bench.get_by_role("tab", name="Stages").focus()
    bench.keyboard.press("ArrowRight")
    expect(bench.get_by_role("tab", name="Amp envelope")).to_have_attribute("aria-selected", "true")
    expect(bench.get_by_role("tab", name="Amp envelope")).to_be_focused()


def test_the_controller_speaks_midi(bench):
    found = bench.run(
        """({ bendBytes, laneBytes }) => [bendBytes(0), bendBytes(1), bendBytes(-1), bendBytes(7), laneBytes("wheel", 0.5), laneBytes("pressure", 2), laneBytes("bend", 0)]""",
        "hands",
    )
    assert found == [
        [224, 0, 64],
        [224, 127, 127],
        [224, 1, 0],
        [224, 127, 127],
        [176, 1, 64],
        [208, 127],
        [224, 0, 64],
    ]


def test_a_rule_is_heard_while_it_moves_and_kept_once(bench):
    answered(bench)
    rule = bench.locator(f'#editor [data-rule="{CUTOFF}"]')
    box = rule.bounding_box()
    told(bench)
    bench.mouse.move(box["x"] + 0.2 * box["width"], box["y"] + 10)
    bench.mouse.down()
    bench.mouse.move(box["x"] + 0.6 * box["width"], box["y"] + 10, steps=5)
    bench.wait_for_function("window.told.some((m) => m.do === 'turn')")
    assert bench.evaluate("window.asked") == []
    bench.mouse.up()
    ((where, body),) = asked(bench)
    assert where == "turn" and body["path"] == CUTOFF and abs(body["at"] - 0.6) < 0.01
    heard = [m["at"] for m in told(bench) if m["do"] == "turn"]
    assert heard == sorted(heard) and heard[-1] <= 0.61
    # the arrows are one step once they rest; Shift is a tenth
    rule.focus()
    for key in ("ArrowUp", "ArrowRight", "Shift+ArrowLeft"):
        bench.keyboard.press(key)
    bench.wait_for_function("window.asked.reduce((sum, one) => sum + one.body.steps, 0) > 1.85")
    assert round(sum(body["steps"] for _, body in asked(bench)), 6) == 1.9
    for key, how in (("Home", {"at": 0}), ("End", {"at": 1}), ("Delete", {"default": True})):
        bench.keyboard.press(key)
        assert asked(bench) == [("turn", {"path": CUTOFF} | how)]
    bench.keyboard.press("Enter")
    expect(bench.locator(f'#editor [data-value="{CUTOFF}"]')).to_be_focused()


def test_a_field_is_kept_with_enter_and_given_up_with_escape(bench):
    answered(bench)
    field = bench.locator(f'#editor [data-value="{CUTOFF}"]')
    before = field.input_value()
    field.fill("500")
    field.press("Escape")
    assert field.input_value() == before and bench.evaluate("window.asked") == []
    field.fill("500")
    field.press("Enter")
    assert asked(bench) == [("turn", {"path": CUTOFF, "text": "500"})]
    # the server never heard of it: the panel that follows the answer shows the old value again
    expect(field).to_have_value(before)
    bench.evaluate("window.answers = () => window.answer('No such place.', 200, { 'X-Refused': '422' })")
    field.fill("far")
    field.press("Enter")
    expect(field).to_have_attribute("aria-invalid", "true")
    expect(field).not_to_have_value("far")
    expect(bench.locator("#notice")).to_have_text("No such place.")


def test_a_drag_holds_what_is_under_it_until_it_is_let_go(bench):
    found = bench.run(
        """async ({ drag, holding, whenFree }) => {
          const node = document.createElement("div");
          document.body.append(node);
          node.setPointerCapture = () => {};
          const press = (type, x, id = 7) => new PointerEvent(type, { pointerId: id, clientX: x, clientY: 0, bubbles: true, cancelable: true });
          const seen = [];
          let freed = 0;
          node.addEventListener("pointerdown", (event) => drag(event, node, {
            near: 3, move: (now, moved) => seen.push([now.clientX, moved]), drop: (now, moved) => seen.push(["drop", moved]), cancel: () => seen.push(["cancel"]),
          }), { once: true });
          node.dispatchEvent(press("pointerdown", 10));
          whenFree(() => { freed += 1; });
          const during = [holding(), freed];
          node.dispatchEvent(press("pointermove", 12));
          node.dispatchEvent(press("pointermove", 90, 8));
          node.dispatchEvent(press("pointermove", 20));
          node.dispatchEvent(press("pointermove", 11));
          node.dispatchEvent(press("pointerup", 11));
          node.dispatchEvent(press("pointermove", 50));
          await new Promise((done) => setTimeout(done, 5));
          return { seen, during, after: [holding(), freed] };
        }""",
        "drag",
    )
    # another pointer is not this drag's, and what moved once has moved
    assert found["seen"] == [[12, False], [20, True], [11, True], ["drop", True]]
    assert found["during"] == [True, 0] and found["after"] == [False, 1]


def test_the_menu_of_a_control_stands_in_sight_and_says_what_was_refused(bench):
    rule = bench.locator(f'#editor [data-rule="{CUTOFF}"]')
    rule.focus()
    bench.keyboard.press("m")
    menu = bench.locator("#control-menu")
    expect(menu).to_contain_text("Body Pluck cutoff")
    assert menu.evaluate("(node) => node.contains(document.activeElement)")
    box = menu.bounding_box()
    assert box["x"] >= 0 and box["y"] >= 0 and box["x"] + box["width"] <= 1280 and box["y"] + box["height"] <= 800
    bench.evaluate("window.answers = () => window.answer('It is moved already.', 200, { 'X-Refused': '422' })")
    menu.locator(".add").first.click()
    expect(menu.get_by_role("alert")).to_have_text("It is moved already.")
    bench.keyboard.press("Escape")
    expect(menu).to_be_hidden()
    expect(rule).to_be_focused()


def test_keys_go_to_what_has_the_focus_first(bench):
    told(bench)
    bench.evaluate("document.activeElement.blur()")
    bench.keyboard.press("l")
    assert {"do": "loop", "on": False} in told(bench)
    # a button that the keyboard reached is pressed by Space; one that was clicked leaves it to the player
    bench.locator("#loop").focus()
    bench.keyboard.press("Tab")
    expect(bench.locator("#keys")).to_be_focused()
    bench.keyboard.press(" ")
    expect(bench.locator("#keys")).to_have_attribute("aria-pressed", "true")
    bench.keyboard.press("a")
    bench.wait_for_function("window.told.some((m) => m.do === 'midi')")
    bench.locator("#keys").click()
    expect(bench.locator("#keys")).to_have_attribute("aria-pressed", "false")
    bench.keyboard.press(" ")
    expect(bench.locator("#play")).to_have_attribute("aria-pressed", "true")
    expect(bench.locator("#keys")).to_have_attribute("aria-pressed", "false")
    # a field takes letters
    name = bench.get_by_label("Patch name")
    name.fill("")
    name.press_sequentially("small l")
    expect(name).to_have_value("small l")
    name.press("Escape")
    # the volume is turned with the arrows
    layer = bench.locator("#editor-layer").input_value()
    bench.locator("#volume").focus()
    bench.keyboard.press("ArrowUp")
    assert bench.locator("#volume").input_value() == "-8" and bench.locator("#editor-layer").input_value() == layer


def test_help_and_the_note_editor_close_with_escape_and_give_the_focus_back(bench):
    bench.get_by_role("button", name="Help").click()
    expect(bench.locator("#help")).to_be_visible()
    bench.keyboard.press("Escape")
    expect(bench.locator("#help")).to_be_hidden()
    expect(bench.get_by_role("button", name="Help")).to_be_focused()
    bench.evaluate("document.activeElement.blur()")
    bench.keyboard.press("p")
    expect(bench.locator("#notes")).to_be_focused()
    bench.get_by_role("button", name="Double").click()
    expect(bench.locator("#notice")).to_contain_text("Choose notes first")
    expect(bench.locator("#notice")).to_be_visible()
    bench.keyboard.press("Escape")
    expect(bench.locator("#phrase-panel")).to_be_hidden()
    expect(bench.locator(".phrase-open")).to_be_focused()


def test_notes_are_drawn_moved_and_chosen(bench):
    answered(bench)
    bench.locator(".phrase-open").click()
    grid = bench.locator("#notes")
    expect(grid).to_be_focused()
    bench.keyboard.press("ArrowRight")
    bench.keyboard.press("Enter")
    ((where, body),) = asked(bench)
    assert (
        where == "notes"
        and body["do"] == "draw"
        and body["start"] == float(bench.locator("#phrase-panel").get_attribute("data-grid"))
    )
    notes = bench.locator("[data-note]")
    ids = [notes.nth(n).get_attribute("data-note") for n in range(2)]
    notes.nth(0).focus()
    bench.keyboard.press("Enter")
    expect(notes.nth(0)).to_have_attribute("aria-pressed", "true")
    notes.nth(1).focus()
    bench.keyboard.press("Shift+Enter")
    bench.keyboard.press("ArrowUp")
    ((_, body),) = asked(bench)
    assert (body["do"], sorted(body["ids"]), body["semitones"]) == ("move", sorted(ids), 1)
    bench.keyboard.press("Delete")
    assert asked(bench)[0][1]["do"] == "delete"


def test_a_curve_a_wave_and_a_chart_are_moved_with_the_arrows(bench, address):
    answered(bench)
    bench.get_by_role("tab", name="Wave").click()
    bench.locator("#wave-cycle").focus()
    bench.keyboard.press("ArrowRight")
    assert "point 2 of 64" in bench.locator("#wave-cycle").get_attribute("aria-valuetext")
    bench.keyboard.press("ArrowUp")
    ((where, body),) = asked(bench)
    assert where == "wave" and body["do"] == "stroke"
    bench.locator("#wave-bars").focus()
    bench.keyboard.press("Shift+ArrowDown")
    assert asked(bench)[0][1]["by"] == -0.2
    bench.keyboard.press("PageUp")
    assert asked(bench)[0][1]["phases"][0][0] == 1
    open_patch(bench, address, "mud-lantern", layer="growl", tab="stages")
    answered(bench)
    dot = bench.locator(".dot")
    if dot.count():
        dot.focus()
        bench.keyboard.press("ArrowUp")
        assert asked(bench)[0][1]["steps"] == -1


def test_a_press_on_the_meter_scope_and_swaps_keeps_the_focus(bench):
    # a chip that is removed gives the focus to what stands in its place
    answered(bench)
    bench.evaluate("window.answers = null")
    tab = bench.get_by_role("tab", name="Movers")
    tab.focus()
    bench.keyboard.press("Enter")
    expect(tab).to_have_attribute("aria-selected", "true")
    expect(tab).to_be_focused()
    for word in ("redrawn", "edited"):
        bench.evaluate(f"document.body.dispatchEvent(new CustomEvent('{word}'))")
        bench.wait_for_function("!document.querySelector('.htmx-request')")
        assert bench.evaluate("document.activeElement !== document.body")


def test_a_field_about_to_be_typed_over_still_is_after_a_swap_and_after_a_new_value(bench):
    field = bench.locator(f'#editor [data-value="{CUTOFF}"]')
    selected = "(({ selectionStart: a, selectionEnd: z, value }) => value.slice(a, z))(document.activeElement)"
    field.focus()
    assert bench.evaluate(selected) == "230 Hz"
    bench.evaluate("document.querySelector('#editor').dataset.old = 'yes'")
    bench.evaluate("document.body.dispatchEvent(new CustomEvent('redrawn'))")
    expect(bench.locator("#editor[data-old]")).to_have_count(0)
    expect(field).to_be_focused()
    assert bench.evaluate(selected) == "230 Hz"
    bench.run(
        "({ showValue }, path) => showValue({ path, text: '1.2 kHz', at: 0.5, axis: 0.5 })", "values", argument=CUTOFF
    )
    assert bench.evaluate(selected) == "1.2 kHz"
    bench.keyboard.type("600")
    assert field.input_value() == "600"
