// Keys of the whole page. What has the focus comes first: a field is typed into, a button pressed, a list stepped through.
import { asked } from "./asked.js";

const typing = (node) => node.matches?.("input, select, textarea") && node.type !== "range";
// A button that was clicked keeps the focus, but no key led to it: then Space plays.
let clicked = false;
const pressable = (node) => node.matches?.("[role=button]") || (!clicked && node.matches?.("button, a, summary"));
const slides = (node, key) => node.type === "range" && /^(Arrow|Page|Home|End)/.test(key);
const stores = (name) => window.Alpine.store(name);
const workspace = (view) => stores("asked").workspace(document.querySelector(`nav [data-view=${view}]`));

const SHORTCUTS = {
  " ": () => stores("player").toggle(),
  l: () => stores("player").loop(),
  n: () => stores("panels").toggleKeys(),
  r: () => stores("player").record(),
  p: () => stores("panels").toggleNotes(),
  m: () => stores("player").mono(),
  s: () => stores("player").soloLayer(asked("layer")),
  x: () => document.querySelector(`#strip-${asked("layer")} [data-choose$=".mute"]`)?.click(),
  ",": () => stores("layers").octave(-1),
  ".": () => stores("layers").octave(1),
  "<": () => stores("layers").transpose(-12),
  ">": () => stores("layers").transpose(12),
  1: () => workspace("layers"),
  2: () => workspace("movement"),
  3: () => workspace("shaping"),
  4: () => workspace("checks"),
  "?": () => stores("panels").toggleHelp(),
  ArrowUp: () => stores("asked").neighbour(1),
  ArrowDown: () => stores("asked").neighbour(-1),
};
const WITH_KEYS = {
  z: () => stores("hands").octave(-12),
  x: () => stores("hands").octave(12),
  c: () => stores("hands").harder(-10),
  v: () => stores("hands").harder(10),
};

// What a key does, also for a command that is found by its name.
export function pressKey(key) {
  if (key === "undo" || key === "redo") stores("history").step(key);
  else SHORTCUTS[key]?.();
}

function play(key, repeat) {
  if (!stores("panels").keys) return false;
  if (repeat) return key in stores("hands").down;
  if (stores("hands").press(key)) return true;
  WITH_KEYS[key]?.();
  return key in WITH_KEYS;
}

function down(event) {
  if (event.defaultPrevented) return;
  const { target, repeat } = event;
  if (event.key === "Tab") clicked = false;
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const command = event.ctrlKey || event.metaKey;
  if (command && key === "k") stores("panels").find();
  else if (command && key === "z") {
    if (typing(target) && target.dataset.dirty === "yes") return;
    stores("history").step(event.shiftKey ? "redo" : "undo");
  } else if (event.altKey && !command && (key === "ArrowUp" || key === "ArrowDown") && !typing(target)) stores("layers").move(key === "ArrowUp" ? 1 : -1);
  else if (command || event.altKey || typing(target) || slides(target, key)) return;
  else if (play(key, repeat)) { /* it sounds */ }
  else if ((key === " " || key === "Enter") && pressable(target)) return;
  else if (key === "b") { if (!repeat) stores("player").hold(true); }
  else if (key in SHORTCUTS) SHORTCUTS[key]();
  else return;
  event.preventDefault();
}

export const keyboard = () => ({
  "@pointerdown.window"() { clicked = true; },
  "@keydown.window"(event) { down(event); },
  "@keyup.window"(event) {
    const key = event.key.toLowerCase();
    stores("hands").lift(key);
    if (key === "b" && stores("player").comparing === "all") stores("player").hold(false);
  },
  "@blur.window"() { stores("hands").liftAll(); },
});
