// Hands on controls: drag, wheel, arrows, typing. The server knows what a place on a rule means; here is only where
// the hand is.
import { keeping, say, send } from "./keeping.js";

let held = null;
let swapping = false;
const waiting = new Map();

// While a button is down or a value is being typed, nothing under it is redrawn: no drag, click or word gets lost.
let pressed = false;
export function holding() { return held !== null || pressed || document.activeElement?.dataset?.dirty === "yes"; }
const letGo = () => document.body.dispatchEvent(new CustomEvent("letgo"));

function showValue({ path, text, at, axis }) {
  for (const input of document.querySelectorAll(`[data-value="${path}"]`)) {
    if (input !== document.activeElement || input.dataset.dirty !== "yes") input.value = text;
    input.removeAttribute("aria-invalid");
  }
  for (const track of document.querySelectorAll(`[data-rule="${path}"]`)) {
    track.setAttribute("aria-valuetext", text);
    if (at !== null) {
      track.setAttribute("aria-valuenow", (100 * at).toFixed(2));
      if (!held || held.node !== track) track.querySelector(".caret").setAttribute("x", `${100 * at}%`);
    }
  }
  for (const handle of document.querySelectorAll(`[data-handle="${path}"]`)) {
    handle.setAttribute("aria-valuetext", text);
    handle.querySelector(".tip").textContent = text;
    if (axis !== null && (!held || held.node !== handle)) placeHandle(handle, Math.min(Math.max(axis, 0), 1));
  }
}

function placeHandle(handle, at) {
  const x = `${100 * at}%`;
  handle.setAttribute("aria-valuenow", (100 * at).toFixed(3));
  for (const node of handle.querySelectorAll("rect, svg, text")) node.setAttribute("x", x);
  for (const line of handle.querySelectorAll("line")) { line.setAttribute("x1", x); line.setAttribute("x2", x); }
  const out = document.querySelector(`[data-out="${handle.dataset.handle}"]`);
  if (out && handle.dataset.handle.endsWith("low")) out.setAttribute("width", x);
  if (out && handle.dataset.handle.endsWith("high")) { out.setAttribute("x", x); out.setAttribute("width", `${100 - 100 * at}%`); }
}

// Keep one turn; what the server answers is already on disk. Turns are sent one after the other, so that the last hand
// has the last word.
let line = Promise.resolve();
export function turn(path, how, typed = false) {
  const over = keeping();
  line = line.then(() => turnNow(path, how, typed)).finally(over);
  return line;
}

async function turnNow(path, how, typed) {
  const answer = await send("turn", { path, ...how });
  if (!answer || answer.refused) {
    // what is not kept is not shown or heard either; what was typed is set back by its box
    if (answer && !typed) document.body.dispatchEvent(new CustomEvent("refused"));
    return answer;
  }
  const { found } = answer;
  showValue(found);
  say(found.label);
  document.body.dispatchEvent(new CustomEvent("edited", { detail: { path } }));
  return found;
}

function redraw() { document.body.dispatchEvent(new CustomEvent("redrawn")); }

