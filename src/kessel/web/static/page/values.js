// Values of controls: what is shown of them, what is asked to be kept, and fields that are typed into. The server knows
// what a place on a rule means.
import { announce, clamp } from "./page.js";
import { help, say } from "./notice.js";
import { send } from "./edits.js";
import { letGo } from "./drag.js";
import * as stream from "./stream.js";

const all = (attribute, path) => document.querySelectorAll(`[data-${attribute}="${CSS.escape(path)}"]`);

export function placeCaret(track, at) { track.querySelector(".caret").setAttribute("x", `${100 * at}%`); }

export function placeHandle(handle, at) {
  const x = `${100 * at}%`;
  for (const node of handle.querySelectorAll("rect, svg, text")) node.setAttribute("x", x);
  for (const line of handle.querySelectorAll("line")) { line.setAttribute("x1", x); line.setAttribute("x2", x); }
  const path = handle.dataset.handle;
  for (const out of all("out", path)) {
    out.setAttribute("width", path.endsWith("low") ? x : `${100 - 100 * at}%`);
    if (path.endsWith("high")) out.setAttribute("x", x);
  }
}

// Whether all of a field is selected, so that what is typed next takes its place.
export const allSelected = (input) => input.selectionStart === 0 && input.selectionEnd === input.value.length;

// A text that is put under the hand of somebody who is about to type over it is typed over as well.
function put(input, text) {
  if (input.value === text) return;
  const again = input === document.activeElement && allSelected(input);
  input.value = text;
  if (again) input.select();
}

// Show a value everywhere. at: its place on its rule, axis: on the frequency axis, 0..1. What a hand holds stays there.
export function showValue({ path, text, at, axis }) {
  for (const input of all("value", path)) {
    input.dataset.kept = text;
    if (input !== document.activeElement || input.dataset.dirty !== "yes") put(input, text);
    input.removeAttribute("aria-invalid");
  }
  for (const track of all("rule", path)) {
    track.setAttribute("aria-valuetext", text);
    if (at === null) continue;
    track.setAttribute("aria-valuenow", (100 * at).toFixed(2));
    if (!track.classList.contains("held")) placeCaret(track, at);
  }
  for (const handle of all("handle", path)) {
    handle.setAttribute("aria-valuetext", text);
    handle.querySelector(".tip").textContent = text;
    if (axis === null) continue;
    handle.setAttribute("aria-valuenow", (100 * clamp(axis)).toFixed(2));
    if (!handle.classList.contains("held")) placeHandle(handle, clamp(axis));
  }
}

export const redraw = () => announce("redrawn");

// A drag was given up: what is kept is heard and shown again.
export function giveUp() {
  stream.tell({ do: "drop" });
  redraw();
}

// Keep a value. how: {at}, {axis}, {steps}, {text} or {default}. Gives what is kept, or {refused}: what is not kept is
// neither shown nor heard.
export const turn = (path, how, byField = false) => turnBoth(path, how, undefined, byField);

// The same for two controls that a hand moves at once, in one step. also: {path} of the second and how.
export async function turnBoth(path, how, also, byField = false) {
  const { refused, found } = await send("turn", { path, ...how, ...(also && { also }) });
  if (refused) {
    if (!byField) { stream.tell({ do: "drop" }); announce("edited", "redrawn"); }
    return { refused };
  }
  showValue(found);
  if (found.also) showValue(found.also);
  say(found.label);
  announce("edited");
  return found;
}

// What is kept of a field: what was shown last, or what it came with.
const keptOf = (input) => input.dataset.kept ?? input.defaultValue;

async function keep(input) {
  const { value: path } = input.dataset;
  const { refused } = await turn(path, { text: input.value }, true);
  if (!refused) { redraw(); return; }
  for (const box of all("value", path)) {
    box.setAttribute("aria-invalid", "true");
    box.value = keptOf(box);
  }
}

async function typed(input) {
  if (input.dataset.dirty !== "yes") return;
  input.dataset.dirty = "";
  if (input.value !== keptOf(input)) await keep(input);
  letGo();
}

export const value = () => ({
  "@focus"() { this.$el.select(); },
  "@input"() { this.$el.dataset.dirty = "yes"; },
  "@keydown.enter"() { typed(this.$el); this.$el.select(); },
  "@keydown.escape"(event) {
    if (this.$el.dataset.dirty !== "yes") return;
    event.stopPropagation();
    this.$el.dataset.dirty = "";
    this.$el.value = keptOf(this.$el);
    this.$el.select();
    letGo();
  },
  "@blur"() { typed(this.$el); },
});

// A button that chooses a word, and a list of words. Who steps through a list with the arrows is not interrupted.
export const choice = () => ({
  async "@click"() {
    const { choose, word } = this.$el.dataset;
    const { refused } = await turn(choose, { text: word });
    if (!refused) redraw();
  },
});

let picked = 0;
export const pick = () => ({
  async "@change"() {
    const { refused } = await turn(this.$el.dataset.pick, { text: this.$el.value });
    if (refused) return;
    clearTimeout(picked);
    picked = setTimeout(redraw, 220);
  },
});

let swapping = false;
// A control that gets its focus back from a redrawn fragment has nothing new to say.
export const helping = () => ({
  "@focusin"({ target }) {
    const text = target.closest("[data-help]")?.dataset.help;
    if (text && !swapping) help(text);
  },
  "@htmx:before-swap"() { swapping = true; },
  "@htmx:after-settle"() { swapping = false; },
});

// While a hand is on a control, the stream says what it stands at, and what it kept of sliders and of a recording.
export function startValues() {
  stream.hear("value", showValue);
  stream.hear("edited", ({ label }) => {
    say(label);
    announce("edited", "redrawn");
  });
}
