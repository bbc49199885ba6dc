// What opens and closes beside the drawing, layers dragged to another place, and what answers say.
import { say, send } from "./keeping.js";

const slug = document.body.dataset.slug;
const $ = (id) => document.getElementById(id);

// A part of the page anew, unless a newer one takes its place.
export const draw = (url, target, more = {}) => window.htmx.ajax("GET", url, { target, swap: "outerHTML", ...more }).catch(() => { /* it did */ });

// Ask the server for a move that is answered with a label and events; false when it was refused or led to nothing.
export async function post(where, body) {
  const answer = await send(where, body);
  if (!answer || answer.refused) return false;
  told(answer.trigger, answer.found);
  return answer.found.label !== null;
}

function told(trigger, found) {
  if (found.label) say(found.label);
  for (const [name, detail] of Object.entries(JSON.parse(trigger || "{}"))) document.body.dispatchEvent(new CustomEvent(name, { detail }));
}

export function startPanels(player) {
  // the rail's tabs
  function side(name) {
    for (const b of document.querySelectorAll("[data-side]")) if (b.tagName === "BUTTON") b.setAttribute("aria-pressed", String(b.dataset.side === name));
    $("rail").hidden = name !== "";
    const box = $("side");
    box.hidden = name === "";
    if (name) draw(`/patch/${slug}/side/${name}`, "#side");
    else { const empty = document.createElement("div"); empty.id = "side"; empty.hidden = true; box.replaceWith(empty); }
  }
  document.addEventListener("click", (event) => {
    const tab = event.target.closest("button[data-side]");
    if (tab) side(tab.dataset.side);
    for (const open of document.querySelectorAll("details.drop[open]")) if (!open.contains(event.target) || event.target.closest(".drop-list button")) open.open = false;
  });
  // a findings fragment that comes while another panel stands does not show itself
  document.body.addEventListener("htmx:afterSwap", () => {
    const on = document.querySelector("button[data-side][aria-pressed=true]");
    if (on && on.dataset.side && $("rail")) $("rail").hidden = true;
  });
  document.addEventListener("keydown", (event) => {
    if (event.key !== "Escape") return;
    for (const open of document.querySelectorAll("details.drop[open]")) { open.open = false; open.querySelector("summary").focus(); }
  });

  // an answer to a button that was redrawn meanwhile would be told to the button that is gone: it is told to the page
  document.body.addEventListener("htmx:beforeSend", ({ detail: { elt, xhr } }) => {
    xhr.addEventListener("load", () => {
      if (elt.isConnected || xhr.status !== 200 || !(xhr.getResponseHeader("content-type") || "").includes("json")) return;
      told(xhr.getResponseHeader("hx-trigger"), JSON.parse(xhr.responseText));
    });
  });

  // answers to buttons and files say what they did
  document.body.addEventListener("htmx:beforeOnLoad", (event) => {
    const { xhr } = event.detail;
    if (!xhr || xhr.status !== 200 || !(xhr.getResponseHeader("content-type") || "").includes("json")) return;
    const found = JSON.parse(xhr.responseText);
    if (found.label) say(found.label);
  });
  document.body.addEventListener("change", (event) => {
    if (event.target.matches(".upload input[type=file]")) say(`Importing ${event.target.files[0]?.name ?? ""}…`);
  });

  // a layer dragged by its hatch
  let drag = null;
  document.addEventListener("pointerdown", (event) => {
    const grip = event.target.closest?.("[data-drag-layer]");
    if (!grip || event.button !== 0) return;
    event.preventDefault();
    drag = { id: grip.dataset.dragLayer, to: null };
    grip.setPointerCapture(event.pointerId);
    document.body.classList.add("dragging");
  });
  document.addEventListener("pointermove", (event) => {
    if (!drag) return;
    const strips = [...document.querySelectorAll(".strip.layer")];
    drag.to = null;
    for (const strip of strips) {
      const box = strip.getBoundingClientRect();
      const over = event.clientY >= box.top && event.clientY < box.bottom;
      strip.classList.toggle("drop-here", over && strip.dataset.layer !== drag.id);
      if (over) drag.to = Number(strip.dataset.number) - 1;
    }
  });
  const dropped = (event) => {
    if (!drag) return;
    const { id, to } = drag;
    drag = null;
    document.body.classList.remove("dragging");
    for (const strip of document.querySelectorAll(".drop-here")) strip.classList.remove("drop-here");
    const from = Number($(`strip-${id}`)?.dataset.number) - 1;
    if (event.type === "pointerup" && to !== null && to !== from) post("move", new URLSearchParams({ path: `layers.${id}`, to }));
  };
  document.addEventListener("pointerup", dropped);
  document.addEventListener("pointercancel", dropped);

  player.moveLayer = (by) => post("move", new URLSearchParams({ path: `layers.${$("editor-layer").value}`, by }));

  // the source's drawing follows a hand that is still turning
  let asking = false;
  let next = null;
  player.onTurn = (path, how) => {
    const figure = $("source-drawing");
    if (!figure || !path.startsWith(`layers.${figure.dataset.layer}.sources.`)) return;
    next = { path, ...how };
    if (!asking) ask();
  };
  async function ask() {
    const figure = $("source-drawing");
    if (!figure || !next) { asking = false; return; }
    asking = true;
    const words = new URLSearchParams({ layer: figure.dataset.layer, source: figure.dataset.source, ...next });
    next = null;
    const answer = await fetch(`/patch/${slug}/drawing?${words}`).catch(() => null);
    const found = answer && answer.ok ? await answer.json() : {};
    if (found.line && figure.isConnected) {
      figure.querySelector(".cycle").setAttribute("d", found.line);
      figure.querySelectorAll(".partials rect").forEach((bar, i) => { bar.setAttribute("y", 100 - found.bars[i]); bar.setAttribute("height", found.bars[i]); });
    }
    ask();
  }
}