export function startControls(player) {
  player.onValue = showValue;
  player.onProblem = (message) => say(message.text, true);
  document.body.addEventListener("refused", () => {
    player.send({ do: "drop" });
    for (const name of ["edited", "redrawn"]) document.body.dispatchEvent(new CustomEvent(name));
  });

  const trackOf = (target) => target.closest && (target.closest("[data-rule]") || target.closest("[data-handle]"));
  const pathOf = (node) => node.dataset.rule || node.dataset.handle;
  const boxOf = (node) => (node.dataset.rule ? node : node.closest(".plot")).getBoundingClientRect();

  let frame = 0;
  function moved(event) {
    const box = boxOf(held.node);
    held.x = Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1);
    if (event.shiftKey) {
      held.fine ??= held.x;
      held.at = Math.min(Math.max(held.fine + (held.x - held.fine) / 10, 0), 1);
    } else {
      held.fine = null;
      held.at = held.x;
    }
    if (held.node.dataset.rule) held.node.querySelector(".caret").setAttribute("x", `${100 * held.at}%`);
    else placeHandle(held.node, held.at);
    // a handle on a drawing turns a second control up and down
    const up = held.top - event.clientY;
    if (held.also && (Math.abs(up) > 6 || held.alsoAt !== undefined)) held.alsoAt = Math.min(Math.max(held.alsoFrom + up / (event.shiftKey ? 1600 : 160), 0), 1);
    if (!frame) frame = requestAnimationFrame(() => {
      frame = 0;
      if (!held) return;
      player.send({ do: "turn", path: held.path, [held.scale]: held.at });
      if (held.alsoAt !== undefined) player.send({ do: "turn", path: held.also, at: held.alsoAt });
    });
  }
  const released = () => {
    if (!pressed) return;
    // the click comes after this event
    setTimeout(() => { pressed = false; if (!held) letGo(); }, 0);
  };
  document.addEventListener("pointerdown", () => { pressed = true; }, true);
  document.addEventListener("pointerup", released, true);
  document.addEventListener("pointercancel", released, true);

  document.addEventListener("pointerdown", (event) => {
    const node = trackOf(event.target);
    if (!node || event.button !== 0) return;
    event.preventDefault();
    rest(pathOf(node));
    node.focus({ preventScroll: true });
    held = { node, path: pathOf(node), scale: node.dataset.rule ? "at" : "axis", start: event.clientX, top: event.clientY, moved: false, fine: null, also: node.dataset.also, alsoFrom: Number(node.dataset.alsoAt) };
    node.classList.add("held");
    node.setPointerCapture?.(event.pointerId);
    if (node.dataset.rule) { held.moved = true; moved(event); }
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    if (Math.abs(event.clientX - held.start) > 1 || (held.also && Math.abs(event.clientY - held.top) > 6)) held.moved = true;
    if (held.moved) moved(event);
  });
  async function release(kept) {
    if (!held) return;
    const h = held;
    h.node.classList.remove("held");
    held = null;
    if (!h.moved) return;
    if (kept) {
      await turn(h.path, { [h.scale]: h.at });
      if (h.alsoAt !== undefined) await turn(h.also, { at: h.alsoAt });
      redraw();
    }
    else player.send({ do: "drop" });
  }
  document.addEventListener("pointerup", () => release(true));
  document.addEventListener("pointercancel", () => release(false));

  document.addEventListener("dblclick", (event) => {
    const node = trackOf(event.target);
    if (node) turn(pathOf(node), { default: true }).then(redraw);
  });

  // arrows and wheel: heard at once, kept as one step when the hand rests
  function step(path, steps) {
    const kept = waiting.get(path) || { steps: 0, timer: 0, over: keeping() };
    kept.steps += steps;
    clearTimeout(kept.timer);
    player.send({ do: "turn", path, steps: kept.steps });
    kept.timer = setTimeout(() => rest(path).then(redraw), 160);
    waiting.set(path, kept);
  }
  async function rest(path) {
    const kept = waiting.get(path);
    if (!kept) return;
    clearTimeout(kept.timer);
    waiting.delete(path);
    await turn(path, { steps: kept.steps }).finally(kept.over);
  }
  // who leaves the page with the hand still on the arrows leaves nothing behind
  window.addEventListener("pagehide", () => { for (const path of [...waiting.keys()]) rest(path); });
  document.addEventListener("wheel", (event) => {
    const node = trackOf(event.target);
    if (!node || event.deltaY === 0) return;
    event.preventDefault();
    const way = event.deltaY < 0 ? 1 : -1;
    step(pathOf(node), way * (event.shiftKey ? 0.1 : 1));
  }, { passive: false });
  document.addEventListener("keydown", (event) => {
    const node = event.target.matches?.("[data-rule], [data-handle]") ? event.target : null;
    if (!node || event.ctrlKey || event.metaKey || event.altKey) return;
    const ways = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 5, PageDown: -5 };
    if (!(event.key in ways)) rest(pathOf(node));
    if (event.key in ways) step(pathOf(node), ways[event.key] * (event.shiftKey ? 0.1 : 1));
    else if (event.key === "Home") turn(pathOf(node), { [node.dataset.rule ? "at" : "axis"]: 0 }).then(redraw);
    else if (event.key === "End") turn(pathOf(node), { [node.dataset.rule ? "at" : "axis"]: 1 }).then(redraw);
    else if (event.key === "Delete" || event.key === "Backspace") turn(pathOf(node), { default: true }).then(redraw);
    else if (event.key === "Enter") document.getElementById(`${node.id}-value`)?.focus();
    else return;
    event.preventDefault();
    event.stopPropagation();
  });

  // a control that gets its focus back from a redrawn fragment has nothing new to say
  document.body.addEventListener("htmx:beforeSwap", () => { swapping = true; });
  document.body.addEventListener("htmx:afterSettle", () => { swapping = false; });

  // typing
  document.addEventListener("input", (event) => {
    if (event.target.matches("[data-value]")) event.target.dataset.dirty = "yes";
  });
  document.addEventListener("focusin", (event) => {
    const node = event.target;
    if (node.matches("input[data-value]")) { node.dataset.was = node.value; node.select(); }
    if (swapping) return;
    const help = node.closest?.("[data-help]")?.dataset.help;
    if (help) say(help);
  });
  async function typed(input) {
    if (input.dataset.dirty !== "yes") return;
    input.dataset.dirty = "";
    if (input.value !== input.dataset.was) await keep(input);
    letGo();
  }
  async function keep(input) {
    const found = await turn(input.dataset.value, { text: input.value }, true);
    if (found && found.refused) {
      input.setAttribute("aria-invalid", "true");
      input.value = input.dataset.was;
    } else if (found) {
      input.dataset.was = input.value;
      redraw();
    }
  }
  document.addEventListener("keydown", (event) => {
    if (!event.target.matches?.("input[data-value]")) return;
    if (event.key === "Enter") { typed(event.target); event.target.select(); }
    if (event.key === "Escape") { event.target.dataset.dirty = ""; event.target.value = event.target.dataset.was ?? event.target.value; event.target.blur(); letGo(); }
  });
  document.addEventListener("focusout", (event) => { if (event.target.matches("input[data-value]")) typed(event.target); });

  // choices
  let picked = 0;
  document.addEventListener("click", async (event) => {
    const button = event.target.closest("[data-choose]");
    if (button && await turn(button.dataset.choose, { text: button.dataset.word })) redraw();
  });
  document.addEventListener("change", async (event) => {
    const pick = event.target.closest("[data-pick]");
    if (!pick || !await turn(pick.dataset.pick, { text: pick.value })) return;
    // who steps through a list with the arrows is not interrupted
    clearTimeout(picked);
    picked = setTimeout(redraw, 220);
  });
}
