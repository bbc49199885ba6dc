// The movement workspace under a hand: points of a drawn curve, a moment of the loop, the vowel chart, the menu of a control.
import { turn } from "./controls.js";
import { say } from "./keeping.js";
import { draw, post } from "./panels.js";

const slug = document.body.dataset.slug;
const $ = (id) => document.getElementById(id);
const clamp = (v, low = 0, high = 1) => Math.min(Math.max(v, low), high);
const PAD = 0.07;

export function startMovement(player) {
  const redraw = () => document.body.dispatchEvent(new CustomEvent("redrawn"));
  const ask = (name, value) => { $(`editor-${name}`).value = value; };

  // workspaces: the main drawing changes, all else goes on
  player.workspace = (view) => {
    if ($("sheet").dataset.view === view) return;
    ask("view", view);
    ask("tab", { movement: "movements", shaping: "" }[view] ?? "sources");
    ask("what", "");
    ask("item", "");
    for (const link of document.querySelectorAll("nav [data-view]")) {
      const on = link.dataset.view === view;
      link.classList.toggle("on", on);
      if (on) link.setAttribute("aria-current", "page"); else link.removeAttribute("aria-current");
    }
    player.address();
    fresh();
    redraw();
  };
  // what is known now is shown at once; what has to be measured follows
  const fresh = () => draw(`/patch/${slug}/sheet?now=true`, "#sheet", { source: "#sheet" });

  document.addEventListener("click", (event) => {
    const at = (what) => event.target.closest(what);
    let found;
    if ((found = at("nav [data-view]"))) { event.preventDefault(); player.workspace(found.dataset.view); }
    else if ((found = at("button[data-ask]"))) {
      ask(found.dataset.ask, found.dataset.word);
      player.address();
      if (found.dataset.ask === "what") fresh(); else redraw();
    }
    else if ((found = at("[data-mover]:not(svg)"))) { ask("tab", "movers"); ask("item", found.dataset.mover); player.address(); redraw(); }
    else if ((found = at("[data-draw]"))) { ask("curve", found.dataset.draw); if ($("sheet").dataset.view === "movement") redraw(); else player.workspace("movement"); }
    else if ((found = at("[data-touch]"))) post("curve", { mover: $("curve").dataset.mover, do: "touch", what: found.dataset.touch });
    // the click that opened the menu is no click beside it
    if (event.altKey) return;
    if (at("[data-close-menu]") || (!at("#control-menu") && $("control-menu").innerHTML) || at("#control-menu .add")) closeMenu();
  });
  document.addEventListener("change", (event) => {
    if (event.target.matches("select[data-ask]")) { ask(event.target.dataset.ask, event.target.value); player.address(); redraw(); }
    else if (event.target.matches("[data-find]")) { ask(event.target.dataset.find, event.target.value.replaceAll(":", " ").trim()); redraw(); }
    else if (event.target.closest("#control-menu")) closeMenu();
  });

  // the menu of a control
  async function openMenu(path, x, y) {
    const answer = await fetch(`/patch/${slug}/control-menu?path=${encodeURIComponent(path)}`).catch(() => null);
    if (!answer || !answer.ok) { say(answer ? await answer.text() : "Kessel does not answer: is it still running?", true); return; }
    $("control-menu").outerHTML = await answer.text();
    const menu = $("control-menu");
    window.htmx.process(menu);
    const box = menu.getBoundingClientRect();
    menu.style.left = `${clamp(x, 8, window.innerWidth - box.width - 8)}px`;
    menu.style.top = `${clamp(y, 8, window.innerHeight - box.height - 8)}px`;
    menu.querySelector("button.add")?.focus();
  }
  function closeMenu() {
    const menu = $("control-menu");
    if (!menu.innerHTML) return;
    const empty = document.createElement("div");
    empty.id = "control-menu";
    empty.hidden = true;
    menu.replaceWith(empty);
  }
  const controlAt = (node) => { const found = node.closest?.("[data-rule], [data-handle], .rule[data-path]"); return found && (found.dataset.rule || found.dataset.handle || found.dataset.path); };
  const own = (path) => path && !path.startsWith("movements.");
  document.addEventListener("pointerdown", (event) => {
    const path = controlAt(event.target);
    if (!event.altKey || !own(path) || event.button !== 0) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    openMenu(path, event.clientX + 6, event.clientY - 20);
  }, true);
  document.addEventListener("contextmenu", (event) => {
    const path = controlAt(event.target);
    if (!own(path) || event.target.matches("input")) return;
    event.preventDefault();
    openMenu(path, event.clientX + 6, event.clientY - 20);
  });
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape" && $("control-menu").innerHTML) { closeMenu(); return; }
    if (!event.altKey || event.key !== "Enter") return;
    const path = controlAt(event.target);
    if (!own(path)) return;
    event.preventDefault();
    const box = event.target.getBoundingClientRect();
    openMenu(path, box.left + 20, box.top - 40);
  });

  // points of the drawn curve
  let hand = null;
  let told = 0;
  const region = () => $("curve-region");
  function place(event) {
    const box = $("curve-area").getBoundingClientRect();
    return { at: clamp((event.clientX - box.left) / box.width), value: clamp(1 - ((event.clientY - box.top) / box.height - PAD) / (1 - 2 * PAD)) };
  }
  const toY = (value) => 100 * (PAD + (1 - 2 * PAD) * (1 - value));
  const curve = (what) => post("curve", { mover: $("curve").dataset.mover, ...what });
  document.addEventListener("pointerdown", (event) => {
    if (event.button !== 0 || event.altKey) return;
    const box = event.target.closest?.("#curve-region");
    if (!box) return;
    event.preventDefault();
    const point = event.target.closest("[data-point]");
    const mark = event.target.closest("[data-bend]");
    box.setPointerCapture(event.pointerId);
    point?.focus({ preventScroll: true });
    hand = { kind: point ? "move" : mark ? "bend" : "stroke", node: point || mark, index: Number(point?.dataset.point ?? mark?.dataset.bend ?? -1), line: [], moved: false, x: event.clientX, y: event.clientY };
    hand.line.push(place(event));
  });
  document.addEventListener("pointermove", (event) => {
    if (!hand) return;
    if (Math.abs(event.clientX - hand.x) + Math.abs(event.clientY - hand.y) > 3) hand.moved = true;
    if (!hand.moved) return;
    hand.last = place(event);
    if (hand.kind === "stroke") {
      hand.line.push(hand.last);
      $("curve-ghost").setAttribute("d", `M${hand.line.map((p) => `${1000 * p.at},${toY(p.value)}`).join(" L")}`);
    } else if (hand.kind === "move") {
      const ends = document.querySelectorAll("[data-point]").length - 1;
      const fixed = hand.index === 0 ? 0 : hand.index === ends ? 1 : hand.last.at;
      hand.node.setAttribute("x", `${100 * fixed}%`);
      hand.node.setAttribute("y", `${toY(hand.last.value)}%`);
      say(`point ${hand.index + 1}: ${Math.round(100 * hand.last.value)} %`);
    } else hand.node.setAttribute("y", `${toY(hand.last.value)}%`);
    const now = performance.now();
    if (now - told < 60) return;
    told = now;
    const mover = $("curve").dataset.mover;
    if (hand.kind === "stroke") { if (hand.line.length > 3) player.send({ do: "curve", deed: "stroke", mover, line: hand.line.map((p) => [p.at, p.value]) }); }
    else player.send({ do: "curve", deed: hand.kind, mover, index: hand.index, at: hand.last.at, value: hand.last.value });
  });
  player.onCurve = ({ mover, line }) => {
    if (!hand || $("curve")?.dataset.mover !== mover) return;
    $("curve-line").setAttribute("d", `M${line.map((v, i) => `${(1000 * i) / (line.length - 1)},${toY(v)}`).join(" L")}`);
  };
  document.addEventListener("pointerup", async () => {
    if (!hand) return;
    const h = hand;
    hand = null;
    let kept = true;
    if (h.kind === "move" && h.moved) kept = await curve({ do: "move", index: h.index, at: h.last.at, value: h.last.value });
    else if (h.kind === "bend" && h.moved) kept = await curve({ do: "bend", index: h.index, value: h.last.value });
    else if (h.kind === "stroke" && h.moved && h.line.length > 2) kept = await curve({ do: "stroke", line: h.line.map((p) => [p.at, p.value]) });
    else if (h.kind === "stroke" && !h.moved) kept = await curve({ do: "add", ...h.line[0] });
    if (!kept) redraw();
  });
  document.addEventListener("pointercancel", () => { if (!hand) return; hand = null; player.send({ do: "drop" }); redraw(); });
  document.addEventListener("dblclick", (event) => {
    const point = event.target.closest?.("[data-point]");
    if (point) curve({ do: "remove", index: Number(point.dataset.point) });
  });
  document.addEventListener("keydown", (event) => {
    const point = event.target.closest?.("[data-point]");
    if (!point || event.ctrlKey || event.metaKey || event.altKey) return;
    const index = Number(point.dataset.point);
    const at = Number(point.dataset.x) / 100;
    const value = 1 - (Number(point.dataset.y) / 100 - PAD) / (1 - 2 * PAD);
    const step = event.shiftKey ? 0.01 : 0.05;
    const side = { ArrowLeft: -1, ArrowRight: 1 }[event.key] || 0;
    const upward = { ArrowUp: 1, ArrowDown: -1 }[event.key] || 0;
    const grid = event.shiftKey ? 0.005 : Math.max(0.01, Number(document.querySelector("#curve-region > line:nth-of-type(2)")?.getAttribute("x1").replace("%", "") || 2) / 100 - Number(document.querySelector("#curve-region > line")?.getAttribute("x1").replace("%", "") || 0) / 100);
    if (side || upward) curve({ do: "move", index, at: clamp(at + side * grid), value: clamp(value + upward * step) });
    else if (event.key === "Delete" || event.key === "Backspace") curve({ do: "remove", index });
    else if (event.key === "+") {
      const next = document.querySelector(`[data-point="${index + 1}"]`);
      if (next) curve({ do: "add", at: (at + Number(next.dataset.x) / 100) / 2, value });
    } else if (event.key === "PageUp" || event.key === "PageDown") {
      const mark = document.querySelector(`[data-bend="${index}"]`);
      if (mark) curve({ do: "bend", index, value: clamp(1 - (parseFloat(mark.getAttribute("y")) / 100 - PAD) / (1 - 2 * PAD) + (event.key === "PageUp" ? 0.06 : -0.06), 0.001, 0.999) });
    } else return;
    event.preventDefault();
    event.stopImmediatePropagation();
  }, true);

  // a moment of the loop
  let moment = null;
  let asked = 0;
  function look(event) {
    const box = $("loop-picture").getBoundingClientRect();
    show(clamp((event.clientX - box.left) / box.width, 0, 0.9999));
  }
  function show(at) {
    moment.at = at;
    const beats = Number($("sheet").dataset.beats);
    for (const end of ["x1", "x2"]) $("moment-line").setAttribute(end, `${100 * at}%`);
    $("loop-picture").setAttribute("aria-valuenow", Math.round(100 * at));
    say(`beat ${(1 + at * beats).toFixed(2)}`);
    player.send({ do: "glimpse", beat: at * beats });
    const now = performance.now();
    if (now - asked < 150) return;
    asked = now;
    see(at);
  }
  function see(at) {
    const what = $("sheet").dataset.what;
    draw(`/patch/${slug}/moment?at=${at.toFixed(5)}&what=${what === "sum" ? "sum" : `layer:${what}`}`, "#moment");
  }
  document.addEventListener("pointerdown", async (event) => {
    const box = event.target.closest?.("#loop-picture");
    if (!box || event.button !== 0 || event.altKey) return;
    event.preventDefault();
    box.focus({ preventScroll: true });
    box.setPointerCapture(event.pointerId);
    moment = { at: 0 };
    asked = 0;
    look(event);
    await player.start();
    if (moment) look(event);
  });
  document.addEventListener("pointermove", (event) => { if (moment) look(event); });
  const leave = () => { if (!moment) return; see(moment.at); moment = null; player.send({ do: "glimpse", beat: null }); };
  document.addEventListener("pointerup", leave);
  document.addEventListener("pointercancel", leave);
  let quiet = 0;
  document.addEventListener("keydown", async (event) => {
    if (event.target.id !== "loop-picture") return;
    const side = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!side) return;
    event.preventDefault();
    event.stopPropagation();
    await player.start();
    moment = { at: 0 };
    asked = 0;
    show(clamp(Number(event.target.getAttribute("aria-valuenow")) / 100 + side * 0.01, 0, 0.9999));
    clearTimeout(quiet);
    quiet = setTimeout(leave, 700);
  });

  // the vowel chart: two controls in one place
  let pad = null;
  const padAt = (event) => {
    const box = document.querySelector(".chart-inner > rect").getBoundingClientRect();
    return [clamp((event.clientX - box.left) / box.width), clamp((event.clientY - box.top) / box.height)];
  };
  function padTo(x, y) {
    pad.x = x;
    pad.y = y;
    $("chart-dot").setAttribute("x", `${100 * x}%`);
    $("chart-dot").setAttribute("y", `${100 * y}%`);
    player.send({ do: "turn", path: pad.pathX, at: x });
    player.send({ do: "turn", path: pad.pathY, at: y });
  }
  document.addEventListener("pointerdown", (event) => {
    const box = event.target.closest?.("[data-pad-x]");
    if (!box || event.button !== 0) return;
    event.preventDefault();
    $("chart-dot").focus({ preventScroll: true });
    box.setPointerCapture(event.pointerId);
    pad = { pathX: box.dataset.padX, pathY: box.dataset.padY };
    padTo(...padAt(event));
  });
  document.addEventListener("pointermove", (event) => { if (pad) padTo(...padAt(event)); });
  document.addEventListener("pointerup", async () => {
    if (!pad) return;
    const p = pad;
    pad = null;
    await turn(p.pathX, { at: p.x });
    await turn(p.pathY, { at: p.y });
    redraw();
  });
  document.addEventListener("keydown", async (event) => {
    if (event.target.id !== "chart-dot" || event.ctrlKey || event.altKey) return;
    const box = event.target.closest("[data-pad-x]");
    const step = event.shiftKey ? 0.1 : 1;
    const sideways = { ArrowLeft: -step, ArrowRight: step }[event.key];
    const upward = { ArrowUp: -step, ArrowDown: step }[event.key];
    if (!sideways && !upward) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    await turn(sideways ? box.dataset.padX : box.dataset.padY, { steps: sideways || upward });
    redraw();
  }, true);

  // the playhead stands over every drawing of the loop
  player.onFrame = (on, share) => {
    for (const head of document.querySelectorAll("[data-head]")) {
      head.setAttribute("visibility", on ? "visible" : "hidden");
      if (on) head.setAttribute("x", `${100 * share}%`);
    }
  };
}
