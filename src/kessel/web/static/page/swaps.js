// Fragments that come and take the place of older ones: never under a hand, and the focus, what was scrolled to and what
// was measured stay.
import { $, announce, on } from "./page.js";
import { holding, whenFree } from "./drag.js";
import { allSelected } from "./values.js";

const GUARDED = ["sheet", "editor", "phrase-panel", "curve-box", "strip-row"];
const FIRST = "[aria-selected=true], [aria-pressed=true], [aria-checked=true], button, [href], input, select, [tabindex='0']";
const scrolled = new Map();
const owed = new Set();
let focus = null;
let typedOver = null;

function guard(event) {
  const { id } = event.detail.target;
  if (!holding() || !GUARDED.includes(id)) return;
  event.detail.shouldSwap = false;
  const name = id === "sheet" ? "edited" : "redrawn";
  if (owed.has(name)) return;
  owed.add(name);
  whenFree(() => { owed.delete(name); announce(name); });
}

function remember({ detail: { target } }) {
  scrolled.set(target.id, { top: target.scrollTop, side: target.dataset.side });
  const had = document.activeElement;
  if (!target.contains(had)) return;
  const like = [...target.querySelectorAll(FIRST)];
  focus = { id: had.id, label: had.getAttribute("aria-label") ?? had.textContent.trim(), at: like.indexOf(had), part: target.id };
  typedOver = had.matches("input") && allSelected(had) ? had.id : null;
}

// A field that had been selected to be typed over still is, before the next key.
function reselect() {
  const field = document.activeElement;
  if (typedOver && field.id === typedOver) field.select();
  typedOver = null;
}

function restore() {
  for (const [id, { top, side }] of scrolled) if (id && $(id) && $(id).dataset.side === side) $(id).scrollTop = top;
  scrolled.clear();
}

// The focus goes to the same control; if that is gone, to what stands where it was; never to the body.
function refocus() {
  if (!focus || (document.activeElement && document.activeElement !== document.body)) { focus = null; return; }
  const { id, label, at, part } = focus;
  focus = null;
  const box = $(part);
  if (!box) return;
  const like = [...box.querySelectorAll(FIRST)].filter((node) => node.checkVisibility());
  const named = like.find((node) => label && (node.getAttribute("aria-label") ?? node.textContent.trim()) === label);
  ((id && $(id)) || named || like[Math.min(Math.max(at, 0), like.length - 1)])?.focus({ preventScroll: true });
}

// Where moved controls went stands under their rules as soon as it is measured.
function travels() {
  const all = (attribute, path, rest = "") => document.querySelectorAll(`[data-${attribute}="${CSS.escape(path)}"]${rest}`);
  for (const [path, [x, width, words]] of Object.entries(JSON.parse($("sheet").dataset.travels))) {
    for (const bar of all("rule", path, " .travel-bar")) { bar.setAttribute("x", `${x}%`); bar.setAttribute("width", `${width}%`); }
    for (const said of all("ran", path)) said.textContent = words;
  }
}

export function startSwaps() {
  on("htmx:beforeSwap", guard);
  on("htmx:beforeSwap", remember);
  on("htmx:afterSwap", restore);
  on("htmx:afterSwap", reselect);
  on("htmx:afterSwap", travels);
  on("htmx:afterSettle", refocus);
}
